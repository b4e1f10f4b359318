"""The rooms, the vocabulary, the logs, and many hands at once."""

from __future__ import annotations

import json
import os
import re
import subprocess
import sys
import uuid
from concurrent.futures import ThreadPoolExecutor
from typing import Any, get_args

import pytest

from kalon.core.fit.foot import FIT_ZONES
from kalon.core.fit.trial import Pinch
from kalon.core.rules.words import SPORTS
from kalon.host.postgres import free_port
from kalon.host.supervise import answers
from tests import plainly
from tests.api.calls import PASSWORDS, eventually, new_athlete, new_fitting, patch, ready_to_pull, signed_in
from tests.made import gauge_paths
from tests.running import Web, addresses_of


def test_the_vocabulary_asks_about_every_sport(running: Web) -> None:
    words = signed_in(running).get("/api/vocabulary").json()
    assert {s["slug"] for s in words["sports"]} == set(SPORTS)
    for sport in words["sports"]:
        assert sport["disciplines"]
        assert sport["tests"]
        assert any(a["field"] == "body_kg" and a["needed"] for a in sport["asks"])
    for scale in (s for sport in words["sports"] for s in sport["scales"].values()):
        assert scale["low"] < scale["high"]
        assert scale["unit"]
    assert list(words["zones"]) == list(FIT_ZONES)
    assert set(words["pinches"]) == set(get_args(Pinch))
    unseen = {s["slug"] for sport in words["sports"] for s in sport["schools"] if not s["spec"]}
    assert unseen == {"price", "softening"}  # they order the shelves and plan the break-in


NEEDED = {
    "football": {"surface": "artificial_grass"}, "cycling": {"pedal": "two_bolt"},
    "field": {"role": "batter", "wicket": "grass"},
}  # fmt: skip


@pytest.mark.parametrize(("sport", "discipline"), [(s, d.value) for s, v in SPORTS.items() for d in v.disciplines])
def test_every_discipline_has_a_spec_and_a_pull(running: Web, sport: str, discipline: str) -> None:
    client = signed_in(running)
    fitting = new_fitting(client)
    patch(client, fitting, "feet", gauge_paths())
    brief = {"sport": sport, "discipline": discipline, "body_kg": 72, **NEEDED.get(sport, {})}
    assert patch(client, fitting, "brief", brief).status_code == 200
    found = client.get(f"/api/fittings/{fitting}/spec").json()["spec"]
    assert found["discipline"] == discipline
    assert found["properties"]
    pull = client.get(f"/api/fittings/{fitting}/pull").json()
    assert pull["places"]
    for place in pull["places"]:
        assert place["pair"]["sport"] == sport
        assert place["pair"]["on_hand"] > 0
        assert place["helps"] or place["costs"]
        assert 0 <= place["chance"] <= place["fit"] <= 1
    vetoes = {v["value"] for v in found["vetoes"] if v["name"] == "plate"}
    assert not vetoes & {p["pair"]["choices"].get("plate") for p in pull["places"]}


def test_a_sport_cannot_be_pulled_from_anothers_shelf(running: Web) -> None:
    client = signed_in(running)
    fitting = ready_to_pull(client)
    shown = client.get(f"/api/fittings/{fitting}/pull", params={"limit": 3}).json()
    assert len(shown["places"]) == 3
    assert client.get(f"/api/fittings/{fitting}/pull", params={"limit": 0}).status_code == 422


def test_one_shoe_tells_every_size_and_its_stock(running: Web) -> None:
    client = signed_in(running)
    fitting = ready_to_pull(client)
    pair = client.get(f"/api/fittings/{fitting}/pull").json()["places"][0]["pair"]
    path = f"/api/fittings/{fitting}/pull/{pair['model_id']}"
    shoe = client.get(f"{path}/{pair['width']}").json()
    assert [s["label"] for s in shoe["fit"]["sizes"]] == [li["label"] for li in shoe["lines"]]
    for size, line in zip(shoe["fit"]["sizes"], shoe["lines"], strict=True):
        toe = next(z for z in size["zones"] if z["zone"] == "length")
        assert toe["new_mm"] == pytest.approx(line["length_mm"] - shoe["foot_mm"][toe["foot"]]["length"])
    assert client.get(f"{path}/enormous").status_code == 404
    other = next(w for w in ("narrow", "wide", "regular") if w != pair["width"])
    assert client.get(f"{path}/{other}").status_code in (200, 404)


@pytest.mark.parametrize(
    ("text", "found"), [("dovrel", 1), ("JUNIORS", 4), ("%", 0), ("_", 0), ("an", 2), ("\\", 0), ("zzz", 0), ("'", 0)]
)
def test_finding_athletes(running: Web, text: str, found: int) -> None:
    rows = signed_in(running).get("/api/athletes", params={"text": text}).json()
    assert len(rows) >= found if found else rows == []
    assert [r["name"] for r in rows] == sorted(r["name"] for r in rows)


@pytest.mark.parametrize(
    "values",
    [{"name": ""}, {"name": "x" * 121}, {"name": "Ok", "born_on": "yesterday"}, {"name": "Ok", "age": 4}, {}],
)
def test_an_athlete_that_cannot_be_is_refused(running: Web, values: dict[str, Any]) -> None:
    answer = signed_in(running).post("/api/athletes", json={"change_id": str(uuid.uuid4())} | values)
    assert answer.status_code == 422
    assert answer.json()["fields"]


def test_many_hands_on_different_fields_lose_nothing(running: Web) -> None:
    client = signed_in(running)
    fitting = new_fitting(client)
    values = gauge_paths()

    def put(item: tuple[str, Any]) -> int:
        body = {"base_version": 0, "change_id": str(uuid.uuid4()), "set": dict([item])}
        return client.patch(f"/api/fittings/{fitting}/parts/feet", json=body).status_code

    with ThreadPoolExecutor(8) as pool:
        assert set(pool.map(put, values.items())) == {200}
    part = client.get(f"/api/fittings/{fitting}").json()["parts"]["feet"]
    assert part["version"] == len(values)
    for path, value in values.items():
        side, field = path.split("/")
        assert part["body"][side][field] == value


def test_many_hands_on_one_field_let_one_through(running: Web) -> None:
    client = signed_in(running)
    fitting = new_fitting(client)

    def put(value: int) -> int:
        body = {"base_version": 0, "change_id": str(uuid.uuid4()), "set": {"left/length_mm": value}}
        return client.patch(f"/api/fittings/{fitting}/parts/feet", json=body).status_code

    with ThreadPoolExecutor(8) as pool:
        answers_ = sorted(pool.map(put, range(240, 248)))
    assert answers_ == [200] + [409] * 7


def test_assets_are_kept_and_answers_are_not(running: Web) -> None:
    page = plainly.get(running.url).text
    script = re.search(r'src="(/assets/[^"]+\.js)"', page)
    assert script
    asset = plainly.get(running.url + script[1], headers={"accept-encoding": "gzip"})
    assert "immutable" in asset.headers["cache-control"]
    assert asset.headers["content-encoding"] == "gzip"
    assert signed_in(running).get("/api/today").headers["cache-control"] == "no-store"
    assert "no-store" in plainly.get(f"{running.url}/assets/missing.js").headers["cache-control"]


def test_logs_are_lines_of_json_without_people(demo_url: str) -> None:
    port = free_port()
    process = subprocess.Popen(
        [sys.executable, "-m", "uvicorn", "kalon.api.app:create_app", "--factory", "--port", str(port), "--no-access-log",
         "--log-level", "warning"],
        env={**os.environ, "KALON_DATABASE_URL": addresses_of(demo_url).app,
             "KALON_GATE_URL": addresses_of(demo_url).gate, "KALON_LOG": "INFO"}, stdout=subprocess.PIPE, text=True,
    )  # fmt: skip
    try:
        eventually(lambda: answers("127.0.0.1", port) or None)
        with plainly.Client(base_url=f"http://127.0.0.1:{port}") as client:
            client.post("/api/session", json={"login": "ilse", "password": PASSWORDS["ilse"]})
            athlete = new_athlete(client, "Secret Nameson")
            fitting = new_fitting(client, athlete)
            patch(client, fitting, "feet", {"left/length_mm": 251.7})
            client.get("/api/athletes", params={"text": "Nameson"})
    finally:
        process.terminate()
        told, _ = process.communicate(timeout=20)
    lines = [json.loads(text) for text in told.splitlines()]
    routes = {(li["method"], li["route"]) for li in lines}
    assert ("PATCH", "/api/fittings/{fitting_id}/parts/{part}") in routes
    assert all({"status", "ms", "timestamp", "level"} <= set(li) for li in lines)
    for private in ("Nameson", "Secret", "251.7", "ilse", athlete, fitting, PASSWORDS["ilse"]):
        assert private not in told
