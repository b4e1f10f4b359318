"""The evidence of one zone in numbers, the effects behind it, and the posterior of both."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date

import numpy as np

from ..fit.foot import FIT_ZONES
from ..shoes.inner import SPREADS, Zone
from .effects import Bands, Change, Laid, Model, Site, Spread, day_of, lay
from .given import LearnedFitter, LearnIn, LearnSpread
from .observe import (
    ALL,
    FITTER_SD_MM,
    SHARES,
    TAIL_SHARE,
    VERDICT_SIGMA_MM,
    VERDICTS,
    Fitters,
    Floats,
    Told,
    band_of,
    share_of,
    usual_fitters,
)
from .state import NOWHERE, Known, Seen, Start, infer, part_told


def spread_of(zone: Zone) -> LearnSpread:
    """How far makers, models and sizes usually depart in a zone. House defaults."""
    at = FIT_ZONES.index(zone)
    return LearnSpread(maker=SPREADS.maker[at], model=SPREADS.model[at], line=SPREADS.size[at])


@dataclass(frozen=True)
class Row:
    """One site before it is laid: whose sighting it is, where, and what was seen against label and measured foot."""

    name: str
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
    rows: list[Row]
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
    rows: list[Row] = []
    for fitting in given.fittings:
        name = fitting.id if fitting.foot is None else f"foot {fitting.foot}"
        foot = feet.setdefault(name, len(feet))
        if foot == len(sigma):
            sigma.append(fitting.foot_sigma_mm)
        sigma[foot] = max(sigma[foot], fitting.foot_sigma_mm)
        fitter = ALL if fitting.fitter is None else who[fitting.fitter]
        for n, s in enumerate(fitting.seen):
            called = f"{fitting.id}/{n}" if n else fitting.id
            base = given.lines[at[s.line]].base_mm - fitting.foot_mm
            when = day_of(s.on)
            if s.verdict is None:
                where = Site(at[s.line], s.last, when, ALL)
                rows.append(Row(called, where, foot, (s.gap_mm or 0.0) - base, s.sigma_mm or 1.0, 0.0, 0.0, 0))
            elif s.says_something:
                low, high = band_of(
                    s.verdict,
                    fitting.low_mm if s.low_mm is None else s.low_mm,
                    fitting.high_mm if s.high_mm is None else s.high_mm,
                    s.sides,
                )
                where = Site(at[s.line], s.last, when, fitter)
                verdict = VERDICTS.index(s.verdict)
                rows.append(Row(called, where, foot, math.nan, VERDICT_SIGMA_MM, low - base, high - base, verdict))
    tried = {r.at.line for r in rows}
    for i in given.insides:
        line = at[i.line]
        still = line not in tried and i.last == last[line]
        where = Site(line, i.last, None if still else day_of(i.on), ALL)
        rows.append(Row("", where, NOWHERE, i.mm - given.lines[line].base_mm, i.sigma_mm, 0.0, 0.0, 0))
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
    said = [i for i, r in enumerate(evidence.rows) if math.isnan(r.mm)]
    of = known.sites
    return Kept(
        [evidence.rows[i].name for i in said], of.tau[said], of.nu[said], of.fitters.nothing, of.fitters.given,
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
    found = [(k, at[name]) for k, i in enumerate(said.tolist()) if (name := evidence.rows[i].name) in at]
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
    evidence: Evidence, changes: dict[Model, Change], start: Start | Kept | None = None
) -> tuple[Known, Laid]:
    """The posterior of everything, given what may have changed."""
    on = laid(evidence, changes)
    seen = sites(evidence, on)
    if isinstance(start, Kept):
        start = start_from(evidence, seen, start)
    return infer(on.effects, evidence.foot_sigma, seen, elsewhere_of(evidence), start), on
