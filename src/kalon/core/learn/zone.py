"""The evidence of one zone in numbers, the effects behind it, and the posterior of both."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, fields
from datetime import date

import numpy as np
from numpy.typing import NDArray

from ..fit.foot import FIT_ZONES
from ..shoes.inner import SPREADS, Zone
from .effects import NOW, Bands, Change, Laid, Model, Places, Spread, day_of, lay
from .given import LearnedFitter, LearnFitting, LearnIn, LearnSpread
from .linear import NOWHERE, Seen
from .observe import (
    ALL,
    BOTH,
    FITTER_SD_MM,
    SHARES,
    TAIL_SHARE,
    VERDICT_SIGMA_MM,
    VERDICTS,
    Fitters,
    Floats,
    Ints,
    Told,
    bands_of,
    share_of,
    usual_fitters,
)
from .state import STILL, Known, Start, infer, part_told


def spread_of(zone: Zone) -> LearnSpread:
    """How far makers, models and sizes usually depart in a zone. House defaults."""
    at = FIT_ZONES.index(zone)
    return LearnSpread(maker=SPREADS.maker[at], model=SPREADS.model[at], line=SPREADS.size[at])


@dataclass(frozen=True)
class Rows:
    """Sites before they are laid, (n,) each: whose sighting it is, where (`Places`), on which foot, and what was seen
    against label and measured foot, mm: a gap with its spread, or else a verdict between two ends."""

    name: list[str]
    line: Ints
    last: Ints
    day: Ints
    fitter: Ints
    foot: Ints
    mm: Floats
    sigma: Floats
    low: Floats
    high: Floats
    verdict: Ints

    @property
    def said(self) -> NDArray[np.bool_]:
        """Which of them were said, not measured."""
        return np.isnan(self.mm)

    def of(self, at: Ints) -> Rows:
        """Some of them."""
        others = (f.name for f in fields(self) if f.name != "name")
        return Rows(name=[self.name[i] for i in at.tolist()], **{n: getattr(self, n)[at] for n in others})

    def and_(self, other: Rows) -> Rows:
        """They and others."""
        others = (f.name for f in fields(self) if f.name != "name")
        both = {n: np.concatenate([getattr(self, n), getattr(other, n)]) for n in others}
        return Rows(name=self.name + other.name, **both)


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

    spread: LearnSpread
    line: list[str]
    maker: list[str]
    model: list[str]
    last: list[str]
    """By line: its name, whose it is, and the last it is on now."""
    lasts: list[str]
    """Names of lasts, which the rows and the lines are on."""
    rows: Rows
    feet: list[str]
    foot_sigma: Floats
    fitters: list[str]
    before: Mapping[str, FitterSaid]
    """What others' evidence says of the fitters."""

    @property
    def tried(self) -> NDArray[np.bool_]:
        """Which lines somebody had on."""
        found = np.zeros(len(self.line), dtype=bool)
        found[self.rows.line[self.rows.foot != NOWHERE]] = True
        return found

    def model_of(self, row: int) -> Model:
        """The model on a last that a row is of."""
        return self.model[self.rows.line[row]], self.lasts[self.rows.last[row]]


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
    seen = [(f, n, s) for f in given.fittings for n, s in enumerate(f.seen) if s.verdict is None or s.says_something]
    feet = {name: i for i, name in enumerate(dict.fromkeys(foot_of(f) for f in given.fittings))}
    sigma = np.zeros(len(feet))
    for f in given.fittings:
        sigma[feet[foot_of(f)]] = max(sigma[feet[foot_of(f)]], f.foot_sigma_mm)
    lasts = sorted({*last, *(s.last for *_, s in seen), *(i.last for i in given.insides)})
    last_at = {name: i for i, name in enumerate(lasts)}
    line = np.array([at[s.line] for *_, s in seen], dtype=np.intp)
    base = np.array([given.lines[at[s.line]].base_mm - f.foot_mm for f, _, s in seen])
    verdict = np.array([VERDICTS.index(s.verdict or "fine") for *_, s in seen], dtype=np.intp)
    wanted = np.array(
        [
            (f.low_mm if s.low_mm is None else s.low_mm, f.high_mm if s.high_mm is None else s.high_mm)
            for f, _, s in seen
        ]
    ).reshape(-1, 2)
    can = [np.array([side in s.sides for *_, s in seen], dtype=bool) for side in BOTH]
    low, high = bands_of(verdict, wanted[:, 0], wanted[:, 1], *can)
    gap = np.array([math.nan if s.gap_mm is None else s.gap_mm for *_, s in seen])
    said = np.isnan(gap)
    rows = Rows(
        name=[f"{f.id}/{n}" if n else f.id for f, n, _ in seen],
        line=line,
        last=np.array([last_at[s.last] for *_, s in seen], dtype=np.intp),
        day=np.array([day_of(s.on) for *_, s in seen], dtype=np.intp),
        fitter=np.array([ALL if f.fitter is None or s.verdict is None else who[f.fitter] for f, _, s in seen], np.intp),
        foot=np.array([feet[foot_of(f)] for f, *_ in seen], dtype=np.intp),
        mm=gap - base,
        sigma=np.array([s.sigma_mm or VERDICT_SIGMA_MM for *_, s in seen]),
        low=np.where(said, low - base, 0.0),
        high=np.where(said, high - base, 0.0),
        verdict=np.where(said, verdict, 0),
    )
    inside = np.array([at[i.line] for i in given.insides], dtype=np.intp)
    of_now = np.array([last_at[last[n]] for n in inside.tolist()], dtype=np.intp)
    read = read_rows(
        inside, np.array([last_at[i.last] for i in given.insides], dtype=np.intp),
        np.array([day_of(i.on) for i in given.insides], dtype=np.intp),
        np.array([i.mm - given.lines[at[i.line]].base_mm for i in given.insides]),
        np.array([i.sigma_mm for i in given.insides], dtype=float), of_now=of_now, tried=np.unique(line),
    )  # fmt: skip
    return Evidence(
        given.spread_mm or spread_of(given.zone), [n.id for n in given.lines], [n.maker for n in given.lines],
        [n.model for n in given.lines], last, lasts, rows.and_(read), list(feet), sigma, fitters, before or {},
    )  # fmt: skip


def read_rows(
    line: Ints, last: Ints, day: Ints, mm: Floats, sigma: Floats, *, of_now: Ints, tried: Ints
) -> Rows:  # fmt: skip
    """What was read in shoes, (n,) each, against their labels, mm. A size nobody tried, on the last it is on now
    (`of_now`), is as it is now."""
    count = len(line)
    none, nobody = np.zeros(count), np.full(count, ALL, dtype=np.intp)
    still = ~np.isin(line, tried) & (last == of_now)
    return Rows(
        name=[""] * count, line=line, last=last, day=np.where(still, NOW, day), fitter=nobody,
        foot=np.full(count, NOWHERE, dtype=np.intp), mm=np.asarray(mm, float), sigma=np.asarray(sigma, float),
        low=none, high=none, verdict=np.zeros(count, dtype=np.intp),
    )  # fmt: skip


def foot_of(fitting: LearnFitting) -> str:
    """What the foot of a fitting is called: as the measuring it comes from, or else its own."""
    return fitting.id if fitting.foot is None else f"foot {fitting.foot}"


def laid(evidence: Evidence, changes: Mapping[Model, Change]) -> Laid:
    """The effects behind some evidence, with what may have changed untold."""
    spread, rows = evidence.spread, evidence.rows
    before = [evidence.before.get(name) for name in evidence.fitters]
    precision = [FITTER_SD_MM**-2 + (b.precision if b else 0.0) for b in before]
    push = [b.push if b else 0.0 for b in before]
    return lay(
        evidence.maker,
        evidence.model,
        evidence.last,
        evidence.lasts,
        Places(rows.line, rows.last, rows.day, rows.fitter),
        evidence.tried,
        Spread(spread.maker, spread.model, spread.line),
        Bands(np.array(push) / np.maximum(precision, 1e-12), np.array(precision)),
        changes,
    )


def sites(evidence: Evidence, on: Laid) -> Seen:
    """Everything seen as sites of the cells of its effects."""
    rows = evidence.rows
    return Seen(
        cell=on.site,
        foot=rows.foot,
        mm=rows.mm,
        sigma=rows.sigma,
        told=Told(
            low=rows.low,
            high=rows.high,
            sigma=rows.sigma,
            tail=np.where(rows.said, TAIL_SHARE, 0.0),
            fitter=rows.fitter,
            verdict=rows.verdict,
        ),
    )


def elsewhere_of(evidence: Evidence) -> Floats:
    """What others' evidence says of the fitters' empty verdicts, (`SHARES`, fitters)."""
    found = np.zeros((len(SHARES), len(evidence.fitters)))
    for i, name in enumerate(evidence.fitters):
        if name in evidence.before:
            found[:, i] = evidence.before[name].empties
    return found


@dataclass(frozen=True)
class Kept:
    """Where verdicts and fitters stood in a posterior, to begin another from, of other evidence too: it only saves
    rounds. By the name of the sighting its natural parameters (mm⁻², mm⁻¹), how likely it was to say nothing and to be
    the one given then, (n,); by fitter the share of empty verdicts and its log likelihood, (`SHARES`, fitters)."""

    names: list[str]
    tau: Floats
    nu: Floats
    nothing: Floats
    given: Floats
    fitters: list[str]
    empty: Floats
    likely: Floats


def kept_of(evidence: Evidence, known: Known) -> Kept:
    """What of a posterior is worth keeping: of what was measured it is known anyway."""
    said = np.flatnonzero(evidence.rows.said)
    of = known.sites
    return Kept(
        [evidence.rows.name[i] for i in said.tolist()], of.tau[said], of.nu[said], of.fitters.nothing, of.fitters.given,
        evidence.fitters, of.fitters.empty, of.fitters.likely,
    )  # fmt: skip


def moved_on(kept: Kept, was: Kept, now: Kept) -> Kept:
    """Where one stage is to begin, that stood at `kept` when an earlier one stood at `was`, which stands at `now`."""
    of_kept, of_was = ({name: i for i, name in enumerate(k.names)} for k in (kept, was))
    both = np.array(
        [(i, of_kept[n], of_was[n]) for i, n in enumerate(now.names) if n in of_kept and n in of_was], dtype=np.intp
    ).reshape(-1, 3)

    def on(of: str) -> Floats:
        found: Floats = getattr(now, of).copy()
        found[both[:, 0]] += getattr(kept, of)[both[:, 1]] - getattr(was, of)[both[:, 2]]
        return found

    return Kept(
        now.names, np.maximum(on("tau"), 0.0), on("nu"), np.clip(on("nothing"), 0.0, 1.0),
        np.clip(on("given"), 1e-9, 1.0), kept.fitters, kept.empty, kept.likely,
    )  # fmt: skip


def start_from(evidence: Evidence, seen: Seen, kept: Kept) -> Start:
    """Where to begin with some evidence, having stood at `kept`; what is new in it begins as from nothing."""
    said = np.flatnonzero(np.isnan(seen.mm))
    told = part_told(seen.told, said)
    usual = usual_fitters(told, np.zeros((len(SHARES), len(evidence.fitters))))
    at = {name: i for i, name in enumerate(kept.names)}
    found = [(k, at[name]) for k, i in enumerate(said.tolist()) if (name := evidence.rows.name[i]) in at]
    to, of = np.array(found, dtype=np.intp).reshape(-1, 2).T
    tau, nu = np.zeros(len(seen.mm)), np.zeros(len(seen.mm))
    tau[said[to]], nu[said[to]] = kept.tau[of], kept.nu[of]
    nothing, given, empty, likely = usual.nothing.copy(), usual.given.copy(), usual.empty.copy(), usual.likely.copy()
    nothing[to], given[to] = kept.nothing[of], kept.given[of]
    for i, name in enumerate(evidence.fitters):
        if name in kept.fitters:
            k = kept.fitters.index(name)
            empty[i], likely[:, i] = kept.empty[k], kept.likely[:, k]
    return Start(tau, nu, Fitters(empty, nothing, given, likely))


def posterior(
    evidence: Evidence, changes: Mapping[Model, Change], start: Start | Kept | None = None, still: float = STILL
) -> tuple[Known, Laid]:
    """The posterior of everything, given what may have changed."""
    on = laid(evidence, changes)
    seen = sites(evidence, on)
    if isinstance(start, Kept):
        start = start_from(evidence, seen, start)
    return infer(on.effects, evidence.foot_sigma, seen, elsewhere_of(evidence), start, still=still), on
