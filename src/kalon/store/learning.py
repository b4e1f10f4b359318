"""The learner's work: evidence kept of every fitting that changed, and what follows from it, maker by maker.

Done by a process of its own, as the database's owner, after the answer to whoever changed something. What is due is
rows; a piece of work and the rows that asked for it are done in one transaction, so that whatever is killed half-way is
done anew, and what is done is done once.
"""

from __future__ import annotations

from collections import Counter, defaultdict
from dataclasses import dataclass
from datetime import date
from typing import Any, Literal, cast
from uuid import UUID

import structlog
from psycopg import OperationalError
from psycopg.types.json import Jsonb

from ..core.errors import BadInput, KalonError, read
from ..core.fit.foot import FIT_ZONES, MEASURES
from ..core.fit.size import ZoneFit
from ..core.fit.trial import PairTrial
from ..core.formats import brought_up, newest
from ..core.learn.evidence import Four, ReturnEvidence, TrialEvidence, measuring, of_return, of_trial
from ..core.learn.give import StretchLearnIn, Worn, stretch_learn
from ..core.learn.given import Inside, LearnFitting, LearnIn, LearnLine, LearnOut, Sighting
from ..core.learn.observe import SHARES
from ..core.learn.offsets import learn_zones
from ..core.learn.zone import FitterSaid, together
from ..core.match.ordering import Arrival
from ..core.match.shelf import GIVES_AS
from ..core.parts import ReturnPart, TrialPart
from ..core.rules.spec import VERSION, fit_target
from ..core.shoes.inner import READ_SIGMA_MM, Zone, by_label
from . import bench, catalogue, learned, stock
from .catalogue import SIGMAS
from .database import Cx, Row

log = structlog.get_logger()

AT_ONCE = 200
"""Fittings looked at in one transaction."""
LOCK = 11
CODE = f"{VERSION} {newest('evidence')}"
"""What was parked under another is tried again."""
Piece = TrialEvidence | ReturnEvidence
Key = tuple[UUID, Zone, Literal["trial", "return", "arrival"]]
NEWEST = """
    SELECT DISTINCT ON (e.fitting_id, e.variant_id, e.zone, e.kind) e.*, set_aside(e) AS aside
    FROM evidence e {which} ORDER BY e.fitting_id, e.variant_id, e.zone, e.kind, e.id DESC
"""
"""What stands of some evidence."""


LAIN = """
    UPDATE fitting f SET learned_from = coalesce(f.learned_from, f.learned_version), learned_version = (
        SELECT max(v.version) FROM learned_version v JOIN shop h ON h.chain_id = v.chain_id WHERE h.id = f.shop_id)
    FROM shop h WHERE h.id = f.shop_id AND h.chain_id = %(chain)s AND f.state = 'open' AND f.learned_version > 0
      AND f.touched_at <= now() - interval '60 days' AND f.learned_version < %(version)s
"""
"""Fittings that lay too long for what they were begun with to be kept go on with what is known now; they say so."""
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
    """Hold what a fitting shows now against what was kept of it; what differs is added, with what was said of it when
    it was first kept. What can't be read is parked; what was kept of it stands."""
    what = Parked("fitting", fitting=fitting_id)
    try:
        with cx.transaction():
            _keep_now(cx, fitting_id)
            unpark(cx, what)
    except OperationalError:
        raise  # a deadlock or a database that is away is tried again, not parked
    except Exception as error:
        park(cx, what, error)


def _keep_now(cx: Cx, fitting_id: UUID) -> None:
    try:
        with cx.transaction():
            on = bench.load(cx, fitting_id)
            now = shown(cx, on)
    except BadInput:
        now = {}  # feet or brief have gaps again
    except KalonError as error:
        if error.code == "erased":
            return  # what was found of the shoes stays, without a name
        raise
    where = NEWEST.format(which="WHERE e.fitting_id = %s")
    before = {(r["variant_id"], r["zone"], r["kind"]): r for r in cx.execute(where, [fitting_id]).fetchall()}
    changed: set[UUID] = set()
    for key in now.keys() | before.keys():
        piece, was = now.get(key), before.get(key)
        if piece is None and (was is None or not was["counts"]):
            continue
        kept = _body(cast(Row, was)) if piece is None else _frozen(piece, was).model_dump(mode="json")
        if piece is not None and was is not None and was["counts"] and was["body"] == kept:
            continue
        cx.execute(
            "INSERT INTO evidence (chain_id, shop_id, fitting_id, variant_id, zone, kind, counts, body, format, "
            "staff_id) SELECT h.chain_id, f.shop_id, f.id, %s, %s, %s, %s, %s, %s, f.opened_by FROM fitting f "
            "JOIN shop h ON h.id = f.shop_id WHERE f.id = %s",
            [key[0], key[1], key[2], piece is not None, Jsonb(kept), newest("evidence"), fitting_id],
        )
        changed.add(key[0])
    cx.execute(
        "INSERT INTO learn_maker_due (chain_id, maker) SELECT DISTINCT m.chain_id, m.maker FROM variant v "
        "JOIN shoe_model m ON m.id = v.model_id WHERE v.id = ANY(%s)",
        [list(changed)],
    )


def _body(row: Row) -> dict[str, Any]:
    """The body of a piece of evidence in the newest format."""
    return brought_up("evidence", row["body"], row["format"])


def _frozen(piece: Piece, was: Row | None) -> Piece:
    """A piece of evidence with what was predicted when it was first kept, whatever has been learned since."""
    if was is None:
        return piece
    if isinstance(piece, ReturnEvidence):
        told = {n: was["body"][n] for n in ("on", "last") if was["body"].get(n)}
        return ReturnEvidence.model_validate(piece.model_dump() | told)
    return piece.frozen_as(TrialEvidence.model_validate(_body(was)), kept=was["format"] == newest("evidence"))


def shown(cx: Cx, on: bench.Loaded) -> dict[Key, Piece]:
    """What a fitting shows now, by size, zone and kind. Nothing where feet were practised on. Raises `BadInput` while
    feet or brief have gaps."""
    if any(c["practice"] for c in on.captures):
        return {}
    found: dict[Key, Piece] = {}
    trials = read(TrialPart, on.parts["trial"].body).pairs
    for line_id, trial in trials.items():
        try:
            row = stock.line(cx, UUID(line_id), on.row["learned_version"])
        except (KalonError, ValueError):
            continue
        _of_pair(on, row, trial, "trial", found)
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
        size = catalogue.variants(cx, [order["variant_id"]])[order["variant_id"]]
        row = learned.on_row(cx, on.row["learned_version"], size)
        _of_pair(on, row, PairTrial.model_validate(felt), "arrival", found)
    if on.sale and on.kept:
        _of_return(cx, on, on.sale, found)
    return found


def _inside(row: Row) -> tuple[Four, Four]:
    mm = cast(Four, tuple(float(row[n]) for n in MEASURES))
    return mm, cast(Four, tuple(float(row[n]) for n in SIGMAS))


def _of_pair(
    on: bench.Loaded, row: Row, trial: PairTrial, kind: Literal["trial", "arrival"],
    found: dict[Key, Piece],
) -> None:  # fmt: skip
    upper = row["upper"] or GIVES_AS
    band = fit_target(on.spec, upper, row["choices"].get("closure", "")).band()
    sport = on.case.brief.sport
    of_zone = of_trial(trial, on.foot, *_inside(row), band, upper, row["build"], row["reinforced"], sport)
    told = {"version": on.row["learned_version"]} | _when(on, row)
    for zone, evidence in of_zone.items():
        found[(row["variant_id"], zone, kind)] = evidence.model_copy(update=told)


def _when(on: bench.Loaded, row: Row) -> dict[str, Any]:
    """The day of a fitting, the last its shoe was made on, and which measuring of the foot it goes by."""
    measured = measuring(str(on.row["athlete_id"]), on.case.feet or on.feet)
    return {"on": on.row["opened_at"].date(), "last": row["last"], "measured": measured}


def _of_return(cx: Cx, on: bench.Loaded, sale: Row, found: dict[Key, Piece]) -> None:
    back = read(ReturnPart, on.parts["return"].body)
    seen = {z: v for z, m in zip(FIT_ZONES, MEASURES, strict=True) if (v := getattr(back, m)) is not None}
    if back.hours is None or not seen or not on.kept:
        return
    row = stock.line(cx, sale["stock_line_id"], on.row["learned_version"])
    zones = [ZoneFit.model_validate(z) for z in on.kept["settled"]["size"]["zones"]]
    upper = row["upper"] or GIVES_AS
    seen_zones = cast(dict[Zone, float], seen)
    shows = of_return(
        zones, seen_zones, back.hours, on.foot, *_inside(row), upper, row["build"], row["reinforced"],
        on.case.brief.sport,
    )  # fmt: skip
    for zone, evidence in shows.items():
        found[(row["variant_id"], zone, "return")] = evidence.model_copy(update=_when(on, row))


# --- what can't be learned from


@dataclass(frozen=True)
class Parked:
    """What is parked: a fitting, a maker's zone, or how much uppers give."""

    kind: Literal["fitting", "maker", "gives", "lives"]
    maker: str = ""
    zone: str = ""
    fitting: UUID | None = None
    chain: UUID | None = None

    def named(self) -> dict[str, Any]:
        """As the statements below take it."""
        return {"kind": self.kind, "maker": self.maker, "zone": self.zone, "fitting": self.fitting, "chain": self.chain}


OF_CHAIN = (
    "coalesce(%(chain)s::uuid, (SELECT h.chain_id FROM fitting f JOIN shop h ON h.id = f.shop_id "
    "WHERE f.id = %(fitting)s))"
)
SAME = (
    f"chain_id = {OF_CHAIN} AND kind = %(kind)s AND maker = %(maker)s AND zone = %(zone)s "
    "AND coalesce(fitting_id, chain_id) = coalesce(%(fitting)s::uuid, chain_id)"
)


def park(cx: Cx, what: Parked, error: Exception) -> None:
    """Set something aside that can't be learned from, with its reason, until the code is another."""
    reason = error.text if isinstance(error, KalonError) else type(error).__name__
    log.error("not learned from", what=what.kind, maker=what.maker, zone=what.zone, fitting=str(what.fitting or ""),
              kind=type(error).__name__)  # fmt: skip
    cx.execute(f"DELETE FROM learn_parked WHERE {SAME}", what.named())
    cx.execute(
        "INSERT INTO learn_parked (chain_id, kind, maker, zone, fitting_id, reason, code) "
        f"VALUES ({OF_CHAIN}, %(kind)s, %(maker)s, %(zone)s, %(fitting)s, %(reason)s, %(code)s)",
        what.named() | {"reason": reason, "code": CODE},
    )


def unpark(cx: Cx, what: Parked) -> None:
    """It can be learned from now."""
    cx.execute(f"DELETE FROM learn_parked WHERE {SAME}", what.named())


def try_again(cx: Cx) -> int:
    """What was parked by other code is due once more; how much that is. Commits by itself."""
    with cx.transaction():
        old = cx.execute("DELETE FROM learn_parked WHERE code <> %s RETURNING *", [CODE]).fetchall()
        for row in old:
            if row["fitting_id"]:
                cx.execute("INSERT INTO learn_due (fitting_id) VALUES (%s)", [row["fitting_id"]])
            elif row["kind"] == "lives":
                cx.execute("INSERT INTO life_due (chain_id) VALUES (%s)", [row["chain_id"]])
            else:
                cx.execute(
                    "INSERT INTO learn_maker_due (chain_id, maker) VALUES (%s, %s)", [row["chain_id"], row["maker"]]
                )
    return len(old)


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
            learn_makers(cx, chain, sorted(of - {""}))
        cx.execute("DELETE FROM learn_maker_due WHERE id = ANY(%s)", [[r["id"] for r in due]])
    return sum(map(len, makers.values()))


def learn_makers(cx: Cx, chain: UUID, makers: list[str]) -> int:
    """Learn some makers of a chain anew from all that stands of them: a new version, whose number is given back."""
    cx.execute("SELECT pg_advisory_xact_lock(hashtextextended(%s, %s))", [str(chain), LOCK])
    groups = _groups(cx, chain, makers)
    makers = sorted(m for group in groups for m in group)
    row = cx.execute(
        "INSERT INTO learned_version (chain_id, version, makers) SELECT %s, coalesce(max(version), 0) + 1, %s "
        "FROM learned_version WHERE chain_id = %s RETURNING version",
        [chain, makers, chain],
    ).fetchone()
    version = int(cast(Row, row)["version"])
    for group in groups:
        _learn_group(cx, chain, version, group)
    cx.execute(LAIN, {"chain": chain, "version": version})
    what = Parked("gives", chain=chain)
    try:
        with cx.transaction():
            _learn_gives(cx, chain, version)
            unpark(cx, what)
    except OperationalError:
        raise
    except Exception as error:
        park(cx, what, error)
    return version


TRIED = """
    SELECT m.maker, count(*) AS count FROM evidence e JOIN variant v ON v.id = e.variant_id
    JOIN shoe_model m ON m.id = v.model_id WHERE e.chain_id = %s GROUP BY m.maker
"""
TOGETHER = 2_400
"""Up to so much evidence all makers of a chain are learned in one, feet and fitters with them: verdicts of one fitter
are few at any one maker. Beyond it each maker is learned by itself, with what the others say of the fitters."""


def _groups(cx: Cx, chain: UUID, due: list[str]) -> list[list[str]]:
    """The due makers, together with those that are learned with them."""
    tried = {r["maker"]: r["count"] for r in cx.execute(TRIED, [chain]).fetchall()}
    alone = [[m] for m in due if m not in tried]
    if not tried.keys() & set(due):
        return alone
    if sum(tried.values()) <= TOGETHER:
        return [*alone, sorted(tried)]
    if cx.execute("DELETE FROM learned_fitter WHERE chain_id = %s AND maker = ''", [chain]).rowcount:
        due = sorted({*due, *tried})  # the first time there is too much of it to learn in one
    return [*alone, *([m] for m in due if m in tried)]


def _learn_group(cx: Cx, chain: UUID, version: int, makers: list[str]) -> None:
    """Learn some makers in one. What can't be is learned maker by maker, and what still can't is parked."""
    sizes = cx.execute(
        "SELECT v.id, v.model_id, v.system, v.label, v.width, m.sport, m.build, m.last, m.maker FROM variant v "
        "JOIN shoe_model m ON m.id = v.model_id WHERE m.chain_id = %s AND m.maker = ANY(%s) AND ("
        "EXISTS (SELECT 1 FROM evidence e WHERE e.variant_id = v.id) OR "
        "EXISTS (SELECT 1 FROM shoe_reading r WHERE r.variant_id = v.id AND r.set_aside_at IS NULL)) ORDER BY v.id",
        [chain, makers],
    ).fetchall()
    ids = [s["id"] for s in sizes]
    kept = cx.execute(NEWEST.format(which="WHERE e.variant_id = ANY(%s)"), [ids]).fetchall()
    readings = cx.execute(
        "SELECT variant_id, zone, mm, sigma_mm, source, last, at::date AS on_day FROM shoe_reading "
        "WHERE variant_id = ANY(%s) AND set_aside_at IS NULL ORDER BY at, id",
        [ids],
    ).fetchall()
    stands = [e for e in kept if e["counts"] and not e["aside"]]
    zones = [Found(chain, version, cast(Zone, zone), sizes, stands, readings) for zone in FIT_ZONES]
    if not _learned(cx, zones, makers):
        for found in zones:
            if not _learned(cx, [found], makers):
                for maker in makers:
                    _learned(cx, [found], [maker], last=True)
    for maker in makers:
        cx.execute(PRUNE, {"chain": chain, "maker": maker, "version": version})


@dataclass(frozen=True)
class Found:
    """What some makers are learned from in a zone: their sizes, the evidence that stands, and readings."""

    chain: UUID
    version: int
    zone: Zone
    sizes: list[Row]
    stands: list[Row]
    readings: list[Row]

    def of(self, makers: list[str]) -> Found:
        """The part of it that is of some makers."""
        sizes = [s for s in self.sizes if s["maker"] in makers]
        ids = {s["id"] for s in sizes}
        stands = [e for e in self.stands if e["variant_id"] in ids]
        return Found(
            self.chain, self.version, self.zone, sizes, stands, [r for r in self.readings if r["variant_id"] in ids]
        )


def _learned(cx: Cx, zones: list[Found], makers: list[str], *, last: bool = False) -> bool:
    """Learn some makers' zones beside each other, whole or not at all; whether they were. One maker's zone that can't
    be, as the `last` try, is parked, and what was known of it stands."""
    try:
        with cx.transaction():
            _learn_zones(cx, [found.of(makers) for found in zones], makers)
            for found in zones:
                for maker in makers:
                    unpark(cx, Parked("maker", maker, found.zone, chain=found.chain))
    except OperationalError:
        raise
    except Exception as error:
        if len(zones) > 1 or (len(makers) > 1 and not last):
            return False
        (found,) = zones
        park(cx, Parked("maker", makers[0], found.zone, chain=found.chain), error)
        named = {"chain": found.chain, "version": found.version, "maker": makers[0], "zone": found.zone}
        cx.execute(AS_BEFORE, named)
    return True


AS_BEFORE = """
    INSERT INTO learned (chain_id, version, maker, model_id, variant_id, zone, mean_mm, sd_mm, seen)
    SELECT chain_id, %(version)s, maker, model_id, variant_id, zone, mean_mm, sd_mm, seen FROM learned
    WHERE chain_id = %(chain)s AND maker = %(maker)s AND zone = %(zone)s AND version = (
        SELECT max(version) FROM learned_version
        WHERE chain_id = %(chain)s AND %(maker)s = ANY(makers) AND version < %(version)s)
"""
"""What was known of a maker's zone stands, where it can't be learned anew."""


def _learn_zones(cx: Cx, zones: list[Found], makers: list[str]) -> None:
    given = {found.zone: _given(found) for found in zones}
    before = {zone: _said_elsewhere(cx, found.chain, makers, zone) for zone, found in zip(given, zones, strict=True)}
    learned = learn_zones({zone: one for zone, (one, _, _) in given.items() if one.lines}, before)
    for found in zones:
        if found.zone in learned:
            _write_zone(cx, found, makers, given[found.zone], learned[found.zone])


Given = tuple[LearnIn, Counter[str], Counter[str]]
"""What is learned from, and by line how often it was tried, and how often seen at all."""


def _given(found: Found) -> Given:
    zone, at = found.zone, FIT_ZONES.index(found.zone)
    of_zone = [e for e in found.stands if e["zone"] == zone]
    lasts = _lasts(found.sizes, found.stands)
    inside = [
        Inside(
            line=str(r["variant_id"]), mm=r["mm"], sigma_mm=sigma, on=r["on_day"],
            last=lasts.named(r["variant_id"], r["last"], r["on_day"]),
        )
        for r in found.readings
        if r["zone"] == zone and (sigma := r["sigma_mm"] or READ_SIGMA_MM[r["source"]][at])
    ]  # fmt: skip
    tried = Counter(str(e["variant_id"]) for e in of_zone)
    touched = tried.keys() | {i.line for i in inside}
    lines = [
        LearnLine(
            id=str(s["id"]), maker=s["maker"], model=str(s["model_id"]), last=lasts.now[s["model_id"]],
            base_mm=by_label(catalogue.inside_of(s, []))[at],
        )
        for s in found.sizes
        if str(s["id"]) in touched
    ]  # fmt: skip
    given = LearnIn(zone=zone, lines=lines, fittings=_fittings(of_zone, lasts), insides=inside)
    return given, tried, tried + Counter(i.line for i in inside)


def _write_zone(
    cx: Cx, found: Found, makers: list[str], of: Given, learned: tuple[LearnOut, dict[str, FitterSaid]]
) -> None:
    zone, (given, tried, seen), (known, said) = found.zone, of, learned
    lines = given.lines
    for maker in {line.maker for line in lines}:
        own = [line for line in lines if line.maker == maker]
        _write(cx, found, maker, own, known, seen, tried)
    _write_fitters(cx, found.chain, makers, zone, said)
    maker_of = {line.model: line.maker for line in lines}
    with cx.cursor() as cursor:
        cursor.executemany(
            "INSERT INTO learned_change (chain_id, version, maker, model_id, zone, on_day, probability) "
            "VALUES (%s, %s, %s, %s, %s, %s, %s)",
            [
                (found.chain, found.version, maker_of[c.model], UUID(c.model), zone, c.on, min(c.probability, 1.0))
                for c in known.changed
            ],
        )


@dataclass(frozen=True)
class Lasts:
    """The lasts of a maker's models: the one now, and those of before with the day each was first met."""

    now: dict[UUID, str]
    model: dict[UUID, UUID]
    met: dict[UUID, list[tuple[date, str]]]

    def on(self, size: UUID, day: date | None) -> str:
        """The last a size was made on at a day; before the first was named, that one."""
        model = self.model[size]
        known = self.met.get(model, [])
        found = [last for met, last in known if day is not None and met <= day]
        return found[-1] if found else known[0][1] if known else self.now[model]

    def named(self, size: UUID, last: str, day: date | None) -> str:
        """A last as it was named then; where it wasn't, as `on` has it."""
        return last or self.on(size, day)


def _lasts(sizes: list[Row], stands: list[Row]) -> Lasts:
    """Which lasts a maker's models were met on. The first name a last is given isn't a change of it."""
    named = {s["model_id"]: s["last"] for s in sizes}
    model = {s["id"]: s["model_id"] for s in sizes}
    met: dict[UUID, dict[str, date]] = defaultdict(dict)
    for e in stands:
        last, on = e["body"].get("last", ""), e["body"].get("on")
        if last and on:
            of = met[model[e["variant_id"]]]
            of[last] = min(of.get(last, date.max), date.fromisoformat(on))
    known = {m: sorted((day, last) for last, day in of.items()) for m, of in met.items()}
    now = {m: last or (known[m][-1][1] if m in known else "") for m, last in named.items()}
    return Lasts(now, model, known)


def _fittings(evidence: list[Row], lasts: Lasts) -> list[LearnFitting]:
    """Evidence of one zone as fittings: pairs on one foot share its error, and so do fittings it was carried to."""
    found = []
    for e in evidence:
        size = e["variant_id"]
        if e["kind"] == "return":
            worn = ReturnEvidence.model_validate(_body(e))
            sighting = worn.as_new()
            foot, sigma, measured, on, last = worn.foot_mm, worn.foot_sigma_mm, worn.measured, worn.on, worn.last
        else:
            said = TrialEvidence.model_validate(_body(e))
            sighting = Sighting(line="-", verdict=said.verdict, sides=said.sides, low_mm=said.low_mm,
                                high_mm=said.high_mm)  # fmt: skip
            foot, sigma, measured, on, last = said.foot_mm, said.foot_sigma_mm, said.measured, said.on, said.last
        where = {"line": str(size), "on": on or e["at"].date(), "last": lasts.named(size, last, on)}
        found.append(
            LearnFitting(
                id=str(e["id"]),
                fitter=str(e["staff_id"]),
                foot=measured or str(e["fitting_id"]),
                foot_mm=foot,
                foot_sigma_mm=max(sigma, 0.01),
                seen=[sighting.model_copy(update=where)],
            )
        )
    return found


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
    maker = makers[0] if len(makers) == 1 else ""
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


def _write(
    cx: Cx, of: Found, maker: str, lines: list[LearnLine], found: LearnOut, seen: dict[str, int], tried: dict[str, int]
) -> None:
    """Maker and models, with how many trials and readings told of them; and the sizes somebody tried, with how many
    trials. A size that was only read is known by its reading already."""
    chain, version, zone = of.chain, of.version, of.zone
    base = {line.id: line.base_mm for line in lines}
    of_model: dict[str, int] = defaultdict(int)
    for line in lines:
        of_model[line.model] += seen[line.id]
    rows: list[tuple[Any, ...]] = [
        (None, None, m.mean_mm, m.sd_mm, sum(of_model.values())) for m in (found.makers[maker],)
    ]
    rows += [(UUID(k), None, m.mean_mm, m.sd_mm, n) for k, n in of_model.items() for m in (found.with_maker[k],)]
    rows += [
        (UUID(line.model), UUID(line.id), base[line.id] + m.mean_mm, m.sd_mm, tried[line.id])
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
