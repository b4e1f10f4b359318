"""How a line of the law table is read: a brief in a few words, and what the spec must then say."""

from __future__ import annotations

from functools import cache
from typing import Any

import pytest

from kalon.core.feet.gauge import Feet
from kalon.core.rules.brief import Brief
from kalon.core.rules.engine import Case, Spec
from tests.made import FEET, foot

FEET_OF: dict[str, Feet | None] = {
    "none": None,
    "usual": FEET,
    "odd": FEET.model_copy(update={"left": foot(length_mm=271, bunion=True)}),
    "wounds": FEET.model_copy(update={"wounds_or_numbness": True}),
    "pain": FEET.model_copy(update={"concerns": ["pain"]}),
    "circulation": FEET.model_copy(update={"concerns": ["circulation"]}),
    "surgery": FEET.model_copy(update={"concerns": ["surgery"]}),
    "swollen": FEET.model_copy(update={"note": "swollen by noon"}),
    "gout": FEET.model_copy(update={"note": "gout, left"}),
    "ingrown": FEET.model_copy(update={"note": "ingrown nail"}),
    "cruciate": FEET.model_copy(update={"note": "torn cruciate in March"}),
    "growing_pains": FEET.model_copy(update={"concerns": ["growing_pains"]}),
    "narrow_heel": Feet(left=foot(heel_width_mm=60), right=foot(heel_width_mm=60)),
    "wedge": Feet(left=foot(heel_width_mm=63, ball_width_mm=110), right=foot(heel_width_mm=63, ball_width_mm=110)),
    "thin": Feet(left=foot(ball_width_mm=95), right=foot(ball_width_mm=95)),
    "low_volume": Feet(left=foot(ball_girth_mm=232, instep_girth_mm=236), right=foot()),
    "high_volume": Feet(left=foot(ball_girth_mm=268, instep_girth_mm=275), right=foot()),
    "flat": Feet(left=foot(arch="low"), right=foot(arch="low")),
    "unlike_arches": Feet(left=foot(arch="low"), right=foot(arch="high")),
    "square": Feet(left=foot(toe_shape="square"), right=foot(toe_shape="square")),
    "second": Feet(left=foot(toe_shape="second_longest"), right=foot(toe_shape="first_longest")),
    "long": Feet(left=foot(length_mm=300), right=foot(length_mm=300)),
    "high_arch": Feet(left=foot(arch="high"), right=foot(arch="high")),
}
"""Feet by the name the table calls them."""
LISTS = ("history",)
WORDS = ("sport", "discipline", "surface", "floor", "lunging", "pedal", "role", "wicket", "level",
         "toe_strength", "bar", "feel", "event_on", "looks", "wears_now", "note")  # fmt: skip


def _value(field: str, text: str) -> Any:
    if field in LISTS:
        return text.split("+")
    if field in WORDS:
        return text.replace("-", " ") if field == "note" else text
    return text == "yes" if text in ("yes", "no") else float(text)


@cache
def case_of(line: str) -> Case:
    """A case from `sport discipline field=value …`; `feet=` names feet, `school.` and `present.` reach inside,
    `also=discipline:share[:surface]` adds a discipline."""
    sport, discipline, *rest = line.split()
    values: dict[str, Any] = {"sport": sport, "discipline": discipline, "body_kg": 70}
    feet = "none"
    for item in rest:
        field, _, text = item.partition("=")
        if field == "feet":
            feet = text
        elif field.startswith("school."):
            values.setdefault("schools", {})[field.removeprefix("school.")] = text
        elif field.startswith("present."):
            values.setdefault("present", {})[field.removeprefix("present.")] = text
        elif field == "also":
            name, share, *ground = text.split(":")
            other = {"discipline": name, "share_pct": float(share)}
            values.setdefault("also", []).append(other | ({"surface": ground[0]} if ground else {}))
        else:
            values[field] = _value(field, text)
    brief = Brief.model_validate(values)
    return Case(brief, FEET_OF[feet], on_surfaces=tuple(b.surface for _, b in brief.each()))


def _compare(found: float, sign: str, wanted: float) -> bool:
    close = found == pytest.approx(wanted, abs=1e-6)
    match sign:
        case ">=":
            return found > wanted or close
        case "<=":
            return found < wanted or close
        case _:
            raise ValueError(f"no comparison {sign}")


def holds(said: str, spec: Spec, rule: str) -> bool:
    """Whether a spec shows what a line of the table says of a rule."""
    what, *words = said.split()
    bands = {**spec.properties, **spec.fit}
    match what:
        case "says" | "must":
            found = [c for c in spec.cautions if c.rule == rule]
            return bool(found) and found[0].must_acknowledge == (what == "must")
        case "veto":
            return any((v.name, v.value, v.rule) == (words[0], words[1], rule) for v in spec.vetoes)
        case "band":
            band = bands.get(words[0])
            return band is not None and (band.low, band.high) == (float(words[1]), float(words[3]))
        case "low" | "high":
            band = bands.get(words[0])
            return band is not None and _compare(getattr(band, what), words[1], float(words[2]))
        case "weight":
            prop = spec.properties.get(words[0]) or spec.choice_weights.get(words[0])
            return prop is not None and _compare(prop.weight, words[1], float(words[2]))
        case "need" | "want" | "avoid":
            feature = spec.features.get(words[0])
            return feature is not None and feature.wish == what and _compare(feature.weight, ">=", float(words[1]))
        case "first":
            ranked = spec.choices.get(words[0])
            return bool(ranked) and ranked[0].value == words[1]
        case "score":
            scores = {c.value: c.score for c in spec.choices.get(words[0], [])}
            return _compare(scores.get(words[1], 0.0), words[2], float(words[3]))
        case _:
            raise ValueError(f"the table doesn't know {what}")
