"""Buying again: what sold is advised, ordered, comes in part, is asked after and given up; labels that readers read."""

from __future__ import annotations

import csv
import io
import uuid
from concurrent.futures import ThreadPoolExecutor
from typing import Any

import httpx
import numpy as np
import psycopg
import pypdfium2
import pytest
import zxingcpp
from pypdf import PdfReader

from kalon.api.printed_labels import SHEETS, box_label, pages
from kalon.core.takings.restock import SizeSold, to_buy
from tests.api.calls import pulled, sell, signed_in, today
from tests.api.test_sale import count, on_hand
from tests.running import Web

Shop = tuple[Web, str]


@pytest.mark.parametrize(
    ("sold", "wanted", "free", "coming", "pairs", "why"),
    [
        (1, 0, 0, 0, 1, "1 sold in 60 days, none left"),
        (1, 0, 1, 0, 0, "1 sold in 60 days, 1 left"),
        (6, 0, 1, 0, 2, "6 sold in 60 days, 1 left"),
        (5, 2, 0, 1, 4, "5 sold in 60 days, 2 wanted, none left, 1 on the way"),
        (0, 1, 0, 0, 1, "1 wanted, none left"),
        (0, 0, 0, 0, 0, "none left"),
        (-1, 0, 0, 0, 0, "none left"),
    ],
)
def test_what_to_buy_of_a_size(sold: int, wanted: int, free: int, coming: int, pairs: int, why: str) -> None:
    advice = to_buy(SizeSold(sold=sold, wanted=wanted, free=free, on_the_way=coming), 30)
    assert (advice.pairs, advice.why) == (pairs, why)


def purchases(client: httpx.Client) -> dict[str, Any]:
    return dict(client.get("/api/purchases").raise_for_status().json())


def put(client: httpx.Client, key: str, lines: dict[str, int], version: int = 0, **more: Any) -> httpx.Response:
    body = {
        "change_id": str(uuid.uuid4()), "version": version, "supplier": "Velmire",
        "lines": [{"variant_id": v, "pairs": n} for v, n in lines.items()],
    } | more  # fmt: skip
    return client.put(f"/api/purchases/{key}", json=body)


def act(client: httpx.Client, key: str, what: str, change: str | None = None, **given: Any) -> httpx.Response:
    return client.post(f"/api/purchases/{key}/{what}", json={"change_id": change or str(uuid.uuid4())} | given)


@pytest.fixture
def sold_out(running: Web) -> tuple[str, str]:
    """A size of which the last pair was just sold: its stock line and its size."""
    client = signed_in(running)
    fitting, (line,) = pulled(client, 1)
    count(running, line, 1)
    assert sell(client, fitting, line).status_code == 201
    return line, client.get(f"/api/stock/{line}").json()["variant_id"]


def test_what_sold_and_isnt_there_is_ordered_received_in_part_and_chased(
    running: Web, sold_out: tuple[str, str]
) -> None:
    client, (line, size) = signed_in(running), sold_out
    advised = {a["variant_id"]: a for a in purchases(client)["advised"]}
    assert (advised[size]["pairs"] >= 1, advised[size]["why"].endswith("none left")) == (True, True)
    key = str(uuid.uuid4())
    order = put(client, key, {size: 3}, note="as last time", expected_on=today().isoformat()).json()
    assert (order["state"], order["missing"], order["late"]) == ("draft", 3, False)
    assert size not in {a["variant_id"] for a in purchases(client)["advised"]}  # it is on its way
    assert act(client, key, "received", pairs={size: 1}).status_code == 409  # not sent yet
    assert act(client, key, "steps", to="sent").json()["state"] == "sent"
    assert put(client, key, {size: 4}, version=2).json()["code"] == "sent"
    change = str(uuid.uuid4())
    for _ in range(2):  # sent twice
        came = act(client, key, "received", change, pairs={size: 2})
        assert came.status_code == 200, came.text
    assert (came.json()["missing"], came.json()["state"], on_hand(client, line)) == (1, "sent", 2)
    assert client.get(f"/api/stock/{line}/moves").json()[0]["why"] == f"order {order['number']}"
    assert act(client, key, "chased", expected_on="2020-01-01").json()["late"]
    assert act(client, key, "given-up", variant_id=size).json()["state"] == "done"
    assert act(client, key, "given-up", variant_id=size, yes=False).json()["state"] == "sent"
    assert act(client, key, "received", pairs={size: 1}).json()["state"] == "done"
    assert on_hand(client, line) == 3
    assert act(client, key, "received", pairs={size: 1}).status_code == 409


def test_an_order_is_kept_by_one_hand_and_numbers_are_in_a_row(running: Web, sold_out: tuple[str, str]) -> None:
    client, (_, size) = signed_in(running), sold_out
    keys = [str(uuid.uuid4()) for _ in range(4)]
    with ThreadPoolExecutor(4) as pool:
        made = list(pool.map(lambda k: put(signed_in(running), k, {size: 1}).json()["number"], keys))
    assert sorted(made) == list(range(min(made), min(made) + 4))
    assert put(client, keys[0], {size: 2}, version=1).json()["lines"][0]["pairs"] == 2
    stale = put(signed_in(running, "marrow"), keys[0], {size: 5}, version=1)
    assert (stale.status_code, stale.json()["code"]) == (409, "changed")
    assert put(client, str(uuid.uuid4()), {str(uuid.uuid4()): 1}).status_code == 404
    assert client.put(
        f"/api/purchases/{keys[1]}",
        json={"change_id": str(uuid.uuid4()), "version": 1, "supplier": "x",
              "lines": [{"variant_id": size, "pairs": 1}] * 2},
    ).status_code == 422  # fmt: skip
    for key in keys:
        assert act(client, key, "steps", to="cancelled").json()["state"] == "cancelled"
        assert act(client, key, "steps", to="sent").status_code == 409


def test_two_who_receive_at_once_count_each_pair_once(running: Web, sold_out: tuple[str, str]) -> None:
    client, (line, size) = signed_in(running), sold_out
    key = str(uuid.uuid4())
    put(client, key, {size: 6})
    act(client, key, "steps", to="sent")
    with ThreadPoolExecutor(3) as pool:
        answers = list(
            pool.map(lambda _: act(signed_in(running), key, "received", pairs={size: 2}).status_code, range(3))
        )
    assert answers == [200] * 3
    assert on_hand(client, line) == 6


def test_an_order_goes_out_as_a_file_and_on_paper(running: Web, sold_out: tuple[str, str]) -> None:
    client, manager, (_, size) = signed_in(running), signed_in(running, "marrow"), sold_out
    key = str(uuid.uuid4())
    order = put(client, key, {size: 3}, note="with laces").json()
    text = client.get(f"/api/purchases/{key}/order.csv").content.decode("utf-8-sig")
    (row,) = csv.DictReader(io.StringIO(text))
    assert (row["pairs"], row["size"].split()[0], row["cost"]) == ("3", "EU", "")
    assert "cost_minor" in str(order) and order["lines"][0]["cost_minor"] is None
    model = order["lines"][0]["model_id"]
    prices = manager.get(f"/api/models/{model}/prices").json()["prices"]
    given = [p | {"cost_minor": 4_321} if p["colour"] == "" else p for p in prices]
    body = {"change_id": str(uuid.uuid4()), "prices": given, "was": prices}
    assert manager.put(f"/api/models/{model}/prices", json=body).status_code == 200
    (row,) = csv.DictReader(io.StringIO(manager.get(f"/api/purchases/{key}/order.csv").content.decode("utf-8-sig")))
    assert row["cost"] == "43.21"
    page = PdfReader(io.BytesIO(client.get(f"/api/purchases/{key}/order.pdf").content)).pages[0].extract_text()
    assert f"Order {order['number']} to Velmire" in page
    assert "with laces" in page


def drawn(data: bytes, page: int = 0, dpi: int = 300) -> np.ndarray[Any, Any]:
    """A page of a PDF as a picture."""
    picture = pypdfium2.PdfDocument(data)[page].render(scale=dpi / 72).to_numpy()
    return np.ascontiguousarray(picture[:, :, :3])


PAIR = {"maker": "Velmire", "name": "Floorboard", "width": "wide", "colour": "chalk", "size": "EU 45⅓",
        "also": "UK 10.5 · US 11.5", "price": "129.00 EUR", "code": "4006381333931"}  # fmt: skip
"""The bar code is the usual example of an EAN-13."""


@pytest.mark.parametrize("paper", list(SHEETS))
@pytest.mark.parametrize(
    ("code", "form"), [("4006381333931", "EAN-13"), ("96385074", "EAN-8"), ("AB12-0042", "Code 128")]
)
def test_a_reader_reads_what_is_on_a_label(paper: Any, code: str, form: str) -> None:
    """Read by zxing's readers, which share nothing with what draws them."""
    picture = drawn(pages([box_label(PAIR | {"code": code})], paper))
    read = {str(r.format): r.text for r in zxingcpp.read_barcodes(picture)}
    assert read == {form: code, "QR Code": code}


def test_used_labels_are_left_out_and_sheets_follow(running: Web) -> None:
    client = signed_in(running)
    lines = [r["id"] for r in client.get("/api/stock").json()[:3]]
    asked: list[tuple[str, str | int]] = [("line", f"{lines[0]}*20"), ("line", lines[1]), ("line", f"{lines[2]}*5")]
    for paper, skip, sheets in (("a4", 0, 2), ("a4", 22, 2), ("a4", 23, 3), ("letter", 4, 1), ("roll", 0, 26)):
        answer = client.get("/api/labels.pdf", params=[*asked, ("paper", paper), ("skip", skip)])
        assert len(PdfReader(io.BytesIO(answer.content)).pages) == sheets, (paper, skip)
    first = drawn(client.get("/api/labels.pdf", params=[("line", lines[0]), ("skip", 4)]).content, dpi=72)
    dark = np.argwhere(first.min(axis=2) < 128)
    place = dark.mean(axis=0) / 72 * 25.4
    assert (37 < place[0] < 74, 70 < place[1] < 140) == (True, True)  # the second row's second label
    for bad in ("nobody", f"{lines[0]}*x", f"{lines[0]}*0", f"{lines[0]}*999"):
        assert client.get("/api/labels.pdf", params={"line": bad}).status_code == 422, bad
    assert client.get("/api/labels.pdf", params={"line": str(uuid.uuid4())}).status_code == 404


def test_pairs_of_an_order_come_into_a_shop_that_never_had_the_size(shop: Shop) -> None:
    web, url = shop
    with psycopg.connect(url) as cx:
        row = cx.execute(
            "SELECT v.id FROM variant v JOIN shop h ON h.chain_id = v.chain_id AND h.name LIKE '%Skerry%' "
            "WHERE NOT EXISTS (SELECT 1 FROM stock_line l WHERE l.variant_id = v.id AND l.shop_id = h.id) LIMIT 1"
        ).fetchone()
    assert row
    client, key = signed_in(web, "tarn"), str(uuid.uuid4())
    assert put(client, key, {str(row[0]): 2}).status_code == 200
    act(client, key, "steps", to="sent")
    assert act(client, key, "received", pairs={str(row[0]): 2}).json()["state"] == "done"
