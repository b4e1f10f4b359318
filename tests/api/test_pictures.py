"""Pictures of shoes over HTTP: measured in a worker, corrected, kept for the catalogue, against a pair's first day."""

from __future__ import annotations

import json
import uuid
from concurrent.futures import ThreadPoolExecutor
from functools import cache
from typing import Any

import httpx
import pytest

from kalon.core.shoes.pictured import Way
from kalon.devices.shoe_pictures import practice_picture
from kalon.devices.shoe_solid import Kind
from tests.api.calls import new_fitting, patch, signed_in
from tests.api.test_day import sold
from tests.running import Web


@pytest.fixture(scope="module")
def ilse(running: Web) -> httpx.Client:
    client = signed_in(running)
    client.timeout = httpx.Timeout(90)
    return client


@cache
def photo(way: Way, seed: int = 5, kind: Kind | None = "studded", worn_mm: float = 0.0) -> tuple[bytes, dict[str, Any]]:
    data, truth = practice_picture(way, seed, kind=kind, studs_worn_mm=worn_mm)
    return data, dict(truth)


def a_line(client: httpx.Client, sport: str = "football", nth: int = 0) -> tuple[str, str]:
    """A stock line of a sport, and its model."""
    model = client.get("/api/rack", params={"sport": sport, "limit": 20}).json()["models"][nth]
    return model["sizes"][1]["id"], model["id"]


def bring(client: httpx.Client, to: str, way: Way, data: bytes, id_: str | None = None, **said: Any) -> httpx.Response:
    query = {"id": id_ or str(uuid.uuid4()), "way": way, "name": f"{way}.png", "said": json.dumps(said)}
    return client.post(f"{to}/pictures", params=query, content=data)


def test_an_insole_kept_makes_its_size_surer(ilse: httpx.Client) -> None:
    line, model = a_line(ilse)
    before = ilse.get(f"/api/stock/{line}/inside").json()["zones"]["length"]
    data, truth = photo("insole", 3)
    picture = bring(ilse, f"/api/stock/{line}", "insole", data, thick_mm=round(2 * truth["insole_mm"]) / 2).json()
    assert picture["reading"]["numbers"]["inner_length_mm"]["value"] == pytest.approx(truth["inner_length_mm"], abs=1.5)
    assert not picture["kept"]
    assert ilse.get(f"/api/stock/{line}/inside").json()["zones"]["length"] == before
    kept = ilse.post(f"/api/shoe-pictures/{picture['id']}/keep", json={"version": picture["version"]})
    again = ilse.post(f"/api/shoe-pictures/{picture['id']}/keep", json={"version": picture["version"]})
    assert kept.json()["kept"]
    assert again.status_code == 200
    inside = ilse.get(f"/api/stock/{line}/inside").json()
    assert inside["zones"]["length"]["sigma_mm"] < 0.6 * before["sigma_mm"]
    assert [r["source"] for r in inside["readings"]].count("insole") == 3, "length, ball and heel, once each"
    corrected = ilse.patch(f"/api/shoe-pictures/{picture['id']}", json={"version": 1, "said": {"thick_mm": 5}}).json()
    assert not corrected["kept"]
    ilse.post(f"/api/shoe-pictures/{picture['id']}/keep", json={"version": 2})
    after = ilse.get(f"/api/stock/{line}/inside").json()
    assert [r["source"] for r in after["readings"]].count("insole") == 3, "one picture is one reading of a zone"
    known = {p["slug"]: p["value"] for p in ilse.get(f"/api/models/{model}/bench").json()["properties"]}
    assert known["last_curve_deg"] == pytest.approx(truth["last_curve_deg"], abs=1)


def test_a_soles_plate_goes_into_the_stud_computation(ilse: httpx.Client) -> None:
    line, model = a_line(ilse, nth=1)
    data, truth = photo("sole")
    picture = bring(ilse, f"/api/stock/{line}", "sole", data, stud_mm=round(truth["studs"][0]["height_mm"])).json()
    assert len(picture["reading"]["studs"]) == len(truth["studs"])
    fitting = new_fitting(ilse)
    patch(
        ilse, fitting, "brief", {"sport": "football", "discipline": "match", "surface": "firm_natural", "body_kg": 70}
    )
    assert ilse.get(f"/api/fittings/{fitting}/own/{model}").json()["on_ground"] is None
    ilse.post(f"/api/shoe-pictures/{picture['id']}/keep", json={"version": 1})
    own = ilse.get(f"/api/fittings/{fitting}/own/{model}").json()["on_ground"]
    plate = own["plates"][0]
    assert plate["plate"] == "own"
    assert len(plate["studs"]) == len(truth["studs"])
    assert plate["grip"] > 0.2
    assert plate["torque_n_m"] > 2
    assert {p["plate"] for p in own["plates"][1:]} >= {"firm_ground_round"}


def test_one_stud_by_calliper_and_one_that_stands_lower(ilse: httpx.Client) -> None:
    line, _ = a_line(ilse, nth=1)
    picture = bring(ilse, f"/api/stock/{line}", "sole", photo("sole")[0], stud_mm=9).json()
    spots = picture["shape"]["spots"]
    round_one = next(i for i, s in enumerate(spots) if not s["blade"])
    assert picture["shape"]["sides_mm"][round_one] == [pytest.approx(spots[round_one]["wide"], rel=0.08)]
    spots[round_one] |= {"long": 14.2, "wide": 14.2, "calliper": True, "height_mm": 4.5}
    said = {"version": 1, "said": picture["said"] | {"spots": spots}}
    now = ilse.patch(f"/api/shoe-pictures/{picture['id']}", json=said).json()
    by_hand = [s for s in now["reading"]["studs"] if s["diameter_mm"] == 14.2]
    assert [s["height_mm"] for s in by_hand] == [4.5]
    assert {s["height_mm"] for s in now["reading"]["studs"]} == {9, 4.5}
    taller = {"version": 2, "said": now["said"] | {"stud_mm": 12}}
    now = ilse.patch(f"/api/shoe-pictures/{picture['id']}", json=taller).json()
    assert {s["height_mm"] for s in now["reading"]["studs"]} == {12, 4.5}, "the others follow what is said of all"
    assert ilse.get(f"/api/shoe-pictures/{picture['id']}").json() == now
    assert ilse.get(f"/api/shoe-pictures/{uuid.uuid4()}").status_code == 404


def test_a_side_gives_the_drop_the_squat_is_drawn_with(ilse: httpx.Client) -> None:
    line, model = a_line(ilse, "lifting")
    data, truth = photo("side", 6, "flat")
    picture = bring(ilse, f"/api/stock/{line}", "side", data).json()
    found = picture["reading"]["numbers"]["drop_mm"]
    assert abs(found["value"] - truth["drop_mm"]) <= 1.5
    assert ilse.post(f"/api/shoe-pictures/{picture['id']}/keep", json={"version": 1}).json()["kept"]
    fitting = new_fitting(ilse)
    patch(
        ilse, fitting, "brief",
        {"sport": "lifting", "discipline": "olympic", "body_kg": 80, "stature_mm": 1780, "bar": "front", "bar_kg": 100, "level": "competitive"},
    )  # fmt: skip
    own = ilse.get(f"/api/fittings/{fitting}/own/{model}")
    assert own.status_code == 200, own.text
    assert own.json()["lifter"]["given"]["drop_mm"] == pytest.approx(round(found["value"], 1), abs=0.06)


def test_a_picture_sent_twice_or_by_many_at_once_is_one(ilse: httpx.Client) -> None:
    line, _ = a_line(ilse, nth=2)
    other, _ = a_line(ilse, nth=3)
    id_, data = str(uuid.uuid4()), photo("insole", 3)[0]
    with ThreadPoolExecutor(3) as pool:
        answers = list(pool.map(lambda _: bring(ilse, f"/api/stock/{line}", "insole", data, id_), range(3)))
    assert {a.status_code for a in answers} == {201}
    assert len({a.json()["taken_at"] for a in answers}) == 1
    assert len(ilse.get(f"/api/stock/{line}/pictures").json()) == 1
    elsewhere = bring(ilse, f"/api/stock/{other}", "insole", data, id_)
    assert (elsewhere.status_code, elsewhere.json()["code"]) == (409, "id-used")


def test_two_people_correcting_one_picture(ilse: httpx.Client) -> None:
    line, _ = a_line(ilse, nth=4)
    picture = bring(ilse, f"/api/stock/{line}", "side", photo("side")[0]).json()
    # Measured again it is measured from the kept copy: that is what a correction is held against.
    picture = ilse.patch(f"/api/shoe-pictures/{picture['id']}", json={"version": 1, "said": {"wide_mm": 100}}).json()
    u, v = picture["shape"]["marks"]["heel_seam"]
    change = {"version": 2, "said": {"wide_mm": 100, "marks": {"heel_seam": [u, v + 3]}}}
    first = ilse.patch(f"/api/shoe-pictures/{picture['id']}", json=change)
    assert first.status_code == 200, first.text
    grown = first.json()["reading"]["numbers"]["drop_mm"]["value"] - picture["reading"]["numbers"]["drop_mm"]["value"]
    assert grown == pytest.approx(3, abs=0.5)
    second = ilse.patch(f"/api/shoe-pictures/{picture['id']}", json=change)
    assert (second.status_code, second.json()["code"]) == (409, "changed-elsewhere")
    stale = ilse.post(f"/api/shoe-pictures/{picture['id']}/keep", json={"version": 1})
    assert stale.status_code == 409
    for flat in (False, True):
        seen = ilse.get(f"/api/shoe-pictures/{picture['id']}/image", params={"flat": flat})
        assert seen.headers["content-type"] == "image/jpeg"
        assert seen.content[:2] == b"\xff\xd8"
    assert ilse.delete(f"/api/shoe-pictures/{picture['id']}").status_code == 200
    assert ilse.get(f"/api/shoe-pictures/{picture['id']}/image").status_code == 404


def test_a_practice_shoe_never_counts_for_the_catalogue(ilse: httpx.Client) -> None:
    line, model = a_line(ilse, nth=5)
    before = ilse.get(f"/api/models/{model}/bench").json()["properties"]
    body = {"id": str(uuid.uuid4()), "way": "side", "seed": 6}
    made = ilse.post(f"/api/stock/{line}/practice-shoe", json=body)
    again = ilse.post(f"/api/stock/{line}/practice-shoe", json=body)
    assert made.status_code == again.status_code == 201
    assert made.json()["practice"]
    kept = ilse.post(f"/api/shoe-pictures/{made.json()['id']}/keep", json={"version": 1})
    assert kept.json()["code"] == "practice"
    assert ilse.get(f"/api/models/{model}/bench").json()["properties"] == before


@pytest.mark.parametrize(
    ("data", "code"), [(b"", "file-empty"), (b"no picture", "file-damaged"), (b"x" * 100, "file-damaged")]
)
def test_what_is_no_picture_is_said(ilse: httpx.Client, data: bytes, code: str) -> None:
    line, _ = a_line(ilse)
    answer = bring(ilse, f"/api/stock/{line}", "side", data)
    assert answer.status_code == 422, answer.text
    assert answer.json()["title"].endswith(".")
    assert answer.json()["code"] in (code, "file-damaged", "file-empty")
    wrong = ilse.post(f"/api/stock/{line}/pictures", params={"id": str(uuid.uuid4()), "way": "heel"}, content=data)
    assert wrong.status_code == 422


def test_a_pair_is_told_what_it_lost_since_its_first_day(ilse: httpx.Client) -> None:
    athlete, _, _ = sold(ilse, "Studda Wornsdottir")
    pair = ilse.get(f"/api/athletes/{athlete}/pairs").json()[0]["id"]
    new, old = photo("side", 4)[0], photo("side", 4, "studded", 6.0)[0]
    assert ilse.get(f"/api/pairs/{pair}/pictures").json() == {"pictures": [], "lost": []}
    assert bring(ilse, f"/api/pairs/{pair}", "side", new).status_code == 201
    one = ilse.get(f"/api/pairs/{pair}/pictures").json()["lost"][0]
    assert one["then"] is None
    assert bring(ilse, f"/api/pairs/{pair}", "side", old).status_code == 201
    gone = ilse.get(f"/api/pairs/{pair}/pictures").json()["lost"][0]
    assert not gone["of_model"]
    studs = next(x for x in gone["lost"] if x["name"] == "stud_mm")
    assert studs["sure"]
    assert studs["lost"]["value"] == pytest.approx(6, abs=2)
    mine = ilse.get(f"/api/pairs/{pair}/pictures").json()["pictures"][0]["id"]
    refused = ilse.post(f"/api/shoe-pictures/{mine}/keep", json={"version": 1})
    assert refused.json()["code"] == "not-stock"


def test_hand_tests_are_kept_as_what_they_stand_for(ilse: httpx.Client) -> None:
    _, model = a_line(ilse, "lifting", 1)
    bench = ilse.get(f"/api/models/{model}/bench").json()
    assert [t["slug"] for t in bench["tests"]][:3] == ["fold", "wring", "press_heel"]
    url, id_ = f"/api/models/{model}/tests/fold", str(uuid.uuid4())
    folded = ilse.post(url, json={"id": id_, "finding": "soft"}).json()
    assert next(t for t in folded["tests"] if t["slug"] == "fold")["found"] == "soft"
    assert ilse.post(url, json={"id": id_, "finding": "soft"}).status_code == 200
    olympic = next(g for g in folded["good_for"] if g["discipline"] == "olympic")
    stiff = ilse.post(url, json={"id": str(uuid.uuid4()), "finding": "firm"}).json()
    better = next(g for g in stiff["good_for"] if g["discipline"] == "olympic")
    assert (better["met"] or 0) > (olympic["met"] or 0)
    weighed = ilse.post(f"/api/models/{model}/tests/scales", json={"id": str(uuid.uuid4()), "value": 480}).json()
    assert {p["slug"]: p["value"] for p in weighed["properties"]}["mass_g"] == 480
    for slug, body, field in (
        ("fold", {"finding": "x"}, "finding"),
        ("scales", {}, "value"),
        ("scales", {"value": 9000}, "mass"),
    ):
        answer = ilse.post(f"/api/models/{model}/tests/{slug}", json={"id": str(uuid.uuid4()), **body})
        assert answer.status_code == 422, slug
        assert field in answer.text
    assert (
        ilse.post(f"/api/models/{model}/tests/rub", json={"id": str(uuid.uuid4()), "finding": "clean"}).status_code
        == 422
    )


def test_what_it_is_good_for_is_the_rulebooks(ilse: httpx.Client) -> None:
    _, model = a_line(ilse)
    found = ilse.get(f"/api/models/{model}/bench").json()["good_for"]
    assert {g["discipline"] for g in found} >= {"match", "training"}
    assert all(g["why"] and 0 <= g["known"] <= 1 for g in found)
    for g in found:
        assert set(g["each"]) >= {"soft_natural", "indoor_hall"}
    elsewhere = ilse.get(f"/api/models/{model}/elsewhere").json()
    assert all(g["sport"] != "football" and g["known"] >= 0.6 for g in elsewhere)
