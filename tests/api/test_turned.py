"""A fitting turned to the athlete holds what is theirs and nothing else; pairs are held beside each other."""

from __future__ import annotations

import uuid
from collections.abc import Iterator
from typing import Any

import pytest

from tests import plainly
from tests.api.calls import PASSWORDS, new_athlete, new_fitting, patch, pulled, sell, signed_in
from tests.api.test_prices import asked, give
from tests.api.test_walk_in import comes_in
from tests.running import Web

SHOPS = {
    "on_hand", "also_pulled", "held_until", "stock_line_id", "cost_minor", "supplier", "bar_code", "sku", "cautions", "note",
    "learned", "squad", "staff", "sold_by",
}  # fmt: skip
"""What no field for an athlete is called."""


def walked(value: Any, path: str = "") -> Iterator[tuple[str, Any]]:
    """Everything an answer holds, with where it stands."""
    if isinstance(value, dict):
        for key, inner in value.items():
            yield f"{path}/{key}", inner
            yield from walked(inner, f"{path}/{key}")
    elif isinstance(value, list):
        for inner in value:
            yield from walked(inner, path)


def turned(client: Any, fitting: str) -> dict[str, Any]:
    answer = client.get(f"/api/fittings/{fitting}/turned")
    assert answer.status_code == 200, answer.text
    return dict(answer.json())


@pytest.fixture
def client(running: Web) -> Any:
    return signed_in(running)


def test_nothing_in_it_is_anybody_elses(client: Any, running: Web) -> None:
    """Marks are left wherever a fitter writes for themself, and of another athlete at the same pairs: none comes out."""
    other, lines = pulled(client, 2, new_athlete(client, "Nobody Elsewhere"))
    assert patch(client, other, "brief", {"note": "zz-other-brief"}).status_code == 200
    mine, mine_lines = pulled(client, 2, new_athlete(client, "Themself Alone"))
    assert set(lines) & set(mine_lines)
    for part, values in {
        "feet": {"note": "zz-feet-note"},
        "trial": {f"pairs/{mine_lines[0]}/note": "zz-trial-note", f"pairs/{mine_lines[0]}/verdict": "pass"},
        "settle": {"gives_up": "zz-settle-note"},
    }.items():
        assert patch(client, mine, part, values).status_code == 200
    found = turned(client, mine)
    assert found["athlete"] == "Themself Alone"
    assert len(found["pairs"]) == 2
    names = {r["name"] for r in client.get("/api/athletes").json()} - {"Themself Alone"}
    people = {"Ilse Varn", "Bram Ostley"}
    for path, value in walked(found):
        assert path.rsplit("/", 1)[-1] not in SHOPS or not value, path
        if isinstance(value, str):
            assert not value.startswith("zz-"), path
            assert not {n for n in names | people if n in value}, path
    spec = found["shoe"]["spec"]
    assert not any(b["reasons"] for b in spec["properties"].values())
    assert spec["vetoes"] == spec["cautions"] == spec["schools"] == spec["concerns"] == []


def test_what_is_not_known_yet_is_left_open(client: Any) -> None:
    bare = new_fitting(client)
    found = turned(client, bare)
    assert (found["shoe"], found["pairs"], found["wear"], found["said"]) == (None, [], None, [])
    assert found["feet"] == {"left": None, "right": None, "lines": []}
    assert patch(client, bare, "feet", {"left/length_mm": 255}).status_code == 200
    known = turned(client, bare)["feet"]
    assert known["left"]["length_mm"] == 255
    assert known["left"]["ball_width_mm"] is None
    assert known["right"] is None
    brief = {"sport": "football", "discipline": "match", "surface": "firm_natural", "body_kg": 74}
    assert patch(client, bare, "brief", brief).status_code == 200
    told = turned(client, bare)
    assert 2 <= len(told["shoe"]["because"]) <= 3
    assert told["shoe"]["studs"]
    assert {s["what"]: s["text"] for s in told["said"]}["Body mass"] == "74 kg"


def test_judged_blind_no_name_and_no_price_until_every_pair_is_scored(client: Any) -> None:
    fitting, lines = pulled(client, 2)
    assert patch(client, fitting, "trial", {"blind": True, f"pairs/{lines[0]}/verdict": "fail"}).status_code == 200
    blind = turned(client, fitting)["pairs"]
    assert [p["name"] for p in sorted(blind, key=lambda p: lines.index(p["line_id"]))] == ["Pair A", "Pair B"]
    assert all(p["cost"] is None for p in blind)
    assert patch(client, fitting, "trial", {f"pairs/{lines[1]}/verdict": "pass"}).status_code == 200
    seen = turned(client, fitting)
    assert seen["pairs"][0]["line_id"] == lines[1]  # what passed stands first
    assert not any(p["name"].startswith("Pair ") for p in seen["pairs"])
    assert all(p["cost"]["per_hour"]["low"] < p["cost"]["per_hour"]["mid"] for p in seen["pairs"])
    assert seen["wear"]["line_id"] == lines[1]
    assert seen["wear"]["wears"]


def test_once_settled_it_says_what_was_taken_and_for_how_much(client: Any) -> None:
    fitting, lines = pulled(client, 2)
    assert patch(client, fitting, "trial", {f"pairs/{lines[1]}/verdict": "pass"}).status_code == 200
    assert sell(client, fitting, lines[1]).status_code == 201
    sheet = client.get(f"/api/fittings/{fitting}/fit-sheet.json").json()
    found = turned(client, fitting)
    assert found["pairs"][0]["sold"]
    assert found["pairs"][0]["line_id"] == lines[1] == found["wear"]["line_id"]
    taken = next(line for line in found["decided"] if line.startswith("I take"))
    assert sheet["pair"] in taken
    assert f"{sheet['total_minor'] / 100:.2f} {sheet['currency']}" in taken
    assert found["wear"]["ready_on"] == sheet["break_in"]["ready_on"]


def test_pairs_beside_each_other_with_what_was_felt_in_each(client: Any) -> None:
    """Of the tray as pulled, and another looked at; their fit is what Settle would say of them."""
    fitting, lines = pulled(client, 3)
    assert client.delete(f"/api/fittings/{fitting}/tray/{lines[2]}").status_code == 200
    felt = {f"pairs/{lines[0]}/pinches": {"left:ball": 2}, f"pairs/{lines[0]}/heel_slip": 2}
    assert patch(client, fitting, "trial", felt).status_code == 200
    two = client.get(f"/api/fittings/{fitting}/beside").json()
    assert [p["line_id"] for p in two] == lines[:2]
    three = client.get(f"/api/fittings/{fitting}/beside", params={"line": lines[2]}).json()
    assert [p["line_id"] for p in three] == lines
    assert three[0]["felt"] == ["Hurts at the ball, left", "The heel slips"]
    assert three[1]["felt"] == []
    assert [p["tried"] for p in three] == [True, False, False]
    for pair in three:
        assert (
            pair["fit"]["zones"]
            == client.get(f"/api/fittings/{fitting}/settle/{pair['line_id']}").json()["size"]["zones"]
        )
    nowhere = client.get(f"/api/fittings/{fitting}/beside", params={"line": str(uuid.uuid4())})
    assert nowhere.status_code == 404
    assert client.get(f"/api/fittings/{fitting}/beside", params={"line": lines + lines}).status_code == 422


def test_somebody_without_a_name_isnt_called_by_their_jacket(client: Any) -> None:
    assert turned(client, comes_in(client, "blue jacket")["id"])["athlete"] is None


def test_who_turns_it_back_shows_that_it_is_still_they(running: Web) -> None:
    """A wrong password ends nothing; a right one goes on in a new session, and the one before counts no more."""
    bench = plainly.Client(base_url=running.url, timeout=60)
    given = {"login": "bram", "password": PASSWORDS["bram"]}
    assert bench.post("/api/session", json=given).status_code == 200
    before = bench.cookies["kalon_session"]
    wrong = bench.post("/api/session/proof", json={"password": "not-his-at-all"})
    assert wrong.status_code == 422
    assert wrong.json()["fields"][0]["field"] == "password"
    assert bench.post("/api/session/proof", json={"password": PASSWORDS["ilse"]}).status_code == 422
    assert (
        bench.post("/api/session/proof", json={"pin": "8350"}).json()["code"] == "pin-over"
    )  # no tablet of the shop's
    assert bench.get("/api/session").json()["login"] == "bram"
    assert bench.post("/api/session/proof", json={"password": PASSWORDS["bram"]}).status_code == 204
    assert bench.cookies["kalon_session"] != before
    assert bench.get("/api/session").json()["login"] == "bram"
    old = plainly.Client(base_url=running.url, cookies={"kalon_session": before}, timeout=60)
    assert old.get("/api/session").status_code == 401
    assert old.post("/api/session/proof", json={"password": PASSWORDS["bram"]}).status_code == 401


def test_hours_are_told_by_what_was_paid_or_not_at_all(running: Web) -> None:
    """The shelf's price rises after the sale: what was paid stays, and no hour is told by the new price."""
    client, manager = signed_in(running), signed_in(running, "marrow")
    fitting, lines = pulled(client, 1)
    was, _ = asked(manager, lines[0])
    assert was
    assert sell(client, fitting, lines[0]).status_code == 201
    (sold,) = turned(client, fitting)["pairs"]
    assert sold["cost"]["total_minor"] == client.get(f"/api/fittings/{fitting}/fit-sheet.json").json()["total_minor"]
    give(manager, lines[0], was + 4000)
    try:
        found = turned(client, fitting)
        assert found["pairs"][0]["cost"] is None
        assert any(f"{sold['cost']['total_minor'] / 100:.2f} EUR" in line for line in found["decided"])
    finally:
        give(manager, lines[0], was)
