"""Feet from a gauge and a tape: what cannot be, what should be asked about, and what the numbers mean.

Limits and norms are house defaults unless a line says otherwise.
"""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from ..contract import SIDES, Contract, Side
from ..errors import unit_of
from ..systems import System
from ..units import HALF_UK_MM, signed
from .cautions import FeetConcern, FootCaution, cautions_of

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
    "instep_height_mm": (25, 130),
    "toe_height_mm": (8, 60),
    "heel_to_ball_mm": (70, 290),
    "first_toe_angle_deg": (-15, 60),
}
"""Outside these no foot is."""
SIZING = ("length_mm", "ball_width_mm", "ball_girth_mm", "instep_girth_mm", "heel_width_mm")
"""What sizing needs; the rest helps."""
USUAL_SHARE_OF_LENGTH: dict[str, tuple[float, float]] = {
    "ball_width_mm": (0.33, 0.46),
    "ball_girth_mm": (0.80, 1.12),
    "instep_girth_mm": (0.80, 1.15),
    "heel_width_mm": (0.19, 0.32),
    "instep_height_mm": (0.20, 0.31),
    "toe_height_mm": (0.06, 0.125),
    "heel_to_ball_mm": (0.66, 0.79),
}
"""Outside these the number is worth a second look."""
NAMES = {
    "length_mm": "length", "ball_width_mm": "ball width", "ball_girth_mm": "ball girth",
    "instep_girth_mm": "instep girth", "heel_width_mm": "heel width", "instep_height_mm": "instep height",
    "toe_height_mm": "toe height", "heel_to_ball_mm": "heel to ball", "first_toe_angle_deg": "big toe angle",
}  # fmt: skip
SIGMA_MM = {
    "length_mm": 1.0, "ball_width_mm": 1.0, "ball_girth_mm": 2.0, "instep_girth_mm": 2.0, "heel_width_mm": 1.0,
    "instep_height_mm": 1.5, "toe_height_mm": 1.0, "heel_to_ball_mm": 2.0, "first_toe_angle_deg": 3.0,
}  # fmt: skip
"""How sure one gauge or tape number is, one standard deviation."""
FAR_APART_MM = {
    "length_mm": 12, "ball_width_mm": 8, "ball_girth_mm": 14, "instep_girth_mm": 14, "heel_width_mm": 7,
    "instep_height_mm": 10, "toe_height_mm": 7, "heel_to_ball_mm": 10, "first_toe_angle_deg": 20,
}  # fmt: skip
"""Left against right beyond which one of the two is probably misread."""
HALF_SIZE_OF = {"heel_width_mm": 3.0}
"""Left against right beyond which a remedy is due where half a size in length isn't the measure: a heel that is 3 mm
wider is a size wider. House default."""
REMEDIES = {
    "length_mm": "The {more} is {mm:.1f} mm longer, over half a size: fit the {more}, then an insole (where the shoe "
    "takes one) or lacing for the {less}, or split sizes.",
    "ball_girth_mm": "The {more} is fuller at the ball: fit it, and lace the other tighter.",
    "instep_girth_mm": "The {more} is {mm:.1f} mm more round the instep: fit it; a tongue pad or tighter lacing on the "
    "{less}.",
    "heel_width_mm": "The {more} heel is {mm:.1f} mm wider: fit it; heel grips or a heel lock on the {less}.",
}
"""By measure: what is done where left and right differ so much."""
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
    instep_height_mm: float | None = Field(
        None, ge=POSSIBLE_MM["instep_height_mm"][0], le=POSSIBLE_MM["instep_height_mm"][1]
    )
    toe_height_mm: float | None = Field(None, ge=POSSIBLE_MM["toe_height_mm"][0], le=POSSIBLE_MM["toe_height_mm"][1])
    heel_to_ball_mm: float | None = Field(
        None, ge=POSSIBLE_MM["heel_to_ball_mm"][0], le=POSSIBLE_MM["heel_to_ball_mm"][1]
    )
    first_toe_angle_deg: float | None = Field(
        None, ge=POSSIBLE_MM["first_toe_angle_deg"][0], le=POSSIBLE_MM["first_toe_angle_deg"][1]
    )
    arch: Arch | None = None
    toe_shape: ToeShape | None = None
    bunion: bool | None = None
    """As the fitter sees it; where nobody said, what a capture found counts."""
    sigma_mm: dict[str, Annotated[float, Field(gt=0, le=50)]] = {}
    """How sure each number is, one standard deviation, where it wasn't a gauge or tape that measured it."""

    def sigma(self, name: str) -> float:
        """One standard deviation of a number, in its unit."""
        return self.sigma_mm.get(name, SIGMA_MM[name])


class Feet(Contract):
    """Both feet as the gauge found them."""

    left: GaugeFoot = GaugeFoot()
    right: GaugeFoot = GaugeFoot()
    sock: Sock = "thin"
    time_of_day: str | None = Field(None, pattern=r"^([01]\d|2[0-3]):[0-5]\d$")
    stance: Stance = "standing"
    units: Literal["mm", "inch"] | System = "mm"
    """What numbers are typed in; with a size system, lengths only."""
    effort: Literal["rested", "after_effort"] = "rested"
    wounds_or_numbness: bool = False
    concerns: list[FeetConcern] = Field([], max_length=10)
    note: str = Field("", max_length=600)
    prefer: dict[Side, dict[str, str]] = {}
    """By side and number: the source a fitter chose over the surest one (`gauge`, or a capture's id)."""


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
    cautions: list[FootCaution]
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
                text=f"{round(value, 1):g} mm is {much} for a foot {round(foot.length_mm, 1):g} mm long; usual is "
                f"{low * foot.length_mm:.0f}–{high * foot.length_mm:.0f} mm. Measure again?",
            )
        )
    if foot.ball_width_mm and foot.ball_girth_mm and foot.ball_girth_mm < 2 * foot.ball_width_mm:
        found.append(
            Question(
                field=f"{side}.ball_girth_mm",
                text=f"The tape cannot be shorter than twice the width ({round(2 * foot.ball_width_mm, 1):g} mm). "
                "Measure again?",
            )
        )
    return found


Norms = dict[str, tuple[float, float]]
"""By girth: mean and spread of it as a share of length."""
PRIOR_FEET = 60
"""The house's norm counts as so many feet against the shop's own. House default."""


def recentred(shares: dict[str, list[float]]) -> Norms:
    """The house's norms moved to the middle of the shop's own feet, as far as there are enough of them."""
    found: Norms = {}
    for name, (mean, spread) in GIRTH_NORM.items():
        own = shares.get(name, [])
        found[name] = ((PRIOR_FEET * mean + sum(own)) / (PRIOR_FEET + len(own)), spread)
    return found


def volume_class(foot: GaugeFoot, norms: Norms | None = None) -> tuple[VolumeClass | None, str]:
    """Volume from the whole circumference against length, with the reason. Norms are house defaults."""
    scores = []
    for name, (mean, spread) in (norms or GIRTH_NORM).items():
        value = getattr(foot, name)
        if value is not None and foot.length_mm:
            scores.append((value / foot.length_mm - mean) / spread)
    if not scores:
        return None, "Needs length and a girth."
    score = sum(scores) / len(scores)
    word: VolumeClass = "low" if score < -VOLUME_EDGE else "high" if score > VOLUME_EDGE else "medium"
    size = "small" if word == "low" else "large" if word == "high" else "usual"
    where = " among the athletes here" if norms else ""
    return word, f"Girths are {size} for the length ({signed(score)} spreads from what is usual{where}). House default."


def read_feet(feet: Feet, norms: Norms | None = None) -> FeetReading:
    """Questions, classes and differences of a pair of feet; `norms` are the shop's own, where it has them."""
    questions = [q for side in SIDES for q in _foot_questions(side, getattr(feet, side))]
    differences, remedies = [], []
    for name in NAMES:
        left, right = getattr(feet.left, name), getattr(feet.right, name)
        if left is None or right is None:
            continue
        apart = left - right
        matters = abs(apart) > HALF_SIZE_OF.get(name, HALF_UK_MM) and name in SIZING
        differences.append(Difference(measure=name, left_less_right_mm=apart, matters=matters))
        if matters and name in REMEDIES:
            more, less = ("left", "right") if apart > 0 else ("right", "left")
            remedies.append(REMEDIES[name].format(more=more, less=less, mm=abs(apart)) + " House default.")
        if abs(apart) > FAR_APART_MM[name]:
            side = "left" if apart > 0 else "right"
            questions.append(
                Question(
                    field=f"{side}.{name}",
                    text=f"The {side} is {round(abs(apart), 1):g} {unit_of(name)} more than the other foot. "
                    "Measure both again?",
                )
            )
    volumes = {side: volume_class(getattr(feet, side), norms) for side in SIDES}
    return FeetReading(
        questions=questions,
        volume={side: volumes[side][0] for side in SIDES},
        volume_reason={side: volumes[side][1] for side in SIDES},
        differences=differences,
        remedies=remedies,
        cautions=cautions_of(feet),
        complete=is_complete(feet),
    )


def is_complete(feet: Feet) -> bool:
    """Whether both feet have every number that sizing needs."""
    return not missing(feet)


def missing(feet: Feet) -> list[str]:
    """Dotted paths of the numbers sizing still needs."""
    return [f"{side}.{name}" for side in SIDES for name in SIZING if getattr(getattr(feet, side), name) is None]
