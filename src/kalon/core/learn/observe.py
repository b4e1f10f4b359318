"""What somebody's verdict says of a gap: the one observation model of the learner, of what to try next and the ledger.

A verdict is the gap as felt, against the wanted band, of only those sides that could have been said by the tests that
were done; *fine* means that none of those was. How a gap is felt is normal about the truth with a heavy tail, moved by
the fitter's habit; a share of each fitter's verdicts says nothing of the shoe and is as that fitter's verdicts are.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal, get_args

import numpy as np
from numpy.typing import NDArray
from scipy.special import log_ndtr

Floats = NDArray[np.float64]
Ints = NDArray[np.intp]

Verdict = Literal["jam", "fine", "slack"]
Side = Literal["jam", "slack"]
VERDICTS: tuple[Verdict, ...] = get_args(Verdict)
BOTH: tuple[Side, ...] = get_args(Side)
VERDICT_SIGMA_MM = 1.5
"""How unsure a verdict is of the gap it judges, one standard deviation; and how far outside the band it has to be to
be said. House default."""
TAIL_SHARE, TAIL_TIMES = 0.05, 3.0
"""So large a share of verdicts is that many times as unsure. House default."""
FITTER_SD_MM = 1.0
"""How far fitters place the band apart, one standard deviation. House default."""
EMPTY_OF, EMPTY_NOT = 1.0, 19.0
"""A fitter's share of verdicts that say nothing of the shoe, as a beta distribution: one in twenty. House default."""
CARELESS = 0.05
"""So many fitters are careless: what share of their verdicts says nothing is anybody's guess. House default."""
ALIKE = 0.1
"""In so many shops it isn't a fitter but everybody: athletes who call a pair fine anyway. House default."""
USUALLY_SAID = np.array([2.0, 6.0, 2.0])
"""What is said for nothing (jam, fine, slack) by a fitter who said little yet, as so many verdicts. House default."""
LEAST_SHARE = 0.1
"""What is said for nothing is as a fitter's verdicts are; those that said nothing count whole, others so much."""
FIRST_SHARE = 0.8
"""The share every fitter is begun with: who says something soon shows it, and who says nothing isn't taken to place the
band elsewhere."""
LEAST_LOG = -12.0
"""A verdict less likely than this was said for nothing all the same."""
ALL = -1
"""The fitter of what nobody in particular said, and of what was measured."""


def band_of(verdict: Verdict, low: float, high: float, sides: Sequence[Side] = BOTH) -> tuple[float, float]:
    """Between which gaps a verdict is said, noise apart, of a wanted band, where only `sides` could have been."""
    said, can = np.array([VERDICTS.index(verdict)]), [np.array([side in sides]) for side in BOTH]
    ends = bands_of(said, np.array([low]), np.array([high]), *can)
    return float(ends[0][0]), float(ends[1][0])


def bands_of(
    said: Ints, low: Floats, high: Floats, can_jam: NDArray[np.bool_], can_slack: NDArray[np.bool_]
) -> tuple[Floats, Floats]:
    """`band_of` of many, (n,) each; `said` are places among `VERDICTS`."""
    below, above = low - VERDICT_SIGMA_MM, high + VERDICT_SIGMA_MM
    jam, slack = said == VERDICTS.index("jam"), said == VERDICTS.index("slack")
    from_ = np.where(slack, above, np.where(jam | ~can_jam, -math.inf, below))
    to = np.where(jam, below, np.where(slack | ~can_slack, math.inf, above))
    return from_, to


@dataclass(frozen=True)
class Told:
    """Verdicts, each an interval of a gap, (n,): its ends and noise, mm; the share of the tail; whose it was (or `ALL`)
    and which (its place among `VERDICTS`)."""

    low: Floats
    high: Floats
    sigma: Floats
    tail: Floats
    fitter: Ints
    verdict: Ints


@dataclass(frozen=True)
class Fitters:
    """By fitter the share of their verdicts that say nothing, (fitters,); by verdict, from all its fitter's others, how
    likely it was to say nothing, and to be the one given then, (n,)."""

    empty: Floats
    nothing: Floats
    given: Floats
    likely: Floats
    """Log of how likely each share makes what a fitter said here, (`SHARES`, fitters)."""


SHARES = np.linspace(0.002, 0.998, 84)
_HONEST = EMPTY_NOT * (1 - SHARES) ** (EMPTY_NOT - 1)
_PRIOR = (1 - CARELESS) * _HONEST + CARELESS


def usual_fitters(told: Told, elsewhere: Floats) -> Fitters:
    """Fitters of whom nothing is known yet but what they said. `elsewhere`, (`SHARES`, fitters), is the log of how
    likely each share makes what they said elsewhere."""
    count = elsewhere.shape[1]
    usual = FIRST_SHARE
    said = told.fitter >= 0
    rates = _rates(told, count, np.ones(len(said)))
    return Fitters(np.full(count, usual), np.where(said, usual, 0.0), rates, np.zeros_like(elsewhere))


def share_of(likely: Floats) -> float:
    """A fitter's share of verdicts that say nothing, by the log of how likely each of `SHARES` makes what they said."""
    log = np.log(_PRIOR) + likely
    weight = np.exp(log - log.max())
    return float(weight @ SHARES / weight.sum())


def _rates(told: Told, count: int, share: Floats) -> Floats:
    """How likely each verdict was to be the one given for nothing: as often as its fitter's others, each counting by
    its `share`, beside what is usual; (n,)."""
    said = told.fitter >= 0
    tally = np.tile(USUALLY_SAID, (count + 1, 1))
    np.add.at(tally, (told.fitter[said], told.verdict[said]), share[said])
    own = np.where(said, share, 0.0)
    found: Floats = (tally[told.fitter, told.verdict] - own) / (tally.sum(axis=1)[told.fitter] - own)
    return found


def judged_fitters(
    told: Told, before: Fitters, log_shoe: Floats, empties: Floats, elsewhere: Floats
) -> Fitters:  # fmt: skip
    """The shares anew, given how likely the shoe made each verdict (`log_shoe`, (n,)) and how likely each is to have
    said nothing (`empties`): a fitter's share is integrated over a grid, and each verdict judged by the others'."""
    count = len(before.empty)
    empty, nothing = np.zeros(count), np.zeros(len(told.fitter))
    than_shoe = before.given * np.exp(-np.maximum(log_shoe, LEAST_LOG))
    each = SHARES[:, None] * than_shoe + 1 - SHARES[:, None]
    of = [np.flatnonzero(told.fitter == f) for f in range(count)]
    here = np.stack([np.log(each[:, own]).sum(axis=1) for own in of], axis=1) if count else np.zeros((len(SHARES), 0))
    likely = here + elsewhere
    together = likely.sum(axis=1)
    apart = float(np.sum(np.log(_PRIOR @ np.exp(likely - likely.max(axis=0)) / _PRIOR.sum()) + likely.max(axis=0)))
    alike = float(np.log(np.exp(together - together.max()).mean()) + together.max())
    shop = ALIKE / (ALIKE + (1 - ALIKE) * np.exp(np.clip(apart - alike, -50, 50)))
    for f, own in enumerate(of):
        ways = np.log(_PRIOR) + likely[:, f], together
        weight = sum(
            part * np.exp(log - log.max()) / np.exp(log - log.max()).sum()
            for part, log in zip((1 - shop, shop), ways, strict=True)
        )
        empty[f] = weight @ SHARES
        others = weight[:, None] / each[:, own]
        nothing[own] = SHARES @ others / others.sum(axis=0)
    return Fitters(empty, nothing, _rates(told, count, LEAST_SHARE + (1 - LEAST_SHARE) * empties), here)


def _log_interval(low: Floats, high: Floats) -> Floats:
    """log(Φ(high) − Φ(low)), element-wise, without losing the tails."""
    flip = low > 0
    a, b = np.where(flip, -high, low), np.where(flip, -low, high)
    upper, lower = log_ndtr(b), log_ndtr(a)
    with np.errstate(divide="ignore"):
        found: Floats = upper + np.log1p(-np.exp(np.minimum(lower - upper, -1e-300)))
    return found


def tilted(mean: Floats, var: Floats, low: Floats, high: Floats, noise: Floats) -> tuple[Floats, Floats, Floats]:
    """Mean and variance of N(mean, var) once it is known that it, with `noise`, lies in low…high; and log of the
    chance of that. Element-wise."""
    total = np.sqrt(var + noise**2)
    a, b = (low - mean) / total, (high - mean) / total
    log_z = _log_interval(a, b)
    with np.errstate(invalid="ignore", over="ignore"):
        at_a = np.where(np.isfinite(a), np.exp(-0.5 * a**2 - 0.9189385332046727 - log_z), 0.0)
        at_b = np.where(np.isfinite(b), np.exp(-0.5 * b**2 - 0.9189385332046727 - log_z), 0.0)
        pull = at_a - at_b
        bend = np.where(np.isfinite(a), a, 0.0) * at_a - np.where(np.isfinite(b), b, 0.0) * at_b
    new_mean = mean + var / total * pull
    new_var = var - var**2 / total**2 * (pull**2 - bend)
    return new_mean, np.clip(new_var, 1e-9 * var, var), log_z


@dataclass(frozen=True)
class Tilted:
    """What verdicts make of what was thought of their gaps, (n,): mean and variance, mm and mm²; the log of how likely
    each was, and of how likely the shoe alone made it; and how likely each is to have said nothing."""

    mean: Floats
    var: Floats
    log_likely: Floats
    log_shoe: Floats
    empty: Floats


def listen(told: Told, fitters: Fitters, mean: Floats, var: Floats) -> Tilted:
    """Take each verdict in, of a gap thought N(mean, var): felt as usual, felt badly, or said for nothing."""
    ways = [tilted(mean, var, told.low, told.high, told.sigma * times) for times in (1.0, TAIL_TIMES)]
    nothing = fitters.nothing
    with np.errstate(divide="ignore"):
        felt = np.stack([np.log(1 - told.tail) + ways[0][2], np.log(told.tail) + ways[1][2]])
        logs = np.vstack([np.log(1 - nothing) + felt, np.log(nothing * fitters.given)])
    most = logs.max(axis=0)
    share = np.exp(logs - most)
    whole = share.sum(axis=0)
    share /= whole
    means = np.stack([ways[0][0], ways[1][0], mean])
    spreads = np.stack([ways[0][1], ways[1][1], var])
    new_mean = (share * means).sum(axis=0)
    new_var = (share * (spreads + (means - new_mean) ** 2)).sum(axis=0)
    return Tilted(
        mean=new_mean,
        var=new_var,
        log_likely=most + np.log(whole),
        log_shoe=np.logaddexp(felt[0], felt[1]),
        empty=share[2],
    )
