"""One foot from several sources: the surest number of each, unless a fitter chose another; conflicts said."""

from __future__ import annotations

from statistics import NormalDist
from typing import Literal

from ..contract import SIDES, Contract, Side
from ..errors import unit_of
from .gauge import NAMES, POSSIBLE_MM, SIGMA_MM, Arch, Feet, GaugeFoot, ToeShape, VolumeClass, volume_class
from .measures import NUMBERS, TWO_SIDED_95, ClassFound, Number, Reading, Source, arch_class
from .standing import stood

GAUGE = "gauge"


class Captured(Contract):
    """A reading under the id of the scan, tracing, print or record it comes from."""

    id: str
    reading: Reading


class Sourced(Contract):
    """One source's number, as standing; `uncertainty` is half the 95 % interval, in the number's unit."""

    id: str
    source: Source
    value: float
    uncertainty: float
    corrected: bool
    """Measured sitting and brought to standing."""


class NumberFound(Contract):
    """The number that counts, with the sources it was chosen from, surest first."""

    value: float
    uncertainty: float
    id: str
    source: Source
    chosen: bool
    """A fitter chose this source."""
    sources: list[Sourced]
    conflict: str | None


class FootFound(Contract):
    """One foot as all sources together show it."""

    numbers: dict[str, NumberFound]
    toe_shape: ToeShape | None
    toe_shape_from: Source | None
    bunion: bool
    arch: ClassFound
    questions: list[str]


class FeetFound(Contract):
    """Both feet."""

    left: FootFound
    right: FootFound


def gauge_reading(side: Side, feet: Feet) -> Reading:
    """One foot's gauge and tape numbers, with what the fitter saw, as a reading."""
    foot: GaugeFoot = getattr(feet, side)
    numbers = {
        name: Number(value=value, sigma=foot.sigma(name))
        for name in NAMES
        if (value := getattr(foot, name)) is not None
    }
    return Reading(
        source="gauge",
        side=side,
        stance=feet.stance,
        numbers=numbers,
        toe_shape=foot.toe_shape,
        bunion=foot.bunion,
        arch=foot.arch,
    )


def _with_index(reading: Reading) -> dict[str, Number]:
    """A reading's numbers, the arch height index worked out where height and heel to ball are there."""
    numbers = dict(reading.numbers)
    height, ball = numbers.get("instep_height_mm"), numbers.get("heel_to_ball_mm")
    if "arch_height_index" not in numbers and height and ball:
        index = height.value / ball.value
        spread = ((height.sigma / height.value) ** 2 + (ball.sigma / ball.value) ** 2) ** 0.5
        numbers["arch_height_index"] = Number(value=index, sigma=index * spread)
    return numbers


FALSE_ALARM = 0.05
"""How often honest sources of one athlete may be said to conflict, anywhere on either foot. House default."""


def _apart(comparisons: int) -> float:
    """How many spreads apart two sources must be, when so many pairs are compared (Bonferroni)."""
    return NormalDist().inv_cdf(1 - FALSE_ALARM / 2 / max(comparisons, 1))


def _comparisons(numbered: list[Numbered]) -> int:
    """How many pairs of sources are held against each other on one foot."""
    counts = (sum(name in numbers for _, _, numbers in numbered) for name in NUMBERS)
    return sum(n * (n - 1) // 2 for n in counts)


def _conflict(name: str, sources: list[Sourced], apart: float) -> str | None:
    """A sentence when two sources are further apart than both their uncertainties allow."""
    for i, one in enumerate(sources):
        for other in sources[i + 1 :]:
            spread = (one.uncertainty**2 + other.uncertainty**2) ** 0.5 / TWO_SIDED_95
            if abs(one.value - other.value) > apart * spread:
                unit = unit_of(name)
                digits = 1 if unit else 3
                return (
                    f"{NUMBERS[name][0]}: {one.source} {one.value:.{digits}f} and {other.source} "
                    f"{other.value:.{digits}f}{' ' + unit if unit else ''} are further apart than either is unsure. "
                    "Measure again, or choose one."
                )
    return None


Numbered = tuple[str, Reading, dict[str, Number]]
"""A source: its id, its reading, and its numbers with what follows from them."""


def _find(name: str, readings: list[Numbered], wanted: str | None, apart: float) -> NumberFound | None:
    sources = []
    for id_, reading, numbers in readings:
        if name not in numbers:
            continue
        sitting = reading.stance == "sitting" and name not in ("arch_index",)
        number = stood(name, numbers[name]) if sitting else numbers[name]
        sources.append(
            Sourced(
                id=id_,
                source=reading.source,
                value=number.value,
                uncertainty=TWO_SIDED_95 * number.sigma,
                corrected=sitting and number.value != numbers[name].value,
            )
        )
    if not sources:
        return None
    sources.sort(key=lambda s: s.uncertainty)
    chosen = next((s for s in sources if s.id == wanted), None)
    best = chosen or sources[0]
    return NumberFound(
        value=best.value,
        uncertainty=best.uncertainty,
        id=best.id,
        source=best.source,
        chosen=chosen is not None,
        sources=sources,
        conflict=_conflict(name, sources, apart),
    )


def _numbered(side: Side, feet: Feet, captured: list[Captured]) -> list[Numbered]:
    """One foot's sources, the gauge first; newer captures come later."""
    gauge = gauge_reading(side, feet)
    readings = [(GAUGE, gauge)] + [(c.id, c.reading) for c in captured if c.reading.side == side]
    return [(id_, r, _with_index(r)) for id_, r in readings]


def _foot_found(side: Side, feet: Feet, numbered: list[Numbered], apart: float) -> FootFound:
    seen_foot: GaugeFoot = getattr(feet, side)
    readings = [r for _, r, _ in numbered]
    wanted = feet.prefer.get(side, {})
    numbers = {n: found for n in NUMBERS if (found := _find(n, numbered, wanted.get(n), apart))}
    shapes = [(r.source, r.toe_shape) for r in readings if r.toe_shape]
    seen = seen_foot.toe_shape and ("gauge", seen_foot.toe_shape)
    source, shape = seen or (shapes[-1] if shapes else (None, None))
    sure = {n: Number(value=f.value, sigma=f.uncertainty / TWO_SIDED_95) for n, f in numbers.items()}
    arch = seen_foot.arch or next((r.arch for r in reversed(readings) if r.arch), None)
    bunion = seen_foot.bunion
    return FootFound(
        numbers=numbers,
        toe_shape=shape,
        toe_shape_from=source,
        bunion=any(r.bunion for r in readings) if bunion is None else bunion,
        arch=arch_class(sure, arch),
        questions=[q for r in readings for q in r.questions],
    )


def combine_foot(side: Side, feet: Feet, captured: list[Captured]) -> FootFound:
    """One foot's numbers and classes from the gauge and everything captured."""
    numbered = _numbered(side, feet, captured)
    return _foot_found(side, feet, numbered, _apart(_comparisons(numbered)))


def combine(feet: Feet, captured: list[Captured]) -> FeetFound:
    """Both feet from the gauge and everything captured."""
    sides: dict[Side, list[Numbered]] = {side: _numbered(side, feet, captured) for side in SIDES}
    apart = _apart(sum(_comparisons(n) for n in sides.values()))
    found = {side: _foot_found(side, feet, numbered, apart) for side, numbered in sides.items()}
    return FeetFound(left=found["left"], right=found["right"])


def resolved(feet: Feet, found: FeetFound) -> Feet:
    """Feet whose numbers are the ones that count, standing, with how sure each is: what fit is computed from."""
    sides = {}
    for side in SIDES:
        one: FootFound = getattr(found, side)
        numbers = {}
        sigma = {}
        for name in NAMES:
            if name not in one.numbers:
                continue
            low, high = POSSIBLE_MM[name]
            number = one.numbers[name]
            numbers[name] = min(max(number.value, low), high)
            sigma[name] = number.uncertainty / TWO_SIDED_95
        plain = {n: s for n, s in sigma.items() if abs(s - SIGMA_MM[n]) > 1e-9}
        sides[side] = GaugeFoot(
            **numbers, arch=one.arch.value, toe_shape=one.toe_shape, bunion=one.bunion, sigma_mm=plain
        )
    return feet.model_copy(update={"left": sides["left"], "right": sides["right"], "stance": "standing"})


class FootMeasureIn(Contract):
    """One foot's gauge and tape numbers."""

    side: Side
    foot: GaugeFoot
    stance: Literal["standing", "sitting"] = "standing"


class FootMeasureOut(Contract):
    """Every number of one foot, its uncertainty (half the 95 % interval) in the same unit, and its classes."""

    side: Side
    length_mm: float | None = None
    ball_width_mm: float | None = None
    ball_girth_mm: float | None = None
    ball_angle_deg: float | None = None
    instep_height_mm: float | None = None
    instep_girth_mm: float | None = None
    heel_width_mm: float | None = None
    toe_height_mm: float | None = None
    heel_to_ball_mm: float | None = None
    first_toe_angle_deg: float | None = None
    arch_height_index: float | None = None
    arch_index: float | None = None
    toe_shape: ToeShape | None = None
    arch_class: Arch | None = None
    arch_reason: str = ""
    volume_class: VolumeClass | None = None
    volume_reason: str = ""
    bunion: bool = False
    uncertainty: dict[str, float] = {}
    notes: list[str] = []
    questions: list[str] = []


def foot_measures(side: Side, feet: Feet, captured: list[Captured]) -> FootMeasureOut:
    """One foot as the contract has it."""
    found = combine_foot(side, feet, captured)
    both = FeetFound(left=found, right=found)
    volume, why = volume_class(getattr(resolved(feet, both), side))
    return FootMeasureOut(
        side=side,
        **{n: f.value for n, f in found.numbers.items()},
        toe_shape=found.toe_shape,
        arch_class=found.arch.value,
        arch_reason=found.arch.reason,
        volume_class=volume,
        volume_reason=why,
        bunion=found.bunion,
        uncertainty={n: f.uncertainty for n, f in found.numbers.items()},
        notes=[n for c in captured for n in c.reading.notes],
        questions=found.questions,
    )


def foot_measure(given: FootMeasureIn) -> FootMeasureOut:
    """Every number of one foot from gauge and tape, standing, each with its uncertainty."""
    feet = Feet.model_validate({given.side: given.foot.model_dump(), "stance": given.stance})
    return foot_measures(given.side, feet, [])
