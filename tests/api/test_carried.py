"""Old measurements stay old: carried with their day, aged once from it, never a visit; practice stays where it was."""

from __future__ import annotations

import uuid
from datetime import timedelta
from typing import Any

import httpx
import psycopg
import pytest

from kalon.core.feet.growth import DRIFT_MM
from kalon.devices.practice import make
from tests.api.calls import new_fitting, patch, signed_in, today
from tests.made import gauge_paths
from tests.running import Web

YEAR = 365.25


def child(client: httpx.Client, age: float = 10) -> str:
    born = today() - timedelta(days=age * YEAR)
    body = {"change_id": str(uuid.uuid4()), "name": "Grow Ing", "born_on": born.isoformat()}
    return str(client.post("/api/athletes", json=body).json()["id"])


def backdate(url: str, fitting: str, days: int) -> None:
    """As if that fitting had been some days ago."""
    with psycopg.connect(url) as cx:
        cx.execute("UPDATE fitting SET opened_at = opened_at - %s WHERE id = %s", [timedelta(days=days), fitting])
        cx.execute(
            "UPDATE foot_capture SET taken_at = taken_at - %(d)s, measured_at = measured_at - %(d)s "
            "WHERE fitting_id = %(f)s",
            {"d": timedelta(days=days), "f": fitting},
        )


def length(client: httpx.Client, fitting: str, side: str = "left") -> Any:
    return client.get(f"/api/fittings/{fitting}").json()["found"][side]["numbers"].get("length_mm")


def test_a_gauge_number_of_a_year_ago_is_a_record_of_that_day(running: Web, demo_url: str) -> None:
    client = signed_in(running)
    athlete = child(client)
    first = new_fitting(client, athlete)
    patch(client, first, "feet", gauge_paths(length_mm=220) | {"left/toe_shape": "square", "left/arch": "low"})
    backdate(demo_url, first, 365)
    second = new_fitting(client, athlete)
    whole = client.get(f"/api/fittings/{second}").json()
    carried = whole["found"]["left"]["numbers"]["length_mm"]
    assert (carried["value"], carried["source"]) == (220, "record")
    assert carried["uncertainty"] > 12
    assert whole["found"]["left"]["toe_shape"] == "square"
    assert whole["found"]["left"]["arch"]["value"] == "low"
    over = client.get(f"/api/fittings/{second}/feet/over-time").json()
    assert [v["fitting_id"] for v in over["visits"]] == [first]
    patch(client, second, "feet", gauge_paths(length_mm=228))
    over = client.get(f"/api/fittings/{second}/feet/over-time").json()
    assert [v["left"]["length_mm"] for v in over["visits"]] == [220, 228]
    assert over["growth"]["left"]["mm_per_year"] == pytest.approx(8, abs=1)


def test_readings_carried_twice_are_aged_once_from_their_day(running: Web, demo_url: str) -> None:
    client = signed_in(running)
    athlete = child(client, age=30)
    first = new_fitting(client, athlete)
    patch(client, first, "feet", gauge_paths())
    sigma = length(client, first)["uncertainty"] / 1.959964
    backdate(demo_url, first, 700)
    second = new_fitting(client, athlete)
    backdate(demo_url, second, 0)
    with psycopg.connect(demo_url) as cx:
        cx.execute("UPDATE fitting SET opened_at = opened_at - interval '350 days' WHERE id = %s", [second])
    third = new_fitting(client, athlete)
    expected = 1.959964 * (sigma**2 + DRIFT_MM**2) ** 0.5
    assert length(client, third)["uncertainty"] == pytest.approx(expected, rel=1e-6)
    assert length(client, second)["uncertainty"] == pytest.approx(expected, rel=1e-6)
    days = {c["measured_at"][:10] for f in (second, third) for c in client.get(f"/api/fittings/{f}").json()["captures"]}
    assert len(days) == 1
    names = [c["name"] for c in client.get(f"/api/fittings/{third}").json()["captures"]]
    assert all(n.startswith("gauge of ") for n in names)


def test_what_was_measured_today_is_as_sure_as_it_was(running: Web) -> None:
    client = signed_in(running)
    athlete = child(client)
    fittings = [new_fitting(client, athlete)]
    patch(client, fittings[0], "feet", gauge_paths())
    fittings.append(new_fitting(client, athlete))
    assert length(client, fittings[0])["uncertainty"] == length(client, fittings[1])["uncertainty"]


def test_a_practice_foot_never_leaves_its_fitting(running: Web) -> None:
    client = signed_in(running)
    athlete = child(client)
    first = new_fitting(client, athlete)
    body = {"id": str(uuid.uuid4()), "device": "mat", "side": "left", "seed": 3}
    assert client.post(f"/api/fittings/{first}/practice", json=body).status_code == 201
    data, _ = make("stl", 3, "right")
    client.post(f"/api/fittings/{first}/captures", params={"id": str(uuid.uuid4()), "name": "real.stl"}, content=data)
    second = new_fitting(client, athlete)
    carried = client.get(f"/api/fittings/{second}").json()["captures"]
    assert [(c["kind"], c["side"], c["practice"]) for c in carried] == [("record", "right", False)]
    visits = client.get(f"/api/fittings/{second}/feet/over-time").json()["visits"]
    assert [(v["fitting_id"], v["left"]) for v in visits] == [(first, {})]
    own = client.get(f"/api/fittings/{first}/feet/over-time").json()["visits"]
    assert own[0]["left"]


def test_a_record_brought_in_is_no_visit(running: Web) -> None:
    client = signed_in(running)
    first = new_fitting(client)
    patch(client, first, "feet", gauge_paths())
    record = client.get(f"/api/fittings/{first}/feet.csv").content
    other = new_fitting(client)
    query = {"id": str(uuid.uuid4()), "name": "feet.csv"}
    assert client.post(f"/api/fittings/{other}/captures", params=query, content=record).status_code == 201
    assert client.get(f"/api/fittings/{other}/feet/over-time").json()["visits"] == []
