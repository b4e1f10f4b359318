"""The rack at size: pages by key that miss nothing, index plans, and Pull from the few lines that come into question."""

from __future__ import annotations

import uuid
from collections.abc import Iterator
from typing import Any

import psycopg
import pytest
from bench.shelf import grow
from psycopg.rows import dict_row
from starlette.testclient import TestClient

from kalon.core.match.rank import rank
from kalon.core.match.shelf import near
from kalon.host.postgres import LocalServer
from kalon.store import learned, shelves
from kalon.store.bench import load
from kalon.store.staff import a_manager, act_as
from tests.api.calls import ready_to_pull, signed_in
from tests.explained import Asked, asked_by
from tests.running import Web, demo_database, web

LINES = 40_000


@pytest.fixture(scope="module")
def large(server: LocalServer) -> str:
    """The demo and 40,000 lines of one sport."""
    url = demo_database(server, "rack")
    grow(url, LINES)
    crowd(url)
    return url


SHEET = uuid.UUID(int=4711)


def crowd(url: str) -> None:
    """Years of a busy chain: 30,000 orders between its shops, 3,000 lists brought in, one of them of 20,000 rows, and
    20,000 athletes elsewhere of whom a few agreed to be known."""
    with psycopg.connect(url) as cx:
        cx.execute(
            "INSERT INTO shoe_order (id, chain_id, shop_id, from_shop, variant_id, state, asked_by, asked_at) "
            "SELECT gen_random_uuid(), h.chain_id, h.id, CASE WHEN n % 2 = 0 THEN o.id END, v.id, "
            "CASE WHEN n % 50 = 0 THEN 'held' WHEN n % 50 = 1 THEN 'ordered' WHEN n % 2 = 0 THEN 'received' "
            "ELSE 'arrived' END, s.id, now() - n * interval '1 hour' FROM generate_series(1, 15000) n "
            "CROSS JOIN LATERAL (SELECT id, chain_id FROM shop WHERE name LIKE '%Isle' OR name LIKE '%Harbour') h "
            "JOIN LATERAL (SELECT id FROM shop WHERE chain_id = h.chain_id AND id <> h.id ORDER BY id LIMIT 1) o ON true "
            "JOIN LATERAL (SELECT id FROM staff WHERE shop_id = h.id ORDER BY id LIMIT 1) s ON true "
            "JOIN LATERAL (SELECT id FROM variant WHERE chain_id = h.chain_id LIMIT 1) v ON true"
        )
        cx.execute(
            "INSERT INTO sheet_import (id, shop_id, staff_id, name, file, began_at) "
            "SELECT CASE WHEN n = 5 THEN %s ELSE gen_random_uuid() END, s.shop_id, s.id, 'list', '', "
            "now() - n * interval '1 day' FROM generate_series(1, 3000) n, "
            "LATERAL (SELECT * FROM staff WHERE login = 'marrow') s",
            [SHEET],
        )
        cx.execute(
            "INSERT INTO sheet_row (shop_id, import_id, row, verdict, body) SELECT i.shop_id, i.id, n, "
            "CASE WHEN n %% 40 = 0 THEN 'odd' ELSE 'new' END, '{\"given\": [\"a line\"]}' FROM sheet_import i, generate_series(1, 20000) n "
            "WHERE i.id = %s",
            [SHEET],
        )
        cx.execute(
            "INSERT INTO athlete (id, shop_id, name) SELECT gen_random_uuid(), id, 'Somebody ' || n || ' Elsewhere' "
            "FROM shop, generate_series(1, 20000) n WHERE name LIKE '%Isle'"
        )
        cx.execute("ANALYZE")


@pytest.fixture(scope="module")
def shop(large: str) -> Iterator[Web]:
    with web(large) as running:
        yield running


@pytest.fixture(scope="module")
def client(large: str) -> Iterator[tuple[TestClient, Asked]]:
    with asked_by(large, "marrow") as found:
        yield found


PLANS = {
    "/api/rack": 12_000, "/api/rack?after_maker=Bulk+20&after_name=Model+00020": 12_000, "/api/rack?sport=climbing": 20_000,
    "/api/rack?text=model+00017": 12_000, "/api/rack?text=42.5": 20_000, "/api/rack?text=4006381333931": 12_000,
    "/api/rack?plate=turf&here=true": 20_000,
}  # fmt: skip
BIG = {"variant", "stock_line", "movement", "shoe_order", "sheet_import", "sheet_row", "athlete"}
LISTS = {
    "/api/orders": 6_000, "/api/sheets": 1_000, f"/api/sheets/{SHEET}": 1_000, f"/api/sheets/{SHEET}/rows": 1_000,
    f"/api/sheets/{SHEET}/rows?verdict=odd": 1_000, "/api/known?text=norring": 1_000, "/api/needs": 12_000,
}  # fmt: skip


@pytest.mark.parametrize("path", [*PLANS, *LISTS])
def test_a_page_of_the_rack_is_found_by_an_index(client: tuple[TestClient, Asked], path: str) -> None:
    """Pages of 8 kB looked at, and no table of lines read from end to end."""
    browser, asked = client
    asked.questions.clear()
    answer = browser.get(path)
    assert answer.status_code == 200, answer.text
    assert len(asked.questions) <= 6
    for question in asked.questions:
        assert not question.read_whole & BIG, question.text
    assert sum(q.pages for q in asked.questions) <= (PLANS | LISTS)[path]


@pytest.mark.parametrize(
    "query", [{}, {"sport": "climbing"}, {"text": "wide"}, {"here": True, "plate": "turf"}, {"text": "42.5"}]
)
def test_page_after_page_shows_every_model_once(shop: Web, query: dict[str, Any]) -> None:
    client = signed_in(shop)
    seen: list[tuple[str, str]] = []
    after: dict[str, str] = {}
    while True:
        page = client.get("/api/rack", params=query | after | {"limit": 37}).json()
        seen += [(m["maker"], m["name"]) for m in page["models"]]
        if not page["more"]:
            break
        after = {"after_maker": seen[-1][0], "after_name": seen[-1][1]}
    assert len(seen) == len(set(seen))
    assert len(seen) == client.get("/api/rack/totals", params=query).json()["models"]
    assert seen


def test_what_is_narrowed_is_what_was_asked(shop: Web) -> None:
    client = signed_in(shop)
    found = client.get("/api/rack", params={"text": "tern wide"}).json()["models"]
    assert [m["name"] for m in found] == ["Tern Wide"]
    assert {s["width"] for s in found[0]["sizes"]} >= {"wide"}
    for m in client.get("/api/rack", params={"feature": "toe_guard"}).json()["models"]:
        assert m["features"]["toe_guard"]
    for m in client.get("/api/rack", params={"most_minor": 6000, "sport": "court"}).json()["models"]:
        assert m["price_minor"] <= 6000
    for m in client.get("/api/rack", params={"text": "44.5", "sport": "climbing"}).json()["models"]:
        assert any(s["eu_label"] == 44.5 and s["on_hand"] for s in m["sizes"])
    assert client.get("/api/rack", params={"text": "%"}).json()["models"] == []


SPORTS = ("football", "climbing", "lifting", "cycling", "court", "field", "ice")


@pytest.mark.parametrize("sport", SPORTS)
def test_lines_left_out_of_a_pull_would_not_have_been_pulled(large: str, sport: str) -> None:
    """Ranking the lines near the foot gives what ranking the whole shelf gives, shoe by shoe."""
    with psycopg.connect(large, row_factory=dict_row) as cx:
        found = cx.execute(
            "SELECT p.fitting_id FROM fitting_part p JOIN fitting f ON f.id = p.fitting_id WHERE p.part = 'brief' "
            "AND p.body ->> 'sport' = %s AND p.body ? 'body_kg' ORDER BY f.state = 'open' DESC, f.id LIMIT 1",
            [sport],
        ).fetchone()
        assert found
        act_as(cx, a_manager(cx, "Games fitting room, Harbour"))
        on = load(cx, found["fitting_id"])
        shoes, every = learned.on_shelf(cx, 0, *shelves.shelf(cx, sport))
        same, few = learned.on_shelf(cx, 0, *shelves.shelf(cx, sport, near(on.spec, on.foot)))
    assert [s.id for s in shoes] == [s.id for s in same]
    assert set(few.shoe) == set(every.shoe)
    assert len(few.shoe) < len(every.shoe)
    assert rank(same, few, on.spec, on.foot, most=40) == rank(shoes, every, on.spec, on.foot, most=40)


def test_a_pull_of_so_many_explains_what_it_shows_and_counts_the_rest(shop: Web) -> None:
    client = signed_in(shop)
    fitting = ready_to_pull(client, history=["knee"])
    found = client.get(f"/api/fittings/{fitting}/pull").json()
    assert len(found["places"]) == 30
    assert found["of"] > 500
    assert found["vetoed_of"] > len(found["vetoed"]) > 0
    assert all(p["helps"] or p["costs"] for p in found["places"])
