"""Made-up feet, briefs and shoes that tests start from."""

from __future__ import annotations

from typing import Any

from kalon.core.feet.gauge import Feet, GaugeFoot
from kalon.core.rules.brief import Brief
from kalon.core.rules.engine import Spec
from kalon.core.rules.spec import spec_for


def foot(**values: Any) -> GaugeFoot:
    """One usual foot, 265 mm long."""
    usual = {"length_mm": 265, "ball_width_mm": 103, "ball_girth_mm": 249, "instep_girth_mm": 254, "heel_width_mm": 66}
    return GaugeFoot.model_validate(usual | values)


FEET = Feet(left=foot(), right=foot(), time_of_day="19:00")
"""A pair of usual feet in the evening."""


def football(**values: Any) -> Brief:
    """A football brief."""
    usual = {"sport": "football", "discipline": "match", "surface": "firm_natural", "body_kg": 75}
    return Brief.model_validate(usual | values)


def climbing(discipline: str = "indoor_general", **values: Any) -> Brief:
    """A climbing brief."""
    return Brief.model_validate({"sport": "climbing", "discipline": discipline, "body_kg": 70} | values)


def lifting(discipline: str = "powerlifting_squat", **values: Any) -> Brief:
    """A lifting brief."""
    usual = {"sport": "lifting", "discipline": discipline, "body_kg": 80, "stature_mm": 1750, "dorsiflexion_deg": 30}
    return Brief.model_validate(usual | values)


def cycling(discipline: str = "road_fast", **values: Any) -> Brief:
    """A cycling brief."""
    usual = {"sport": "cycling", "discipline": discipline, "pedal": "three_bolt", "body_kg": 72}
    return Brief.model_validate(usual | values)


def court(discipline: str = "badminton", **values: Any) -> Brief:
    """A court brief."""
    return Brief.model_validate({"sport": "court", "discipline": discipline, "body_kg": 68} | values)


def cricket(role: str = "all_rounder", wicket: str = "grass", **values: Any) -> Brief:
    """A cricket brief."""
    usual = {"sport": "field", "discipline": "cricket", "role": role, "wicket": wicket, "body_kg": 75}
    return Brief.model_validate(usual | values)


def skating(**values: Any) -> Brief:
    """An ice hockey brief."""
    return Brief.model_validate({"sport": "ice", "discipline": "hockey", "body_kg": 80} | values)


def spec(brief: Brief, feet: Feet | None = None) -> Spec:
    """Its spec."""
    return spec_for(brief, feet)


def scores(found: Spec, choice: str) -> dict[str, float]:
    """A choice's values with their scores."""
    return {c.value: c.score for c in found.choices.get(choice, [])}


def vetoed(found: Spec, choice: str) -> set[str]:
    """A choice's values that are ruled out."""
    return {v.value for v in found.vetoes if v.name == choice}


def gauge_paths(**values: float) -> dict[str, Any]:
    """Both feet complete, as a patch sets them."""
    one = foot(**values).model_dump(exclude_none=True)
    return {f"{side}/{k}": v for side in ("left", "right") for k, v in one.items()}


QUICKLY = {"preset": "ultrafast"}
"""How a telephone's picture is written: as large a file of the same pixels, in a tenth of the time."""
