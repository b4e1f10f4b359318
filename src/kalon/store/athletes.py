"""Athletes and what happened to their records."""

from __future__ import annotations

from datetime import date
from typing import Any
from uuid import UUID

from ..core.errors import Conflict, NotFound
from .audit import done_before, once, record, used_elsewhere
from .database import Cx, Row, Who
from .ids import new_id

FIELDS = ("name", "born_on", "squad", "note")


def _json(value: Any) -> Any:
    return value.isoformat() if isinstance(value, date) else value


LISTED = 200
"""Athletes shown at once: whoever looks for one of more types a part of the name."""


def find(cx: Cx, text: str, limit: int = LISTED) -> list[Row]:
    """Athletes whose name or squad has `text` in it, with their newest fitting, by name; so many at most."""
    return cx.execute(
        """
        SELECT a.id, a.name, a.born_on, a.squad, a.note, a.version, a.unnamed_since, f.id AS fitting_id, f.state,
               f.touched_at,
               b.body ->> 'sport' AS sport
        FROM athletes_named(%s, %s) found
        JOIN LATERAL (SELECT * FROM athlete WHERE id = found.id LIMIT 1) a ON true
        LEFT JOIN LATERAL (SELECT id, state, touched_at FROM fitting WHERE athlete_id = a.id
                           ORDER BY opened_at DESC, id DESC LIMIT 1) f ON true
        LEFT JOIN fitting_part b ON b.fitting_id = f.id AND b.part = 'brief'
        ORDER BY found.place
        """,
        [text.strip(), limit],
    ).fetchall()


def get(cx: Cx, athlete_id: UUID) -> Row:
    """One athlete. Raises `NotFound`."""
    row = cx.execute(
        "SELECT id, name, born_on, squad, note, version, unnamed_since FROM athlete WHERE id = %s", [athlete_id]
    ).fetchone()
    if not row:
        raise NotFound("There is no such athlete here.")
    return row


def add(cx: Cx, who: Who, change_id: UUID, values: dict[str, Any], *, unnamed: bool = False) -> Row:
    """A new athlete; `unnamed` where what they are called is no name. Sending the same `change_id` again returns the
    one already made."""
    once(cx, change_id)
    done = done_before(cx, change_id, part="athlete")
    if done:
        return get(cx, done["athlete_id"])
    athlete_id = new_id()
    cx.execute(
        "INSERT INTO athlete (id, shop_id, name, born_on, squad, note, unnamed_since) "
        "VALUES (%s, %s, %s, %s, %s, %s, CASE WHEN %s THEN now() END)",
        [athlete_id, who.shop_id, *(values[f] for f in FIELDS), unnamed],
    )
    record(cx, who, athlete_id, None, "athlete", 1, change_id, {}, {f: _json(values[f]) for f in FIELDS})
    return get(cx, athlete_id)


def change(
    cx: Cx, who: Who, athlete_id: UUID, version: int, change_id: UUID, values: dict[str, Any], *, unnamed: bool = False
) -> Row:
    """Change an athlete as read at `version`. Another name is their name, unless they are `unnamed` still.

    Raises `Conflict` when somebody else was first."""
    cx.execute("SELECT 1 FROM athlete WHERE id = %s FOR NO KEY UPDATE", [athlete_id])
    now = get(cx, athlete_id)
    done = done_before(cx, change_id, part="athlete")
    if done:
        if done["athlete_id"] != athlete_id:
            raise used_elsewhere()
        return now
    if now["version"] != version:
        last = cx.execute(
            "SELECT s.name, c.at FROM change c JOIN staff s ON s.id = c.staff_id "
            "WHERE c.athlete_id = %s AND c.part = 'athlete' ORDER BY c.id DESC LIMIT 1",
            [athlete_id],
        ).fetchone()
        by = last["name"] if last else "Somebody"
        raise Conflict(f"{by} changed this athlete meanwhile. Look again before changing it.", code="changed-elsewhere")
    cx.execute(
        "UPDATE athlete SET name = %s, born_on = %s, squad = %s, note = %s, version = version + 1, "
        "unnamed_since = CASE WHEN %s THEN unnamed_since END WHERE id = %s",
        [*(values[f] for f in FIELDS), unnamed or values["name"] == now["name"], athlete_id],
    )
    before = {f: _json(now[f]) for f in FIELDS}
    after = {f: _json(values[f]) for f in FIELDS}
    record(cx, who, athlete_id, None, "athlete", version + 1, change_id, before, after)
    return get(cx, athlete_id)


HISTORY = 200
"""Changes told at once."""
NEWEST = 2**63 - 1
"""Beyond every change's id."""


def history(cx: Cx, athlete_id: UUID, before: int = NEWEST, limit: int = HISTORY) -> list[Row]:
    """Who changed what of this athlete, and of the records put together with theirs, newest first; `before` a change's
    id: older ones than that."""
    return cx.execute(
        "SELECT c.id, c.part, c.before, c.after, c.at, s.name AS by FROM unnest(ARRAY[%(id)s]::uuid[] || ARRAY("
        "SELECT m.other_id FROM athlete_merge m WHERE m.kept_id = %(id)s AND m.undone_at IS NULL)) AS t (id) "
        "JOIN LATERAL (SELECT * FROM change WHERE athlete_id = t.id AND id < %(before)s "
        "ORDER BY id DESC LIMIT %(limit)s) c ON true "
        "JOIN staff s ON s.id = c.staff_id ORDER BY c.id DESC LIMIT %(limit)s",
        {"id": athlete_id, "limit": limit, "before": before},
    ).fetchall()


def fittings(cx: Cx, athlete_id: UUID) -> list[Row]:
    """The athlete's fittings, newest first."""
    return cx.execute(
        """
        SELECT f.id, f.state, f.opened_at, f.touched_at, b.body ->> 'sport' AS sport,
               b.body ->> 'discipline' AS discipline, (s.pair ->> 'maker') || ' ' || (s.pair ->> 'name') AS pair,
               (s.pair ->> 'eu_label')::float AS eu_label, s.pair ->> 'system' AS system,
               (s.pair ->> 'label')::float AS label, u.due_on
        FROM fitting f
        LEFT JOIN fitting_part b ON b.fitting_id = f.id AND b.part = 'brief'
        LEFT JOIN sale s ON s.fitting_id = f.id AND s.undone_at IS NULL
        LEFT JOIN follow_up u ON u.fitting_id = f.id AND u.withdrawn_at IS NULL
        WHERE f.athlete_id = %s ORDER BY f.opened_at DESC, f.id DESC LIMIT 200
        """,
        [athlete_id],
    ).fetchall()
