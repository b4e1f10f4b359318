"""What goes over the wire of a fitting as the athlete sees it: theirs alone, and nothing of the shop's."""

from __future__ import annotations

from datetime import date
from uuid import UUID

from ..core.care.breakin import Wear
from ..core.care.cost import Span
from ..core.contract import Side
from ..core.feet.gauge import Arch, ToeShape
from ..core.fit.size import SizeFit
from ..core.match.beside import ZoneDoes
from ..core.mechanics.studs import Stud
from ..core.rules.engine import Spec
from ..core.turned.need import Because
from ..core.turned.told import TheySaid
from .schemas import Wire


class TurnedFoot(Wire):
    """A foot as it is drawn, mm; no width that nobody measured. `outline`: as it was captured, heel at 0, toes up."""

    length_mm: float
    ball_width_mm: float | None
    heel_width_mm: float | None
    toe_shape: ToeShape | None
    arch: Arch | None
    bunion: bool
    outline: list[list[float]]


class TurnedFeet(Wire):
    """Both feet, and what there is to say of them."""

    left: TurnedFoot | None
    right: TurnedFoot | None
    lines: list[str]


class TurnedShoe(Wire):
    """The shoe that is looked for, as it is drawn and said; `spec` without what the bench reasons by."""

    spec: Spec
    studs: list[Stud] | None
    """Those of the plate that leads, where it is computed with."""
    foot_mm: float
    sentence: str
    because: list[Because]


class PairCostSpan(Wire):
    """What a pair costs, in whole units of the currency: an hour of wear nine times in ten within, and at all."""

    per_hour: Span
    total_minor: int
    currency: str


class PairBeside(Wire):
    """One pulled pair, to be held beside another."""

    line_id: UUID
    name: str
    """Turned to the athlete, the letter it goes by while the trial is judged blind."""
    size: str
    fit: SizeFit
    foot_mm: dict[str, float]
    """The larger foot in each zone."""
    side: Side
    toes: ToeShape
    asymmetry_deg: float | None
    does: list[ZoneDoes]
    in_short: list[str]
    gives_up: str
    felt: list[str]
    """What was felt in it; empty of one that wasn't tried."""
    tried: bool
    verdict: str | None
    cost: PairCostSpan | None
    sold: bool


class TurnedWear(Wire):
    """How the pair is worn in."""

    line_id: UUID
    pair: str
    wears: list[Wear]
    ready_on: date
    verdict: str
    rules: list[str]


class TurnedOut(Wire):
    """The moment of a fitting, for whom it is about."""

    shop: str
    athlete: str | None
    """None of somebody who goes by a description of their own making."""
    feet: TurnedFeet
    shoe: TurnedShoe | None
    """None while too little was told; no pair while too little was measured."""
    pairs: list[PairBeside]
    wear: TurnedWear | None
    said: list[TheySaid]
    decided: list[str]
