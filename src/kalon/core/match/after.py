"""`trial-next`: every pair on the shelf judged again in the light of what was just tried on, and the next one.

What jams in one size is either a short shoe or a longer foot than measured; both bear on every other pair. The state
is the one of `learn`, for this fitting alone: the makers, models and sizes tried, and the foot, zone by zone.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Any

import numpy as np
from numpy.typing import NDArray
from pydantic import Field, model_validator

from ..contract import Contract, Positive
from ..errors import AtField
from ..feet.gauge import Feet
from ..fit.chance import new_gap
from ..fit.foot import FIT_ZONES, FootToFit, foot_to_fit
from ..fit.size import HOPES, ZONE_NAMES, FitTarget, Gaps, Hope, capacities, gaps, hope_of
from ..fit.stretch import Build, Upper, give_of
from ..fit.trial import Heard, PairTrial, heard_of, verdicts_of
from ..learn.linear import Effects, Seen
from ..learn.observe import ALL, FITTER_SD_MM, TAIL_SHARE, VERDICT_SIGMA_MM, VERDICTS, Told, band_of
from ..learn.state import infer
from ..rules.engine import Spec
from ..shoes.inner import SPREADS
from .rank import rank
from .shelf import LineWants, Shelf, Shoe, lines_of, shelf_gaps

Floats = NDArray[np.float64]
BARELY_MM = 0.05
"""What is left of the foot's own spread once a pair's is said of shoe and foot together."""


@dataclass(frozen=True)
class Tried:
    """A pair that was tried: its row on the shelf, and what was found of it."""

    row: int
    trial: PairTrial


def after_trial(
    maker: NDArray[np.intp], model: NDArray[np.intp], shelf: Shelf, wants: LineWants, foot: FootToFit,
    tried: Sequence[Tried],
) -> tuple[Shelf, FootToFit]:  # fmt: skip
    """Shelf and foot as they are known after the trials: inner measures and spreads of every line, mm, the foot's mean.

    `maker` and `model` number each line's, (n,). A line's spread is then that of its gap as a whole, for what was felt
    ties shoe and foot together. In each zone only the pairs of which something was said there count."""
    said = [(t.row, heard_of(t.trial)) for t in tried]
    inner, spread, sigma = shelf.inner.copy(), shelf.spread.copy(), foot.sigma.copy()
    feet = {side: mm.copy() for side, mm in foot.sides.items()}
    for zone in range(len(FIT_ZONES)):
        heard = [(row, found[zone]) for row, found in said if zone in found]
        if not heard:
            continue
        gives = np.where(wants.when_new & (zone == 0), 0.0, wants.capacity[:, zone])
        share = np.array([s[zone] for s in (SPREADS.maker, SPREADS.model, SPREADS.size)]) / SPREADS.whole(zone)
        on = _effects(maker, model, np.array([row for row, _ in heard]), shelf.spread[:, zone], share)
        told = _told(heard, wants.low[:, zone], wants.high[:, zone], gives, shelf.inner[:, zone] - foot.larger[zone])
        known = infer(on.effects, foot.sigma[zone : zone + 1], told)
        foot_var = float(known.foot_sd[0]) ** 2
        shared = np.append(known.state_foot()[:, 0], 0.0)[on.line].sum(axis=1)
        every = np.pad(known.between(*np.ogrid[: len(known.mean), : len(known.mean)]), (0, 1))
        var = every[on.line[:, :, None], on.line[:, None, :]].sum(axis=(1, 2)) + on.strange
        inner[:, zone] += np.append(known.mean, 0.0)[on.line].sum(axis=1)
        spread[:, zone] = np.sqrt(np.maximum(var + foot_var - 2 * shared - BARELY_MM**2, BARELY_MM**2))
        sigma[zone] = BARELY_MM
        for mm in feet.values():
            mm[zone] += float(known.foot_mean[0])
    return replace(shelf, inner=inner, sigma=spread), replace(foot, sides=feet, sigma=sigma)


@dataclass(frozen=True)
class _Shelved:
    """The effects behind the tried lines; of every line which of them it is made of, (n, 3), and what of it is of
    makers, models and sizes that nobody tried, mm²."""

    effects: Effects
    line: NDArray[np.intp]
    strange: Floats


def _effects(
    maker: NDArray[np.intp], model: NDArray[np.intp], rows: NDArray[np.intp], usual: Floats, share: Floats
) -> _Shelved:
    """Makers, models and sizes of the tried `rows`, each as unsure as its lines are; `usual` is each line's spread, mm,
    `share` how much of it is the maker's, the model's and the size's."""
    made = [np.unique(of, return_inverse=True) for of in (maker[rows], model[rows], rows)]
    first = np.cumsum([0, *(len(names) for names, _ in made)])
    count = int(first[-1])
    sd = np.concatenate([_mean_by(at, usual[rows]) * part for (_, at), part in zip(made, share, strict=True)])
    of = np.stack([at + start for (_, at), start in zip(made, first, strict=False)], axis=1)
    line = np.full((len(usual), 3), count, dtype=np.intp)
    for level, (names, _) in enumerate(made):
        value = (maker, model, np.arange(len(usual)))[level]
        place = np.minimum(np.searchsorted(names, value), len(names) - 1)
        line[:, level] = np.where(names[place] == value, place + first[level], count)
    fitter = np.full((len(rows), 1), count)
    effects = Effects(
        of=np.hstack([of, fitter]),
        own=np.zeros(len(rows)),
        mean=np.zeros(count + 1),
        precision=np.diag(np.append(1 / np.maximum(sd, BARELY_MM) ** 2, FITTER_SD_MM**-2)),
    )
    line[line == count] = count + 1
    return _Shelved(effects, line, (line == count + 1) @ share**2 * usual**2)


def _mean_by(of: NDArray[np.intp], values: Floats) -> Floats:
    found: Floats = np.bincount(of, values) / np.bincount(of)
    return found


def _told(heard: list[tuple[int, Heard]], low: Floats, high: Floats, gives: Floats, label: Floats) -> Seen:
    """What was said, against what each line was thought to have of room (`label`): the wanted band taken back through
    what the shoe gives. Who is looking at this foot now is taken at their word; only their band may lie off."""
    ends = []
    for row, said in heard:
        new = new_gap(np.array([low[row], high[row]]), np.full(2, gives[row])) - label[row]
        ends.append(band_of(said.verdict, float(new[0]), float(new[1]), said.sides))
    count = len(heard)
    return Seen(
        cell=np.arange(count),
        foot=np.zeros(count, dtype=np.intp),
        mm=np.full(count, np.nan),
        sigma=np.full(count, VERDICT_SIGMA_MM),
        told=Told(
            low=np.array([e[0] for e in ends]),
            high=np.array([e[1] for e in ends]),
            sigma=np.full(count, VERDICT_SIGMA_MM),
            tail=np.full(count, TAIL_SHARE),
            fitter=np.full(count, ALL, dtype=np.intp),
            verdict=np.array([VERDICTS.index(said.verdict) for _, said in heard], dtype=np.intp),
        ),
    )


class RunSize(Contract):
    """A size of a model that was tried, judged again."""

    line_id: str
    shoe_id: str
    label: float
    hope: Hope
    quality: float
    tried: bool


class NextPair(Contract):
    """A pair to try next, and what may be hoped of it now."""

    line_id: str
    shoe_id: str
    label: float
    hope: Hope
    doubt: str
    quality: float
    before: float
    """Its quality before anything was tried."""


class TrialNext(Contract):
    """What to try next, best first; the sizes of the models tried; and what the trials say of the foot, in words."""

    places: list[NextPair]
    runs: list[RunSize]
    best_tried: str | None
    """The tried line that promises most, where none of the others does more."""
    foot: list[str]


FOOT_MOVED_MM = 0.7
"""A foot's number moved so far by what was felt is said. House default."""
SHOWN = 3


def _moved(before: FootToFit, now: FootToFit) -> list[str]:
    told = []
    for zone, name in enumerate(FIT_ZONES):
        off = float(now.larger[zone] - before.larger[zone])
        if abs(off) >= FOOT_MOVED_MM:
            more = "longer" if off > 0 else "shorter"
            if zone:
                more = "larger" if off > 0 else "smaller"
            told.append(
                f"What was felt at the {ZONE_NAMES[name]} speaks for a foot {abs(off):.1f} mm {more} there "
                "than measured."
            )
    return told


class TrialLine(Contract):
    """A pair on the shelf: whose it is, its label, its inner measures and their spreads, mm."""

    id: str = Field(min_length=1, max_length=120)
    maker: str = Field(max_length=120)
    model: str = Field(max_length=120)
    label: float
    upper: Upper = "synthetic"
    build: Build = "plate"
    inner_mm: tuple[Positive, Positive, Positive, Positive]
    sigma_mm: tuple[Positive, Positive, Positive, Positive]


class TrialNextIn(Contract):
    """Feet, the wanted room, what is on the shelf, and what was found of what was tried."""

    feet: Feet
    target: FitTarget
    lines: list[TrialLine] = Field(min_length=1, max_length=20_000)
    tried: dict[str, PairTrial] = {}

    @model_validator(mode="after")
    def _on_the_shelf(self) -> TrialNextIn:
        if unknown := self.tried.keys() - {line.id for line in self.lines}:
            raise AtField("tried", f"{min(unknown)} is not among the lines")
        return self


class LineNow(Contract):
    """A line judged again."""

    line: str
    quality: float
    before: float
    hope: Hope
    tried: bool


class TrialNextOut(Contract):
    """Every line judged again, best first; the next to try; and what the trials say of the foot."""

    next: str | None
    lines: list[LineNow]
    foot: list[str]


def judged_again(given: TrialNextIn) -> TrialNextOut:
    """Judge every line again in the light of what was tried, by fit alone, and name the next to try."""
    foot = foot_to_fit(given.feet)
    shelf = Shelf(
        shoe=np.arange(len(given.lines)),
        label=np.array([line.label for line in given.lines]),
        inner=np.array([line.inner_mm for line in given.lines], dtype=float),
        sigma=np.array([line.sigma_mm for line in given.lines], dtype=float),
    )
    give = [give_of(line.upper, line.build) for line in given.lines]
    capacity = capacities(np.array([g.length_mm for g in give]), np.array([g.girth_pct for g in give]), shelf.inner)
    band, count = given.target.band(), len(given.lines)
    when_new = np.full(count, given.target.length_when_new)
    wants = LineWants(capacity, np.tile(band.low, (count, 1)), np.tile(band.high, (count, 1)), when_new, band.spared)
    _, maker = np.unique([line.maker for line in given.lines], return_inverse=True)
    _, model = np.unique([f"{line.maker}/{line.model}" for line in given.lines], return_inverse=True)
    at = {line.id: i for i, line in enumerate(given.lines)}
    now, felt = after_trial(maker, model, shelf, wants, foot, [Tried(at[n], t) for n, t in given.tried.items()])

    def worth(of: Shelf, on: FootToFit) -> Gaps:
        return gaps(on.larger, on.sigma, of.inner, capacity, band, of.spread, spread=False)

    found, before = worth(now, felt), worth(shelf, foot).quality
    quality = found.quality
    order = np.argsort(-quality, kind="stable")
    lines = [
        LineNow(
            line=given.lines[i].id,
            quality=float(quality[i]),
            before=float(before[i]),
            hope=hope_of(float(quality[i]), float(found.joint[i])),
            tried=given.lines[i].id in given.tried,
        )
        for i in map(int, order)
    ]
    following = next((line.line for line in lines if not line.tried), None)
    return TrialNextOut(next=following, lines=lines, foot=_moved(foot, felt))


class _Rows(Sequence[str]):
    """Lines called by their rows, so that none is made text that isn't looked at."""

    def __init__(self, count: int) -> None:
        self._count = count

    def __len__(self) -> int:
        return self._count

    def __getitem__(self, row: Any) -> Any:
        return str(int(row))


def together(shelf: Shelf, tried: Shelf) -> Shelf:
    """The shelf with the tried lines at its end, and without them elsewhere."""
    again = np.zeros(len(shelf.shoe), dtype=bool)
    for row in range(len(tried.shoe)):
        same = (shelf.shoe == tried.shoe[row]) & (shelf.label == tried.label[row])
        again |= same & (np.abs(shelf.inner - tried.inner[row]) < SAME_MM).all(axis=1)
    kept = np.flatnonzero(~again)
    ids = [shelf.line_ids, tried.line_ids]
    return Shelf(
        shoe=np.concatenate([shelf.shoe[kept], tried.shoe]),
        label=np.concatenate([shelf.label[kept], tried.label]),
        inner=np.concatenate([shelf.inner[kept], tried.inner]),
        line_ids=_Joined(ids[0], kept, ids[1]),
        sigma=np.concatenate([shelf.spread[kept], tried.spread]),
    )


class _Joined(Sequence[str]):
    """Ids of the kept lines of one shelf, and of another."""

    def __init__(self, first: Sequence[str], kept: NDArray[np.intp], then: Sequence[str]) -> None:
        self._first, self._kept, self._then = first, kept, then

    def __len__(self) -> int:
        return len(self._kept) + len(self._then)

    def __getitem__(self, row: Any) -> Any:
        at = int(row)
        return self._first[int(self._kept[at])] if at < len(self._kept) else self._then[at - len(self._kept)]


SAME_MM = 0.01
"""So near, two lines of one label have the same inside: another colour of it."""


def trial_next(
    shoes: Sequence[Shoe], shelf: Shelf, spec: Spec, foot: FootToFit, tried: Shelf, trials: Sequence[PairTrial],
    power: float,
) -> TrialNext:  # fmt: skip
    """Judge the shelf again after some trials and name the pairs to try next. `tried` are the lines of the `trials`."""
    every = together(shelf, tried)
    first = len(every.shoe) - len(tried.shoe)
    _, makers = np.unique([s.maker or s.id for s in shoes], return_inverse=True)
    felt_of = [Tried(first + i, t) for i, t in enumerate(trials)]
    wants = lines_of(shoes, every, spec)
    now, felt = after_trial(makers[every.shoe], every.shoe, every, wants, foot, felt_of)
    called = replace(now, line_ids=_Rows(len(now.shoe)))
    ranking = rank(shoes, called.part(np.arange(first)), spec, felt, power, most=SHOWN)
    rows = np.array([int(p.line_id) for p in ranking.places], dtype=np.intp)
    before = shelf_gaps(shoes, every.part(rows), spec, foot).quality if len(rows) else np.zeros(0)
    places = [
        NextPair(
            line_id=str(every.line_ids[int(row)]),
            shoe_id=p.shoe_id,
            label=p.label,
            hope=p.hope,
            doubt=p.doubt,
            quality=p.fit,
            before=round(float(was), 4),
        )
        for p, row, was in zip(ranking.places, rows, before, strict=True)
    ]
    run = np.flatnonzero(np.isin(every.shoe, tried.shoe))
    found = shelf_gaps(shoes, now.part(run), spec, felt)
    quality = found.quality
    runs = [
        RunSize(
            line_id=str(every.line_ids[int(row)]),
            shoe_id=shoes[int(every.shoe[row])].id,
            label=float(every.label[row]),
            hope=hope_of(float(worth), float(joint)),
            quality=round(float(worth), 4),
            tried=bool(row >= first),
        )
        for row, worth, joint in zip(run, quality, found.joint, strict=True)
    ]
    passed = [
        (float(worth), r.line_id)
        for r, row, worth in zip(runs, run, quality, strict=True)
        if r.tried and trials[int(row) - first].verdict == "pass"
    ]
    best = max(passed, default=None)
    stays = best is not None and best[0] >= max((p.quality for p in places), default=0.0)
    return TrialNext(places=places, runs=runs, best_tried=best[1] if best and stays else None, foot=_moved(foot, felt))


def next_said(place: NextPair, name: str, size: str, width: str, last: tuple[str, str, str, PairTrial] | None) -> str:
    """The next pair in words, against the pair just tried (its name, size, width and trial): "jams in 42: try 42.5 of
    this"."""
    what = f"{name} {size}{'' if width == 'regular' else f' {width}'}"
    hope = f"{HOPES[place.hope]}{f', {place.doubt}' if place.doubt else ''}"
    if last is None:
        return f"Try {what}: {hope}."
    tried, in_size, in_width, trial = last
    found = verdicts_of(trial)
    off = [(zone, word) for zone, word in found.items() if word != "fine"]
    told = ""
    if off:
        zone, word = off[0]
        verb = "Jams" if word == "jam" else "Slack"
        told = f"{verb} at the {ZONE_NAMES[FIT_ZONES[zone]]} in {in_size}: "
    if name == tried:
        what = f"{size} of this" if width == in_width else f"the {width} {size} of this"
    return f"{told}{'try' if told else 'Try'} {what}; {hope}."
