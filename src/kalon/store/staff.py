"""People of the shop: passwords (argon2), sessions on the server, sign-in slowed by the database.

Signing in goes through a pool of its own, whose role may call the sign-in functions and nothing else.
"""

from __future__ import annotations

import hashlib
import secrets
from dataclasses import dataclass
from datetime import timedelta
from typing import Any
from uuid import UUID

from argon2 import PasswordHasher
from argon2.exceptions import InvalidHashError, VerificationError

from ..core.errors import BadInput, Conflict, KalonError, NotFound, bad_field
from .audit import once, record_shop, used_elsewhere
from .database import Cx, Pool, Row, Who, at_shop, enter, transaction
from .ids import new_id

SESSION_LASTS = timedelta(hours=14)
DEVICE_LASTS = timedelta(days=400)
LEAST_PASSWORD = 10
LEAST_LETTERS = 5
"""Different characters a password needs at least. House default."""
ROLES = ("manager", "fitter", "trainee")

_hasher = PasswordHasher()
_NOBODY = "$argon2id$v=19$m=65536,t=3,p=4$vClOqMstfT9MapfZ0VhUIA$C/rHCzkCB3vC2AUujvzQqioWvr7HkG9rOV1WqTSAQd4"
"""What a password is held against when nobody has that name, so that it takes as long."""


class SignInRefused(KalonError):
    """Wrong name or password."""

    code = "sign-in-refused"
    status = 401


class SlowDown(KalonError):
    """Too many tries of late: the next one has to wait `wait_s` seconds."""

    code = "sign-in-slowed"
    status = 429

    def __init__(self, wait_s: float) -> None:
        self.wait_s = max(1, round(wait_s + 0.5))
        super().__init__(f"Many tries of late: try again in {self.wait_s} s.")


@dataclass(frozen=True)
class Candidate:
    """Somebody who may be meant by a sign-in name."""

    staff_id: UUID
    shop_name: str
    password_hash: str


def digest(text: str) -> bytes:
    """What is kept of a token."""
    return hashlib.sha256(text.encode()).digest()


def plain_login(login: str) -> str:
    """A sign-in name as it is kept."""
    return login.strip().lower()


def candidates(gate: Pool, login: str, came_from: str, device: str | None) -> list[Candidate]:
    """Count a try, then who may be meant. Raises `SlowDown` before anything is verified."""
    with transaction(gate) as cx:
        row = cx.execute(
            "SELECT sign_in_try(%s, %s, %s) AS wait_s", [login, came_from, digest(device) if device else None]
        ).fetchone()
        wait_s = float(row["wait_s"]) if row else 0.0
        found = [] if wait_s else cx.execute("SELECT * FROM sign_in_lookup(%s)", [login]).fetchall()
    if wait_s:
        raise SlowDown(wait_s)
    return [Candidate(**r) for r in found]


def verified(found: list[Candidate], password: str) -> list[Candidate]:
    """Those whose password this is. Slow on purpose, and as slow when there is nobody."""
    right = [c for c in found if _matches(c.password_hash, password)]
    if not found:
        _matches(_NOBODY, password)
    return right


def _matches(stored: str, password: str) -> bool:
    try:
        return _hasher.verify(stored, password)
    except (VerificationError, InvalidHashError):
        return False


def the_one(right: list[Candidate], shop: str) -> Candidate:
    """The person signing in. Raises `SignInRefused`, also when only the shop tells two people apart."""
    if not right:
        raise SignInRefused("That name and password don't go together.")
    meant = [c for c in right if c.shop_name.casefold() == shop.strip().casefold()] if len(right) > 1 else right
    if len(meant) != 1:
        raise SignInRefused("Two shops know you by this: say which shop's bench this is.", code="which-shop")
    return meant[0]


def open_session(gate: Pool, person: Candidate, device: str, came_from: str) -> str:
    """A new session's token; the try that led to it counts no more."""
    token = secrets.token_urlsafe(32)
    with transaction(gate) as cx:
        cx.execute(
            "SELECT sign_in_open(%s, %s, %s, %s, %s)",
            [person.staff_id, digest(token), SESSION_LASTS, digest(device), came_from],
        )
    return token


def who_has(pool: Pool, token: str) -> Who | None:
    """The person a session token belongs to, if it still holds."""
    with transaction(pool) as cx:
        row = cx.execute("SELECT * FROM session_lookup(%s)", [token]).fetchone()
    return Who(**row) if row else None


def sign_out(pool: Pool, token: str) -> None:
    """End a session."""
    with at_shop(pool, token) as cx:
        cx.execute("DELETE FROM session WHERE token_hash = %s", [digest(token)])


def act_as(cx: Cx, who: Who) -> str:
    """From here on to the end of the transaction as the application itself would, in a person's shop; the connection
    must own the tables. Gives the token of the session it opens."""
    token = secrets.token_urlsafe(16)
    cx.execute(
        "INSERT INTO session (token_hash, shop_id, staff_id, expires_at) "
        "VALUES (%s, %s, %s, now() + interval '1 hour')",
        [digest(token), who.shop_id, who.staff_id],
    )
    enter(cx, token)
    cx.execute("SET LOCAL ROLE kalon_app")
    return token


def a_manager(cx: Cx, shop: str | None) -> Who:
    """A manager of a shop, or of the only one there is; the connection must own the tables. Raises `NotFound`."""
    rows = cx.execute(
        "SELECT DISTINCT ON (h.id) s.id AS staff_id, s.shop_id, h.name AS shop_name, s.login, s.name, s.role "
        "FROM staff s JOIN shop h ON h.id = s.shop_id WHERE s.role = 'manager' AND s.active "
        "AND (%(shop)s::text IS NULL OR h.name = %(shop)s) ORDER BY h.id, s.id",
        {"shop": shop},
    ).fetchall()
    if len(rows) != 1:
        there = ", ".join(r["shop_name"] for r in rows)
        raise NotFound(f"Say which shop with --shop: {there}." if rows else "There is no such shop with a manager.")
    return Who(**rows[0])


def add_shop(cx: Cx, name: str, chain_id: UUID | None = None) -> UUID:
    """A new shop, in a chain or alone; the connection must own the tables."""
    shop_id = new_id()
    if chain_id is None:
        chain_id = add_chain(cx, name)
    cx.execute("INSERT INTO shop (id, name, chain_id) VALUES (%s, %s, %s)", [shop_id, name, chain_id])
    return shop_id


def add_chain(cx: Cx, name: str) -> UUID:
    """A new chain of shops; the connection must own the tables."""
    chain_id = new_id()
    cx.execute("INSERT INTO chain (id, name) VALUES (%s, %s)", [chain_id, name])
    return chain_id


def check_password(password: str, login: str) -> None:
    """Raise `BadInput` for a password that is guessed at once."""
    plain = password.casefold()
    if len(password) < LEAST_PASSWORD:
        raise bad_field("password", "short", f"A password has at least {LEAST_PASSWORD} characters.")
    if login and len(plain.replace(login, "")) < LEAST_PASSWORD / 2:
        raise bad_field("password", "plain", "A password is more than the sign-in name written again.")
    if len(set(plain)) < LEAST_LETTERS:
        raise bad_field("password", "plain", f"A password has at least {LEAST_LETTERS} different characters.")


def add_staff(cx: Cx, shop_id: UUID, login: str, name: str, role: str, password: str) -> UUID:
    """A new person. Raises `BadInput` or `Conflict` in words."""
    login = plain_login(login)
    if not login or not name.strip():
        raise BadInput("A person needs a sign-in name and a name.")
    _known_role(role)
    check_password(password, login)
    staff_id = new_id()
    added = cx.execute(
        "INSERT INTO staff (id, shop_id, login, name, role, password_hash) VALUES (%s, %s, %s, %s, %s, %s) "
        "ON CONFLICT (shop_id, login) DO NOTHING RETURNING id",
        [staff_id, shop_id, login, name.strip(), role, _hasher.hash(password)],
    ).fetchone()
    if not added:
        raise Conflict(f"Somebody already signs in as {login}.", code="login-taken")
    return staff_id


def _known_role(role: str) -> None:
    if role not in ROLES:
        raise bad_field("role", "unknown", f"A role is one of: {', '.join(ROLES)}.")


def newcomer(cx: Cx, who: Who, change_id: UUID, login: str, name: str, role: str, password: str) -> None:
    """A person added by a manager. The same `change_id` again adds nobody."""
    if _told_before(cx, change_id, None, plain_login(login)):
        return
    staff_id = add_staff(cx, who.shop_id, login, name, role, password)
    record_shop(
        cx, who, "person", staff_id, change_id, {}, {"login": plain_login(login), "name": name.strip(), "role": role}
    )


def _told_before(cx: Cx, change_id: UUID, staff_id: UUID | None, login: str = "") -> bool:
    once(cx, change_id)
    row = cx.execute("SELECT about, about_id, after FROM shop_change WHERE change_id = %s", [change_id]).fetchone()
    if not row:
        return False
    if row["about"] != "person" or (row["about_id"] != staff_id if staff_id else row["after"].get("login") != login):
        raise used_elsewhere()
    return True


def alter(
    cx: Cx,
    staff_id: UUID,
    *,
    active: bool | None = None,
    role: str | None = None,
    password: str | None = None,
) -> tuple[dict[str, Any], dict[str, Any]]:
    """Change what somebody may do, or their password; what it was, what it is. `end_sessions` is for afterwards.

    Raises `Conflict` when the shop would be left without a manager, `NotFound`, `BadInput`."""
    now = cx.execute(
        "SELECT id, shop_id, login, role, active FROM staff WHERE id = %s FOR UPDATE", [staff_id]
    ).fetchone()
    if not now:
        raise NotFound("There is no such person here.")
    if role is not None:
        _known_role(role)
    if password is not None:
        check_password(password, now["login"])
    wanted = {"role": role or now["role"], "active": now["active"] if active is None else active}
    if now["role"] == "manager" and now["active"] and wanted != {"role": "manager", "active": True}:
        others = cx.execute(
            "SELECT id FROM staff WHERE shop_id = %s AND role = 'manager' AND active AND id <> %s FOR UPDATE",
            [now["shop_id"], staff_id],
        ).fetchall()
        if not others:
            raise Conflict("A shop keeps at least one manager. Make somebody else a manager first.", code="last-one")
    cx.execute("UPDATE staff SET role = %s, active = %s WHERE id = %s", [wanted["role"], wanted["active"], staff_id])
    if password is not None:
        cx.execute("UPDATE staff SET password_hash = %s WHERE id = %s", [_hasher.hash(password), staff_id])
    before = {k: now[k] for k in wanted if now[k] != wanted[k]}
    after = {k: v for k, v in wanted.items() if now[k] != v}
    return before, after | ({"password": "new"} if password is not None else {})


def end_sessions(cx: Cx, staff_id: UUID) -> int:
    """Sign somebody out everywhere; how many sessions that were."""
    return cx.execute("DELETE FROM session WHERE staff_id = %s", [staff_id]).rowcount


def change_person(
    cx: Cx,
    who: Who,
    change_id: UUID,
    staff_id: UUID,
    *,
    active: bool | None = None,
    role: str | None = None,
    password: str | None = None,
) -> list[Row]:
    """A manager changes somebody, whose sessions all end at once; everyone as they then are."""
    if not _told_before(cx, change_id, staff_id):
        before, after = alter(cx, staff_id, active=active, role=role, password=password)
        record_shop(cx, who, "person", staff_id, change_id, before, after)
    everyone = people(cx)
    end_sessions(cx, staff_id)
    return everyone


def people(cx: Cx) -> list[Row]:
    """Everyone of the shop."""
    return cx.execute("SELECT id, login, name, role, active FROM staff ORDER BY name").fetchall()
