"""An athlete's own data: all of it taken along, or taken out of the records, at their request."""

from __future__ import annotations

from typing import Any
from uuid import UUID

from ..core.errors import NotFound
from . import merging
from .athletes import get as get_athlete
from .database import Cx, Row

PARTS: dict[str, str] = {
    "reached": "SELECT phone, email, guardian, guardian_phone, guardian_email, way, said, agreed_at FROM athlete_reach "
    "WHERE athlete_id = %s",
    "consents": "SELECT said, given_at, ended_at FROM athlete_consent WHERE athlete_id = %s ORDER BY given_at",
    "fittings": "SELECT f.id, f.opened_at, f.state, coalesce(jsonb_object_agg(p.part, p.body) "
    "FILTER (WHERE p.part IS NOT NULL), '{}') AS parts FROM fitting f LEFT JOIN fitting_part p ON p.fitting_id = f.id "
    "WHERE f.athlete_id = %s GROUP BY f.id ORDER BY f.opened_at",
    "feet": "SELECT kind, side, name, reading, measured_at, practice FROM foot_capture "
    "WHERE athlete_id = %s AND removed_at IS NULL ORDER BY measured_at, id",
    "pairs": "SELECT s.sold_at, s.pair ->> 'maker' AS maker, s.pair ->> 'name' AS model, s.pair -> 'eu_label' AS size, "
    "s.price_minor, s.currency, s.undone_at FROM sale s JOIN fitting f ON f.id = s.fitting_id "
    "WHERE f.athlete_id = %s ORDER BY s.sold_at",
    "owned": "SELECT maker, name, size, sport, discipline, bought_on, worn_h, ended_on, ended_why, note FROM pair "
    "WHERE athlete_id = %s AND gone_at IS NULL ORDER BY bought_on, id",
    "worn": "SELECT p.maker, p.name, w.on_day, w.minutes, w.surface FROM pair_worn w JOIN pair p ON p.id = w.pair_id "
    "WHERE p.athlete_id = %s AND w.undone_at IS NULL ORDER BY w.on_day, w.at",
    "looked_at": "SELECT p.maker, p.name, w.on_day, w.seen, w.worn_share FROM pair_seen w "
    "JOIN pair p ON p.id = w.pair_id WHERE p.athlete_id = %s AND w.undone_at IS NULL ORDER BY w.on_day, w.at",
    "orders": "SELECT o.asked_at, o.state, o.note, o.sheet, o.arrival, m.maker, m.name AS model, v.eu_label AS size "
    "FROM shoe_order o JOIN fitting f ON f.id = o.fitting_id LEFT JOIN variant v ON v.id = o.variant_id "
    "LEFT JOIN shoe_model m ON m.id = v.model_id WHERE f.athlete_id = %s ORDER BY o.asked_at",
    "kept_back": "SELECT m.maker, m.name AS model, v.eu_label AS size, r.name, r.at, r.until, r.ended_at "
    "FROM reservation r JOIN stock_line l ON l.id = r.stock_line_id JOIN variant v ON v.id = l.variant_id "
    "JOIN shoe_model m ON m.id = v.model_id WHERE r.athlete_id = %s ORDER BY r.at",
    "pictures": "SELECT p.maker, p.name AS model, i.way, i.name AS file, i.said, i.reading, i.taken_at "
    "FROM shoe_picture i JOIN pair p ON p.id = i.pair_id WHERE p.athlete_id = %s AND i.removed_at IS NULL "
    "ORDER BY i.taken_at, i.id",
    "waited": "SELECT about, sport, at, minutes, came_at, taken_at, done_at, left_at FROM queue_place "
    "WHERE athlete_id = %s ORDER BY made_at, id",
    "plans": "SELECT body, changed_at FROM pair_plan WHERE athlete_id = %s",
    "answers": "SELECT w.body, w.at, l.agreed_at, l.agreed_to FROM athlete_link l "
    "LEFT JOIN link_answer w ON w.link_id = l.id WHERE l.athlete_id = %s ORDER BY l.made_at, w.id",
    "found": "SELECT e.zone, e.kind, e.body, e.at FROM evidence e JOIN fitting f ON f.id = e.fitting_id "
    "WHERE f.athlete_id = %s AND e.counts ORDER BY e.id",
    "changes": "SELECT part, before, after, at FROM change WHERE athlete_id = %s ORDER BY id",
}
"""What is kept of an athlete, apart from their own row and the pictures themselves."""


def everything(cx: Cx, athlete_id: UUID) -> dict[str, Any]:
    """All that is kept of an athlete. Raises `NotFound`."""
    found: dict[str, Any] = {"athlete": get_athlete(cx, athlete_id)}
    for name, query in PARTS.items():
        rows: list[Row] = []
        for each in (athlete_id, *merging.others(cx, athlete_id)):
            rows += cx.execute(query, [each]).fetchall()
        found[name] = rows
    return found


def erase(cx: Cx, athlete_id: UUID) -> None:
    """Take an athlete's data out of the records; that it was done stays. Again takes out what came since, or was
    forgotten by an earlier version.

    Sales stay as sales, and what was found of the shoes stays without a name. Raises `NotFound`."""
    get_athlete(cx, athlete_id)
    done = cx.execute("SELECT athlete_erase(%s) AS done", [athlete_id]).fetchone()
    if not done or not done["done"]:
        raise NotFound("There is no such athlete here.")
