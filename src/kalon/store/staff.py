"""People of the shop: passwords (argon2), sessions on the server, sign-in throttled in the database."""

from __future__ import annotations

import hashlib
import secrets
from datetime import timedelta
from uuid import UUID

from argon2 import PasswordHasher
from argon2.exceptions import InvalidHashError, VerificationError

from ..core.errors import BadInput, Conflict, KalonError, bad_field
from .database import Cx, Pool, Row, Who, at_shop, transaction
from .ids import new_id

SESSION_LASTS = timedelta(hours=14)
TRIES, WINDOW = 6, timedelta(minutes=10)
LEAST_PASSWORD = 10
ROLES = ("manager", "fitter", "trainee")

_hasher = PasswordHasher()
_NOBODY = _hasher.hash("nobody has this password")


class SignInRefused(KalonError):
    """Wrong name or password, or too many tries."""

    code = "sign-in-refused"
    status = 401


def _digest(text: str) -> bytes:
    return hashlib.sha256(text.encode()).digest()


def _matches(stored: str, password: str) -> bool:
    try:
        return _hasher.verify(stored, password)
    except (VerificationError, InvalidHashError):
        return False


def sign_in(pool: Pool, login: str, password: str, came_from: str) -> str:
    """Open a session and return its token. Raises `SignInRefused`; throttled by name and by address together."""
    login = login.strip().lower()
    keys = [_digest(f"name:{login}"), _digest(f"from:{came_from}:{login}")]
    with transaction(pool) as cx:
        tries = max(
            int(cx.execute("SELECT sign_in_tries(%s, %s) AS n", [k, WINDOW]).fetchone()["n"])  # type: ignore[index]
            for k in keys
        )
        if tries >= TRIES:
            raise SignInRefused("Too many tries. Wait ten minutes, or ask a manager.", code="sign-in-throttled")
        found = cx.execute("SELECT * FROM sign_in_lookup(%s)", [login]).fetchone()
    right = _matches(found["password_hash"] if found else _NOBODY, password)
    if not found or not right:
        with transaction(pool) as cx:
            for key in keys:
                cx.execute("SELECT sign_in_failed(%s)", [key])
        raise SignInRefused("That name and password don't go together.")
    token = secrets.token_urlsafe(32)
    with at_shop(pool, found["shop_id"]) as cx:
        cx.execute(
            "INSERT INTO session (token_hash, shop_id, staff_id, expires_at) VALUES (%s, %s, %s, now() + %s)",
            [_digest(token), found["shop_id"], found["staff_id"], SESSION_LASTS],
        )
    return token


def who_has(pool: Pool, token: str) -> Who | None:
    """The person a session token belongs to, if it still holds."""
    with transaction(pool) as cx:
        row = cx.execute("SELECT * FROM session_lookup(%s)", [_digest(token)]).fetchone()
    return Who(**row) if row else None


def sign_out(pool: Pool, who: Who, token: str) -> None:
    """End a session."""
    with at_shop(pool, who.shop_id) as cx:
        cx.execute("DELETE FROM session WHERE token_hash = %s", [_digest(token)])


def add_shop(cx: Cx, name: str) -> UUID:
    """A new shop; the connection must own the tables."""
    shop_id = new_id()
    cx.execute("INSERT INTO shop (id, name) VALUES (%s, %s)", [shop_id, name])
    return shop_id


def add_staff(cx: Cx, shop_id: UUID, login: str, name: str, role: str, password: str) -> UUID:
    """A new person. Raises `BadInput` or `Conflict` in words."""
    login = login.strip().lower()
    if not login or not name.strip():
        raise BadInput("A person needs a sign-in name and a name.")
    if role not in ROLES:
        raise bad_field("role", "unknown", f"A role is one of: {', '.join(ROLES)}.")
    if len(password) < LEAST_PASSWORD:
        raise bad_field("password", "short", f"A password has at least {LEAST_PASSWORD} characters.")
    staff_id = new_id()
    added = cx.execute(
        "INSERT INTO staff (id, shop_id, login, name, role, password_hash) VALUES (%s, %s, %s, %s, %s, %s) "
        "ON CONFLICT (login) DO NOTHING RETURNING id",
        [staff_id, shop_id, login, name.strip(), role, _hasher.hash(password)],
    ).fetchone()
    if not added:
        raise Conflict(f"Somebody already signs in as {login}.", code="login-taken")
    return staff_id


def people(cx: Cx) -> list[Row]:
    """Everyone of the shop."""
    return cx.execute("SELECT id, login, name, role, active FROM staff ORDER BY name").fetchall()
