"""Signing in: wrong tries are slowed and never lock a person out; a leaver is out at once; names tell nobody anything."""

from __future__ import annotations

import itertools
import uuid
from concurrent.futures import ThreadPoolExecutor

import httpx
import psycopg
import pytest

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
            "WHERE key = sha256(convert_to('name:pip', 'UTF8')) ORDER BY at"
        ).fetchall()
        counted = cx.execute("SELECT count(*) FROM sign_in_attempt").fetchone()
    times = [r[0] for r in rows]
    assert counted == (2 * len(times),)
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
        ("short-7", None),
        ("aaaaaaaaaaaa", "different"),
        ("mossmossmoss", "written again"),
        ("abababababab", "different"),
    ],
)
def test_passwords_that_are_guessed_at_once_are_refused(running: Web, password: str, says: str | None) -> None:
    manager = signed_in(running, "marrow")
    body = {"login": "moss", "name": "Moss", "role": "fitter", "password": password, "change_id": str(uuid.uuid4())}
    answer = manager.post("/api/people", json=body)
    assert answer.status_code == 422
    problem = answer.json()
    assert problem["fields"][0]["field"] == "password"
    assert says is None or says in problem["title"]


def person(web: Web, login: str, manager: str = "marrow", password: str = "tape-and-chalk-9") -> str:
    body = {
        "login": login,
        "name": login.title(),
        "role": "fitter",
        "password": password,
        "change_id": str(uuid.uuid4()),
    }
    answer = signed_in(web, manager).post("/api/people", json=body)
    assert answer.status_code == 201, answer.text
    return str(next(p["id"] for p in answer.json() if p["login"] == login))


def test_the_same_name_in_two_shops_is_nobodys_business(running: Web) -> None:
    person(running, "wren")
    person(running, "wren", "sorrel", "another-word-4")
    assert attempt(running, "wren", "tape-and-chalk-9").json()["shop_name"].endswith("Harbour")
    assert attempt(running, "wren", "another-word-4").json()["shop_name"].endswith("North Isle")


def test_the_same_name_and_password_in_two_shops_asks_for_the_shop(running: Web) -> None:
    person(running, "teal")
    person(running, "teal", "sorrel")
    asked = attempt(running, "teal", "tape-and-chalk-9")
    assert (asked.status_code, asked.json()["code"]) == (401, "which-shop")
    body = {"login": "teal", "password": "tape-and-chalk-9", "shop": "games fitting room, north isle"}
    assert plainly.post(f"{running.url}/api/session", json=body).json()["shop_name"].endswith("North Isle")


@pytest.mark.parametrize("change", [{"active": False}, {"role": "trainee"}, {"password": "quite-another-5"}])
def test_a_change_by_a_manager_ends_all_sessions_at_once(
    running: Web, demo_url: str, change: dict[str, object]
) -> None:
    login = f"leaver{next(iter(change))}"
    key = person(running, login)
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
    right = "quite-another-5" if "password" in change else "tape-and-chalk-9"
    assert attempt(running, login, right).json()["role"] == change.get("role", "fitter")
    with psycopg.connect(demo_url) as cx:
        rows = cx.execute("SELECT after FROM shop_change WHERE about_id = %s ORDER BY id", [key]).fetchall()
    assert len(rows) == (3 if "active" in change else 2)
    assert all("another" not in str(r[0]) for r in rows)


def test_a_shop_keeps_a_manager(running: Web) -> None:
    manager = signed_in(running, "sorrel")
    me = next(p for p in manager.get("/api/people").json() if p["login"] == "sorrel")
    for change in ({"active": False}, {"role": "fitter"}):
        answer = manager.patch(f"/api/people/{me['id']}", json=change | {"change_id": str(uuid.uuid4())})
        assert (answer.status_code, answer.json()["code"]) == (409, "last-one")
    assert manager.get("/api/people").status_code == 200
