"""Athletes known in the chain's other shops: where they agreed to it, and as long as they do."""

from __future__ import annotations

from typing import Any
from uuid import UUID

from ..core.errors import NotFound
from .athletes import add
from .athletes import get as get_athlete
from .audit import once, record, used_elsewhere
from .catalogue import chain_of
from .database import Cx, Row, Who
from .ids import new_id

SAID = (
    "My name, my birth date, what was measured of my feet, my last brief and the pairs I bought here may be seen by "
    "the fitters of the chain's other shops, so that they need not begin anew. I can take this back at any time; what "
    "another shop has measured itself stays there."
)
"""What is read out to the athlete; kept with the consent as it then was. Words are the house's, not a lawyer's."""


def consent(cx: Cx, athlete_id: UUID) -> Row | None:
    """The consent that stands, with who recorded it; none where there is none."""
    return cx.execute(
        "SELECT c.id, c.said, c.given_at, p.name AS by FROM athlete_consent c JOIN staff p ON p.id = c.given_by "
        "WHERE c.athlete_id = %s AND c.ended_at IS NULL",
        [athlete_id],
    ).fetchone()


def agree(cx: Cx, who: Who, athlete_id: UUID, consent_id: UUID) -> None:
    """The athlete agrees to be known elsewhere. The same id again, or agreeing twice, changes nothing."""
    once(cx, athlete_id)
    get_athlete(cx, athlete_id)
    done = cx.execute("SELECT athlete_id FROM athlete_consent WHERE id = %s", [consent_id]).fetchone()
    if done and done["athlete_id"] != athlete_id:
        raise used_elsewhere()
    if done or consent(cx, athlete_id):
        return
    cx.execute(
        "INSERT INTO athlete_consent (id, shop_id, chain_id, athlete_id, said, given_by) "
        "VALUES (%s, %s, %s, %s, %s, %s)",
        [consent_id, who.shop_id, chain_of(cx, who.shop_id), athlete_id, SAID, who.staff_id],
    )
    _note(cx, who, athlete_id, agreed=True)


def take_back(cx: Cx, who: Who, athlete_id: UUID) -> None:
    """The athlete takes it back: from now on no other shop sees them. Again is no change."""
    once(cx, athlete_id)
    get_athlete(cx, athlete_id)
    ended = cx.execute(
        "UPDATE athlete_consent SET ended_at = now(), ended_by = %s WHERE athlete_id = %s AND ended_at IS NULL",
        [who.staff_id, athlete_id],
    ).rowcount
    if ended:
        _note(cx, who, athlete_id, agreed=False)


def _note(cx: Cx, who: Who, athlete_id: UUID, *, agreed: bool) -> None:
    before, after = {"known_elsewhere": not agreed}, {"known_elsewhere": agreed}
    record(cx, who, athlete_id, None, "consent", 0, new_id(), before, after)


def find(cx: Cx, text: str) -> list[Row]:
    """Athletes of sister shops who agreed, by three letters of their name or more; twenty at most."""
    return cx.execute("SELECT * FROM athletes_elsewhere(%s)", [text.strip()]).fetchall()


def elsewhere(cx: Cx, known_id: UUID) -> Row:
    """One of them, with last feet, brief, readings and pairs. Raises `NotFound`, also once they took it back."""
    row = cx.execute("SELECT * FROM athlete_elsewhere(%s)", [known_id]).fetchone()
    if not row:
        raise NotFound("Nobody of that name is known from another shop, or they took their consent back.")
    return row


def take_up(cx: Cx, who: Who, known_id: UUID, change_id: UUID) -> Row:
    """An athlete of a sister shop comes here: a record of this shop's own, begun from theirs. Again: the same."""
    once(cx, known_id)
    ours = cx.execute("SELECT id FROM athlete WHERE known_from = %s", [known_id]).fetchone()
    if ours:
        return get_athlete(cx, ours["id"])
    row = elsewhere(cx, known_id)
    values: dict[str, Any] = {"name": row["name"], "born_on": row["born_on"], "squad": row["squad"], "note": ""}
    found = add(cx, who, change_id, values)
    cx.execute("UPDATE athlete SET known_from = %s WHERE id = %s AND known_from IS NULL", [known_id, found["id"]])
    return found


def before(cx: Cx, athlete_id: UUID) -> Row | None:
    """What a sister shop knows of an athlete taken up from there; none when not from there, or no longer agreed to."""
    return cx.execute(
        "SELECT e.* FROM athlete a JOIN LATERAL athlete_elsewhere(a.known_from) e ON true "
        "WHERE a.id = %s AND a.known_from IS NOT NULL",
        [athlete_id],
    ).fetchone()
