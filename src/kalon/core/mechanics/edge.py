"""Standing on a small edge: what the toes can hold for how long, and what the sole must hold for them.

Endurance: Rohmert 1960 (published; coefficients from memory). Toe strengths and classes: house defaults.
"""

from __future__ import annotations

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


class EdgeOut(Contract):
    """Demand at the toes, the share of toe strength that lasts the stance, and the sole's part."""

    demand_n_m: float
    endurance_fraction: float
    toe_share_n_m: float
    sole_n_mm_per_deg: float


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


def edge(given: EdgeIn) -> EdgeOut:
    """Sole stiffness in bending (N·mm per degree) that this stance on this edge asks for."""
    force_n = GRAVITY * given.body_kg * given.one_foot_share
    lever_mm = max(0.35 * 0.28 * given.foot_mm - given.edge_mm / 2, 0.0)
    demand = force_n * lever_mm / 1000
    fraction = sustainable_fraction(given.stance_min)
    toes = TOE_N_M_PER_KG[given.toe_strength] * given.body_kg * fraction
    return EdgeOut(
        demand_n_m=demand,
        endurance_fraction=fraction,
        toe_share_n_m=toes,
        sole_n_mm_per_deg=max(demand - toes, 0.0) * 1000 / given.sag_deg,
    )


def smear_limit(body_kg: float) -> float:
    """The stiffest sole that still smears under this body, N·mm/deg."""
    return SMEAR_LIMIT_AT_70_KG * body_kg / 70


def stiffness_class(sole_n_mm_per_deg: float) -> str:
    """The trade's word for a stiffness."""
    return next((name for limit, name in STIFFNESS_CLASSES if sole_n_mm_per_deg < limit), "very stiff")
