"""What was said of an athlete elsewhere than in one fitting: in other sports' briefs, on their page, by their link."""

from __future__ import annotations

from datetime import datetime, tzinfo
from typing import Any, cast, get_args

from ..core.feet.cautions import FeetConcern, Tick
from ..core.formats import Kind, brought_up
from ..core.rules.brief import History
from ..core.rules.concerns import BRIEF_WORDS, Heard
from ..core.rules.words import SPORTS
from .database import Row
from .shop import day_of

ELSEWHERE = """
    SELECT (
        SELECT w.body ->> 'words' FROM athlete_link l
        JOIN LATERAL (SELECT body FROM link_answer WHERE link_id = l.id ORDER BY id DESC LIMIT 1) w ON true
        WHERE l.fitting_id = f.id ORDER BY l.made_at DESC LIMIT 1
    ) AS link_words, (
        SELECT json_agg(newest) FROM (
            SELECT DISTINCT ON (p.said #>> '{brief,body,sport}') o.id, o.opened_at, p.said FROM (
                SELECT id, opened_at FROM fitting WHERE athlete_id = f.athlete_id AND state <> 'erased'
                ORDER BY opened_at DESC, id DESC LIMIT 40) o
            CROSS JOIN LATERAL (
                SELECT json_object_agg(part, json_build_object('body', body, 'format', format)) AS said
                FROM fitting_part WHERE fitting_id = o.id AND part IN ('brief', 'feet')) p
            ORDER BY p.said #>> '{brief,body,sport}', o.opened_at DESC, o.id DESC
        ) newest WHERE newest.id <> f.id
    ) AS newest_by_sport
"""
"""What was said by the link of a fitting `f`, and the athlete's newest fitting by sport, its feet and brief."""
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


def _body(said: dict[str, Any], part: str) -> dict[str, Any]:
    return brought_up(cast(Kind, part), said[part]["body"], said[part]["format"]) if part in said else {}


def heard_in(row: Row, zone: tzinfo) -> tuple[Heard, ...]:
    """Everything heard elsewhere that concerns a fitting: the athlete's page and this fitting's link as they now are,
    and the newest brief of every other sport. `row` holds the athlete's note and what `ELSEWHERE` finds."""
    found = []
    if row["note"]:
        found.append(Heard(where="on the athlete's page", note=row["note"][:4000], now=True))
    if row["link_words"]:
        found.append(Heard(where="in what they answered by their link", note=row["link_words"], now=True))
    for one in row["newest_by_sport"] or []:
        brief, feet = (_body(one["said"] or {}, part) for part in ("brief", "feet"))
        sport = SPORTS[brief["sport"]].name.lower() + " " if brief.get("sport") in SPORTS else ""
        day = day_of(datetime.fromisoformat(one["opened_at"]), zone)
        found.append(said_there(brief, feet, f"at the {sport}fitting of {day:%-d %B %Y}{OVER}"))
    return tuple(h for h in found if h.history or h.ticked or h.note)
