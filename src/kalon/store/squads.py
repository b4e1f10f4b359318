"""Squads: who is in one, how far each has come, and a list of names brought in."""

from __future__ import annotations

from typing import Any
from uuid import UUID

from . import athletes
from .database import Cx, Row, Who

LARGEST = 200
"""Athletes of one squad at most."""


def listing(cx: Cx) -> list[Row]:
    """The squads by name, with how many are in each, counted up to the largest; so many squads at most."""
    return cx.execute("SELECT name, athletes FROM squads_now(%s) ORDER BY name", [LARGEST]).fetchall()


def of(cx: Cx, squad: str) -> list[Row]:
    """Who is in a squad, by name, with the newest fitting, what was sold in it and the days that follow."""
    return cx.execute(
        """
        SELECT a.id, a.name, a.born_on, a.measure_on, f.id AS fitting_id, f.state, f.opened_at,
               b.body ->> 'sport' AS sport, b.body ->> 'discipline' AS discipline,
               p.id AS pair_id, btrim(p.maker || ' ' || p.name) AS pair, p.size, p.eu_label, p.width, p.ready_on,
               coalesce(p.event_on, (b.body ->> 'event_on')::date) AS event_on,
               s.pair -> 'choices' ->> 'plate' AS plate, s.pair -> 'choices' ->> 'sole' AS sole, u.due_on
        FROM (SELECT * FROM athlete WHERE squad = %s AND erased_at IS NULL ORDER BY name, id LIMIT %s) a
        LEFT JOIN LATERAL (SELECT * FROM fitting WHERE athlete_id = a.id
                           ORDER BY opened_at DESC, id DESC LIMIT 1) f ON true
        LEFT JOIN fitting_part b ON b.fitting_id = f.id AND b.part = 'brief'
        LEFT JOIN LATERAL (SELECT * FROM pair WHERE athlete_id = a.id AND gone_at IS NULL AND ended_on IS NULL
                           ORDER BY bought_on DESC, id LIMIT 1) p ON true
        LEFT JOIN sale s ON s.id = p.sale_id
        LEFT JOIN follow_up u ON u.fitting_id = p.fitting_id AND u.withdrawn_at IS NULL AND u.done_at IS NULL
        ORDER BY a.name, a.id
        """,
        [squad, LARGEST],
    ).fetchall()


def here(cx: Cx, names: list[str]) -> dict[str, Row]:
    """Athletes of those names, by the name; of several of one name the oldest record."""
    rows = cx.execute(
        "SELECT DISTINCT ON (name) id, name, born_on, squad FROM athlete "
        "WHERE name = ANY(%s) AND erased_at IS NULL ORDER BY name, id",
        [names],
    ).fetchall()
    return {r["name"]: r for r in rows}


def bring_in(cx: Cx, who: Who, list_id: UUID, lines: list[dict[str, Any]]) -> list[UUID]:
    """Write the lines of a list: new athletes, and those who are here already moved into the squad.

    Each line has its change id from the list's, so that the same list again brings nobody twice."""
    found = here(cx, [line["name"] for line in lines])
    out = []
    for place, line in enumerate(lines):
        change = UUID(int=(list_id.int ^ (place + 1)) & (2**128 - 1))
        known = found.get(line["name"])
        values = {n: line[n] for n in athletes.FIELDS}
        if known:
            now = athletes.get(cx, known["id"])
            if now["squad"] != line["squad"] or (line["born_on"] and not now["born_on"]):
                kept = {n: now[n] for n in athletes.FIELDS}
                kept |= {"squad": line["squad"], "born_on": now["born_on"] or line["born_on"]}
                athletes.change(cx, who, now["id"], now["version"], change, kept)
            out.append(known["id"])
        else:
            out.append(athletes.add(cx, who, change, values)["id"])
    return out
