"""A fitting and its parts. Parts are changed field by field; nobody's change is overwritten unseen."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import tzinfo
from types import MappingProxyType
from typing import Any, cast
from uuid import UUID

from psycopg.types.json import Jsonb

from ..core.errors import Conflict, NotFound
from ..core.feet.growth import wants_room
from ..core.formats import Kind, brought_up, newest
from ..core.match.shelf import sized
from ..core.parts import PARTS, check_part, check_paths, get_path, overlap, with_path
from ..core.sizes import on_the_box
from . import known
from .athletes import get as get_athlete
from .audit import done_before, once, record, used_elsewhere
from .database import ERASED, Cx, Row, Who
from .ids import new_id
from .shop import today as day_now


@dataclass(frozen=True)
class Clash:
    """A field somebody else changed since it was read."""

    path: str
    mine: Any
    theirs: Any
    by: str
    at: str


class ChangedElsewhere(Conflict):
    """Somebody else changed the same fields; `clashes` says who, when and to what."""

    code = "changed-elsewhere"

    def __init__(self, clashes: list[Clash], version: int) -> None:
        by = ", ".join(sorted({c.by for c in clashes}))
        super().__init__(f"{by} changed this meanwhile. Choose which to keep.")
        self.clashes = clashes
        self.version = version

    def as_problem(self) -> dict[str, Any]:
        """With the clashes and the version to base the choice on."""
        return super().as_problem() | {"clashes": [vars(c) for c in self.clashes], "version": self.version}


class VersionAhead(Conflict):
    """A change based on a version there isn't: the records were restored from a backup since."""

    code = "version-ahead"

    def __init__(self, version: int) -> None:
        super().__init__(
            "The records were put back to an earlier state meanwhile. What you typed is sent on top of it."
        )
        self.version = version

    def as_problem(self) -> dict[str, Any]:
        """With the version there is."""
        return super().as_problem() | {"version": self.version}


@dataclass(frozen=True)
class Part:
    """A part's version and body."""

    version: int
    body: dict[str, Any]


OF_THE_DAY = ("time_of_day", "event_on", "prefer", "stance", "effort", "left", "right")
"""What a new fitting does not take over from the last one; the numbers of the feet come as a record of their day."""


def begun_before(cx: Cx, athlete_id: UUID, fitting_id: UUID) -> bool:
    """Whether this very fitting was begun already. Raises `Conflict` when the id is another's."""
    once(cx, fitting_id)
    row = cx.execute("SELECT athlete_id FROM fitting WHERE id = %s", [fitting_id]).fetchone()
    if row and row["athlete_id"] != athlete_id:
        raise used_elsewhere()
    return row is not None


def open_fitting(cx: Cx, who: Who, athlete_id: UUID, fitting_id: UUID, zone: tzinfo) -> UUID:
    """A new fitting with the athlete's last brief already there, and whether they still grow, from their age.

    Again with the same id: nothing new."""
    if begun_before(cx, athlete_id, fitting_id):
        return fitting_id
    born = get_athlete(cx, athlete_id)["born_on"]
    last = cx.execute(
        "SELECT p.part, p.body, p.format FROM fitting_part p WHERE p.part IN ('feet', 'brief') AND p.fitting_id = "
        "(SELECT id FROM fitting WHERE athlete_id = %s ORDER BY opened_at DESC, id DESC LIMIT 1)",
        [athlete_id],
    ).fetchall()
    if not last and (there := known.before(cx, athlete_id)):
        stored = [{"part": p, "body": there[p], "format": there[f"{p}_format"]} for p in ("feet", "brief")]
        last = [row for row in stored if row["body"] is not None]
    cx.execute(
        "INSERT INTO fitting (id, shop_id, athlete_id, opened_by, house_version, learned_version) "
        "VALUES (%s, %s, %s, %s, coalesce((SELECT max(version) FROM house_version), 0), "
        "coalesce((SELECT max(version) FROM learned_version), 0))",
        [fitting_id, who.shop_id, athlete_id, who.staff_id],
    )
    carried = {row["part"]: {k: v for k, v in _body(row).items() if k not in OF_THE_DAY} for row in last}
    brief = carried.get("brief", {})
    worn = _last_sold(cx, athlete_id)
    if worn and worn.pop("sport") == brief.get("sport"):
        brief |= worn
    growing = born is not None and wants_room(born, day_now(zone))
    if growing or (born and "growing" in brief):
        carried["brief"] = brief | {"growing": growing}
    if not last:
        inches = cx.execute(
            "SELECT body ->> 'length_unit' = 'inch' AS inch FROM house_version ORDER BY version DESC LIMIT 1"
        ).fetchone()
        if inches and inches["inch"]:
            carried["feet"] = {"units": "inch"}
    for part, body in carried.items():
        if body:
            _write(cx, who, fitting_id, athlete_id, part, Part(0, {}), body, new_id(), dict(body))
    return fitting_id


def _body(row: Row) -> dict[str, Any]:
    return brought_up(cast(Kind, row["part"]), row["body"], row["format"])


def kept_body(part: str, kept: Row) -> dict[str, Any]:
    """A part's body as it is kept, in the newest format; empty where it wasn't begun."""
    return _body(kept | {"part": part}) if kept["body"] else {}


def passed(trial: dict[str, Any]) -> bool:
    """Whether any pair passed its trial."""
    return any(t.get("verdict") == "pass" for t in trial.get("pairs", {}).values())


def _last_sold(cx: Cx, athlete_id: UUID) -> dict[str, Any]:
    """The pair the shop last sold them, as the brief's present shoe, and its sport."""
    row = cx.execute(
        "SELECT (s.pair ->> 'maker') || ' ' || (s.pair ->> 'name') AS name, s.pair ->> 'sport' AS sport, "
        "(s.pair ->> 'eu_label')::float AS eu_label, s.pair ->> 'system' AS system, "
        "(s.pair ->> 'label')::float AS label, "
        "s.pair -> 'properties' AS properties, "
        "coalesce(s.pair -> 'features', '{}') AS features FROM sale s "
        "JOIN fitting f ON f.id = s.fitting_id WHERE f.athlete_id = %s AND s.undone_at IS NULL "
        "ORDER BY s.sold_at DESC LIMIT 1",
        [athlete_id],
    ).fetchone()
    if not row:
        return {}
    present = {"kind": "this_sport", "model": sized(row["properties"], row["eu_label"]), "features": row["features"]}
    return {"sport": row["sport"], "wears_now": f"{row['name']} {on_the_box(row)}", "present": present}


def moved_by(cx: Cx, fitting_id: UUID) -> dict[str, Row]:
    """By property or choice: who last moved its weight, and when."""
    rows = cx.execute(
        "SELECT c.after, c.at, s.name AS by FROM change c JOIN staff s ON s.id = c.staff_id "
        "WHERE c.fitting_id = %s AND c.part = 'spec' ORDER BY c.version",
        [fitting_id],
    ).fetchall()
    found: dict[str, Row] = {}
    for row in rows:
        for path in row["after"]:
            head, _, name = path.partition("/")
            if head == "weights" and name:
                found[name.split("/")[0]] = row
    return found


def get(cx: Cx, fitting_id: UUID, *, lock: bool = False, erased_too: bool = False) -> Row:
    """The fitting's own row. `lock` keeps others from changing it meanwhile. Raises `NotFound`, to be written in also
    where whom it was of was erased, unless it is wanted `erased_too`."""
    row = cx.execute(
        "SELECT id, athlete_id, state, opened_at, touched_at, learned_version FROM fitting WHERE id = %s"
        + (" FOR NO KEY UPDATE" if lock else ""),
        [fitting_id],
    ).fetchone()
    if not row:
        raise NotFound("There is no such fitting here.")
    if lock and row["state"] == "erased" and not erased_too:
        raise NotFound(ERASED, code="erased")
    return row


def parts(cx: Cx, fitting_id: UUID) -> dict[str, Part]:
    """All parts; those not begun are empty at version 0. Raises `NotFound`."""
    rows = cx.execute(
        "SELECT part, version, body, format FROM fitting_part WHERE fitting_id = %s", [fitting_id]
    ).fetchall()
    if not rows:
        get(cx, fitting_id)
    return as_parts(rows)


def as_parts(rows: Sequence[Row]) -> dict[str, Part]:
    """All parts from the rows of those begun."""
    found = {name: Part(0, {}) for name in PARTS}
    return found | {r["part"]: Part(r["version"], _body(r)) for r in rows}


def _part(cx: Cx, fitting_id: UUID, part: str) -> Part:
    row = cx.execute(
        "SELECT part, version, body, format FROM fitting_part WHERE fitting_id = %s AND part = %s", [fitting_id, part]
    ).fetchone()
    return Part(row["version"], _body(row)) if row else Part(0, {})


def _write(
    cx: Cx,
    who: Who,
    fitting_id: UUID,
    athlete_id: UUID,
    part: str,
    now: Part,
    body: dict[str, Any],
    change_id: UUID,
    sets: dict[str, Any],
) -> Part:
    version = now.version + 1
    cx.execute(
        "INSERT INTO fitting_part (shop_id, fitting_id, part, version, body, format) VALUES (%s, %s, %s, %s, %s, %s) "
        "ON CONFLICT (fitting_id, part) DO UPDATE "
        "SET version = excluded.version, body = excluded.body, format = excluded.format",
        [who.shop_id, fitting_id, part, version, Jsonb(body), newest(cast(Kind, part))],
    )
    before = {path: get_path(now.body, path) for path in sets}
    record(cx, who, athlete_id, fitting_id, part, version, change_id, before, sets)
    cx.execute("UPDATE fitting SET touched_at = now() WHERE id = %s", [fitting_id])
    return Part(version, body)


def _clashes(cx: Cx, fitting_id: UUID, part: str, now: Part, base: int, sets: dict[str, Any]) -> list[Clash]:
    rows = cx.execute(
        "SELECT c.after, c.at, s.name FROM change c JOIN staff s ON s.id = c.staff_id "
        "WHERE c.fitting_id = %s AND c.part = %s AND c.version > %s ORDER BY c.version",
        [fitting_id, part, base],
    ).fetchall()
    found: dict[str, Clash] = {}
    for row in rows:
        for path, mine in sets.items():
            theirs = get_path(now.body, path)
            if theirs != mine and any(overlap(path, changed) for changed in row["after"]):
                found[path] = Clash(path, mine, theirs, row["name"], row["at"].isoformat())
    return list(found.values())


def patch(
    cx: Cx,
    who: Who,
    fitting_id: UUID,
    part: str,
    base_version: int,
    change_id: UUID,
    sets: dict[str, Any],
    frozen: Mapping[str, tuple[str, ...]] = MappingProxyType({}),
) -> Part:
    """Set fields of a part as read at `base_version`.

    Other fields changed meanwhile are kept; the same fields raise `ChangedElsewhere`. Sending the same
    `change_id` again changes nothing. Raises `BadInput` beside the field, `NotFound`, and `Conflict` in a state
    where this part, or a field of it (`settle/lowered`), is `frozen`.
    """
    if part not in PARTS:
        raise NotFound(f"A fitting has no part called {part}.")
    fitting = get(cx, fitting_id, lock=True)
    if done_before(cx, change_id, part=part, fitting_id=fitting_id):
        return _part(cx, fitting_id, part)
    kept = frozen.get(fitting["state"], ())
    if part in kept or any(overlap(f"{part}/{path}", f) for path in sets for f in kept if "/" in f):
        raise Conflict("This fitting is settled: begin a new one, or undo the sale first.", code="settled")
    check_paths(sets)
    now = _part(cx, fitting_id, part)
    if base_version > now.version:
        raise VersionAhead(now.version)
    clashes = _clashes(cx, fitting_id, part, now, base_version, sets) if base_version < now.version else []
    if clashes:
        raise ChangedElsewhere(clashes, now.version)
    body = now.body
    for path, value in sets.items():
        body = with_path(body, path, value)
    check_part(part, body, sets)
    return _write(cx, who, fitting_id, fitting["athlete_id"], part, now, body, change_id, sets)
