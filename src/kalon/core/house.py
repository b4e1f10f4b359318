"""The house: numbers a shop may change, each with its mark, and the schools and prices it keeps to.

A fitting keeps the house it was begun under, so a change never moves an old sheet.
"""

from __future__ import annotations

import re
from dataclasses import dataclass
from fractions import Fraction
from typing import Literal

from pydantic import Field, field_validator, model_validator

from .contract import Contract, Mark
from .money import Money, nearest
from .sizes import label_of, last_of, printed
from .systems import System


@dataclass(frozen=True)
class Default:
    """A house number: what it is, its unit, its value, the range it may be set in, and how sure it is."""

    text: str
    unit: str
    value: float
    low: float
    high: float
    mark: Mark = "HD"

    @property
    def step(self) -> float:
        """By how much it is moved: the widest of round steps that meets its least, its most and itself, and leaves
        twenty places or more between."""
        span, at = self.high - self.low, self.value - self.low
        return next(s for s in STEPS if span >= LEAST_STEPS * s and _whole(span / s) and _whole(at / s))


STEPS, LEAST_STEPS = (100.0, 50.0, 10.0, 5.0, 1.0, 0.5, 0.25, 0.1, 0.05, 0.02, 0.01), 20


def _whole(steps: float) -> bool:
    return abs(steps - round(steps)) < 1e-6


def _room(what: str, low: float, high: float, mark: Mark = "HD") -> dict[str, Default]:
    slug = what.lower().replace(" ", "_").replace(",", "")
    return {
        f"room.{slug}.low": Default(f"{what}: least room at the toe", "mm", low, -15, 25, mark),
        f"room.{slug}.high": Default(f"{what}: most room at the toe", "mm", high, -15, 25, mark),
    }


DEFAULTS: dict[str, Default] = {
    **_room("Climbing first and all day", -3, 0),
    **_room("Climbing all round", -6, -2),
    **_room("Climbing performance", -8, -5),
    **_room("Climbing long routes", -2, 1),
    **_room("Football synthetic", 8, 14),
    **_room("Football leather new", 2, 7),
    **_room("Football street size", 11, 16),
    **_room("Lifting under load", 10.5, 15, "CP"),
    **_room("Mixed training", 8, 13),
    **_room("Gym running", 10, 15, "MEM"),
    **_room("Cycling", 5, 10),
    **_room("Court", 7, 12),
    **_room("Fencing", 4, 8),
    **_room("Dance", 7, 12),
    **_room("Cricket", 7, 12),
    **_room("Ice", 0, 5, "MEM"),
    "climbing.sag_deg": Default("How far a sole may sag on an edge", "°", 20, 5, 40),
    "climbing.one_foot_share": Default("Share of the body on the working foot", "", 0.7, 0.3, 1),
    "climbing.smear_limit": Default("Stiffest sole that smears, at 70 kg", "N·mm/°", 120, 40, 300),
    "climbing.stiffness_span": Default("Half-width of the stiffness band", "share", 0.2, 0.05, 0.5),
    "toes.weak": Default("Weak toes, moment they hold", "N·m/kg", 0.08, 0.02, 0.3),
    "toes.average": Default("Average toes, moment they hold", "N·m/kg", 0.11, 0.02, 0.3),
    "toes.strong": Default("Strong toes, moment they hold", "N·m/kg", 0.15, 0.02, 0.3),
    "squat.lean_high": Default("Most trunk lean, bar high", "°", 38, 20, 60),
    "squat.lean_low": Default("Most trunk lean, bar low", "°", 45, 20, 65),
    "squat.lean_front": Default("Most trunk lean, bar in front", "°", 28, 10, 50),
    "squat.lean_overhead": Default("Most trunk lean, bar overhead", "°", 28, 10, 50),
    "squat.olympic_least": Default("Least heel of a weightlifting shoe", "mm", 15, 8, 25),
    "studs.torque_low": Default("Turning resistance wanted, from", "N·m", 30, 5, 60, "MEM"),
    "studs.torque_high": Default("Turning resistance wanted, to", "N·m", 45, 10, 90, "MEM"),
    "studs.pressure_most": Default("Pressure under one stud that is felt", "kPa", 1600, 100, 5000),
    "football.heavy_kg": Default("A player counts as heavy from", "kg", 85, 60, 140),
    "pedal.offset_mm": Default("Load ahead of the pedal axle", "mm", 15, 5, 40),
    "pedal.loss_most_w": Default("Loss in the sole worth avoiding", "W", 1.5, 0.1, 10),
    "court.flare_low": Default("Heel sole over upper, from", "×", 1.0, 0.9, 1.2),
    "court.flare_high": Default("Heel sole over upper, to", "×", 1.12, 1.0, 1.3),
    "court.flare_catches": Default("Heel sole over upper that catches", "×", 1.2, 1.05, 1.5),
    "ice.boot_per_kg": Default("Boot stiffness a kilogram of body", "N·mm/° a kg", 6.5, 2, 12),
    "rank.fit_power": Default("How much fit counts against the spec", "of 1", 0.6, 0.3, 0.9),
    "breakin.ready_share": Default("Ready when so much of the give is done", "share", 0.8, 0.5, 0.98),
    "takings.undo_min": Default("A sale can be undone, as if it hadn't been, for", "min", 15, 1, 240),
    "takings.cover_days": Default("What is bought again should last for", "days", 30, 7, 180),
    "takings.slow_days": Default("A size is slow when none was sold for", "days", 120, 14, 730),
    "tablet.rest_min": Default("A shop's own tablet locks after so long without a touch", "min", 5, 1, 120),
    "shelf.hold_h": Default("Pulled pairs are held after the last touch of a fitting for", "h", 2, 0.25, 24),
    "people.unnamed_days": Default("Somebody who never said a name is forgotten after", "days", 30, 1, 365),
    "people.at_once": Default("Fitters at work at once", "", 2, 1, 20),
}
"""Every number of the house by its slug, in the order the house page shows them."""
GROUPS = {
    "room": "Room wanted at the toe",
    "climbing": "Climbing",
    "toes": "Toes on an edge",
    "squat": "Squats",
    "studs": "Studs",
    "football": "Football",
    "pedal": "Pedals",
    "court": "Court",
    "ice": "Ice",
    "rank": "Order of the shelves",
    "breakin": "Breaking in",
    "takings": "Takings",
    "tablet": "Tablets",
    "shelf": "Pairs held",
    "people": "Walk-ins and the queue",
}
"""What the numbers are about, by the first word of their slug."""


def group(slug: str) -> str:
    """What a number of the house is about. Raises KeyError for a slug of no group."""
    return GROUPS[slug.split(".")[0]]


class TaxBand(Contract):
    """Sizes up to a label carry this rate; the last band has no label and takes the rest."""

    up_to: float | None = Field(None, ge=0, le=400)
    rate_pct: float = Field(ge=0, le=50)


Rounding = Literal["line", "total"]
"""Whether a day's tax is the sum of its lines', or reckoned once from what each rate took in."""


class Tax(Contract):
    """Sales tax by size band, on one size system; without bands there is none."""

    system: System = "uk"
    bands: list[TaxBand] = Field([], max_length=6)
    price_includes: bool = True
    rounding: Rounding = "line"

    @model_validator(mode="after")
    def _in_order(self) -> Tax:
        labels = [b.up_to for b in self.bands]
        if self.bands and labels[-1] is not None:
            raise ValueError("The last band takes every larger size: leave its label open")
        inner = labels[:-1]
        if any(x is None for x in inner) or inner != sorted(set(inner), key=lambda x: x or 0):
            raise ValueError("Bands go from small sizes to large, each with the largest size it holds")
        return self


class TaxOn(Contract):
    """Tax on one price, in minor units of its currency, and the band it comes from."""

    rate_pct: float
    tax_minor: int
    total_minor: int
    currency: str
    why: str

    @property
    def total(self) -> Money:
        """The price with its tax."""
        return Money(self.total_minor, self.currency)


DateOrder = Literal["dmy", "mdy"]
"""Day before month, or month before day."""


ADDRESS = re.compile(r"https?://[A-Za-z0-9.-]+(:[0-9]{1,5})?")


class House(Contract):
    """What a shop has set; what it hasn't is as `DEFAULTS` and the first side of each school."""

    version: int = 0
    numbers: dict[str, float] = {}
    schools: dict[str, str] = {}
    tax: Tax = Tax()
    size_system: System = "eu"
    length_unit: Literal["mm", "inch"] = "mm"
    currency: str = Field("EUR", pattern=r"^[A-Z]{3}$")
    """What prices are in (ISO 4217)."""
    time_zone: str = Field("UTC", pattern=r"^[A-Za-z0-9_+-]+(/[A-Za-z0-9_+-]+){0,2}$", max_length=60)
    """Whose days the shop's days are (a name of the IANA list)."""
    reach_words: str = Field(
        "The shop may call or write to me about pairs I ordered, fittings that are booked and shoes that are due.",
        min_length=1,
        max_length=600,
    )
    """What an athlete agrees to before anybody calls or writes to them; kept with each as it was then."""
    date_order: DateOrder | None = None
    """How 12/03/2004 is read in lists that don't show it themselves; asked for where the house hasn't said."""
    public_address: str | None = Field(None, max_length=120)
    """Where links given to athletes and others lead: this machine as they reach it. Else as its tablets do."""

    @field_validator("public_address")
    @classmethod
    def _an_address(cls, address: str | None) -> str | None:
        if address is not None and not ADDRESS.fullmatch(address):
            raise ValueError("Write it as https://bench.example, with nothing after the name")
        return address

    @field_validator("numbers")
    @classmethod
    def _known(cls, numbers: dict[str, float]) -> dict[str, float]:
        for slug, value in numbers.items():
            found = DEFAULTS.get(slug)
            if not found:
                raise ValueError(f"The house has no number called {slug}")
            if not found.low <= value <= found.high:
                raise ValueError(
                    f"{found.text}: {value:g} is outside {found.low:g} to {found.high:g} {found.unit}".strip()
                )
        return numbers

    @model_validator(mode="after")
    def _lows_below_highs(self) -> House:
        for low in (s for s in DEFAULTS if s.endswith(".low") or s in ("studs.torque_low", "court.flare_low")):
            high = low.removesuffix("low") + "high"
            if self[low] >= self[high]:
                raise ValueError(f"{DEFAULTS[low].text} must be below {DEFAULTS[high].text.lower()}")
        return self

    def __getitem__(self, slug: str) -> float:
        """The number in force. Raises `KeyError` for one the house doesn't have."""
        return self.numbers.get(slug, DEFAULTS[slug].value)

    def room(self, slug: str) -> tuple[float, float]:
        """A wanted toe room, mm."""
        return self[f"room.{slug}.low"], self[f"room.{slug}.high"]


HOUSE = House()
"""The house before a shop has set anything."""


def taxed_label(policy: Tax, system: System, label: float, runs_ahead: float | None = None) -> float:
    """The label a pair counts by in the policy's system: its own where it is sold in that, else the one that would be
    printed on it, also where nobody prints any so small or so large. `runs_ahead` is its maker's own step."""
    if system == policy.system:
        return label
    return printed(policy.system, label_of(policy.system, last_of(system, label, runs_ahead=runs_ahead)))


def share_of(rate_pct: float) -> Fraction:
    """A rate in percent as an exact share of the price without tax: 19.6 is 196 of 1000, as it is written."""
    return Fraction(str(rate_pct)) / 100


def tax_within(total_minor: int, rate_pct: float | None) -> int:
    """The tax in a total with tax, in minor units, half up; none where no rate is known."""
    rate = share_of(rate_pct or 0)
    return nearest(total_minor * rate / (1 + rate))


def tax_on(policy: Tax, price: Money, system: System, label: float, runs_ahead: float | None = None) -> TaxOn | None:
    """Tax on a pair by the label it is sold under; none only when the shop keeps no bands: every size is of one."""
    if not policy.bands:
        return None
    label = taxed_label(policy, system, label, runs_ahead)
    band = next(b for b in policy.bands if b.up_to is None or label <= b.up_to + 1e-9)
    rate = share_of(band.rate_pct)
    tax = nearest(price.minor * (rate / (1 + rate) if policy.price_includes else rate))
    where = "larger sizes" if band.up_to is None else f"up to {policy.system.replace('_', ' ').upper()} {band.up_to:g}"
    return TaxOn(
        rate_pct=band.rate_pct,
        tax_minor=tax,
        total_minor=price.minor if policy.price_includes else price.minor + tax,
        currency=price.currency,
        why=f"{band.rate_pct:g} % on {where}, as the shop has set.",
    )
