"""The bench's day in words: what each matter is, why it stands there, and the place it opens."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date
from typing import Any, Literal

from ..rules.words import SPORTS
from ..sizes import on_the_box

DayKind = Literal["follow_up", "arrival", "transfer", "ready", "event", "junior", "wear", "open", "gap"]
Timed = Literal["due", "since", "from"]
"""What the day of a matter is: when it is due, when it began, or from when it can be done."""
Drawn = Literal["see", "look", "none"]
"""How it is drawn on the line of days: somebody to see again, something to look at, or not by a day of its own."""


@dataclass(frozen=True)
class Matters:
    """A kind of matters: its heading, what their day is, how they are drawn, whether they belong in a calendar."""

    title: str
    timed: Timed = "due"
    drawn: Drawn = "none"
    in_calendar: bool = True


KINDS: dict[DayKind, Matters] = {
    "arrival": Matters("Pairs that came, to check", "since"),
    "event": Matters("Events that come before the pair is ready"),
    "follow_up": Matters("To see again", drawn="see"),
    "ready": Matters("Broken in", "from", "look"),
    "wear": Matters("Pairs to look at", drawn="look"),
    "junior": Matters("Young feet to measure", drawn="look"),
    "transfer": Matters("Orders and sister shops", "since", in_calendar=False),
    "open": Matters("Fittings left open", "since", in_calendar=False),
    "gap": Matters("Gaps in the shelf", "since", in_calendar=False),
}
"""What stands in the day, in the order a fitter takes it up."""
BEGIN: dict[str, tuple[str, str]] = {
    "begin:list": ("Bring in a supplier's first list: what stands on the shelf", "/stockroom"),
    "begin:house": ("Look at the house's numbers: allowances, tax, words of its own", "/house#numbers"),
    "begin:people": ("Let in who works here, each by a name of their own", "/house#people"),
    "begin:tablet": (
        "Let a tablet in: it trusts this machine, and those who work here sign in on it",
        "/house#tablets",
    ),
    "begin:backup": ("Write a backup on another disk, and bring it in once to see that it holds", ""),
}
"""What a new shop's manager has still to do: said until it is done, and where. A backup is made at the machine."""
WAITS_AT = ("feet", "brief", "pull", "trial")
"""The stations a fitting left open may wait at, before Settle. What is to acknowledge at Spec isn't looked at for it:
that takes the whole spec."""
STATIONS = {
    "feet": "waits at Feet", "brief": "waits at Brief", "pull": "waits at Pull", "trial": "waits at Trial",
    "settle": "waits at Settle",
}  # fmt: skip
STATES = {
    ("wanted", True): "wanted: order it", ("ordered", True): "ordered", ("asked", True): "asked for there",
    ("held", True): "held for us there: send for it", ("sent", True): "on its way here",
    ("sent_back", True): "on its way back", ("asked", False): "asked of us: hold or send it",
    ("held", False): "held by us for a sister shop", ("sent", False): "sent to a sister shop",
    ("sent_back", False): "coming back to us",
}  # fmt: skip


def _pair(detail: Mapping[str, Any]) -> str:
    box = detail.get("box") or (on_the_box({**detail, "eu_label": detail["size"]}) if detail.get("size") else "")
    return f"{detail.get('pair') or 'A pair'} {box}".rstrip()


def when(kind: DayKind, on: date, today: date) -> tuple[str, bool]:
    """A matter's day as one says it today, and whether it is late: only what is due can be."""
    days = (on - today).days
    timed = KINDS[kind].timed
    if days < 0 and timed != "due":
        return ("yesterday" if days == -1 else f"{-days} days ago"), False
    if days < 0:
        return ("a day late" if days == -1 else f"{-days} days late"), True
    if days == 0 or timed == "since":
        return "today", False
    return ("tomorrow" if days == 1 else f"in {days} days"), False


def waits_at(done: Mapping[str, bool]) -> str:
    """The station a fitting left open waits at: the first of those that isn't done."""
    return next((station for station in WAITS_AT if not done[station]), "settle")


def day_text(kind: DayKind, detail: Mapping[str, Any]) -> str:
    """One matter of the day in a sentence."""
    match kind:
        case "follow_up":
            return f"{_pair(detail)}: how has it settled?"
        case "arrival":
            return f"{_pair(detail)} is here: check toes, pinches, heel."
        case "transfer":
            return f"{_pair(detail)}: {STATES.get((detail['state'], detail['ours']), detail['state'])}."
        case "ready":
            return f"{_pair(detail)} is broken in, if the plan was kept."
        case "event":
            ready = date.fromisoformat(detail["ready_on"])
            return f"{detail['pair']} won't be ready before {ready:%-d %B}: the old pair plays."
        case "junior":
            since = date.fromisoformat(detail["measured_on"])
            return f"Measured on {since:%-d %B %Y}: half a size may have grown since."
        case "wear":
            left = detail["median_h"] - detail["worn_h"] if detail.get("median_h") else None
            if left is None or left <= 0:
                return f"{_pair(detail)} is near its end: look at it, plan the next."
            return f"{_pair(detail)}: about {left:.0f} h left. Look at it."
        case "open":
            sport = SPORTS[detail["sport"]].name if detail.get("sport") in SPORTS else "No brief yet"
            event = f", event on {date.fromisoformat(detail['event_on']):%-d %B}" if detail.get("event_on") else ""
            return f"{sport}{event}: {STATIONS[detail['station']]}."
        case "gap":
            return f"{_pair(detail)}: {detail['sold']} sold in 30 days, none left."


def day_place(kind: DayKind, detail: Mapping[str, Any]) -> str:
    """Where the interface opens it."""
    match kind:
        case "follow_up":
            return f"/fittings/{detail['fitting']}/return"
        case "arrival" | "transfer":
            return "/stockroom/orders"
        case "ready" | "wear":
            return f"/pairs/{detail['pair_id']}"
        case "event":
            return f"/fittings/{detail['fitting']}/settle" if detail.get("fitting") else f"/pairs/{detail['pair_id']}"
        case "junior":
            return f"/athletes/{detail['athlete']}"
        case "open":
            return f"/fittings/{detail['fitting']}/{detail['station']}"
        case "gap":
            return f"/stockroom?find={str(detail['pair']).replace(' ', '+')}"
