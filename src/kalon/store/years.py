"""An athlete through the years: what was measured of their feet, what was said of them, and what they trained for."""

from __future__ import annotations

from datetime import date
from typing import Any
from uuid import UUID

from ..core.care.complaints import Complaint, complaints_of
from . import fittings, stock
from .database import Cx, Row

MOST_FITTINGS = 200
OF_FEET = ("feet", "brief", "trial", "return")
"""The parts of a fitting in which something is said of the feet."""


def said(cx: Cx, athlete_id: UUID) -> list[Row]:
    """The athlete's newest fittings, oldest first, each with `parts`: the bodies of those in which feet are spoken of,
    as they are read now."""
    rows = cx.execute(
        "SELECT f.id, f.opened_at, p.part, p.body, p.format FROM (SELECT id, opened_at FROM fitting "
        "WHERE athlete_id = %s AND state <> 'erased' ORDER BY opened_at DESC, id DESC LIMIT %s) f "
        "JOIN fitting_part p ON p.fitting_id = f.id AND p.part = ANY(%s) ORDER BY f.opened_at, f.id",
        [athlete_id, MOST_FITTINGS, list(OF_FEET)],
    ).fetchall()
    found: dict[UUID, Row] = {}
    for row in rows:
        one = found.setdefault(row["id"], {"id": row["id"], "opened_at": row["opened_at"], "parts": {}})
        one["parts"][row["part"]] = fittings.kept_body(row["part"], row)
    return list(found.values())


def complaints(cx: Cx, said_then: list[Row]) -> list[tuple[Row, list[Complaint]]]:
    """What was said of the feet at each fitting, with the pair it was felt in where it was felt in one."""
    found = [(row, complaints_of(row["parts"])) for row in said_then]
    lines = {c.line_id for _, told in found for c in told if c.line_id}
    names = {str(i): name for i, name in stock.called(cx, [UUID(line) for line in lines]).items()}
    return [(row, [_in_pair(c, names) for c in told]) for row, told in found]


def _in_pair(said_once: Complaint, names: dict[str, str]) -> Complaint:
    name = names.get(said_once.line_id or "")
    return said_once.model_copy(update={"text": f"{said_once.text}, in the {name}"}) if name else said_once


def events(said_then: list[Row]) -> list[dict[str, Any]]:
    """The events named at fittings: the day, the sport, the fitting; each day of a sport once, by the newest."""
    found: dict[tuple[date, str | None], dict[str, Any]] = {}
    for row in said_then:
        brief = row["parts"].get("brief", {})
        if brief.get("event_on"):
            on, sport = date.fromisoformat(brief["event_on"]), brief.get("sport")
            found[on, sport] = {"on": on, "sport": sport, "fitting_id": row["id"]}
    return sorted(found.values(), key=lambda e: e["on"])
