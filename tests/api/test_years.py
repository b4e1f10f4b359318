"""An athlete through the years: what was measured, said and trained for, and all that was changed."""

from __future__ import annotations

import uuid
from datetime import date
from typing import Any

import httpx
import psycopg

from tests.api.calls import FOOTBALL, gauge_paths, new_athlete, new_fitting, patch, pulled, signed_in, today
from tests.running import Web

Shop = tuple[Web, str]


def years(client: httpx.Client, athlete: str) -> dict[str, Any]:
    answer = client.get(f"/api/athletes/{athlete}/years")
    assert answer.status_code == 200, answer.text
    found: dict[str, Any] = answer.json()
    return found


def moved(url: str, fitting: str, days: int) -> None:
    """As if a fitting had been so many days ago."""
    with psycopg.connect(url) as cx:
        cx.execute(
            "UPDATE fitting SET opened_at = opened_at - make_interval(days => %s) WHERE id = %s", [days, fitting]
        )


def test_every_measuring_is_there_with_its_day_its_way_and_its_doubt(shop: Shop) -> None:
    running, url = shop
    client = signed_in(running)
    athlete = new_athlete(client, "Grown Since")
    born = date(today().year - 12, 1, 15).isoformat()
    own = client.get(f"/api/athletes/{athlete}").json()["athlete"]
    body = {n: own[n] for n in ("name", "squad", "note", "version")} | {"born_on": born, "change_id": str(uuid.uuid4())}
    assert client.put(f"/api/athletes/{athlete}", json=body).status_code == 200
    first = new_fitting(client, athlete)
    patch(client, first, "feet", {"left/length_mm": 220, "right/length_mm": 221})
    moved(url, first, 300)
    second = new_fitting(client, athlete)
    patch(client, second, "feet", {"left/length_mm": 230})
    found = years(client, athlete)
    assert [v["fitting_id"] for v in found["visits"]] == [first, second]
    then = found["visits"][0]["left"]["length_mm"]
    assert (then["value"], then["source"]) == (220, "gauge")
    assert abs(then["uncertainty"] - 1.96) < 0.01, "a gauge's millimetre, 95 %"
    assert "length_mm" not in found["visits"][1]["right"], "what was carried along is not measured that day"
    assert (date.fromisoformat(found["visits"][1]["on"]) - date.fromisoformat(found["visits"][0]["on"])).days == 300
    assert 8 < found["growth"]["left"]["mm_per_year"] < 14, "10 mm in 300 days, with what is usual at twelve"
    assert found["growth"]["left"]["remeasure_on"] > found["today"]


def test_what_was_said_leads_to_where_it_was_said(shop: Shop) -> None:
    client = signed_in(shop[0])
    athlete = new_athlete(client, "Said So")
    fitting, lines = pulled(client, athlete=athlete)
    patch(client, fitting, "feet", {"note": "left heel sore"})
    patch(client, fitting, "brief", {"event_on": "2031-05-04"})
    patch(client, fitting, "trial", {f"pairs/{lines[0]}/pinches": {"right:toe_tips": 2}})
    found = years(client, athlete)
    told = {(s["station"], s["side"], s["zone"], s["severity"]) for s in found["said"]}
    assert {("feet", "left", "heel", None), ("trial", "right", "toe_tips", 2)} <= told
    felt = next(s for s in found["said"] if s["station"] == "trial")
    assert " in the " in felt["text"] and felt["fitting_id"] == fitting
    assert [(e["on"], e["sport"]) for e in found["events"]] == [("2031-05-04", "football")]


def test_another_shop_sees_none_of_it(shop: Shop) -> None:
    athlete = new_athlete(signed_in(shop[0]), "Ours Alone")
    there = signed_in(shop[0], "sorrel")
    assert there.get(f"/api/athletes/{athlete}/years").status_code == 404
    assert there.get(f"/api/athletes/{athlete}/changes").status_code == 404


def test_practice_feet_are_not_theirs(shop: Shop) -> None:
    client = signed_in(shop[0])
    athlete = new_athlete(client, "Only Practised")
    fitting = new_fitting(client, athlete)
    body = {"id": str(uuid.uuid4()), "device": "mat", "side": "left", "seed": 3}
    assert client.post(f"/api/fittings/{fitting}/practice", json=body, timeout=90).status_code == 201
    assert years(client, athlete)["visits"] == []


def test_all_that_was_changed_is_told_page_by_page(shop: Shop) -> None:
    client = signed_in(shop[0])
    athlete = new_athlete(client, "Changed Often")
    fitting = new_fitting(client, athlete)
    patch(client, fitting, "feet", gauge_paths())
    patch(client, fitting, "brief", FOOTBALL)
    with psycopg.connect(shop[1]) as cx:
        cx.execute(
            "INSERT INTO change (shop_id, athlete_id, fitting_id, part, version, change_id, before, after, staff_id) "
            "SELECT c.shop_id, c.athlete_id, c.fitting_id, 'brief', n, gen_random_uuid(), '{}', "
            "jsonb_build_object('budget', n), c.staff_id FROM generate_series(2, 451) n, "
            "(SELECT * FROM change WHERE fitting_id = %s AND part = 'brief' LIMIT 1) c",
            [fitting],
        )
    seen: list[dict[str, Any]] = []
    before: int | None = None
    turns = 0
    while turns < 5:
        turns += 1
        page = client.get(f"/api/athletes/{athlete}/changes", params={"before": before} if before else {}).json()
        seen += page["changes"]
        before = page["before"]
        if before is None:
            break
    assert turns == 3
    assert [c["after"]["budget"] for c in seen[:450]] == list(range(451, 1, -1))
    assert len({c["id"] for c in seen}) == len(seen) == 453
    assert seen[-1]["part"] == "athlete"
