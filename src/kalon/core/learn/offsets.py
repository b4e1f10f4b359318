"""`learn`: how makers, models and single sizes depart from their labels, the true foot, and who says what, from
ordinary trials by ordinary people."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from functools import cache
from typing import Annotated

import numpy as np
from pydantic import Field, model_validator

from ..contract import Contract
from ..errors import AtField
from ..fit.foot import FIT_ZONES
from ..shoes.inner import SPREADS, Zone
from .changes import changed_at, suspected
from .effects import Bands, Change, Laid, Model, Site, Spread, day_of, lay
from .observe import (
    ALL,
    BOTH,
    FITTER_SD_MM,
    SHARES,
    TAIL_SHARE,
    VERDICT_SIGMA_MM,
    VERDICTS,
    Floats,
    Side,
    Told,
    Verdict,
    band_of,
    share_of,
)
from .state import NOWHERE, Known, Seen, Start, infer

Key = Annotated[str, Field(min_length=1, max_length=120)]
Millimetres = Annotated[float, Field(ge=-100, le=500)]
Sigma = Annotated[float, Field(gt=0, le=60)]
Last = Annotated[str, Field(max_length=80)]


class LearnLine(Contract):
    """A size of a shoe: its maker, its model, what its label says of the zone, mm, and the last it is made on now (the
    one of what was seen last of its model, where nobody says)."""

    id: Key
    maker: Key
    model: Key
    base_mm: float = Field(ge=20, le=500)
    last: Last | None = None


class Sighting(Contract):
    """What was seen of one line on one foot: a verdict, or a gap measured, mm, with one standard deviation; when, and
    the last it was made on then."""

    line: Key
    verdict: Verdict | None = None
    sides: list[Side] = Field(list(BOTH), max_length=2)
    """What could have been said by the tests that were done."""
    low_mm: Millimetres | None = None
    high_mm: Millimetres | None = None
    """The band it was judged by, where it isn't the fitting's."""
    gap_mm: Millimetres | None = None
    sigma_mm: Sigma | None = None
    on: date | None = None
    last: Last = ""

    @model_validator(mode="after")
    def _one_of_both(self) -> Sighting:
        if (self.verdict is None) == (self.gap_mm is None) or (self.gap_mm is None) != (self.sigma_mm is None):
            raise AtField("verdict", "Either a verdict, or a gap with its spread")
        return self

    @property
    def says_something(self) -> bool:
        """Whether it could have been otherwise: a fine where nothing else could have been said tells nothing."""
        return self.verdict != "fine" or bool(self.sides)


class LearnFitting(Contract):
    """A fitting: whose judgement, which measuring of the foot (its own, if none is named), the foot as measured, the
    band that was wanted of the gap, mm, and what was seen."""

    id: Key
    fitter: Key | None = None
    foot: Key | None = None
    foot_mm: float = Field(ge=20, le=500)
    foot_sigma_mm: Sigma
    low_mm: Millimetres = 0.0
    high_mm: Millimetres = 0.0
    seen: list[Sighting] = Field([], max_length=200)

    @model_validator(mode="after")
    def _right_way(self) -> LearnFitting:
        if self.low_mm > self.high_mm:
            raise AtField("low_mm", "The band's lower end lies above its upper one")
        return self


class Inside(Contract):
    """The inside of a line as read, mm, with one standard deviation; when, and the last it was made on then."""

    line: Key
    mm: float = Field(gt=0, le=500)
    sigma_mm: Sigma
    on: date | None = None
    last: Last = ""


class LearnSpread(Contract):
    """One standard deviation, mm, of makers, of models within one, of sizes within a model."""

    maker: Sigma
    model: Sigma
    line: Sigma


class LearnIn(Contract):
    """The evidence of one zone."""

    zone: Zone = "length"
    lines: list[LearnLine] = Field(max_length=20_000)
    fittings: list[LearnFitting] = Field([], max_length=100_000)
    insides: list[Inside] = Field([], max_length=20_000)
    spread_mm: LearnSpread | None = None

    @model_validator(mode="after")
    def _known_lines(self) -> LearnIn:
        lines = {line.id for line in self.lines}
        if len(lines) != len(self.lines):
            raise AtField("lines", "A line is named twice")
        of_maker: dict[str, str] = {}
        for line in self.lines:
            if of_maker.setdefault(line.model, line.maker) != line.maker:
                raise AtField("lines", f"{line.model} is of two makers")
        for name in [s.line for f in self.fittings for s in f.seen] + [i.line for i in self.insides]:
            if name not in lines:
                raise AtField("lines", f"{name} is no line")
        return self


class Learned(Contract):
    """A departure from the label, or (of a line) all of its, mm, with one standard deviation."""

    mean_mm: float
    sd_mm: float


class LearnedFoot(Contract):
    """The true foot of a fitting, mm, with one standard deviation."""

    foot_mm: float
    foot_sd_mm: float


class LearnedFitter(Contract):
    """Where a fitter places the band against the others, mm (more: says jam sooner), with one standard deviation; the
    share of their verdicts that say nothing of the shoe; and how many there are."""

    offset_mm: float
    sd_mm: float
    empty_share: float
    verdicts: int


class Changed(Contract):
    """A model that may have changed untold: the first day of the new one, and how likely that is."""

    model: str
    on: date
    probability: float


class LearnOut(Contract):
    """What was learned of a zone; a line's departure is its maker's, its model's and its own together, as it is now."""

    makers: dict[str, Learned]
    models: dict[str, Learned]
    with_maker: dict[str, Learned]
    """By model: its maker's departure and its own together."""
    lines: dict[str, Learned]
    fittings: dict[str, LearnedFoot]
    fitters: dict[str, LearnedFitter] = {}
    changed: list[Changed] = []


def spread_of(zone: Zone) -> LearnSpread:
    """How far makers, models and sizes usually depart in a zone. House defaults."""
    at = FIT_ZONES.index(zone)
    return LearnSpread(maker=SPREADS.maker[at], model=SPREADS.model[at], line=SPREADS.size[at])


@dataclass(frozen=True)
class _Row:
    """One site before it is laid: where, and what was seen against label and measured foot."""

    at: Site
    foot: int
    mm: float
    sigma: float
    low: float
    high: float
    verdict: int


@dataclass(frozen=True)
class FitterSaid:
    """What one body of evidence says of a fitter, to be put beside others': of how far they feel room larger a
    precision, mm⁻², and a natural mean, mm⁻¹; of the share of their verdicts that say nothing the log likelihood at
    each of `SHARES`; and how many verdicts that is."""

    precision: float
    push: float
    empties: list[float]
    verdicts: int


def together(said: Sequence[FitterSaid]) -> FitterSaid:
    """Several bodies of evidence of one fitter as one."""
    return FitterSaid(
        precision=sum(s.precision for s in said),
        push=sum(s.push for s in said),
        empties=[float(v) for v in np.sum([s.empties for s in said], axis=0)],
        verdicts=sum(s.verdicts for s in said),
    )


def fitter_of(said: FitterSaid) -> LearnedFitter:
    """A fitter as all that was said of them makes them."""
    precision = FITTER_SD_MM**-2 + said.precision
    return LearnedFitter(
        offset_mm=-said.push / precision,
        sd_mm=precision**-0.5,
        empty_share=share_of(np.array(said.empties)),
        verdicts=said.verdicts,
    )


@dataclass(frozen=True)
class Evidence:
    """The evidence of a zone in numbers: its lines and sites, the feet and fitters in them."""

    given: LearnIn
    last: list[str]
    """By line: the last it is on now."""
    rows: list[_Row]
    feet: list[str]
    foot_sigma: Floats
    fitters: list[str]
    before: Mapping[str, FitterSaid]
    """What others' evidence says of the fitters."""

    @property
    def tried(self) -> set[int]:
        """The lines somebody had on."""
        return {r.at.line for r in self.rows if r.foot != NOWHERE}


def _lasts(given: LearnIn) -> list[str]:
    """The last every line is on now: its own word, or what was seen last of its model."""
    model = {line.id: line.model for line in given.lines}
    newest: dict[str, tuple[date, str]] = {}
    every = [(s.line, s.on, s.last) for f in given.fittings for s in f.seen]
    for name, on, last in every + [(i.line, i.on, i.last) for i in given.insides]:
        seen = (on or date.max, last)
        if seen >= newest.get(model[name], (date.min, "")):
            newest[model[name]] = seen
    return [newest.get(line.model, (None, ""))[1] if line.last is None else line.last for line in given.lines]


def evidence_of(given: LearnIn, before: Mapping[str, FitterSaid] | None = None) -> Evidence:
    """The evidence as sites: what was said and measured of feet, then what was read; what says nothing is left out."""
    at = {line.id: i for i, line in enumerate(given.lines)}
    last = _lasts(given)
    fitters = sorted({f.fitter for f in given.fittings if f.fitter is not None})
    who = {name: i for i, name in enumerate(fitters)}
    feet: dict[str, int] = {}
    sigma: list[float] = []
    rows: list[_Row] = []
    for fitting in given.fittings:
        name = fitting.id if fitting.foot is None else f"foot {fitting.foot}"
        foot = feet.setdefault(name, len(feet))
        if foot == len(sigma):
            sigma.append(fitting.foot_sigma_mm)
        sigma[foot] = max(sigma[foot], fitting.foot_sigma_mm)
        fitter = ALL if fitting.fitter is None else who[fitting.fitter]
        for s in fitting.seen:
            base = given.lines[at[s.line]].base_mm - fitting.foot_mm
            when = day_of(s.on)
            if s.verdict is None:
                where = Site(at[s.line], s.last, when, ALL)
                rows.append(_Row(where, foot, (s.gap_mm or 0.0) - base, s.sigma_mm or 1.0, 0.0, 0.0, 0))
            elif s.says_something:
                low, high = band_of(
                    s.verdict,
                    fitting.low_mm if s.low_mm is None else s.low_mm,
                    fitting.high_mm if s.high_mm is None else s.high_mm,
                    s.sides,
                )
                where = Site(at[s.line], s.last, when, fitter)
                verdict = VERDICTS.index(s.verdict)
                rows.append(_Row(where, foot, math.nan, VERDICT_SIGMA_MM, low - base, high - base, verdict))
    tried = {r.at.line for r in rows}
    for i in given.insides:
        line = at[i.line]
        still = line not in tried and i.last == last[line]
        where = Site(line, i.last, None if still else day_of(i.on), ALL)
        rows.append(_Row(where, NOWHERE, i.mm - given.lines[line].base_mm, i.sigma_mm, 0.0, 0.0, 0))
    return Evidence(given, last, rows, list(feet), np.array(sigma), fitters, before or {})


def laid(evidence: Evidence, changes: dict[Model, Change]) -> Laid:
    """The effects behind some evidence, with what may have changed untold."""
    lines = evidence.given.lines
    spread = evidence.given.spread_mm or spread_of(evidence.given.zone)
    before = [evidence.before.get(name) for name in evidence.fitters]
    precision = [FITTER_SD_MM**-2 + (b.precision if b else 0.0) for b in before]
    push = [b.push if b else 0.0 for b in before]
    return lay(
        [line.maker for line in lines],
        [line.model for line in lines],
        evidence.last,
        [r.at for r in evidence.rows],
        evidence.tried,
        Spread(spread.maker, spread.model, spread.line),
        Bands(np.array(push) / np.maximum(precision, 1e-12), np.array(precision)),
        changes,
    )


def sites(evidence: Evidence, on: Laid) -> Seen:
    """Everything seen as sites of the cells of its effects."""
    rows = evidence.rows
    said = np.array([math.isnan(r.mm) for r in rows], dtype=bool)
    return Seen(
        cell=on.site,
        foot=np.array([r.foot for r in rows], dtype=np.intp),
        mm=np.array([r.mm for r in rows], dtype=float),
        sigma=np.array([r.sigma for r in rows], dtype=float),
        told=Told(
            low=np.array([r.low for r in rows], dtype=float),
            high=np.array([r.high for r in rows], dtype=float),
            sigma=np.array([r.sigma for r in rows], dtype=float),
            tail=np.where(said, TAIL_SHARE, 0.0),
            fitter=np.array([r.at.fitter for r in rows], dtype=np.intp),
            verdict=np.array([r.verdict for r in rows], dtype=np.intp),
        ),
    )


def posterior(evidence: Evidence, changes: dict[Model, Change], start: Start | None = None) -> tuple[Known, Laid]:
    """The posterior of everything, given what may have changed."""
    on = laid(evidence, changes)
    elsewhere = np.zeros((len(SHARES), len(evidence.fitters)))
    for i, name in enumerate(evidence.fitters):
        if name in evidence.before:
            elsewhere[:, i] = evidence.before[name].empties
    return infer(on.effects, evidence.foot_sigma, sites(evidence, on), elsewhere, start), on


def days_of(evidence: Evidence) -> dict[Model, dict[int, int]]:
    """By model and last the sites of trials, and the day of each."""
    found: dict[Model, dict[int, int]] = {}
    for i, row in enumerate(evidence.rows):
        if row.at.day is not None and row.foot != NOWHERE:
            found.setdefault((evidence.given.lines[row.at.line].model, row.at.last), {})[i] = row.at.day
    return found


def changes_of(evidences: Sequence[tuple[Evidence, Known]]) -> dict[Model, Change]:
    """What may have changed untold, model by model, from what each of its zones says: a last is changed in all of them.
    Each suspected day is tried in the whole posterior of every zone."""
    of = [days_of(evidence) for evidence, _ in evidences]

    @cache
    def unchanged(zone: int) -> float:
        """Begun where the changed ones are: what is begun elsewhere can't be set against them."""
        evidence, plain = evidences[zone]
        return posterior(evidence, {}, plain.sites)[0].evidence

    found = {}
    for model in sorted({m for days in of for m in days}):
        own = [days.get(model, {}) for days in of]
        every = np.array(sorted({d for days in own for d in days.values()}), dtype=np.intp)
        pulls = [
            (np.array(list(days.values()), dtype=np.intp), plain.pull[list(days)])
            for days, (_, plain) in zip(own, evidences, strict=True)
            if days
        ]
        told = {
            day: sum(
                posterior(evidence, {model: Change(day, 1.0)}, plain.sites)[0].evidence - unchanged(zone)
                for zone, (days, (evidence, plain)) in enumerate(zip(own, evidences, strict=True))
                if days
            )
            for day in suspected(every, pulls)
        }
        if change := changed_at(told, every):
            found[model] = change
    return found


def learn(given: LearnIn) -> LearnOut:
    """Makers, models, sizes, feet and fitters as posteriors of all that was read, measured and said."""
    return learn_beside(given, {})[0]


def learn_beside(
    given: LearnIn, before: Mapping[str, FitterSaid]
) -> tuple[LearnOut, dict[str, FitterSaid]]:  # fmt: skip
    """`learn`, with what others' evidence says of the fitters (`before`); and what this evidence alone says of them."""
    return learn_zones({given.zone: given}, {given.zone: before})[given.zone]


def other_zones(said: Mapping[Zone, Mapping[str, FitterSaid]]) -> dict[Zone, dict[str, FitterSaid]]:
    """By zone what the others say of fitters: whose verdicts say nothing in one zone are to be doubted in all; where
    they place the band is each zone's own."""
    found: dict[Zone, dict[str, FitterSaid]] = {zone: {} for zone in said}
    for zone in said:
        for name in said[zone]:
            rest = [said[z][name].empties for z in said if z != zone and name in said[z]]
            if rest:
                found[zone][name] = FitterSaid(0.0, 0.0, [float(v) for v in np.sum(rest, axis=0)], 0)
    return found


def _beside(one: Mapping[str, FitterSaid], other: Mapping[str, FitterSaid]) -> dict[str, FitterSaid]:
    return {n: together([s[n] for s in (one, other) if n in s]) for n in one.keys() | other.keys()}


def learn_zones(
    given: Mapping[Zone, LearnIn], before: Mapping[Zone, Mapping[str, FitterSaid]]
) -> dict[Zone, tuple[LearnOut, dict[str, FitterSaid]]]:
    """Zones learned beside each other: a fitter who says nothing in one is doubted in all, and a last is changed in
    all. By zone what was learned, and what its evidence alone says of the fitters."""
    found: dict[Zone, tuple[LearnOut, dict[str, FitterSaid]]] = {}
    begun: dict[Zone, tuple[Evidence, Known, Laid]] = {}
    for zone, one in given.items():
        if one.lines:
            evidence = evidence_of(one, before.get(zone, {}))
            begun[zone] = (evidence, *posterior(evidence, {}))
        else:
            feet = {f.id: LearnedFoot(foot_mm=f.foot_mm, foot_sd_mm=f.foot_sigma_mm) for f in one.fittings}
            found[zone] = (LearnOut(makers={}, models={}, with_maker={}, lines={}, fittings=feet), {})
    if len(begun) > 1:
        elsewhere = other_zones({zone: _fitters(*of) for zone, of in begun.items()})
        for zone, (_, known, _) in begun.items():
            evidence = evidence_of(given[zone], _beside(before.get(zone, {}), elsewhere[zone]))
            begun[zone] = (evidence, *posterior(evidence, {}, known.sites))
    changes = changes_of([(evidence, known) for evidence, known, _ in begun.values()])
    for zone, (evidence, known, on) in begun.items():
        own = {model: change for model, change in changes.items() if model in days_of(evidence)}
        if own:
            known, on = posterior(evidence, own, known.sites)
        found[zone] = _told(evidence, known, on, own)
    return found


def _told(
    evidence: Evidence, known: Known, on: Laid, changes: Mapping[Model, Change]
) -> tuple[LearnOut, dict[str, FitterSaid]]:
    given, before = evidence.given, evidence.before

    def of(*places: int) -> Learned:
        at = np.array(places)
        return Learned(mean_mm=float(known.mean[at].sum()), sd_mm=float(known.cov[np.ix_(at, at)].sum() ** 0.5))

    now = {line.model: (line.model, last) for line, last in zip(given.lines, evidence.last, strict=True)}
    of_maker = {line.model: on.makers[line.maker] for line in given.lines}
    foot_at = {name: i for i, name in enumerate(evidence.feet)}
    feet = {}
    for f in given.fittings:
        i = foot_at[f.id if f.foot is None else f"foot {f.foot}"]
        feet[f.id] = LearnedFoot(foot_mm=f.foot_mm + float(known.foot_mean[i]), foot_sd_mm=float(known.foot_sd[i]))
    fitters = _fitters(evidence, known, on)
    out = LearnOut(
        makers={name: of(i) for name, i in on.makers.items()},
        models={name: of(on.models[key]) for name, key in now.items()},
        with_maker={name: of(of_maker[name], on.models[key]) for name, key in now.items()},
        lines={
            line.id: Learned(mean_mm=float(known.cell_mean[i]), sd_mm=float(known.cell_sd[i]))
            for line, i in zip(given.lines, on.now, strict=True)
        },
        fittings=feet,
        fitters={
            name: fitter_of(together([said, *([before[name]] if name in before else [])]))
            for name, said in fitters.items()
        },
        changed=[
            Changed(model=model, on=date.fromordinal(change.day), probability=change.chance)
            for (model, _), change in sorted(changes.items())
        ],
    )
    return out, fitters


def _fitters(evidence: Evidence, known: Known, on: Laid) -> dict[str, FitterSaid]:
    """What this evidence alone says of each fitter: what is known now, less what was before."""
    verdicts = [r.at.fitter for r in evidence.rows if math.isnan(r.mm) and r.at.fitter != ALL]
    count = np.bincount(np.array(verdicts, dtype=np.intp), minlength=len(evidence.fitters))
    found = {}
    for i, name in enumerate(evidence.fitters):
        at = on.fitters + i
        precision = 1 / float(known.cov[at, at])
        first = float(on.effects.precision[at, at])
        found[name] = FitterSaid(
            precision=max(precision - first, 0.0),
            push=precision * float(known.mean[at]) - first * float(on.effects.mean[at]),
            empties=[float(v) for v in known.sites.fitters.likely[:, i]],
            verdicts=int(count[i]),
        )
    return found
