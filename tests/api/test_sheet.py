"""The fit sheet as PDF, JSON and calendar; and every computation by its three ways in."""

from __future__ import annotations

import json
import subprocess
import sys
from io import BytesIO
from typing import Any

import pytest
from icalendar import Calendar
from pypdf import PdfReader

from kalon.core.calc import call
from tests.api.calls import FOOTBALL, new_athlete, new_fitting, patch, pulled, sell, signed_in
from tests.core.test_contract import EXAMPLES
from tests.made import gauge_paths
from tests.running import Web


@pytest.fixture(scope="module")
def sold(running: Web) -> tuple[Any, str]:
    client = signed_in(running)
    fitting, lines = pulled(client, 1, event_on="2031-05-01")
    patch(client, fitting, "settle", {"gives_up": "Heavier than <wished> & wide", "start_on": "2031-01-06"})
    assert sell(client, fitting, lines[0]).status_code == 201
    client.put(f"/api/fittings/{fitting}/follow-up", json={"due_on": "2031-02-03"})
    return client, f"/api/fittings/{fitting}"


def test_the_pdf_says_what_the_json_says(sold: tuple[Any, str]) -> None:
    client, path = sold
    sheet = client.get(f"{path}/fit-sheet.json").json()
    answer = client.get(f"{path}/fit-sheet.pdf")
    assert answer.headers["content-type"] == "application/pdf"
    text = "\n".join(page.extract_text() for page in PdfReader(BytesIO(answer.content)).pages)
    assert sheet["athlete"] in text
    assert sheet["pair"] in text
    assert f"EU {sheet['size']['eu']:g}" in text
    assert "Heavier than <wished> & wide" in text
    assert "2031-02-03" in text
    assert "No oven" in text
    assert "under your street shoe" in sheet["wanted"]
    assert sheet["wanted"].split(", ")[1] in " ".join(text.split())
    for zone in sheet["fit"]["zones"]:
        settled = f"{zone['settled_mm']:+.1f}".replace("-", "−")
        assert (settled if settled[1:] != "0.0" else "0.0") in text
    for wear in sheet["break_in"]["wears"]:
        assert str(wear["minutes"]) in text


def test_the_pdf_carries_its_fonts(sold: tuple[Any, str]) -> None:
    client, path = sold
    reader = PdfReader(BytesIO(client.get(f"{path}/fit-sheet.pdf").content))
    fonts = reader.pages[0]["/Resources"]["/Font"]  # type: ignore[index]
    embedded = [f.get_object() for f in fonts.values()]
    ours = [f for f in embedded if "Hyperlegible" in str(f["/BaseFont"])]
    assert ours
    assert all("/FontFile2" in f["/FontDescriptor"].get_object() for f in ours)


def test_the_json_explains_itself(sold: tuple[Any, str]) -> None:
    client, path = sold
    sheet = client.get(f"{path}/fit-sheet.json").json()
    assert sheet["sheet"] == "kalon-fit-sheet/2"
    assert sheet["rules_version"] == sheet["spec"]["rules_version"]
    assert sheet["feet"]["left"]["length_mm"] == 265
    assert sheet["spec"]["properties"]["mass_g"]["reasons"][0]["mark"] in ("CP", "PUB", "MEM", "HD")


def test_the_calendar_holds_every_wear(sold: tuple[Any, str]) -> None:
    client, path = sold
    sheet = client.get(f"{path}/fit-sheet.json").json()
    calendar = Calendar.from_ical(client.get(f"{path}/break-in.ics").content)
    events = calendar.walk("VEVENT")
    assert [e["DTSTART"].dt.isoformat() for e in events] == [w["on"] for w in sheet["break_in"]["wears"]]
    assert len({str(e["UID"]) for e in events}) == len(events)


def test_before_a_sale_there_is_no_sheet(running: Web) -> None:
    client = signed_in(running)
    fitting, _ = pulled(client, 1)
    for name in ("fit-sheet.pdf", "fit-sheet.json", "break-in.ics"):
        answer = client.get(f"/api/fittings/{fitting}/{name}")
        assert (answer.status_code, answer.json()["code"]) == (409, "not-settled")


def test_an_event_too_soon_says_to_play_the_old_pair(running: Web) -> None:
    client = signed_in(running)
    fitting, lines = pulled(client, 1, event_on="2031-01-08")
    patch(client, fitting, "settle", {"start_on": "2031-01-06"})
    plan = client.get(f"/api/fittings/{fitting}/settle/{lines[0]}").json()["plan"]
    assert not plan["in_time"]
    assert "play the old pair" in plan["verdict"]


def test_names_of_many_languages_are_printed(running: Web) -> None:
    client = signed_in(running)
    name = "Łuža Ångsmé-Őrđić"
    fitting = new_fitting(client, new_athlete(client, name))
    patch(client, fitting, "feet", gauge_paths())
    patch(client, fitting, "brief", FOOTBALL)
    line = client.get(f"/api/fittings/{fitting}/pull").json()["places"][0]["pair"]["id"]
    client.put(f"/api/fittings/{fitting}/tray/{line}")
    assert sell(client, fitting, line).status_code == 201
    pdf = client.get(f"/api/fittings/{fitting}/fit-sheet.pdf").content
    assert name in PdfReader(BytesIO(pdf)).pages[0].extract_text()


def run_cli(*words: str, given: bytes = b"") -> subprocess.CompletedProcess[bytes]:
    return subprocess.run([sys.executable, "-m", "kalon.cli", *words], input=given, capture_output=True, check=False)


@pytest.mark.parametrize("name", list(EXAMPLES))
def test_three_ways_in_one_answer(running: Web, name: str) -> None:
    given = EXAMPLES[name]
    by_function = call(name, given)
    by_http = signed_in(running).post(f"/api/calc/{name}", json=given)
    assert by_http.status_code == 200
    by_shell = run_cli("calc", name, given=json.dumps(given).encode())
    assert by_shell.returncode == 0
    assert by_http.json() == by_function == json.loads(by_shell.stdout)


@pytest.mark.parametrize("name", ["stretch", "size-convert"])
def test_three_ways_in_one_problem(running: Web, name: str) -> None:
    by_http = signed_in(running).post(f"/api/calc/{name}", json={"upper": "tin", "last_mm": 3})
    by_shell = run_cli("calc", name, given=b'{"upper": "tin", "last_mm": 3}')
    assert by_http.status_code == 422
    assert by_shell.returncode == 2
    assert by_shell.stdout == b""
    assert json.loads(by_shell.stderr) == by_http.json()


@pytest.mark.parametrize("given", [b"", b"{", b"[1", b"\xff", b"nan"])
def test_what_is_not_json_is_one_problem(given: bytes) -> None:
    done = run_cli("calc", "stretch", given=given)
    assert done.returncode == 2
    assert json.loads(done.stderr)["code"] in ("not-json", "bad-input")
    assert b"Traceback" not in done.stderr


def test_an_unknown_computation_is_named(running: Web) -> None:
    assert signed_in(running).post("/api/calc/alchemy", json={}).status_code == 404
    assert run_cli("calc", "alchemy", given=b"{}").returncode == 2


def test_the_list_of_computations(running: Web) -> None:
    listed = {c["name"] for c in signed_in(running).get("/api/calc").json()}
    shown = run_cli("calc", "--list").stdout.decode()
    assert all(name in shown for name in listed)
    assert {"size-convert", "stretch"} <= listed
