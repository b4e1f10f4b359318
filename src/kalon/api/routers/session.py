"""Signing in and out."""

from __future__ import annotations

import secrets
from functools import partial

from anyio import CapacityLimiter
from anyio.to_thread import run_sync
from fastapi import APIRouter, Request, Response

from ...core.errors import KalonError, bad_field
from ...store import staff
from ...store.database import Who
from ..desk import COOKIE, Anyone, gate_of, pool_of
from ..schemas import Me, OwnPassword, SignIn

router = APIRouter(prefix="/api/session", tags=["session"])
DEVICE = "kalon_device"
"""Marks a browser that somebody signed in from before: wrong tries elsewhere don't slow it."""
AT_ONCE, MOST_WAITING = 1, 20
"""Passwords verified at a time in this process (each takes 64 MB and a processor), and how many may wait for it."""
_verifying: CapacityLimiter | None = None


class Full(KalonError):
    """Too many are signing in at this moment."""

    code = "sign-in-full"
    status = 503


def _me(who: Who) -> Me:
    return Me(name=who.name, login=who.login, role=who.role, shop_name=who.shop_name, seal=who.seal)


def _limiter() -> CapacityLimiter:
    global _verifying
    if _verifying is None:
        _verifying = CapacityLimiter(AT_ONCE)
    return _verifying


def not_many() -> CapacityLimiter:
    """Turns at a password. Raises `Full` where too many wait for one."""
    limiter = _limiter()
    if limiter.statistics().tasks_waiting >= MOST_WAITING:
        raise Full("Many are signing in just now. Try again in a moment.")
    return limiter


async def _verified(request: Request, login: str, shop: str, password: str) -> list[staff.Candidate]:
    """Those whom a name and a password are of, once the try is counted."""
    limiter = not_many()
    came_from = request.client.host if request.client else ""
    known = request.cookies.get(DEVICE)
    found = await run_sync(partial(staff.candidates, gate_of(request), login, shop, came_from, known))
    return await run_sync(partial(staff.verified, found, password), limiter=limiter)


@router.post("")
async def sign_in(given: SignIn, request: Request, response: Response) -> Me:
    """Open a session; its token goes into an HttpOnly cookie."""
    gate, login = gate_of(request), staff.plain_login(given.login)
    known = request.cookies.get(DEVICE)
    came_from = request.client.host if request.client else ""
    right = await _verified(request, login, given.shop, given.password)
    person = staff.the_one(right, given.shop)
    device = known or secrets.token_urlsafe(24)
    token = await run_sync(partial(staff.open_session, gate, person, device, came_from))
    who = await run_sync(partial(staff.who_has, pool_of(request), token))
    if not who:
        raise staff.SignInRefused("That name and password don't go together.")
    for name, value, lasts in ((COOKIE, token, staff.SESSION_LASTS), (DEVICE, device, staff.DEVICE_LASTS)):
        response.set_cookie(
            name,
            value,
            max_age=int(lasts.total_seconds()),
            httponly=True,
            samesite="strict",
            secure=request.url.scheme == "https",
        )
    return _me(who)


@router.get("")
def who_am_i(desk: Anyone) -> Me:
    """Who is signed in."""
    return _me(desk.who)


@router.put("/password", status_code=204)
async def change_password(desk: Anyone, request: Request, given: OwnPassword) -> None:
    """One's own password, by the one there is; every other session of theirs ends."""
    right = await _verified(request, desk.who.login, desk.who.shop_name, given.password)
    if desk.who.staff_id not in {c.staff_id for c in right}:
        raise bad_field("password", "wrong", "That is not your password.")
    change = partial(staff.own_password, gate_of(request), desk.token, desk.who.login, given.new_password)
    await run_sync(change, limiter=not_many())


@router.delete("", status_code=204)
def sign_out(desk: Anyone, response: Response) -> None:
    """End the session."""
    staff.sign_out(desk.pool, desk.token)
    response.delete_cookie(COOKIE)
