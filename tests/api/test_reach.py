"""How athletes are reached: kept with the words they agreed to, gone when they are erased; who was told is written down."""

from __future__ import annotations

import json
import uuid
from typing import Any

import httpx
import psycopg
import pytest

from tests.api.calls import FOOTBALL, new_athlete, new_fitting, patch, signed_in
from tests.api.test_clock import house
from tests.api.test_orders import ask, size_in_both, step
from tests.made import gauge_paths
from tests.running import Web

Shop = tuple[Web, str]
PHONE = "+44 20 7946 0958"


def put(client: httpx.Client, athlete: str, version: int = 0, *, agrees: bool = True, **reach: Any) -> httpx.Response:
    body = {"change_id": str(uuid.uuid4()), "version": version, "agrees": agrees, "reach": {"phone": PHONE} | reach}
    return client.put(f"/api/athletes/{athlete}/reach", json=body)


def test_the_words_are_kept_as_they_were_agreed_to(shop: Shop) -> None:
    web, _ = shop
    client = signed_in(web)
    athlete = new_athlete(client, "Ann Reach")
    assert client.get(f"/api/athletes/{athlete}/reach").json()["version"] == 0
    first = put(client, athlete).json()
    assert (first["said"], first["version"]) == (first["would_say"], 1)
    try:
        assert house(web, reach_words="Other words.").status_code == 200
        again = put(client, athlete, 1, email="a@example.org").json()
        assert (again["said"], again["would_say"]) == (first["said"], "Other words.")
        stale = put(signed_in(web, "marrow"), athlete, 1, phone="99 999")
        assert (stale.status_code, stale.json()["code"]) == (409, "changed-elsewhere")
        taken_back = put(client, athlete, 2, agrees=False).json()
        assert (taken_back["said"], taken_back["agreed_at"]) == ("", None)
        assert put(client, athlete, 3).json()["said"] == "Other words."
    finally:
        house(web, reach_words=first["said"])
    assert put(client, athlete, 4, phone="no number").status_code == 422
    assert put(client, str(uuid.uuid4())).status_code == 404
    assert put(signed_in(web, "sorrel"), athlete, 0).status_code == 404
    assert put(signed_in(web, "pip"), athlete, 4).status_code == 403  # a trainee takes no consent
    trail = json.dumps(client.get(f"/api/athletes/{athlete}/changes").json()["changes"])
    assert PHONE not in trail


@pytest.fixture
def arrived(shop: Shop) -> tuple[str, str]:
    """An order that came for an athlete: the order and the athlete."""
    web, url = shop
    client = signed_in(web)
    athlete = new_athlete(client, "Bea Waits")
    fitting = new_fitting(client, athlete)
    assert patch(client, fitting, "feet", gauge_paths()).status_code == 200
    assert patch(client, fitting, "brief", FOOTBALL).status_code == 200
    order = ask(client, size_in_both(url)[0], fitting_id=fitting).json()["id"]
    for to in ("ordered", "arrived"):
        assert step(client, order, to).status_code == 200
    return order, athlete


def test_an_order_that_came_says_whom_to_tell_and_that_they_were(shop: Shop, arrived: tuple[str, str]) -> None:
    client, (order, athlete) = signed_in(shop[0]), arrived
    before = client.get(f"/api/orders/{order}/tell").json()
    assert (before["whom"]["name"], "hasn't agreed" in before["whom"]["not_yet"], before["text"]) == ("", True, "")
    assert put(client, athlete).status_code == 200
    found = client.get(f"/api/orders/{order}/tell").json()
    assert (found["whom"]["name"], found["whom"]["to"]) == ("Bea Waits", PHONE)
    assert "is here at Games fitting room, Harbour" in found["text"]
    told = client.put(f"/api/orders/{order}/told").json()
    assert told["reached_by"] == "Ilse Varn"
    assert client.put(f"/api/orders/{order}/told").json()["reached_at"] == told["reached_at"]
    assert client.delete(f"/api/orders/{order}/told").json()["reached_at"] is None
    assert signed_in(shop[0], "sorrel").get(f"/api/orders/{order}/tell").status_code == 404


def test_an_erased_athlete_is_reached_no_more(shop: Shop) -> None:
    web, url = shop
    client = signed_in(web)
    athlete = new_athlete(client, "Cy Forgotten")
    assert put(client, athlete, guardian="Dora Keeper", guardian_phone="020 7946 0002").status_code == 200
    manager = signed_in(web, "marrow")
    assert "Dora Keeper" in manager.get(f"/api/athletes/{athlete}/data.json").text
    assert manager.post(f"/api/athletes/{athlete}/erase").status_code == 200
    with psycopg.connect(url) as cx:
        assert cx.execute("SELECT count(*) FROM athlete_reach WHERE athlete_id = %s", [athlete]).fetchone() == (0,)
    assert put(client, athlete).status_code == 404
