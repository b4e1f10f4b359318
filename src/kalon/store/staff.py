"""People of the shop: passwords (argon2), sessions on the server, sign-in slowed by the database.

Signing in goes through a pool of its own, whose role may call the sign-in functions and nothing else.
"""

from __future__ import annotations

import hashlib
import secrets
from dataclasses import dataclass
from datetime import timedelta
from ipaddress import IPv6Address, ip_address, ip_network
from typing import Any, LiteralString
from uuid import UUID

from argon2 import PasswordHasher
from argon2.exceptions import InvalidHashError, VerificationError
from zxcvbn import zxcvbn

from ..core.errors import BadInput, Conflict, KalonError, NotFound, bad_field
from .audit import once, record_shop, used_elsewhere
from .database import Cx, Pool, Row, Who, asked, at_shop, enter, transaction
from .ids import new_id

SESSION_LASTS = timedelta(hours=14)
DEVICE_LASTS = timedelta(days=400)
LEAST_PASSWORD = 10
LEAST_GUESSED = 2
"""A password of a lower score is refused: what lists of common ones hold, and what they become with a digit or the
sign-in name (zxcvbn's score, published: Wheeler 2016; two is more than a million guesses)."""
MOST_ASKED = 100
"""So much of a password is looked at for that."""
MOST_MEANT = 4
"""So many people of one sign-in name are held against a password; beyond, the shop has to be said."""
NO_PASSWORD = "!"  # noqa: S105
"""What is kept of somebody who hasn't set a password yet."""
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


def network(address: str) -> str:
    """An address as tries are counted by it: of the sixth version its network, which is one subscriber's."""
    try:
        ip = ip_address(address)
    except ValueError:
        return address
    if isinstance(ip, IPv6Address):
        return str(ip.ipv4_mapped or ip_network((ip, 64), strict=False))
    return str(ip)


def candidates(gate: Pool, login: str, shop: str, came_from: str, device: str | None) -> list[Candidate]:
    """Count a try, then who may be meant. Raises `SlowDown` before anything is verified."""
    with transaction(gate) as cx:
        row = cx.execute(
            "SELECT sign_in_try(%s, %s, %s) AS wait_s", [login, network(came_from), digest(device) if device else None]
        ).fetchone()
        wait_s = float(row["wait_s"]) if row else 0.0
        asked = [login, shop.strip(), MOST_MEANT]
        found = [] if wait_s else cx.execute("SELECT * FROM sign_in_lookup(%s, %s, %s)", asked).fetchall()
    if wait_s:
        raise SlowDown(wait_s)
    return [Candidate(**r) for r in found]


def verified(found: list[Candidate], password: str) -> list[Candidate]:
    """Those whose password this is. Slow on purpose, and as slow when there is nobody, or nobody with a password yet.

    Raises `SignInRefused` where so many have that name that the shop has to be said."""
    if len(found) > MOST_MEANT:
        _matches(_NOBODY, password)
        raise SignInRefused("Several shops know that name: say which shop's bench this is.", code="which-shop")
    right = [c for c in found if _matches(c.password_hash, password)]
    if all(c.password_hash == NO_PASSWORD for c in found):
        _matches(_NOBODY, password)
    return right


def hashed(secret: str) -> str:
    """What is kept of a password or a PIN."""
    return _hasher.hash(secret)


def held_against(kept: str, secret: str) -> bool:
    """Whether a secret is what was kept. Slow on purpose, and as slow where nothing was."""
    return _matches(_NOBODY if kept == NO_PASSWORD else kept, secret) and kept != NO_PASSWORD


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
            [person.staff_id, digest(token), SESSION_LASTS, digest(device), network(came_from)],
        )
        cx.execute("SELECT pin_again(%s)", [person.staff_id])
    return token


def who_has(pool: Pool, token: str) -> Who | None:
    """The person a session token belongs to, if it still holds."""
    row = asked(pool, "SELECT * FROM session_lookup(%s)", [token])
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
    if zxcvbn(plain[:MOST_ASKED], user_inputs=[login], max_length=MOST_ASKED)["score"] < LEAST_GUESSED:
        raise bad_field(
            "password", "common", "That password is guessed at once: take one that nobody else would think of."
        )


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
        raise _taken(login)
    return staff_id


def _taken(login: str) -> Conflict:
    return Conflict(f"Somebody already signs in as {login}.", code="login-taken")


def _known_role(role: str) -> None:
    if role not in ROLES:
        raise bad_field("role", "unknown", f"A role is one of: {', '.join(ROLES)}.")


def newcomer(cx: Cx, who: Who, change_id: UUID, login: str, name: str, role: str) -> None:
    """A person added by a manager, without a password before they set one. The same `change_id` again adds nobody."""
    login, name = plain_login(login), name.strip()
    if _told_before(cx, change_id, None, login):
        return
    if not login or not name:
        raise BadInput("A person needs a sign-in name and a name.")
    _known_role(role)
    staff_id = new_id()
    added = cx.execute("SELECT staff_add(%s, %s, %s, %s) AS done", [staff_id, login, name, role]).fetchone()
    if not added or not added["done"]:
        raise _taken(login)
    record_shop(cx, who, "person", staff_id, change_id, {}, {"login": login, "name": name, "role": role})


def invite(cx: Cx, staff_id: UUID) -> tuple[str, Row]:
    """A secret by which somebody sets their own password, once; those made before end. With until when it holds.

    Raises `NotFound`, also of somebody who is shut out."""
    token = secrets.token_urlsafe(32)
    made = cx.execute("SELECT staff_invite(%s, %s) AS done", [staff_id, digest(token)]).fetchone()
    if not made or not made["done"]:
        raise NotFound("There is no such person here, or they are shut out.")
    row = cx.execute("SELECT until FROM invitation WHERE staff_id = %s AND ended_at IS NULL", [staff_id]).fetchone()
    assert row
    return token, row


def _told_before(cx: Cx, change_id: UUID, staff_id: UUID | None, login: str = "") -> bool:
    once(cx, change_id)
    row = cx.execute("SELECT about, about_id, after FROM shop_change WHERE change_id = %s", [change_id]).fetchone()
    if not row:
        return False
    if row["about"] != "person" or (row["about_id"] != staff_id if staff_id else row["after"].get("login") != login):
        raise used_elsewhere()
    return True


AS_OWNER: tuple[LiteralString, LiteralString] = (
    "SELECT id FROM staff WHERE shop_id = (SELECT shop_id FROM staff WHERE id = %s) ORDER BY id FOR NO KEY UPDATE",
    "UPDATE staff SET role = %(role)s, active = %(active)s WHERE id = %(id)s",
)
AS_MANAGER: tuple[LiteralString, LiteralString] = (
    "SELECT staff_hold(%s)",
    "SELECT staff_alter(%(id)s, %(role)s, %(active)s)",
)
"""How people are held and changed: by a connection that owns the tables, or by a manager's session."""


def alter(
    cx: Cx,
    staff_id: UUID,
    *,
    active: bool | None = None,
    role: str | None = None,
    by: tuple[LiteralString, LiteralString] = AS_OWNER,
) -> tuple[dict[str, Any], dict[str, Any]]:
    """Change what somebody may do; what it was, what it is. `end_sessions` is for afterwards.

    Raises `Conflict` when the shop would be left without a manager, `NotFound`, `BadInput`."""
    hold, write = by
    cx.execute(hold, [staff_id])
    now = cx.execute("SELECT id, shop_id, role, active FROM staff WHERE id = %s", [staff_id]).fetchone()
    if not now:
        raise NotFound("There is no such person here.")
    if role is not None:
        _known_role(role)
    wanted = {"role": role or now["role"], "active": now["active"] if active is None else active}
    if now["role"] == "manager" and now["active"] and wanted != {"role": "manager", "active": True}:
        others = cx.execute(
            "SELECT 1 FROM staff WHERE shop_id = %s AND role = 'manager' AND active AND id <> %s LIMIT 1",
            [now["shop_id"], staff_id],
        ).fetchone()
        if not others:
            raise Conflict("A shop keeps at least one manager. Make somebody else a manager first.", code="last-one")
    cx.execute(write, {"id": staff_id, **wanted})
    before = {k: now[k] for k in wanted if now[k] != wanted[k]}
    return before, {k: v for k, v in wanted.items() if now[k] != v}


def set_password(cx: Cx, staff_id: UUID, password: str) -> None:
    """A new password; the connection must own the tables. Raises `BadInput`, `NotFound`."""
    row = cx.execute("SELECT login FROM staff WHERE id = %s", [staff_id]).fetchone()
    if not row:
        raise NotFound("There is no such person here.")
    check_password(password, row["login"])
    cx.execute("UPDATE staff SET password_hash = %s WHERE id = %s", [_hasher.hash(password), staff_id])


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
) -> list[Row]:
    """A manager changes somebody, whose sessions all end at once; everyone as they then are."""
    if not _told_before(cx, change_id, staff_id):
        before, after = alter(cx, staff_id, active=active, role=role, by=AS_MANAGER)
        record_shop(cx, who, "person", staff_id, change_id, before, after)
    everyone = people(cx)
    end_sessions(cx, staff_id)
    return everyone


def people(cx: Cx) -> list[Row]:
    """Everyone of the shop, and until when somebody is invited to set a password."""
    return cx.execute(
        "SELECT s.id, s.login, s.name, s.role, s.active, i.until AS invited_until FROM staff s LEFT JOIN invitation i "
        "ON i.staff_id = s.id AND i.ended_at IS NULL AND i.until > now() ORDER BY s.name"
    ).fetchall()


# --- one's own password, and a first one


class InvitationOver(NotFound):
    """An invitation that isn't one, or is over."""

    code = "invitation-over"

    def __init__(self) -> None:
        super().__init__("This invitation is over, or isn't one. Ask your shop's manager for a new one.")


def invited(gate: Pool, token: str) -> Row:
    """Whom an invitation is of. Raises `InvitationOver`."""
    with transaction(gate) as cx:
        row = cx.execute("SELECT * FROM invitation_open(%s)", [token]).fetchone()
    if not row:
        raise InvitationOver
    return row


def accept(gate: Pool, token: str, password: str) -> None:
    """Set the password an invitation is for; it holds once. Raises `InvitationOver`, `BadInput`."""
    check_password(password, invited(gate, token)["login"])
    kept = _hasher.hash(password)
    with transaction(gate) as cx:
        row = cx.execute("SELECT invitation_take(%s, %s) AS done", [token, kept]).fetchone()
    if not row or not row["done"]:
        raise InvitationOver


def own_password(gate: Pool, token: str, login: str, password: str) -> None:
    """Change one's own password; every other session of theirs ends. Raises `BadInput`, `SignInRefused`."""
    check_password(password, login)
    kept = _hasher.hash(password)
    with transaction(gate) as cx:
        row = cx.execute("SELECT password_own(%s, %s) AS done", [token, kept]).fetchone()
    if not row or not row["done"]:
        raise SignInRefused("Your session has ended: sign in again.")
