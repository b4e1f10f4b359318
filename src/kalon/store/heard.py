"""What was said of an athlete elsewhere than in one fitting: in other sports' briefs, on their page, by their link."""

from __future__ import annotations

from datetime import tzinfo
from typing import Any, cast, get_args
from uuid import UUID

from ..core.feet.cautions import FeetConcern, Tick
from ..core.formats import Kind, brought_up
from ..core.rules.brief import History
from ..core.rules.concerns import BRIEF_WORDS, Heard
from ..core.rules.words import SPORTS
from .database import Cx, Row
from .shop import day_of

_BRIEFS = """
    SELECT DISTINCT ON (coalesce(b.body ->> 'sport', '')) f.id, f.opened_at, b.body AS brief, b.format AS brief_format,
        t.body AS feet, t.format AS feet_format FROM (
        SELECT id, opened_at FROM fitting WHERE athlete_id = %s AND state <> 'erased'
        ORDER BY opened_at DESC, id DESC LIMIT 40) f
    LEFT JOIN fitting_part b ON b.fitting_id = f.id AND b.part = 'brief'
    LEFT JOIN fitting_part t ON t.fitting_id = f.id AND t.part = 'feet'
    ORDER BY coalesce(b.body ->> 'sport', ''), f.opened_at DESC, f.id DESC
"""
"""The newest fitting of an athlete in each sport, with its feet and brief."""
_LINK = """
    SELECT w.body ->> 'words' AS words FROM athlete_link l
    JOIN LATERAL (SELECT body FROM link_answer WHERE link_id = l.id ORDER BY id DESC LIMIT 1) w ON true
    WHERE l.fitting_id = %s ORDER BY l.made_at DESC LIMIT 1
"""
OVER = "; if that is over, note it here in words"
"""How what an earlier fitting says is ended: it can't be changed where it stands."""


def said_there(brief: dict[str, Any], feet: dict[str, Any], where: str) -> Heard:
    """What one fitting's stored feet and brief say, as another one hears it. What no longer reads is left out."""
    ticked: list[Tick] = ["wounds_or_numbness"] if feet.get("wounds_or_numbness") else []
    ticked += [cast(Tick, c) for c in feet.get("concerns", []) if c in get_args(FeetConcern)]
    texts = [feet.get("note", ""), *(brief.get(name, "") for name in BRIEF_WORDS)]
    return Heard(
        where=where,
        history=[h for h in brief.get("history", []) if h in get_args(History)][:12],
        ticked=ticked[:10],
        note=". ".join(t for t in texts if t),
    )


def _body(row: Row, part: str) -> dict[str, Any]:
    return brought_up(cast(Kind, part), row[part], row[f"{part}_format"]) if row[part] else {}


def of_fitting(cx: Cx, fitting_id: UUID, athlete_id: UUID, note: str, zone: tzinfo) -> tuple[Heard, ...]:
    """Everything heard elsewhere that concerns a fitting: the athlete's page and this fitting's link as they now are,
    and the newest brief of every sport."""
    found = [Heard(where="on the athlete's page", note=note[:4000], now=True)] if note else []
    link = cx.execute(_LINK, [fitting_id]).fetchone()
    if link and link["words"]:
        found.append(Heard(where="in what they answered by their link", note=link["words"], now=True))
    for row in cx.execute(_BRIEFS, [athlete_id]).fetchall():
        if row["id"] == fitting_id:
            continue
        brief, feet = _body(row, "brief"), _body(row, "feet")
        sport = SPORTS[brief["sport"]].name.lower() + " " if brief.get("sport") in SPORTS else ""
        where = f"at the {sport}fitting of {day_of(row['opened_at'], zone):%-d %B %Y}{OVER}"
        found.append(said_there(brief, feet, where))
    return tuple(h for h in found if h.history or h.ticked or h.note)
