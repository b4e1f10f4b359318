"""What a shoe has lost since its first day, by two pictures of it: each number's change with its spread, in words."""

from __future__ import annotations

from ..contract import Contract
from ..feet.measures import Number
from .pictured import Pictured

SURE = 1.96
"""A change is one when it is further from none than so many standard deviations."""
WEARS: dict[str, tuple[str, str, str]] = {
    "downturn_deg": ("of its downturn", "°", "The hook has softened"),
    "stud_mm": ("of its studs", "mm", "The studs are worn"),
    "heel_stack_mm": ("under the heel", "mm", "The heel is pressed or worn down"),
    "fore_stack_mm": ("under the ball", "mm", "The front is pressed or worn down"),
}  # fmt: skip
"""What wears, what it is called, its unit, and what it means."""


class Lost(Contract):
    """One number: how it was and is, how much is gone with its spread, whether that is more than the pictures'
    doubt."""

    name: str
    then: Number
    now: Number
    lost: Number
    sure: bool
    text: str


def by_studs(then: Pictured, now: Pictured) -> Number | None:
    """How much lower a shoe stands by its studs alone, which its stacks count in."""
    a, b = then.numbers.get("stud_mm"), now.numbers.get("stud_mm")
    return Number(value=a.value - b.value, sigma=(a.sigma**2 + b.sigma**2) ** 0.5) if a and b else None


def lost(then: Pictured, now: Pictured) -> list[Lost]:
    """What is gone between two pictures of one way, in the order of `WEARS`; studs' heights by the mean said too."""
    found = []
    for name, (what, unit, means) in WEARS.items():
        a, b = then.numbers.get(name), now.numbers.get(name)
        if a is None or b is None:
            continue
        gone = Number(value=a.value - b.value, sigma=(a.sigma**2 + b.sigma**2) ** 0.5)
        if name.endswith("_stack_mm") and (studs := by_studs(then, now)):
            gone = Number(value=gone.value - studs.value, sigma=(gone.sigma**2 + studs.sigma**2) ** 0.5)
        sure = gone.value > SURE * gone.sigma
        share = f", {100 * gone.value / a.value:.0f} %" if sure and a.value > 1 else ""
        text = (
            f"{means}: {gone.value:.1f} ± {gone.within:.1f} {unit} {what} gone{share}."
            if sure
            else f"No more than the pictures' doubt is gone {what}: {gone.value:.1f} ± {gone.within:.1f} {unit}."
        )
        found.append(Lost(name=name, then=a, now=b, lost=gone, sure=sure, text=text))
    return found
