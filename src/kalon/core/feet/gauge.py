"""Feet from a gauge and a tape: what cannot be, what should be asked about, and what the numbers mean.

Limits and norms are house defaults unless a line says otherwise.
"""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from ..contract import SIDES, Contract, Side
from ..errors import BadInput, FieldProblem
from ..units import HALF_UK_MM

Arch = Literal["low", "medium", "high"]
ToeShape = Literal["first_longest", "second_longest", "square"]
Sock = Literal["none", "thin", "medium", "thick"]
VolumeClass = Literal["low", "medium", "high"]
Stance = Literal["standing", "sitting"]

POSSIBLE_MM: dict[str, tuple[float, float]] = {
    "length_mm": (110, 380),
    "ball_width_mm": (40, 150),
    "ball_girth_mm": (110, 370),
    "instep_girth_mm": (110, 390),
    "heel_width_mm": (25, 110),
}
"""Outside these no foot is."""
USUAL_SHARE_OF_LENGTH: dict[str, tuple[float, float]] = {
    "ball_width_mm": (0.33, 0.46),
    "ball_girth_mm": (0.80, 1.12),
    "instep_girth_mm": (0.80, 1.15),
    "heel_width_mm": (0.19, 0.32),
}
"""Outside these the number is worth a second look."""
NAMES = {
    "length_mm": "length", "ball_width_mm": "ball width", "ball_girth_mm": "ball girth",
    "instep_girth_mm": "instep girth", "heel_width_mm": "heel width",
}  # fmt: skip
SIGMA_MM = {
    "length_mm": 1.0, "ball_width_mm": 1.0, "ball_girth_mm": 2.0, "instep_girth_mm": 2.0, "heel_width_mm": 1.0,
}  # fmt: skip
"""How sure one gauge or tape number is, one standard deviation."""
FAR_APART_MM = {
    "length_mm": 12, "ball_width_mm": 8, "ball_girth_mm": 14, "instep_girth_mm": 14, "heel_width_mm": 7,
}  # fmt: skip
"""Left against right beyond which one of the two is probably misread."""
GIRTH_NORM = {"ball_girth_mm": (0.940, 0.040), "instep_girth_mm": (0.960, 0.045)}
"""Mean and spread of girth as a share of length."""
VOLUME_EDGE = 0.7
"""Spreads from the mean at which a foot counts as low or high in volume."""


class GaugeFoot(Contract):
    """One foot's numbers, each optional while it is being measured; millimetres."""

    length_mm: float | None = Field(None, ge=POSSIBLE_MM["length_mm"][0], le=POSSIBLE_MM["length_mm"][1])
    ball_width_mm: float | None = Field(None, ge=POSSIBLE_MM["ball_width_mm"][0], le=POSSIBLE_MM["ball_width_mm"][1])
    ball_girth_mm: float | None = Field(None, ge=POSSIBLE_MM["ball_girth_mm"][0], le=POSSIBLE_MM["ball_girth_mm"][1])
    instep_girth_mm: float | None = Field(
        None, ge=POSSIBLE_MM["instep_girth_mm"][0], le=POSSIBLE_MM["instep_girth_mm"][1]
    )
    heel_width_mm: float | None = Field(None, ge=POSSIBLE_MM["heel_width_mm"][0], le=POSSIBLE_MM["heel_width_mm"][1])
    arch: Arch | None = None
    toe_shape: ToeShape | None = None
    bunion: bool = False


class Feet(Contract):
    """Both feet as the gauge found them."""

    left: GaugeFoot = GaugeFoot()
    right: GaugeFoot = GaugeFoot()
    sock: Sock = "thin"
    time_of_day: str | None = Field(None, pattern=r"^([01]\d|2[0-3]):[0-5]\d$")
    stance: Stance = "standing"
    units: Literal["mm", "inch"] = "mm"
    wounds_or_numbness: bool = False


class Question(Contract):
    """A number worth a second look, beside its field."""

    field: str
    text: str


class Difference(Contract):
    """Left less right for one measure, and whether it deserves a remedy."""

    measure: str
    left_less_right_mm: float
    matters: bool


class FeetReading(Contract):
    """What the numbers say: questions, volume per foot, differences with remedies."""

    questions: list[Question]
    volume: dict[Side, VolumeClass | None]
    volume_reason: dict[Side, str]
    differences: list[Difference]
    remedies: list[str]
    complete: bool


def _foot_questions(side: Side, foot: GaugeFoot) -> list[Question]:
    found: list[Question] = []
    if foot.length_mm is None:
        return found
    for name, (low, high) in USUAL_SHARE_OF_LENGTH.items():
        value = getattr(foot, name)
        if value is None or low <= value / foot.length_mm <= high:
            continue
        much = "small" if value / foot.length_mm < low else "large"
        found.append(
            Question(
                field=f"{side}.{name}",
                text=f"{value:g} mm is {much} for a foot {foot.length_mm:g} mm long; usual is "
                f"{low * foot.length_mm:.0f}–{high * foot.length_mm:.0f} mm. Measure again?",
            )
        )
    if foot.ball_width_mm and foot.ball_girth_mm and foot.ball_girth_mm < 2 * foot.ball_width_mm:
        found.append(
            Question(
                field=f"{side}.ball_girth_mm",
                text=f"The tape cannot be shorter than twice the width ({2 * foot.ball_width_mm:g} mm). Measure again?",
            )
        )
    return found


def volume_class(foot: GaugeFoot) -> tuple[VolumeClass | None, str]:
    """Volume from the whole circumference against length, with the reason. Norms are house defaults."""
    scores = []
    for name, (mean, spread) in GIRTH_NORM.items():
        value = getattr(foot, name)
        if value is not None and foot.length_mm:
            scores.append((value / foot.length_mm - mean) / spread)
    if not scores:
        return None, "Needs length and a girth."
    score = sum(scores) / len(scores)
    word: VolumeClass = "low" if score < -VOLUME_EDGE else "high" if score > VOLUME_EDGE else "medium"
    size = "small" if word == "low" else "large" if word == "high" else "usual"
    return word, f"Girths are {size} for the length ({score:+.1f} spreads from the usual). House default."


def read_feet(feet: Feet) -> FeetReading:
    """Questions, classes and differences of a pair of feet."""
    questions = [q for side in SIDES for q in _foot_questions(side, getattr(feet, side))]
    differences, remedies = [], []
    for name in POSSIBLE_MM:
        left, right = getattr(feet.left, name), getattr(feet.right, name)
        if left is None or right is None:
            continue
        apart = left - right
        differences.append(Difference(measure=name, left_less_right_mm=apart, matters=abs(apart) > HALF_UK_MM))
        if abs(apart) > FAR_APART_MM[name]:
            side = "left" if apart > 0 else "right"
            questions.append(
                Question(
                    field=f"{side}.{name}",
                    text=f"The {side} is {abs(apart):g} mm more than the other foot. Measure both again?",
                )
            )
    by_name = {d.measure: d for d in differences}
    if (length := by_name.get("length_mm")) and length.matters:
        longer, shorter = ("left", "right") if length.left_less_right_mm > 0 else ("right", "left")
        remedies.append(
            f"The {longer} is {abs(length.left_less_right_mm):.1f} mm longer, over half a size: fit the {longer}, "
            f"then an insole or lacing for the {shorter}, or split sizes. House default."
        )
    if (girth := by_name.get("ball_girth_mm")) and girth.matters:
        fuller = "left" if girth.left_less_right_mm > 0 else "right"
        remedies.append(f"The {fuller} is fuller at the ball: fit it, and lace the other tighter. House default.")
    volumes = {side: volume_class(getattr(feet, side)) for side in SIDES}
    return FeetReading(
        questions=questions,
        volume={side: volumes[side][0] for side in SIDES},
        volume_reason={side: volumes[side][1] for side in SIDES},
        differences=differences,
        remedies=remedies,
        complete=is_complete(feet),
    )


def is_complete(feet: Feet) -> bool:
    """Whether both feet have every number that sizing needs."""
    return not missing(feet)


def missing(feet: Feet) -> list[str]:
    """Dotted paths of the numbers sizing still needs."""
    return [f"{side}.{name}" for side in SIDES for name in POSSIBLE_MM if getattr(getattr(feet, side), name) is None]


def require_complete(feet: Feet) -> None:
    """Raise `BadInput` naming the numbers still missing."""
    gaps = missing(feet)
    if gaps:
        first = gaps[0].split(".")
        raise BadInput(
            f"Still to measure: {first[0]} {NAMES[first[1]]}" + (f" and {len(gaps) - 1} more." if gaps[1:] else "."),
            code="feet-incomplete",
            fields=[FieldProblem(f"feet.{g}", "missing", "This is needed.") for g in gaps],
        )
