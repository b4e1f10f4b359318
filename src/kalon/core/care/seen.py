"""`wear-seen`: what was seen of a worn pair, part by part, as a share worn away with its spread.

Each finding stands for a stretch of a part's life, so that "as new" says little more than that it isn't old. Studs and
cleats are replaced and don't wear out a pair; a part that is gone ends it, whatever the others look like. The stretches
are house defaults.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal, cast

from pydantic import Field, model_validator

from ..contract import Contract
from ..errors import AtField
from ..sports.every import facts_of
from ..sports.words import Sport
from .wear import Stretch, share_of

SeenPart = Literal[
    "studs", "toe_rubber", "sole", "downturn", "midsole", "quarter", "upper", "overhang", "cup", "cleat", "damp",
]  # fmt: skip


@dataclass(frozen=True)
class Finding:
    """What may be found of a part: a word, and the stretch of its life it stands for, shares."""

    value: str
    text: str
    low: float
    high: float


@dataclass(frozen=True)
class Looked:
    """A part one looks at: how, and what may be found. `replaced` ones are changed, not worn out with
    the pair; `told` ones only say what to do."""

    name: str
    how: str
    findings: tuple[Finding, ...]
    replaced: bool = False
    told: bool = False


GONE = 1.0
"""A finding from here on ends the pair."""
LOOKED: dict[SeenPart, Looked] = {
    "studs": Looked("Studs", "Lay a straight edge over them: height, and how round the tips are.", (
        Finding("as_new", "as new", 0, 0.3), Finding("rounded", "rounded", 0.3, 0.75),
        Finding("nubs", "down to nubs", 0.75, 1.1)), replaced=True),
    "toe_rubber": Looked("Rubber at the toe", "Press with a thumb at the big toe: thin gives.", (
        Finding("full", "full", 0, 0.35), Finding("thin", "thin", 0.35, 0.75),
        Finding("edge_gone", "the edge is round", 0.7, 1.0), Finding("hole", "through to the upper", 1.0, 1.2))),
    "sole": Looked("Sole", "Look along it against the light: pattern, bald patches.", (
        Finding("grips", "grips as new", 0, 0.4), Finding("patches", "bald in patches", 0.4, 0.85),
        Finding("bald", "bald", 0.85, 1.15))),
    "downturn": Looked("Downturn", "Stand it on a table: how far the toe still hooks.", (
        Finding("holds", "hooks as new", 0, 0.4), Finding("half", "half of it lost", 0.4, 0.8),
        Finding("flat", "lies flat", 0.8, 1.1))),
    "midsole": Looked("Mid-sole", "Press heel and ball with both thumbs: does it come back?", (
        Finding("springs", "springs back", 0, 0.4), Finding("creased", "creased, slow to come back", 0.4, 0.8),
        Finding("pressed", "pressed flat", 0.8, 1.15))),
    "quarter": Looked("Quarter", "Squeeze the sides over the arch: creases that stay.", (
        Finding("smooth", "smooth", 0, 0.45), Finding("creased", "creased", 0.4, 0.85),
        Finding("soft", "folds over", 0.8, 1.15))),
    "upper": Looked("Upper", "Lace it on: is there room where there was none?", (
        Finding("as_fitted", "holds as fitted", 0, 0.45), Finding("loose", "looser, still held", 0.4, 0.85),
        Finding("stretched", "the foot moves in it", 0.85, 1.15))),
    "overhang": Looked("Overhang", "Stand in it: does the upper hang over the sole's edge, and is the edge felt?", (
        Finding("none", "none", 0, 0.4), Finding("over", "over the edge, not felt", 0.35, 0.8),
        Finding("felt", "the edge is felt underfoot", 0.8, 1.1))),
    "cup": Looked("Heel cup", "Squeeze it from the sides.", (
        Finding("firm", "firm", 0, 0.5), Finding("soft", "soft", 0.45, 0.9),
        Finding("broken", "broken", 1.0, 1.2))),
    "cleat": Looked("Cleat", "Twist it in the pedal: play, and how it lets go.", (
        Finding("fresh", "clicks in and out", 0, 0.4), Finding("worn", "some play", 0.4, 0.8),
        Finding("slips", "lets go by itself", 0.9, 1.2)), replaced=True),
    "damp": Looked("Smell and damp", "Smell it; feel the insole.", (
        Finding("dry", "dry", 0, 1), Finding("damp", "damp or smelling", 0, 1)), told=True),
}  # fmt: skip
"""What one looks at, in the order one turns a shoe over. Stretches of life are house defaults."""


def looked_at(sport: Sport) -> list[SeenPart]:
    """The parts one looks at in a sport."""
    return [cast(SeenPart, part) for part in facts_of(sport).looked_at]


class WearSeenIn(Contract):
    """A sport and what was found, by part."""

    sport: Sport
    seen: dict[SeenPart, str] = Field(min_length=1)

    @model_validator(mode="after")
    def _known(self) -> WearSeenIn:
        for part, found in self.seen.items():
            looked = LOOKED[part]
            if part not in looked_at(self.sport):
                raise AtField(f"seen.{part}", f"{looked.name} isn't looked at in this sport")
            if found not in {f.value for f in looked.findings}:
                words = ", ".join(f.value for f in looked.findings)
                raise AtField(f"seen.{part}", f"{looked.name} can be found {words}")
        return self


class WearSeenOut(Contract):
    """The share of the pair worn away with one standard deviation; none where nothing was seen that wears it out.

    `gone` names the parts that end it; `advice` says what to replace, dry or watch."""

    worn_share: float | None
    sigma: float | None
    parts: list[Stretch]
    """The stretches of life the findings stand for, as `wear` takes them."""
    gone: list[SeenPart]
    advice: list[str]


def _finding(part: SeenPart, found: str) -> Finding:
    return next(f for f in LOOKED[part].findings if f.value == found)


def wear_seen(given: WearSeenIn) -> WearSeenOut:
    """How far a pair is worn, from what was seen of it, and what to do about it."""
    gone: list[SeenPart] = []
    advice: list[str] = []
    for part, found in given.seen.items():
        looked, finding = LOOKED[part], _finding(part, found)
        if looked.told:
            if found == "damp":
                advice.append("Dry it between wears, insoles out, away from heat.")
        elif looked.replaced:
            advice += _to_replace(part, finding)
        elif finding.low >= GONE:
            gone.append(part)
        if part == "quarter" and found != "smooth" and given.sport == "ice":
            advice.append("Creases by the eyelets: too soft for this skater, or worn out. The next boot a stiffer one.")
        if part == "overhang" and found == "felt":
            advice.append("The edge is felt underfoot: it no longer stands on its sole. Not for heavy loads or jumps.")
    parts = stretches(given)
    if gone:
        names = " and ".join(LOOKED[p].name.lower() for p in gone)
        text = f"{names.capitalize()} {'is' if len(gone) == 1 else 'are'} gone: retire it, whatever else holds."
        advice.insert(0, text)
    share, sigma = share_of(parts) if parts else (None, None)
    return WearSeenOut(worn_share=share, sigma=sigma, parts=parts, gone=gone, advice=advice)


def stretches(given: WearSeenIn) -> list[Stretch]:
    """The stretches of life that what was seen stands for. A part that is gone tells alone."""
    found = [
        _finding(part, value) for part, value in given.seen.items() if not (LOOKED[part].told or LOOKED[part].replaced)
    ]
    gone = [f for f in found if f.low >= GONE]
    return [Stretch(low=f.low, high=f.high) for f in gone or found]


def _to_replace(part: SeenPart, finding: Finding) -> list[str]:
    if finding.low < 0.7:
        return []
    if part == "cleat":
        return ["Replace the cleats now: one that lets go by itself is a fall."]
    return ["Replace the studs where they screw out; moulded ones down to nubs no longer hold on soft ground."]
