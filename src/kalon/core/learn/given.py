"""What `learn` is given and what it says: lines, fittings, readings; makers, models, sizes, feet, fitters."""

from __future__ import annotations

from datetime import date
from typing import Annotated

from pydantic import Field, model_validator

from ..contract import Contract
from ..errors import AtField
from ..shoes.inner import Zone
from .observe import BOTH, Side, Verdict

Key = Annotated[str, Field(min_length=1, max_length=120)]
Millimetres = Annotated[float, Field(ge=-100, le=500)]
Sigma = Annotated[float, Field(gt=0, le=60)]
Last = Annotated[str, Field(max_length=80)]


class LearnLine(Contract):
    """A size of a shoe: its maker, its model, what its label says of the zone, mm, and the last it is made on now (the
    one of what was seen last of its model, where nobody says)."""

    id: Key
    maker: Key
    model: Key
    base_mm: float = Field(ge=20, le=500)
    last: Last | None = None


class Sighting(Contract):
    """What was seen of one line on one foot: a verdict, or a gap measured, mm, with one standard deviation; when, and
    the last it was made on then."""

    line: Key
    verdict: Verdict | None = None
    sides: list[Side] = Field(list(BOTH), max_length=2)
    """What could have been said by the tests that were done."""
    low_mm: Millimetres | None = None
    high_mm: Millimetres | None = None
    """The band it was judged by, where it isn't the fitting's."""
    gap_mm: Millimetres | None = None
    sigma_mm: Sigma | None = None
    on: date | None = None
    last: Last = ""

    @model_validator(mode="after")
    def _one_of_both(self) -> Sighting:
        if (self.verdict is None) == (self.gap_mm is None) or (self.gap_mm is None) != (self.sigma_mm is None):
            raise AtField("verdict", "Either a verdict, or a gap with its spread")
        return self

    @property
    def says_something(self) -> bool:
        """Whether it could have been otherwise: a fine where nothing else could have been said tells nothing."""
        return self.verdict != "fine" or bool(self.sides)


class LearnFitting(Contract):
    """A fitting: whose judgement, which measuring of the foot (its own, if none is named), the foot as measured, the
    band that was wanted of the gap, mm, and what was seen."""

    id: Key
    fitter: Key | None = None
    foot: Key | None = None
    foot_mm: float = Field(ge=20, le=500)
    foot_sigma_mm: Sigma
    low_mm: Millimetres = 0.0
    high_mm: Millimetres = 0.0
    seen: list[Sighting] = Field([], max_length=200)

    @model_validator(mode="after")
    def _right_way(self) -> LearnFitting:
        if self.low_mm > self.high_mm:
            raise AtField("low_mm", "The band's lower end lies above its upper one")
        return self


class Inside(Contract):
    """The inside of a line as read, mm, with one standard deviation; when, and the last it was made on then."""

    line: Key
    mm: float = Field(gt=0, le=500)
    sigma_mm: Sigma
    on: date | None = None
    last: Last = ""


class LearnSpread(Contract):
    """One standard deviation, mm, of makers, of models within one, of sizes within a model."""

    maker: Sigma
    model: Sigma
    line: Sigma


class LearnIn(Contract):
    """The evidence of one zone."""

    zone: Zone = "length"
    lines: list[LearnLine] = Field(max_length=20_000)
    fittings: list[LearnFitting] = Field([], max_length=100_000)
    insides: list[Inside] = Field([], max_length=20_000)
    spread_mm: LearnSpread | None = None

    @model_validator(mode="after")
    def _known_lines(self) -> LearnIn:
        lines = {line.id for line in self.lines}
        if len(lines) != len(self.lines):
            raise AtField("lines", "A line is named twice")
        of_maker: dict[str, str] = {}
        for line in self.lines:
            if of_maker.setdefault(line.model, line.maker) != line.maker:
                raise AtField("lines", f"{line.model} is of two makers")
        for name in [s.line for f in self.fittings for s in f.seen] + [i.line for i in self.insides]:
            if name not in lines:
                raise AtField("lines", f"{name} is no line")
        return self


class Learned(Contract):
    """A departure from the label, or (of a line) all of its, mm, with one standard deviation."""

    mean_mm: float
    sd_mm: float


class LearnedFoot(Contract):
    """The true foot of a fitting, mm, with one standard deviation."""

    foot_mm: float
    foot_sd_mm: float


class LearnedFitter(Contract):
    """Where a fitter places the band against the others, mm (more: says jam sooner), with one standard deviation; the
    share of their verdicts that say nothing of the shoe; and how many there are."""

    offset_mm: float
    sd_mm: float
    empty_share: float
    verdicts: int


class Changed(Contract):
    """A model that may have changed untold: the first day of the new one, and how likely that is."""

    model: str
    on: date
    probability: float


class LearnOut(Contract):
    """What was learned of a zone; a line's departure is its maker's, its model's and its own together, as it is now."""

    makers: dict[str, Learned]
    models: dict[str, Learned]
    with_maker: dict[str, Learned]
    """By model: its maker's departure and its own together."""
    lines: dict[str, Learned]
    fittings: dict[str, LearnedFoot]
    fitters: dict[str, LearnedFitter] = {}
    changed: list[Changed] = []
