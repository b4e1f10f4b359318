"""Weights moved by hand, within what no veto or limit forbids."""

from __future__ import annotations

from pydantic import Field

from ..contract import Contract
from .engine import HandMove, Spec


class HandWeight(Contract):
    """A weight as a fitter wants it, and why."""

    to: float = Field(ge=0, le=3)
    why: str = Field(min_length=3, max_length=300)


def _moved(name: str, computed: float, held: bool, wish: HandWeight) -> tuple[float, HandMove]:
    if held and wish.to < computed:
        kept = f"{name.replace('_', ' ').capitalize()} stays at {computed:g}: a rule rules something out here."
        return computed, HandMove(computed=computed, why=wish.why, kept=kept)
    return wish.to, HandMove(computed=computed, why=wish.why)


def with_weights(spec: Spec, wishes: dict[str, HandWeight]) -> Spec:
    """The spec with weights moved; a held one only upward. Names the spec doesn't have say nothing."""
    properties, choices, features = dict(spec.properties), dict(spec.choice_weights), dict(spec.features)
    for name, wish in wishes.items():
        if (band := properties.get(name)) is not None:
            weight, by_hand = _moved(name, band.weight, name in spec.held, wish)
            properties[name] = band.model_copy(update={"weight": weight, "by_hand": by_hand})
        elif (choice := choices.get(name)) is not None:
            weight, by_hand = _moved(name, choice.weight, choice.held, wish)
            choices[name] = choice.model_copy(update={"weight": weight, "by_hand": by_hand})
        elif (feature := features.get(name)) is not None:
            weight, by_hand = _moved(name, feature.weight, feature.wish == "need", wish)
            features[name] = feature.model_copy(update={"weight": weight, "by_hand": by_hand})
    return spec.model_copy(update={"properties": properties, "choice_weights": choices, "features": features})
