"""Soles and sides photographed over a hung sheet: studs by an independent routine, numbers within limits, spoilt, dragged."""

from __future__ import annotations

import io
from functools import cache

import numpy as np
import pytest
from PIL import Image
from pillow_heif import from_pillow
from skimage.color import rgb2lab
from skimage.filters import gaussian, threshold_multiotsu
from skimage.measure import label, regionprops
from skimage.morphology import convex_hull_image, isotropic_closing, isotropic_erosion, isotropic_opening

from kalon.core.errors import BadInput
from kalon.core.mechanics.squat import SquatIn, squat
from kalon.core.mechanics.studs import Plate, Stud, grip_of
from kalon.core.paper.counter import behind_it, hung, lab_of, seen_squarely, standing_out
from kalon.core.paper.polygon import principal
from kalon.core.paper.sheet import PER_MM, find_hung_paper
from kalon.core.rules.bench import own_plate
from kalon.core.shoes.lost import lost
from kalon.core.shoes.pictured import Way
from kalon.core.shoes.profile import measure_side
from kalon.core.shoes.sole import measure_sole
from kalon.core.shoes.underneath import Spot
from kalon.devices.camera import Shot
from kalon.devices.shoe_pictures import practice_picture, side_picture, sole_picture
from kalon.devices.shoe_solid import a_solid, in_own_frame, softened, true_side, worn
from kalon.files.reading import kind_of, read_picture
from kalon.files.shoes import ShoePicture, ShoeSaid, measure_shoe
from tests.made import QUICKLY
from tests.much import much

PLACE_MM, DROP_MM, DOWNTURN_DEG = 1.5, 1.0, 1.5
"""Agreed limits on practice pictures, at 95 in 100."""


def file_of(shot: Shot, form: str = "JPEG") -> bytes:
    out = io.BytesIO()
    Image.fromarray(shot.picture).save(out, form, quality=92)
    return out.getvalue()


@cache
def sole_of(seed: int) -> tuple[bytes, ShoePicture]:
    """A studded sole, its length and its studs' height said as a rule would read them."""
    made = a_solid(seed, "studded")
    _, edge = in_own_frame(made)
    data = file_of(sole_picture(made, seed, width=1300, tilt_deg=(3 * seed) % 25))
    said = ShoeSaid(sole_mm=round(float(np.ptp(edge[:, 0]))), stud_mm=round(2 * made.studs[0].height_mm) / 2)
    return data, measure_shoe(data, said, way="sole")


SOLES = much((2, 12), (2, 4, 7, 9, 12, 15))


def test_studs_stand_where_they_stand() -> None:
    off, held, found, there, asked = [], [], 0, 0, 0
    for seed in SOLES:
        studs, _ = in_own_frame(a_solid(seed, "studded"))
        reading = sole_of(seed)[1].reading
        if any("run into each other" in q for q in reading.questions):
            asked += 1  # black studs that hide one another: it says so
            continue
        found, there = found + len(reading.studs), there + len(studs)
        for stud in studs:
            near = min(reading.studs, key=lambda s: np.hypot(s.x_mm - stud.x_mm, s.y_mm - stud.y_mm))
            place = float(np.hypot(near.x_mm - stud.x_mm, near.y_mm - stud.y_mm))
            off.append(place)
            held.append(place <= 2.45 * reading.numbers["stud_place_mm"].sigma)
            assert near.shape == stud.shape
            if stud.shape == "blade":
                assert near.angle_deg == pytest.approx(stud.angle_deg, abs=6)
    assert found == there
    assert asked <= 1
    assert np.quantile(off, 0.95) <= PLACE_MM
    assert np.mean(held) >= 0.9


def by_scikit_image(data: bytes) -> list[tuple[float, float]]:
    """Studs of a sole with bright tips, on the wall, by a general library: colour, convex hull, labelled regions."""
    pixels = read_picture(data)
    corners = find_hung_paper(pixels).corners
    wall = seen_squarely(pixels, hung(corners, "a4", (pixels.shape[1], pixels.shape[0])))
    lab = rgb2lab(wall.picture)
    shoe = standing_out(wall, lab_of(wall.picture), behind_it(lab_of(wall.picture)))
    assert shoe is not None
    plain = np.median(lab[isotropic_erosion(shoe > 0, 30)], axis=0)
    apart = gaussian(np.linalg.norm(lab - plain, axis=2), 1.5)
    face = convex_hull_image(isotropic_opening(isotropic_closing((apart < 15) & (shoe > 0), 6), 6))
    inside = apart[isotropic_erosion(face, 12)]
    level = threshold_multiotsu(inside, 3)[-1]  # the tip against its shaded side, and that against the face
    blobs = isotropic_opening((apart > level) & isotropic_erosion(face, 8), 4)
    areas = [r for r in regionprops(label(blobs)) if 15 < r.area / PER_MM**2 < 500]
    return [(wall.u0 + (r.centroid[1] + 0.5) / PER_MM, wall.v1 - (r.centroid[0] + 0.5) / PER_MM) for r in areas]


BRIGHT = (23, 15)
"""Seeds whose tips are bright on a dark sole, so that a plain threshold finds them."""


@pytest.mark.parametrize("seed", much(BRIGHT[:1], BRIGHT))
def test_an_independent_routine_finds_the_same_studs(seed: int) -> None:
    made = a_solid(seed, "studded")
    data = file_of(sole_picture(made, seed, width=1300, tilt_deg=2))
    ours = measure_shoe(data, ShoeSaid(stud_mm=made.studs[0].height_mm), way="sole").shape["spots"]
    theirs = by_scikit_image(data)
    assert len(ours) == len(made.studs) <= len(theirs)
    for u, v in (s["at"] for s in ours):
        assert min(float(np.hypot(u - a, v - b)) for a, b in theirs) <= PLACE_MM


def test_sides_are_measured_within_the_limits_and_as_surely_as_said() -> None:
    off: dict[str, list[float]] = {"drop_mm": [], "downturn_deg": [], "stud_mm": []}
    held = []
    for seed in much((1, 4, 11, 12), (1, 2, 3, 4, 6, 9, 11, 12, 16, 20)):
        made = a_solid(seed)
        side = "right" if seed % 2 else "left"
        data = file_of(side_picture(made, seed, width=1700, tilt_deg=seed % 5, side=side))  # type: ignore[arg-type]
        numbers = measure_shoe(data, ShoeSaid(), way="side").reading.numbers
        for name, true in true_side(made).items():
            if name in off and name in numbers:
                off[name].append(abs(numbers[name].value - true))
                held.append(abs(numbers[name].value - true) <= numbers[name].within)
    assert np.quantile(off["drop_mm"], 0.95) <= DROP_MM
    assert np.quantile(off["downturn_deg"], 0.95) <= DOWNTURN_DEG
    assert len(off["stud_mm"]) >= 2
    assert np.mean(held) >= 0.9


def test_the_plate_of_a_picture_grips_as_the_true_one() -> None:
    """The stud computation on measured numbers comes within what the places' doubt can change."""
    seed = SOLES[0]
    true, _ = in_own_frame(a_solid(seed, "studded"))
    found = sole_of(seed)[1].reading.studs
    for_mm, foot = 270.0, 260.0
    grips = [
        grip_of(Plate.of(own_plate(list(s), for_mm, foot)), "firm_natural", False, 1400, (0.6 * foot, 0.0))
        for s in (true, found)
    ]
    assert grips[1].forward == pytest.approx(grips[0].forward, rel=0.06)
    assert grips[1].torque_n_m == pytest.approx(grips[0].torque_n_m, rel=0.08)
    placed = own_plate(list(true), for_mm, foot)
    assert placed[0].x_mm == pytest.approx((true[0].x_mm - 3) * 1.0)
    assert placed[0].diameter_mm == true[0].diameter_mm


def test_the_drop_of_a_picture_leans_the_trunk_as_the_true_one() -> None:
    made = a_solid(6, "flat")
    drop = measure_shoe(file_of(side_picture(made, 6, width=1700, tilt_deg=2)), ShoeSaid(), way="side").reading.numbers
    leans = [
        squat(SquatIn(stature_mm=1780, body_kg=80, bar_kg=100, dorsiflexion_deg=33, drop_mm=d)).trunk_lean_deg
        for d in (true_side(made)["drop_mm"], drop["drop_mm"].value)
    ]
    assert leans[0] is not None
    assert leans[1] == pytest.approx(leans[0], abs=1.0)


def test_what_wore_off_is_told_and_what_didnt_isnt() -> None:
    def side(seed: int, by: float = 0, hook: float = 0) -> ShoePicture:
        made = softened(worn(a_solid(seed, "studded" if by else "hooked"), by), hook)
        return measure_shoe(
            file_of(side_picture(made, seed + int(by + hook), width=1700, tilt_deg=1)), ShoeSaid(), way="side"
        )

    new = measure_shoe(
        file_of(side_picture(a_solid(4, "studded"), 4, width=1700, tilt_deg=1)), ShoeSaid(), way="side"
    ).reading
    old = side(4, by=6).reading
    by_name = {x.name: x for x in lost(new, old)}
    assert by_name["stud_mm"].sure
    assert by_name["stud_mm"].lost.value == pytest.approx(6, abs=by_name["stud_mm"].lost.within)
    assert "worn" in by_name["stud_mm"].text
    assert not by_name["heel_stack_mm"].sure, "it stands lower by its studs alone"
    again = {x.name: x for x in lost(new, new)}
    assert not any(x.sure for x in again.values())
    hooked, soft = side(12).reading, side(12, hook=8).reading
    gone = {x.name: x for x in lost(hooked, soft)}["downturn_deg"]
    assert gone.sure
    assert gone.lost.value == pytest.approx(8, abs=2.5)


def test_what_was_dragged_counts() -> None:
    data, found = sole_of(SOLES[0])
    spots = [dict(s) for s in found.shape["spots"]]
    spots[0]["at"] = [spots[0]["at"][0] + 5, spots[0]["at"][1]]
    outline = [tuple(p) for p in found.shape["on_paper"]]
    said = ShoeSaid.model_validate(found.said | {"spots": spots[:-1], "outline": outline})
    again = measure_shoe(data, said, way="sole").reading
    assert len(again.studs) == len(found.reading.studs) - 1
    moved = min(float(np.hypot(a.x_mm - b.x_mm, a.y_mm - b.y_mm)) for a in again.studs for b in found.reading.studs)
    assert moved < 0.8
    made = a_solid(6, "flat")
    picture = file_of(side_picture(made, 6, width=1300, tilt_deg=2))
    first = measure_shoe(picture, ShoeSaid(), way="side")
    u, v = first.shape["marks"]["heel_seam"]
    higher = measure_shoe(picture, ShoeSaid(marks={"heel_seam": (u, v + 4)}), way="side").reading
    grown = higher.numbers["drop_mm"].value - first.reading.numbers["drop_mm"].value
    assert grown == pytest.approx(4, abs=0.4)


@pytest.mark.parametrize("way", ["insole", "sole", "side"])
def test_measured_again_from_what_is_kept_nothing_moves_by_itself(way: Way) -> None:
    data, _ = practice_picture(way, 2)
    first = measure_shoe(data, ShoeSaid(), way=way)
    again = measure_shoe(first.copy, ShoeSaid(), way=way, again=True)
    assert again.copy == first.copy
    assert again.reading == first.reading
    assert again.shape == first.shape


def test_the_length_said_sets_the_scale_and_the_inner_side_is_a_matter_of_saying() -> None:
    data, found = sole_of(SOLES[1])
    unsaid = measure_shoe(data, ShoeSaid(stud_mm=found.said["stud_mm"]), way="sole").reading
    assert found.reading.numbers["sole_length_mm"].sigma < unsaid.numbers["sole_length_mm"].sigma
    longer = measure_shoe(data, ShoeSaid.model_validate(found.said | {"sole_mm": 320}), way="sole").reading
    assert longer.numbers["sole_length_mm"].value == pytest.approx(320)
    up, down = (
        measure_shoe(data, ShoeSaid.model_validate(found.said | {"inner": side}), way="sole").reading.studs
        for side in ("up", "down")
    )
    assert sorted(round(s.y_mm, 1) for s in up) == pytest.approx(sorted(round(-s.y_mm, 1) for s in down), abs=0.2)


def test_marks_that_cannot_be_are_refused() -> None:
    camera = np.array([150.0, 60.0, 700.0])
    with pytest.raises(BadInput, match="no mark"):
        measure_side({"heel": (0, 5), "toe": (280, 5)}, camera)
    marks = {
        "heel": (0.0, 20.0), "toe": (280.0, 20.0), "heel_ground": (40.0, 0.0), "fore_ground": (190.0, 0.0),
        "collar": (35.0, 90.0), "heel_seam": (42.0, 30.0), "fore_seam": (190.0, 20.0),
        "under_rear": (170.0, 0.0), "under_ball": (70.0, 0.0), "under_fore": (205.0, 0.0), "under_toe": (260.0, 2.0),
    }  # fmt: skip
    with pytest.raises(BadInput, match="behind"):
        measure_side(marks, camera)


def test_a_sole_by_arithmetic() -> None:
    """An ellipse with two studs, square before the camera: length, widths and places by hand."""
    t = np.linspace(0, 2 * np.pi, 400, endpoint=False)
    x = 140 * np.cos(t)
    edge = np.column_stack([140 + x, (40 + 8 * x / 140) * np.sin(t) + 50])
    camera = np.array([140.0, 50.0, 800.0])
    tips = [Spot((200.0, 70.0), 10, 10, 0, False), Spot((60.0, 40.0), 20, 6, 10, True)]
    _, found = measure_sole(edge, tips, camera, stud_mm=8, inner="up")
    assert found.numbers["sole_length_mm"].value == pytest.approx(280, abs=0.2)
    near = {s.shape: s for s in found.studs}
    shrunk = 1 - 8 / 800  # a tip stands nearer the camera
    assert near["conical"].x_mm == pytest.approx(140 + 60 * shrunk, abs=0.3)
    assert near["conical"].y_mm == pytest.approx(20 * shrunk, abs=0.3)
    assert near["conical"].diameter_mm == pytest.approx(10 * shrunk, abs=0.05)
    assert near["blade"].angle_deg == pytest.approx(10, abs=0.2)
    middle, way = principal(edge)
    assert abs(way[1]) < 0.01
    assert middle[1] == pytest.approx(50, abs=0.2)


def test_a_telephones_own_format_is_read() -> None:
    made = a_solid(6, "flat")
    shot = side_picture(made, 6, width=1300, tilt_deg=2)
    out = io.BytesIO()
    from_pillow(Image.fromarray(shot.picture)).save(out, quality=90, enc_params=QUICKLY)
    data = out.getvalue()
    assert kind_of(data[:4096], len(data)) == "tracing"
    assert np.abs(read_picture(data).astype(int) - shot.picture).mean() < 6
    drop = measure_shoe(data, ShoeSaid(), way="side").reading.numbers["drop_mm"]
    assert abs(drop.value - true_side(made)["drop_mm"]) <= 1.5
    with pytest.raises(BadInput, match="damaged"):
        read_picture(data[: len(data) // 3])


def test_a_hung_sheet_is_found_before_a_light_wall_and_a_white_sole() -> None:
    for seed in much((28,), (1, 28, 45)):
        shot = sole_picture(a_solid(seed), seed, width=1000, tilt_deg=10)
        found = find_hung_paper(shot.picture)
        assert found.found
        assert max(np.linalg.norm(found.corners - c, axis=1).min() for c in shot.corners) < 2.5


@cache
def spoilt_from(way: Way) -> bytes:
    """The picture that is spoilt, small."""
    if way == "sole":
        return file_of(sole_picture(a_solid(1, "studded"), 1, width=600, tilt_deg=4))
    return file_of(side_picture(a_solid(2, "studded"), 2, width=600, tilt_deg=2))


@pytest.mark.parametrize("way", ["sole", "side"])
@pytest.mark.parametrize("seed", range(much(10, 50)))
def test_spoilt_pictures_are_named_or_measured_never_more(way: Way, seed: int) -> None:
    """Cut short, overwritten, dark, turned, of nothing: a sentence, or a reading a shoe can have; no other end."""
    rng = np.random.default_rng(seed)
    whole = spoilt_from(way)

    def pictured(pixels: np.ndarray) -> bytes:
        out = io.BytesIO()
        Image.fromarray(pixels.astype(np.uint8)).save(out, "JPEG")
        return out.getvalue()

    seen = np.asarray(Image.open(io.BytesIO(whole)))
    ways = (
        lambda: whole[: int(rng.integers(1, len(whole)))],
        lambda: whole[:60] + bytes(rng.integers(0, 256, 400, dtype=np.uint8)) + whole[460:],
        lambda: bytes(rng.integers(0, 256, int(rng.integers(1, 5000)), dtype=np.uint8)),
        lambda: pictured(np.rot90(seen, int(rng.integers(1, 4)))),
        lambda: pictured(np.clip(seen * rng.uniform(0.03, 0.3), 0, 255)),
        lambda: pictured(seen[: int(rng.integers(310, 420))]),
        lambda: pictured(np.roll(seen, int(rng.integers(100, 400)), axis=1)),
        lambda: pictured(rng.integers(0, 256, (500, 500, 3))),
        lambda: pictured(np.full((400, 500, 3), rng.integers(0, 256))),
        lambda: b"",
    )
    refused, found = "", None
    try:
        found = measure_shoe(ways[seed % 10](), ShoeSaid(), way=way).reading
    except BadInput as error:
        refused = error.text
    assert refused.endswith(".") if found is None else 100 <= found.numbers["sole_length_mm"].value <= 420


def test_a_practice_shoe_is_the_same_for_the_same_seed() -> None:
    one, true = practice_picture("sole", 5, kind="studded")
    other, _ = practice_picture("sole", 5, kind="studded")
    assert one == other
    assert isinstance(true["studs"], list)
    assert true["studs"]
    five, six = (side_picture(a_solid(seed), seed, width=400).picture for seed in (5, 6))
    assert not np.array_equal(five, six)


def test_a_stud_needs_its_measures() -> None:
    with pytest.raises(ValueError, match="diameter"):
        Stud(shape="conical", x_mm=0, y_mm=0, height_mm=5)
