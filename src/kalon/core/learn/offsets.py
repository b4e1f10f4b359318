"""`learn`: how makers, models and single sizes depart from their labels, the true foot, and who says what, from
ordinary trials by ordinary people."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace
from datetime import date
from typing import Literal, NamedTuple, get_args

import numpy as np

from ..shoes.inner import Zone
from .effects import Change, Laid, Model
from .given import Changed, Learned, LearnedFoot, LearnIn, LearnOut
from .observe import ALL
from .state import STILL, Known, Start
from .untold import changes_of, days_of
from .zone import Evidence, FitterSaid, Kept, evidence_of, fitter_of, foot_of, kept_of, moved_on, posterior, together


def learn(given: LearnIn) -> LearnOut:
    """Makers, models, sizes, feet and fitters as posteriors of all that was read, measured and said."""
    return learn_beside(given, {})[0]


def learn_beside(
    given: LearnIn, before: Mapping[str, FitterSaid]
) -> tuple[LearnOut, dict[str, FitterSaid]]:  # fmt: skip
    """`learn`, with what others' evidence says of the fitters (`before`); and what this evidence alone says of them."""
    return learn_zones({given.zone: given}, {given.zone: before})[given.zone][:2]


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


class LearnedZone(NamedTuple):
    """What was learned of a zone; what its evidence alone says of the fitters; and where it stood, to begin from."""

    out: LearnOut
    said: dict[str, FitterSaid]
    stood: Stood


Stage = Literal["alone", "beside", "changed"]
"""A zone by itself; beside the others; with what may have changed."""
STAGES: tuple[Stage, ...] = get_args(Stage)
ROUGHLY = 1e-6
"""How still a stage is to stand that is only a step to the last."""
Stood = Mapping[Stage, Kept]


def learn_zones(
    given: Mapping[Zone, LearnIn | Evidence], before: Mapping[Zone, Mapping[str, FitterSaid]],
    stood: Mapping[Zone, Stood] | None = None,
) -> dict[Zone, LearnedZone]:  # fmt: skip
    """Zones learned beside each other: a fitter who says nothing in one is doubted in all, and a last is changed in
    all. `stood`, from learning other evidence of theirs, saves rounds and changes nothing."""
    from_: Mapping[Zone, Stood] = stood or {}
    found: dict[Zone, LearnedZone] = {}
    begun: dict[Zone, tuple[Evidence, Known, Laid]] = {}
    stands: dict[Zone, dict[Stage, Kept]] = {}

    def step(zone: Zone, stage: Stage, evidence: Evidence, changes: dict[Model, Change], start: Start | None) -> None:
        was = from_.get(zone, {})
        of: Start | Kept | None = was.get(stage, start)
        earlier = [s for s in STAGES[: STAGES.index(stage)] if s in was and s in stands[zone]]
        if stage in was and earlier:
            of = moved_on(was[stage], was[earlier[-1]], stands[zone][earlier[-1]])
        begun[zone] = (evidence, *posterior(evidence, changes, of, STILL if stage == "changed" else ROUGHLY))
        stands.setdefault(zone, {})[stage] = kept_of(evidence, begun[zone][1])

    for zone, one in given.items():
        of = evidence_of(one) if isinstance(one, LearnIn) else one
        if of.line:
            step(zone, "alone", replace(of, before=before.get(zone, {})), {}, None)
        else:
            found[zone] = LearnedZone(LearnOut(makers={}, models={}, with_maker={}, lines={}, fittings={}), {}, {})
    if len(begun) > 1:
        elsewhere = other_zones({zone: _fitters(*of) for zone, of in begun.items()})
        for zone, (evidence, known, _) in begun.items():
            told = _beside(before.get(zone, {}), elsewhere[zone])
            step(zone, "beside", replace(evidence, before=told), {}, known.sites)
    changes = changes_of(list(begun.values()))
    for zone, (evidence, known, _) in begun.items():
        own = {model: change for model, change in changes.items() if model in days_of(evidence)}
        step(zone, "changed", evidence, own, known.sites)
        found[zone] = LearnedZone(*_told(*begun[zone], own), stands[zone])
    for zone, one in given.items():
        if isinstance(one, LearnIn):
            feet = _feet(one, *begun[zone][:2]) if zone in begun else _feet(one)
            found[zone] = found[zone]._replace(out=found[zone].out.model_copy(update={"fittings": feet}))
    return found


def _feet(given: LearnIn, evidence: Evidence | None = None, known: Known | None = None) -> dict[str, LearnedFoot]:
    """The true foot of every fitting; as it was measured, where nothing is known of it."""
    at = {name: i for i, name in enumerate(evidence.feet if evidence else ())}
    found = {}
    for f in given.fittings:
        mean, sd = f.foot_mm, f.foot_sigma_mm
        if known:
            i = at[foot_of(f)]
            mean, sd = f.foot_mm + float(known.foot_mean[i]), float(known.foot_sd[i])
        found[f.id] = LearnedFoot(foot_mm=mean, foot_sd_mm=sd)
    return found


def _told(
    evidence: Evidence, known: Known, on: Laid, changes: Mapping[Model, Change]
) -> tuple[LearnOut, dict[str, FitterSaid]]:
    before = evidence.before

    def of(names: Sequence[str], *places: Sequence[int]) -> dict[str, Learned]:
        """Of each name the sum of an effect of each of `places`."""
        at = [np.array(p, dtype=np.intp) for p in places]
        mean = np.sum([known.mean[p] for p in at], axis=0)
        var = np.sum([known.between(a, b) for a in at for b in at], axis=0)
        return {
            name: Learned(mean_mm=m, sd_mm=v**0.5)
            for name, m, v in zip(names, mean.tolist(), var.tolist(), strict=True)
        }

    now = {model: (model, last) for model, last in zip(evidence.model, evidence.last, strict=True)}
    of_maker = {model: on.makers[maker] for model, maker in zip(evidence.model, evidence.maker, strict=True)}
    own = [on.models[key] for key in now.values()]
    fitters = _fitters(evidence, known, on)
    out = LearnOut(
        makers=of(list(on.makers), list(on.makers.values())),
        models=of(list(now), own),
        with_maker=of(list(now), [of_maker[name] for name in now], own),
        lines={
            line: Learned(mean_mm=float(known.cell_mean[i]), sd_mm=float(known.cell_sd[i]))
            for line, i in zip(evidence.line, on.now, strict=True)
        },
        fittings={},
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
    rows = evidence.rows
    count = np.bincount(rows.fitter[rows.said & (rows.fitter != ALL)], minlength=len(evidence.fitters))
    found = {}
    for i, name in enumerate(evidence.fitters):
        at = on.fitters + i
        precision = 1 / float(known.between(np.array([at]), np.array([at]))[0])
        first = float(on.effects.precision[at, at])
        found[name] = FitterSaid(
            precision=max(precision - first, 0.0),
            push=precision * float(known.mean[at]) - first * float(on.effects.mean[at]),
            empties=[float(v) for v in known.sites.fitters.likely[:, i]],
            verdicts=int(count[i]),
        )
    return found
