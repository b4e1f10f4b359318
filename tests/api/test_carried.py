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
from tests import plainly
from tests.api.calls import new_athlete, new_fitting, patch, ready_to_pull, sell, signed_in, today
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
    assert carried["source"] == "record"
    assert carried["value"] == pytest.approx(220 + 8.5, abs=0.6)  # a ten-year-old's year
    assert 4 < carried["uncertainty"] < 8
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


CLIMBING = {"sport": "climbing", "discipline": "board", "body_kg": 66, "schools/climbing_fit": "performance_tight"}
PLAIN = {"sport": "football", "discipline": "match", "surface": "firm_natural", "body_kg": 66}


def spec_of(client: httpx.Client, fitting: str) -> Any:
    found = client.get(f"/api/fittings/{fitting}/spec").json()
    return found["spec"] | {"sentence": found["sentence"]}


def test_what_another_sport_s_brief_said_is_heard_in_the_next(running: Web) -> None:
    client = signed_in(running)
    athlete = new_athlete(client, "Heard Elsewhere")
    first = new_fitting(client, athlete)
    assert patch(client, first, "feet", gauge_paths() | {"note": "tingling under the ball"}).status_code == 200
    assert patch(client, first, "brief", PLAIN).status_code == 200
    second = new_fitting(client, athlete)
    assert patch(client, second, "feet", {"note": None}).status_code == 200
    assert patch(client, second, "brief", CLIMBING | {"surface": None}).status_code == 200
    spec = spec_of(client, second)
    (caution,) = [c for c in spec["cautions"] if c["rule"] == "caution.numbness"]
    assert "“tingling”" in caution["text"]
    assert "at the football fitting of" in caution["text"]
    assert caution["must_acknowledge"]
    assert all(room["low"] >= 0 for room in spec["fit"].values())
    assert "street" not in spec["sentence"]
    plan = client.get(f"/api/fittings/{first}/spec").json()["spec"]
    assert plan["unfelt"]
    assert patch(client, second, "feet", {"note": "no tingling any more, seen by her physician"}).status_code == 200
    again = spec_of(client, second)
    assert not again["unfelt"]
    assert again["fit"]["toe_room_mm"]["low"] < 0


def test_the_athlete_s_page_and_their_link_are_doors_too_and_a_sale_keeps_what_was_heard(
    running: Web, demo_url: str
) -> None:
    client = signed_in(running)
    athlete = new_athlete(client, "Said Afar")
    fitting = ready_to_pull(client, athlete, event_on=(today() + timedelta(days=60)).isoformat())
    token = client.post(f"/api/fittings/{fitting}/link", json={"id": str(uuid.uuid4())}).json()["token"]
    with plainly.Client(base_url=running.url) as phone:
        phone.post(f"/api/away/{token}/agree")
        body = {"change_id": str(uuid.uuid4()), "answers": {"words": "Sundays. I am diabetic and can't feel my toes."}}
        assert phone.put(f"/api/away/{token}/answers", json=body).status_code == 200
    spec = spec_of(client, fitting)
    told = {c["rule"]: c["text"] for c in spec["cautions"] if c["must_acknowledge"]}
    assert "“diabetic”" in told["caution.diabetes"]
    assert "“can't feel my toes”" in told["caution.numbness"]
    for rule in told:
        assert patch(client, fitting, "spec", {f"acknowledged/{rule}": True}).status_code == 200
    line = client.get(f"/api/fittings/{fitting}/pull").json()["places"][0]["pair"]["id"]
    assert client.put(f"/api/fittings/{fitting}/tray/{line}").status_code == 200
    plan = client.get(f"/api/fittings/{fitting}/settle/{line}").json()["plan"]
    assert plan["wears"][0]["minutes"] >= 60
    assert all("look at the skin" in w["how"] for w in plan["wears"])
    assert sell(client, fitting, line).status_code == 201
    with psycopg.connect(demo_url) as cx:
        cx.execute("DELETE FROM link_answer")
    assert spec_of(client, fitting)["unfelt"]
    row = client.get(f"/api/athletes/{athlete}").json()["athlete"]
    body = {"change_id": str(uuid.uuid4()), "version": row["version"], "name": row["name"], "squad": "",
            "note": "peripheral neuropathy"}  # fmt: skip
    assert client.put(f"/api/athletes/{athlete}", json=body).status_code == 200
    later = new_fitting(client, athlete)
    (caution,) = [c for c in spec_of(client, later)["cautions"] if c["rule"] == "caution.numbness"]
    assert "“neuropathy”" in caution["text"]
    assert "athlete's page" in caution["text"]
