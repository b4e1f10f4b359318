"""Signing in and out."""

from __future__ import annotations

from fastapi import APIRouter, Request, Response

from ...store import staff
from ...store.database import Who
from ..desk import COOKIE, Anyone, pool_of
from ..schemas import Me, SignIn

router = APIRouter(prefix="/api/session", tags=["session"])


def _me(who: Who) -> Me:
    return Me(name=who.name, login=who.login, role=who.role, shop_name=who.shop_name)


@router.post("")
def sign_in(given: SignIn, request: Request, response: Response) -> Me:
    """Open a session; its token goes into an HttpOnly cookie."""
    pool = pool_of(request)
    came_from = request.client.host if request.client else ""
    token = staff.sign_in(pool, given.login, given.password, came_from)
    who = staff.who_has(pool, token)
    assert who
    response.set_cookie(
        COOKIE,
        token,
        max_age=int(staff.SESSION_LASTS.total_seconds()),
        httponly=True,
        samesite="strict",
        secure=request.url.scheme == "https",
    )
    return _me(who)


@router.get("")
def who_am_i(desk: Anyone) -> Me:
    """Who is signed in."""
    return _me(desk.who)


@router.delete("", status_code=204)
def sign_out(desk: Anyone, request: Request, response: Response) -> None:
    """End the session."""
    staff.sign_out(desk.pool, desk.who, request.cookies[COOKIE])
    response.delete_cookie(COOKIE)
