"""What was learned, in a fitter's words; and how often what was said came true."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from typing import Literal

from ..contract import Contract
from ..fit.size import ZONE_NAMES
from ..units import signed
from .given import Learned, LearnedFitter
from .paired import Paired, paired_sums

LEAST_SAID_MM = 0.05
LIKELY = 1.6449
"""Spreads from the mean that hold 90 in 100 of a normal's values."""


def learned_said(maker: str, zone: str, now: Learned, before: Learned | None = None) -> str:
    """A maker's habit in one zone: "Tarnholt shoes run 1.2 ± 0.6 mm short for you all (before: 0.4 ± 1.6)"."""
    where = "" if zone == "length" else f" at the {ZONE_NAMES[zone]}"
    words = ("long", "short") if zone == "length" else ("wide", "narrow")
    if abs(now.mean_mm) < LEAST_SAID_MM:
        told = f"{maker} shoes run true{where}, ± {now.sd_mm:.1f} mm, for you all"
    else:
        way = words[now.mean_mm < 0]
        told = f"{maker} shoes now run {abs(now.mean_mm):.1f} ± {now.sd_mm:.1f} mm {way}{where} for you all"
    if before is None:
        return f"{told}."
    return f"{told} (before: {signed(before.mean_mm)} ± {before.sd_mm:.1f})."


READ_WITH: dict[str, tuple[str, str]] = {
    "sheet": ("the maker's sheet", "maker's sheets"), "stick": ("one stick reading", "stick readings"),
    "insole": ("one insole", "insoles"), "measured": ("one measuring", "measurings"),
}  # fmt: skip


@dataclass(frozen=True)
class Heard:
    """How much was learned of a size in a zone: of itself, of its model, or of its maker alone."""

    of: Literal["size", "model", "maker"]
    trials: int


def rests_on(maker: str, model: str, heard: Heard | None, sources: Sequence[str]) -> str:
    """What the inside of a size is known from: "label, 14 trials, one stick reading"."""
    parts = ["label"]
    if heard and heard.of == "size":
        parts.append(f"{heard.trials} trials" if heard.trials > 1 else "one trial")
    elif heard:
        parts.append(f"what is learned of {'the ' + model if heard.of == 'model' else maker}")
    for source in dict.fromkeys(sources):
        one, several = READ_WITH[source]
        count = list(sources).count(source)
        parts.append(one if count == 1 else f"{count} {several}")
    return ", ".join(parts)


CARELESS_SHARE, LEAST_VERDICTS = 0.4, 20
"""From this share of verdicts on that say nothing of the shoe, of so many, a fitter is named. House default."""
OFF_MM = 0.8
"""A fitter's band so far off the others', and surely off, is told. House default."""
SURELY_CHANGED = 0.8
"""As likely as this, a model is said to have changed. House default."""


def is_careless(known: LearnedFitter) -> bool:
    """Whether so many of a fitter's verdicts say nothing that somebody should look at how they are made."""
    return known.verdicts >= LEAST_VERDICTS and known.empty_share >= CARELESS_SHARE


def fitter_told(name: str, zones: Mapping[str, LearnedFitter]) -> list[str]:
    """What a fitter's verdicts have of their own, zone by zone, in sentences; nothing where they are as others' are."""
    told = []
    empty = {z: k for z, k in zones.items() if is_careless(k)}
    if empty:
        most = max(empty.values(), key=lambda k: k.empty_share)
        where = " and ".join(ZONE_NAMES[z] for z in empty)
        told.append(
            f"{name}: about {100 * most.empty_share:.0f} in 100 verdicts at the {where} say nothing of the shoe "
            f"(of {most.verdicts}). They hardly count; set them aside, or look at how the tests are done."
        )
    for zone, known in zones.items():
        if zone not in empty and abs(known.offset_mm) > max(OFF_MM, LIKELY * known.sd_mm):
            says, lies = ("tight", "higher") if known.offset_mm > 0 else ("loose", "lower")
            told.append(
                f"{name} says {says} sooner at the {ZONE_NAMES[zone]}: the band lies {abs(known.offset_mm):.1f} ± "
                f"{known.sd_mm:.1f} mm {lies} than the others'. It is reckoned with."
            )
    return told


def changed_told(maker: str, model: str, zone: str, on: date, probability: float) -> str | None:
    """That a model seems to have changed untold, and what would settle it; none where it isn't likely enough."""
    if probability < SURELY_CHANGED:
        return None
    return (
        f"{maker} {model} seems to be made otherwise at the {ZONE_NAMES[zone]} since about {on:%-d %B %Y} "
        f"({100 * probability:.0f} in 100). Read the inside of one pair: a single reading settles it."
    )


@dataclass(frozen=True)
class SaidSo:
    """So many times *fine* was said with about this chance; so often it came true; by what it is grouped."""

    sport: str
    kind: str
    by: str
    said: float
    count: int
    fine: int


@dataclass(frozen=True)
class SeenSo:
    """Gaps seen at follow-ups less those predicted for them: how many, how many of them within what 90 in 100 should
    be within, their sum, mm, and that of their squares, mm²; by what they are grouped."""

    sport: str
    kind: str
    by: str
    count: int
    held: int
    off_mm: float
    off_squared: float


class CameTrue(Contract):
    """What was said and what came of it, in one group: verdicts by the chance said, and gaps against their spreads."""

    of: str
    group: str
    verdicts: int
    said: float | None
    """Mean chance of *fine* that was said."""
    came: float | None
    gaps: int
    held: float | None
    """Share of gaps within what 90 in 100 should be within."""
    off: Paired | None
    """Gaps seen less predicted."""


class Step(Contract):
    """Chance said (the middle of its fifth), the share that came true, and of how many."""

    said: float
    came: float
    count: int


class Calibration(Contract):
    """By the chance said: how often it came true; and by sport, upper and fitter."""

    steps: list[Step]
    groups: list[CameTrue]


def calibration(said: Sequence[SaidSo], seen: Sequence[SeenSo]) -> Calibration:
    """How often predictions came true."""
    steps = []
    for fifth in sorted({s.said for s in said}):
        of = [s for s in said if s.said == fifth]
        count = sum(s.count for s in of)
        steps.append(Step(said=min(fifth + 0.1, 0.95), came=sum(s.fine for s in of) / count, count=count))
    groups = [_group("all", "", said, seen)]
    for group, name in (("sport", "sport"), ("kind", "upper"), ("by", "fitter")):
        for value in sorted({getattr(s, group) for s in (*said, *seen)}):
            told = [s for s in said if getattr(s, group) == value]
            found = [s for s in seen if getattr(s, group) == value]
            groups.append(_group(value, name, told, found))
    return Calibration(steps=steps, groups=groups)


def _group(of: str, group: str, said: Iterable[SaidSo], seen: Sequence[SeenSo]) -> CameTrue:
    told = list(said)
    count = sum(s.count for s in told)
    gaps = sum(s.count for s in seen)
    return CameTrue(
        of=of,
        group=group,
        verdicts=count,
        said=sum(s.count * min(s.said + 0.1, 0.95) for s in told) / count if count else None,
        came=sum(s.fine for s in told) / count if count else None,
        gaps=gaps,
        held=sum(s.held for s in seen) / gaps if gaps else None,
        off=paired_sums(gaps, sum(s.off_mm for s in seen), sum(s.off_squared for s in seen)) if gaps else None,
    )
