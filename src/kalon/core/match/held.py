"""Who holds pairs of a size, in words."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Literal

HoldKind = Literal["tray", "sister", "customer"]


@dataclass(frozen=True)
class Holder:
    """Who holds a pair: an athlete's tray, a sister shop or a customer, by name; until when, by the shop's clock."""

    kind: HoldKind
    name: str
    until: datetime


def until_words(until: datetime, now: datetime) -> str:
    """The end of a hold as one says it: a time today, else the day with it."""
    return f"until {until:%H:%M}" if until.date() == now.date() else f"until {until:%A, %-d %B, %H:%M}"


def holder_words(holder: Holder, now: datetime) -> str:
    """One hold: "one in the tray of Wren Halloway until 15:10"."""
    of = {"tray": "in the tray of", "sister": "held for", "customer": "kept for"}[holder.kind]
    return f"one {of} {holder.name or 'another'} {until_words(holder.until, now)}"


def held_words(holders: Sequence[Holder], now: datetime) -> str:
    """Why none is free, in a sentence."""
    told = "; ".join(holder_words(h, now) for h in holders)
    return f"No pair of that size is free: {told}."
