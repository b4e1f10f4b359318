"""Who was erased stays erased, and nothing of them is left: not in a note, a reason, a file's name or a picture."""

from __future__ import annotations

import random
import uuid
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from typing import Any

import httpx
import psycopg
import pytest
from psycopg import sql

from tests.api.calls import new_athlete, new_fitting, patch, pulled, ready_to_pull, sell, signed_in, today
from tests.api.test_orders import ask, count, shop_of, size_in_both, step
from tests.running import Web, superuser_of

Shop = tuple[Web, str]
MARK = "Quenzilla Marrowmark"
"""Typed wherever somebody can type of a person."""
NOT_OF_A_PERSON = {
    "chain", "shop", "staff", "session", "sign_in_attempt", "sign_in_device", "house_version", "shop_norm", "shop_price",
    "model_price", "shoe_model", "variant", "stock_line", "shoe_reading", "sheet_import", "sheet_row", "sheet_model",
    "sheet_size", "sheet_habit", "sheet_word", "learned", "learned_change", "learned_fitter", "learned_give", "learned_version",
    "learn_maker_due", "learn_parked", "life_due", "life_learned", "learn_due", "pair_due", "came_true", "gap_seen", "link_knock", "day_feed",
    "capture_progress", "invitation", "tablet", "staff_pin", "pin_tried", "journal_year", "journal_close", "purchase_line",
    "growth_step", "learned_maker", "give_curve", "learn_start", "shelf_change",
}  # fmt: skip
"""Tables in which nothing is kept of an athlete; every other one must hold the mark before, and none after."""
WITHOUT_WORDS = {"tray_pair", "follow_up", "fitting", "evidence", "pair_worn", "pair_seen", "pair_plan", "day_mark",
                 "athlete_link", "athlete_consent", "queue_place"}  # fmt: skip
"""Of an athlete, with nothing in them that somebody types."""


@pytest.fixture
def people(shop: Shop) -> tuple[httpx.Client, httpx.Client, httpx.Client]:
    """A fitter, a manager, and a manager of the sister shop."""
    running, _ = shop
    return signed_in(running), signed_in(running, "marrow"), signed_in(running, "sorrel")


def tables(url: str) -> list[str]:
    with psycopg.connect(url) as cx:
        found = cx.execute("SELECT tablename FROM pg_tables WHERE schemaname = 'public' AND tablename NOT LIKE '%yoyo%' "
                           "ORDER BY 1").fetchall()  # fmt: skip
    return [r[0] for r in found]


def marked(url: str, mark: str = MARK) -> set[str]:
    """The tables that hold it, as words or in a file."""
    found = set()
    with psycopg.connect(url) as cx:
        for table in tables(url):
            files = cx.execute("SELECT column_name FROM information_schema.columns WHERE table_name = %s "
                               "AND data_type = 'bytea'", [table]).fetchall()  # fmt: skip
            name = sql.Identifier(table)
            words = sql.SQL("SELECT EXISTS (SELECT 1 FROM {} t WHERE t::text ILIKE %s)").format(name)
            held = cx.execute(words, [f"%{mark}%"]).fetchone() == (True,)
            for (column,) in files:
                inside = sql.SQL("SELECT EXISTS (SELECT 1 FROM {} WHERE position(%s::bytea in {}) > 0)")
                asked = inside.format(name, sql.Identifier(column))
                held |= cx.execute(asked, [mark.encode()]).fetchone() == (True,)
            if held:
                found.add(table)
    return found


def ok(answer: httpx.Response) -> Any:
    assert answer.status_code < 300, answer.text
    return answer.json() if answer.content else None


def new_id() -> str:
    return str(uuid.uuid4())


def somebody(people: tuple[httpx.Client, httpx.Client, httpx.Client], url: str, mark: str) -> tuple[str, str, str, str]:
    """An athlete of whom something is kept wherever it can be, the mark in every text: athlete, a sold and an open
    fitting, a link's secret."""
    from kalon.devices.shoe_pictures import practice_picture
    from tests.api.test_links import answers, picture

    fitter, manager, sister = people
    athlete = new_athlete(fitter, mark)
    ok(fitter.put(f"/api/athletes/{athlete}", json={"change_id": new_id(), "version": 1, "name": mark, "note": f"{mark}, limps",
                                                   "squad": f"{mark}'s own", "born_on": "2001-02-03"}))  # fmt: skip
    ok(fitter.put(f"/api/athletes/{athlete}/consent", json={"id": new_id(), "agrees": True}))
    twice = new_athlete(fitter, f"{mark} again")
    ok(manager.post(f"/api/athletes/{athlete}/merged", json={"id": new_id(), "other_id": twice}))
    ok(fitter.post("/api/queue", json={"id": new_id(), "athlete_id": athlete, "about": "return"}))
    fitting, (line, _) = pulled(fitter, 2, athlete)
    places = ok(fitter.get(f"/api/fittings/{fitting}/pull"))["places"]
    other = next(p["pair"]["id"] for p in places if p["pair"]["on_hand"] >= 2 and p["pair"]["id"] != line)
    ok(patch(fitter, fitting, "feet", {"note": f"{mark}'s feet"}))
    ok(patch(fitter, fitting, "trial", {f"pairs/{line}/toes": "fine", f"pairs/{line}/verdict": "pass",
                                        f"pairs/{line}/note": mark}))  # fmt: skip
    kept = ok(
        fitter.post(f"/api/stock/{other}/held", json={"id": new_id(), "name": mark, "days": 3, "athlete_id": athlete})
    )
    assert kept
    sale = new_id()
    ok(sell(fitter, fitting, line, sale))
    ok(fitter.post(f"/api/takings/lines/{sale}/back",
                   json={"id": new_id(), "amount_minor": 100, "why": f"{mark}'s bunion hurts"}))  # fmt: skip
    ok(fitter.put(f"/api/athletes/{athlete}/reach", json={
        "change_id": new_id(), "version": 0, "agrees": True, "reach": {"guardian": f"{mark}'s mother", "phone": "12 345"},
    }))  # fmt: skip
    size = fitter.get(f"/api/stock/{line}").json()["variant_id"]
    bought = {
        "change_id": new_id(),
        "supplier": "x",
        "note": f"one for {mark}",
        "lines": [{"variant_id": size, "pairs": 1}],
    }
    ok(fitter.put(f"/api/purchases/{new_id()}", json=bought))
    ok(fitter.post(f"/api/pairs/{sale}/pictures", params={"id": new_id(), "way": "insole", "name": f"{mark}.png"},
                   content=practice_picture("insole", 3)[0]))  # fmt: skip
    worn = {"id": new_id(), "on": today().isoformat(), "minutes": 90}
    ok(fitter.post(f"/api/pairs/{sale}/worn", json=worn))
    ok(
        fitter.post(
            f"/api/pairs/{sale}/seen", json={"id": new_id(), "on": today().isoformat(), "seen": {"sole": "patches"}}
        )
    )
    own = {"name": f"{mark}'s old ones", "sport": "court", "discipline": "squash", "bought_on": "2026-01-01",
           "begun_on": "2026-01-02", "note": f"from {mark}"}  # fmt: skip
    ok(fitter.put(f"/api/athletes/{athlete}/pairs/{new_id()}", json={"change_id": new_id(), "version": 0, "pair": own}))
    ok(fitter.put("/api/plan", params={"athlete": athlete}, json={"version": 0, "body": {"budget": 200}}))
    open_fitting = ready_to_pull(fitter, athlete)
    token = ok(fitter.post(f"/api/fittings/{open_fitting}/link", json={"id": new_id()}))["token"]
    ok(fitter.post(f"/api/away/{token}/agree"))
    ok(answers(fitter, token, words=f"{mark} plays"))
    ok(fitter.post(f"/api/fittings/{open_fitting}/captures", params={"id": new_id(), "side": "left", "name": f"{mark}.png"},
                   content=picture()))  # fmt: skip
    variant, ours, theirs = size_in_both(url)
    count(sister, theirs, 1)
    order = ok(ask(fitter, variant, shop_of(url, "North Isle"), fitting_id=open_fitting, note=f"for {mark}"))["id"]
    for who, to in ((sister, "sent"), (fitter, "received")):
        ok(step(who, order, to))
    ok(
        fitter.put(
            f"/api/orders/{order}/arrival", json={"change_id": new_id(), "toes": "jam", "note": f"{mark} says tight"}
        )
    )
    ok(
        manager.post(
            f"/api/stock/{ours}/moves", json={"id": new_id(), "by": 1, "kind": "received", "why": f"for {mark}"}
        )
    )
    ended = ok(fitter.post(f"/api/stock/{ours}/held", json={"id": new_id(), "name": mark}))
    assert ended
    return athlete, fitting, open_fitting, token


def test_nothing_of_a_person_is_left(shop: Shop, people: tuple[httpx.Client, httpx.Client, httpx.Client]) -> None:
    """A mark in every text and file somebody can come into, found from the schema: a new table has to say what it is."""
    from tests.api.test_learning import learn_now

    _, url = shop
    fitter, manager, _ = people
    assert not marked(url)
    athlete, fitting, *_ = somebody(people, url, MARK)
    learn_now(url)
    maker = fitter.get(f"/api/fittings/{fitting}").json()["sale"]["maker"]
    piece = next(
        e for e in manager.get("/api/ledger/evidence", params={"maker": maker}).json() if e["fitting_id"] == fitting
    )
    ok(manager.put(f"/api/ledger/evidence/{piece['id']}/aside", json={"id": new_id(), "reason": f"{MARK} fibs"}))
    me = next(f for f in manager.get("/api/ledger").json()["fitters"] if f["name"] == "Ilse Varn")
    aside = {"id": new_id(), "from_day": "2001-01-01", "to_day": "2001-01-02", "reason": f"{MARK.upper()} again"}
    ok(manager.put(f"/api/ledger/fitters/{me['staff_id']}/aside", json=aside))
    known = set(tables(url)) - NOT_OF_A_PERSON - WITHOUT_WORDS
    assert marked(url) == known, "every table in which somebody can write of a person is tried"
    data = manager.get(f"/api/athletes/{athlete}/data.json").json()
    assert MARK in data["orders"][0]["note"]
    assert data["pictures"][0]["file"] == f"{MARK}.png"
    assert data["kept_back"][0]["name"] == MARK
    ok(manager.post(f"/api/athletes/{athlete}/erase"))
    assert marked(url) == set()
    with psycopg.connect(url) as cx:
        for table in ("foot_capture", "athlete_link", "athlete_consent", "pair_plan"):
            assert cx.execute(f"SELECT count(*) FROM {table} WHERE athlete_id = %s", [athlete]).fetchone() == (0,)
        of_pairs = "SELECT count(*) FROM {} WHERE pair_id IN (SELECT id FROM pair WHERE athlete_id = %s)"
        for table in ("shoe_picture", "pair_worn"):
            assert cx.execute(of_pairs.format(table), [athlete]).fetchone() == (0,)  # type: ignore[arg-type]
        assert cx.execute("SELECT count(*) FROM sale WHERE fitting_id = %s", [fitting]).fetchone() == (1,)
    assert manager.get("/api/today").status_code == 200


def test_a_name_that_is_a_word_of_the_journal_spoils_no_journal(
    shop: Shop, people: tuple[httpx.Client, httpx.Client, httpx.Client]
) -> None:
    """Somebody called Order: what an order's steps are kept under stays, what was written of them goes."""
    _, url = shop
    fitter, manager, sister = people
    athlete = new_athlete(fitter, "Order")
    variant, _, theirs = size_in_both(url)
    count(sister, theirs, 1)
    order = ok(ask(fitter, variant, shop_of(url, "North Isle"), note="for Order, soon"))["id"]
    ok(step(sister, order, "refused"))
    ok(step(fitter, ok(ask(fitter, variant))["id"], "ordered"))
    kept = "SELECT count(*) FROM shop_change WHERE after ? 'order'"
    with psycopg.connect(url) as cx:
        before = cx.execute(kept).fetchone()
    ok(manager.post(f"/api/athletes/{athlete}/erase"))
    with psycopg.connect(url) as cx:
        assert cx.execute(kept).fetchone() == before != (0,)
        assert cx.execute("SELECT note FROM shoe_order WHERE id = %s", [order]).fetchone() == ("for Erased, soon",)


def doors(fitting: str, athlete: str, pair: str) -> dict[str, Callable[[httpx.Client], httpx.Response]]:
    """Every way something can be written to somebody."""
    own = {"name": "x", "sport": "court", "discipline": "squash", "bought_on": "2026-01-01", "begun_on": "2026-01-02"}
    return {
        "feet": lambda c: c.patch(f"/api/fittings/{fitting}/parts/feet",
                                  json={"base_version": 99, "change_id": new_id(), "set": {"note": "late"}}),
        "link": lambda c: c.post(f"/api/fittings/{fitting}/link", json={"id": new_id()}),
        "new fitting": lambda c: c.post("/api/fittings", json={"id": new_id(), "athlete_id": athlete}),
        "new name": lambda c: c.put(f"/api/athletes/{athlete}", json={"change_id": new_id(), "version": c.get(
            f"/api/athletes/{athlete}").json()["athlete"]["version"], "name": "Back Again"}),
        "consent": lambda c: c.put(f"/api/athletes/{athlete}/consent", json={"id": new_id(), "agrees": True}),
        "pair": lambda c: c.put(f"/api/athletes/{athlete}/pairs/{new_id()}",
                                json={"change_id": new_id(), "version": 0, "pair": own}),
        "worn": lambda c: c.post(f"/api/pairs/{pair}/worn", json={"id": new_id(), "on": today().isoformat(), "minutes": 30}),
        "seen": lambda c: c.post(f"/api/pairs/{pair}/seen",
                                 json={"id": new_id(), "on": today().isoformat(), "seen": {"sole": "patches"}}),
        "plan": lambda c: c.put("/api/plan", params={"athlete": athlete}, json={"version": 0, "body": {"budget": 9}}),
        "practice": lambda c: c.post(f"/api/fittings/{fitting}/practice",
                                     json={"id": new_id(), "device": "mat", "side": "left", "seed": 3}),
    }  # fmt: skip


def test_who_was_erased_stays_erased(shop: Shop, people: tuple[httpx.Client, httpx.Client, httpx.Client]) -> None:
    """Through every door it is refused in the same sentence, and erasing again takes what an earlier version left."""
    _, url = shop
    fitter, manager, _ = people
    athlete = new_athlete(fitter, "Stays Away")
    fitting, (line,) = pulled(fitter, 1, athlete)
    sale = new_id()
    ok(sell(fitter, fitting, line, sale))
    ok(manager.post(f"/api/athletes/{athlete}/erase"))
    for name, knock in doors(fitting, athlete, sale).items():
        answer = knock(fitter)
        if name != "seen":  # nothing is logged of the pair any more, so it was never worn
            assert (answer.status_code, answer.json()["code"]) == (404, "erased"), f"{name}: {answer.text}"
        assert answer.status_code >= 400
    with psycopg.connect(superuser_of(url)) as cx:
        cx.execute("SET session_replication_role = replica")  # as a version before this one would have
        cx.execute(
            "UPDATE fitting_part SET body = '{\"note\": \"late\"}' WHERE fitting_id = %s AND part = 'feet'", [fitting]
        )
    ok(manager.post(f"/api/athletes/{athlete}/erase"))
    with psycopg.connect(url) as cx:
        bodies = cx.execute("SELECT DISTINCT body::text FROM fitting_part WHERE fitting_id = %s", [fitting]).fetchall()
        names = cx.execute("SELECT name, erased_at IS NOT NULL FROM athlete WHERE id = %s", [athlete]).fetchone()
    assert bodies == [("{}",)]
    assert names == ("Erased", True)


@pytest.mark.parametrize("seed", range(4))
def test_pairs_of_transactions_beside_each_other(
    shop: Shop, people: tuple[httpx.Client, httpx.Client, httpx.Client], seed: int
) -> None:
    """Fifty at a time: an erasure beside an act of the same athlete, at the same moment. Each answers, none waits for
    ever, and whichever came first nothing is kept."""
    _, url = shop
    fitter, manager, _ = people
    draw = random.Random(seed)
    for nth in range(50):
        mark = f"Racer {seed} {nth} Quill"
        athlete = new_athlete(fitter, mark)
        fitting = new_fitting(fitter, athlete)
        pair = new_id()
        own = {
            "name": "x",
            "sport": "court",
            "discipline": "squash",
            "bought_on": "2026-01-01",
            "begun_on": "2026-01-02",
        }
        path = f"/api/athletes/{athlete}/pairs/{pair}"
        ok(fitter.put(path, json={"change_id": new_id(), "version": 0, "pair": own}))
        ways = doors(fitting, athlete, pair) | {
            "first feet": lambda c, f=fitting: c.patch(
                f"/api/fittings/{f}/parts/feet",
                json={"base_version": 0, "change_id": new_id(), "set": {"note": "late", "left/length_mm": 260}}),
            "erase": lambda c, a=athlete: manager.post(f"/api/athletes/{a}/erase"),
        }  # fmt: skip
        act = ways[draw.choice([w for w in ways if w != "practice"])]
        with ThreadPoolExecutor(2) as pool:
            other, gone = pool.submit(act, fitter), pool.submit(manager.post, f"/api/athletes/{athlete}/erase")
            assert gone.result().status_code == 200, gone.result().text
            assert other.result().status_code < 500, other.result().text
        with psycopg.connect(url) as cx:
            left = cx.execute(
                "SELECT (SELECT count(*) FROM athlete_link WHERE athlete_id = %(a)s) + (SELECT count(*) FROM athlete_consent "
                "WHERE athlete_id = %(a)s) + (SELECT count(*) FROM pair_plan WHERE athlete_id = %(a)s) + (SELECT count(*) "
                "FROM fitting_part p JOIN fitting f ON f.id = p.fitting_id WHERE f.athlete_id = %(a)s AND p.body <> '{}') + "
                "(SELECT count(*) FROM fitting WHERE athlete_id = %(a)s AND state <> 'erased') + "
                "(SELECT count(*) FROM pair_worn w JOIN pair p ON p.id = w.pair_id WHERE p.athlete_id = %(a)s)",
                {"a": athlete},
            ).fetchone()
        assert left == (0,)
        assert fitter.get(f"/api/athletes/{athlete}").json()["athlete"]["name"] == "Erased"
