"""Which size: the gap in every zone, new and once settled, how likely it ends in the wanted band, and in words.

One array routine serves a single shoe's run of sizes and a whole stockroom alike.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Literal

import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from ..contract import Contract, Positive
from ..feet.gauge import Feet, Sock
from ..units import signed
from .chance import SLACK_SPAN_MM, TIGHT_SPAN_MM, settled_chance, settled_quality, settled_spread
from .foot import FIT_ZONES, FootToFit, foot_to_fit
from .stretch import HEEL_SHARE, Build, Upper, give_of, settled_stretch

Floats = NDArray[np.float64]
FitWord = Literal["slack", "snug", "tight", "too_tight"]
Hope = Literal["should_fit", "worth_trying", "gamble", "will_not_fit"]
"""What may be hoped of a size, best first."""

SHOE_SIGMA_MM = np.array([1.0, 2.5, 2.5, 1.0])
"""How sure a measured shoe's inner measure is, one standard deviation. House default."""
SPARED_SPAN_MM = np.array([1.0, 3.0, 3.0, 1.0])
"""How far below the band a gap is still worth something on feet on which nothing may press. House default."""
LEAST_QUALITY: dict[Hope, float] = {"should_fit": 0.9, "worth_trying": 0.75, "gamble": 0.5}
"""From which quality on what may be hoped of a size; below the last it will not fit. House default."""
LEAST_CHANCE: dict[Hope, float] = {"should_fit": 0.5, "worth_trying": 0.15}
"""And the chance that every zone at once ends in its band, from which as much may be hoped: four zones that are each
nearly right don't make a pair that should fit. House default."""
HOPES: dict[Hope, str] = {
    "should_fit": "should fit",
    "worth_trying": "worth trying",
    "gamble": "a gamble",
    "will_not_fit": "will not fit",
}


@dataclass(frozen=True)
class WantedBand:
    """Wanted room per zone, mm (inner less foot): length-4 arrays `low` and `high`.

    Judged once settled; a length band can be for the new shoe instead."""

    low: Floats
    high: Floats
    length_when_new: bool | NDArray[np.bool_] = False
    """For all lines alike, or line by line, (n,)."""
    spared: bool = False
    """Nothing may press: every zone is judged new, and a little below the band is already too much."""

    def judged_new(self, zone: int) -> bool:
        """Whether a zone of a line is judged new rather than settled."""
        return self.spared or (zone == 0 and bool(self.length_when_new))


@dataclass(frozen=True)
class Gaps:
    """Room per line and zone, mm, shape (n, 4), new and settled; the settled one's spread, mm; the chance that it
    ends in the band, and its expected worth; both over all zones, shape (n,): the chance jointly, the worth as a
    geometric mean."""

    new: Floats
    settled: Floats
    sigma: Floats
    chance: Floats
    joint: Floats
    worth: Floats
    quality: Floats


def gaps(
    foot: Floats,
    foot_sigma: Floats,
    inner: Floats,
    capacity: Floats,
    wanted: WantedBand,
    inner_sigma: Floats = SHOE_SIGMA_MM,
    *,
    spread: bool = True,
) -> Gaps:
    """Gaps of one foot (4,) in n shoes (n, 4), whose inner measures have one standard deviation `inner_sigma`.

    Without `spread`, that of where the gaps settle is left at nought: it costs as much as all the rest."""
    new = inner - foot
    settled = new + settled_stretch(-new, capacity)
    sigma = np.sqrt(foot_sigma**2 + inner_sigma**2)
    gives = capacity.copy()
    gives[:, 0] = np.where(wanted.length_when_new, 0.0, gives[:, 0])
    gives *= not wanted.spared
    low, high = wanted.low, wanted.high
    chance = settled_chance(new, sigma, gives, low, high)
    tight = SPARED_SPAN_MM if wanted.spared else TIGHT_SPAN_MM
    worth = settled_quality(new, sigma, gives, low, high, tight, SLACK_SPAN_MM)
    return Gaps(
        new=new,
        settled=settled,
        sigma=settled_spread(new, sigma, gives) if spread else np.zeros_like(new),
        chance=chance,
        joint=np.prod(chance, axis=1),
        worth=worth,
        quality=np.prod(worth, axis=1) ** (1 / len(FIT_ZONES)),
    )


def hope_of(quality: float, chance: float) -> Hope:
    """What may be hoped of a fit of this quality, 0…1, whose zones all end in their bands with this chance."""
    return next(
        (h for h, least in LEAST_QUALITY.items() if quality >= least and chance >= LEAST_CHANCE.get(h, 0.0)),
        "will_not_fit",
    )


def fit_word(gap_mm: float, low: float, high: float, zone: int) -> FitWord:
    """The word for a gap against its band."""
    if gap_mm > high:
        return "slack"
    if gap_mm >= low:
        return "snug"
    return "tight" if gap_mm >= low - TIGHT_SPAN_MM[zone] else "too_tight"


class RoomBand(Contract):
    """Wanted room, mm; negative where the toes are meant to be bent."""

    low: float
    high: float


class FitTarget(Contract):
    """Wanted room by zone, and whether the toe room is judged new."""

    length: RoomBand
    ball_girth: RoomBand
    instep_girth: RoomBand
    heel_width: RoomBand
    length_when_new: bool = False
    spared: bool = False
    """Feet on which nothing may press: every zone is judged new."""

    def band(self) -> WantedBand:
        """As arrays, in the order of `FIT_ZONES`."""
        rows = [getattr(self, z) for z in FIT_ZONES]
        low, high = (np.array([getattr(r, end) for r in rows]) for end in ("low", "high"))
        return WantedBand(low, high, self.length_when_new, self.spared)


Sigma = Annotated[float, Field(gt=0, le=60)]


class ShoeSize(Contract):
    """One size of a run: its label and inner measures, mm, with one standard deviation by zone where it isn't the usual
    one of a measured shoe."""

    label: float
    length_mm: Positive = Field(le=450)
    ball_girth_mm: Positive = Field(le=450)
    instep_girth_mm: Positive = Field(le=450)
    heel_width_mm: Positive = Field(le=200)
    sigma_mm: tuple[Sigma, Sigma, Sigma, Sigma] | None = None
    box: str = Field("", max_length=40)
    """As its box has it, with its system, where that isn't the label alone."""


class SizeRecommendIn(Contract):
    """Feet, the wanted room, and one shoe in all its sizes."""

    feet: Feet
    target: FitTarget
    upper: Upper
    build: Build
    reinforced: float = Field(0.0, ge=0, le=1)
    gives: float = Field(1.0, gt=0, le=20)
    """How much it gives against the table, as follow-ups have shown."""
    sizes: list[ShoeSize] = Field(min_length=1, max_length=200)
    sock: Sock | None = None
    long_effort: bool = False


class ZoneFit(Contract):
    """One zone of one size: gaps on the governing foot and on both, words, and the chance of the band."""

    zone: str
    foot: Literal["left", "right"]
    new_mm: float
    settled_mm: float
    sigma_mm: float
    low_mm: float
    high_mm: float
    new: FitWord
    settled: FitWord
    chance: float
    worth: float | None = None
    """Expected worth of where it settles, 1 in the band; not known of what was settled before it was computed."""
    left_mm: float
    right_mm: float
    judged_new: bool = False
    """The band is for the new shoe."""


class SizeFit(Contract):
    """One size: its zones, the joint chance, what it is like, and what may be hoped of it; the zone in doubt."""

    label: float
    chance: float
    zones: list[ZoneFit]
    verdict: str
    quality: float | None = None
    hope: Hope | None = None
    doubt: str = ""
    box: str = ""

    @property
    def called(self) -> str:
        """As its box has it, else by its label alone."""
        return self.box or f"{self.label:g}"


class SizeRecommendOut(Contract):
    """The recommended size, or none, with every size's fit and how long settling takes."""

    recommended: float | None
    reason: str
    sizes: list[SizeFit]
    t80_h: float
    foot_notes: list[str]


ZONE_NAMES = {"length": "toe", "ball_girth": "ball", "instep_girth": "instep", "heel_width": "heel"}
WORDS: dict[FitWord, str] = {"slack": "slack", "snug": "snug", "tight": "tight", "too_tight": "too tight"}


def capacities(length_mm: Floats, girth_pct: Floats, inner: Floats) -> Floats:
    """Stretch capacity per shoe and zone, shape (n, 4), from each shoe's row of the stretch table, shape (n,)."""
    share = np.array([0.0, 1.0, 1.0, HEEL_SHARE])
    found: Floats = girth_pct[:, None] / 100 * share * inner
    found[:, 0] = length_mm
    return found


def verdict(zones: list[ZoneFit]) -> str:
    """What a size is like, in words: zones that leave the band, now or settled."""
    changing = [z for z in zones if z.new != z.settled]
    off = [z for z in zones if z.settled != "snug"]
    if not off and not changing:
        return "Snug all round, now and once settled."
    said = [f"{WORDS[z.new]} at the {ZONE_NAMES[z.zone]} new, {WORDS[z.settled]} once settled" for z in changing]
    said += [f"{WORDS[z.settled]} at the {ZONE_NAMES[z.zone]}" for z in off if z not in changing]
    text = "; ".join(said)
    return text[0].upper() + text[1:] + "."


def doubt_at(settled_mm: float, low: float, high: float, zone: int) -> str:
    """What the zone in doubt may turn out to be: "may be tight at the ball"."""
    word = "tight" if settled_mm < (low + high) / 2 else "slack"
    return f"may be {word} at the {ZONE_NAMES[FIT_ZONES[zone]]}"


def _doubt(zones: list[ZoneFit], hope: Hope) -> str:
    if hope == "should_fit":
        return ""
    i, worst = min(enumerate(zones), key=lambda z: z[1].worth or 0.0)
    judged = worst.new_mm if worst.judged_new else worst.settled_mm
    if hope == "will_not_fit" and worst.settled != "snug":
        return f"is {WORDS[worst.settled]} at the {ZONE_NAMES[worst.zone]}"
    return doubt_at(judged, worst.low_mm, worst.high_mm, i)


def gives_most(size: SizeFit) -> ZoneFit:
    """The zone with the most predicted stretch: the one a break-in is for."""
    return max(size.zones, key=lambda z: z.settled_mm - z.new_mm)


def zone_fits(foot: FootToFit, row: int, result: Gaps, inner: Floats, wanted: WantedBand) -> list[ZoneFit]:
    """The zones of one line of `gaps`."""
    found = []
    for i, zone in enumerate(FIT_ZONES):
        low, high = float(wanted.low[i]), float(wanted.high[i])
        new, settled = float(result.new[row, i]), float(result.settled[row, i])
        found.append(
            ZoneFit(
                zone=zone,
                foot=foot.larger_side[i],
                new_mm=new,
                settled_mm=settled,
                sigma_mm=float(result.sigma[row, i]),
                low_mm=low,
                high_mm=high,
                new=fit_word(new, low, high, i),
                settled=fit_word(new if wanted.judged_new(i) else settled, low, high, i),
                chance=float(result.chance[row, i]),
                worth=float(result.worth[row, i]),
                left_mm=float(inner[row, i] - foot.sides["left"][i]),
                right_mm=float(inner[row, i] - foot.sides["right"][i]),
                judged_new=wanted.judged_new(i),
            )
        )
    return found


def said_of(size: SizeFit) -> str:
    """What may be hoped of a size, in a sentence: "worth trying, may be tight at the ball."."""
    return f"{HOPES[size.hope]}{f', {size.doubt}' if size.doubt else ''}." if size.hope else ""


def recommend_for(foot: FootToFit, given: SizeRecommendIn) -> SizeRecommendOut:
    """`size_recommend` for a foot already corrected."""
    sizes = sorted(given.sizes, key=lambda s: s.label)
    inner = np.array([[s.length_mm, s.ball_girth_mm, s.instep_girth_mm, s.heel_width_mm] for s in sizes])
    wanted = given.target.band()
    give = give_of(given.upper, given.build)
    free = np.full(len(sizes), (1 - given.reinforced) * given.gives)
    capacity = capacities(give.length_mm * free, give.girth_pct * free, inner)
    spread = np.array([SHOE_SIGMA_MM if s.sigma_mm is None else s.sigma_mm for s in sizes])
    result = gaps(foot.larger, foot.sigma, inner, capacity, wanted, spread)
    fits = []
    for row, size in enumerate(sizes):
        zones = zone_fits(foot, row, result, inner, wanted)
        hope = hope_of(float(result.quality[row]), float(result.joint[row]))
        fits.append(
            SizeFit(
                label=size.label,
                chance=float(result.joint[row]),
                zones=zones,
                verdict=verdict(zones),
                quality=float(result.quality[row]),
                hope=hope,
                doubt=_doubt(zones, hope),
                box=size.box,
            )
        )
    best = fits[int(np.argmax(result.quality))]
    none = best.hope == "will_not_fit"
    if none:
        worst = min(best.zones, key=lambda z: z.worth or 0.0)
        judged = worst.new_mm if worst.judged_new else worst.settled_mm
        reason = (
            f"None of these: the nearest, {best.called}, {best.doubt} "
            f"({signed(judged, 0)} mm, wanted {worst.low_mm:g} to {worst.high_mm:g})."
        )
    else:
        reason = f"{best.called}: {said_of(best)}"
    return SizeRecommendOut(
        recommended=None if none else best.label,
        reason=reason,
        sizes=fits,
        t80_h=give.tau_h * float(np.log(5)),
        foot_notes=list(foot.notes),
    )


def size_recommend(given: SizeRecommendIn) -> SizeRecommendOut:
    """Judge every size of one shoe on these feet and name the one to try first."""
    foot = foot_to_fit(given.feet, long_effort=given.long_effort, sock=given.sock)
    return recommend_for(foot, given)
