"""Pairs that aren't here: ordered, or asked of a sister shop; the last pair goes to one, and no pair is lost on the way."""

from __future__ import annotations

import random
import uuid
from concurrent.futures import ThreadPoolExecutor
from datetime import UTC, datetime, timedelta
from typing import Any

import httpx
import psycopg
import pytest

from kalon.core.match.ordering import Arrival, arrival_says, order_sheet
from tests.api.calls import FOOTBALL, new_fitting, patch, pulled, ready_to_pull, sell, signed_in
from tests.api.test_sheets import ledger_holds
from tests.core.test_size import recommend
from tests.made import gauge_paths
from tests.running import Web


def size_in_both(url: str) -> tuple[str, str, str]:
    """A size both shops keep: its id, and the stock lines of Harbour and North Isle."""
    with psycopg.connect(url) as cx:
        rows = cx.execute(
            "SELECT a.variant_id::text, a.id::text, b.id::text FROM stock_line a JOIN stock_line b "
            "ON b.variant_id = a.variant_id JOIN shop h ON h.id = a.shop_id JOIN shop n ON n.id = b.shop_id "
            "WHERE h.name LIKE '%Harbour' AND n.name LIKE '%North Isle' AND NOT EXISTS (SELECT 1 FROM reservation r "
            "WHERE r.stock_line_id IN (a.id, b.id) AND r.ended_at IS NULL) ORDER BY random() LIMIT 1"
        ).fetchone()
    assert rows
    return rows[0], rows[1], rows[2]


def count(client: httpx.Client, line: str, pairs: int) -> None:
    now = client.get(f"/api/stock/{line}").json()["on_hand"]
    client.post(f"/api/stock/{line}/moves", json={"id": str(uuid.uuid4()), "by": pairs - now}).raise_for_status()


def ask(client: httpx.Client, variant: str, from_shop: str | None = None, **more: Any) -> httpx.Response:
    body = {"id": str(uuid.uuid4()), "variant_id": variant, "from_shop": from_shop} | more
    return client.post("/api/orders", json=body)


def step(client: httpx.Client, order: str, to: str, change: str | None = None) -> httpx.Response:
    return client.post(f"/api/orders/{order}/steps", json={"change_id": change or str(uuid.uuid4()), "to": to})


def shop_of(url: str, name: str) -> str:
    with psycopg.connect(url) as cx:
        row = cx.execute("SELECT id::text FROM shop WHERE name LIKE %s", [f"%{name}"]).fetchone()
    assert row
    return str(row[0])


def test_a_pair_is_asked_for_held_sent_and_received(shop: tuple[Web, str]) -> None:
    running, url = shop
    here, there = signed_in(running, "marrow"), signed_in(running, "sorrel")
    variant, ours, theirs = size_in_both(url)
    count(there, theirs, 2)
    count(here, ours, 0)
    north = shop_of(url, "North Isle")
    order = ask(here, variant, north, note="for Saturday").json()
    assert (order["state"], order["says"], order["steps"], order["other"]) == (
        "asked", "asked for", ["cancelled"], "Games fitting room, North Isle")  # fmt: skip
    seen = next(o for o in there.get("/api/orders").json() if o["id"] == order["id"])
    assert (seen["ours"], seen["steps"], seen["other"], seen["note"]) == (
        False, ["held", "sent", "refused"], "Games fitting room, Harbour", "for Saturday")  # fmt: skip
    assert (seen["sheet"], seen["athlete"], seen["fitting_id"]) == ({}, None, None)
    held = step(there, order["id"], "held").json()
    for_days = datetime.fromisoformat(held["held_until"]) - datetime.now(UTC)
    assert timedelta(hours=47) < for_days <= timedelta(hours=48)  # a sister shop holds it two days
    assert step(here, order["id"], "received").json()["code"] == "order-moved"
    sent = str(uuid.uuid4())
    for _ in range(2):
        assert step(there, order["id"], "sent", sent).json()["state"] == "sent"
    assert there.get(f"/api/stock/{theirs}").json()["on_hand"] == 1
    assert here.get(f"/api/stock/{ours}").json()["on_hand"] == 0
    assert step(here, order["id"], "received").json()["says"] == "here"
    assert here.get(f"/api/stock/{ours}").json()["on_hand"] == 1
    moved = here.get(f"/api/stock/{ours}/moves").json()[0]
    assert (moved["kind"], moved["pairs"], moved["why"]) == ("transferred", 1, "from Games fitting room, North Isle")
    assert ledger_holds(url)


def test_a_hold_in_a_sister_shop_ends_by_itself(shop: tuple[Web, str]) -> None:
    running, url = shop
    here, there = signed_in(running), signed_in(running, "sorrel")
    variant, _, theirs = size_in_both(url)
    count(there, theirs, 1)
    north = shop_of(url, "North Isle")
    first, second = (ask(here, variant, north).json()["id"] for _ in range(2))
    step(there, first, "held").raise_for_status()
    taken = step(there, second, "held").json()
    assert taken["code"] == "held"
    assert "one held for Games fitting room, Harbour until" in taken["title"]
    with psycopg.connect(url) as cx:
        cx.execute("UPDATE reservation SET until = now() - interval '1 minute' WHERE order_id = %s", [first])
    assert next(o for o in here.get("/api/orders").json() if o["id"] == first)["says"] == "asked for"
    assert step(there, second, "held").status_code == 200


@pytest.mark.parametrize("to", ["refused", "cancelled"])
def test_what_is_refused_or_let_go_moves_nothing(shop: tuple[Web, str], to: str) -> None:
    running, url = shop
    here, there = signed_in(running), signed_in(running, "sorrel")
    variant, _, theirs = size_in_both(url)
    count(there, theirs, 1)
    order = ask(here, variant, shop_of(url, "North Isle")).json()["id"]
    assert step(there if to == "refused" else here, order, to).status_code == 200
    assert step(there, order, "sent").json()["code"] == "order-moved"
    assert there.get(f"/api/stock/{theirs}").json()["on_hand"] == 1


def test_nobody_answers_for_the_other_shop(shop: tuple[Web, str]) -> None:
    running, url = shop
    here, there = signed_in(running), signed_in(running, "sorrel")
    variant, _, theirs = size_in_both(url)
    count(there, theirs, 1)
    order = ask(here, variant, shop_of(url, "North Isle")).json()["id"]
    for to in ("held", "sent", "refused"):
        assert step(here, order, to).status_code == 409
    assert step(there, order, "cancelled").status_code == 409
    assert ask(here, variant, shop_of(url, "Harbour")).status_code in (404, 409, 422)
    count(there, theirs, 0)
    assert ask(here, variant, shop_of(url, "North Isle")).json()["code"] == "sold-out"


@pytest.mark.parametrize("_round", range(12))
def test_the_last_pair_goes_to_one_whoever_grabs_it(shop: tuple[Web, str], _round: int) -> None:
    """Sent to two orders, sold at the till and counted away at once: one of them has it, the rest are told."""
    running, url = shop
    here, there = signed_in(running), signed_in(running, "sorrel")
    variant, _, theirs = size_in_both(url)
    count(there, theirs, 1)
    north = shop_of(url, "North Isle")
    orders = [ask(here, variant, north).json()["id"] for _ in range(4)]
    grabs: list[Any] = [lambda c, o=o: step(c, o, "sent") for o in orders]
    grabs += [lambda c: c.post(f"/api/stock/{theirs}/moves", json={"id": str(uuid.uuid4()), "by": -1})] * 3
    random.shuffle(grabs)
    hands = [signed_in(running, "sorrel") for _ in grabs]
    with ThreadPoolExecutor(len(grabs)) as pool:
        answers = list(pool.map(lambda g: g[0](g[1]), zip(grabs, hands, strict=True)))
    assert sorted(a.status_code for a in answers) == [200] + [409] * (len(grabs) - 1)
    assert there.get(f"/api/stock/{theirs}").json()["on_hand"] == 0
    assert ledger_holds(url)


def test_what_to_order_for_a_fitting_with_its_sheet(shop: tuple[Web, str]) -> None:
    running, url = shop
    client = signed_in(running)
    fitting = ready_to_pull(client)
    found = client.get(f"/api/fittings/{fitting}/to-order").json()
    assert 0 < len(found) <= 8
    with psycopg.connect(url) as cx:
        for place in found:
            on_hand = cx.execute(
                "SELECT coalesce(sum(l.on_hand), 0) FROM stock_line l JOIN shop h ON h.id = l.shop_id "
                "WHERE l.variant_id = %s AND h.name LIKE '%%Harbour'", [place["variant_id"]]
            ).fetchone()  # fmt: skip
            assert on_hand == (0,)
    assert found == sorted(found, key=lambda p: -p["score"])
    place = found[0]
    sheet = client.get(f"/api/fittings/{fitting}/to-order/{place['variant_id']}").json()
    assert sheet["label"] == place["eu_label"]
    assert "is wanted; expected" in sheet["check"][0]
    assert sheet["check"][-1].startswith("Indoors and clean")
    order = ask(client, place["variant_id"], fitting_id=fitting).json()
    assert order["sheet"] == sheet
    assert order["athlete"] == "Test Person"
    assert [o["id"] for o in client.get(f"/api/fittings/{fitting}/orders").json()] == [order["id"]]
    for to in ("ordered", "arrived"):
        assert step(client, order["id"], to).status_code == 200
    line = next(r for r in client.get("/api/stock", params={"text": place["name"], "limit": 5000}).json()
                if r["eu_label"] == place["eu_label"] and r["width"] == place["width"])  # fmt: skip
    assert line["on_hand"] == 1
    assert client.put(f"/api/fittings/{fitting}/tray/{line['id']}").status_code == 200
    assert sell(client, fitting, line["id"]).status_code == 201
    needs = client.get("/api/needs").json()
    mine = next(
        n for n in needs if (n["sport"], n["eu_label"], n["width"]) == ("football", place["eu_label"], place["width"])
    )
    assert mine["came"] >= 1
    assert mine["wanted"] >= mine["came"]


def test_what_will_not_fit_is_not_offered(shop: tuple[Web, str]) -> None:
    """Feet no size of the range is long enough for: nothing is offered, where the range itself has something."""
    running, _ = shop
    client = signed_in(running)
    fitting = new_fitting(client)
    assert patch(client, fitting, "feet", gauge_paths(length_mm=352)).status_code == 200
    assert patch(client, fitting, "brief", FOOTBALL).status_code == 200
    assert client.get(f"/api/fittings/{fitting}/to-order").json() == []
    usual = client.get(f"/api/fittings/{ready_to_pull(client)}/to-order").json()
    assert usual
    assert {p["hope"] for p in usual} <= {"should_fit", "worth_trying", "gamble"}


def test_an_order_is_asked_for_once_and_without_feet_has_no_sheet(shop: tuple[Web, str]) -> None:
    running, url = shop
    client = signed_in(running)
    fitting = new_fitting(client)
    patch(client, fitting, "feet", {"left/length_mm": 260})
    variant, _, _ = size_in_both(url)
    body = {"id": str(uuid.uuid4()), "variant_id": variant, "fitting_id": fitting}
    with ThreadPoolExecutor(6) as pool:
        answers = list(pool.map(lambda _: signed_in(running).post("/api/orders", json=body), range(6)))
    assert {a.status_code for a in answers} == {201}
    assert len({a.text for a in answers}) == 1
    assert answers[0].json()["sheet"] == {}
    other = client.post("/api/orders", json=body | {"variant_id": size_in_both(url)[0]})
    assert other.status_code in (201, 409)
    strange, _ = pulled(signed_in(running), 1)
    assert ask(signed_in(running, "sorrel"), variant, fitting_id=strange).status_code == 404


def test_the_half_size_to_add_lies_where_the_doubt_points() -> None:
    """Nothing is added to what should fit; a tight one has the next half size up sent along, a slack one the one below."""
    found = recommend([40, 40.5, 41, 41.5, 42, 42.5, 43, 43.5])
    for size in found.sizes:
        sheet = order_sheet("football", found.sizes, size.label, 280.0, 3.0)
        assert sheet.why.startswith(f"{size.label:g}: ")
        if size.hope == "should_fit":
            assert sheet.also is None
        elif sheet.also is not None:
            toe = size.zones[0]
            tight = toe.settled_mm < (toe.low_mm + toe.high_mm) / 2
            assert (sheet.also > size.label) == tight
            assert abs(sheet.also - size.label) == 0.5


def test_shoes_of_other_sports_that_may_serve(shop: tuple[Web, str]) -> None:
    """A hall's game is served by court shoes on hand, with what they give up; a wet pitch by boots on its studs alone."""
    running, _ = shop
    client = signed_in(running)
    hall = ready_to_pull(client, surface="indoor_hall")
    found = client.get(f"/api/fittings/{hall}/substitutes").json()
    assert found
    assert {p["pair"]["sport"] for p in found} == {"court"}
    assert found == sorted(found, key=lambda p: -p["score"])
    for place in found:
        assert place["pair"]["on_hand"] > 0
        assert place["hope"] in ("should_fit", "worth_trying")
        assert place["gives_up"]
    line = found[0]["pair"]["id"]
    assert client.put(f"/api/fittings/{hall}/tray/{line}").status_code == 200
    assert client.get(f"/api/fittings/{hall}/settle/{line}").status_code == 200
    assert sell(client, hall, line).status_code == 201
    wet = ready_to_pull(client, surface="soft_natural")
    served = client.get(f"/api/fittings/{wet}/substitutes").json()
    assert {(p["pair"]["sport"], p["pair"]["choices"]["plate"]) for p in served} == {("field", "soft_ground")}


def fitted_order(client: httpx.Client, running: Web, url: str) -> tuple[str, dict[str, Any]]:
    """A fitting with its best missing size ordered and here."""
    fitting = ready_to_pull(client)
    place = client.get(f"/api/fittings/{fitting}/to-order").json()[0]
    order = ask(client, place["variant_id"], fitting_id=fitting).json()
    assert order["arrival_says"] is None
    for to in ("ordered", "arrived"):
        order = step(client, order["id"], to).json()
    return fitting, order


def found_of(client: httpx.Client, order: str, change: str | None = None, **found: Any) -> httpx.Response:
    return client.put(f"/api/orders/{order}/arrival", json={"change_id": change or str(uuid.uuid4())} | found)


def test_what_came_is_checked_and_sent_back_where_it_does_not_fit(shop: tuple[Web, str]) -> None:
    """The inside read is a reading of that size; toes decide; sending back leaves the stock, and once only."""
    running, url = shop
    client = signed_in(running)
    fitting, order = fitted_order(client, running, url)
    assert order["arrival_says"]["word"] == "open"
    low = order["sheet"]["inside_low_mm"]
    change = str(uuid.uuid4())
    for _ in range(2):
        short = found_of(client, order["id"], change, inner_mm=round(low - 6, 1)).json()
    assert short["arrival_says"]["word"] == "send_back"
    assert "6 mm shorter than is wanted" in short["arrival_says"]["text"]
    with psycopg.connect(url) as cx:
        read = cx.execute("SELECT mm FROM shoe_reading WHERE variant_id = %s", [order["variant_id"]]).fetchall()
    assert [r[0] for r in read] == [pytest.approx(low - 6, abs=0.06)]
    fine = found_of(client, order["id"], inner_mm=round(low - 6, 1), toes="fine").json()
    assert fine["arrival_says"]["word"] == "keep"
    jams = found_of(client, order["id"], toes="jam").json()
    assert jams["arrival_says"]["text"].startswith("The toes jam: send it back")
    assert found_of(client, order["id"], toes="sideways").status_code == 422
    assert found_of(client, order["id"], inner_mm=2).status_code == 422
    gone = step(client, order["id"], "sent_back").json()
    assert (gone["state"], gone["says"], gone["steps"]) == ("sent_back", "sent back", ["credited"])
    assert step(client, order["id"], "sent_back").status_code == 409
    assert [o["state"] for o in client.get(f"/api/fittings/{fitting}/orders").json()] == ["sent_back"]
    assert ledger_holds(url)


def test_a_sister_shops_pair_goes_back_to_it(shop: tuple[Web, str]) -> None:
    running, url = shop
    here, there = signed_in(running), signed_in(running, "sorrel")
    variant, ours, theirs = size_in_both(url)
    count(there, theirs, 1)
    before = here.get(f"/api/stock/{ours}").json()["on_hand"]
    order = ask(here, variant, shop_of(url, "North Isle")).json()["id"]
    step(there, order, "sent").raise_for_status()
    assert found_of(here, order, toes="fine").status_code == 409  # it isn't here yet
    step(here, order, "received").raise_for_status()
    assert found_of(there, order, toes="fine").status_code == 409  # nor is it theirs to try
    step(here, order, "sent_back").raise_for_status()
    assert step(here, order, "back").status_code == 409
    assert step(there, order, "back").json()["says"] == "back where it came from"
    assert here.get(f"/api/stock/{ours}").json()["on_hand"] == before
    assert there.get(f"/api/stock/{theirs}").json()["on_hand"] == 1
    assert ledger_holds(url)


def test_a_pair_made_to_measure_is_the_last_resort(shop: tuple[Web, str]) -> None:
    """Both feet with the room wanted in them, the shoe in words; no size, no stock moved; for a fitting only."""
    running, url = shop
    client = signed_in(running)
    fitting = ready_to_pull(client)
    sheet = client.get(f"/api/fittings/{fitting}/to-order/made").json()
    assert [f.split(":")[0] for f in sheet["feet"]] == ["Left", "Right"]
    assert "mm inside (foot" in sheet["feet"][0]
    assert sheet["shoe"]
    body = {"id": str(uuid.uuid4()), "variant_id": None}
    assert client.post("/api/orders", json=body).status_code == 422
    north = shop_of(url, "North Isle")
    assert client.post("/api/orders", json=body | {"fitting_id": fitting, "from_shop": north}).status_code == 422
    order = client.post("/api/orders", json=body | {"fitting_id": fitting}).json()
    assert (order["made"], order["name"], order["label"]) == (True, "Made to measure", None)
    assert order["sheet"] == sheet
    for to in ("ordered", "arrived"):
        step(client, order["id"], to).raise_for_status()
    kept = found_of(client, order["id"], toes="fine").json()
    assert kept["arrival_says"]["word"] == "keep"
    assert order["id"] in {o["id"] for o in client.get("/api/orders").json()}
    assert ledger_holds(url)


@pytest.mark.parametrize(
    ("found", "word"),
    [
        ({}, "open"), ({"inner_mm": 280}, "open"), ({"inner_mm": 280, "toes": "fine"}, "keep"), ({"toes": "fine"}, "keep"),
        ({"inner_mm": 290}, "send_back"), ({"toes": "slack"}, "send_back"), ({"toes": "jam"}, "send_back"), ({"pinches": ["ball"]}, "send_back"),
        ({"heel_slip": True, "toes": "fine"}, "open"),
    ],
)  # fmt: skip
def test_what_follows_from_what_was_found(found: dict[str, Any], word: str) -> None:
    """Common practice, no source: the foot decides; what jams, is slack or pinches goes back unworn."""
    sheet = {"inside_low_mm": 277.0, "inside_high_mm": 283.0, "label": 42.0, "also": 42.5}
    says = arrival_says(Arrival.model_validate(found), sheet)
    assert says.word == word
    assert says.text.endswith(".")
    assert ("42.5" in says.text) == (found.get("toes") == "jam")


def test_a_sheet_of_old_has_no_numbers_to_judge_by() -> None:
    assert arrival_says(Arrival(inner_mm=290), {"why": "", "check": []}).word == "open"
