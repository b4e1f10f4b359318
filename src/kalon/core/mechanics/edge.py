"""Standing on a small edge: what the toes can hold for how long, and what the sole must hold for them.

Endurance: Rohmert 1960 (published; coefficients from memory). Toe strengths and classes: house defaults.
"""

from __future__ import annotations

from functools import lru_cache
from typing import Literal

from pydantic import Field
from scipy.optimize import brentq

from ..contract import Contract

ToeStrength = Literal["weak", "average", "strong"]
TOE_N_M_PER_KG: dict[ToeStrength, float] = {"weak": 0.08, "average": 0.11, "strong": 0.15}
GRAVITY = 9.81
LONGEST_SHARE, LEAST_SHARE = 0.95, 0.15
SMEAR_LIMIT_AT_70_KG = 120.0
"""N·mm/deg: a sole stiffer than this smears poorly under 70 kg. House default."""
EDGES_MM, STANCES_MIN = (5.0, 10.0, 20.0, 30.0), (0.5, 2.0, 5.0, 10.0)
"""Edges and stands of the sweep."""
STIFFNESS_CLASSES: tuple[tuple[float, str], ...] = ((150, "soft"), (300, "medium"), (450, "stiff"))


class EdgeIn(Contract):
    """A climber on an edge."""

    body_kg: float = Field(ge=15, le=250)
    foot_mm: float = Field(ge=120, le=380)
    edge_mm: float = Field(ge=1, le=60)
    stance_min: float = Field(ge=0, le=60)
    toe_strength: ToeStrength = "average"
    one_foot_share: float = Field(0.7, ge=0.1, le=1)
    sag_deg: float = Field(20, ge=2, le=60)
    toe_n_m_per_kg: float | None = Field(None, ge=0.01, le=0.5)
    """The house's own figure for toes of this strength."""


class EdgeSweep(Contract):
    """The same climber with another edge or stand."""

    edge_mm: float
    stance_min: float
    sole_n_mm_per_deg: float


class EdgeOut(Contract):
    """Demand at the toes, the share of toe strength that lasts the stance, and the sole's part."""

    demand_n_m: float
    endurance_fraction: float
    toe_share_n_m: float
    sole_n_mm_per_deg: float
    sweep: list[EdgeSweep]


def endurance_min(fraction: float) -> float:
    """Rohmert's holding time, minutes, of a static effort at `fraction` of full strength."""
    p = fraction
    return -1.5 + 2.1 / p - 0.6 / p**2 + 0.1 / p**3


def sustainable_fraction(stance_min: float) -> float:
    """The share of strength that lasts `stance_min` minutes, within 0.15…0.95."""
    if endurance_min(LONGEST_SHARE) >= stance_min:
        return LONGEST_SHARE
    if endurance_min(LEAST_SHARE) <= stance_min:
        return LEAST_SHARE
    return float(brentq(lambda p: endurance_min(p) - stance_min, LEAST_SHARE, LONGEST_SHARE, xtol=1e-12))


def demand_n_m(body_kg: float, share: float, foot_mm: float, edge_mm: float) -> float:
    """Moment about the edge that toes and sole must hold, N·m."""
    return GRAVITY * body_kg * share * max(0.35 * 0.28 * foot_mm - edge_mm / 2, 0.0) / 1000


@lru_cache(maxsize=4096)
def sole_wanted(given: EdgeIn) -> float:
    """Sole stiffness in bending that the stance asks for, N·mm per degree; `edge` without the rest."""
    demand = demand_n_m(given.body_kg, given.one_foot_share, given.foot_mm, given.edge_mm)
    return max(demand - _toes_n_m(given), 0.0) * 1000 / given.sag_deg


def _toes_n_m(given: EdgeIn) -> float:
    per_kg = given.toe_n_m_per_kg or TOE_N_M_PER_KG[given.toe_strength]
    return per_kg * given.body_kg * sustainable_fraction(given.stance_min)


def edge(given: EdgeIn) -> EdgeOut:
    """Sole stiffness in bending (N·mm per degree) that this stance on this edge asks for, and others around it."""
    others = [(e, given.stance_min) for e in EDGES_MM] + [(given.edge_mm, m) for m in STANCES_MIN]
    return EdgeOut(
        demand_n_m=demand_n_m(given.body_kg, given.one_foot_share, given.foot_mm, given.edge_mm),
        endurance_fraction=sustainable_fraction(given.stance_min),
        toe_share_n_m=_toes_n_m(given),
        sole_n_mm_per_deg=sole_wanted(given),
        sweep=[
            EdgeSweep(
                edge_mm=e,
                stance_min=m,
                sole_n_mm_per_deg=sole_wanted(given.model_copy(update={"edge_mm": e, "stance_min": m})),
            )
            for e, m in others
        ],
    )


def smear_limit(body_kg: float, at_70_kg: float = SMEAR_LIMIT_AT_70_KG) -> float:
    """The stiffest sole that still smears under this body, N·mm/deg."""
    return at_70_kg * body_kg / 70


def stiffness_class(sole_n_mm_per_deg: float) -> str:
    """The trade's word for a stiffness."""
    return next((name for limit, name in STIFFNESS_CLASSES if sole_n_mm_per_deg < limit), "very stiff")
