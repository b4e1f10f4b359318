"""What isn't measured, from what is: the usual share of a foot, or the other foot, each with its spread.

A gauge gives length and ball width only; the rest is taken from norms and said to be so. Shares and spreads are house
defaults; the girths' means are the shop's own where it has measured enough feet.
"""

from __future__ import annotations

from typing import Literal

from ..contract import SIDES, Contract, Side
from ..errors import BadInput, FieldProblem
from .gauge import GIRTH_NORM, NAMES, POSSIBLE_MM, SIZING, Feet, GaugeFoot, Norms

From = Literal["other_foot", "ball_width", "ball_girth", "length"]

OF_LENGTH: Norms = {"ball_width_mm": (0.389, 0.017), "heel_width_mm": (0.249, 0.013)} | GIRTH_NORM
"""Mean and spread as shares of length."""
OF_BALL_WIDTH: Norms = {
    "ball_girth_mm": (2.42, 0.075),
    "instep_girth_mm": (2.47, 0.105),
    "heel_width_mm": (0.64, 0.034),
}
"""Mean and spread as multiples of the ball's width."""
OF_BALL_GIRTH: Norms = {
    "ball_width_mm": (0.413, 0.013), "instep_girth_mm": (1.021, 0.026), "heel_width_mm": (0.265, 0.014),
}  # fmt: skip
"""Mean and spread as multiples of the ball's girth."""
OTHER_FOOT_MM = {"ball_width_mm": 1.7, "ball_girth_mm": 3.2, "instep_girth_mm": 3.6, "heel_width_mm": 1.3}
"""One spread of left against right, mm."""
NEEDED = ("length_mm",)
"""What nothing stands in for; and of the ball either width or girth."""
BALL = ("ball_width_mm", "ball_girth_mm")


class Estimated(Contract):
    """A number nobody measured: its value and one spread, mm, and what it is taken from."""

    mm: float
    sigma_mm: float
    taken_from: From


def still_needed(feet: Feet) -> list[str]:
    """Dotted paths of the numbers without which no size can be said: both lengths, a width or girth at each ball."""
    found = []
    for side in SIDES:
        foot: GaugeFoot = getattr(feet, side)
        found += [f"{side}.{name}" for name in NEEDED if getattr(foot, name) is None]
        if all(getattr(foot, name) is None for name in BALL):
            found.append(f"{side}.{BALL[0]}")
    return found


def can_size(feet: Feet) -> bool:
    """Whether a size can be said, be it with estimates."""
    return not still_needed(feet)


def require_sizable(feet: Feet) -> None:
    """Raise `BadInput` naming the numbers nothing stands in for."""
    gaps = still_needed(feet)
    if gaps:
        side, name = gaps[0].split(".")
        raise BadInput(
            f"Still to measure: {side} {NAMES[name]}" + (f" and {len(gaps) - 1} more." if gaps[1:] else "."),
            code="feet-incomplete",
            fields=[FieldProblem(f"feet.{g}", "missing", "This is needed.") for g in gaps],
        )


def _candidates(name: str, foot: GaugeFoot, other: GaugeFoot, norms: Norms) -> list[Estimated]:
    found = []
    sources: tuple[tuple[From, Norms], ...] = (
        ("length", norms), ("ball_width", OF_BALL_WIDTH), ("ball_girth", OF_BALL_GIRTH),
    )  # fmt: skip
    for source, shares in sources:
        base = getattr(foot, f"{source}_mm")
        if base is not None and name in shares:
            mean, spread = shares[name]
            sigma = (mean**2 * foot.sigma(f"{source}_mm") ** 2 + (spread * base) ** 2) ** 0.5
            found.append(Estimated(mm=mean * base, sigma_mm=sigma, taken_from=source))
    theirs = getattr(other, name)
    if theirs is not None:
        sigma = (OTHER_FOOT_MM[name] ** 2 + other.sigma(name) ** 2) ** 0.5
        found.append(Estimated(mm=theirs, sigma_mm=sigma, taken_from="other_foot"))
    return found


def estimates(feet: Feet, norms: Norms | None = None) -> dict[Side, dict[str, Estimated]]:
    """By side and number: what sizing needs and nobody measured, from the surest there is to take it from."""
    shares = OF_LENGTH | (norms or {})
    found: dict[Side, dict[str, Estimated]] = {}
    for side in SIDES:
        foot: GaugeFoot = getattr(feet, side)
        other: GaugeFoot = getattr(feet, "right" if side == "left" else "left")
        found[side] = {}
        for name in SIZING[1:]:
            if getattr(foot, name) is not None:
                continue
            of = _candidates(name, foot, other, shares)
            if of:
                best = min(of, key=lambda e: e.sigma_mm)
                low, high = POSSIBLE_MM[name]
                found[side][name] = best.model_copy(update={"mm": round(min(max(best.mm, low), high), 1)})
    return found


def filled(feet: Feet, norms: Norms | None = None) -> Feet:
    """Feet with estimates where nobody measured, each as unsure as it is. Raises `BadInput` where nothing serves."""
    require_sizable(feet)
    guessed = estimates(feet, norms)
    sides: dict[str, GaugeFoot] = {}
    for side in SIDES:
        foot: GaugeFoot = getattr(feet, side)
        numbers = {name: e.mm for name, e in guessed[side].items()}
        sigma = foot.sigma_mm | {name: round(e.sigma_mm, 3) for name, e in guessed[side].items()}
        sides[side] = foot.model_copy(update={**numbers, "sigma_mm": sigma})
    return feet.model_copy(update=sides)


def guessed_note(guessed: dict[Side, dict[str, Estimated]]) -> str:
    """What was taken from norms, in a sentence; empty when all was measured."""
    spread: dict[str, float] = {}
    for numbers in guessed.values():
        for name, e in numbers.items():
            spread[name] = max(spread.get(name, 0.0), e.sigma_mm)
    if not spread:
        return ""
    told = ", ".join(f"{NAMES[name]} (± {2 * sigma:.0f} mm)" for name, sigma in spread.items())
    return f"Not measured, taken as usual for such a foot: {told}. House default."
