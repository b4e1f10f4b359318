"""A fitting through the interface's own calls: kept, resumed, refused, and never overwritten unseen."""

from __future__ import annotations

import uuid
from datetime import timedelta
from typing import Any

import psycopg
import pytest

from tests.api.calls import FOOTBALL, new_athlete, new_fitting, patch, pulled, ready_to_pull, sell, signed_in, today
from tests.made import gauge_paths
from tests.running import Web


def states(fitting: dict[str, Any]) -> dict[str, str]:
    return {s["slug"]: s["state"] for s in fitting["stations"]}


def test_from_feet_to_return(running: Web) -> None:
    client = signed_in(running)
    fitting = new_fitting(client)
    path = f"/api/fittings/{fitting}"

    def doing() -> str:
        return next(s["slug"] for s in client.get(path).json()["stations"] if s["state"] == "doing")

    assert doing() == "feet"
    patch(client, fitting, "feet", gauge_paths() | {"time_of_day": "18:00"})
    assert doing() == "brief"
    patch(client, fitting, "brief", FOOTBALL | {"event_on": "2031-05-01"})
    assert doing() == "pull"
    places = client.get(f"{path}/pull").json()["places"]
    assert [p["score"] for p in places] == sorted((p["score"] for p in places), reverse=True)
    best = places[0]["pair"]
    shoe = client.get(f"{path}/pull/{best['model_id']}/{best['width']}").json()
    assert best["eu_label"] in [s["label"] for s in shoe["fit"]["sizes"]]
    client.put(f"{path}/tray/{best['id']}")
    assert doing() == "trial"
    patch(client, fitting, "trial", {f"pairs/{best['id']}/pinches/left:ball": 2, f"pairs/{best['id']}/heel_slip": 1})
    steps = {a["step"] for a in client.get(f"{path}/trial/next").json()["advice"][best["id"]]}
    assert "lower_volume" in steps
    patch(client, fitting, "trial", {f"pairs/{best['id']}/verdict": "pass"})
    assert doing() == "settle"
    preview = client.get(f"{path}/settle/{best['id']}").json()
    assert preview["plan"]["in_time"]
    assert sell(client, fitting, best["id"]).status_code == 201
    booked = client.put(f"{path}/follow-up", json={"due_on": "2031-06-01"}).json()
    assert booked["state"] == "settled"
    assert doing() == "return"
    assert client.post(f"{path}/follow-up/done").status_code == 422
    patch(client, fitting, "return", {"hours": 30, "length_mm": 10.5, "ball_girth_mm": 0})
    outcome = client.get(f"{path}/outcome").json()
    assert {z["zone"] for z in outcome["zones"]} == {"length", "ball_girth"}
    done = client.post(f"{path}/follow-up/done").json()
    assert done["state"] == "returned"
    assert set(states(done).values()) == {"done"}
    # Closed too early: opened again, mended, closed again; pressed twice each time.
    for _ in range(2):
        again = client.delete(f"{path}/follow-up/done").json()
        assert again["state"] == "settled"
        assert again["follow_up"]["done_at"] is None
    assert doing() == "return"
    patch(client, fitting, "return", {"hours": 31})
    assert client.post(f"{path}/follow-up/done").json()["state"] == "returned"
    assert client.delete(f"{path}/follow-up").json()["code"] == "already-returned"
    client.delete(f"{path}/follow-up/done")
    for _ in range(2):
        assert client.delete(f"{path}/follow-up").json()["follow_up"] is None
    assert client.post(f"{path}/follow-up/done").status_code == 404
    assert client.delete(f"{path}/follow-up/done").json()["state"] == "settled"
    assert client.put(f"{path}/follow-up", json={"due_on": "2031-06-02"}).json()["follow_up"]["due_on"] == "2031-06-02"


def test_it_is_resumed_on_another_machine(running: Web) -> None:
    one, other = signed_in(running), signed_in(running, "pip")
    fitting = new_fitting(one)
    patch(one, fitting, "feet", {"left/length_mm": 261.5})
    seen = other.get(f"/api/fittings/{fitting}").json()
    assert seen["parts"]["feet"]["body"]["left"]["length_mm"] == 261.5
    assert patch(other, fitting, "feet", {"right/length_mm": 262}).status_code == 200


def test_sending_again_changes_nothing(running: Web, demo_url: str) -> None:
    client = signed_in(running)
    fitting = new_fitting(client)
    body = {"base_version": 0, "change_id": str(uuid.uuid4()), "set": {"left/length_mm": 262}}
    answers = [client.patch(f"/api/fittings/{fitting}/parts/feet", json=body).json() for _ in range(3)]
    assert [a["version"] for a in answers] == [1, 1, 1]
    with psycopg.connect(demo_url) as cx:
        rows = cx.execute("SELECT count(*) FROM change WHERE change_id = %s", [body["change_id"]]).fetchone()
    assert rows == (1,)


def test_beginning_again_makes_one_fitting(running: Web) -> None:
    client = signed_in(running)
    athlete = new_athlete(client)
    body = {"id": str(uuid.uuid4()), "athlete_id": athlete}
    for _ in range(2):
        assert client.post("/api/fittings", json=body).status_code == 201
    assert len(client.get(f"/api/athletes/{athlete}").json()["fittings"]) == 1


def test_adding_again_makes_one_athlete(running: Web) -> None:
    client = signed_in(running)
    body = {"change_id": str(uuid.uuid4()), "name": "Once Only"}
    ids = {client.post("/api/athletes", json=body).json()["id"] for _ in range(2)}
    assert len(ids) == 1


def test_the_second_on_one_field_is_told_and_chooses(running: Web) -> None:
    one, two = signed_in(running), signed_in(running, "pip")
    fitting = new_fitting(one)
    patch(one, fitting, "feet", {"left/length_mm": 261}, base=0)
    answer = patch(two, fitting, "feet", {"left/length_mm": 263, "left/heel_width_mm": 60}, base=0)
    problem = answer.json()
    assert (answer.status_code, problem["code"]) == (409, "changed-elsewhere")
    assert "Ilse Varn" in problem["title"]
    clash = problem["clashes"][0]
    assert (clash["path"], clash["mine"], clash["theirs"]) == ("left/length_mm", 263, 261)
    assert len(problem["clashes"]) == 1
    now = one.get(f"/api/fittings/{fitting}").json()["parts"]["feet"]["body"]["left"]
    assert (now["length_mm"], now["heel_width_mm"]) == (261, None)
    chosen = patch(two, fitting, "feet", {"left/length_mm": 263}, base=problem["version"])
    assert chosen.json()["body"]["left"]["length_mm"] == 263


def test_different_fields_are_both_kept(running: Web) -> None:
    one, two = signed_in(running), signed_in(running, "pip")
    fitting = new_fitting(one)
    assert patch(one, fitting, "feet", {"left/length_mm": 261}, base=0).status_code == 200
    merged = patch(two, fitting, "feet", {"right/length_mm": 263}, base=0).json()
    assert merged["body"]["left"]["length_mm"] == 261
    assert merged["body"]["right"]["length_mm"] == 263


def test_the_same_value_is_no_clash(running: Web) -> None:
    one, two = signed_in(running), signed_in(running, "pip")
    fitting = new_fitting(one)
    patch(one, fitting, "brief", {"sport": "climbing"}, base=0)
    assert patch(two, fitting, "brief", {"sport": "climbing"}, base=0).status_code == 200


def test_whole_and_part_clash(running: Web) -> None:
    one, two = signed_in(running), signed_in(running, "pip")
    fitting = new_fitting(one)
    patch(one, fitting, "brief", {"sport": "football", "schools/football_size": "half_under"}, base=0)
    assert patch(two, fitting, "brief", {"schools": None}, base=0).status_code == 409


def test_an_athletes_data_is_not_overwritten_unseen(running: Web) -> None:
    one, two = signed_in(running), signed_in(running, "pip")
    athlete = new_athlete(one)

    def put(client: Any, name: str) -> Any:
        body = {"change_id": str(uuid.uuid4()), "version": 1, "name": name, "squad": "", "note": ""}
        return client.put(f"/api/athletes/{athlete}", json=body)

    assert put(one, "First Name").status_code == 200
    patch(two, new_fitting(two, athlete), "feet", {"left/length_mm": 262})  # no change of the athlete's own data
    late = put(two, "Second Name")
    assert (late.status_code, late.json()["code"]) == (409, "changed-elsewhere")
    assert late.json()["title"].startswith("Ilse Varn changed")
    assert "Ilse Varn" in late.json()["title"]


@pytest.mark.parametrize(
    ("part", "values", "field"),
    [
        ("feet", {"left/length_mm": 40}, "left.length_mm"),
        ("feet", {"left/length_mm": "long"}, "left.length_mm"),
        ("feet", {"left/length_mm": [1]}, "left.length_mm"),
        ("feet", {"left": 3}, "left"),
        ("feet", {"a/b/c/d": 1}, "a"),
        ("brief", {"body_kg": 4}, "body_kg"),
        ("brief", {"history": ["elbow"]}, "history.0"),
        ("brief", {"event_on": "31/12/2026"}, "event_on"),
        ("trial", {"pairs/x/verdict": "perhaps"}, "pairs.x.verdict"),
        ("return", {"hours": -3}, "hours"),
    ],
)
def test_impossible_values_are_refused_and_nothing_is_kept(
    running: Web, part: str, values: dict[str, Any], field: str
) -> None:
    client = signed_in(running)
    fitting = new_fitting(client)
    answer = patch(client, fitting, part, values)
    assert answer.status_code == 422
    assert field in [f["field"] for f in answer.json()["fields"]]
    assert client.get(f"/api/fittings/{fitting}").json()["parts"][part]["version"] == 0


def test_one_bad_field_keeps_the_good_ones_out_too(running: Web) -> None:
    client = signed_in(running)
    fitting = new_fitting(client)
    patch(client, fitting, "feet", {"left/length_mm": 262, "right/length_mm": 9})
    assert client.get(f"/api/fittings/{fitting}").json()["parts"]["feet"]["body"]["left"]["length_mm"] is None


def test_clearing_a_field_takes_it_out(running: Web) -> None:
    client = signed_in(running)
    fitting = new_fitting(client)
    patch(client, fitting, "feet", {"left/length_mm": 262})
    patch(client, fitting, "feet", {"left/length_mm": None})
    assert client.get(f"/api/fittings/{fitting}").json()["parts"]["feet"]["body"]["left"]["length_mm"] is None


def test_a_base_version_from_the_future_is_refused(running: Web) -> None:
    client = signed_in(running)
    answer = patch(client, new_fitting(client), "feet", {"sock": "thin"}, base=5)
    assert (answer.status_code, answer.json()["code"], answer.json()["version"]) == (409, "version-ahead", 0)


def test_every_change_of_an_athlete_is_on_record(running: Web) -> None:
    client = signed_in(running, "pip")
    athlete = new_athlete(client, "On Record")
    fitting = new_fitting(client, athlete)
    patch(client, fitting, "feet", {"left/length_mm": 255})
    patch(client, fitting, "feet", {"left/length_mm": 256})
    changes = client.get(f"/api/athletes/{athlete}/changes").json()["changes"]
    assert [c["part"] for c in changes] == ["feet", "feet", "athlete"]
    assert changes[0]["before"] == {"left/length_mm": 255}
    assert changes[0]["after"] == {"left/length_mm": 256}
    assert {c["by"] for c in changes} == {"Pip Quill"}


def test_a_returning_athletes_feet_and_brief_are_there(running: Web) -> None:
    client = signed_in(running)
    athlete = new_athlete(client)
    first = new_fitting(client, athlete)
    patch(client, first, "feet", gauge_paths() | {"time_of_day": "09:00"})
    patch(client, first, "brief", FOOTBALL | {"event_on": "2031-01-01"})
    whole = client.get(f"/api/fittings/{new_fitting(client, athlete)}").json()
    second = whole["parts"]
    carried = whole["found"]["left"]["numbers"]["length_mm"]
    assert (carried["value"], carried["source"]) == (265, "record")
    assert second["feet"]["body"]["left"]["length_mm"] is None
    assert second["feet"]["body"]["time_of_day"] is None
    assert second["brief"]["body"]["surface"] == "firm_natural"
    assert second["brief"]["body"]["event_on"] is None


def test_unasked_answers_hold_usual_values_and_are_told_apart(running: Web) -> None:
    client = signed_in(running)
    fitting = new_fitting(client)
    patch(client, fitting, "brief", FOOTBALL)
    brief = client.get(f"/api/fittings/{fitting}").json()["parts"]["brief"]
    assert brief["body"]["history"] == []
    assert brief["said"] == sorted(FOOTBALL)
    patch(client, fitting, "brief", {"history": [], "surface": None})
    said = client.get(f"/api/fittings/{fitting}").json()["parts"]["brief"]["said"]
    assert "history" in said
    assert "surface" not in said


@pytest.mark.parametrize(("age", "said"), [(11, True), (15, True), (17, None), (40, None)])
def test_whether_they_still_grow_is_known_from_their_age(running: Web, age: int, said: bool | None) -> None:
    client = signed_in(running)
    born = (today() - timedelta(days=round((age + 0.5) * 365.25))).isoformat()
    new = {"change_id": str(uuid.uuid4()), "name": f"Aged {age}", "born_on": born}
    athlete = client.post("/api/athletes", json=new).json()["id"]
    fitting = new_fitting(client, athlete)
    brief = client.get(f"/api/fittings/{fitting}").json()["parts"]["brief"]
    assert (brief["body"]["growing"] if "growing" in brief["said"] else None) == said
    patch(client, fitting, "brief", FOOTBALL | {"growing": said is None})
    again = client.get(f"/api/fittings/{new_fitting(client, athlete)}").json()["parts"]["brief"]["body"]
    assert again["growing"] == (said is True)
    assert again["surface"] == FOOTBALL["surface"]


def test_an_answer_no_sport_knows_is_refused_and_the_fitting_stays_open(running: Web) -> None:
    client = signed_in(running)
    fitting = ready_to_pull(client)
    refused = patch(client, fitting, "brief", {"discipline": "ballet"})
    assert (refused.status_code, refused.json()["fields"][0]["field"]) == (422, "discipline")
    assert patch(client, fitting, "brief", {"schools/football_size": "sideways"}).status_code == 422
    assert patch(client, fitting, "brief", {"sport": "climbing"}).status_code == 200
    whole = client.get(f"/api/fittings/{fitting}")
    assert whole.status_code == 200
    assert {s["slug"]: s["state"] for s in whole.json()["stations"]}["brief"] == "doing"


def test_a_sold_fitting_has_nothing_left_to_do_before_the_sale(running: Web) -> None:
    client = signed_in(running)
    fitting, (line,) = pulled(client, 1)
    assert sell(client, fitting, line).status_code == 201
    stations = client.get(f"/api/fittings/{fitting}").json()["stations"]
    assert [s["state"] for s in stations[:5]] == ["done"] * 5


def test_stations_that_need_more_say_what(running: Web) -> None:
    client = signed_in(running)
    fitting = new_fitting(client)
    spec = client.get(f"/api/fittings/{fitting}/spec")
    assert (spec.status_code, spec.json()["code"]) == (422, "brief-incomplete")
    assert spec.json()["title"] == "The brief still needs: the sport."
    patch(client, fitting, "brief", {"sport": "football"})
    asked = client.get(f"/api/fittings/{fitting}/spec").json()["title"]
    assert asked == "The brief still needs: what they do most, body mass, ground."
    patch(client, fitting, "brief", FOOTBALL)
    assert client.get(f"/api/fittings/{fitting}/spec").status_code == 200
    pull = client.get(f"/api/fittings/{fitting}/pull")
    assert (pull.status_code, pull.json()["code"]) == (422, "feet-incomplete")
    assert "left length" in pull.json()["title"]


def test_what_if_moves_the_spec_and_keeps_nothing(running: Web) -> None:
    client = signed_in(running)
    fitting = ready_to_pull(client)
    path = f"/api/fittings/{fitting}/spec"
    before = client.get(path).json()
    tried = client.post(f"{path}/what-if", json={"set": {"history": ["knee"]}}).json()
    assert "firm_ground_blade" in {v["value"] for v in tried["spec"]["vetoes"]}
    assert "Firm ground, blades is out" in tried["moved"]
    assert client.get(path).json() == before
    wrong = client.post(f"{path}/what-if", json={"set": {"body_kg": "heavy"}})
    assert wrong.status_code == 422


def test_a_settled_fitting_keeps_what_it_was_settled_by(running: Web) -> None:
    client = signed_in(running)
    fitting, lines = pulled(client, 1)
    assert sell(client, fitting, lines[0]).status_code == 201
    for part in ("feet", "brief", "spec", "trial"):
        answer = patch(client, fitting, part, {})
        assert answer.status_code == 422
    frozen = patch(client, fitting, "feet", {"left/length_mm": 270})
    assert (frozen.status_code, frozen.json()["code"]) == (409, "settled")


def test_today_shows_who_is_due_and_what_waits(running: Web) -> None:
    client = signed_in(running)
    open_fitting = new_fitting(client, new_athlete(client, "Waits Here"))
    fitting, lines = pulled(client, 1)
    sell(client, fitting, lines[0])
    soon = (today() + timedelta(days=9)).isoformat()
    client.put(f"/api/fittings/{fitting}/follow-up", json={"due_on": soon})
    items = client.get("/api/today").json()["items"]
    waiting = {i["place"]: i["text"] for i in items if i["kind"] == "open"}
    assert waiting[f"/fittings/{open_fitting}/feet"] == "No brief yet: waits at Feet."
    due = {i["place"].split("/")[2]: i["on_day"] for i in items if i["kind"] == "follow_up"}
    assert due[fitting] == soon
    assert list(due.values()) == sorted(due.values())
