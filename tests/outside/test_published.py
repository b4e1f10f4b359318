"""Against published tables, general libraries and the figures the computations were agreed on.

Each check names its source, or says that it is common practice, from memory or a house default.
"""

from __future__ import annotations

import numpy as np
import pytest
from scipy import stats

from kalon.core.fit.foot import foot_to_fit
from kalon.core.fit.size import FitTarget, RoomBand, gaps
from kalon.core.fit.stretch import StretchIn, stretch
from kalon.core.mechanics.edge import EdgeIn, edge, endurance_min
from kalon.core.mechanics.squat import FOOT, MASS, SHANK, THIGH, TRUNK, SquatIn, trunk_lean_deg
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
