"""Captures of feet: what was read of each scan, tracing, print and record; and the progress of measuring."""

from __future__ import annotations

from datetime import date, datetime
from typing import Any
from uuid import UUID, uuid5

from psycopg.types.json import Jsonb

from ..core.contract import SIDES, Side
from ..core.errors import Conflict, NotFound
from ..core.feet.combine import Captured, FeetFound, combine, gauge_reading
from ..core.feet.gauge import Feet
from ..core.feet.growth import DAYS, aged
from ..core.feet.measures import Reading
from ..core.formats import brought_up, newest
from ..files.captures import Measured
from . import fittings, known
from .audit import once, record, used_elsewhere
from .database import Cx, Row, Who
from .ids import new_id

COLUMNS = (
    "c.id, c.fitting_id, c.athlete_id, c.kind, c.side, c.name, c.said, c.reading, c.shape, c.version, c.practice, "
    "c.taken_at, c.measured_at, c.format, s.name AS taken_by"
)

A_DAY = 1 / DAYS
"""In years; a reading of the same day is as sure as it was."""
MOST_VISITS = 60


def of_fitting(cx: Cx, fitting_id: UUID) -> list[Row]:
    """Standing captures of a fitting, oldest first."""
    return cx.execute(
        f"SELECT {COLUMNS} FROM foot_capture c JOIN staff s ON s.id = c.taken_by "
        "WHERE c.fitting_id = %s AND c.removed_at IS NULL ORDER BY c.taken_at, c.id",
        [fitting_id],
    ).fetchall()


def reading_of(row: Row) -> Reading:
    """A capture's reading as it was taken."""
    return Reading.model_validate(brought_up("reading", row["reading"], row["format"]))


def as_captured(rows: list[Row], opened_at: datetime, born: date | None) -> list[Captured]:
    """What captures say on the fitting's day: those of an earlier day are less sure by the time since, once."""
    found = []
    for row in rows:
        reading, years = reading_of(row), (opened_at - row["measured_at"]).total_seconds() / 86400 / DAYS
        if years > A_DAY:
            age = (opened_at.date() - born).days / DAYS if born else None
            reading = aged(reading, years, age)
        found.append(Captured(id=str(row["id"]), reading=reading))
    return found


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


def follower(capture_id: UUID, place: int) -> UUID:
    """The id of the next foot out of the same file: always the same one."""
    return uuid5(capture_id, str(place)) if place else capture_id


def kept(cx: Cx, fitting_id: UUID, capture_id: UUID) -> list[UUID]:
    """The captures a file sent before under this id made; none if it is new. Raises `Conflict` if it was elsewhere."""
    once(cx, capture_id)
    rows = cx.execute(
        "SELECT id, fitting_id FROM foot_capture WHERE id IN (%s, %s)", [capture_id, follower(capture_id, 1)]
    ).fetchall()
    if any(r["fitting_id"] != fitting_id for r in rows):
        raise used_elsewhere()
    return sorted((r["id"] for r in rows), key=lambda i: i != capture_id)


def add(
    cx: Cx,
    who: Who,
    fitting_id: UUID,
    capture_id: UUID,
    name: str,
    found: Measured,
    practice: bool,
    measured_at: datetime | None = None,
) -> UUID:
    """Keep a measured file, measured now unless said otherwise. The same id again changes nothing."""
    fitting = fittings.get(cx, fitting_id, lock=True)
    if kept(cx, fitting_id, capture_id):
        return capture_id
    cx.execute(
        "INSERT INTO foot_capture (id, shop_id, fitting_id, athlete_id, kind, side, name, said, reading, format, "
        "shape, copy, view, practice, taken_by, measured_at) "
        "VALUES (%s, %s, %s, %s, %s, %s, %s, %s, %s, %s, %s, %s, %s, %s, %s, coalesce(%s, now()))",
        [capture_id, who.shop_id, fitting_id, fitting["athlete_id"], found.kind, found.reading.side, name[:200],
         Jsonb(found.said), Jsonb(found.reading.model_dump(mode="json")), newest("reading"), Jsonb(found.shape),
         found.copy, found.view, practice, who.staff_id, measured_at],
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
        "UPDATE foot_capture SET side = %s, said = %s, reading = %s, format = %s, shape = %s, view = %s, "
        "version = version + 1 "
        "WHERE id = %s AND version = %s AND removed_at IS NULL RETURNING version",
        [found.reading.side, Jsonb(found.said), Jsonb(found.reading.model_dump(mode="json")), newest("reading"),
         Jsonb(found.shape), found.view, capture_id, version],
    ).fetchone()  # fmt: skip
    if not done:
        raise Conflict(
            "Somebody else corrected this capture meanwhile. Look again before changing it.", code="changed-elsewhere"
        )
    _note(cx, who, now["athlete_id"], now["fitting_id"], done["version"], now["said"], found.said)


def remove(cx: Cx, who: Who, capture_id: UUID, *, back: bool = False) -> None:
    """Take a capture out, or put it back; it is only marked."""
    now = get(cx, capture_id, removed=True)
    if bool(now["removed_at"]) is not back:
        return
    cx.execute(
        "UPDATE foot_capture SET removed_at = CASE WHEN %s THEN NULL ELSE coalesce(removed_at, now()) END "
        "WHERE id = %s",
        [back, capture_id],
    )
    _note(cx, who, now["athlete_id"], now["fitting_id"], now["version"], {}, {"removed": not back})


def carry(cx: Cx, who: Who, athlete_id: UUID, fitting_id: UUID) -> None:
    """Bring the athlete's last readings, gauge and captured, into a new fitting as records that keep their day.

    How much less sure they are by now is worked out when they are read. Practice feet stay where they are."""
    last = cx.execute(
        "SELECT f.id, f.opened_at, p.body, p.format FROM fitting f "
        "LEFT JOIN fitting_part p ON p.fitting_id = f.id AND p.part = 'feet' "
        "WHERE f.athlete_id = %s AND f.id <> %s ORDER BY f.opened_at DESC, f.id DESC LIMIT 1",
        [athlete_id, fitting_id],
    ).fetchone()
    if not last:
        _carry_from_elsewhere(cx, who, athlete_id, fitting_id)
        return
    _carry_gauge(cx, who, fitting_id, last["body"], last["format"], last["opened_at"], "")
    rows = cx.execute(
        f"SELECT {COLUMNS} FROM foot_capture c JOIN staff s ON s.id = c.taken_by "
        "WHERE c.fitting_id = %s AND c.removed_at IS NULL AND NOT c.practice ORDER BY c.taken_at, c.id",
        [last["id"]],
    ).fetchall()
    for row in rows:
        name = row["name"] if row["kind"] == "record" else f"{row['kind']} of {row['measured_at']:%d %b %Y}"
        outline = [] if row["kind"] == "mat" else row["shape"].get("outline", [])
        _carry_one(cx, who, fitting_id, name, reading_of(row), outline, row["measured_at"])


def _carry_gauge(
    cx: Cx, who: Who, fitting_id: UUID, body: dict[str, Any] | None, format_: int, at: datetime, where: str
) -> None:
    typed = Feet.model_validate(brought_up("feet", body, format_)) if body else Feet()
    for side in SIDES:
        gauge = gauge_reading(side, typed)
        if gauge.numbers:
            _carry_one(cx, who, fitting_id, f"gauge of {at:%d %b %Y}{where}", gauge, [], at)


def _carry_from_elsewhere(cx: Cx, who: Who, athlete_id: UUID, fitting_id: UUID) -> None:
    """What a sister shop measured of an athlete who comes from there and agreed to it; nothing otherwise."""
    there = known.before(cx, athlete_id)
    if not there or not there["opened_at"]:
        return
    where = f", {there['shop']}"
    _carry_gauge(cx, who, fitting_id, there["feet"], there["feet_format"], there["opened_at"], where)
    for row in there["readings"]:
        at = datetime.fromisoformat(row["measured_at"])
        name = row["name"] if row["kind"] == "record" else f"{row['kind']} of {at:%d %b %Y}"
        _carry_one(cx, who, fitting_id, f"{name}{where}", reading_of(row), [], at)


def _carry_one(
    cx: Cx, who: Who, fitting_id: UUID, name: str, reading: Reading, outline: list[list[float]], at: datetime
) -> None:
    notes = [f"From the {name}: measure again?"]
    kept = reading.model_copy(update={"source": "record", "questions": [], "notes": notes})
    shape = {"outline": outline} if outline else {}
    found = Measured("record", {"side": reading.side}, kept, shape, b"", b"")
    add(cx, who, fitting_id, new_id(), name, found, practice=False, measured_at=at)


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


def outlines_of(cx: Cx, fitting_id: UUID) -> dict[Side, list[list[float]]]:
    """The newest captured outline of each foot in this fitting, mm, heel at 0, toes up."""
    rows = cx.execute(
        "SELECT side, shape -> 'outline' AS outline FROM foot_capture WHERE fitting_id = %s AND removed_at IS NULL "
        "AND kind <> 'record' AND side IS NOT NULL ORDER BY taken_at, id",
        [fitting_id],
    ).fetchall()
    return {r["side"]: r["outline"] for r in rows if r["outline"]}


# --- the athlete over time


def visits(
    cx: Cx, athlete_id: UUID, fitting_id: UUID | None = None
) -> list[tuple[Row, FeetFound, dict[Side, list[list[float]]]]]:
    """The athlete's newest fittings that measured something that day, oldest first: row, feet, outlines by side.

    What was carried along from an earlier day is no visit; practice feet count in their own fitting
    only, which is the one that is asked for."""
    rows = cx.execute(
        "SELECT f.id, f.opened_at, p.body, p.format FROM fitting f LEFT JOIN fitting_part p ON p.fitting_id = f.id "
        "AND p.part = 'feet' WHERE f.athlete_id = %s ORDER BY f.opened_at DESC, f.id DESC LIMIT %s",
        [athlete_id, MOST_VISITS],
    ).fetchall()
    captures = cx.execute(
        "SELECT id, fitting_id, side, reading, format, shape -> 'outline' AS outline FROM foot_capture "
        "WHERE fitting_id = ANY(%s) AND removed_at IS NULL AND kind <> 'record' "
        "AND (NOT practice OR fitting_id = %s) ORDER BY taken_at, id",
        [[r["id"] for r in rows], fitting_id],
    ).fetchall()
    found = []
    for row in reversed(rows):
        own = [c for c in captures if c["fitting_id"] == row["id"]]
        readings_ = [Captured(id=str(c["id"]), reading=reading_of(c)) for c in own]
        body = brought_up("feet", row["body"], row["format"]) if row["body"] else {}
        feet = combine(Feet.model_validate(body), readings_)
        outlines: dict[Side, list[list[float]]] = {c["side"]: c["outline"] for c in own if c["outline"]}
        if any(getattr(feet, side).numbers for side in SIDES):
            found.append((row, feet, outlines))
    return found


def born_on(cx: Cx, athlete_id: UUID) -> date | None:
    """When the athlete was born, where it is known."""
    row = cx.execute("SELECT born_on FROM athlete WHERE id = %s", [athlete_id]).fetchone()
    return row["born_on"] if row else None
