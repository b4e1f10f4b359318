"""What is learned of makers, their models and sizes: from all that stands of one maker, or of few of all together."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any, cast, get_args
from uuid import UUID

import numpy as np
from psycopg import OperationalError

from ..core.fit.foot import FIT_ZONES
from ..core.learn.effects import day_of
from ..core.learn.evidence import Four
from ..core.learn.given import LearnOut
from ..core.learn.observe import SHARES, Floats, Ints
from ..core.learn.offsets import LearnedZone, learn_zones
from ..core.learn.zone import Evidence, FitterSaid, read_rows, spread_of, together
from ..core.shoes.inner import READ_SIGMA_MM, Zone, by_label
from . import came_true, catalogue, starts
from .database import Cx, Row
from .gives import learn_gives
from .parked import Parked, park, unpark
from .stands import Lasts, Stands, standing

LOCK = 11
LAIN = """
    UPDATE fitting f SET learned_from = coalesce(f.learned_from, f.learned_version), learned_version = (
        SELECT max(v.version) FROM learned_version v JOIN shop h ON h.chain_id = v.chain_id WHERE h.id = f.shop_id)
    FROM shop h WHERE h.id = f.shop_id AND h.chain_id = %(chain)s AND f.state = 'open' AND f.learned_version > 0
      AND f.touched_at <= now() - interval '60 days' AND f.learned_version < %(version)s
"""
"""Fittings that lay too long for what they were begun with to be kept go on with what is known now; they say so."""
PRUNE = """
    DELETE FROM learned WHERE chain_id = %(chain)s AND maker = %(maker)s AND model_id IS NOT NULL AND version < (
        SELECT coalesce(max(v.version), 0) FROM learned_maker v
        WHERE v.chain_id = %(chain)s AND v.maker = %(maker)s AND v.version <= (
            SELECT coalesce(min(f.learned_version), %(version)s) FROM fitting f JOIN shop h ON h.id = f.shop_id
            WHERE h.chain_id = %(chain)s AND f.state = 'open' AND f.touched_at > now() - interval '60 days'
              AND f.learned_version > 0))
"""
"""Models and sizes of versions no fitting under way is computed with any more; makers stay, for how they moved."""


def learned_with(cx: Cx, chain: UUID, maker: str) -> list[str]:
    """The makers that are learned in one with a maker, itself among them; one nobody tried alone. For no name, under
    which stands what was learned of all in one, with any that was tried."""
    if not maker:
        some = cx.execute(ONE_TRIED, {"chain": chain}).fetchone()
        return learned_with(cx, chain, some["maker"]) if some else []
    tried = cx.execute(
        "SELECT EXISTS (SELECT 1 FROM evidence e JOIN variant v ON v.id = e.variant_id JOIN shoe_model m "
        "ON m.id = v.model_id WHERE m.chain_id = %s AND m.maker = %s) AS it",
        [chain, maker],
    ).fetchone()
    if not tried or not tried["it"]:
        return [maker]
    together = [r["maker"] for r in cx.execute(TRIED, {"chain": chain, "most": TOGETHER}).fetchall()]
    if together:
        return together
    if cx.execute("DELETE FROM learned_fitter WHERE chain_id = %s AND maker = ''", [chain]).rowcount:
        cx.execute("DELETE FROM learn_start WHERE chain_id = %s AND maker = ''", [chain])
        cx.execute(ALL_DUE, {"chain": chain})  # the first time there is too much of it to learn in one
    return [maker]


TRIED = """
    SELECT DISTINCT m.maker FROM evidence e JOIN variant v ON v.id = e.variant_id JOIN shoe_model m ON m.id = v.model_id
    WHERE e.chain_id = %(chain)s
      AND (SELECT count(*) FROM (SELECT 1 FROM evidence WHERE chain_id = %(chain)s LIMIT %(most)s + 1) x) <= %(most)s
    ORDER BY m.maker
"""
ONE_TRIED = """
    SELECT m.maker FROM evidence e JOIN variant v ON v.id = e.variant_id JOIN shoe_model m ON m.id = v.model_id
    WHERE e.chain_id = %(chain)s AND m.maker <> '' LIMIT 1
"""
TOGETHER = 2_400
"""Up to so much evidence all makers of a chain are learned in one, feet and fitters with them: verdicts of one fitter
are few at any one maker. Beyond it each maker is learned by itself, with what the others say of the fitters."""
ALL_DUE = """
    INSERT INTO learn_maker_due (chain_id, maker) SELECT DISTINCT m.chain_id, m.maker FROM evidence e
    JOIN variant v ON v.id = e.variant_id JOIN shoe_model m ON m.id = v.model_id WHERE e.chain_id = %(chain)s
"""


def learn(cx: Cx, chain: UUID, makers: list[str]) -> int:
    """Learn some makers of a chain anew, in one, from all that stands of them: a new version, whose number is given
    back."""
    cx.execute("SELECT pg_advisory_xact_lock(hashtextextended(%s, %s))", [str(chain), LOCK])
    row = cx.execute(
        "INSERT INTO learned_version (chain_id, version) SELECT %s, coalesce(max(version), 0) + 1 "
        "FROM learned_version WHERE chain_id = %s RETURNING version",
        [chain, chain],
    ).fetchone()
    version = int(cast(Row, row)["version"])
    cx.execute(
        "INSERT INTO learned_maker (chain_id, maker, version) SELECT %s, unnest(%s::text[]), %s",
        [chain, makers, version],
    )
    of = _found(cx, chain, version, makers)
    came_true.write(cx, chain, makers, [s["maker"] for s in of.sizes], of.stands)
    _learn_group(cx, of, makers)
    cx.execute(LAIN, {"chain": chain, "version": version})
    what = Parked("gives", _under(makers), chain=chain)
    try:
        with cx.transaction():
            models = [s["model_id"] for s in of.sizes]
            learn_gives(cx, chain, version, set(models), of.stands.returns(models))
            unpark(cx, what)
    except OperationalError:
        raise
    except Exception as error:
        park(cx, what, error)
    return version


def _found(cx: Cx, chain: UUID, version: int, makers: list[str]) -> Found:
    """All some makers are learned from."""
    sizes = cx.execute(
        "SELECT v.id, v.model_id, v.system, v.label, v.runs_ahead, v.width, m.sport, m.build, m.last, m.maker "
        "FROM variant v "
        "JOIN shoe_model m ON m.id = v.model_id WHERE m.chain_id = %s AND m.maker = ANY(%s) AND ("
        "EXISTS (SELECT 1 FROM evidence e WHERE e.variant_id = v.id) OR "
        "EXISTS (SELECT 1 FROM shoe_reading r WHERE r.variant_id = v.id AND r.set_aside_at IS NULL)) ORDER BY v.id",
        [chain, makers],
    ).fetchall()
    ids = [s["id"] for s in sizes]
    readings = cx.execute(
        "SELECT variant_id, zone, mm, sigma_mm, source, last, at::date AS on_day FROM shoe_reading "
        "WHERE variant_id = ANY(%s) AND set_aside_at IS NULL ORDER BY at, id",
        [ids],
    ).fetchall()
    return Found(chain, version, sizes, standing(cx, ids), readings)


def _learn_group(cx: Cx, of: Found, makers: list[str]) -> None:
    """Learn some makers in one. What can't be is learned maker by maker, and what still can't is parked."""
    zones: tuple[Zone, ...] = get_args(Zone)
    if not _learned(cx, of, zones, makers):
        for zone in zones:
            if not _learned(cx, of, (zone,), makers):
                for maker in makers:
                    _learned(cx, of, (zone,), [maker])
    for maker in makers:
        cx.execute(PRUNE, {"chain": of.chain, "maker": maker, "version": of.version})


@dataclass(frozen=True)
class Found:
    """What some makers are learned from: their sizes, the evidence that stands, and readings."""

    chain: UUID
    version: int
    sizes: list[Row]
    stands: Stands
    readings: list[Row]


def _learned(cx: Cx, of: Found, zones: Sequence[Zone], makers: list[str]) -> bool:
    """Learn some makers' zones beside each other, whole or not at all; whether that is settled. One zone of one maker
    that can't be is parked, and what was known of it stands."""
    try:
        with cx.transaction():
            part = of if set(makers) >= {s["maker"] for s in of.sizes} else _found(cx, of.chain, of.version, makers)
            _learn_zones(cx, part, zones, makers)
            for zone in zones:
                for maker in makers:
                    unpark(cx, Parked("maker", maker, zone, chain=of.chain))
    except OperationalError:
        raise
    except Exception as error:
        if len(zones) > 1 or len(makers) > 1:
            return False
        (zone,) = zones
        park(cx, Parked("maker", makers[0], zone, chain=of.chain), error)
        cx.execute(AS_BEFORE, {"chain": of.chain, "version": of.version, "maker": makers[0], "zone": zone})
    return True


AS_BEFORE = """
    INSERT INTO learned (chain_id, version, maker, model_id, variant_id, zone, mean_mm, sd_mm, seen)
    SELECT chain_id, %(version)s, maker, model_id, variant_id, zone, mean_mm, sd_mm, seen FROM learned
    WHERE chain_id = %(chain)s AND maker = %(maker)s AND zone = %(zone)s AND version = (
        SELECT max(version) FROM learned_maker
        WHERE chain_id = %(chain)s AND maker = %(maker)s AND version < %(version)s)
"""
"""What was known of a maker's zone stands, where it can't be learned anew."""


def _learn_zones(cx: Cx, of: Found, zones: Sequence[Zone], makers: list[str]) -> None:
    lasts = Lasts.of(of.sizes, of.stands, of.readings)
    labels = [by_label(catalogue.inside_of(s, [])) for s in of.sizes]
    given = {zone: _given(cx, of, zone, lasts, labels) for zone in zones}
    before = {zone: _said_elsewhere(cx, of.chain, makers, zone) for zone in zones}
    stood = starts.read(cx, of.chain, _under(makers), zones)
    learned = learn_zones({zone: one.evidence for zone, one in given.items() if one.evidence.line}, before, stood)
    for zone, found in learned.items():
        _write_zone(cx, of, zone, makers, given[zone], found)
        starts.write(cx, of.chain, _under(makers), zone, found.stood)


def _under(makers: list[str]) -> str:
    """What is kept of makers that were learned in one is under no name."""
    return makers[0] if len(makers) == 1 else ""


@dataclass(frozen=True)
class Given:
    """What a zone is learned from; of each of its lines what its label says, mm, how often it was tried, and how often
    seen at all."""

    evidence: Evidence
    base: Floats
    tried: Ints
    seen: Ints


def _given(cx: Cx, found: Found, zone: Zone, lasts: Lasts, labels: list[Four]) -> Given:
    at = FIT_ZONES.index(zone)
    stands = found.stands.of(found.stands.zone == at)
    stands.raise_where_odd(cx)
    read = [r for r in found.readings if r["zone"] == zone and (r["sigma_mm"] or READ_SIGMA_MM[r["source"]][at])]
    size_at = {s["id"]: n for n, s in enumerate(found.sizes)}
    where = np.array([size_at[r["variant_id"]] for r in read], dtype=np.intp)
    touched, place = np.unique(np.concatenate([stands.size, where]), return_inverse=True)
    base = np.array([labels[n][at] for n in touched.tolist()])
    line, read_line = place[: len(stands.size)], place[len(stands.size) :]
    of = [found.sizes[n] for n in touched.tolist()]
    day = np.array([day_of(r["on_day"]) for r in read], dtype=np.intp)
    read_last = np.array([lasts.number(r["last"]) for r in read], dtype=np.intp)
    said = stands.rows(base, line, lasts)
    insides = read_rows(
        read_line, lasts.named(where, read_last, day), day, np.array([r["mm"] for r in read]) - base[read_line],
        np.array([r["sigma_mm"] or READ_SIGMA_MM[r["source"]][at] for r in read]),
        of_now=lasts.now[where], tried=np.unique(said.rows.line),
    )  # fmt: skip
    evidence = Evidence(
        spread_of(zone), [str(s["id"]) for s in of], [s["maker"] for s in of], [str(s["model_id"]) for s in of],
        [lasts.names[n] for n in lasts.now[touched].tolist()], lasts.names, said.rows.and_(insides), said.feet,
        said.foot_sigma, said.fitters, {},
    )  # fmt: skip
    tried = np.bincount(line, minlength=len(of))
    return Given(evidence, base, tried, tried + np.bincount(read_line, minlength=len(of)))


def _write_zone(cx: Cx, found: Found, zone: Zone, makers: list[str], of: Given, learned: LearnedZone) -> None:
    known, evidence = learned.out, of.evidence
    for maker in sorted(set(evidence.maker)):
        _write(cx, found, zone, maker, of, known)
    _write_fitters(cx, found.chain, makers, zone, learned.said)
    maker_of = dict(zip(evidence.model, evidence.maker, strict=True))
    cx.execute(
        "DELETE FROM learned_change WHERE chain_id = %s AND maker = ANY(%s) AND zone = %s", [found.chain, makers, zone]
    )
    with cx.cursor() as cursor:
        cursor.executemany(
            "INSERT INTO learned_change (chain_id, version, maker, model_id, zone, on_day, probability) "
            "VALUES (%s, %s, %s, %s, %s, %s, %s)",
            [
                (found.chain, found.version, maker_of[c.model], UUID(c.model), zone, c.on, min(c.probability, 1.0))
                for c in known.changed
            ],
        )


def _said_elsewhere(cx: Cx, chain: UUID, makers: list[str], zone: str) -> dict[str, FitterSaid]:
    """What other makers' evidence says of the fitters in a zone."""
    rows = cx.execute(
        "SELECT * FROM learned_fitter WHERE chain_id = %s AND zone = %s AND maker <> '' AND NOT maker = ANY(%s) "
        "ORDER BY staff_id, maker",
        [chain, zone, makers],
    ).fetchall()
    by: dict[str, list[Row]] = defaultdict(list)
    for row in rows:
        if len(row["empties"]) == len(SHARES):
            by[str(row["staff_id"])].append(row)
    return {staff: together([fitter_said(r) for r in of]) for staff, of in by.items()}


def fitter_said(row: Row) -> FitterSaid:
    """What one maker's evidence says of a fitter, as it is kept."""
    return FitterSaid(row["precision_mm"], row["push_mm"], row["empties"], row["verdicts"])


def _write_fitters(cx: Cx, chain: UUID, makers: list[str], zone: str, said: dict[str, FitterSaid]) -> None:
    """What was said of fitters: of one maker under its name, of all in one under none."""
    maker = _under(makers)
    if not maker:
        cx.execute("DELETE FROM learned_fitter WHERE chain_id = %s AND zone = %s", [chain, zone])
    else:
        cx.execute("DELETE FROM learned_fitter WHERE chain_id = %s AND zone = %s AND maker = ''", [chain, zone])
    cx.execute("DELETE FROM learned_fitter WHERE chain_id = %s AND maker = %s AND zone = %s", [chain, maker, zone])
    with cx.cursor() as cursor:
        cursor.executemany(
            "INSERT INTO learned_fitter (chain_id, shop_id, maker, zone, staff_id, precision_mm, push_mm, empties, "
            "verdicts) SELECT %s, p.shop_id, %s, %s, p.id, %s, %s, %s, %s FROM staff p WHERE p.id = %s",
            [
                (chain, maker, zone, s.precision, s.push, s.empties, s.verdicts, UUID(staff))
                for staff, s in said.items()
            ],
        )


def _write(cx: Cx, found: Found, zone: Zone, maker: str, of: Given, known: LearnOut) -> None:
    """Maker and models, with how many trials and readings told of them; and the sizes somebody tried, with how many
    trials. A size that was only read is known by its reading already."""
    evidence = of.evidence
    own = [n for n, name in enumerate(evidence.maker) if name == maker]
    of_model: dict[str, int] = defaultdict(int)
    for n in own:
        of_model[evidence.model[n]] += int(of.seen[n])
    rows: list[tuple[Any, ...]] = [
        (None, None, m.mean_mm, m.sd_mm, sum(of_model.values())) for m in (known.makers[maker],)
    ]
    rows += [(UUID(k), None, m.mean_mm, m.sd_mm, n) for k, n in of_model.items() for m in (known.with_maker[k],)]
    rows += [
        (UUID(evidence.model[n]), UUID(evidence.line[n]), float(of.base[n]) + m.mean_mm, m.sd_mm, int(of.tried[n]))
        for n in own
        if of.tried[n]
        for m in (known.lines[evidence.line[n]],)
    ]
    cx.execute(
        "INSERT INTO learned (chain_id, version, maker, zone, model_id, variant_id, mean_mm, sd_mm, seen) "
        "SELECT %s, %s, %s, %s, r.* FROM unnest(%s::uuid[], %s::uuid[], %s::float[], %s::float[], %s::int[]) r",
        [found.chain, found.version, maker, zone, *map(list, zip(*rows, strict=True))],
    )
