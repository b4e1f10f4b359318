"""What nobody should send: refused once at the door with a clear sentence, never a fault of the server."""

from __future__ import annotations

import json
import socket
import subprocess
import sys
import time
import uuid
from typing import Any

import httpx
import psycopg
import pytest

from tests import plainly
from tests.api.calls import FOOTBALL, new_fitting, patch, pulled, ready_to_pull, sell, signed_in
from tests.made import gauge_paths
from tests.running import Web


def raw(web: Web, request: bytes, *, wait: float = 5) -> bytes:
    """The answer to bytes put on the wire as they are."""
    with socket.create_connection(("127.0.0.1", web.port), timeout=wait) as wire:
        wire.sendall(request)
        wire.settimeout(wait)
        return wire.recv(65536)


@pytest.fixture
def ilse(running: Web) -> httpx.Client:
    return signed_in(running)


@pytest.mark.parametrize("text", ["a\x00b", "\ud800", "\udc00x", "\x00"])
def test_characters_that_cannot_be_kept(ilse: httpx.Client, text: str) -> None:
    fitting = new_fitting(ilse)
    change = {"change_id": str(uuid.uuid4())}
    bodies: list[tuple[str, str, Any]] = [
        ("POST", "/api/athletes", change | {"name": text}),
        ("PATCH", f"/api/fittings/{fitting}/parts/feet", change | {"base_version": 0, "set": {"note": text}}),
        ("PATCH", f"/api/fittings/{fitting}/parts/feet", change | {"base_version": 0, "set": {f"no{text}te": "x"}}),
        ("POST", "/api/session", {"login": text, "password": text}),
        ("POST", "/api/calc/stretch", {text: 1}),
    ]
    for method, path, body in bodies:
        answer = ilse.request(
            method, path, content=json.dumps(body).encode(), headers={"content-type": "application/json"}
        )
        assert (answer.status_code, answer.json()["code"]) == (422, "bad-character"), path


@pytest.mark.parametrize("path", ["/api/athletes?text=a%00b", "/api/stock?text=%00", "/api/calc/%00", "/a%00b"])
def test_a_nul_in_an_address(ilse: httpx.Client, path: str) -> None:
    answer = ilse.get(path)
    assert answer.status_code in (404, 422)
    assert answer.json()["title"].endswith(".")


def test_a_backslash_in_a_text_is_a_text(ilse: httpx.Client) -> None:
    body = {"change_id": str(uuid.uuid4()), "name": "Back\\u0000slash \\"}
    assert ilse.post("/api/athletes", json=body).json()["name"] == body["name"]
    assert ilse.get("/api/athletes", params={"text": "slash \\"}).json()[0]["name"] == body["name"]


@pytest.mark.parametrize("origin", ["http://[::1", "http://[", "null", "http://evil.example", "//", ""])
def test_an_origin_that_is_none_of_ours(ilse: httpx.Client, origin: str) -> None:
    answer = ilse.post("/api/calc/stretch", json={}, headers={"origin": origin})
    assert answer.status_code == 403


@pytest.mark.parametrize("number", ["1e400", "-1e400", "Infinity", "NaN", "9" * 30, "9" * 5000, "1" + "0" * 400])
def test_numbers_beyond_what_can_be_kept(ilse: httpx.Client, number: str) -> None:
    fitting = new_fitting(ilse)
    body = f'{{"base_version": 0, "change_id": "{uuid.uuid4()}", "set": {{"left/length_mm": {number}}}}}'
    answer = ilse.patch(
        f"/api/fittings/{fitting}/parts/feet", content=body, headers={"content-type": "application/json"}
    )
    assert (answer.status_code, answer.json()["code"]) == (422, "bad-number")


@pytest.mark.parametrize("version", [2_147_483_647, 2_147_483_648, 4_000_000_000, -1])
def test_versions_beyond_their_column(running: Web, version: int) -> None:
    manager = signed_in(running, "marrow")
    assert manager.put("/api/house", json={"base_version": version, "house": {}}).status_code == 422
    fitting = new_fitting(manager)
    body = {"base_version": version, "change_id": str(uuid.uuid4()), "set": {"sock": "thin"}}
    assert manager.patch(f"/api/fittings/{fitting}/parts/feet", json=body).status_code == 422


@pytest.mark.parametrize("day", ["9999-12-31", "9999-01-01", "0001-01-01", "2201-01-01", "10000-01-01"])
def test_days_nobody_means(ilse: httpx.Client, day: str) -> None:
    fitting, (line,) = pulled(ilse, 1)
    assert patch(ilse, fitting, "settle", {"start_on": day}).status_code == 422
    assert patch(ilse, fitting, "brief", {"event_on": day}).status_code == 422
    born = {"change_id": str(uuid.uuid4()), "name": "Far", "born_on": day}
    assert ilse.post("/api/athletes", json=born).status_code == 422
    growth = {"born_on": "2015-01-01", "visits": [{"on": day, "length_mm": 200}]}
    assert ilse.post("/api/calc/foot-growth", json=growth).status_code == 422
    plan = {"upper": "knit", "build": "plate", "interference_mm": 3, "start_on": day}
    assert ilse.post("/api/calc/breakin", json=plan).status_code == 422
    assert sell(ilse, fitting, line).status_code == 201
    assert ilse.put(f"/api/fittings/{fitting}/follow-up", json={"due_on": day}).status_code == 422


def test_the_last_day_there_is_can_be_planned_with(ilse: httpx.Client) -> None:
    fitting, (line,) = pulled(ilse, 1)
    assert patch(ilse, fitting, "settle", {"start_on": "2200-12-31"}).status_code == 200
    assert ilse.get(f"/api/fittings/{fitting}/settle/{line}").status_code == 200


@pytest.mark.parametrize("path", ["a/" * 2000 + "a", "/", "", "left//length_mm", "x" * 300, "left/" * 6 + "a"])
def test_paths_no_part_has(ilse: httpx.Client, path: str) -> None:
    fitting = new_fitting(ilse)
    assert patch(ilse, fitting, "feet", {path: 1}, base=0).status_code == 422
    answer = ilse.post(f"/api/fittings/{fitting}/spec/what-if", json={"set": {path: 1}})
    assert answer.status_code == 422


def test_a_court_brief_with_very_unlike_feet(ilse: httpx.Client) -> None:
    fitting = new_fitting(ilse)
    feet = {f"left/{k}": v for k, v in {"length_mm": 112, "ball_width_mm": 148, "heel_width_mm": 109}.items()}
    feet |= {f"right/{k}": v for k, v in {"length_mm": 379, "ball_width_mm": 149, "heel_width_mm": 109}.items()}
    girths = {f"{s}/{g}_girth_mm": 300 for s in ("left", "right") for g in ("ball", "instep")}
    assert patch(ilse, fitting, "feet", feet | girths).status_code == 200
    brief = {"sport": "court", "discipline": "badminton", "body_kg": 249}
    assert patch(ilse, fitting, "brief", brief).status_code == 200
    answer = ilse.get(f"/api/fittings/{fitting}/spec")
    assert answer.status_code == 200
    assert answer.json()["mechanics"]["from_behind"]
    assert ilse.get(f"/api/fittings/{fitting}/pull").status_code == 200


@pytest.mark.parametrize("sole", [1e-300, 1e-9, 0.01])
def test_a_pedal_with_a_tiny_sole(ilse: httpx.Client, sole: float) -> None:
    body = {"power_w": 2500, "cadence_rpm": 21, "sole_n_mm_per_deg": sole}
    assert ilse.post("/api/calc/pedal", json=body).status_code == 422


def test_a_cell_of_a_csv_longer_than_any(ilse: httpx.Client) -> None:
    fitting = new_fitting(ilse)
    for data in (b"side,measure\n" + b"x" * 200_000, b'"' + b"1" * 200_000 + b'",2\n'):
        answer = ilse.post(
            f"/api/fittings/{fitting}/captures", params={"id": str(uuid.uuid4()), "name": "a.csv"}, content=data
        )
        assert answer.status_code == 422, answer.text
        assert answer.json()["code"].startswith(("file", "mat", "record", "measure"))


ODD = "UPDATE variant SET eu_label = %s WHERE id = (SELECT variant_id FROM stock_line WHERE id = %s)"


def test_one_odd_label_hides_no_other_line(ilse: httpx.Client, demo_url: str) -> None:
    before = ilse.get("/api/stock").json()
    odd = before[5]["id"]
    fitting = ready_to_pull(ilse)
    with psycopg.connect(demo_url) as cx:
        cx.execute(ODD, [999, odd])
    try:
        after = ilse.get("/api/stock").json()
        assert len(after) == len(before)
        assert next(r["labels"] for r in after if r["id"] == odd) == {}
        assert ilse.get(f"/api/fittings/{fitting}/pull").status_code == 200
    finally:
        with psycopg.connect(demo_url) as cx:
            cx.execute(ODD, [before[5]["eu_label"], odd])


@pytest.mark.parametrize("blank", [" ", "\t \n", "\u00a0"])
def test_a_name_of_blanks_is_none(running: Web, blank: str) -> None:
    manager = signed_in(running, "marrow")
    fitting = new_fitting(manager)
    athlete = manager.get(f"/api/fittings/{fitting}").json()["athlete"]["id"]
    line = manager.get("/api/stock").json()[0]["id"]
    pair = {"version": 0, "change_id": str(uuid.uuid4()), "sport": "football", "discipline": "match"}
    calls: list[tuple[str, str, dict[str, Any]]] = [
        ("POST", "/api/athletes", {"change_id": str(uuid.uuid4()), "name": blank}),
        ("POST", f"/api/stock/{line}/held", {"id": str(uuid.uuid4()), "name": blank}),
        ("POST", "/api/people", {"change_id": str(uuid.uuid4()), "name": blank, "login": "blank", "role": "fitter"}),
        ("PUT", f"/api/athletes/{athlete}/pairs/{uuid.uuid4()}", pair | {"name": blank}),
        ("PUT", f"/api/ledger/fitters/{uuid.uuid4()}/aside", {"id": str(uuid.uuid4()), "reason": blank}),
    ]
    for method, path, body in calls:
        answer = manager.request(method, path, json=body)
        assert answer.status_code == 422, path
        assert {f["field"] for f in answer.json()["fields"]} & {"reason", "name"}, path


@pytest.mark.parametrize("body", [b"[" * 300_000, b'{"a":' * 50_000 + b"1" + b"}" * 50_000, b'{"a":"' + b"[" * 900_000])
def test_brackets_without_end(running: Web, body: bytes) -> None:
    began = time.monotonic()
    answer = plainly.post(
        f"{running.url}/api/session", content=body, headers={"content-type": "application/json"}, timeout=20
    )
    assert answer.status_code == 422
    assert answer.json()["code"] in ("too-deep", "not-json")
    assert plainly.get(f"{running.url}/health").status_code == 200
    assert time.monotonic() - began < 15


def test_a_body_in_pieces_is_counted_before_anybody_is_asked_who_they_are(running: Web) -> None:
    sent = 0

    def pieces() -> Any:
        nonlocal sent
        for _ in range(400):
            sent += 1
            yield b" " * 100_000

    try:
        answer = plainly.post(f"{running.url}/api/session", content=pieces(), timeout=20)
        assert answer.status_code == 413
    except httpx.TransportError:
        pass
    assert sent < 200


def test_methods_there_are_not_say_which_there_are(running: Web, ilse: httpx.Client) -> None:
    answer = ilse.request("DELETE", "/api/athletes")
    assert answer.status_code == 405
    assert {m.strip() for m in answer.headers["allow"].split(",")} == {"GET", "HEAD", "POST"}
    assert answer.headers["content-type"] == "application/problem+json"
    head = ilse.head("/api/session")
    assert (head.status_code, head.content) == (200, b"")
    assert head.headers["content-type"] == "application/json"
    assert ilse.head("/nowhere").status_code == 200
    assert ilse.head(f"/api/fittings/{uuid.uuid4()}").status_code == 404


def test_what_is_announced_and_not_sent_is_cut(running: Web, monkeypatch: pytest.MonkeyPatch) -> None:
    code = (
        "import asyncio, time\n"
        "from kalon.api import guard\n"
        "guard.CHUNK_S = 0.3\n"
        "async def main():\n"
        "    async def never():\n"
        "        await asyncio.sleep(60)\n"
        "    told = []\n"
        "    async def out(m): told.append(m)\n"
        "    scope = {'type': 'http', 'method': 'POST', 'path': '/api/session', 'headers': [], 'query_string': b''}\n"
        "    async def app(scope, receive, send): raise AssertionError('let in')\n"
        "    await guard.Guard(app)(scope, never, out)\n"
        "    print(told[0]['status'])\n"
        "asyncio.run(main())\n"
    )
    done = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, timeout=30, check=True)
    assert done.stdout.splitlines()[-1] == "408"


@pytest.mark.parametrize(
    ("value", "code"), [({"length_mm": 1e308}, "bad-number"), ({"a": [1] * 10}, "bad-input"), ("x" * 5000, "bad-input")]
)
def test_values_that_clash_are_refused_before_they_can(ilse: httpx.Client, value: Any, code: str) -> None:
    fitting = new_fitting(ilse)
    patch(ilse, fitting, "feet", {"left/length_mm": 260})
    answer = patch(ilse, fitting, "feet", {"left": value}, base=0)
    assert answer.status_code in (409, 422)
    assert code == "bad-input" or answer.json()["code"] == code


def test_a_failure_is_logged_by_place_and_not_by_what_was_typed() -> None:
    code = (
        "import asyncio\n"
        "from kalon.api import app, guard\n"
        "app._logging()\n"
        "async def main():\n"
        "    async def fails(scope, receive, send): raise ValueError('SECRET-TYPED')\n"
        "    told = []\n"
        "    async def out(m): told.append(m)\n"
        "    scope = {'type': 'http', 'method': 'GET', 'path': '/SECRET-PATH', 'headers': [], 'query_string': b''}\n"
        "    await guard.Guard(fails)(scope, None, out)\n"
        "    print(told[0]['status'])\n"
        "asyncio.run(main())\n"
    )
    done = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, timeout=30, check=True)
    assert done.stdout.splitlines()[-1] == "500"
    assert "SECRET" not in done.stdout + done.stderr
    assert '"kind": "ValueError"' in done.stdout
    assert "fails" in done.stdout


def test_the_interface_reports_where_it_failed(ilse: httpx.Client) -> None:
    assert ilse.post("/api/failures", json={"kind": "TypeError", "where": ["assets/a.js:1:2"]}).status_code == 204
    for wrong in ({"kind": "He said 'x'", "where": []}, {"kind": "E", "where": ["typed: 261 mm?"]}, {"kind": "E"}):
        assert ilse.post("/api/failures", json=wrong).status_code == 422


def test_a_brief_tried_with_nonsense_is_refused(ilse: httpx.Client) -> None:
    fitting = new_fitting(ilse)
    patch(ilse, fitting, "feet", gauge_paths())
    patch(ilse, fitting, "brief", FOOTBALL)
    for sets in ({"body_kg": "heavy"}, {"also": [{"discipline": "match", "share_pct": 1e9}]}, {"present/model": 3}):
        answer = ilse.post(f"/api/fittings/{fitting}/spec/what-if", json={"set": sets})
        assert answer.status_code == 422, sets
