"""The journal: every sale, refund and deposit is a numbered line, no number is missing, and money agrees with pairs."""

from __future__ import annotations

import csv
import io
import uuid
from concurrent.futures import ThreadPoolExecutor
from datetime import date, timedelta
from decimal import Decimal
from fractions import Fraction
from random import Random
from typing import Any

import httpx
import openpyxl
import psycopg
import pytest

from tests.api.calls import FOOTBALL, new_fitting, patch, pulled, ready_to_pull, sell, signed_in, take_back, today
from tests.api.test_clock import house
from tests.api.test_orders import ask, size_in_both, step
from tests.api.test_sale import count, on_hand
from tests.made import gauge_paths
from tests.running import Web

Shop = tuple[Web, str]


def look(client: httpx.Client, of: str = "") -> dict[str, Any]:
    answer = client.get("/api/takings", params={"of": of} if of else {})
    assert answer.status_code == 200, answer.text
    return dict(answer.json())


def sold(web: Web, login: str = "ilse", **lowered: Any) -> tuple[str, str, dict[str, Any]]:
    """A sale made now: its fitting, its stock line, and its line in the journal."""
    client = signed_in(web, login)
    fitting, lines = pulled(client, 1)
    count(web, lines[0], 5)
    if lowered:
        assert patch(client, fitting, "settle", {f"lowered/{lines[0]}": lowered}).status_code == 200
    answer = sell(client, fitting, lines[0])
    assert answer.status_code == 201, answer.text
    return fitting, lines[0], answer.json()["sale"]["lines"][0]


def back(client: httpx.Client, line: str, key: str | None = None, **given: Any) -> httpx.Response:
    body = {"id": key or str(uuid.uuid4()), "why": "too tight after all", "became": "shelf"} | given
    return client.post(f"/api/takings/lines/{line}/back", json=body)


def number(line: dict[str, Any]) -> int:
    return int(line["number"].split("-")[1])


def test_a_sale_and_what_is_done_upon_it_are_lines_one_after_the_other(running: Web) -> None:
    client = signed_in(running)
    fitting, stock, sale = sold(running)
    there = on_hand(client, stock)
    assert (sale["kind"], sale["pairs"], sale["by"]) == ("sale", 1, "Ilse Varn")
    assert take_back(client, fitting).status_code == 200
    assert on_hand(client, stock) == there + 1
    newest = look(client)["lines"][0]
    assert (newest["kind"], newest["upon"], number(newest)) == ("undone", sale["number"], number(sale) + 1)
    assert (newest["total_minor"], newest["tax_minor"]) == (-sale["total_minor"], -sale["tax_minor"])


def test_six_tills_at_once_leave_no_hole_and_no_number_twice(shop: Shop) -> None:
    web, url = shop
    ready = []
    for _ in range(6):
        client = signed_in(web)
        fitting, lines = pulled(client, 1)
        count(web, lines[0], 9)
        ready.append((fitting, lines[0]))
    gone = ready_to_pull(signed_in(web))  # a sale that fails takes no number along
    assert sell(signed_in(web), gone, ready[0][1]).status_code == 409
    with ThreadPoolExecutor(6) as pool:
        answers = list(pool.map(lambda r: sell(signed_in(web), *r).status_code, ready))
    assert answers == [201] * 6
    with psycopg.connect(url) as cx:
        rows = cx.execute(
            "SELECT shop_id, year, array_agg(number ORDER BY number) FROM journal_line GROUP BY 1, 2"
        ).fetchall()
    for _, _, numbers in rows:
        assert numbers == list(range(1, len(numbers) + 1))


def test_a_lowered_price_needs_a_reason_and_stands_in_preview_journal_and_sheet(running: Web) -> None:
    client = signed_in(running)
    fitting, lines = pulled(client, 1)
    count(running, lines[0], 3)
    price = client.get(f"/api/stock/{lines[0]}").json()["price_minor"]
    assert patch(client, fitting, "settle", {f"lowered/{lines[0]}/pct": 12.5}).status_code == 200
    off = int(Fraction(price) * Fraction(125, 1000) + Fraction(1, 2))
    asked = client.get(f"/api/fittings/{fitting}/settle/{lines[0]}").json()["asked"]
    assert (asked["price_minor"], asked["discount_minor"], asked["total_minor"]) == (price, off, price - off)
    refused = sell(client, fitting, lines[0])
    assert (refused.status_code, refused.json()["code"]) == (409, "discount-why")
    assert patch(client, fitting, "settle", {f"lowered/{lines[0]}/why": "the last of its kind"}).status_code == 200
    line = sell(client, fitting, lines[0]).json()["sale"]["lines"][0]
    assert (line["discount_minor"], line["total_minor"], line["why"]) == (off, price - off, "the last of its kind")
    sheet = client.get(f"/api/fittings/{fitting}/fit-sheet.json").json()
    assert (sheet["number"], sheet["total_minor"]) == (line["number"], price - off)
    later = patch(client, fitting, "settle", {f"lowered/{lines[0]}/pct": 50})
    assert (later.status_code, later.json()["code"]) == (409, "settled")
    both = patch(client, ready_to_pull(client), "settle", {f"lowered/{lines[0]}": {"pct": 5, "minor": 100}})
    assert both.status_code == 422
    assert "not by both" in both.text


def test_a_pair_brought_back_is_a_line_of_its_own(running: Web) -> None:
    client = signed_in(running)
    fitting, stock, sale = sold(running)
    there, key = on_hand(client, stock), str(uuid.uuid4())
    for _ in range(2):  # sent twice
        answer = back(client, sale["id"], key)
        assert answer.status_code == 201, answer.text
    line = answer.json()
    assert (line["kind"], line["upon"], line["became_says"]) == ("refund", sale["number"], "back on the shelf")
    assert (line["total_minor"], line["tax_minor"], line["pairs"]) == (-sale["total_minor"], -sale["tax_minor"], -1)
    assert on_hand(client, stock) == there + 1
    again = back(client, sale["id"])
    assert (again.status_code, again.json()["code"]) == (409, "back-already")
    whole = client.get(f"/api/fittings/{fitting}").json()
    assert (whole["state"], whole["follow_up"], whole["sale"]["lines"][0]["back_already"]) == ("returned", None, True)
    athlete = whole["athlete"]["id"]
    (pair,) = client.get(f"/api/athletes/{athlete}/pairs").json()
    assert (pair["ended_why"], pair["ended_on"]) == ("brought_back", today().isoformat())
    assert take_back(client, fitting).status_code == 409


@pytest.mark.parametrize(
    ("became", "kinds"), [("worn", ["written_off", "brought_back"]), ("supplier", ["returned", "brought_back"])]
)
def test_a_pair_that_is_no_stock_any_more_comes_in_and_goes_out(running: Web, became: str, kinds: list[str]) -> None:
    client = signed_in(running)
    _, stock, sale = sold(running)
    there = on_hand(client, stock)
    assert back(client, sale["id"], became=became).status_code == 201
    assert on_hand(client, stock) == there
    moves = client.get(f"/api/stock/{stock}/moves").json()
    assert [m["kind"] for m in moves[:2]] == kinds


def test_money_may_be_given_back_without_the_pair_but_not_more_than_stands(running: Web) -> None:
    client = signed_in(running)
    fitting, stock, sale = sold(running)
    there = on_hand(client, stock)
    part = back(client, sale["id"], became=None, amount_minor=1_000).json()
    assert (part["total_minor"], part["pairs"], on_hand(client, stock)) == (-1_000, 0, there)
    much = back(client, sale["id"], became=None, amount_minor=sale["total_minor"])
    assert (much.status_code, much.json()["code"]) == (409, "refund-too-much")
    assert back(client, sale["id"], became=None).status_code == 422
    assert back(client, sale["id"], why="  ").status_code == 422
    rest = back(client, sale["id"]).json()
    assert rest["total_minor"] == -(sale["total_minor"] - 1_000)
    assert part["tax_minor"] + rest["tax_minor"] + sale["tax_minor"] == 0
    assert client.get(f"/api/fittings/{fitting}").json()["sale"]["too_late"]
    assert (back(client, rest["id"]).status_code, back(client, str(uuid.uuid4())).status_code) == (409, 404)


def test_what_is_bought_in_exchange_says_for_what(running: Web) -> None:
    client = signed_in(running)
    fitting, _, sale = sold(running)
    given = back(client, sale["id"], exchange=True).json()
    athlete = client.get(f"/api/fittings/{fitting}").json()["athlete"]["id"]
    for wanted in (given["number"], ""):
        again, lines = pulled(client, 1, athlete)
        count(running, lines[0], 3)
        assert sell(client, again, lines[0]).json()["sale"]["lines"][0]["upon"] == wanted


def test_an_exchange_that_was_undone_is_still_owed_another_pair(running: Web) -> None:
    client = signed_in(running)
    fitting, _, sale = sold(running)
    given = back(client, sale["id"], exchange=True).json()
    athlete = client.get(f"/api/fittings/{fitting}").json()["athlete"]["id"]
    again, lines = pulled(client, 1, athlete)
    count(running, lines[0], 3)
    for _ in range(2):  # sold, undone, sold
        assert sell(client, again, lines[0]).json()["sale"]["lines"][0]["upon"] == given["number"]
        assert take_back(client, again).status_code == 200


def test_a_pair_of_somebody_erased_can_still_come_back(running: Web) -> None:
    client, manager = signed_in(running), signed_in(running, "marrow")
    fitting, stock, sale = sold(running)
    there = on_hand(client, stock)
    athlete = client.get(f"/api/fittings/{fitting}").json()["athlete"]["id"]
    assert manager.post(f"/api/athletes/{athlete}/erase").status_code == 200
    answer = back(client, sale["id"])
    assert (answer.status_code, answer.json()["total_minor"]) == (201, -sale["total_minor"])
    assert on_hand(client, stock) == there + 1
    assert back(client, sale["id"]).json()["code"] == "back-already"


def test_sums_of_much_money_are_told(shop: Shop) -> None:
    """A year in a currency of small units is more than two thousand million of them."""
    web, url = shop
    client, (_, _, sale) = signed_in(web), sold(web)
    with psycopg.connect(url) as cx:
        for _ in range(3):
            cx.execute(
                "INSERT INTO journal_line (id, shop_id, year, number, day, kind, staff_id, tax_minor, total_minor, currency) "
                "SELECT gen_random_uuid(), shop_id, 0, 0, day, 'sale', staff_id, 0, 2000000000, 'KRW' FROM journal_line "
                "WHERE id = %s",
                [sale["id"]],
            )
    (won,) = (s for s in look(client)["sums"] if s["currency"] == "KRW")
    assert won["total_minor"] == 6_000_000_000
    with psycopg.connect(url) as cx:
        cx.execute("DELETE FROM journal_line WHERE currency = 'KRW'")


def test_undo_is_for_minutes(shop: Shop) -> None:
    web, url = shop
    client = signed_in(web)
    fitting, _, sale = sold(web)
    assert client.get(f"/api/fittings/{fitting}").json()["sale"]["too_late"] == ""
    with psycopg.connect(url) as cx:
        cx.execute("UPDATE journal_line SET at = at - interval '16 minutes' WHERE id = %s", [sale["id"]])
    late = take_back(client, fitting)
    assert (late.status_code, late.json()["code"]) == (409, "too-late-to-undo")
    assert "older than 15 minutes" in late.json()["title"]
    noted, _, other = sold(web)
    path = f"/api/takings/lines/{other['id']}/till"
    assert client.put(path, json={"number": "T-881"}).json()["till_number"] == "T-881"
    assert "in the till as T-881" in take_back(client, noted).json()["title"]
    assert client.put(path, json={"number": None}).json()["till_number"] is None
    assert take_back(client, noted).status_code == 200


def test_a_manager_puts_a_sum_right_in_a_line_of_its_own(running: Web) -> None:
    manager, (_, _, sale) = signed_in(running, "marrow"), sold(running)
    path, body = (
        f"/api/takings/lines/{sale['id']}/correct",
        {"id": str(uuid.uuid4()), "by_minor": 500, "why": "mistyped"},
    )
    assert signed_in(running).post(path, json=body).status_code == 403
    line = manager.post(path, json=body).json()
    assert (line["kind"], line["total_minor"], line["by"]) == ("correction", 500, "Marrow Tesk")
    assert manager.post(path, json=body).json()["number"] == line["number"]
    below = body | {"id": str(uuid.uuid4()), "by_minor": -sale["total_minor"] - 501}
    assert manager.post(path, json=below).json()["code"] == "refund-too-much"
    assert manager.post(path, json=body | {"id": str(uuid.uuid4()), "by_minor": 0}).status_code == 422


def test_a_pair_without_a_price_is_asked_for_one_and_sold_at_what_is_said(shop: Shop) -> None:
    web, url = shop
    client = signed_in(web)
    fitting, lines = pulled(client, 1)
    count(web, lines[0], 3)
    model = client.get(f"/api/stock/{lines[0]}").json()["model_id"]
    with psycopg.connect(url) as cx:
        kept = cx.execute("DELETE FROM model_price WHERE model_id = %s RETURNING *", [model]).fetchall()
    try:
        assert sell(client, fitting, lines[0]).json()["code"] == "no-price"
        said = {f"prices/{lines[0]}": {"minor": 8_950, "currency": "EUR"}}
        assert patch(client, fitting, "settle", said).status_code == 200
        (pair,) = client.get(f"/api/fittings/{fitting}").json()["tray"]
        assert (pair["price_minor"], pair["price_said"]) == (8_950, True)
        line = sell(client, fitting, lines[0]).json()["sale"]["lines"][0]
        assert (line["price_minor"], line["price_said"], line["total_minor"]) == (8_950, True, 8_950)
    finally:
        with psycopg.connect(url) as cx:
            places = ", ".join(["%s"] * len(kept[0]))
            cx.cursor().executemany(f"INSERT INTO model_price VALUES ({places})", kept)


def test_money_left_for_an_order_is_used_by_its_sale_or_given_back(shop: Shop) -> None:
    web, url = shop
    client = signed_in(web)
    variant, ours, _ = size_in_both(url)
    fitting = new_fitting(client)
    assert patch(client, fitting, "feet", gauge_paths()).status_code == 200
    assert patch(client, fitting, "brief", FOOTBALL).status_code == 200
    order = ask(client, variant, fitting_id=fitting).json()
    path, key = f"/api/orders/{order['id']}/deposit", str(uuid.uuid4())
    for _ in range(2):
        left = client.post(path, json={"id": key, "amount_minor": 2_500})
        assert left.status_code == 200, left.text
    assert (left.json()["left_minor"], left.json()["left_currency"]) == (2_500, "EUR")
    count(web, ours, 3)
    assert client.put(f"/api/fittings/{fitting}/tray/{ours}").status_code == 200
    lines = sell(client, fitting, ours).json()["sale"]["lines"]
    assert [(x["kind"], x["total_minor"]) for x in lines[1:]] == [("deposit_used", -2_500)]
    assert take_back(client, fitting).status_code == 200
    given = client.post(f"{path}/back", json={"id": str(uuid.uuid4()), "why": "doesn't want it"})
    assert (given.status_code, given.json()["left_minor"]) == (200, 0)
    assert client.post(f"{path}/back", json={"id": str(uuid.uuid4()), "why": "again"}).json()["code"] == "nothing-left"
    assert step(client, order["id"], "cancelled").status_code == 200
    late = client.post(path, json={"id": str(uuid.uuid4()), "amount_minor": 100})
    assert (late.status_code, late.json()["code"]) == (409, "order-over")
    assert signed_in(web, "sorrel").post(path, json={"id": str(uuid.uuid4()), "amount_minor": 1}).status_code == 404


def test_a_closed_day_stays_and_what_comes_later_stands_on_the_next(shop: Shop) -> None:
    web, url = shop
    client = signed_in(web, "tarn")  # a shop of its own: a day that is closed is closed for all of it
    day = today()
    fitting, lines = pulled(client, 1)
    sale = sell(client, fitting, lines[0]).json()["sale"]["lines"][0]
    assert sale["day"] == day.isoformat()
    key = str(uuid.uuid4())
    assert (
        client.post("/api/takings/close", json={"id": key, "day": (day + timedelta(days=1)).isoformat()}).status_code
        == 422
    )
    for _ in range(2):
        closed = client.post("/api/takings/close", json={"id": key, "day": day.isoformat()})
        assert closed.status_code == 200, closed.text
    then = closed.json()
    assert (then["closed_by"], then["open_days"]) == ("Tarn Ellerby", [])
    refund = back(client, sale["id"]).json()
    assert refund["day"] == (day + timedelta(days=1)).isoformat()
    assert look(client, day.isoformat())["sums"] == then["sums"]
    again = client.post("/api/takings/close", json={"id": str(uuid.uuid4()), "day": day.isoformat()})
    assert (again.status_code, again.json()["title"]) == (409, f"Tarn Ellerby closed {day:%-d %B %Y} already.")
    with psycopg.connect(url) as cx:
        cx.execute("DELETE FROM journal_close WHERE day = %s", [day])


def test_a_closing_and_a_sale_at_once_leave_no_line_behind(shop: Shop) -> None:
    web, url = shop
    client, day = signed_in(web, "tarn"), today()
    for _ in range(3):
        fitting, lines = pulled(client, 1)
        body = {"id": str(uuid.uuid4()), "day": day.isoformat()}
        with ThreadPoolExecutor(2) as pool:
            selling = pool.submit(sell, signed_in(web, "tarn"), fitting, lines[0])
            closing = pool.submit(signed_in(web, "tarn").post, "/api/takings/close", json=body)
            assert selling.result().status_code == 201
            assert closing.result().status_code in (200, 409)
        with psycopg.connect(url) as cx:
            found = cx.execute(
                "SELECT (SELECT sum((s ->> 'lines')::int) FROM jsonb_array_elements(c.sums) s), "
                "(SELECT count(*) FROM journal_line j WHERE j.shop_id = c.shop_id AND j.day = c.day) "
                "FROM journal_close c WHERE c.day = %s",
                [day],
            ).fetchall()
            assert all(kept == there for kept, there in found), found
            cx.execute("DELETE FROM journal_close WHERE day = %s", [day])


def test_a_month_taken_out_sums_to_what_the_page_says(running: Web) -> None:
    client = signed_in(running)
    _, _, sale = sold(running, minor=777, why="a scratch")
    back(client, sale["id"], became=None, amount_minor=333)
    month = f"{today():%Y-%m}"
    (sums,) = look(client, month)["sums"]
    book = openpyxl.load_workbook(io.BytesIO(client.get("/api/takings/journal.xlsx", params={"of": month}).content))
    rows = list(book.active.values)  # type: ignore[union-attr]
    heads = list(rows[0])

    def added(name: str) -> int:
        return sum(round(Decimal(str(r[heads.index(name)])) * 100) for r in rows[1:])

    assert (added("total"), added("tax"), added("net")) == (
        sums["total_minor"],
        sums["tax_minor"],
        sums["net_minor"] + sums["deposits_minor"],
    )
    assert len(rows) - 1 == sums["lines"]
    text = client.get("/api/takings/journal.csv", params={"of": month}).content.decode("utf-8-sig")
    table = list(csv.DictReader(io.StringIO(text)))
    assert sum(Decimal(r["total"]) for r in table) * 100 == sums["total_minor"]
    assert all(len(r["total"].split(".")[1]) == 2 for r in table)
    days = client.get("/api/takings/sums.json", params={"of": month}).json()
    assert round(sum(Decimal(str(d.get("total", 0))) for d in days) * 100) == sums["sold_minor"]
    pdf = client.get("/api/takings/day.pdf", params={"of": today().isoformat()})
    assert pdf.content.startswith(b"%PDF")
    assert client.get("/api/takings/journal.csv", params={"of": "2026-99"}).status_code == 422


def test_what_models_earned_and_what_lies_are_a_managers(running: Web) -> None:
    manager = signed_in(running, "marrow")
    _, stock, _ = sold(running)
    rows = manager.get("/api/takings/models.json", params={"of": f"{today():%Y}"}).json()
    pair = manager.get(f"/api/stock/{stock}").json()
    row = next(r for r in rows if (r["maker"], r["model"]) == (pair["maker"], pair["name"]))
    assert row["sold"] >= 1
    assert row["stock_at_price"] >= pair["price_minor"] / 100
    for r in rows:
        if "margin_pct" in r:
            assert 0 < r["cost"] < r["net"]
    slow = manager.get("/api/takings/slow.csv").content.decode("utf-8-sig").splitlines()
    assert slow[0].startswith("maker,model,size")
    assert signed_in(running).get("/api/takings/models.json", params={"of": "2026"}).status_code == 403
    assert "cost" not in str(signed_in(running).get(f"/api/stock/{stock}").json())


def test_lines_of_the_journal_are_read_on_page_by_page(running: Web) -> None:
    client = signed_in(running)
    sold(running)
    year = f"{today():%Y}"
    first = look(client, year)
    found, after = [x["number"] for x in first["lines"]], first["more"]
    while after:
        page = client.get("/api/takings", params={"of": year, "after": after}).json()
        found += [x["number"] for x in page["lines"]]
        after = page["more"]
    assert len(found) == len(set(found)) == sum(s["lines"] for s in first["sums"])
    assert found == sorted(found, key=lambda n: int(n.split("-")[1]), reverse=True)
    assert client.get("/api/takings", params={"after": "x"}).status_code == 422


def test_prices_without_tax_in_them_keep_the_sum_of_their_lines(shop: Shop) -> None:
    web, _ = shop
    tax = {"system": "eu", "bands": [{"up_to": None, "rate_pct": 19.6}], "price_includes": False, "rounding": "total"}
    assert house(web, tax=tax).status_code == 200
    try:
        client = signed_in(web)
        _, _, sale = sold(web)
        price = sale["price_minor"]
        assert sale["tax_minor"] == int(Fraction(price) * Fraction(196, 1000) + Fraction(1, 2))
        assert sale["total_minor"] == price + sale["tax_minor"]
        refund = back(client, sale["id"]).json()
        assert (refund["total_minor"], refund["tax_minor"]) == (-sale["total_minor"], -sale["tax_minor"])
        assert look(client)["rounding"] == "total"
    finally:
        house(web)


def test_pairs_movements_and_the_journal_agree_after_a_busy_hour(shop: Shop) -> None:
    web, url = shop
    random = Random(5)
    lines: list[tuple[str, str]] = []

    def act(seed: int) -> None:
        own, client = Random(seed), signed_in(web, random.choice(("ilse", "bram")))
        fitting, stock, sale = sold(web)
        choice = own.random()
        if choice < 0.3:
            take_back(client, fitting)
        elif choice < 0.6:
            back(client, sale["id"], became=own.choice(("shelf", "worn", "supplier")))
        lines.append((fitting, stock))

    with ThreadPoolExecutor(4) as pool:
        list(pool.map(act, range(12)))
    with psycopg.connect(url) as cx:
        apart = cx.execute(
            "SELECT l.id FROM stock_line l LEFT JOIN (SELECT stock_line_id, -sum(pairs) AS n FROM movement "
            "WHERE kind IN ('sold', 'undone', 'brought_back') GROUP BY 1) m ON m.stock_line_id = l.id "
            "LEFT JOIN (SELECT stock_line_id, sum(pairs) AS n FROM journal_line GROUP BY 1) j ON j.stock_line_id = l.id "
            "WHERE coalesce(m.n, 0) <> coalesce(j.n, 0) OR l.on_hand <> "
            "(SELECT coalesce(sum(pairs), 0) FROM movement WHERE stock_line_id = l.id)"
        ).fetchall()
    assert apart == []
    assert date.fromisoformat(look(signed_in(web))["first"]) == today()
