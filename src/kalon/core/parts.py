"""What a fitting is made of: one body a station, filled in field by field, each field optional till needed."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Annotated, Any, Literal

from pydantic import Field

from .contract import Contract, Day
from .errors import BadInput, FieldProblem, read
from .feet.gauge import Feet
from .fit.trial import PairTrial, pinches_of
from .rules.brief import BriefDraft, check_answers
from .rules.hand import HandWeight
from .takings.asked import Lowered, SaidPrice


class SpecPart(Contract):
    """Cautions acknowledged, by rule; weights moved by hand, by property or choice."""

    acknowledged: dict[str, Literal[True]] = {}
    weights: dict[str, HandWeight] = {}


class TrialPart(Contract):
    """Findings by pulled pair; judged blind, names are hidden until every pair is scored."""

    pairs: dict[str, PairTrial] = {}
    blind: bool = False
    drills: dict[Literal["straight", "turns", "eight"], str] = Field({}, max_length=3)
    """Field drills done in two pairs side by side: the pair that did better, or `same`."""


class SettlePart(Contract):
    """How the sale is being prepared."""

    gives_up: str = Field("", max_length=600)
    start_on: Day | None = None
    weekdays: list[Annotated[int, Field(ge=0, le=6)]] = Field([0, 2, 4, 5], min_length=1, max_length=7)
    follow_up_on: Day | None = None
    prices: dict[str, SaidPrice] = Field({}, max_length=12)
    """What was said for pairs nobody knew a price of, by stock line."""
    lowered: dict[str, Lowered] = Field({}, max_length=12)
    """What is taken off, by stock line."""


class ReturnPart(Contract):
    """What was found when the athlete came back."""

    hours: float | None = Field(None, ge=0, le=5000)
    length_mm: float | None = Field(None, ge=-40, le=60)
    ball_girth_mm: float | None = Field(None, ge=-60, le=60)
    instep_girth_mm: float | None = Field(None, ge=-60, le=60)
    heel_width_mm: float | None = Field(None, ge=-30, le=30)
    sore: str = Field("", max_length=300)
    note: str = Field("", max_length=600)


PARTS: dict[str, type[Contract]] = {
    "feet": Feet,
    "brief": BriefDraft,
    "spec": SpecPart,
    "trial": TrialPart,
    "settle": SettlePart,
    "return": ReturnPart,
}


def check_part(part: str, body: dict[str, Any], sets: Iterable[str] = ()) -> None:
    """Raise `BadInput` when `body` is not a possible state of `part`, or what `sets` (paths) put there is unknown."""
    value = read(PARTS[part], body)
    if isinstance(value, BriefDraft):
        check_answers(value, sets)
    if isinstance(value, TrialPart):
        for line, trial in value.pairs.items():
            try:
                pinches_of(trial)
            except ValueError:
                text = "A pinch is named by side and zone, as in left:ball."
                raise BadInput(text, fields=[FieldProblem(f"pairs.{line}.pinches", "unknown", text)]) from None


DEEPEST, LONGEST = 6, 200
"""Steps and characters of a path at most."""


def check_paths(paths: Iterable[str]) -> None:
    """Raise `BadInput` for a path no part has: empty steps, too many of them, or too long."""
    for path in paths:
        steps = path.split("/")
        if len(path) > LONGEST or len(steps) > DEEPEST or not all(steps):
            text = f"{path[:40]} is no field of a fitting."
            raise BadInput(text, fields=[FieldProblem(path[:LONGEST].replace("/", "."), "unknown", text)])


def get_path(body: dict[str, Any], path: str) -> Any:
    """The value at a path of keys with slashes between them (`left/length_mm`), or None."""
    value: Any = body
    for key in path.split("/"):
        if not isinstance(value, dict) or key not in value:
            return None
        value = value[key]
    return value


def with_path(body: dict[str, Any], path: str, value: Any) -> dict[str, Any]:
    """A copy of `body` with `value` at a path; None takes the key out."""
    key, _, rest = path.partition("/")
    copy = dict(body)
    if rest:
        inner = copy.get(key)
        copy[key] = with_path(inner if isinstance(inner, dict) else {}, rest, value)
    elif value is None:
        copy.pop(key, None)
    else:
        copy[key] = value
    return copy


def overlap(one: str, other: str) -> bool:
    """Whether two paths touch the same value."""
    a, b = one.split("/"), other.split("/")
    return all(x == y for x, y in zip(a, b, strict=False))
