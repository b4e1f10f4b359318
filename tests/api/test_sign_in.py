"""Signing in: wrong tries are slowed and never lock a person out; a leaver is out at once; names tell nobody anything."""

from __future__ import annotations

import itertools
import threading
import uuid
from concurrent.futures import ThreadPoolExecutor

import httpx
import psycopg
import pytest

from kalon.store.staff import add_staff, network
from tests import plainly
from tests.api.calls import PASSWORDS, eventually, signed_in
from tests.running import Web


@pytest.fixture(autouse=True)
def no_tries(demo_url: str) -> None:
    """Each test begins with nobody having tried, in a browser nobody knows."""
    with psycopg.connect(demo_url) as cx:
        cx.execute("TRUNCATE sign_in_attempt, sign_in_device")


def attempt(web: Web, login: str, password: str, client: httpx.Client | None = None) -> httpx.Response:
    ask = client.post if client else plainly.post
    return ask(f"{web.url}/api/session", json={"login": login, "password": password}, timeout=40)


def test_beyond_six_wrong_tries_a_name_waits_a_little_longer_each_time(running: Web) -> None:
    answers = [attempt(running, "bram", "not this one") for _ in range(6)]
    assert [a.status_code for a in answers] == [401] * 6
    # The first pauses are a second or two, which a busy machine needs for one try; they double.
    slowed = eventually(lambda: a if (a := attempt(running, "bram", "nor this")).status_code == 429 else None)
    assert slowed.json()["code"] == "sign-in-slowed"
    assert 1 <= int(slowed.headers["retry-after"]) <= 20
    assert "try again in" in slowed.json()["title"]
    found = eventually(lambda: a if (a := attempt(running, "bram", PASSWORDS["bram"])).status_code == 200 else None)
    assert found.json()["login"] == "bram"


def test_a_browser_the_person_signed_in_from_before_is_not_slowed_by_others(running: Web) -> None:
    with plainly.Client() as own:
        assert attempt(running, "ilse", PASSWORDS["ilse"], own).status_code == 200
        own.cookies.delete("kalon_session")
        for _ in range(12):
            attempt(running, "ilse", "guess after guess")
        # A guess may come at the very moment a pause has run out and is counted; the one right after it has to wait.
        guess = lambda: attempt(running, "ilse", "guess after guess").status_code == 429 or None  # noqa: E731
        assert eventually(guess, seconds=10)
        assert attempt(running, "ilse", PASSWORDS["ilse"], own).status_code == 200


def test_one_address_that_tries_many_names_is_slowed(running: Web) -> None:
    answers = [attempt(running, f"somebody{i}", "the same password") for i in range(34)]
    assert [a.status_code for a in answers[:30]] == [401] * 30
    assert any(a.status_code == 429 for a in answers[30:])


def test_right_sign_ins_slow_nobody(running: Web) -> None:
    assert [attempt(running, "marrow", PASSWORDS["marrow"]).status_code for _ in range(32)] == [200] * 32


def test_of_sixty_at_once_six_are_verified_and_then_none_before_its_pause_is_over(running: Web, demo_url: str) -> None:
    """However long a machine takes for sixty: each beyond the sixth comes a pause after the one before, and the pauses
    double (1 s, 2 s, 4 s: house defaults)."""
    with ThreadPoolExecutor(60) as pool:
        answers = list(pool.map(lambda _: attempt(running, "pip", "one of sixty"), range(60)))
    codes = [a.status_code for a in answers]
    assert set(codes) <= {401, 429, 503}
    with psycopg.connect(demo_url) as cx:
        rows = cx.execute(
            "SELECT extract(epoch FROM at)::float FROM sign_in_attempt "
            "WHERE key = sha256(convert_to(E'both:pip\\n127.0.0.1', 'UTF8')) ORDER BY at"
        ).fetchall()
        counted = cx.execute("SELECT count(*) FROM sign_in_attempt").fetchone()
    times = [r[0] for r in rows]
    assert counted == (3 * len(times),)
    assert 6 <= len(times) < 20
    assert codes.count(401) <= len(times)
    pauses = [now - before for before, now in itertools.pairwise(times)][5:]
    assert all(pause >= 2.0**i for i, pause in enumerate(pauses))


def test_a_hundred_thousand_old_tries_are_purged_by_index_and_cost_nothing(running: Web, demo_url: str) -> None:
    with psycopg.connect(demo_url) as cx:
        cx.execute(
            "INSERT INTO sign_in_attempt SELECT sha256(convert_to('name:bram', 'UTF8')), now() - interval '3 days' "
            "FROM generate_series(1, 100000)"
        )
        cx.execute("ANALYZE sign_in_attempt")
        plan = "\n".join(
            r[0]
            for r in cx.execute(
                "EXPLAIN SELECT count(*) FROM sign_in_attempt WHERE key = sha256(convert_to('name:bram', 'UTF8')) "
                "AND at > now() - interval '10 minutes'"
            ).fetchall()
        )
    assert "Seq Scan" not in plan
    assert attempt(running, "bram", "wrong once").status_code == 401
    with psycopg.connect(demo_url) as cx:
        left = cx.execute("SELECT count(*) FROM sign_in_attempt").fetchone()
    assert left is not None and left[0] < 100_000


@pytest.mark.parametrize(
    ("password", "says"),
    [
        ("short-7", "at least 10"),
        ("qwertyuiop", "guessed at once"),  # keys beside each other
        ("1234567890", "guessed at once"),
        ("Password2024", "guessed at once"),  # a common word and a year
        ("iloveyou12", "guessed at once"),
        ("mossmossmoss", "written again"),
        ("moss-moss-77", "written again"),
    ],
)
def test_passwords_that_are_guessed_at_once_are_refused(running: Web, password: str, says: str) -> None:
    path = f"{running.url}{invitation(running, person(running, 'moss'))}"
    answer = plainly.post(path, json={"password": password})
    assert answer.status_code == 422
    problem = answer.json()
    assert problem["fields"][0]["field"] == "password"
    assert says in problem["title"]
    assert plainly.get(path).status_code == 200, "the invitation holds on"


def person(web: Web, login: str, manager: str = "marrow") -> str:
    """Somebody of a shop, added where they aren't there yet."""
    client = signed_in(web, manager)
    there = [p["id"] for p in client.get("/api/people").json() if p["login"] == login]
    if there:
        return str(there[0])
    body = {"login": login, "name": login.title(), "role": "fitter", "change_id": str(uuid.uuid4())}
    answer = client.post("/api/people", json=body)
    assert answer.status_code == 201, answer.text
    return str(next(p["id"] for p in answer.json() if p["login"] == login))


def invitation(web: Web, key: str, manager: str = "marrow") -> str:
    """Where somebody sets their password, by what a manager is told."""
    made = signed_in(web, manager).post(f"/api/people/{key}/invitation")
    assert made.status_code == 201, made.text
    return f"/api{made.json()['path']}"


def joined(web: Web, login: str, manager: str = "marrow", password: str = "tape-and-chalk-9") -> str:
    """Somebody new who has set a password."""
    key = person(web, login, manager)
    done = plainly.post(f"{web.url}{invitation(web, key, manager)}", json={"password": password})
    assert done.status_code == 204, done.text
    return key


def test_somebody_new_sets_their_own_password_once(running: Web, demo_url: str) -> None:
    key = person(running, "newt")
    manager = signed_in(running, "marrow")
    with psycopg.connect(demo_url) as cx:
        kept = cx.execute("SELECT password_hash FROM staff WHERE id = %s", [key]).fetchone()
    assert kept == ("!",)
    assert attempt(running, "newt", "!").status_code == 401
    first, path = invitation(running, key), invitation(running, key)
    told = next(p for p in manager.get("/api/people").json() if p["id"] == key)
    assert told["invited_until"]
    for over in (first, "/api/invited/" + "a" * 43):
        assert plainly.get(f"{running.url}{over}").json()["code"] == "invitation-over"
        gone = plainly.post(f"{running.url}{over}", json={"password": "tape-and-chalk-9"})
        assert (gone.status_code, gone.json()["code"]) == (404, "invitation-over")
    shown = plainly.get(f"{running.url}{path}").json()
    assert (shown["login"], shown["name"]) == ("newt", "Newt")
    with ThreadPoolExecutor(4) as pool:
        at_once = list(pool.map(lambda w: plainly.post(f"{running.url}{path}", json={"password": w}), WORDS))
    taken = [w for w, a in zip(WORDS, at_once, strict=True) if a.status_code == 204]
    assert len(taken) == 1
    assert [attempt(running, "newt", w).status_code for w in WORDS] == [200 if w in taken else 401 for w in WORDS]
    assert next(p for p in manager.get("/api/people").json() if p["id"] == key)["invited_until"] is None


WORDS = ("first-of-these-1", "second-of-them-2", "third-of-those-3", "fourth-and-last-4")


def test_an_invitation_ends_sessions_devices_and_itself(running: Web, demo_url: str) -> None:
    key = joined(running, "olm")
    manager = signed_in(running, "marrow")
    with plainly.Client(base_url=running.url) as bench:
        assert attempt(running, "olm", "tape-and-chalk-9", bench).status_code == 200
        path = invitation(running, key)
        assert bench.get("/api/today").status_code == 200, "only the new password ends what was"
        assert plainly.post(f"{running.url}{path}", json={"password": "hinge-and-last-3"}).status_code == 204
        assert bench.get("/api/today").status_code == 401
    left = invitation(running, key)
    out = {"active": False, "change_id": str(uuid.uuid4())}
    assert manager.patch(f"/api/people/{key}", json=out).status_code == 200
    assert plainly.get(f"{running.url}{left}").status_code == 404
    assert manager.post(f"/api/people/{key}/invitation").status_code == 404
    with psycopg.connect(demo_url) as cx:
        assert cx.execute("SELECT count(*) FROM sign_in_device WHERE staff_id = %s", [key]).fetchone() == (0,)
    late = "UPDATE invitation SET until = now() - interval '1 s', ended_at = NULL WHERE staff_id = %s"
    manager.patch(f"/api/people/{key}", json={"active": True, "change_id": str(uuid.uuid4())})
    path = invitation(running, key)
    with psycopg.connect(demo_url) as cx:
        cx.execute(late, [key])
    assert plainly.get(f"{running.url}{path}").status_code == 404


def test_nobody_invites_into_another_shop(running: Web) -> None:
    key = person(running, "roach")
    assert signed_in(running, "sorrel").post(f"/api/people/{key}/invitation").status_code == 404


def test_ones_own_password_is_changed_by_the_one_there_is(running: Web, demo_url: str) -> None:
    key = joined(running, "tench")
    here, there = (plainly.Client(base_url=running.url) for _ in range(2))
    for bench in (here, there):
        assert attempt(running, "tench", "tape-and-chalk-9", bench).status_code == 200
    change = lambda now, to: here.put("/api/session/password", json={"password": now, "new_password": to})  # noqa: E731
    wrong = change("not this one", "hinge-and-last-3")
    assert (wrong.status_code, wrong.json()["fields"][0]["code"]) == (422, "wrong")
    assert change("tape-and-chalk-9", "password123").status_code == 422
    assert there.get("/api/today").status_code == 200
    assert change("tape-and-chalk-9", "hinge-and-last-3").status_code == 204
    assert (here.get("/api/today").status_code, there.get("/api/today").status_code) == (200, 401)
    assert attempt(running, "tench", "tape-and-chalk-9").status_code == 401
    assert attempt(running, "tench", "hinge-and-last-3").status_code == 200
    with psycopg.connect(demo_url) as cx:
        rows = cx.execute("SELECT after, staff_id::text FROM shop_change WHERE about_id = %s", [key]).fetchall()
    assert rows[-1] == ({"password": "own"}, key)


def test_ones_own_password_is_no_door_for_guessing(running: Web) -> None:
    """Whoever finds a bench left open is slowed as at signing in."""
    joined(running, "bleak")
    with plainly.Client(base_url=running.url) as bench:
        assert attempt(running, "bleak", "tape-and-chalk-9", bench).status_code == 200
        body = {"password": "guess after guess", "new_password": "hinge-and-last-3"}
        codes = [bench.put("/api/session/password", json=body).status_code for _ in range(12)]
    assert codes[:6] == [422] * 6
    assert 429 in codes


def from_address(web: Web, address: str) -> httpx.Client:
    """Another machine, as the server sees it."""
    return httpx.Client(base_url=web.url, transport=httpx.HTTPTransport(local_address=address, verify=False))


def test_nobody_is_kept_out_by_who_tries_their_name_elsewhere(running: Web) -> None:
    """One address asks ten times a second for as long as it likes: the owner signs in from a new device at once."""
    stop = threading.Event()
    seen: list[int] = []

    def tries() -> None:
        with from_address(running, "127.0.0.66") as other:
            while not stop.is_set():
                seen.append(attempt(running, "ilse", "guess after guess", other).status_code)
                stop.wait(0.1)

    with ThreadPoolExecutor(2) as pool:
        work = [pool.submit(tries) for _ in range(2)]
        try:
            eventually(lambda: seen.count(429) > 5 or None)
            for address in ("127.0.0.7", "127.0.0.8", "127.0.0.9"):
                with from_address(running, address) as owner:
                    assert attempt(running, "ilse", PASSWORDS["ilse"], owner).status_code == 200
        finally:
            stop.set()
        for one in work:
            one.result(timeout=30)


def test_many_addresses_that_try_one_name_are_slowed_for_a_second(running: Web, demo_url: str) -> None:
    """Beyond three hundred tries in ten minutes a name pauses too, never for longer than a second (house defaults)."""
    with psycopg.connect(demo_url) as cx:
        cx.execute(
            "INSERT INTO sign_in_attempt SELECT sha256(convert_to('name:bram', 'UTF8')), now() - n * interval '1 s' "
            "FROM generate_series(1, 500) n"
        )
    with from_address(running, "127.0.0.10") as first, from_address(running, "127.0.0.11") as owner:
        # At once: on a machine with much to do one try alone takes longer than the second.
        with ThreadPoolExecutor(4) as pool:
            tried = list(pool.map(lambda _: attempt(running, "bram", "one of many", first), range(4)))
        slowed = [a for a in tried if a.status_code == 429]
        assert slowed
        assert all(int(a.headers["retry-after"]) <= 2 for a in slowed)
        found = eventually(
            lambda: a if (a := attempt(running, "bram", PASSWORDS["bram"], owner)).status_code == 200 else None
        )
        assert found.json()["login"] == "bram"


@pytest.mark.parametrize(
    ("one", "other", "same"),
    [
        ("2001:db8::1", "2001:db8::ffff:2", True),  # documentation addresses (published: RFC 3849)
        ("2001:db8::1", "2001:db8:0:1::1", False),
        ("::ffff:192.0.2.4", "192.0.2.4", True),  # RFC 4291, 2.5.5.2
        ("192.0.2.4", "192.0.2.5", False),
        ("", "testclient", False),
    ],
)
def test_a_subscriber_is_one_address(one: str, other: str, *, same: bool) -> None:
    assert (network(one) == network(other)) is same


def test_a_fifth_shop_with_the_same_sign_in_name_signs_in(running: Web, demo_url: str) -> None:
    shops = [uuid.uuid4() for _ in range(6)]
    with psycopg.connect(demo_url) as cx:
        for n, shop in enumerate(shops):
            cx.execute("INSERT INTO chain (id, name) VALUES (%s, 'Elsewhere')", [shop])
            cx.execute("INSERT INTO shop (id, name, chain_id) VALUES (%s, %s, %s)", [shop, f"Number {n}", shop])
            add_staff(cx, shop, "counter", "Counter", "manager", f"word-of-shop-{n}-x")  # type: ignore[arg-type]
    for n in range(6):
        asked = attempt(running, "counter", f"word-of-shop-{n}-x")
        assert (asked.status_code, asked.json()["code"]) == (401, "which-shop")
        body = {"login": "counter", "password": f"word-of-shop-{n}-x", "shop": f" number {n} "}
        assert plainly.post(f"{running.url}/api/session", json=body).json()["shop_name"] == f"Number {n}"
        wrong = plainly.post(f"{running.url}/api/session", json=body | {"shop": f"Number {(n + 1) % 6}"})
        assert (wrong.status_code, wrong.json()["code"]) == (401, "sign-in-refused")


def test_the_same_name_in_two_shops_is_nobodys_business(running: Web) -> None:
    joined(running, "wren")
    joined(running, "wren", "sorrel", "another-word-4")
    assert attempt(running, "wren", "tape-and-chalk-9").json()["shop_name"].endswith("Harbour")
    assert attempt(running, "wren", "another-word-4").json()["shop_name"].endswith("North Isle")


def test_the_same_name_and_password_in_two_shops_asks_for_the_shop(running: Web) -> None:
    joined(running, "teal")
    joined(running, "teal", "sorrel")
    asked = attempt(running, "teal", "tape-and-chalk-9")
    assert (asked.status_code, asked.json()["code"]) == (401, "which-shop")
    body = {"login": "teal", "password": "tape-and-chalk-9", "shop": "games fitting room, north isle"}
    assert plainly.post(f"{running.url}/api/session", json=body).json()["shop_name"].endswith("North Isle")


@pytest.mark.parametrize("change", [{"active": False}, {"role": "trainee"}])
def test_a_change_by_a_manager_ends_all_sessions_at_once(
    running: Web, demo_url: str, change: dict[str, object]
) -> None:
    login = f"leaver{next(iter(change))}"
    key = joined(running, login)
    benches = [plainly.Client(base_url=running.url) for _ in range(3)]
    for bench in benches:
        assert attempt(running, login, "tape-and-chalk-9", bench).status_code == 200
        assert bench.get("/api/today").status_code == 200
    body = change | {"change_id": str(uuid.uuid4())}
    manager = signed_in(running, "marrow")
    told = manager.patch(f"/api/people/{key}", json=body)
    assert told.status_code == 200
    assert manager.patch(f"/api/people/{key}", json=body).json() == told.json()
    assert [b.get("/api/today").status_code for b in benches] == [401] * 3
    if "active" in change:
        assert attempt(running, login, "tape-and-chalk-9").status_code == 401
        back = manager.patch(f"/api/people/{key}", json={"active": True, "change_id": str(uuid.uuid4())})
        assert back.status_code == 200
    assert attempt(running, login, "tape-and-chalk-9").json()["role"] == change.get("role", "fitter")
    with psycopg.connect(demo_url) as cx:
        rows = cx.execute("SELECT after FROM shop_change WHERE about_id = %s ORDER BY id", [key]).fetchall()
    assert len(rows) == (4 if "active" in change else 3)
    assert all("chalk" not in str(r[0]) for r in rows)


def test_a_shop_keeps_a_manager(running: Web) -> None:
    manager = signed_in(running, "sorrel")
    me = next(p for p in manager.get("/api/people").json() if p["login"] == "sorrel")
    for change in ({"active": False}, {"role": "fitter"}):
        answer = manager.patch(f"/api/people/{me['id']}", json=change | {"change_id": str(uuid.uuid4())})
        assert (answer.status_code, answer.json()["code"]) == (409, "last-one")
    assert manager.get("/api/people").status_code == 200
