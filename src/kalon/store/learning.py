"""The learner's work: evidence kept of every fitting that changed, and what follows from it, maker by maker.

Done by a process of its own, as the database's owner, after the answer to whoever changed something. What is due is
rows; a piece of work and the rows that asked for it are done in one transaction, so that whatever is killed half-way is
done anew, and what is done is done once.
"""

from __future__ import annotations

from collections import defaultdict
from typing import Any, Literal, cast
from uuid import UUID

import structlog
from psycopg.types.json import Jsonb

from ..core.errors import KalonError, read
from ..core.fit.foot import FIT_ZONES, MEASURES
from ..core.fit.size import ZoneFit
from ..core.fit.trial import PairTrial
from ..core.learn.evidence import Four, ReturnEvidence, TrialEvidence, of_return, of_trial
from ..core.learn.give import StretchLearnIn, Worn, stretch_learn
from ..core.learn.offsets import Inside, LearnFitting, LearnIn, LearnLine, LearnOut, Sighting, learn
from ..core.match.ordering import Arrival
from ..core.match.shelf import GIVES_AS
from ..core.parts import ReturnPart, TrialPart
from ..core.rules.spec import fit_target
from ..core.shoes.inner import READ_SIGMA_MM, Zone, by_label
from . import bench, catalogue, learned, stock
from .catalogue import SIGMAS
from .database import Cx, Row

log = structlog.get_logger()

AT_ONCE = 200
"""Fittings looked at in one transaction."""
LOCK = 11
Key = tuple[UUID, Zone, Literal["trial", "return", "arrival"]]
NEWEST = """
    SELECT DISTINCT ON (e.fitting_id, e.variant_id, e.zone, e.kind) e.*,
           EXISTS (SELECT 1 FROM evidence_aside a WHERE a.evidence_id = e.id AND a.lifted_at IS NULL) AS aside
    FROM evidence e {which} ORDER BY e.fitting_id, e.variant_id, e.zone, e.kind, e.id DESC
"""
"""What stands of some evidence."""


PRUNE = """
    DELETE FROM learned WHERE chain_id = %(chain)s AND maker = %(maker)s AND model_id IS NOT NULL AND version < (
        SELECT coalesce(max(v.version), 0) FROM learned_version v
        WHERE v.chain_id = %(chain)s AND %(maker)s = ANY(v.makers) AND v.version <= (
            SELECT coalesce(min(f.learned_version), %(version)s) FROM fitting f JOIN shop h ON h.id = f.shop_id
            WHERE h.chain_id = %(chain)s AND f.state = 'open' AND f.touched_at > now() - interval '60 days'
              AND f.learned_version > 0))
"""
"""Models and sizes of versions no fitting under way is computed with any more; makers stay, for how they moved."""


def run_due(cx: Cx) -> int:
    """Do what is due, if anything is; how many fittings and makers were looked at. Commits by itself."""
    fittings = 0
    while count := _look_again(cx):
        fittings += count
    return fittings + _learn_due(cx)


def _look_again(cx: Cx) -> int:
    with cx.transaction():
        due = cx.execute(
            "SELECT id, fitting_id FROM learn_due ORDER BY id LIMIT %s FOR UPDATE SKIP LOCKED", [AT_ONCE]
        ).fetchall()
        for fitting_id in dict.fromkeys(r["fitting_id"] for r in due):
            _keep(cx, fitting_id)
        cx.execute("DELETE FROM learn_due WHERE id = ANY(%s)", [[r["id"] for r in due]])
    return len(due)


def _keep(cx: Cx, fitting_id: UUID) -> None:
    """Hold what a fitting shows now against what was kept of it; what differs is added."""
    try:
        with cx.transaction():
            on = bench.load(cx, fitting_id)
            now = shown(cx, on)
    except KalonError as error:
        if error.code == "erased":
            return  # what was found of the shoes stays, without a name
        now = {}
    except Exception as error:
        # One fitting that can't be read must not keep the rest from being learned from; what was kept of it stands.
        log.error("not learned from", fitting=str(fitting_id), kind=type(error).__name__)
        return
    where = NEWEST.format(which="WHERE e.fitting_id = %s")
    before = {(r["variant_id"], r["zone"], r["kind"]): r for r in cx.execute(where, [fitting_id]).fetchall()}
    changed: set[UUID] = set()
    for key in now.keys() | before.keys():
        body, was = now.get(key), before.get(key)
        if body is None and (was is None or not was["counts"]):
            continue
        if body is not None and was is not None and was["counts"] and was["body"] == body:
            continue
        kept = body if body is not None else cast(Row, was)["body"]
        cx.execute(
            "INSERT INTO evidence (chain_id, shop_id, fitting_id, variant_id, zone, kind, counts, body, staff_id) "
            "SELECT h.chain_id, f.shop_id, f.id, %s, %s, %s, %s, %s, f.opened_by FROM fitting f "
            "JOIN shop h ON h.id = f.shop_id WHERE f.id = %s",
            [key[0], key[1], key[2], body is not None, Jsonb(kept), fitting_id],
        )
        changed.add(key[0])
    cx.execute(
        "INSERT INTO learn_maker_due (chain_id, maker) SELECT DISTINCT m.chain_id, m.maker FROM variant v "
        "JOIN shoe_model m ON m.id = v.model_id WHERE v.id = ANY(%s)",
        [list(changed)],
    )


def shown(cx: Cx, on: bench.Loaded) -> dict[Key, dict[str, Any]]:
    """What a fitting shows now, by size, zone and kind. Nothing where feet were practised on. Raises `BadInput` while
    feet or brief have gaps."""
    if any(c["practice"] for c in on.captures):
        return {}
    found: dict[Key, dict[str, Any]] = {}
    trials = read(TrialPart, on.parts["trial"].body).pairs
    for line_id, trial in trials.items():
        try:
            row = stock.line(cx, UUID(line_id))
        except (KalonError, ValueError):
            continue
        _of_pair(cx, on, row, trial, "trial", found)
    orders = cx.execute(
        "SELECT o.arrival, o.variant_id FROM shoe_order o WHERE o.fitting_id = %s AND o.variant_id IS NOT NULL "
        "AND o.arrival <> '{}'",
        [on.id],
    ).fetchall()
    for order in orders:
        came = Arrival.model_validate(order["arrival"])
        felt: dict[str, Any] = {"pinches": {f"left:{p}": 2 for p in came.pinches}}
        felt |= {"toes": came.toes} if came.toes else {}
        felt |= {"heel_slip": 2} if came.heel_slip else {}
        row = catalogue.variants(cx, [order["variant_id"]])[order["variant_id"]]
        _of_pair(cx, on, row, PairTrial.model_validate(felt), "arrival", found)
    if on.sale and on.kept:
        _of_return(cx, on, on.sale, found)
    return found


def _inside(row: Row) -> tuple[Four, Four]:
    mm = cast(Four, tuple(float(row[n]) for n in MEASURES))
    return mm, cast(Four, tuple(float(row[n]) for n in SIGMAS))


def _of_pair(
    cx: Cx, on: bench.Loaded, row: Row, trial: PairTrial, kind: Literal["trial", "arrival"],
    found: dict[Key, dict[str, Any]],
) -> None:  # fmt: skip
    (known,) = learned.on_rows(cx, on.row["learned_version"], [row])
    upper = row["upper"] or GIVES_AS
    band = fit_target(on.spec, upper).band()
    sport = on.case.brief.sport
    of_zone = of_trial(trial, on.foot, *_inside(known), band, upper, row["build"], row["reinforced"], sport)
    for zone, evidence in of_zone.items():
        found[(row["variant_id"], zone, kind)] = evidence.model_dump(mode="json")


def _of_return(cx: Cx, on: bench.Loaded, sale: Row, found: dict[Key, dict[str, Any]]) -> None:
    back = read(ReturnPart, on.parts["return"].body)
    seen = {z: v for z, m in zip(FIT_ZONES, MEASURES, strict=True) if (v := getattr(back, m)) is not None}
    if back.hours is None or not seen or not on.kept:
        return
    row = stock.line(cx, sale["stock_line_id"])
    zones = [ZoneFit.model_validate(z) for z in on.kept["settled"]["size"]["zones"]]
    upper = row["upper"] or GIVES_AS
    seen_zones = cast(dict[Zone, float], seen)
    shows = of_return(
        zones, seen_zones, back.hours, on.foot, *_inside(row), upper, row["build"], row["reinforced"],
        on.case.brief.sport,
    )  # fmt: skip
    for zone, evidence in shows.items():
        found[(row["variant_id"], zone, "return")] = evidence.model_dump(mode="json")


# --- makers


def _learn_due(cx: Cx) -> int:
    with cx.transaction():
        due = cx.execute(
            "SELECT id, chain_id, maker FROM learn_maker_due ORDER BY id FOR UPDATE SKIP LOCKED"
        ).fetchall()
        makers: dict[UUID, set[str]] = defaultdict(set)
        for row in due:
            makers[row["chain_id"]].add(row["maker"])
        for chain, of in makers.items():
            learn_makers(cx, chain, sorted(of))
        cx.execute("DELETE FROM learn_maker_due WHERE id = ANY(%s)", [[r["id"] for r in due]])
    return sum(map(len, makers.values()))


def learn_makers(cx: Cx, chain: UUID, makers: list[str]) -> int:
    """Learn some makers of a chain anew from all that stands of them: a new version, whose number is given back."""
    cx.execute("SELECT pg_advisory_xact_lock(hashtextextended(%s, %s))", [str(chain), LOCK])
    row = cx.execute(
        "INSERT INTO learned_version (chain_id, version, makers) SELECT %s, coalesce(max(version), 0) + 1, %s "
        "FROM learned_version WHERE chain_id = %s RETURNING version",
        [chain, makers, chain],
    ).fetchone()
    version = int(cast(Row, row)["version"])
    for maker in makers:
        _learn_maker(cx, chain, version, maker)
    _learn_gives(cx, chain, version)
    return version


def _learn_maker(cx: Cx, chain: UUID, version: int, maker: str) -> None:
    sizes = cx.execute(
        "SELECT v.id, v.model_id, v.system, v.label, v.width, m.sport, m.build FROM variant v "
        "JOIN shoe_model m ON m.id = v.model_id WHERE m.chain_id = %s AND m.maker = %s AND ("
        "EXISTS (SELECT 1 FROM evidence e WHERE e.variant_id = v.id) OR "
        "EXISTS (SELECT 1 FROM shoe_reading r WHERE r.variant_id = v.id AND r.set_aside_at IS NULL)) ORDER BY v.id",
        [chain, maker],
    ).fetchall()
    ids = [s["id"] for s in sizes]
    base = {s["id"]: by_label(catalogue.inside_of(s, [])) for s in sizes}
    kept = cx.execute(NEWEST.format(which="WHERE e.variant_id = ANY(%s)"), [ids]).fetchall()
    stands = [e for e in kept if e["counts"] and not e["aside"]]
    readings = cx.execute(
        "SELECT variant_id, zone, mm, sigma_mm, source FROM shoe_reading "
        "WHERE variant_id = ANY(%s) AND set_aside_at IS NULL ORDER BY at, id",
        [ids],
    ).fetchall()
    for at, zone in enumerate(FIT_ZONES):
        of_zone = [e for e in stands if e["zone"] == zone]
        inside = [
            Inside(line=str(r["variant_id"]), mm=r["mm"], sigma_mm=sigma)
            for r in readings
            if r["zone"] == zone and (sigma := r["sigma_mm"] or READ_SIGMA_MM[r["source"]][at])
        ]
        touched = {str(e["variant_id"]) for e in of_zone} | {i.line for i in inside}
        lines = [
            LearnLine(id=str(s["id"]), maker=maker, model=str(s["model_id"]), base_mm=base[s["id"]][at])
            for s in sizes
            if str(s["id"]) in touched
        ]
        if not lines:
            continue
        found = learn(LearnIn(zone=cast(Zone, zone), lines=lines, fittings=_fittings(of_zone), insides=inside))
        seen: dict[str, int] = defaultdict(int)
        for name in [str(e["variant_id"]) for e in of_zone] + [i.line for i in inside]:
            seen[name] += 1
        tried = {str(e["variant_id"]) for e in of_zone}
        _write(cx, chain, version, maker, zone, lines, found, seen, tried)
    cx.execute(PRUNE, {"chain": chain, "maker": maker, "version": version})


def _fittings(evidence: list[Row]) -> list[LearnFitting]:
    """Evidence of one zone as fittings: pairs on one foot share its error."""
    by_foot: dict[UUID, tuple[float, float, list[Sighting]]] = {}
    for e in evidence:
        if e["kind"] == "return":
            body = ReturnEvidence.model_validate(e["body"])
            sighting = body.as_new().model_copy(update={"line": str(e["variant_id"])})
            foot, sigma = body.foot_mm, body.foot_sigma_mm
        else:
            said = TrialEvidence.model_validate(e["body"])
            line = str(e["variant_id"])
            sighting = Sighting(line=line, verdict=said.verdict, low_mm=said.low_mm, high_mm=said.high_mm)
            foot, sigma = said.foot_mm, said.foot_sigma_mm
        by_foot.setdefault(e["fitting_id"], (foot, sigma, []))[2].append(sighting)
    return [
        LearnFitting(id=str(f), foot_mm=foot, foot_sigma_mm=max(sigma, 0.01), seen=seen)
        for f, (foot, sigma, seen) in by_foot.items()
    ]


def _write(
    cx: Cx, chain: UUID, version: int, maker: str, zone: str, lines: list[LearnLine], found: LearnOut,
    seen: dict[str, int], tried: set[str],
) -> None:  # fmt: skip
    """Maker, models, and the sizes somebody tried; a size that was only read is known by its reading already."""
    base = {line.id: line.base_mm for line in lines}
    of_model: dict[str, int] = defaultdict(int)
    for line in lines:
        of_model[line.model] += seen[line.id]
    rows: list[tuple[Any, ...]] = [
        (None, None, m.mean_mm, m.sd_mm, sum(of_model.values())) for m in found.makers.values()
    ]
    rows += [(UUID(k), None, m.mean_mm, m.sd_mm, of_model[k]) for k, m in found.with_maker.items()]
    rows += [
        (UUID(line.model), UUID(line.id), base[line.id] + m.mean_mm, m.sd_mm, seen[line.id])
        for line in lines
        if line.id in tried
        for m in (found.lines[line.id],)
    ]
    with cx.cursor() as cursor:
        cursor.executemany(
            "INSERT INTO learned (chain_id, version, maker, zone, model_id, variant_id, mean_mm, sd_mm, seen) "
            "VALUES (%s, %s, %s, %s, %s, %s, %s, %s, %s)",
            [(chain, version, maker, zone, *row) for row in rows],
        )


def _learn_gives(cx: Cx, chain: UUID, version: int) -> None:
    """What follow-ups show of giving, of every maker: kinds are shared by all."""
    kept = cx.execute(NEWEST.format(which="WHERE e.chain_id = %s AND e.kind = 'return'"), [chain]).fetchall()
    models = {
        r["id"]: r["model_id"]
        for r in cx.execute(
            "SELECT id, model_id FROM variant WHERE id = ANY(%s)", [list({e["variant_id"] for e in kept})]
        ).fetchall()
    }
    names = ("kind", "c_mm", "tau_h", "new_mm", "new_sigma_mm", "hours", "seen_mm", "seen_sigma_mm")
    evidence = [
        Worn(model=str(models[e["variant_id"]]), **{n: e["body"][n] for n in names})
        for e in kept
        if e["counts"] and not e["aside"]
    ]
    if not evidence:
        return
    found = stretch_learn(StretchLearnIn(evidence=evidence))
    rows: list[tuple[Any, ...]] = [
        (kind, None, g.log_mean, g.log_sd, sum(w.kind == kind for w in evidence)) for kind, g in found.kinds.items()
    ]
    of_model = {w.model: w.kind for w in evidence}
    rows += [
        (of_model[model], UUID(model), g.log_mean, g.log_sd, sum(w.model == model for w in evidence))
        for model, g in found.models.items()
    ]
    with cx.cursor() as cursor:
        cursor.executemany(
            "INSERT INTO learned_give (chain_id, version, kind, model_id, log_mean, log_sd, seen) "
            "VALUES (%s, %s, %s, %s, %s, %s, %s)",
            [(chain, version, *row) for row in rows],
        )
