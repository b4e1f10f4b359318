"""Tablets of a shop, and signing in on them by a PIN."""

from __future__ import annotations

import secrets
from datetime import timedelta
from itertools import pairwise
from uuid import UUID

from ..core.errors import NotFound, bad_field
from .database import Cx, Pool, Row, Who, transaction
from .staff import NO_PASSWORD, SESSION_LASTS, SignInRefused, digest, hashed, held_against

DIGITS = 4
"""So many are typed without a key that says it is all; a tablet takes five tries, and then the password."""
TABLET_LASTS = timedelta(days=400)
"""As long as browsers keep a cookie at most."""


class PinOver(SignInRefused):
    """A PIN that counts on this tablet no more, or never did."""

    code = "pin-over"


def check_pin(pin: str) -> None:
    """Raise `BadInput` for a PIN that isn't one, or that is guessed at once."""
    if not (pin.isascii() and pin.isdigit() and len(pin) == DIGITS):
        raise bad_field("pin", "digits", "A PIN is four digits.")
    steps = {int(b) - int(a) for a, b in pairwise(pin)}
    if len(steps) == 1 and steps <= {-1, 0, 1}:
        raise bad_field("pin", "plain", "That PIN is guessed at once: take digits that don't run in a row.")


def listed(cx: Cx) -> list[Row]:
    """The tablets of the shop: name, who added it when, when somebody last worked on it and who."""
    return cx.execute(
        "SELECT t.id, t.name, t.added_at, a.name AS added_by, t.seen_at, s.name AS seen_by FROM tablet t "
        "JOIN staff a ON a.id = t.added_by LEFT JOIN staff s ON s.id = t.seen_by "
        "WHERE t.ended_at IS NULL ORDER BY t.name, t.id"
    ).fetchall()


def made(cx: Cx, who: Who, tablet_id: UUID, name: str) -> str:
    """The browser that asks is the shop's from now on; the secret it keeps. The same id again gives it another one.

    Raises `NotFound` for one that was taken out."""
    token = secrets.token_urlsafe(32)
    done = cx.execute(
        "INSERT INTO tablet (id, shop_id, name, token_hash, added_by, seen_by) VALUES (%s, %s, %s, %s, %s, %s) "
        "ON CONFLICT (id) DO UPDATE SET token_hash = %s, name = %s WHERE tablet.ended_at IS NULL",
        [tablet_id, who.shop_id, name, digest(token), who.staff_id, who.staff_id, digest(token), name],
    ).rowcount
    if not done:
        raise _none()
    return token


def renamed(cx: Cx, tablet_id: UUID, name: str) -> None:
    """Another name. Raises `NotFound`."""
    if not cx.execute("UPDATE tablet SET name = %s WHERE id = %s AND ended_at IS NULL", [name, tablet_id]).rowcount:
        raise _none()


def taken_out(cx: Cx, who: Who, tablet_id: UUID) -> None:
    """It is no tablet of the shop's any more; again is no change. Raises `NotFound`."""
    done = cx.execute(
        "UPDATE tablet SET ended_at = coalesce(ended_at, now()), ended_by = coalesce(ended_by, %s) WHERE id = %s",
        [who.staff_id, tablet_id],
    ).rowcount
    if not done:
        raise _none()


def _none() -> NotFound:
    return NotFound("There is no such tablet here.")


def here(cx: Cx, tablet: str) -> str | None:
    """What the tablet of a secret is called, where it is the shop's; that it was seen is noted."""
    row = cx.execute("SELECT tablet_seen(%s) AS name", [tablet]).fetchone()
    return row["name"] if row else None


def people_on(gate: Pool, tablet: str) -> list[Row]:
    """Who works where the tablet of a secret is: name of the tablet and its shop, and of each whether a PIN counts."""
    with transaction(gate) as cx:
        return cx.execute("SELECT * FROM tablet_people(%s)", [tablet]).fetchall()


def by_pin(gate: Pool, tablet: str, staff_id: UUID, pin: str) -> str:
    """A session's token, for a PIN that is right. Raises `PinOver` where none counts, `SignInRefused`."""
    with transaction(gate) as cx:
        row = cx.execute("SELECT pin_try(%s, %s) AS hash", [tablet, staff_id]).fetchone()
    kept = row["hash"] if row else None
    if not held_against(kept or NO_PASSWORD, pin):
        if kept is None:
            raise PinOver("A PIN doesn't count here now: sign in with your password.")
        raise SignInRefused("That isn't the PIN.")
    token = secrets.token_urlsafe(32)
    with transaction(gate) as cx:
        cx.execute("SELECT pin_open(%s, %s, %s, %s)", [tablet, staff_id, digest(token), SESSION_LASTS])
    return token


def own_pin(gate: Pool, token: str, pin: str | None) -> None:
    """One's own PIN, or none any more. Raises `BadInput`, `SignInRefused`."""
    if pin is not None:
        check_pin(pin)
    kept = hashed(pin) if pin is not None else None
    with transaction(gate) as cx:
        row = cx.execute("SELECT pin_own(%s, %s) AS done", [token, kept]).fetchone()
    if not row or not row["done"]:
        raise SignInRefused("Your session has ended: sign in again.")
