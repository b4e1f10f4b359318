"""Scans: set upright however they come, measured within the limits, honest about noise and holes."""

from __future__ import annotations

import numpy as np
import pytest
from scipy.spatial.transform import Rotation

from kalon.core.errors import BadInput
from kalon.core.feet.scan import ScanGiven, measure_scan
from kalon.core.feet.surface import Surface, merged, neighbours, roughness_mm, smoothed
from kalon.core.feet.upright import unit_of
from kalon.devices.foot import FootDims, first_toe_edge, loft, sample_pair, surface

LIMITS = {"length_mm": 1.0, "ball_width_mm": 1.0, "heel_width_mm": 1.0, "ball_girth_mm": 2.0, "instep_girth_mm": 2.0,
          "instep_height_mm": 1.0, "toe_height_mm": 1.0, "first_toe_angle_deg": 1.5}  # fmt: skip
"""The house's limits on clean scans."""


def made(seed: int, side: int = 1, triangles: int = 40_000) -> tuple[FootDims, Surface]:
    dims = sample_pair(seed)[side]
    mesh = surface(dims, triangles)
    return dims, merged(Surface(mesh.vertices, mesh.faces))


def turned(one: Surface, seed: int, noise: float = 0.0) -> Surface:
    rng = np.random.default_rng(seed)
    points = one.vertices + rng.normal(0, noise, one.vertices.shape) if noise else one.vertices
    return Surface(points @ Rotation.random(rng=rng).as_matrix().T + rng.uniform(-300, 300, 3), one.faces)


@pytest.mark.parametrize("seed", range(2, 8))
@pytest.mark.parametrize("side", [0, 1])
def test_clean_scans_are_measured_within_the_limits_however_turned(seed: int, side: int) -> None:
    dims, one = made(seed, side)
    shape, reading = measure_scan(turned(one, seed))
    assert (shape.side, reading.side, shape.unit) == (dims.side, dims.side, "mm")
    for name, limit in LIMITS.items():
        assert abs(reading.numbers[name].value - getattr(dims, name)) <= limit, name
    assert reading.toe_shape == dims.toe_shape
    assert reading.questions == []


@pytest.mark.parametrize("noise", [0.2, 0.35, 0.5])
def test_noise_is_found_and_widens_every_number(noise: float) -> None:
    dims, one = made(3)
    _, clean = measure_scan(one)
    _, noisy = measure_scan(turned(one, 5, noise))
    assert noisy.numbers["ball_girth_mm"].sigma > 1.05 * clean.numbers["ball_girth_mm"].sigma
    for name, number in noisy.numbers.items():
        assert number.sigma > 0.98 * clean.numbers[name].sigma
        assert abs(number.value - getattr(dims, name)) <= 2 * number.within, name


def test_roughness_is_the_noise_put_in() -> None:
    _, one = made(4)
    fine = one
    for noise in (0.2, 0.4):
        rng = np.random.default_rng(1)
        rough = Surface(fine.vertices + rng.normal(0, noise, fine.vertices.shape), fine.faces)
        assert roughness_mm(rough, neighbours(rough)) == pytest.approx(noise, rel=0.3)
    assert roughness_mm(fine, neighbours(fine)) < 0.1


def test_smoothing_takes_noise_out_and_keeps_size() -> None:
    _, one = made(4)
    rng = np.random.default_rng(1)
    rough = Surface(one.vertices + rng.normal(0, 0.4, one.vertices.shape), one.faces)
    graph = neighbours(rough)
    calm = smoothed(rough, graph, 6)
    assert roughness_mm(calm, graph) < 0.5 * roughness_mm(rough, graph)
    assert np.ptp(calm.vertices[:, 0]) == pytest.approx(np.ptp(one.vertices[:, 0]), abs=1.2)


@pytest.mark.parametrize(("unit", "factor"), [("m", 0.001), ("cm", 0.1), ("inch", 1 / 25.4), ("mm", 1.0)])
def test_units_are_found_and_said(unit: str, factor: float) -> None:
    dims, one = made(6)
    shape, reading = measure_scan(Surface(one.vertices * factor, one.faces))
    assert shape.unit == unit
    assert reading.numbers["length_mm"].value == pytest.approx(dims.length_mm, abs=1)
    assert unit in reading.notes[0]


def test_no_unit_makes_a_house_a_foot() -> None:
    with pytest.raises(BadInput, match="no unit"):
        unit_of(9e6)


def test_a_mirrored_file_reads_as_the_other_foot_and_can_be_mirrored_back() -> None:
    dims, one = made(5)
    mirrored = Surface(one.vertices * np.array([1.0, -1.0, 1.0]), one.faces[:, ::-1])
    shape, _ = measure_scan(turned(mirrored, 2))
    assert shape.side == "left"
    _, said = measure_scan(turned(mirrored, 2), ScanGiven(side="right"))
    assert any("mirrored" in q for q in said.questions)
    _, back = measure_scan(turned(mirrored, 2), ScanGiven(mirrored=True))
    assert back.side == "right"
    assert back.numbers["ball_girth_mm"].value == pytest.approx(dims.ball_girth_mm, abs=2)


def test_two_feet_in_one_file_are_told_apart() -> None:
    left, one = made(4, 0)
    right, other = made(4, 1)
    away = other.vertices + np.array([10.0, 160.0, 0.0])
    both = Surface(np.vstack([one.vertices, away]), np.vstack([one.faces, other.faces + len(one.vertices)]))
    first, second = (measure_scan(turned(both, 3), ScanGiven(pick=p)) for p in (0, 1))
    assert {first[0].side, second[0].side} == {"left", "right"}
    assert first[0].feet_in_file == 2
    lengths = {r.side: r.numbers["length_mm"].value for _, r in (first, second)}
    assert lengths["left"] == pytest.approx(left.length_mm, abs=1)
    assert lengths["right"] == pytest.approx(right.length_mm, abs=1)


def test_a_hole_is_seen_and_said_and_specks_don_t_matter() -> None:
    dims, one = made(7)
    gone = (
        (np.abs(one.vertices[:, 0] - dims.length_mm / 2) < 14) & (one.vertices[:, 2] > 40) & (one.vertices[:, 1] > -8)
    )
    keep = ~gone[one.faces].any(axis=1)
    rng = np.random.default_rng(0)
    speck = rng.normal(0, 2, (40, 3)) + np.array([100.0, 200.0, 150.0])
    faces = np.arange(39)[:, None] + np.array([[0, 1, 0]]) + len(one.vertices)
    faces[:, 2] = len(one.vertices)
    holed = Surface(np.vstack([one.vertices, speck]), np.vstack([one.faces[keep], faces]))
    _, reading = measure_scan(holed)
    assert any("hole" in q and "instep" in q for q in reading.questions)
    _, whole = measure_scan(one)
    assert reading.numbers["instep_girth_mm"].sigma > 1.5 * whole.numbers["instep_girth_mm"].sigma
    assert reading.numbers["length_mm"].value == pytest.approx(dims.length_mm, abs=1)


def test_a_leg_stump_of_any_height_changes_nothing() -> None:
    dims = sample_pair(8)[1]
    for leg in (0.36, 0.7):
        mesh = surface(dims, 40_000, leg_mm=leg * dims.length_mm)
        _, reading = measure_scan(Surface(mesh.vertices, mesh.faces))
        assert reading.numbers["length_mm"].value == pytest.approx(dims.length_mm, abs=1)
        assert reading.numbers["instep_girth_mm"].value == pytest.approx(dims.instep_girth_mm, abs=2)


@pytest.mark.parametrize(
    ("spoil", "code"),
    [
        (lambda v, f: Surface(v, f[:100]), "scan-too-coarse"),
        (lambda v, f: Surface(np.where(v > v.max() - 1, np.nan, v), f), "scan-not-finite"),
        (lambda v, f: Surface(v * 1e7, f), "scan-size"),
        (lambda v, f: Surface(v * np.array([1.0, 1.0, 0.0]), f), "scan-flat"),
    ],
)
def test_what_is_no_foot_is_refused_in_words(spoil, code: str) -> None:  # type: ignore[no-untyped-def]
    _, one = made(2)
    with pytest.raises(BadInput) as caught:
        measure_scan(spoil(one.vertices, one.faces))
    assert caught.value.code == code
    assert caught.value.text.endswith((".", "?"))


def test_corrections_count() -> None:
    dims, one = made(9)
    swapped = measure_scan(one, ScanGiven(flip_ends=True))[1]
    assert abs(swapped.numbers["heel_width_mm"].value - dims.heel_width_mm) > 3
    upright = measure_scan(turned(one, 4), ScanGiven(side="left"))[1]
    assert upright.side == "left"
    assert measure_scan(one, ScanGiven(up=(0, 0, 1)))[1].numbers["length_mm"].value == pytest.approx(
        dims.length_mm, abs=1
    )


def test_the_made_foot_is_what_it_says() -> None:
    """By construction: widths, heights and tips of the made surface, straight from its corners."""
    dims, one = made(11)
    v = one.vertices
    assert v[:, 0].max() == pytest.approx(dims.length_mm, abs=0.05)
    assert v[:, 0].min() == pytest.approx(0, abs=1e-6)
    x1, y1 = dims.first_head
    body = loft(dims)
    assert body.section(body.ball_at)[:, 1].max() == pytest.approx(y1, abs=0.05)
    assert np.hypot(x1 - dims.fifth_head[0], y1 - dims.fifth_head[1]) == pytest.approx(dims.ball_width_mm)
    assert body.section(dims.length_mm / 2)[:, 2].max() == pytest.approx(dims.instep_height_mm, abs=0.05)
    assert first_toe_edge(dims)[0] < dims.length_mm
