"""One id, one thing, always the same answer: every call that makes something, sent twenty times at once."""

from __future__ import annotations

import uuid
from concurrent.futures import ThreadPoolExecutor
from typing import Any

import httpx
import psycopg
import pytest

from kalon.devices.practice import make
from tests.api.calls import (
    FOOTBALL,
    eventually,
    new_athlete,
    new_fitting,
    patch,
    pulled,
    ready_to_pull,
    sell,
    signed_in,
    take_back,
)
from tests.made import gauge_paths
from tests.running import Web

TIMES = 20


def at_once(web: Web, send: Any, login: str = "ilse", times: int = TIMES) -> list[httpx.Response]:
    """The same call, sent by so many clients in parallel."""
    clients = [signed_in(web, login) for _ in range(times)]
    with ThreadPoolExecutor(times) as pool:
        return list(pool.map(send, clients))


def rows(url: str, table: str, where: str = "true") -> int:
    with psycopg.connect(url) as cx:
        return int(cx.execute(f"SELECT count(*) FROM {table} WHERE {where}").fetchone()[0])  # type: ignore[index]


def same(answers: list[httpx.Response], status: int) -> Any:
    assert {a.status_code for a in answers} == {status}, [a.text for a in answers if a.status_code != status][:2]
    bodies = [a.json() for a in answers]
    assert all(b == bodies[0] for b in bodies)
    return bodies[0]


def test_an_athlete(running: Web, demo_url: str) -> None:
    before = rows(demo_url, "athlete")
    body = {"change_id": str(uuid.uuid4()), "name": "Twenty Times"}
    same(at_once(running, lambda c: c.post("/api/athletes", json=body)), 201)
    assert rows(demo_url, "athlete") == before + 1


def test_a_fitting(running: Web, demo_url: str) -> None:
    client = signed_in(running)
    athlete = new_athlete(client)
    patch(client, new_fitting(client, athlete), "feet", gauge_paths())
    body = {"id": str(uuid.uuid4()), "athlete_id": athlete}
    whole = same(at_once(running, lambda c: c.post("/api/fittings", json=body)), 201)
    assert len(whole["captures"]) == 2
    assert rows(demo_url, "fitting", f"athlete_id = '{athlete}'") == 2


def test_a_change_of_a_part(running: Web) -> None:
    client = signed_in(running)
    fitting = new_fitting(client)
    body = {"base_version": 0, "change_id": str(uuid.uuid4()), "set": {"left/length_mm": 261}}
    path = f"/api/fittings/{fitting}/parts/feet"
    assert same(at_once(running, lambda c: c.patch(path, json=body)), 200)["version"] == 1


def test_a_pair_in_the_tray_and_its_trace(running: Web, demo_url: str) -> None:
    client = signed_in(running)
    fitting = ready_to_pull(client)
    line = client.get(f"/api/fittings/{fitting}/pull").json()["places"][0]["pair"]["id"]
    path = f"/api/fittings/{fitting}/tray/{line}"
    assert len(same(at_once(running, lambda c: c.put(path)), 200)) == 1
    assert same(at_once(running, lambda c: c.delete(path)), 200) == []
    assert rows(demo_url, "change", f"fitting_id = '{fitting}' AND part = 'tray'") == 2


def test_a_sale_and_taking_it_back(running: Web, demo_url: str) -> None:
    client = signed_in(running)
    fitting, (line,) = pulled(client, 1)
    before = rows(demo_url, "stock_line", f"id = '{line}' AND on_hand > 0")
    assert before
    sale = str(uuid.uuid4())
    same(at_once(running, lambda c: sell(c, fitting, line, sale)), 201)
    assert rows(demo_url, "sale", f"fitting_id = '{fitting}'") == 1
    same(at_once(running, lambda c: take_back(c, fitting, sale)), 200)
    again = sell(client, fitting, line, sale)
    assert (again.status_code, again.json()["code"]) == (409, "sale-undone")
    assert sell(client, fitting, line).status_code == 201


def test_a_stale_undo_does_not_undo_a_newer_sale(running: Web) -> None:
    client = signed_in(running)
    fitting, (line,) = pulled(client, 1)
    first = sell(client, fitting, line).json()["sale"]["id"]
    take_back(client, fitting, first)
    second = sell(client, fitting, line).json()["sale"]["id"]
    assert take_back(client, fitting, first).json()["sale"]["id"] == second
    assert take_back(client, fitting, str(uuid.uuid4())).status_code == 404


def test_undoing_takes_the_follow_up_off_today_and_booking_brings_it_back(running: Web) -> None:
    client = signed_in(running)
    fitting, (line,) = pulled(client, 1)

    def due() -> list[str]:
        items = client.get("/api/today").json()["items"]
        return [i["place"].split("/")[2] for i in items if i["kind"] == "follow_up"]

    sell(client, fitting, line)
    client.put(f"/api/fittings/{fitting}/follow-up", json={"due_on": "2020-02-02"})
    assert fitting in due()
    whole = take_back(client, fitting).json()
    assert whole["follow_up"] is None
    assert fitting not in due()
    sell(client, fitting, line)
    client.put(f"/api/fittings/{fitting}/follow-up", json={"due_on": "2020-02-03"})
    assert fitting in due()


@pytest.mark.parametrize("_round", range(5))
def test_undo_against_follow_up_leaves_one_of_the_two(running: Web, _round: int) -> None:
    client = signed_in(running)
    fitting, (line,) = pulled(client, 1)
    sale = sell(client, fitting, line).json()["sale"]["id"]
    path = f"/api/fittings/{fitting}"
    client.put(f"{path}/follow-up", json={"due_on": "2030-02-02"})
    patch(client, fitting, "return", {"hours": 9, "length_mm": 9})
    calls = [lambda c: take_back(c, fitting, sale), lambda c: c.post(f"{path}/follow-up/done")] * 4
    clients = [signed_in(running) for _ in calls]
    with ThreadPoolExecutor(8) as pool:
        answers = list(pool.map(lambda pair: pair[0](pair[1]), zip(calls, clients, strict=True)))
    assert all(a.status_code in (200, 404, 409, 422) for a in answers)
    whole = client.get(path).json()
    assert (whole["state"], bool(whole["sale"])) in (("returned", True), ("open", False))


def test_counting_sends_what_was_moved(running: Web, demo_url: str) -> None:
    manager = signed_in(running, "marrow")
    line = manager.get("/api/stock", params={"limit": 4}).json()[3]
    path = f"/api/stock/{line['id']}/moves"
    one = {"id": str(uuid.uuid4()), "by": 1}
    same(at_once(running, lambda c: c.post(path, json=one), "marrow"), 200)
    answers = at_once(running, lambda c: c.post(path, json={"id": str(uuid.uuid4()), "by": 1}), "marrow")
    assert {a.status_code for a in answers} == {200}
    now = manager.get(f"/api/stock/{line['id']}").json()
    assert now["on_hand"] == line["on_hand"] + 1 + TIMES
    with psycopg.connect(demo_url) as cx:
        found = cx.execute(
            "SELECT count(*), sum(pairs) FROM movement WHERE kind = 'counted' AND stock_line_id = %s",
            [line["id"]],
        ).fetchone()
    assert found == (1 + TIMES, 1 + TIMES)
    below = manager.post(path, json={"id": str(uuid.uuid4()), "by": -999})
    assert (below.status_code, below.json()["code"]) == (409, "too-few")
    other = manager.post(path, json=one | {"by": 2})
    assert (other.status_code, other.json()["code"]) == (409, "id-used")


def test_a_person_and_their_trace(running: Web, demo_url: str) -> None:
    person = {"login": "twenty", "name": "Twenty", "role": "fitter"}
    body = person | {"change_id": str(uuid.uuid4())}
    same(at_once(running, lambda c: c.post("/api/people", json=body), "marrow"), 201)
    assert rows(demo_url, "staff", "login = 'twenty'") == 1
    with psycopg.connect(demo_url) as cx:
        (after,) = cx.execute("SELECT after FROM shop_change WHERE change_id = %s", [body["change_id"]]).fetchone()  # type: ignore[misc]
    assert after == person


def two_feet(client: httpx.Client) -> bytes:
    """A record of both feet, as the application itself writes it."""
    fitting = new_fitting(client)
    patch(client, fitting, "feet", gauge_paths())
    return client.get(f"/api/fittings/{fitting}/feet.json").content


def test_a_file_of_two_feet(running: Web, demo_url: str) -> None:
    client = signed_in(running)
    record, fitting = two_feet(client), new_fitting(client)
    query = {"id": str(uuid.uuid4()), "name": "both.json"}
    path = f"/api/fittings/{fitting}/captures"
    for _ in range(3):
        answer = client.post(path, params=query, content=record)
        assert (answer.status_code, len(answer.json()["captures"])) == (201, 2)
    at_once(running, lambda c: c.post(path, params=query, content=record))
    assert rows(demo_url, "foot_capture", f"fitting_id = '{fitting}'") == 2
    elsewhere = client.post(f"/api/fittings/{new_fitting(client)}/captures", params=query, content=record)
    assert (elsewhere.status_code, elsewhere.json()["code"]) == (409, "id-used")


def test_a_practice_foot(running: Web, demo_url: str) -> None:
    client = signed_in(running)
    fitting = new_fitting(client)
    body = {"id": str(uuid.uuid4()), "device": "mat", "side": "left", "seed": 4}
    answers = at_once(running, lambda c: c.post(f"/api/fittings/{fitting}/practice", json=body), times=6)
    assert {a.status_code for a in answers} <= {201, 503}
    assert rows(demo_url, "foot_capture", f"fitting_id = '{fitting}'") == 1


def test_one_change_id_on_another_fitting_is_refused(running: Web) -> None:
    client = signed_in(running)
    one, other = new_fitting(client), new_fitting(client)
    body = {"base_version": 0, "change_id": str(uuid.uuid4()), "set": {"sock": "thick"}}
    assert client.patch(f"/api/fittings/{one}/parts/feet", json=body).status_code == 200
    for path in (f"/api/fittings/{other}/parts/feet", f"/api/fittings/{one}/parts/settle"):
        again = client.patch(path, json=body)
        assert (again.status_code, again.json()["code"]) == (409, "id-used")
    mine = client.get(f"/api/fittings/{other}").json()["parts"]["feet"]
    assert mine["version"] == 0


@pytest.mark.parametrize("what", ["athlete", "fitting", "change", "sale"])
def test_an_id_of_another_shop_is_refused_in_a_sentence(running: Web, what: str) -> None:
    ours, theirs = signed_in(running), signed_in(running, "sorrel")
    key = str(uuid.uuid4())
    athlete = new_athlete(theirs)
    if what == "athlete":
        body = {"change_id": key, "name": "Both"}
        assert ours.post("/api/athletes", json=body).status_code == 201
        assert theirs.post("/api/athletes", json=body).status_code == 201
        return
    if what == "change":
        mine, yours = new_fitting(ours), new_fitting(theirs)
        body = {"base_version": 0, "change_id": key, "set": {"sock": "thick"}}
        assert ours.patch(f"/api/fittings/{mine}/parts/feet", json=body).status_code == 200
        assert theirs.patch(f"/api/fittings/{yours}/parts/feet", json=body).status_code == 200
        return
    if what == "fitting":
        assert ours.post("/api/fittings", json={"id": key, "athlete_id": new_athlete(ours)}).status_code == 201
        answer = theirs.post("/api/fittings", json={"id": key, "athlete_id": athlete})
    else:
        fitting, (line,) = pulled(ours, 1)
        assert sell(ours, fitting, line, key).status_code == 201
        other, (their_line,) = pulled(theirs, 1)
        answer = sell(theirs, other, their_line, key)
    assert (answer.status_code, answer.json()["code"]) == (409, "id-used")


def test_a_capture_cannot_be_corrected_once_the_fitting_is_settled(running: Web) -> None:
    """The measuring takes longer than the settling: what counts is the state when it is done."""
    client = signed_in(running)
    fitting = new_fitting(client)
    data, _ = make("stl", 3, "left")
    capture = str(uuid.uuid4())
    client.post(f"/api/fittings/{fitting}/captures", params={"id": capture, "name": "a.stl"}, content=data)
    patch(client, fitting, "feet", gauge_paths())
    patch(client, fitting, "brief", FOOTBALL)
    line = client.get(f"/api/fittings/{fitting}/pull").json()["places"][0]["pair"]["id"]
    client.put(f"/api/fittings/{fitting}/tray/{line}")
    with ThreadPoolExecutor(1) as pool:
        again = pool.submit(
            signed_in(running).patch, f"/api/captures/{capture}", json={"version": 1, "said": {"side": "right"}}
        )
        sold = eventually(lambda: sell(client, fitting, line))
        corrected = again.result()
    assert sold.status_code == 201
    whole = client.get(f"/api/fittings/{fitting}").json()
    side = whole["captures"][0]["side"]
    assert (corrected.status_code, side) in ((409, "left"), (200, "right"))
    settled_by = client.get(f"/api/fittings/{fitting}/fit-sheet.json").json()["feet"]
    assert settled_by["left"]["length_mm"] == pytest.approx(whole["found"]["left"]["numbers"]["length_mm"]["value"])
    late = client.patch(f"/api/captures/{capture}", json={"version": whole["captures"][0]["version"], "said": {}})
    assert (late.status_code, late.json()["code"]) == (409, "settled")
