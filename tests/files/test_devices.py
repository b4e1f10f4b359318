"""The practice devices keep their word: the same seed the same file, and feet as they say they are."""

from __future__ import annotations

import itertools
import json
from dataclasses import asdict, replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from kalon.core.errors import BadInput
from kalon.core.feet.gauge import POSSIBLE_MM, Feet, read_feet
from kalon.devices.foot import FootDims, loft, sample_pair, surface, toes
from kalon.devices.mat import record
from kalon.devices.paper import photograph, silhouette
from kalon.devices.practice import A4_HOLDS_MM, dims_of, make, png_bytes


@settings(max_examples=25, deadline=None)
@given(seed=st.integers(0, 100_000))
def test_every_seed_gives_a_possible_pair(seed: int) -> None:
    left, right = sample_pair(seed)
    assert (left.side, right.side) == ("left", "right")
    assert sample_pair(seed) == (left, right)
    for dims in (left, right):
        for name, (low, high) in POSSIBLE_MM.items():
            assert low <= getattr(dims, name) <= high, name
        loft(dims)
        json.dumps(asdict(dims))
    assert abs(left.length_mm - right.length_mm) < 12
    numbers = ("length_mm", "ball_width_mm", "ball_girth_mm", "instep_girth_mm", "heel_width_mm")
    body = {d.side: {n: getattr(d, n) for n in numbers} for d in (left, right)}
    assert read_feet(Feet.model_validate(body)).complete


@pytest.mark.parametrize("what", ["stl", "png", "csv"])
def test_the_same_seed_is_the_same_file_and_another_is_not(what: str) -> None:
    one, again, other = make(what, 2, "left"), make(what, 2, "left"), make(what, 4, "right")  # type: ignore[arg-type]
    assert one == again
    assert one[0] != other[0]


def test_a_foot_longer_than_the_paper_is_not_photographed() -> None:
    long = replace(dims_of(2, "left"), length_mm=A4_HOLDS_MM + 5)
    with pytest.raises(BadInput, match="longer than the paper"):
        png_bytes(long, 1, 10)


@pytest.mark.parametrize("triangles", [5_000, 40_000, 200_000])
def test_as_many_triangles_as_asked_about(triangles: int) -> None:
    mesh = surface(FootDims(), triangles)
    assert len(mesh.faces) == pytest.approx(triangles, rel=0.35)
    assert mesh.faces.max() < len(mesh.vertices)


def test_a_left_foot_is_a_right_one_mirrored() -> None:
    right, left = surface(FootDims(), 8_000), surface(FootDims(side="left"), 8_000)
    assert left.vertices == pytest.approx(right.vertices * np.array([1.0, -1.0, 1.0]))

    def volume(mesh: object) -> float:
        v, f = mesh.vertices, mesh.faces  # type: ignore[attr-defined]
        return float(np.einsum("ij,ij->i", v[f[:, 0]], np.cross(v[f[:, 1]], v[f[:, 2]])).sum() / 6)

    assert volume(left) == pytest.approx(volume(right), rel=1e-6)


def test_the_second_toe_lies_on_the_axis_and_toes_don_t_cross() -> None:
    for seed in range(2, 12):
        found = toes(sample_pair(seed)[1])
        assert found[1].middle(200) == pytest.approx(0, abs=0.3)
        for one, other in itertools.pairwise(found[1:]):
            apart = one.middle(200) - other.middle(200)
            assert apart >= one.half_width + other.half_width - 0.1


@pytest.mark.parametrize("girth", [(200.0, 190.0), (500.0, 480.0)])
def test_no_foot_has_such_girths(girth: tuple[float, float]) -> None:
    with pytest.raises(ValueError, match="sign"):
        loft(FootDims(ball_girth_mm=girth[0] * 0.5, instep_girth_mm=girth[1]))


def test_the_silhouette_is_as_wide_as_the_foot() -> None:
    dims = FootDims()
    mask, _ = silhouette(dims, 8)
    rows, columns = np.nonzero(mask)
    assert np.ptp(rows) / 8 == pytest.approx(dims.length_mm, abs=0.4)
    assert np.ptp(columns) / 8 == pytest.approx(dims.breadth_mm, abs=0.4)


@pytest.mark.parametrize("tilt", [0, 20, 35])
def test_a_photograph_holds_the_whole_sheet(tilt: float) -> None:
    for seed in range(2):
        shot = photograph(sample_pair(2)[1], seed, tilt_deg=tilt, width=600)
        height, width = shot.picture.shape[:2]
        assert (shot.corners > 0).all()
        assert (shot.corners < np.array([width, height])).all()


def test_a_step_rolls_from_heel_to_toes() -> None:
    made = record(sample_pair(2)[1], 2, frames=20, turn_deg=0)
    rows = np.arange(made.frames.shape[1])
    centres = [float((f.sum(axis=1) @ rows) / f.sum()) for f in made.frames if f.sum() > 500]
    assert centres[0] - centres[-1] > 10
    assert made.frames.min() >= 0
