"""Selling: one pair leaves the stock once, whoever asks and however often."""

from __future__ import annotations

import uuid
from concurrent.futures import ThreadPoolExecutor
from typing import Any

import httpx
import psycopg
import pytest

from tests.api.calls import patch, pulled, ready_to_pull, sell, signed_in, take_back
from tests.running import Web


def on_hand(client: httpx.Client, line: str) -> int:
    return int(client.get(f"/api/stock/{line}").json()["on_hand"])


def count(web: Web, line: str, pairs: int) -> None:
    manager = signed_in(web, "marrow")
    by = pairs - on_hand(manager, line)
    manager.post(f"/api/stock/{line}/moves", json={"id": str(uuid.uuid4()), "by": by}).raise_for_status()


def two_on_one_pair(web: Web) -> tuple[httpx.Client, list[str], str]:
    """Two fittings with the same line in both trays, and only one pair of it left."""
    client = signed_in(web)
    first, lines = pulled(client, 1)
    second = ready_to_pull(client)
    count(web, lines[0], 1)
    assert client.put(f"/api/fittings/{second}/tray/{lines[0]}").status_code == 200
    return client, [first, second], lines[0]


@pytest.mark.parametrize("_round", range(3))
def test_the_last_pair_cannot_be_sold_twice_at_once(running: Web, _round: int) -> None:
    client, fittings, line = two_on_one_pair(running)
    with ThreadPoolExecutor(2) as pool:
        answers = list(pool.map(lambda f: sell(signed_in(running), f, line), fittings))
    assert sorted(a.status_code for a in answers) == [201, 409]
    refused = next(a for a in answers if a.status_code == 409).json()
    assert refused["code"] == "sold-out"
    assert refused["title"].endswith(".")
    assert on_hand(client, line) == 0


def test_one_fitting_cannot_be_settled_twice_at_once(running: Web) -> None:
    client = signed_in(running)
    fitting, lines = pulled(client, 2)
    for line in lines:
        count(running, line, 3)
    with ThreadPoolExecutor(2) as pool:
        answers = list(pool.map(lambda li: sell(signed_in(running), fitting, li), lines))
    assert sorted(a.status_code for a in answers) == [201, 409]
    assert sorted(on_hand(client, li) for li in lines) == [2, 3]


def test_sending_the_sale_again_sells_once(running: Web) -> None:
    client = signed_in(running)
    fitting, lines = pulled(client, 1)
    count(running, lines[0], 3)
    sale = str(uuid.uuid4())
    with ThreadPoolExecutor(4) as pool:
        answers = list(pool.map(lambda _: sell(signed_in(running), fitting, lines[0], sale).status_code, range(4)))
    assert answers == [201] * 4
    assert on_hand(client, lines[0]) == 2


def test_a_settled_fitting_says_who_settled_it(running: Web) -> None:
    client = signed_in(running)
    fitting, lines = pulled(client, 2)
    assert sell(client, fitting, lines[0]).status_code == 201
    again = sell(signed_in(running, "marrow"), fitting, lines[1])
    assert (again.status_code, again.json()["code"]) == (409, "already-settled")
    assert "Ilse Varn" in again.json()["title"]


def test_only_pairs_from_the_tray(running: Web) -> None:
    client = signed_in(running)
    fitting, lines = pulled(client, 2)
    client.delete(f"/api/fittings/{fitting}/tray/{lines[0]}")
    assert sell(client, fitting, lines[0]).json()["code"] == "not-in-tray"


def test_undoing_a_sale_puts_the_pair_back(running: Web) -> None:
    client = signed_in(running)
    fitting, lines = pulled(client, 1)
    count(running, lines[0], 1)
    undone_sale = sell(client, fitting, lines[0]).json()["sale"]["id"]
    assert on_hand(client, lines[0]) == 0
    undone = take_back(client, fitting).json()
    assert (undone["state"], undone["sale"]) == ("open", None)
    assert on_hand(client, lines[0]) == 1
    assert take_back(client, fitting, undone_sale).status_code == 200
    assert on_hand(client, lines[0]) == 1
    assert sell(client, fitting, lines[0]).status_code == 201


def test_a_sale_stays_once_the_athlete_has_been_back(running: Web) -> None:
    client = signed_in(running)
    fitting, lines = pulled(client, 1)
    sell(client, fitting, lines[0])
    path = f"/api/fittings/{fitting}"
    client.put(f"{path}/follow-up", json={"due_on": "2030-02-02"})
    patch(client, fitting, "return", {"hours": 9, "length_mm": 9})
    assert client.post(f"{path}/follow-up/done").status_code == 200
    assert take_back(client, fitting).json()["code"] == "already-returned"


def test_the_tray_holds_four(running: Web) -> None:
    client = signed_in(running)
    fitting = ready_to_pull(client)
    places = client.get(f"/api/fittings/{fitting}/pull").json()["places"]
    answers = [client.put(f"/api/fittings/{fitting}/tray/{p['pair']['id']}") for p in places[:5]]
    assert [a.status_code for a in answers] == [200, 200, 200, 200, 409]
    assert answers[-1].json()["code"] == "tray-full"
    first = places[0]["pair"]["id"]
    assert client.put(f"/api/fittings/{fitting}/tray/{first}").status_code == 200
    assert len(client.get(f"/api/fittings/{fitting}").json()["tray"]) == 4


def test_a_sold_out_pair_cannot_be_pulled(running: Web) -> None:
    client = signed_in(running)
    fitting = ready_to_pull(client)
    line = client.get(f"/api/fittings/{fitting}/pull").json()["places"][0]["pair"]["id"]
    count(running, line, 0)
    assert client.put(f"/api/fittings/{fitting}/tray/{line}").json()["code"] == "sold-out"
    assert line not in [p["pair"]["id"] for p in client.get(f"/api/fittings/{fitting}/pull").json()["places"]]


def test_the_tray_tells_who_else_has_it_out(running: Web) -> None:
    client, fittings, line = two_on_one_pair(running)
    for fitting in fittings:
        pair = next(p for p in client.get(f"/api/fittings/{fitting}").json()["tray"] if p["id"] == line)
        assert pair["also_pulled"] >= 1


def test_a_settled_fitting_keeps_no_pair_off_the_shelf_and_an_undone_sale_does_again(running: Web) -> None:
    client, (one, two), line = two_on_one_pair(running)

    def others(fitting: str) -> int:
        tray = client.get(f"/api/fittings/{fitting}").json()["tray"]
        return int(next(p["also_pulled"] for p in tray if p["id"] == line))

    before = others(one)
    count(running, line, 3)
    sale = sell(client, two, line).json()["sale"]["id"]
    assert others(one) == before - 1
    take_back(client, two, sale)
    assert others(one) == before


def test_cautions_come_before_pulling(running: Web) -> None:
    client = signed_in(running)
    fitting = ready_to_pull(client, history=["diabetes"])
    line = client.get(f"/api/fittings/{fitting}/pull").json()["places"][0]["pair"]["id"]
    refused: Any = client.put(f"/api/fittings/{fitting}/tray/{line}").json()
    assert refused["code"] == "caution-open"
    assert "physician" in refused["title"]
    patch(client, fitting, "spec", {"acknowledged/caution.diabetes": True})
    assert client.put(f"/api/fittings/{fitting}/tray/{line}").status_code == 200


def test_a_follow_up_needs_a_sale(running: Web) -> None:
    client = signed_in(running)
    fitting, _ = pulled(client, 1)
    answer = client.put(f"/api/fittings/{fitting}/follow-up", json={"due_on": "2030-01-01"})
    assert (answer.status_code, answer.json()["code"]) == (409, "not-settled")


def test_a_hold_ends_by_itself_and_lives_on_while_the_fitting_is_worked_on(running: Web, demo_url: str) -> None:
    client = signed_in(running)
    first, (line,) = pulled(client, 1)
    second = ready_to_pull(client)
    client.put(f"/api/fittings/{second}/tray/{line}")

    def others() -> int:
        tray = client.get(f"/api/fittings/{second}").json()["tray"]
        return int(next(p["also_pulled"] for p in tray if p["id"] == line))

    held = others()
    whole = client.get(f"/api/fittings/{first}").json()
    assert whole["held_until"] > whole["opened_at"]
    shown = client.get(f"/api/fittings/{second}/pull", params={"limit": 200}).json()["places"]
    assert next(p["pair"]["also_pulled"] for p in shown if p["pair"]["id"] == line) == held
    with psycopg.connect(demo_url) as cx:
        cx.execute("UPDATE fitting SET touched_at = now() - interval '121 minutes' WHERE id = %s", [first])
    assert others() == held - 1
    patch(client, first, "trial", {f"pairs/{line}/verdict": "pass"})
    assert others() == held


def test_what_the_trays_pairs_cost_by_the_hour(running: Web) -> None:
    """Side by side with their spread; in the tray's own order; a dear one is held against cheap ones in a row."""
    client = signed_in(running)
    fitting, _ = pulled(client, 3, sessions_per_week=3)
    tray = client.get(f"/api/fittings/{fitting}").json()["tray"]
    found = client.get(f"/api/fittings/{fitting}/costs").json()
    assert found["hours_per_week"] == 4.5
    assert [p["line_id"] for p in found["pairs"]] == [p["id"] for p in tray]
    for pair in found["pairs"]:
        cost = pair["cost"]
        assert cost["total"] == pytest.approx(pair["total_minor"] / 100)
        assert cost["per_hour"]["low"] < cost["per_hour"]["mid"] < cost["per_hour"]["high"]
        assert cost["lasts_weeks"]["mid"] == pytest.approx(cost["lasts_h"]["mid"] / 4.5)
    totals = [p["total_minor"] for p in found["pairs"]]
    assert bool(found["against"]) == (max(totals) > 1.5 * min(totals))
