"""Two records of one person put together, and parted again."""

from __future__ import annotations

from uuid import UUID

from ..core.care.alike import LIKE, LIKE_BORN_ALIKE
from ..core.errors import Conflict, NotFound
from .audit import once, used_elsewhere
from .database import Cx, Row

ALIKE = 12
"""So many who may be the same person are offered."""
OFFERED = """
    SELECT a.id, a.name, a.born_on, a.squad, a.note, a.version,
           (SELECT count(*) FROM fitting f WHERE f.athlete_id = a.id) AS fittings,
           (SELECT count(*) FROM pair p WHERE p.athlete_id = a.id AND p.gone_at IS NULL) AS pairs,
           (SELECT max(f.opened_at) FROM fitting f WHERE f.athlete_id = a.id) AS last_at
    FROM {whom} JOIN athlete a ON a.id = found.id ORDER BY {order}
"""


def alike(cx: Cx, athlete_id: UUID, text: str) -> list[Row]:
    """Who else may be the same person: whose name has `text` in it, or is like this one's where nothing is asked."""
    if text := text.strip():
        whom, order, given = "athletes_named(%s, %s) found", "a.name, a.id", [text, ALIKE + 1]
    else:
        whom, given = "athletes_alike(%s, %s, %s, %s) found", [athlete_id, ALIKE, LIKE, LIKE_BORN_ALIKE, athlete_id]
        order = "similarity(a.name, (SELECT name FROM athlete WHERE id = %s)) DESC, a.id"
    rows = cx.execute(OFFERED.format(whom=whom, order=order), given).fetchall()
    return [r for r in rows if r["id"] != athlete_id][:ALIKE]


def whole(cx: Cx, athlete_id: UUID) -> Row:
    """An athlete as their page has them, with `merged`: the records that were put together with theirs and not parted
    since, newest first. Raises `NotFound`."""
    row = cx.execute(
        "SELECT a.id, a.name, a.born_on, a.squad, a.note, a.version, a.unnamed_since, "
        "(SELECT coalesce(jsonb_agg(jsonb_build_object('id', m.id, 'name', m.other_name, 'at', m.at, 'by', s.name) "
        "ORDER BY m.at DESC), '[]') FROM athlete_merge m "
        "JOIN staff s ON s.id = m.staff_id WHERE m.kept_id = a.id AND m.undone_at IS NULL) AS merged "
        "FROM athlete a WHERE a.id = %s",
        [athlete_id],
    ).fetchone()
    if not row:
        raise NotFound("There is no such athlete here.")
    return row


def others(cx: Cx, athlete_id: UUID) -> list[UUID]:
    """The ids of all records that are one with this by now, one put together with another too."""
    rows = cx.execute(
        "WITH RECURSIVE these AS (SELECT %s::uuid AS id UNION SELECT m.other_id FROM athlete_merge m "
        "JOIN these t ON t.id = m.kept_id WHERE m.undone_at IS NULL) SELECT id FROM these WHERE id <> %s",
        [athlete_id, athlete_id],
    ).fetchall()
    return [r["id"] for r in rows]


def merge(cx: Cx, kept: UUID, other: UUID, merge_id: UUID) -> None:
    """Everything of the other record goes to the one that stays. The same id again changes nothing.

    Raises `NotFound`, and `Conflict` where one of them was erased or both are one record."""
    once(cx, merge_id)
    row = cx.execute("SELECT kept_id, other_id FROM athlete_merge WHERE id = %s", [merge_id]).fetchone()
    if row:
        if (row["kept_id"], row["other_id"]) != (kept, other):
            raise used_elsewhere()
        return
    said = cx.execute("SELECT athlete_merge_them(%s, %s, %s) AS said", [merge_id, kept, other]).fetchone()
    _told(said)


def part(cx: Cx, kept: UUID, merge_id: UUID, change_id: UUID) -> None:
    """Part them again: what came from the other record goes back to it; what came since stays. Again is no change.

    Raises `NotFound`, and `Conflict` where it was erased or the record was itself put together with another since."""
    once(cx, merge_id)
    row = cx.execute("SELECT kept_id FROM athlete_merge WHERE id = %s", [merge_id]).fetchone()
    if not row or row["kept_id"] != kept:
        raise NotFound("These records were never put together.")
    said = cx.execute("SELECT athlete_part_them(%s, %s) AS said", [merge_id, change_id]).fetchone()
    _told(said)


def _told(row: Row | None) -> None:
    said = row["said"] if row else "none"
    if said == "none":
        raise NotFound("There is no such athlete here.")
    if said == "same":
        raise Conflict("That is the same record. Nothing was changed.", code="same-record")
    if said == "later":
        raise Conflict("This record was itself put together with another since: part those first.", code="merged-since")
