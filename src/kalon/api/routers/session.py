"""Signing in and out."""

from __future__ import annotations

import secrets
from datetime import timedelta
from functools import partial

from anyio import CapacityLimiter
from anyio.to_thread import run_sync
from fastapi import APIRouter, Request, Response

from ...core.errors import BadInput, KalonError, bad_field
from ...store import staff, tablets
from ...store.database import Who, at_shop
from ..desk import COOKIE, Surely, gate_of, pool_of, sessions_of
from ..schemas import Me, OwnPassword, SignIn
from ..schemas_tablets import HereOut, OwnPin, PersonHere, PinIn, ProofIn

router = APIRouter(prefix="/api/session", tags=["session"])
DEVICE = "kalon_device"
"""Marks a browser that somebody signed in from before: wrong tries elsewhere don't slow it."""
TABLET = "kalon_tablet"
"""Marks a browser that is a tablet of the shop's own."""
AT_ONCE, MOST_WAITING = 1, 20
"""Passwords verified at a time in this process (each takes 64 MB and a processor), and how many may wait for it."""
_verifying: CapacityLimiter | None = None


class Full(KalonError):
    """Too many are signing in at this moment."""

    code = "sign-in-full"
    status = 503


def _me(who: Who, tablet: str | None = None) -> Me:
    return Me(
        name=who.name,
        login=who.login,
        role=who.role,
        shop_name=who.shop_name,
        seal=who.seal,
        tablet=tablet,
    )


def keep_cookie(request: Request, response: Response, name: str, value: str, lasts: timedelta) -> None:
    """A secret for the browser alone, which no page reads and no other site sends."""
    response.set_cookie(
        name,
        value,
        max_age=int(lasts.total_seconds()),
        httponly=True,
        samesite="strict",
        secure=request.url.scheme == "https",
    )


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
    keep_cookie(request, response, COOKIE, token, staff.SESSION_LASTS)
    keep_cookie(request, response, DEVICE, device, staff.DEVICE_LASTS)
    return await run_sync(partial(_me_here, request, token, who))


def _me_here(request: Request, token: str, who: Who) -> Me:
    """Who is signed in, and on which of the shop's tablets; that it was seen is noted."""
    tablet = request.cookies.get(TABLET)
    if not tablet:
        return _me(who)
    with at_shop(pool_of(request), token) as cx:
        return _me(who, tablets.here(cx, tablet))


@router.get("")
def who_am_i(desk: Surely, request: Request) -> Me:
    """Who is signed in."""
    return _me_here(request, desk.token, desk.who)


@router.get("/here")
def here(request: Request) -> HereOut:
    """The tablet this browser is, and who works there; a browser that is none hears nothing. Asks nobody who they
    are."""
    tablet = request.cookies.get(TABLET)
    found = tablets.people_on(gate_of(request), tablet) if tablet else []
    people = [PersonHere(id=r["staff_id"], **{k: r[k] for k in ("login", "name", "role", "pin")}) for r in found]
    first = found[0] if found else {"tablet": None, "shop_name": ""}
    return HereOut(tablet=first["tablet"], shop_name=first["shop_name"], people=people)


@router.post("/pin")
async def sign_in_by_pin(given: PinIn, request: Request, response: Response) -> Me:
    """Open a session on a tablet of the shop's own, by a PIN; who was signed in there before is signed out."""
    tablet = request.cookies.get(TABLET) or ""
    opening = partial(tablets.by_pin, gate_of(request), tablet, given.person, given.pin)
    token = await run_sync(opening, limiter=not_many())
    who = await run_sync(partial(staff.who_has, pool_of(request), token))
    if not who:
        raise staff.SignInRefused("That isn't the PIN.")
    before = request.cookies.get(COOKIE)
    if before:
        await run_sync(partial(staff.sign_out, pool_of(request), before))
    keep_cookie(request, response, COOKIE, token, staff.SESSION_LASTS)
    return await run_sync(partial(_me_here, request, token, who))


@router.post("/proof", status_code=204)
async def prove(desk: Surely, given: ProofIn, request: Request, response: Response) -> None:
    """Show that it is still who is signed in, by PIN or password; the session goes on as another one.

    What is wrong is a field's trouble: the session stands all the same."""
    gate, who = gate_of(request), desk.who
    if given.pin is not None:
        opening = partial(tablets.by_pin, gate, request.cookies.get(TABLET) or "", who.staff_id, given.pin)
        try:
            token = await run_sync(opening, limiter=not_many())
        except tablets.PinOver as over:
            raise BadInput(over.text, code=over.code) from None
        except staff.SignInRefused as refused:
            raise bad_field("pin", "wrong", refused.text) from None
    else:
        right = await _verified(request, who.login, who.shop_name, given.password or "")
        person = next((c for c in right if c.staff_id == who.staff_id), None)
        if person is None:
            raise bad_field("password", "wrong", "That is not your password.")
        device = request.cookies.get(DEVICE) or secrets.token_urlsafe(24)
        came_from = request.client.host if request.client else ""
        token = await run_sync(partial(staff.open_session, gate, person, device, came_from))
        keep_cookie(request, response, DEVICE, device, staff.DEVICE_LASTS)
    await run_sync(partial(staff.sign_out, desk.pool, desk.token))
    sessions_of(request).seen(desk.token, None)
    keep_cookie(request, response, COOKIE, token, staff.SESSION_LASTS)


@router.put("/pin", status_code=204)
async def change_pin(desk: Surely, request: Request, given: OwnPin) -> None:
    """One's own PIN for the shop's tablets, by one's password; without one there is none any more."""
    if given.pin is not None:
        tablets.check_pin(given.pin)
    right = await _verified(request, desk.who.login, desk.who.shop_name, given.password)
    if desk.who.staff_id not in {c.staff_id for c in right}:
        raise bad_field("password", "wrong", "That is not your password.")
    await run_sync(partial(tablets.own_pin, gate_of(request), desk.token, given.pin), limiter=not_many())


@router.put("/password", status_code=204)
async def change_password(desk: Surely, request: Request, given: OwnPassword) -> None:
    """One's own password, by the one there is; every other session of theirs ends."""
    right = await _verified(request, desk.who.login, desk.who.shop_name, given.password)
    if desk.who.staff_id not in {c.staff_id for c in right}:
        raise bad_field("password", "wrong", "That is not your password.")
    change = partial(staff.own_password, gate_of(request), desk.token, desk.who.login, given.new_password)
    await run_sync(change, limiter=not_many())


@router.delete("", status_code=204)
def sign_out(desk: Surely, request: Request, response: Response) -> None:
    """End the session."""
    staff.sign_out(desk.pool, desk.token)
    sessions_of(request).seen(desk.token, None)
    response.delete_cookie(COOKIE)
