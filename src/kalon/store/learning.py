"""The learner's work: evidence kept of every fitting that changed, and what follows from it, maker by maker.

Done by a process of its own, as the database's owner, after the answer to whoever changed something. What is due is
rows; a piece of work and the rows that asked for it are done in one transaction, so that whatever is killed half-way is
done anew, and what is done is done once.
"""

from __future__ import annotations

from typing import Any, Literal, cast
from uuid import UUID

import structlog
from psycopg import OperationalError
from psycopg.types.json import Jsonb

from ..core.errors import BadInput, KalonError, read
from ..core.fit.foot import FIT_ZONES, MEASURES
from ..core.fit.size import ZoneFit
from ..core.fit.trial import PairTrial
from ..core.formats import newest
from ..core.learn.evidence import Four, ReturnEvidence, TrialEvidence, measuring, of_return, of_trial
from ..core.match.ordering import Arrival
from ..core.match.shelf import GIVES_AS
from ..core.parts import ReturnPart, TrialPart
from ..core.rules.spec import fit_target
from ..core.shoes.inner import Zone
from . import bench, catalogue, learned, makers, stock
from .catalogue import SIGMAS
from .database import Cx, Row
from .evidence import NEWEST, body_of
from .parked import CODE, Parked, park, unpark

log = structlog.get_logger()

AT_ONCE = 200
"""Fittings looked at in one transaction."""
Piece = TrialEvidence | ReturnEvidence
Key = tuple[UUID, Zone, Literal["trial", "return", "arrival"]]


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
        kept = body_of(cast(Row, was)) if piece is None else _frozen(piece, was).model_dump(mode="json")
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


def _frozen(piece: Piece, was: Row | None) -> Piece:
    """A piece of evidence with what was predicted when it was first kept, whatever has been learned since."""
    if was is None:
        return piece
    if isinstance(piece, ReturnEvidence):
        told = {n: was["body"][n] for n in ("on", "last") if was["body"].get(n)}
        return ReturnEvidence.model_validate(piece.model_dump() | told)
    return piece.frozen_as(TrialEvidence.model_validate(body_of(was)), kept=was["format"] == newest("evidence"))


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
    """Learn the makers that are due, the one that waits longest first and each in a transaction of its own: whatever
    stops the learner stops one; how many there were."""
    count = 0
    while True:
        with cx.transaction():
            first = cx.execute(
                "SELECT chain_id, maker FROM learn_maker_due ORDER BY id LIMIT 1 FOR UPDATE SKIP LOCKED"
            ).fetchone()
            if not first:
                return count
            group = makers.learned_with(cx, first["chain_id"], first["maker"])
            cx.execute(
                "DELETE FROM learn_maker_due WHERE chain_id = %s AND maker = ANY(%s)",
                [first["chain_id"], [*group, first["maker"]]],
            )
            if group:
                makers.learn(cx, first["chain_id"], group)
            count += len(group)
