"""Captures of feet: what was read of each scan, tracing, print and record; and the progress of measuring."""

from __future__ import annotations

from datetime import UTC, date, datetime
from typing import Any
from uuid import UUID

from psycopg.types.json import Jsonb

from ..core.contract import SIDES, Side
from ..core.errors import Conflict, NotFound
from ..core.feet.combine import Captured, FeetFound, combine, resolved
from ..core.feet.gauge import Feet
from ..core.feet.growth import DAYS, aged
from ..core.feet.measures import Reading
from ..files.captures import Measured
from . import fittings
from .athletes import record
from .database import Cx, Row, Who
from .ids import new_id

COLUMNS = (
    "c.id, c.fitting_id, c.athlete_id, c.kind, c.side, c.name, c.said, c.reading, c.shape, c.version, c.practice, "
    "c.taken_at, s.name AS taken_by"
)


def of_fitting(cx: Cx, fitting_id: UUID) -> list[Row]:
    """Standing captures of a fitting, oldest first."""
    return cx.execute(
        f"SELECT {COLUMNS} FROM foot_capture c JOIN staff s ON s.id = c.taken_by "
        "WHERE c.fitting_id = %s AND c.removed_at IS NULL ORDER BY c.taken_at, c.id",
        [fitting_id],
    ).fetchall()


def readings(cx: Cx, fitting_id: UUID) -> list[Captured]:
    """What the fitting's captures say, oldest first."""
    rows = cx.execute(
        "SELECT id, reading FROM foot_capture WHERE fitting_id = %s AND removed_at IS NULL ORDER BY taken_at, id",
        [fitting_id],
    ).fetchall()
    return [Captured(id=str(r["id"]), reading=Reading.model_validate(r["reading"])) for r in rows]


def feet_found(cx: Cx, fitting_id: UUID, feet: Feet) -> FeetFound:
    """The feet as gauge and captures together show them."""
    return combine(feet, readings(cx, fitting_id))


def feet_that_count(cx: Cx, fitting_id: UUID, feet: Feet) -> Feet:
    """The feet everything further on is computed from."""
    return resolved(feet, feet_found(cx, fitting_id, feet))


def get(cx: Cx, capture_id: UUID, *, removed: bool = False) -> Row:
    """One capture. Raises `NotFound`."""
    row = cx.execute(
        f"SELECT {COLUMNS}, c.removed_at FROM foot_capture c JOIN staff s ON s.id = c.taken_by WHERE c.id = %s",
        [capture_id],
    ).fetchone()
    if not row or (row["removed_at"] and not removed):
        raise NotFound("There is no such capture here.")
    return row


def bytes_of(cx: Cx, capture_id: UUID, what: str) -> bytes:
    """The working copy (`copy`) or what is shown (`view`). Raises `NotFound`."""
    column = {"copy": "copy", "view": "view"}[what]
    row = cx.execute(
        f"SELECT {column} AS data FROM foot_capture WHERE id = %s AND removed_at IS NULL", [capture_id]
    ).fetchone()
    if not row or not row["data"]:
        raise NotFound("There is nothing to show of this capture.")
    return bytes(row["data"])


def add(cx: Cx, who: Who, fitting_id: UUID, capture_id: UUID, name: str, found: Measured, practice: bool) -> UUID:
    """Keep a measured file. The same id again changes nothing."""
    fitting = fittings.get(cx, fitting_id, lock=True)
    if cx.execute("SELECT 1 FROM foot_capture WHERE id = %s", [capture_id]).fetchone():
        return capture_id
    cx.execute(
        "INSERT INTO foot_capture (id, shop_id, fitting_id, athlete_id, kind, side, name, said, reading, shape, copy, "
        "view, practice, taken_by) VALUES (%s, %s, %s, %s, %s, %s, %s, %s, %s, %s, %s, %s, %s, %s)",
        [capture_id, who.shop_id, fitting_id, fitting["athlete_id"], found.kind, found.reading.side, name[:200],
         Jsonb(found.said), Jsonb(found.reading.model_dump(mode="json")), Jsonb(found.shape), found.copy, found.view,
         practice, who.staff_id],
    )  # fmt: skip
    cx.execute("UPDATE fitting SET touched_at = now() WHERE id = %s", [fitting_id])
    _note(cx, who, fitting["athlete_id"], fitting_id, 1, {}, {f"{found.kind} {found.reading.side}": name[:200]})
    return capture_id


def _note(
    cx: Cx, who: Who, athlete: UUID, fitting: UUID, version: int, before: dict[str, Any], after: dict[str, Any]
) -> None:
    record(cx, who, athlete, fitting, "capture", version, new_id(), before, after)


def correct(cx: Cx, who: Who, capture_id: UUID, version: int, found: Measured) -> None:
    """Put a capture measured again in place of the one read at `version`. Raises `Conflict` when it changed since."""
    now = get(cx, capture_id)
    done = cx.execute(
        "UPDATE foot_capture SET side = %s, said = %s, reading = %s, shape = %s, view = %s, version = version + 1 "
        "WHERE id = %s AND version = %s AND removed_at IS NULL RETURNING version",
        [found.reading.side, Jsonb(found.said), Jsonb(found.reading.model_dump(mode="json")), Jsonb(found.shape),
         found.view, capture_id, version],
    ).fetchone()  # fmt: skip
    if not done:
        raise Conflict(
            "Somebody else corrected this capture meanwhile. Look again before changing it.", code="changed-elsewhere"
        )
    _note(cx, who, now["athlete_id"], now["fitting_id"], done["version"], now["said"], found.said)


def remove(cx: Cx, who: Who, capture_id: UUID, *, back: bool = False) -> None:
    """Take a capture out, or put it back; it is only marked."""
    now = get(cx, capture_id, removed=True)
    cx.execute(
        "UPDATE foot_capture SET removed_at = CASE WHEN %s THEN NULL ELSE coalesce(removed_at, now()) END "
        "WHERE id = %s",
        [back, capture_id],
    )
    _note(cx, who, now["athlete_id"], now["fitting_id"], now["version"], {}, {"removed": not back})


def carry(cx: Cx, who: Who, athlete_id: UUID, fitting_id: UUID) -> None:
    """Bring the athlete's last captured readings into a new fitting, as records of their day and less sure since."""
    rows = cx.execute(
        "SELECT c.side, c.kind, c.name, c.reading, c.shape, c.taken_at, now() - c.taken_at AS ago FROM foot_capture c "
        "WHERE c.removed_at IS NULL AND c.fitting_id = (SELECT id FROM fitting WHERE athlete_id = %s AND id <> %s "
        "ORDER BY opened_at DESC, id DESC LIMIT 1) ORDER BY c.taken_at, c.id",
        [athlete_id, fitting_id],
    ).fetchall()
    born = born_on(cx, athlete_id)
    age = (datetime.now(UTC).date() - born).days / DAYS if born else None
    for row in rows:
        name = row["name"] if row["kind"] == "record" else f"{row['kind']} of {row['taken_at']:%d %b %Y}"
        reading = aged(Reading.model_validate(row["reading"]), row["ago"].days / DAYS, age)
        kept = reading.model_copy(
            update={"source": "record", "questions": [], "notes": [f"From the {name}: measure again?"]}
        )
        outline = row["shape"].get("outline", [])
        shape = {"outline": outline} if outline and row["kind"] != "mat" else {}
        add(cx, who, fitting_id, new_id(), name,
            Measured("record", {"side": row["side"]}, kept, shape, b"", b""), practice=False)  # fmt: skip


# --- progress


def progress(cx: Cx, who: Who, capture_id: UUID, share: float, step: str) -> None:
    """Say how far a measuring is."""
    cx.execute(
        "INSERT INTO capture_progress (id, shop_id, share, step) VALUES (%s, %s, %s, %s) "
        "ON CONFLICT (id) DO UPDATE SET share = excluded.share, step = excluded.step, at = now()",
        [capture_id, who.shop_id, share, step],
    )


def progress_of(cx: Cx, capture_id: UUID) -> Row | None:
    """How far a measuring is; none when it isn't under way."""
    return cx.execute("SELECT share, step FROM capture_progress WHERE id = %s", [capture_id]).fetchone()


def done(cx: Cx, capture_id: UUID) -> None:
    """Forget a measuring's progress, and any left behind by a process that died."""
    cx.execute("DELETE FROM capture_progress WHERE id = %s OR at < now() - interval '1 hour'", [capture_id])


# --- the athlete over time


def visits(cx: Cx, athlete_id: UUID) -> list[tuple[Row, FeetFound, dict[Side, list[list[float]]]]]:
    """The athlete's fittings that measured something, oldest first: the row, the feet, and outlines by side."""
    rows = cx.execute(
        "SELECT f.id, f.opened_at, p.body FROM fitting f LEFT JOIN fitting_part p ON p.fitting_id = f.id "
        "AND p.part = 'feet' WHERE f.athlete_id = %s ORDER BY f.opened_at, f.id",
        [athlete_id],
    ).fetchall()
    captures = cx.execute(
        "SELECT id, fitting_id, side, reading, shape -> 'outline' AS outline FROM foot_capture "
        "WHERE athlete_id = %s AND removed_at IS NULL ORDER BY taken_at, id",
        [athlete_id],
    ).fetchall()
    found = []
    for row in rows:
        own = [c for c in captures if c["fitting_id"] == row["id"]]
        readings_ = [Captured(id=str(c["id"]), reading=Reading.model_validate(c["reading"])) for c in own]
        feet = combine(Feet.model_validate(row["body"] or {}), readings_)
        outlines: dict[Side, list[list[float]]] = {c["side"]: c["outline"] for c in own if c["outline"]}
        if any(getattr(feet, side).numbers for side in SIDES):
            found.append((row, feet, outlines))
    return found


def girth_shares(cx: Cx, limit: int = 400) -> dict[str, list[float]]:
    """Girths as shares of length over the shop's own athletes' newest gauge numbers, for re-centring the norms."""
    rows = cx.execute(
        """
        SELECT p.body FROM (SELECT DISTINCT ON (athlete_id) id FROM fitting ORDER BY athlete_id, opened_at DESC) f
        JOIN fitting_part p ON p.fitting_id = f.id AND p.part = 'feet' LIMIT %s
        """,
        [limit],
    ).fetchall()
    found: dict[str, list[float]] = {"ball_girth_mm": [], "instep_girth_mm": []}
    for row in rows:
        for side in SIDES:
            foot = row["body"].get(side) or {}
            for name, shares in found.items():
                if foot.get(name) and foot.get("length_mm"):
                    shares.append(foot[name] / foot["length_mm"])
    return found


def born_on(cx: Cx, athlete_id: UUID) -> date | None:
    """When the athlete was born, where it is known."""
    row = cx.execute("SELECT born_on FROM athlete WHERE id = %s", [athlete_id]).fetchone()
    return row["born_on"] if row else None
