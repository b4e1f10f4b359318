"""The ledger: what the chain has learned, what it rests on, how it moved, and how often what was said came true."""

from __future__ import annotations

from datetime import date
from typing import Any, cast
from uuid import UUID

from ..core.errors import NotFound
from ..core.fit.foot import FIT_ZONES
from ..core.learn.given import Learned, LearnedFitter
from ..core.learn.observe import SHARES
from ..core.learn.offsets import other_zones
from ..core.learn.said import SaidSo, SeenSo
from ..core.learn.zone import fitter_of, together
from ..core.shoes.inner import Zone
from .audit import once, used_elsewhere
from .database import Cx, Row, Who
from .evidence import NEWEST
from .learned import NOW
from .makers import fitter_said

LISTED, WRONG, HISTORY = 200, 6, 400


def makers(cx: Cx) -> list[Row]:
    """Every maker something is known of, zone by zone."""
    return cx.execute(
        f"SELECT maker, zone, mean_mm, sd_mm, seen FROM ({NOW}) l WHERE model_id IS NULL ORDER BY maker, zone"
    ).fetchall()


def history(cx: Cx) -> list[Row]:
    """How makers' lengths moved, version by version, oldest first; so many at most."""
    return cx.execute(
        "SELECT l.maker, l.version, v.at, l.mean_mm, l.sd_mm FROM (SELECT chain_id, version, at "
        "FROM learned_version ORDER BY version DESC LIMIT %s) v "
        "JOIN learned_maker m ON m.chain_id = v.chain_id AND m.version = v.version JOIN learned l "
        "ON l.chain_id = v.chain_id AND l.maker = m.maker AND l.version = v.version AND l.zone = 'length' "
        "AND l.model_id IS NULL "
        "ORDER BY l.version",
        [HISTORY],
    ).fetchall()


def models(cx: Cx) -> list[Row]:
    """Models something is known of in length, with their maker's habit in them."""
    return cx.execute(
        f"SELECT l.model_id, l.maker, m.name, m.sport, l.mean_mm, l.sd_mm, l.seen FROM ({NOW}) l "
        "JOIN shoe_model m ON m.id = l.model_id WHERE l.variant_id IS NULL AND l.zone = 'length' "
        "ORDER BY l.maker, m.name LIMIT 2000"
    ).fetchall()


def gives(cx: Cx) -> list[Row]:
    """How much kinds of upper give against the table."""
    return cx.execute(
        "SELECT * FROM (SELECT DISTINCT ON (kind) kind, log_mean, log_sd, seen FROM learned_give "
        "WHERE model_id IS NULL ORDER BY kind, version DESC) g WHERE seen > 0 ORDER BY kind"
    ).fetchall()


def said(cx: Cx) -> list[SaidSo]:
    """What was said of trials, and what came of it."""
    rows = cx.execute("SELECT by, sport, kind, said, count, fine FROM ledger_said()").fetchall()
    return [SaidSo(**r) for r in rows]


def seen(cx: Cx) -> list[SeenSo]:
    """What was seen at follow-ups against what was predicted."""
    return [SeenSo(**r) for r in cx.execute("SELECT * FROM ledger_seen()").fetchall()]


def points(cx: Cx, most: int) -> list[Row]:
    """The newest follow-ups of each kind of upper, newest first; so many of a kind at most."""
    return cx.execute("SELECT * FROM ledger_points(%s)", [most]).fetchall()


STANDS = """
    JOIN LATERAL (SELECT n.id FROM evidence n WHERE n.fitting_id = e.fitting_id AND n.variant_id = e.variant_id
                  AND n.zone = e.zone AND n.kind = e.kind ORDER BY n.id DESC LIMIT 1) n ON n.id = e.id AND e.counts
"""
"""Of some evidence, piece by piece, what stands: a few rows are looked up rather than all put in order."""
PIECE = """
    SELECT e.id, e.fitting_id, e.zone, e.kind, e.body, a.name AS athlete, m.maker, m.name, v.system, v.label,
           coalesce((e.body ->> 'on')::timestamptz, e.at) AS at,
           v.eu_label, v.width, coalesce(s.reason, w.reason) AS aside, coalesce(p.name, q.name) AS aside_by,
           s.id IS NOT NULL AS aside_alone, off_by(e.kind, e.body) AS off_by
    FROM ({some}) e JOIN fitting f ON f.id = e.fitting_id JOIN athlete a ON a.id = f.athlete_id
    JOIN variant v ON v.id = e.variant_id JOIN shoe_model m ON m.id = v.model_id
    LEFT JOIN evidence_aside s ON s.evidence_id = e.id AND s.lifted_at IS NULL
    LEFT JOIN staff p ON p.id = s.staff_id
    LEFT JOIN LATERAL (SELECT * FROM fitter_aside w WHERE e.aside AND w.fitter_id = e.staff_id AND w.lifted_at IS NULL
                       AND (w.from_day IS NULL OR w.from_day <= coalesce((e.body ->> 'on')::date, e.at::date))
                       AND (w.to_day IS NULL OR w.to_day >= coalesce((e.body ->> 'on')::date, e.at::date))
                       ORDER BY w.at LIMIT 1) w ON true
    LEFT JOIN staff q ON q.id = w.staff_id
    ORDER BY {order}
"""
"""Some evidence of this shop as it stands, with whose it is."""
OF_MAKER = f"""
    SELECT e.*, set_aside(e) AS aside FROM evidence e WHERE e.id = ANY (ARRAY(
        SELECT e.id FROM variant v JOIN shoe_model m ON m.id = v.model_id JOIN LATERAL (
            SELECT e.id FROM evidence e {STANDS}
            WHERE e.variant_id = v.id AND e.shop_id = (SELECT shop_now()) ORDER BY e.id DESC LIMIT %(most)s) e ON true
        WHERE m.maker = %(maker)s ORDER BY e.id DESC LIMIT %(most)s))
"""
MOST_OFF = f"""
    SELECT e.*, false AS aside FROM evidence e {STANDS}
    WHERE e.shop_id = (SELECT shop_now()) AND off_by(e.kind, e.body) IS NOT NULL AND NOT set_aside(e)
    ORDER BY off_by(e.kind, e.body) DESC NULLS LAST LIMIT %(most)s
"""


def evidence(cx: Cx, maker: str) -> list[Row]:
    """This shop's evidence of a maker, newest first; so much at most."""
    said = PIECE.format(some=OF_MAKER, order="e.id DESC")
    return cx.execute(said, {"maker": maker, "most": LISTED}).fetchall()


def most_wrong(cx: Cx) -> list[Row]:
    """Where the tool was wrong most, of what counts in this shop, by how many spreads."""
    return cx.execute(PIECE.format(some=MOST_OFF, order="off_by DESC"), {"most": WRONG}).fetchall()


def next_reading(cx: Cx) -> Row | None:
    """The maker whose inside one reading would teach most of: unsure, and with many pairs here; and a size to read."""
    return cx.execute(
        f"""
        SELECT m.maker, coalesce(n.sd_mm, 2.5) AS sd_mm, sum(l.on_hand) AS pairs,
               (array_agg(jsonb_build_object('name', m.name, 'system', v.system, 'label', v.label,
                                             'eu_label', v.eu_label) ORDER BY l.on_hand DESC, v.eu_label))[1] AS size,
               (array_agg(l.id ORDER BY l.on_hand DESC, v.eu_label))[1] AS line_id
        FROM stock_line l JOIN variant v ON v.id = l.variant_id JOIN shoe_model m ON m.id = v.model_id
        LEFT JOIN (SELECT maker, sd_mm FROM ({NOW}) x WHERE model_id IS NULL AND zone = 'length') n
            ON n.maker = m.maker
        WHERE l.on_hand > 0 AND v.known_from = 'label'
        GROUP BY m.maker, n.sd_mm ORDER BY coalesce(n.sd_mm, 2.5) ^ 2 * sum(l.on_hand) DESC, m.maker LIMIT 1
        """
    ).fetchone()


def set_aside(cx: Cx, who: Who, evidence_id: int, aside_id: UUID, reason: str) -> None:
    """A piece of evidence no longer counts, for a reason; both are kept. The same id again changes nothing."""
    once(cx, aside_id)
    known = cx.execute("SELECT evidence_id FROM evidence_aside WHERE id = %s", [aside_id]).fetchone()
    if known:
        if known["evidence_id"] != evidence_id:
            raise used_elsewhere()
        return
    if not cx.execute("SELECT 1 FROM evidence WHERE id = %s", [evidence_id]).fetchone():
        raise NotFound("There is no such evidence here.")
    cx.execute(
        "INSERT INTO evidence_aside (id, shop_id, evidence_id, reason, staff_id) VALUES (%s, %s, %s, %s, %s) "
        "ON CONFLICT (evidence_id) WHERE lifted_at IS NULL DO NOTHING",
        [aside_id, who.shop_id, evidence_id, reason, who.staff_id],
    )


def take_up_again(cx: Cx, evidence_id: int) -> None:
    """A piece of evidence that was set aside counts again. Again is no change. Raises `NotFound`."""
    if not cx.execute("SELECT 1 FROM evidence WHERE id = %s", [evidence_id]).fetchone():
        raise NotFound("There is no such evidence here.")
    cx.execute(
        "UPDATE evidence_aside SET lifted_at = now() WHERE evidence_id = %s AND lifted_at IS NULL", [evidence_id]
    )


def fitters(cx: Cx) -> dict[tuple[UUID, str], dict[str, LearnedFitter]]:
    """What is known of this shop's fitters, by id and name, zone by zone."""
    rows = cx.execute(
        "SELECT f.*, p.name FROM learned_fitter f JOIN staff p ON p.id = f.staff_id ORDER BY p.name, f.zone, f.maker"
    ).fetchall()
    of: dict[tuple[UUID, str], dict[str, list[Row]]] = {}
    for row in rows:
        if len(row["empties"]) != len(SHARES):
            continue  # kept by other code; it is learned anew
        of.setdefault((row["staff_id"], row["name"]), {}).setdefault(row["zone"], []).append(row)
    return {who: _by_zone(zones) for who, zones in of.items()}


def _by_zone(zones: dict[str, list[Row]]) -> dict[str, LearnedFitter]:
    own = {cast(Zone, zone): {"": together([fitter_said(r) for r in found])} for zone, found in zones.items()}
    others = other_zones(own)
    return {z: fitter_of(together([said[""], *others[z].values()])) for z, said in own.items()}


def fitters_aside(cx: Cx) -> list[Row]:
    """All that is set aside of a fitter and a time, as it stands."""
    return cx.execute(
        "SELECT a.id, a.fitter_id, f.name AS fitter, a.from_day, a.to_day, a.reason, a.at, p.name AS by "
        "FROM fitter_aside a JOIN staff f ON f.id = a.fitter_id JOIN staff p ON p.id = a.staff_id "
        "WHERE a.lifted_at IS NULL ORDER BY a.at"
    ).fetchall()


def set_fitter_aside(
    cx: Cx, who: Who, aside_id: UUID, fitter_id: UUID, days: tuple[date | None, date | None], reason: str
) -> None:  # fmt: skip
    """All a fitter found between two days no longer counts, for a reason. The same id again changes nothing."""
    once(cx, aside_id)
    known = cx.execute("SELECT fitter_id FROM fitter_aside WHERE id = %s", [aside_id]).fetchone()
    if known:
        if known["fitter_id"] != fitter_id:
            raise used_elsewhere()
        return
    if not cx.execute("SELECT 1 FROM staff WHERE id = %s", [fitter_id]).fetchone():
        raise NotFound("There is no such fitter here.")
    cx.execute(
        "INSERT INTO fitter_aside (id, shop_id, fitter_id, from_day, to_day, reason, staff_id) "
        "VALUES (%s, %s, %s, %s, %s, %s, %s)",
        [aside_id, who.shop_id, fitter_id, *days, reason, who.staff_id],
    )


def fitter_counts_again(cx: Cx, aside_id: UUID) -> None:
    """What was set aside of a fitter counts again. Again is no change. Raises `NotFound`."""
    if not cx.execute("SELECT 1 FROM fitter_aside WHERE id = %s", [aside_id]).fetchone():
        raise NotFound("Nothing of a fitter was set aside under this id.")
    cx.execute("UPDATE fitter_aside SET lifted_at = now() WHERE id = %s AND lifted_at IS NULL", [aside_id])


def changes(cx: Cx) -> list[Row]:
    """Models that may have changed untold, by the newest version of their maker."""
    return cx.execute(
        "SELECT c.maker, m.name, c.zone, c.on_day, c.probability FROM learned_change c "
        "JOIN shoe_model m ON m.id = c.model_id WHERE c.version = (SELECT max(v.version) FROM learned_maker v "
        "WHERE v.chain_id = c.chain_id AND v.maker = c.maker) ORDER BY c.probability DESC, c.maker, m.name LIMIT 40"
    ).fetchall()


def parked(cx: Cx) -> list[Row]:
    """What couldn't be learned from, by kind, maker and zone, and of how many fittings."""
    return cx.execute(
        "SELECT kind, maker, zone, min(reason) AS reason, count(*) AS count FROM learn_parked "
        "GROUP BY kind, maker, zone ORDER BY kind, maker, zone LIMIT 40"
    ).fetchall()


def of_fitting(cx: Cx, fitting_id: UUID, version: int) -> list[dict[str, Any]]:
    """What stands now, and stood at a version, of the makers a fitting has evidence of, in the zones it has."""
    rows = cx.execute(
        "SELECT DISTINCT m.maker, e.zone FROM (" + NEWEST.format(which="WHERE e.fitting_id = %s") + ") e "
        "JOIN variant v ON v.id = e.variant_id JOIN shoe_model m ON m.id = v.model_id WHERE e.counts AND NOT e.aside",
        [fitting_id],
    ).fetchall()
    found = []
    for row in sorted(rows, key=lambda r: (r["maker"], FIT_ZONES.index(r["zone"]))):
        now, before = _at(cx, row, None), _at(cx, row, version)
        if now:
            found.append({"maker": row["maker"], "zone": row["zone"], "now": now, "before": before})
    return found


def _at(cx: Cx, row: Row, version: int | None) -> Learned | None:
    found = cx.execute(
        "SELECT mean_mm, sd_mm FROM learned WHERE maker = %(maker)s AND zone = %(zone)s AND model_id IS NULL "
        "AND version = (SELECT max(version) FROM learned_maker WHERE maker = %(maker)s "
        "AND (%(at)s::int IS NULL OR version <= %(at)s))",
        {"maker": row["maker"], "zone": row["zone"], "at": version},
    ).fetchone()
    return Learned(**found) if found else None


def take_newest(cx: Cx, fitting_id: UUID) -> None:
    """A fitting is computed with what is known now."""
    cx.execute(
        "UPDATE fitting SET learned_version = coalesce((SELECT max(version) FROM learned_version), 0), "
        "learned_from = NULL, "
        "touched_at = now() WHERE id = %s AND state = 'open'",
        [fitting_id],
    )
