"""Files in and out over HTTP: every kind, corrections, two people, spoilt files by the hundred, nothing stored."""

from __future__ import annotations

import io
import json
import threading
import time
import uuid
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from typing import Any

import httpx
import psycopg
import pytest
from PIL import Image

from kalon.devices.foot import sample_pair
from kalon.devices.practice import make
from tests.api.calls import new_athlete, new_fitting, patch, signed_in
from tests.much import much
from tests.running import Web
from tests.spoilt import KINDS, good, spoilt


@pytest.fixture(scope="module")
def ilse(running: Web) -> httpx.Client:
    client = signed_in(running)
    client.timeout = httpx.Timeout(90)
    return client


def bring(
    client: httpx.Client, fitting: str, name: str, data: bytes, id_: str | None = None, **said: Any
) -> httpx.Response:
    query = {"id": id_ or str(uuid.uuid4()), "name": name, "said": json.dumps(said)}
    return client.post(f"/api/fittings/{fitting}/captures", params=query, content=data)


def practise(client: httpx.Client, fitting: str, device: str, side: str, seed: int = 2) -> dict[str, Any]:
    body = {"id": str(uuid.uuid4()), "device": device, "side": side, "seed": seed}
    answer = client.post(f"/api/fittings/{fitting}/practice", json=body)
    assert answer.status_code == 201, answer.text
    return dict(answer.json()["fitting"])


@pytest.mark.parametrize("name", sorted(KINDS))
def test_every_kind_of_file_is_read(ilse: httpx.Client, name: str) -> None:
    answer = bring(ilse, new_fitting(ilse), name, good()[name])
    assert answer.status_code == 201, answer.text
    capture = answer.json()["fitting"]["captures"][0]
    assert capture["kind"] == {"csv": "mat", "jpg": "tracing", "png": "tracing"}.get(name[-3:], "scan")
    assert capture["side"] == "right"
    if capture["kind"] != "mat":
        assert capture["reading"]["numbers"]["length_mm"]["value"] == pytest.approx(
            sample_pair(2)[1].length_mm, abs=1.5
        )


@pytest.mark.parametrize("turn", [3, 6, 8])
def test_pictures_a_camera_noted_as_turned_and_in_print_colours_are_read_right(ilse: httpx.Client, turn: int) -> None:
    """Turned by EXIF, or CMYK: both hold a whole picture, so they are read rather than refused."""
    plain = Image.open(io.BytesIO(good()["photo.png"]))
    back = {3: Image.Transpose.ROTATE_180, 6: Image.Transpose.ROTATE_90, 8: Image.Transpose.ROTATE_270}[turn]
    exif = Image.Exif()
    exif[0x0112] = turn
    turned, cmyk = io.BytesIO(), io.BytesIO()
    plain.transpose(back).save(turned, "JPEG", quality=92, exif=exif)
    plain.convert("CMYK").save(cmyk, "JPEG", quality=92)
    for name, data in (("turned.jpg", turned.getvalue()), ("cmyk.jpg", cmyk.getvalue())):
        answer = bring(ilse, new_fitting(ilse), name, data)
        assert answer.status_code == 201, answer.text
        numbers = answer.json()["fitting"]["captures"][0]["reading"]["numbers"]
        assert numbers["length_mm"]["value"] == pytest.approx(sample_pair(2)[1].length_mm, abs=1.5)


def test_over_three_hundred_spoilt_files_each_get_a_clear_problem_and_leave_nothing(
    ilse: httpx.Client, demo_url: str
) -> None:
    every = spoilt()
    assert len(every) >= 300
    assert len({name for name, _ in every}) == len(every)
    files = every[:: much(6, 1)]
    fitting = new_fitting(ilse)
    wrong = []
    slow = []

    def send(file: tuple[str, bytes]) -> tuple[str, httpx.Response, float]:
        began = time.monotonic()
        return file[0], bring(ilse, fitting, *file), time.monotonic() - began

    with ThreadPoolExecutor(2) as hands:
        told = list(hands.map(send, files))
    for name, answer, took_s in told:
        if took_s > 30:
            slow.append(name)
        problem = answer.json() if answer.headers["content-type"] == "application/problem+json" else {}
        said = str(problem.get("title", ""))
        clear = len(said) > 15 and said.rstrip()[-1] in ".?" and "Traceback" not in said
        if not (400 <= answer.status_code < 500 and clear and problem["code"] != "bad-input"):
            wrong.append((name, answer.status_code, answer.text[:160]))
    assert wrong == []
    assert slow == []
    with psycopg.connect(demo_url) as cx:
        kept = cx.execute("SELECT count(*) FROM foot_capture WHERE fitting_id = %s", [fitting]).fetchone()
        left = cx.execute("SELECT count(*) FROM capture_progress").fetchone()
    assert (kept, left) == ((0,), (0,))


def test_a_body_over_the_limit_is_refused_while_it_streams(ilse: httpx.Client) -> None:
    def endless() -> Iterator[bytes]:
        for _ in range(200):
            yield bytes(1_000_000)

    query = {"id": str(uuid.uuid4()), "name": "huge.stl"}
    answer = ilse.post(f"/api/fittings/{new_fitting(ilse)}/captures", params=query, content=endless())
    assert (answer.status_code, answer.json()["code"]) == (422, "file-large")


def test_the_same_upload_twice_is_one_capture(ilse: httpx.Client) -> None:
    fitting, id_ = new_fitting(ilse), str(uuid.uuid4())
    for _ in range(2):
        answer = bring(ilse, fitting, "mat.csv", good()["mat.csv"], id_)
        assert answer.status_code == 201
    assert [c["id"] for c in answer.json()["fitting"]["captures"]] == [id_]


def test_gauge_scan_tracing_and_mat_together(ilse: httpx.Client) -> None:
    fitting = new_fitting(ilse)
    dims = {"left": sample_pair(2)[0], "right": sample_pair(2)[1]}
    wide = round(dims["left"].ball_width_mm + 9, 1)
    assert patch(ilse, fitting, "feet", {"left/ball_width_mm": wide}).status_code == 200
    for device in ("scanner", "camera", "mat"):
        for side in ("left", "right"):
            found = practise(ilse, fitting, device, side)
    for side, truth in dims.items():
        numbers = found["found"][side]["numbers"]
        for name in ("length_mm", "ball_girth_mm", "instep_girth_mm", "heel_width_mm", "instep_height_mm"):
            assert numbers[name]["value"] == pytest.approx(getattr(truth, name), abs=2), (side, name)
        assert numbers["arch_index"]["value"] == pytest.approx(truth.arch_index, abs=0.01)
        assert {s["source"] for s in numbers["length_mm"]["sources"]} == {"scan", "tracing"}
    disagree = found["found"]["left"]["numbers"]["ball_width_mm"]
    assert disagree["source"] != "gauge"
    assert "further apart" in disagree["conflict"]
    assert found["stations"][0]["state"] == "done"
    patch(ilse, fitting, "feet", {"prefer/left/ball_width_mm": "gauge"})
    chosen = ilse.get(f"/api/fittings/{fitting}").json()["found"]["left"]["numbers"]["ball_width_mm"]
    assert (chosen["value"], chosen["chosen"]) == (wide, True)
    brief = {"sport": "football", "discipline": "match", "surface": "firm_natural", "body_kg": 70}
    patch(ilse, fitting, "brief", brief)
    assert ilse.get(f"/api/fittings/{fitting}/pull").status_code == 200


def test_what_is_drawn_and_shown(ilse: httpx.Client) -> None:
    fitting = new_fitting(ilse)
    for device in ("scanner", "camera", "mat"):
        found = practise(ilse, fitting, device, "left")
    by_kind = {c["kind"]: c["id"] for c in found["captures"]}
    shape = ilse.get(f"/api/captures/{by_kind['scan']}/shape").json()
    assert {"ball", "instep", "heel"} <= set(shape["loops"])
    assert len(shape["outline"]) > 60
    surface = ilse.get(f"/api/captures/{by_kind['scan']}/surface").content
    corners = int.from_bytes(surface[:4], "little")
    assert (len(surface) - 4 - 12 * corners) % 12 == 0
    for flat in ("false", "true"):
        picture = ilse.get(f"/api/captures/{by_kind['tracing']}/picture", params={"flat": flat})
        assert picture.headers["content-type"] == "image/jpeg"
        assert Image.open(io.BytesIO(picture.content)).size[1] > 500
    assert len(ilse.get(f"/api/captures/{by_kind['mat']}/shape").json()["zones"]) == 7
    assert ilse.get(f"/api/captures/{by_kind['mat']}/surface").status_code == 422
    assert ilse.get(f"/api/captures/{by_kind['scan']}/picture").status_code == 422


def test_corrections_are_kept_and_two_people_don_t_overwrite_each_other(running: Web, ilse: httpx.Client) -> None:
    fitting = new_fitting(ilse)
    capture = practise(ilse, fitting, "scanner", "left")["captures"][0]
    url = f"/api/captures/{capture['id']}"
    done = ilse.patch(url, json={"version": 1, "said": {"side": "right", "stance": "sitting"}})
    assert done.status_code == 200
    changed = done.json()["captures"][0]
    assert (changed["side"], changed["version"], changed["reading"]["stance"]) == ("right", 2, "sitting")
    bram = signed_in(running, "bram")
    late = bram.patch(url, json={"version": 1, "said": {"side": "left"}}, timeout=30)
    assert (late.status_code, late.json()["code"]) == (409, "changed-elsewhere")
    wrong = ilse.patch(url, json={"version": 2, "said": {"unit": "m"}})
    assert (wrong.status_code, wrong.json()["code"]) == (422, "scan-size")
    assert ilse.get(f"/api/fittings/{fitting}").json()["captures"][0]["version"] == 2
    bad = ilse.patch(url, json={"version": 2, "said": {"unit": "furlong"}})
    assert bad.status_code == 422
    assert "unit" in bad.json()["fields"][0]["field"]


def test_taken_out_and_put_back(ilse: httpx.Client) -> None:
    fitting = new_fitting(ilse)
    capture = practise(ilse, fitting, "mat", "left")["captures"][0]["id"]
    assert ilse.delete(f"/api/captures/{capture}").json()["captures"] == []
    assert ilse.get(f"/api/captures/{capture}/shape").status_code == 404
    other = practise(ilse, fitting, "mat", "right")["captures"][-1]["id"]
    gone = ilse.get(f"/api/fittings/{fitting}").json()
    assert [c["id"] for c in gone["captures"]] == [other]
    assert not gone["found"]["left"]["numbers"]
    back = ilse.post(f"/api/captures/{capture}/back").json()
    assert {c["id"] for c in back["captures"]} == {capture, other}
    assert back["found"]["left"]["numbers"]


@pytest.mark.parametrize("form", ["json", "csv", "svg"])
def test_written_out_and_read_back(ilse: httpx.Client, form: str) -> None:
    fitting = new_fitting(ilse)
    before = practise(ilse, fitting, "scanner", "left")
    out = ilse.get(f"/api/fittings/{fitting}/feet.{form}")
    assert out.status_code == 200
    answer = bring(ilse, new_fitting(ilse), f"feet.{form}", out.content)
    assert answer.status_code == 201, answer.text
    after = answer.json()["fitting"]["found"]["left"]["numbers"]
    kept = before["found"]["left"]["numbers"]
    if form == "svg":
        assert after["length_mm"]["value"] == pytest.approx(kept["length_mm"]["value"], abs=1.5)
        assert after["ball_width_mm"]["value"] == pytest.approx(kept["ball_width_mm"]["value"], abs=2)
        return
    assert set(after) == set(kept)
    for name, number in kept.items():
        assert after[name]["value"] == pytest.approx(number["value"], rel=1e-12)
        assert after[name]["uncertainty"] == pytest.approx(number["uncertainty"], rel=1e-12)


def test_a_new_fitting_carries_the_captured_feet_along_and_shows_growth(ilse: httpx.Client) -> None:
    body = {"change_id": str(uuid.uuid4()), "name": "Grow Ing", "born_on": "2015-03-01"}
    athlete = ilse.post("/api/athletes", json=body).json()["id"]
    first = new_fitting(ilse, athlete)
    data, _ = make("stl", 4, "left")
    seen = bring(ilse, first, "scan.stl", data).json()["fitting"]["found"]["left"]["numbers"]["length_mm"]["value"]
    second = new_fitting(ilse, athlete)
    carried = ilse.get(f"/api/fittings/{second}").json()["captures"]
    assert [(c["kind"], c["side"]) for c in carried] == [("record", "left")]
    assert carried[0]["reading"]["numbers"]["length_mm"]["value"] == pytest.approx(seen)
    third = new_fitting(ilse, athlete)
    again = ilse.get(f"/api/fittings/{third}").json()["captures"]
    assert [c["name"] for c in again] == [c["name"] for c in carried]
    time_ = ilse.get(f"/api/fittings/{second}/feet/over-time").json()
    assert [v["fitting_id"] for v in time_["visits"]] == [first]
    assert time_["visits"][0]["outlines"]["left"]
    assert time_["growth"]["left"]["still_growing"]
    assert time_["growth"]["left"]["remeasure_on"]
    assert time_["swelling"]


def test_progress_is_told_and_others_are_not_held_up(running: Web, ilse: httpx.Client) -> None:
    fitting = new_fitting(ilse)
    data, _ = make("stl", 3, "left")
    ids = [str(uuid.uuid4()) for _ in range(3)]
    threads = [threading.Thread(target=bring, args=(signed_in(running), fitting, "scan.stl", data, i)) for i in ids]
    for thread in threads:
        thread.start()
    other = signed_in(running)
    steps: set[str] = set()
    waits: list[float] = []
    begun = time.monotonic()
    while any(t.is_alive() for t in threads):
        began = time.monotonic()
        assert other.get("/health").status_code == 200
        waits.append(time.monotonic() - began)
        for id_ in ids:
            told = other.get(f"/api/captures/{id_}/progress").json()
            if told:
                steps.add(told["step"])
                assert 0 <= told["share"] <= 1
    assert steps
    assert max(waits) < (time.monotonic() - begun) / 4, "others waited while a file was measured"
    assert len(ilse.get(f"/api/fittings/{fitting}").json()["captures"]) == 3
    assert other.get(f"/api/captures/{ids[0]}/progress").json() is None


def test_a_settled_fitting_takes_no_more_captures(ilse: httpx.Client) -> None:
    settled = next(a["fitting_id"] for a in ilse.get("/api/athletes").json() if a["state"] in ("settled", "returned"))
    assert bring(ilse, settled, "mat.csv", good()["mat.csv"]).status_code == 409
    body = {"id": str(uuid.uuid4()), "device": "mat", "side": "left", "seed": 1}
    assert ilse.post(f"/api/fittings/{settled}/practice", json=body).status_code == 409


def test_another_shops_captures_are_not_there(running: Web, ilse: httpx.Client) -> None:
    fitting = new_fitting(ilse, new_athlete(ilse))
    capture = practise(ilse, fitting, "camera", "left")["captures"][0]["id"]
    theirs = signed_in(running, "sorrel")
    for path in ("shape", "picture", "surface"):
        assert theirs.get(f"/api/captures/{capture}/{path}").status_code == 404
    assert theirs.get(f"/api/captures/{capture}/progress").json() is None
    assert theirs.delete(f"/api/captures/{capture}").status_code == 404
    assert theirs.patch(f"/api/captures/{capture}", json={"version": 1, "said": {}}).status_code == 404
    assert bring(theirs, fitting, "mat.csv", good()["mat.csv"]).status_code == 404
    assert theirs.get(f"/api/fittings/{fitting}/feet.csv").status_code == 404
