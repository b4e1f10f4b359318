"""Which models may have changed untold: each suspected day is tried on what is known of the model, all else as it is.

A model meets the rest only in its maker's habit, in the fitters and in feet that had other pairs on. What all the rest
says of those is taken out of the posterior of everything as a normal, and the model's own sites are taken in anew on
it, changed and unchanged: so a try costs what the model costs, not what its maker does.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np

from .changes import changed_at, suspected
from .effects import NOW, Change, Laid, Model
from .linear import NOWHERE, System
from .observe import Floats, Ints
from .state import Known, Start, infer
from .zone import Evidence, elsewhere_of, laid, sites


def days_of(evidence: Evidence) -> dict[Model, tuple[Ints, Ints]]:
    """By model and last the sites of trials, and the day of each."""
    rows = evidence.rows
    at = np.flatnonzero((rows.day != NOW) & (rows.foot != NOWHERE))
    names, code = _coded(evidence, at)
    order = np.argsort(code, kind="stable")
    ends = np.searchsorted(code[order], np.arange(len(names)), side="right")
    of = np.split(at[order], ends[:-1]) if names else []
    return {name: (own, rows.day[own]) for name, own in zip(names, of, strict=True)}


def _coded(evidence: Evidence, at: Ints) -> tuple[list[Model], Ints]:
    """The models on lasts that some rows are of, and each row's place among them."""
    model_at = {name: i for i, name in enumerate(dict.fromkeys(evidence.model))}
    of_line = np.array([model_at[m] for m in evidence.model], dtype=np.intp)
    wide = max(len(evidence.lasts), 1)
    codes, code = np.unique(of_line[evidence.rows.line[at]] * wide + evidence.rows.last[at], return_inverse=True)
    models = list(model_at)
    return [(models[c // wide], evidence.lasts[c % wide]) for c in codes.tolist()], code


@dataclass(frozen=True)
class _Alone:
    """One model of a zone with all the rest taken in: its evidence, against feet as the rest leaves them; where its
    sites stand; and what the rest says of its maker and the fitters: natural mean and precision."""

    evidence: Evidence
    start: Start
    push: Floats
    precision: Floats

    def on(self, changes: Mapping[Model, Change]) -> Laid:
        """The effects behind it, with what the rest says as their prior."""
        on = laid(self.evidence, changes)
        at = _shared(on, self.evidence)
        precision, mean = on.effects.precision.copy(), on.effects.mean.copy()
        precision[np.ix_(at, at)] = self.precision
        mean[at] = np.linalg.solve(self.precision, self.push)
        return replace(on, effects=replace(on.effects, mean=mean, precision=precision))

    def likely(self, changes: Mapping[Model, Change]) -> float:
        """The log of how likely its sites are, up to what hangs on no change; fitters are judged as they are."""
        on, of = self.on(changes), self.evidence
        seen = sites(of, on)
        known = infer(on.effects, of.foot_sigma, seen, elsewhere_of(of), self.start, judge=False, still=ROUGHLY)
        return known.evidence


def _shared(on: Laid, evidence: Evidence) -> Ints:
    """The places of a single maker and of the fitters among the effects."""
    (maker,) = on.makers.values()
    return np.array([maker, *range(on.fitters, on.fitters + len(evidence.fitters))], dtype=np.intp)


def alone(evidence: Evidence, known: Known, on: Laid, model: Model) -> _Alone:
    """One model of what is known, by itself."""
    rows = evidence.rows
    names, code = _coded(evidence, np.arange(len(rows.line)))
    at = np.flatnonzero(code == names.index(model))
    feet, moved, sigma = _feet(evidence, known, on, at)
    lines, line = np.unique(rows.line[at], return_inverse=True)
    own = rows.of(at)
    own = replace(own, line=line, foot=feet, mm=own.mm + moved, low=own.low + moved, high=own.high + moved)
    part = replace(
        evidence,
        line=[evidence.line[n] for n in lines.tolist()],
        maker=[evidence.maker[n] for n in lines.tolist()],
        model=[evidence.model[n] for n in lines.tolist()],
        last=[model[1] for _ in lines],
        rows=own,
        feet=[""] * len(sigma),
        foot_sigma=sigma,
    )
    tau, nu, who = known.sites.tau[at], known.sites.nu[at], known.sites.fitters
    said_of = (np.cumsum(rows.said) - 1)[at[rows.said[at]]]
    start = Start(tau, nu + tau * moved, replace(who, nothing=who.nothing[said_of], given=who.given[said_of]))
    alike = laid(part, {})
    system = System(alike.effects, sigma, sites(part, alike))
    found = system.solve(start.tau, start.nu)
    here = _shared(alike, part)
    here_precision = np.linalg.inv(system.between(found, here[:, None], here[None, :]))
    first = alike.effects
    said = here_precision - first.precision[np.ix_(here, here)]
    pushed = here_precision @ found.mean[here] - (first.precision @ first.mean)[here]
    band = np.arange(on.fitters, on.fitters + len(evidence.fitters))
    there = np.append(on.makers[part.maker[0]], band)
    whole = np.linalg.inv(known.between(there[:, None], there[None, :]))
    value, way = np.linalg.eigh(whole - said)
    precision = (way * np.maximum(value, LEAST_PRECISION)) @ way.T
    return _Alone(part, start, whole @ known.mean[there] - pushed, precision)


ROUGHLY = 1e-6
"""How still a try is to stand: it is held against another."""
LEAST_PRECISION = 1e-4
"""What the rest says is never less than this, mm⁻²: rounding may leave nothing of it."""


def _feet(evidence: Evidence, known: Known, on: Laid, at: Ints) -> tuple[Ints, Floats, Floats]:
    """The feet of some sites as all others leave them: of each site the number of its foot among them, and its mean
    error, mm; and how unsure each foot is."""
    foot = evidence.rows.foot
    tau, nu = known.sites.tau, known.sites.nu
    var = known.cell_var[on.site]
    apart = tau / (1 + tau * var)
    push = -(nu - tau * known.cell_thought[on.site]) / (1 + tau * var)
    others = np.ones(len(foot), dtype=bool)
    others[at] = False
    others &= foot != NOWHERE
    count = len(evidence.foot_sigma)
    precision = evidence.foot_sigma**-2.0 + np.bincount(foot[others], apart[others], count)
    mean = np.bincount(foot[others], push[others], count) / precision
    mine = foot[at]
    felt = mine != NOWHERE
    names, place = np.unique(mine[felt], return_inverse=True)
    number = np.full(len(at), NOWHERE, dtype=np.intp)
    number[felt] = place
    moved = np.zeros(len(at))
    moved[felt] = mean[names][place]
    return number, moved, np.asarray(precision[names] ** -0.5)


def changes_of(evidences: Sequence[tuple[Evidence, Known, Laid]]) -> dict[Model, Change]:
    """What may have changed untold, model by model, from what each of its zones says: a last is changed in all of them.
    Each suspected day is tried in every zone."""
    of = [days_of(evidence) for evidence, _, _ in evidences]
    found = {}
    for model in sorted({m for days in of for m in days}):
        seen = [(days[model], zone) for days, zone in zip(of, evidences, strict=True) if model in days]
        every = np.unique(np.concatenate([day for (_, day), _ in seen]))
        pulls = [(day, known.pull[rows]) for (rows, day), (_, known, _) in seen]
        begins = suspected(every, pulls)
        parts = [alone(*zone, model) for _, zone in seen if begins]
        unchanged = sum(part.likely({}) for part in parts)
        told = {day: sum(part.likely({model: Change(day, 1.0)}) for part in parts) - unchanged for day in begins}
        if change := changed_at(told, every):
            found[model] = change
    return found
