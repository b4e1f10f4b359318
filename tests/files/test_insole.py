"""Insoles photographed on paper: length, widths and curve by an independent routine, within limits, spoilt and mended."""

from __future__ import annotations

import io
import json
import subprocess
import sys
from functools import cache
from pathlib import Path

import cv2
import numpy as np
import pytest
from PIL import Image
from shapely import LineString, Polygon

from kalon.core.errors import BadInput
from kalon.core.paper.polygon import across, longest
from kalon.core.paper.sheet import SIZES_MM
from kalon.core.shoes.insole import curve_word, measure_insole
from kalon.devices.camera import Shot
from kalon.devices.shoe import a_shoe, insole_picture, outline, true_insole
from kalon.files.shoes import ShoeSaid, measure_shoe
from tests.much import much

LIMITS = {"inner_length_mm": 1.0, "ball_width_mm": 1.0, "heel_width_mm": 1.0, "last_curve_deg": 1.5}
"""Agreed limits on practice pictures, at 95 in 100."""


def png(shot: Shot) -> bytes:
    out = io.BytesIO()
    Image.fromarray(shot.picture).save(out, "PNG", compress_level=1)
    return out.getvalue()


def by_shapely(edge: np.ndarray) -> dict[str, float]:
    """The same measures by a general geometry library."""
    shape = Polygon(edge)
    hull = np.array(shape.convex_hull.exterior.coords)
    apart = np.linalg.norm(hull[:, None] - hull[None, :], axis=2)
    i, j = np.unravel_index(int(np.argmax(apart)), apart.shape)
    a, b = hull[i], hull[j]
    a, b = (a, b) if a[0] < b[0] else (b, a)
    u = (b - a) / np.hypot(*(b - a))
    n = np.array([-u[1], u[0]])
    length = float(np.hypot(*(b - a)))

    def width(share: float) -> float:
        at = a + u * share * length
        return float(LineString([at - 200 * n, at + 200 * n]).intersection(shape).length)

    return {
        "inner_length_mm": length,
        "ball_width_mm": max(width(s) for s in np.linspace(0.55, 0.85, 60)),
        "heel_width_mm": max(width(s) for s in np.linspace(0.06, 0.32, 60)),
    }


@pytest.mark.parametrize("seed", range(8))
def test_an_outline_is_measured_as_a_geometry_library_measures_it(seed: int) -> None:
    edge = outline(a_shoe(seed))
    turned = edge @ np.array([[np.cos(1.1), -np.sin(1.1)], [np.sin(1.1), np.cos(1.1)]]) + np.array([40, -10])
    _, found = measure_insole(turned)
    for name, value in by_shapely(edge).items():
        assert found.numbers[name].value == pytest.approx(value, abs=0.25), name
    assert found.numbers["last_curve_deg"].value == pytest.approx(true_insole(edge)["last_curve_deg"], abs=0.3)


def test_practice_insoles_are_measured_within_the_limits_and_as_surely_as_said() -> None:
    off: dict[str, list[float]] = {name: [] for name in LIMITS}
    held: list[bool] = []
    for seed in range(100, much(106, 114)):
        dims = a_shoe(seed)
        shot = insole_picture(dims, seed, tilt_deg=(7 * seed) % 25, width=1000)
        said = ShoeSaid(thick_mm=round(2 * dims.insole_mm) / 2)
        found = measure_shoe(png(shot), said).reading
        for name, true in true_insole(outline(dims)).items():
            number = found.numbers[name]
            off[name].append(abs(number.value - true))
            held.append(abs(number.value - true) <= number.within)
    for name, most in LIMITS.items():
        assert np.quantile(off[name], 0.95) <= most, name
    assert np.mean(held) >= 0.9


def test_a_thickness_nobody_says_makes_it_less_sure() -> None:
    dims = a_shoe(5)
    data = png(insole_picture(dims, 5, tilt_deg=5, width=900))
    guess, said = measure_shoe(data, ShoeSaid()).reading, measure_shoe(data, ShoeSaid(thick_mm=dims.insole_mm)).reading
    assert said.numbers["inner_length_mm"].sigma < 0.7 * guess.numbers["inner_length_mm"].sigma
    assert "house default" in guess.notes[0]
    true = true_insole(outline(dims))["inner_length_mm"]
    assert abs(guess.numbers["inner_length_mm"].value - true) <= guess.numbers["inner_length_mm"].within


def test_girth_from_a_width_is_as_unsure_as_widths_tell_girths() -> None:
    _, found = measure_insole(outline(a_shoe(3)))
    girth, width = found.numbers["ball_girth_mm"], found.numbers["ball_width_mm"]
    assert girth.value == pytest.approx(2.42 * width.value)
    assert girth.sigma > 5


def test_either_foot_and_either_way_up_the_sheet_are_the_same() -> None:
    edge = outline(a_shoe(9))
    _, one = measure_insole(edge)
    for other in (edge * np.array([1, -1]), -edge):
        _, found = measure_insole(other)
        assert found.numbers["ball_width_mm"].value == pytest.approx(one.numbers["ball_width_mm"].value, abs=0.2)
        assert found.numbers["heel_width_mm"].value == pytest.approx(one.numbers["heel_width_mm"].value, abs=0.2)


def test_letter_paper_is_letter_paper() -> None:
    dims = a_shoe(11)
    data = png(insole_picture(dims, 2, tilt_deg=6, paper="letter", width=900))
    true = true_insole(outline(dims))["inner_length_mm"]
    right, wrong = (measure_shoe(data, ShoeSaid(paper=p, thick_mm=dims.insole_mm)).reading for p in ("letter", "a4"))  # type: ignore[arg-type]
    assert right.numbers["inner_length_mm"].value == pytest.approx(true, abs=1.2)
    assert wrong.numbers["inner_length_mm"].value > true + 8


def test_what_was_dragged_counts() -> None:
    dims = a_shoe(4)
    data = png(insole_picture(dims, 4, tilt_deg=10, width=900))
    before = measure_shoe(data, ShoeSaid())
    points = np.array(before.shape["on_paper"])
    longer = points.mean(axis=0) + (points - points.mean(axis=0)) * 1.04
    after = measure_shoe(data, ShoeSaid(outline=[(float(x), float(y)) for x, y in longer]))
    grown = after.reading.numbers["inner_length_mm"].value / before.reading.numbers["inner_length_mm"].value
    assert grown == pytest.approx(1.04, abs=0.006)
    again = measure_shoe(before.copy, ShoeSaid.model_validate({"corners": before.shape["corners"]}))
    assert again.reading.numbers["inner_length_mm"].value == pytest.approx(
        before.reading.numbers["inner_length_mm"].value, abs=0.4
    )


def test_a_picture_from_far_aside_is_asked_for_again() -> None:
    far = measure_shoe(png(insole_picture(a_shoe(6), 6, tilt_deg=34, width=900)), ShoeSaid()).reading
    assert any("straighter from above" in q for q in far.questions)


def plain(value: int = 90) -> np.ndarray:
    return np.full((800, 600, 3), value, np.uint8)


def on_paper(mark: str) -> bytes:
    """A sheet on a floor with nothing on it, or a thing too small, or a stick."""
    picture = plain()
    cv2.rectangle(picture, (90, 60), (510, 654), (243, 243, 243), -1)
    if mark == "coin":
        cv2.circle(picture, (300, 350), 40, (40, 60, 120), -1)
    if mark == "stick":
        cv2.rectangle(picture, (290, 100), (304, 600), (40, 60, 120), -1)
    out = io.BytesIO()
    Image.fromarray(picture).save(out, "PNG")
    return out.getvalue()


@pytest.mark.parametrize(
    ("mark", "code"), [("nothing", "outline-none"), ("coin", "outline-none"), ("stick", "outline-")]
)
def test_what_is_no_insole_is_said(mark: str, code: str) -> None:
    with pytest.raises(BadInput) as refused:
        measure_shoe(on_paper(mark), ShoeSaid())
    assert refused.value.code.startswith(code)
    assert refused.value.text.endswith(".")


@pytest.mark.parametrize("seed", range(much(10, 50)))
def test_spoilt_pictures_are_named_or_measured_never_more(seed: int) -> None:
    """Cut short, overwritten, turned into something else: a sentence, or a reading; no other end."""
    rng = np.random.default_rng(seed)
    whole = spoilt_from(1 + seed % 2)
    ways = (
        lambda d: d[: int(rng.integers(1, len(d)))],
        lambda d: d[:60] + bytes(rng.integers(0, 256, 400, dtype=np.uint8)) + d[460:],
        lambda d: bytes(rng.integers(0, 256, int(rng.integers(1, 5000)), dtype=np.uint8)),
        lambda d: b"",
        lambda d: d[::-1],
    )
    refused, found = "", None
    try:
        found = measure_shoe(ways[seed % 5](whole), ShoeSaid()).reading
    except BadInput as error:
        refused = error.text
    assert refused.endswith(".") if found is None else 90 <= found.numbers["inner_length_mm"].value <= 400


@cache
def spoilt_from(seed: int) -> bytes:
    """A picture that is spoilt, small."""
    return png(insole_picture(a_shoe(seed), seed, tilt_deg=4, width=500))


def test_a_sheet_without_a_floor_or_dark_everywhere_is_asked_for() -> None:
    for value in (20, 250):
        out = io.BytesIO()
        Image.fromarray(plain(value)).save(out, "PNG")
        with pytest.raises(BadInput, match=r"paper|insole"):
            measure_shoe(out.getvalue(), ShoeSaid())


def test_how_a_last_curves_in_a_word() -> None:
    assert [curve_word(d) for d in (1, 5, 12)] == ["straight", "semi-curved", "curved"]


def test_the_longest_way_across_and_the_width_along_it() -> None:
    box = np.array([[0.0, 0.0], [100.0, 0.0], [100.0, 40.0], [0.0, 40.0]])
    a, b = longest(box)
    assert float(np.hypot(*(a - b))) == pytest.approx(np.hypot(100, 40))
    _, low, high = across(box, np.array([0.0, 20.0]), np.array([100.0, 20.0]))
    assert (high - low)[5:-5] == pytest.approx(40, abs=0.3)
    assert SIZES_MM["a4"] == (210.0, 297.0)


def test_by_the_command_line(tmp_path: Path) -> None:
    run = [sys.executable, "-m", "kalon.cli"]
    subprocess.run([*run, "simulate", "shoe", "--seed", "3", "--as", "insole", "--into", str(tmp_path)], check=True)
    done = subprocess.run(
        [*run, "measure-shoe", str(tmp_path / "shoe-3-insole.png"), "--as", "insole", "--thick-mm", "4"],
        check=True, capture_output=True, text=True,
    )  # fmt: skip
    found = json.loads(done.stdout)["numbers"]["inner_length_mm"]
    truth = json.loads((tmp_path / "shoe-3-insole.truth.json").read_text())
    assert abs(found["value"] - truth["inner_length_mm"]) < 3
    none = subprocess.run(
        [*run, "measure-shoe", str(tmp_path / "nothing.png")], capture_output=True, text=True, check=False
    )
    assert none.returncode == 2
    assert json.loads(none.stderr)["code"] == "no-file"
