"""Against published tables, general libraries and the figures the computations were agreed on.

Each check names its source, or says that it is common practice, from memory or a house default.
"""

from __future__ import annotations

import math

import numpy as np
import pytest
from scipy import optimize, stats

from kalon.core.fit.foot import foot_to_fit
from kalon.core.fit.size import FitTarget, RoomBand, gaps
from kalon.core.fit.stretch import StretchIn, stretch
from kalon.core.mechanics.edge import EdgeIn, edge, endurance_min
from kalon.core.mechanics.pedal import PedalIn, pedal
from kalon.core.mechanics.sideways import FORCE_REDUCTION_PCT
from kalon.core.mechanics.squat import FOOT, MASS, SHANK, THIGH, TRUNK, SquatIn, trunk_lean_deg
from kalon.core.mechanics.studs import GROUNDS, Plate, Stud, StudsIn, stand, studs
from kalon.core.rules.brief import DEGREES_PER_CM
from kalon.core.sizes import SizeConvertIn, size_convert
from tests.made import FEET


def test_paris_point_and_barleycorn() -> None:
    """Published: the Paris point is two thirds of a centimetre, the barleycorn a third of an inch."""
    assert size_convert(SizeConvertIn(system="eu", label=42)).last_mm == pytest.approx(280.0)
    assert size_convert(SizeConvertIn(system="uk", label=8)).last_mm == pytest.approx(279.4)
    assert size_convert(SizeConvertIn(system="uk_child", label=0)).last_mm == pytest.approx(4 * 25.4)


def test_mondopoint_states_the_foot() -> None:
    """Published: ISO 9407 labels the foot in millimetres. The 15 mm allowance is a house default."""
    found = size_convert(SizeConvertIn(system="mondopoint_mm", label=265))
    assert found.last_mm == 280
    assert found.labels["jp_cm"] == pytest.approx(26.5)


@pytest.mark.parametrize(("uk", "us_men"), [(6, 7), (8, 9), (11, 12)])
def test_us_mens_sizes_run_one_ahead(uk: float, us_men: float) -> None:
    """Common practice, no source."""
    assert size_convert(SizeConvertIn(system="uk", label=uk)).labels["us_men"] == pytest.approx(us_men)


@pytest.mark.parametrize(("drop_mm", "lean"), [(0, 41.9), (8, 38.1), (20, 32.9)])
def test_squat_agreed_figures(drop_mm: float, lean: float) -> None:
    """House figures for a lifter of 1750 mm and 75 kg with 80 kg high on the back and 30° at the ankle."""
    given = SquatIn(stature_mm=1750, body_kg=75, bar_kg=80, dorsiflexion_deg=30)
    assert trunk_lean_deg(given, drop_mm) == pytest.approx(lean, abs=0.05)


def test_segment_table() -> None:
    """Published: Drillis & Contini, in Winter, Biomechanics and Motor Control of Human Movement."""
    assert (FOOT, SHANK, THIGH, TRUNK) == (0.152, 0.246, 0.245, 0.288)
    assert sum(MASS.values()) == pytest.approx(1.0)


@pytest.mark.parametrize(("fraction", "minutes"), [(0.15, 15.5), (0.25, 3.7), (0.5, 1.1), (0.75, 0.47)])
def test_rohmert_curve(fraction: float, minutes: float) -> None:
    """Published: Rohmert 1960; coefficients from memory, points computed from them by hand."""
    assert endurance_min(fraction) == pytest.approx(minutes, rel=0.06)


def test_edge_agreed_figure() -> None:
    """House figure: 70 kg, 260 mm, 10 mm edge, two minutes, average toes."""
    found = edge(EdgeIn(body_kg=70, foot_mm=260, edge_mm=10, stance_min=2))
    assert found.sole_n_mm_per_deg == pytest.approx(360, abs=1)


def ring() -> tuple[Stud, ...]:
    """Six round studs of 12 × 13 mm on a ring of 46 mm: the test foot of artificial turf."""
    turns = [k * math.pi / 3 for k in range(6)]
    return tuple(
        Stud(shape="conical", x_mm=46 * math.cos(t), y_mm=46 * math.sin(t), height_mm=13, diameter_mm=12) for t in turns
    )


def test_turf_test_torque() -> None:
    """House figure 32.8 N·m, inside the window of 30 to 45 N·m that the federation's quality programme for football
    turf sets for its top grade (published; limits from memory)."""
    found = studs(StudsIn(studs=list(ring()), surface="artificial_grass", load_n=451))
    assert found.torque_n_m == pytest.approx(32.8, abs=0.05)
    assert 30 <= found.torque_n_m <= 45


def test_a_plate_at_rest_against_scipy() -> None:
    """The same balance found by scipy's root finder, on a plate of unequal studs loaded off its middle."""
    plate_ = Plate.of([*ring()[:5], Stud(shape="nub", x_mm=30, y_mm=-40, height_mm=9, diameter_mm=15)])
    ground, cop, load = GROUNDS["firm_natural"], (6.0, 4.0), 600.0
    shape = np.column_stack([np.ones(6), plate_.x - cop[0], plate_.y - cop[1]])

    def off(u: np.ndarray) -> np.ndarray:
        depth = shape @ u - (plate_.height.max() - plate_.height)
        force = plate_.area * ground.bearing * np.clip(depth, 0, None)
        force = force + 1000.0 * ground.bearing * np.clip(depth - plate_.height, 0, None)
        return shape.T @ force - np.array([load, 0, 0])

    wanted = optimize.root(off, [10.0, 0.0, 0.0], tol=1e-12)
    assert wanted.success
    found = stand(plate_, ground, load, cop)
    assert found.depth == pytest.approx(shape @ wanted.x - (plate_.height.max() - plate_.height), abs=1e-3)


@pytest.mark.parametrize(
    ("watts", "rpm", "sole", "lost"), [(300, 90, 1500, 0.27), (300, 90, 4500, 0.09), (1200, 110, 1500, 3.5),
                                       (1200, 110, 4500, 1.2)],
)  # fmt: skip
def test_pedal_agreed_figures(watts: float, rpm: float, sole: float, lost: float) -> None:
    """House figures: little for most riders, something for sprinters."""
    found = pedal(PedalIn(power_w=watts, cadence_rpm=rpm, sole_n_mm_per_deg=sole))
    assert found.loss_w == pytest.approx(lost, rel=0.04)


def test_floors_lie_in_the_classes_of_the_standard() -> None:
    """EN 14904: sports floors take 25 to 75 % of the force (published; limits from memory). Ours stand inside, but
    for the floors the standard isn't about."""
    for floor in ("sprung_wood", "hard_wood", "vinyl_foam"):
        assert 25 <= FORCE_REDUCTION_PCT[floor] <= 75


def test_knee_to_wall() -> None:
    """Published: Konor 2012, value from memory: about 3.6° of dorsiflexion per centimetre."""
    assert pytest.approx(3.6) == DEGREES_PER_CM


def test_stretch_formula_by_hand() -> None:
    """House formula, worked by hand: c = 8.5, i = 6: 8.5·(1 − e^(−6/8.5)) = 4.304; t80 = 8·ln 5 = 12.88 h."""
    found = stretch(StretchIn(upper="leather_unlined", build="slip", zone="length", interference_mm=6, inner_mm=240))
    assert found.settled_mm == pytest.approx(4.304, abs=1e-3)
    assert found.t80_h == pytest.approx(12.876, abs=1e-3)


def test_zone_chances_against_scipy_stats() -> None:
    """The normal distribution as scipy.stats has it."""
    band = RoomBand(low=-4, high=6)
    target = FitTarget(length=RoomBand(low=8, high=14), ball_girth=band, instep_girth=band, heel_width=band)
    foot = foot_to_fit(FEET)
    inner = foot.larger + np.array([[10.0, 1.0, -2.0, 0.5], [7.0, 7.0, -6.0, 3.0]])
    found = gaps(foot.larger, foot.sigma, inner, np.zeros((2, 4)), target.band())
    wanted = target.band()
    law = stats.norm(found.settled, found.sigma)
    assert found.chance == pytest.approx(law.cdf(wanted.high) - law.cdf(wanted.low))
