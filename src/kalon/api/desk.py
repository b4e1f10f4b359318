"""Who is asking, and with which rights: the dependencies every router uses."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from typing import Annotated

from fastapi import Depends, Request

from ..core.errors import Forbidden, KalonError
from ..store.database import Cx, Pool, Who, at_shop
from ..store.staff import who_has

COOKIE = "kalon_session"


class NotSignedIn(KalonError):
    """No session, or an ended one."""

    code = "not-signed-in"
    status = 401


class Desk:
    """The person asking, with transactions of their shop."""

    def __init__(self, pool: Pool, who: Who, token: str) -> None:
        self.pool = pool
        self.who = who
        self.token = token

    @contextmanager
    def open(self) -> Iterator[Cx]:
        """A transaction of this shop; committed when left, before anything is acknowledged."""
        with at_shop(self.pool, self.token) as cx:
            yield cx


def pool_of(request: Request) -> Pool:
    """The process's pool."""
    pool: Pool = request.app.state.pool
    return pool


def gate_of(request: Request) -> Pool:
    """The process's pool for signing in."""
    gate: Pool = request.app.state.gate
    return gate


def anyone(request: Request) -> Desk:
    """Whoever is signed in. Raises `NotSignedIn`."""
    pool = pool_of(request)
    token = request.cookies.get(COOKIE)
    who = who_has(pool, token) if token else None
    if not token or not who:
        raise NotSignedIn("Please sign in.")
    return Desk(pool, who, token)


def seller(desk: Annotated[Desk, Depends(anyone)]) -> Desk:
    """A fitter or manager: trainees prepare, they don't sell."""
    if desk.who.role not in ("fitter", "manager"):
        raise Forbidden("A trainee prepares; a fitter or manager settles.")
    return desk


def manager(desk: Annotated[Desk, Depends(anyone)]) -> Desk:
    """A manager."""
    if desk.who.role != "manager":
        raise Forbidden("Only a manager may do this.")
    return desk


Anyone = Annotated[Desk, Depends(anyone)]
Seller = Annotated[Desk, Depends(seller)]
Manager = Annotated[Desk, Depends(manager)]
