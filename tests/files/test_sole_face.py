"""A sole's face and rim, its studs where they are hard to tell, and the sheet under something that hangs over it.

Limits are house defaults, held against made-up shoes whose true measures are known.
"""

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
from numpy.typing import NDArray
from PIL import Image
from scipy import ndimage
from scipy.spatial import cKDTree

from kalon.core.paper.counter import Wall, lab_of
from kalon.core.paper.polygon import even
from kalon.core.paper.sheet import PER_MM, disc, find_hung_paper, without_holes
from kalon.core.shoes.face import MOST_FAINT, face, faint, under_studs
from kalon.core.shoes.sole import measure_sole
from kalon.devices.counter import WALL_MM, before_counter, front_of, on_top
from kalon.devices.shoe_pictures import practice_picture, sole_picture
from kalon.devices.shoe_solid import Solid, a_solid, in_own_frame
from kalon.files.shoes import ShoePicture, ShoeSaid, measure_shoe

Floats = NDArray[np.float64]


def shoe(seed: int) -> Solid:
    """A studded sole."""
    return a_solid(seed, "studded")


@cache
def picture_of(seed: int, tilt: float, scuffed: float = 0.0) -> NDArray[np.uint8]:
    """Its photograph."""
    return sole_picture(shoe(seed), seed, width=1500, tilt_deg=tilt, scuffed=scuffed).picture


def sole_of(pixels: NDArray[np.uint8], seed: int) -> ShoePicture:
    """The photograph measured, its length by rule and its studs' height said."""
    out = io.BytesIO()
    Image.fromarray(pixels).save(out, "JPEG", quality=92)
    _, edge = in_own_frame(shoe(seed))
    high = round(2 * shoe(seed).studs[0].height_mm) / 2
    return measure_shoe(out.getvalue(), ShoeSaid(sole_mm=round(float(np.ptp(edge[:, 0]))), stud_mm=high), way="sole")


def rim_off(found: ShoePicture, seed: int) -> float:
    """How far the rim found is from the true one, mm, at 95 in 100."""
    _, edge = in_own_frame(shoe(seed))
    apart, _ = cKDTree(even(edge, 0.25)).query(np.array(found.shape["outline"]))
    return float(np.quantile(apart, 0.95))


def test_a_soles_own_wall_in_shade_is_not_its_face() -> None:
    """Dark soles from 25° aside show a strip of their own wall beside them, hardly darker than they are."""
    for seed in (31, 181):
        assert rim_off(sole_of(picture_of(seed, 25.0), seed), seed) < 1.5


def test_a_rim_under_a_stud_is_drawn_across() -> None:
    around = np.linspace(0, 2 * np.pi, 400, endpoint=False)
    circle = 80 + 40 * np.column_stack([np.cos(around), np.sin(around)])
    bitten = circle.copy()
    bitten[np.abs(around - 1.0) < 0.2] -= 5 * np.array([np.cos(1.0), np.sin(1.0)])
    wall = Wall(np.zeros((640, 640, 3), np.uint8), 0.0, 160.0)
    studs = np.zeros((640, 640), np.uint8)
    x, y = wall.pixels(80 + 38 * np.array([[np.cos(1.0), np.sin(1.0)]]))[0]
    cv2.circle(studs, (round(x), round(y)), 10 * PER_MM, 255.0, -1)

    def off(rim: Floats) -> float:
        return float(np.abs(np.linalg.norm(rim - 80, axis=1) - 40).max())

    assert off(bitten) > 4
    assert off(under_studs(wall, bitten, studs)) < 0.6
    assert off(under_studs(wall, circle, studs)) < 0.6
    assert under_studs(wall, bitten, np.zeros_like(studs)) is bitten
    cv2.circle(studs, (round(x), round(y)), 34 * PER_MM, 255.0, -1)
    assert off(under_studs(wall, bitten, studs)) > 4, "too much is hidden to be drawn across"


def test_what_a_mask_encloses_is_filled_and_nothing_else() -> None:
    """As scipy's own routine fills it, which goes round by round and takes twenty times as long."""
    rng = np.random.default_rng(3)
    for grain in (1, 4, 12):
        mask = ndimage.gaussian_filter(rng.normal(size=(160, 240)), grain) > 0.02 / grain
        assert (without_holes(mask) == ndimage.binary_fill_holes(mask) * 255).all()
        assert (without_holes(mask) > 0).sum() > mask.sum()
    assert not without_holes(np.zeros((5, 5), np.uint8)).any()


def test_a_rim_hardly_unlike_what_is_behind_it_is_said_to_be() -> None:
    picture = np.full((480, 720, 3), 120, np.uint8)
    picture[:, :360] = (60, 62, 66)
    cv2.ellipse(picture, (360, 240), (260, 120), 0, 0, 360, (64, 64, 68), -1)
    wall = Wall(picture, 0.0, 120.0)
    around = np.linspace(0, 2 * np.pi, 300, endpoint=False)
    rim = wall.at(np.column_stack([360 + 260 * np.cos(around), 240 + 120 * np.sin(around)]))
    hardly = faint(wall, lab_of(picture), rim)
    assert hardly == pytest.approx(0.5, abs=0.06)
    _, plain = measure_sole(*slab())
    _, doubted = measure_sole(*slab(), faint=hardly)
    assert doubted.numbers["sole_ball_mm"].sigma > 1.9 > plain.numbers["sole_ball_mm"].sigma
    assert hardly > MOST_FAINT


def slab() -> tuple[Floats, list[object], Floats]:
    """The rim of a sole of no shoe in particular, no studs, and where a camera stood."""
    edge = in_own_frame(a_solid(3, "flat"))[1]
    return edge * np.array([1, 1]), [], np.array([150.0, 40.0, 420.0])


def test_a_wall_of_another_colour_in_as_much_light_stays() -> None:
    """Without the point before the camera nothing is taken for a wall, and a plain sole loses nothing with it."""
    picture = np.full((400, 800, 3), 150, np.uint8)
    for colour in ((40, 60, 110), (1, 1, 1)):
        cv2.ellipse(picture, (400, 200), (340, 110), 0, 0, 360, colour, -1)
        same_with_and_without(picture)


def same_with_and_without(picture: NDArray[np.uint8]) -> None:
    shape = (np.asarray(picture[..., 2]) < 140).astype(np.uint8) * 255
    both = [face(lab_of(picture), shape, before) for before in (None, np.array([400.0, 900.0]))]
    assert all(m is not None for m in both)
    sizes = [float((m > 0).sum()) for m in both if m is not None]
    assert sizes[1] == pytest.approx(sizes[0], rel=0.01)
    assert sizes[0] == pytest.approx(float((shape > 0).sum()), rel=0.03)


@pytest.mark.parametrize(("seed", "tilt"), [(75, 23.0), (65, 13.0), (153, 23.0)])
def test_studs_before_a_wall_of_their_own_colour(seed: int, tilt: float) -> None:
    """Grey studs, grey wall: the wall is no stud, and doesn't swallow them."""
    found = sole_of(picture_of(seed, tilt, float(seed % 3 == 0)), seed)
    assert len(found.reading.studs) == len(shoe(seed).studs)


def test_blades_that_run_into_each_other_are_parted_and_it_says_so() -> None:
    found = sole_of(picture_of(185, 3.0), 185)
    studs, _ = in_own_frame(shoe(185))
    assert len(found.reading.studs) == len(studs)
    assert any("were parted: check" in q for q in found.reading.questions)
    for stud in studs:
        near = min(found.reading.studs, key=lambda s: np.hypot(s.x_mm - stud.x_mm, s.y_mm - stud.y_mm))
        assert np.hypot(near.x_mm - stud.x_mm, near.y_mm - stud.y_mm) < 2.5


def test_blades_that_hide_each_other_are_asked_for() -> None:
    found = sole_of(picture_of(171, 15.0, 1.0), 171)
    assert len(found.reading.studs) < len(shoe(171).studs)
    assert any("photograph it more squarely, or add them" in q for q in found.reading.questions)


@pytest.mark.parametrize(("seed", "tilt", "scuffed"), [(1005, 17.0, 1.0), (1061, 21.0, 0.0)])
def test_two_round_studs_end_to_end_are_no_blade(seed: int, tilt: float, scuffed: float) -> None:
    found = sole_of(picture_of(seed, tilt, scuffed), seed)
    asks = any("run into each other" in q for q in found.reading.questions)
    assert asks
    assert len(found.reading.studs) == len(shoe(seed).studs) or any("add them" in q for q in found.reading.questions)


def over_the_edge(pixels: NDArray[np.uint8], corners: Floats, share: tuple[float, float]) -> NDArray[np.uint8]:
    """Something bright hung from above over a share of the sheet's upper edge."""
    a, b = sorted(corners, key=lambda c: float(c[1]))[:2]
    a, b = (a, b) if a[0] < b[0] else (b, a)
    one, other = a + share[0] * (b - a), a + share[1] * (b - a)
    down = np.array([0.0, 1.0])
    shape = np.array(
        [one - 60 * down, other - 60 * down, other + 9 * down, (one + other) / 2 + 14 * down, one + 9 * down]
    )
    laid = pixels.copy()
    cv2.fillPoly(laid, [np.round(shape).astype(np.int32)], (205, 168, 60), cv2.LINE_AA)
    return np.asarray(cv2.GaussianBlur(laid, (0, 0), 0.8), dtype=np.uint8)


def test_what_hangs_over_the_sheet_doesnt_draw_its_edge_aside() -> None:
    for seed, tilt in ((75, 23.0), (30, 4.0)):
        pixels = picture_of(seed, tilt, 1.0)
        plain = find_hung_paper(pixels)
        assert plain.found
        lapped = find_hung_paper(over_the_edge(pixels, plain.corners, (0.2, 0.55)))
        assert lapped.found
        assert np.abs(lapped.corners - plain.corners).max() < 1.5
        most = find_hung_paper(over_the_edge(pixels, plain.corners, (-0.1, 1.1)))
        moved = np.abs(most.corners - plain.corners).max() if most.found else 0.0
        assert not most.found or moved < 25, "an edge nobody sees is asked for, or taken where the thing over it ends"


def test_the_practice_counter_is_seen_as_it_stands() -> None:
    rng = np.random.default_rng(4)
    for tilt in (0.0, 12.0, 25.0):
        for level in (False, True):
            view = before_counter(rng, 400, "a4", tilt if not level else tilt / 5, level=level)
            at = -view.rotation.T @ view.shift
            front, top = front_of(view), on_top(view)
            for point, of_front in (((148, -60, 0), True), ((148, 90, 0), False), ((40, 200, WALL_MM), False)):
                x, y = view.project(np.array([point], dtype=float))[0].astype(int)
                if 0 <= x < 400 and 0 <= y < 400:
                    assert front[y, x] == of_front
            assert not (front & top).any()
            assert top.any() == (at[1] > 0)


def test_a_worn_practice_shoe_by_the_command_line(tmp_path: Path) -> None:
    run = [sys.executable, "-m", "kalon.cli", "simulate", "shoe", "--seed", "5", "--as", "sole", "--kind", "studded"]
    truths = []
    for name, more in (("new", []), ("old", ["--studs-worn", "2.5", "--tilt", "10"])):
        subprocess.run([*run, *more, "--into", str(tmp_path / name)], check=True, capture_output=True)
        truths.append(json.loads((tmp_path / name / "shoe-5-sole.truth.json").read_text())["studs"][0]["height_mm"])
    assert truths[0] - truths[1] == pytest.approx(2.5)
    hooks = [practice_picture("side", 3, kind="hooked", hook_lost_deg=by)[1]["downturn_deg"] for by in (0.0, 5.0)]
    assert isinstance(hooks[0], float) and isinstance(hooks[1], float)
    assert hooks[0] - hooks[1] == pytest.approx(min(5.0, hooks[0]), abs=1.0)
    assert disc(1).shape == (5, 5)
