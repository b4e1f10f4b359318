"""What a model costs is its shop's and in its money: shops of a chain ask different prices, and nobody's is another's."""

from __future__ import annotations

import uuid
from collections.abc import Iterator
from datetime import timedelta
from typing import Any

import httpx
import psycopg
import pytest
from psycopg.rows import dict_row

from tests.api.calls import pulled, sell, signed_in, today
from tests.api.test_clock import house
from tests.api.test_orders import ask, count, shop_of, size_in_both, step
from tests.running import Web

Shop = tuple[Web, str]


@pytest.fixture
def shop(shop: Shop) -> Iterator[Shop]:
    """The shops, with every price as it was afterwards."""
    with psycopg.connect(shop[1], row_factory=dict_row) as cx:
        before = cx.execute("SELECT * FROM model_price").fetchall()
    yield shop
    with psycopg.connect(shop[1]) as cx:
        cx.execute("DELETE FROM model_price WHERE (shop_id, model_id) NOT IN (SELECT * FROM unnest(%s::uuid[], %s::uuid[]))",
                   [[r["shop_id"] for r in before], [r["model_id"] for r in before]])  # fmt: skip
        cx.cursor().executemany(
            "INSERT INTO model_price (shop_id, chain_id, model_id, colour, price_minor, currency) "
            "VALUES (%(shop_id)s, %(chain_id)s, %(model_id)s, %(colour)s, %(price_minor)s, %(currency)s) "
            "ON CONFLICT (shop_id, model_id, colour) DO UPDATE SET price_minor = excluded.price_minor, "
            "currency = excluded.currency, sale_minor = NULL, sale_from = NULL, sale_until = NULL",
            before,
        )


def asked(client: httpx.Client, line: str) -> tuple[int | None, str]:
    """What a pair costs to whoever asks."""
    pair = client.get(f"/api/stock/{line}").json()
    return pair["price_minor"], pair["currency"]


def give(client: httpx.Client, line: str, minor: int | None) -> None:
    """A price given in the stockroom."""
    path = f"/api/models/{client.get(f'/api/stock/{line}').json()['model_id']}"
    model: dict[str, Any] = client.get(path).json()["model"]
    body = {"change_id": str(uuid.uuid4()), "model": model | {"price_minor": minor}, "was": model}
    client.put(path, json=body).raise_for_status()


def test_a_price_given_in_one_shop_is_that_shops(shop: Shop) -> None:
    running, url = shop
    here, there = signed_in(running, "marrow"), signed_in(running, "sorrel")
    _, ours, theirs = size_in_both(url)
    was = asked(there, theirs)
    assert asked(here, ours) == was
    give(here, ours, 12_345)
    assert asked(here, ours) == (12_345, "EUR")
    assert asked(there, theirs) == was
    model = here.get(f"/api/stock/{ours}").json()["model_id"]
    for client, minor in ((here, 12_345), (there, was[0])):
        name = client.get(f"/api/models/{model}").json()["model"]["name"]
        page = client.get("/api/rack", params={"text": name}).json()["models"]
        assert next(m["price_minor"] for m in page if m["id"] == model) == minor
        (out,) = (r for r in client.get("/api/export/models.json").json() if r["model"] == name)
        assert (float(out["price"]), out["currency"]) == (minor / 100, "EUR")


def test_a_pair_from_a_sister_shop_brings_its_price_where_there_was_none(shop: Shop) -> None:
    """It is sold at what it cost there until this shop says another; a price of one's own stays."""
    running, url = shop
    here, there = signed_in(running, "marrow"), signed_in(running, "sorrel")
    variant, ours, theirs = size_in_both(url)
    north = shop_of(url, "North Isle")

    def comes() -> None:
        count(there, theirs, 1)
        order = ask(here, variant, north).json()["id"]
        step(there, order, "sent").raise_for_status()
        step(here, order, "received").raise_for_status()

    was = asked(there, theirs)[0]
    with psycopg.connect(url) as cx:
        cx.execute("DELETE FROM model_price p USING stock_line l JOIN variant v ON v.id = l.variant_id WHERE l.id = %s "
                   "AND p.model_id = v.model_id AND p.shop_id = l.shop_id", [ours])  # fmt: skip
    assert asked(here, ours)[0] is None
    comes()
    assert asked(here, ours) == (was, "EUR")
    give(here, ours, 4_321)
    comes()
    assert asked(here, ours) == (4_321, "EUR")


def test_a_price_counts_in_the_money_it_was_given_in(shop: Shop) -> None:
    """A shop that changes its money knows no price until somebody says one; of its old ones none was lost."""
    running, _ = shop
    manager, client = signed_in(running, "marrow"), signed_in(running)
    fitting, (line,) = pulled(client, 1)
    was = asked(client, line)
    assert was[0] is not None
    try:
        assert house(running, currency="JPY").status_code == 200
        assert asked(client, line) == (None, "JPY")
        refused = sell(client, fitting, line)
        assert (refused.status_code, refused.json()["code"]) == (409, "no-price")
        assert "Nobody knows what this pair costs" in refused.json()["title"]
        give(manager, line, 14_900)
        sale = sell(client, fitting, line).json()["sale"]
        assert (sale["price_minor"], sale["currency"]) == (14_900, "JPY")
    finally:
        assert house(running, currency="EUR").status_code == 200
    assert asked(client, line) == (None, "EUR")  # it has a price, in other money
    sheet = client.get(f"/api/fittings/{fitting}/fit-sheet.json").json()
    assert (sheet["price_minor"], sheet["currency"]) == (14_900, "JPY")
    every = client.get("/api/stock", params={"text": "lifting"}).json()
    assert every
    assert all(p["price_minor"] is not None and p["currency"] == "EUR" for p in every)
    give(manager, line, was[0])
    assert asked(client, line) == was


def prices(
    client: httpx.Client, model: str, *rows: dict[str, Any], was: list[dict[str, Any]] | None = None
) -> httpx.Response:
    """A model's prices from now on, upon what is known or what was read before."""
    path = f"/api/models/{model}/prices"
    now = was if was is not None else client.get(path).json()["prices"]
    return client.put(path, json={"change_id": str(uuid.uuid4()), "prices": rows, "was": now})


def test_in_a_sale_a_pair_costs_the_sale_price_on_its_days_alone(shop: Shop) -> None:
    running, _ = shop
    client, manager = signed_in(running), signed_in(running, "marrow")
    fitting, (line,) = pulled(client, 1)
    model, day = client.get(f"/api/stock/{line}").json()["model_id"], today()
    row = {"colour": "", "price_minor": 12_000, "sale_minor": 9_000}
    for first, last, asks in ((0, 0, 9_000), (1, 3, 12_000), (-3, -1, 12_000), (-1, None, 9_000), (None, None, 9_000)):
        days = {
            name: (day + timedelta(days=by)).isoformat() if by is not None else None
            for name, by in (("sale_from", first), ("sale_until", last))
        }
        assert prices(manager, model, row | days).status_code == 200
        assert asked(client, line)[0] == asks, (first, last)
    name = manager.get(f"/api/models/{model}").json()["model"]["name"]
    (on_rack,) = (m for m in manager.get("/api/rack", params={"text": name}).json()["models"] if m["id"] == model)
    assert (on_rack["price_minor"], on_rack["now_minor"]) == (12_000, 9_000)
    sold = sell(client, fitting, line).json()["sale"]["lines"][0]
    assert (sold["price_minor"], sold["total_minor"]) == (9_000, 9_000)
    assert client.get(f"/api/models/{model}/prices").status_code == 403
    dearer = prices(manager, model, row | {"sale_minor": 12_001})
    assert (dearer.status_code, "no more than otherwise" in dearer.text) == (422, True)


def test_a_colour_may_have_a_price_of_its_own(shop: Shop) -> None:
    running, _ = shop
    client, manager = signed_in(running), signed_in(running, "marrow")
    _, (plain,) = pulled(client, 1)
    pair = client.get(f"/api/stock/{plain}").json()
    model = pair["model_id"]
    body = {"change_id": str(uuid.uuid4()), "width": pair["width"], "colour": "mustard",
            "sizes": [f"{pair['eu_label']:g}"]}  # fmt: skip
    assert manager.post(f"/api/models/{model}/sizes", json=body).status_code in (200, 201)
    lines = {r["colour"]: r["id"] for r in manager.get("/api/stock", params={"text": pair["name"]}).json()
             if (r["model_id"], r["eu_label"], r["width"]) == (model, pair["eu_label"], pair["width"])}  # fmt: skip
    read = manager.get(f"/api/models/{model}/prices").json()
    assert read["colours"] == ["mustard"]
    given = [{"colour": "", "price_minor": 10_000, "cost_minor": 4_000}, {"colour": "mustard", "price_minor": 8_000}]
    assert prices(manager, model, *given).status_code == 200
    assert [asked(client, lines[c])[0] for c in ("", "mustard")] == [10_000, 8_000]
    stale = prices(manager, model, *given, was=read["prices"])
    assert (stale.status_code, stale.json()["code"]) == (409, "changed")
    assert prices(manager, model, *given, {"colour": "nobody's", "price_minor": 1}).status_code == 422
    assert prices(manager, model, given[0]).status_code == 200
    assert asked(client, lines["mustard"])[0] == 10_000
