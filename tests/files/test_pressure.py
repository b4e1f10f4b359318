"""Prints: the arch index within a hundredth of the made one, zones, the path, one foot of two."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from kalon.core.errors import BadInput
from kalon.core.feet.pressure import measure_print
from kalon.devices.foot import FootDims, sample_pair
from kalon.devices.mat import index_of, parts, record, waist_for


@pytest.mark.parametrize("seed", [2, 5, 9])
@pytest.mark.parametrize("cell_mm", [4.0, 5.0])
@pytest.mark.parametrize("frames", [1, 16])
def test_the_arch_index_is_within_a_hundredth(seed: int, cell_mm: float, frames: int) -> None:
    dims = sample_pair(seed)[seed % 2]
    made = record(dims, seed, cell_mm=cell_mm, frames=frames)
    found, reading = measure_print(made.frames, made.cell_mm)
    assert reading.side == found.side == dims.side
    assert abs(reading.numbers["arch_index"].value - dims.arch_index) <= 0.01
    assert reading.questions == []


def test_coarser_cells_are_less_sure() -> None:
    dims = sample_pair(5)[1]
    sure = [measure_print(record(dims, 5, cell_mm=c).frames, c)[1].numbers["arch_index"].sigma for c in (4, 6, 8)]
    assert sure == sorted(sure)


@pytest.mark.parametrize("index", [0.16, 0.21, 0.26, 0.30])
def test_the_made_print_has_the_index_it_says(index: float) -> None:
    dims = FootDims(arch_index=index)
    assert index_of(parts(dims, waist_for(dims))) == pytest.approx(index, abs=0.002)


def test_zones_and_path_of_a_step() -> None:
    dims = sample_pair(6)[1]
    made = record(dims, 6, frames=20)
    found, _ = measure_print(made.frames, made.cell_mm)
    peaks = {z.name: z.peak_kpa for z in found.zones}
    assert set(peaks) >= {"heel", "midfoot", "1st head", "big toe"}
    assert peaks["midfoot"] < min(peaks["heel"], peaks["1st head"])
    path = found.path[np.isfinite(found.path).all(axis=1)]
    assert path[0, 0] < 0.3 * dims.length_mm < 0.6 * dims.length_mm < path[-1, 0]
    total = made.frames.sum(axis=(1, 2)) * made.cell_mm**2 / 1000
    assert found.load_n == pytest.approx(total, rel=0.02)


def test_turned_and_upside_down_prints_read_the_same() -> None:
    dims = sample_pair(5)[1]
    made = record(dims, 5, turn_deg=0)
    plain = measure_print(made.frames, made.cell_mm)[1].numbers["arch_index"].value
    over = made.frames[:, ::-1, ::-1]
    found, reading = measure_print(over, made.cell_mm)
    assert found.side == dims.side
    assert reading.numbers["arch_index"].value == pytest.approx(plain, abs=0.006)
    mirrored, _ = measure_print(made.frames[:, :, ::-1], made.cell_mm)
    assert mirrored.side != dims.side


def test_one_of_two_prints() -> None:
    left, right = sample_pair(5)
    a, b = (record(d, 5, turn_deg=0).frames for d in (left, right))
    both = np.concatenate([a, b], axis=2)
    sides = {measure_print(both, 5.0, pick=p)[0].side for p in (0, 1)}
    assert sides == {"left", "right"}


def test_a_print_off_the_edge_is_asked_again() -> None:
    dims = sample_pair(5)[1]
    made = record(dims, 5, turn_deg=0)
    cut = made.frames[:, : made.frames.shape[1] // 2 + 22]
    _, reading = measure_print(cut, made.cell_mm)
    assert any("runs off" in q for q in reading.questions)


@pytest.mark.parametrize(
    ("change", "code"),
    [
        (lambda f: f * 0, "mat-empty"),
        (lambda f: -f, "mat-negative"),
        (lambda f: f * 1000, "mat-unit"),
        (lambda f: np.where(f > 100, np.nan, f), "mat-not-finite"),
        (lambda f: np.where(np.arange(f.shape[2]) == 3, 80.0, 0.0) * np.ones_like(f), "mat-no-foot"),
    ],
)
def test_what_is_no_print_is_refused(change, code: str) -> None:  # type: ignore[no-untyped-def]
    made = record(replace(FootDims(), side="left"), 3)
    with pytest.raises(BadInput) as caught:
        measure_print(change(made.frames), made.cell_mm)
    assert caught.value.code in (code, "mat-no-foot")
