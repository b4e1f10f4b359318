"""Pairs that are spoken for: trays, sister shops and customers know of one another, whoever takes a pair asks the same,
and a promise is broken only in words that are told."""

from __future__ import annotations

import random
import uuid
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from datetime import UTC, datetime, timedelta
from typing import Any

import httpx
import psycopg
import pytest
from psycopg.rows import dict_row

from kalon.core.errors import Conflict
from kalon.core.match.held import Holder, held_words
from kalon.store import reserved
from kalon.store.staff import a_manager, act_as
from tests.api.calls import pulled, ready_to_pull, sell, signed_in, take_back
from tests.api.test_orders import ask, count, shop_of, step
from tests.api.test_sheets import ledger_holds
from tests.running import Web

NOTE = "of what is held"
"""The orders made here."""


@pytest.fixture(autouse=True)
def let_go(demo_url: str) -> Iterator[None]:
    """What is promised here is no other test's to meet."""
    yield
    with psycopg.connect(demo_url) as cx:
        cx.execute("UPDATE reservation SET ended_at = now(), name = '' WHERE kind <> 'tray' AND ended_at IS NULL")
        cx.execute("UPDATE shoe_order SET state = 'cancelled' WHERE note = %s AND state IN ('asked', 'held')", [NOTE])


def test_who_holds_a_pair_in_words() -> None:
    now = datetime(2026, 11, 29, 12, 0)
    told = held_words(
        [
            Holder("tray", "Wren Halloway", datetime(2026, 11, 29, 15, 10)),
            Holder("sister", "North Isle", datetime(2026, 12, 1, 9, 30)),
            Holder("customer", "", datetime(2026, 12, 3, 18, 0)),
        ],
        now,
    )
    assert told == (
        "No pair of that size is free: one in the tray of Wren Halloway until 15:10; one held for North Isle until "
        "Tuesday, 1 December, 09:30; one kept for another until Thursday, 3 December, 18:00."
    )


def a_tray(running: Web, url: str, pairs: int) -> tuple[httpx.Client, str, str, str]:
    """A fitting with one pair in its tray, of a size of which so many are on hand and nobody else holds any: client,
    fitting, line, size."""
    client = signed_in(running)
    with psycopg.connect(url) as cx:
        cx.execute("UPDATE reservation SET ended_at = now() WHERE ended_at IS NULL")
    fitting, (line,) = pulled(client, 1)
    count(signed_in(running, "marrow"), line, pairs)
    return client, fitting, line, client.get(f"/api/stock/{line}").json()["variant_id"]


def asked_of_us(running: Web, url: str, variant: str) -> str:
    """An order of a sister shop for a pair of ours."""
    answer = ask(signed_in(running, "sorrel"), variant, shop_of(url, "Harbour"), note=NOTE)
    assert answer.status_code == 201, answer.text
    return str(answer.json()["id"])


def keep(client: httpx.Client, line: str, name: str, **more: Any) -> httpx.Response:
    return client.post(f"/api/stock/{line}/held", json={"id": str(uuid.uuid4()), "name": name} | more)


def nobody_holds(url: str, line: str) -> None:
    with psycopg.connect(url) as cx:
        cx.execute("UPDATE reservation SET ended_at = now() WHERE stock_line_id = %s AND ended_at IS NULL", [line])


def test_what_lies_in_a_tray_is_not_promised_away(shop: tuple[Web, str]) -> None:
    """Held for a sister shop, then sold from the tray, then refused at the door: it can't begin."""
    running, url = shop
    client, fitting, line, variant = a_tray(running, url, 2)
    order = asked_of_us(running, url, variant)
    count(signed_in(running, "marrow"), line, 1)
    refused = step(client, order, "held")
    assert (refused.status_code, refused.json()["code"]) == (409, "held")
    assert "one in the tray of Test Person until" in refused.json()["title"]
    assert step(client, order, "sent").json()["code"] == "held"
    assert ask(signed_in(running, "sorrel"), variant, shop_of(url, "Harbour")).json()["code"] == "sold-out"
    count(signed_in(running, "marrow"), line, 2)
    assert step(client, order, "held").json()["state"] == "held"
    assert sell(client, fitting, line).status_code == 201, "one is held, one is theirs"
    assert step(client, order, "sent").json()["state"] == "sent"
    assert client.get(f"/api/stock/{line}").json()["on_hand"] == 0
    assert ledger_holds(url)


def test_a_promise_is_broken_only_in_words_and_the_sister_shop_is_told(shop: tuple[Web, str]) -> None:
    running, url = shop
    client, fitting, line, variant = a_tray(running, url, 2)
    order = asked_of_us(running, url, variant)
    step(client, order, "held").raise_for_status()
    count(signed_in(running, "marrow"), line, 1)
    refused = sell(client, fitting, line)
    assert (refused.status_code, refused.json()["code"]) == (409, "held")
    assert "one held for Games fitting room, North Isle until" in refused.json()["title"]
    other = ready_to_pull(client)
    assert client.put(f"/api/fittings/{other}/tray/{line}").json()["code"] == "held"
    sale = {"sale_id": str(uuid.uuid4()), "line_id": line, "anyway": "Her race is tomorrow."}
    for _ in range(2):
        assert client.post(f"/api/fittings/{fitting}/sale", json=sale).status_code == 201
    theirs = next(o for o in signed_in(running, "sorrel").get("/api/orders").json() if o["id"] == order)
    assert (theirs["state"], theirs["held_until"]) == ("asked", None)
    assert theirs["told"] == "Taken after all in Games fitting room, Harbour: Her race is tomorrow."
    assert step(client, order, "sent").json()["code"] == "too-few"
    assert client.get(f"/api/stock/{line}/held").json() == []


def test_where_more_is_promised_than_is_there_all_in_the_way_are_told(shop: tuple[Web, str]) -> None:
    """Two are held, one is counted: who takes that one leaves nobody with a promise of nothing."""
    running, url = shop
    client, fitting, line, variant = a_tray(running, url, 3)
    orders = [asked_of_us(running, url, variant) for _ in range(2)]
    for order in orders:
        step(client, order, "held").raise_for_status()
    count(signed_in(running, "marrow"), line, 1)
    sale = {"sale_id": str(uuid.uuid4()), "line_id": line, "anyway": "The last one, and she runs tomorrow."}
    assert client.post(f"/api/fittings/{fitting}/sale", json=sale).status_code == 201
    theirs = {o["id"]: o["told"] for o in signed_in(running, "sorrel").get("/api/orders").json()}
    assert all("she runs tomorrow" in theirs[order] for order in orders)
    assert client.get(f"/api/stock/{line}/held").json() == []


def test_a_pair_kept_for_a_customer_waits_for_them(shop: tuple[Web, str]) -> None:
    running, url = shop
    client, fitting, line, _ = a_tray(running, url, 1)
    nobody_holds(url, line)
    whole = client.get(f"/api/fittings/{fitting}").json()
    kept = {"id": str(uuid.uuid4()), "name": "Test Person", "athlete_id": whole["athlete"]["id"], "days": 3}
    for _ in range(2):
        held = client.post(f"/api/stock/{line}/held", json=kept)
        assert held.status_code == 201, held.text
        assert [h["kind"] for h in held.json()] == ["customer"]
    assert held.json()[0]["says"].startswith("one kept for Test Person until ")
    assert keep(client, line, "Somebody Else").json()["code"] == "held"
    assert keep(client, line, "").status_code == 422
    stranger = ready_to_pull(client)
    assert client.put(f"/api/fittings/{stranger}/tray/{line}").json()["code"] == "held"
    assert client.put(f"/api/fittings/{stranger}/tray/{line}", json={"anyway": "They agreed."}).status_code == 200
    assert "customer" not in {h["kind"] for h in client.get(f"/api/stock/{line}/held").json()}
    assert sell(client, fitting, line).status_code == 201, "what is promised to nobody goes to who settles first"
    take_back(client, fitting)
    again = client.post(f"/api/stock/{line}/held", json=kept | {"id": str(uuid.uuid4())})
    assert again.json()["code"] == "held", "it lies in two trays now"


def test_what_is_kept_for_an_athlete_is_not_in_their_own_way_and_ends_with_the_sale(shop: tuple[Web, str]) -> None:
    running, url = shop
    client, fitting, line, _ = a_tray(running, url, 1)
    nobody_holds(url, line)
    athlete = client.get(f"/api/fittings/{fitting}").json()["athlete"]["id"]
    keep(client, line, "Test Person", athlete_id=athlete).raise_for_status()
    assert sell(client, fitting, line).status_code == 201
    assert client.get(f"/api/stock/{line}/held").json() == []
    held = keep(client, line, "Another")
    assert held.json()["code"] == "sold-out"


def test_keeping_is_given_up_again(shop: tuple[Web, str]) -> None:
    running, url = shop
    client, fitting, line, _ = a_tray(running, url, 3)
    kept = keep(client, line, "Somebody").json()
    mine = next(h for h in kept if h["kind"] == "customer")
    assert {h["kind"] for h in kept} == {"tray", "customer"}
    tray = next(h for h in kept if h["kind"] == "tray")
    assert tray["fitting_id"] == fitting
    assert client.delete(f"/api/stock/{line}/held/{tray['id']}").status_code == 404, "a tray is put back, not given up"
    for _ in range(2):
        left = client.delete(f"/api/stock/{line}/held/{mine['id']}")
        assert [h["kind"] for h in left.json()] == ["tray"]
    client.delete(f"/api/fittings/{fitting}/tray/{line}").raise_for_status()
    assert client.get(f"/api/stock/{line}/held").json() == []


def test_a_name_goes_with_what_was_kept_for_it(shop: tuple[Web, str]) -> None:
    """Given up, sold, over by its day or erased: nowhere in the database is the name any more."""
    running, url = shop
    client, _fitting, line, _ = a_tray(running, url, 5)
    nobody_holds(url, line)
    manager = signed_in(running, "marrow")
    name = "Zephyrine Quartermain"
    athlete = client.post("/api/athletes", json={"change_id": str(uuid.uuid4()), "name": "Somebody"}).json()["id"]
    given_up, lapsed = (keep(client, line, name).json()[-1]["id"] for _ in range(2))
    keep(client, line, name, athlete_id=athlete).raise_for_status()
    client.delete(f"/api/stock/{line}/held/{given_up}").raise_for_status()
    manager.post(f"/api/athletes/{athlete}/erase").raise_for_status()
    with psycopg.connect(url) as cx:
        cx.execute("UPDATE reservation SET until = now() - interval '1 minute' WHERE id = %s", [lapsed])
    keep(client, line, "Another").raise_for_status()
    assert [h["says"].split(" until ")[0] for h in client.get(f"/api/stock/{line}/held").json()] == [
        "one kept for Another"
    ]
    with psycopg.connect(url) as cx:
        tables = cx.execute("SELECT table_name FROM information_schema.tables WHERE table_schema = 'public' "
                            "AND table_type = 'BASE TABLE'").fetchall()  # fmt: skip
        for (table,) in tables:
            found = cx.execute(f'SELECT count(*) FROM "{table}" t WHERE t::text LIKE %s', ["%Quartermain%"]).fetchone()
            assert found == (0,), table


def test_what_is_held_is_neither_lent_nor_sent_back_but_counted_as_it_is(shop: tuple[Web, str]) -> None:
    running, url = shop
    client, _fitting, line, _ = a_tray(running, url, 2)
    manager = signed_in(running, "marrow")

    def move(by: int, kind: str) -> httpx.Response:
        return manager.post(
            f"/api/stock/{line}/moves", json={"id": str(uuid.uuid4()), "by": by, "kind": kind, "why": "as it is"}
        )

    assert move(-2, "lent").json()["code"] == "held"
    assert move(-1, "lent").status_code == 200
    assert move(-1, "returned").json()["code"] == "held"
    assert move(-3, "lent").json()["code"] == "too-few"
    assert move(-1, "written_off").status_code == 200
    name = client.get(f"/api/stock/{line}").json()["name"]
    rack = client.get("/api/rack", params={"text": name}).json()["models"]
    size = next(s for m in rack for s in m["sizes"] if s["id"] == line)
    assert (size["on_hand"], size["reserved"]) == (0, 1)


def test_an_order_that_lets_go_holds_nothing(shop: tuple[Web, str]) -> None:
    running, url = shop
    client, _fitting, line, variant = a_tray(running, url, 2)
    theirs = signed_in(running, "sorrel")
    for to, who in (("cancelled", theirs), ("refused", client)):
        order = asked_of_us(running, url, variant)
        step(client, order, "held").raise_for_status()
        assert len(client.get(f"/api/stock/{line}/held").json()) == 2
        assert step(who, order, to).status_code == 200
        assert [h["kind"] for h in client.get(f"/api/stock/{line}/held").json()] == ["tray"]


def test_an_order_ends_credited_or_lost(shop: tuple[Web, str]) -> None:
    """What went back to its supplier is credited; what never came is written off where it came from, once."""
    running, url = shop
    client, _fitting, line, variant = a_tray(running, url, 3)
    bought = ask(client, variant).json()["id"]
    for to in ("ordered", "arrived", "sent_back"):
        last = step(client, bought, to).json()
    assert last["steps"] == ["credited"]
    assert step(client, bought, "credited").json()["steps"] == []
    theirs, order = signed_in(running, "sorrel"), asked_of_us(running, url, variant)
    before = client.get(f"/api/stock/{line}").json()["on_hand"]
    assert step(client, order, "sent").json()["steps"] == ["lost"]
    assert step(theirs, order, "lost").status_code == 409, "it is the giver's to write off"
    change = str(uuid.uuid4())
    for _ in range(2):
        assert step(client, order, "lost", change).json()["says"] == "lost on its way"
    assert step(theirs, order, "received").json()["code"] == "order-moved"
    assert client.get(f"/api/stock/{line}").json()["on_hand"] == before - 1
    kinds = [m["kind"] for m in client.get(f"/api/stock/{line}/moves").json()[:3]]
    assert kinds == ["written_off", "transferred", "transferred"]
    assert ledger_holds(url)
    today = [i["text"] for i in client.get("/api/today").json()["items"] if i["kind"] == "transfer"]
    assert not any("credited" in t or "lost" in t for t in today)


def test_who_asks_while_another_is_being_promised_the_last_pair_waits_and_is_told(shop: tuple[Web, str]) -> None:
    running, url = shop
    _, _, line, _ = a_tray(running, url, 1)
    nobody_holds(url, line)
    until = datetime.now(UTC) + timedelta(days=1)

    def kept(cx: psycopg.Connection[Any], name: str) -> None:
        who = a_manager(cx, "Games fitting room, Harbour")
        act_as(cx, who)
        reserved.keep(cx, who, uuid.UUID(line), uuid.uuid4(), name, None, until)

    with (
        psycopg.connect(url, row_factory=dict_row) as first,
        psycopg.connect(url, row_factory=dict_row) as second,
        ThreadPoolExecutor(1) as pool,
    ):
        kept(first, "The first")
        waiting = pool.submit(kept, second, "The second")
        with pytest.raises(TimeoutError):
            waiting.result(timeout=0.7)
        first.commit()
        with pytest.raises(Conflict, match="one kept for The first until"):
            waiting.result(timeout=20)


@pytest.mark.parametrize("_round", range(12))
def test_a_pair_is_never_held_and_sold(shop: tuple[Web, str], _round: int) -> None:
    """Eight hands on the last pair: holds, sends, keeps, sales and pulls at once; what was acknowledged can be kept."""
    running, url = shop
    client, fitting, line, variant = a_tray(running, url, 2)
    orders = [asked_of_us(running, url, variant) for _ in range(3)]
    count(signed_in(running, "marrow"), line, 1)
    grabs: list[Any] = [lambda c, o=o: step(c, o, "held") for o in orders]
    grabs += [lambda c: keep(c, line, "A customer")] * 2
    grabs += [lambda c: sell(c, fitting, line)] * 2
    grabs += [lambda c: c.delete(f"/api/fittings/{fitting}/tray/{line}")]
    random.shuffle(grabs)
    hands = [signed_in(running) for _ in grabs]
    with ThreadPoolExecutor(len(grabs)) as pool:
        answers = list(pool.map(lambda g: g[0](g[1]), zip(grabs, hands, strict=True)))
    assert not [a.text for a in answers if a.status_code >= 500]
    on_hand = client.get(f"/api/stock/{line}").json()["on_hand"]
    promised = [h for h in client.get(f"/api/stock/{line}/held").json() if h["kind"] != "tray"]
    assert len(promised) <= on_hand, (on_hand, promised)
    assert ledger_holds(url)
