"""Who is asking, and with which rights: the dependencies every router uses."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator
from contextlib import contextmanager
from typing import Annotated, Literal

from fastapi import Depends, Request
from fastapi.dependencies.models import Dependant
from fastapi.routing import APIRoute
from starlette.routing import BaseRoute

from ..core.errors import Forbidden, KalonError
from ..store.database import Cx, Pool, Who, at_shop
from ..store.staff import who_has

COOKIE = "kalon_session"
Needs = Literal["all", "sells", "manages"]
"""Whom a route is for: everybody who is signed in, fitters and managers, managers."""


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


def needs_seller(desk: Desk) -> None:
    """Raises `Forbidden` for a trainee."""
    if desk.who.role not in ("fitter", "manager"):
        raise Forbidden("A trainee prepares: this is for a fitter or manager to do.")


def seller(desk: Annotated[Desk, Depends(anyone)]) -> Desk:
    """A fitter or manager: trainees prepare; they don't sell, promise, move stock or take a consent."""
    needs_seller(desk)
    return desk


def manager(desk: Annotated[Desk, Depends(anyone)]) -> Desk:
    """A manager."""
    if desk.who.role != "manager":
        raise Forbidden("Only a manager may do this.")
    return desk


def who_may(routes: Iterable[BaseRoute]) -> dict[tuple[str, str], Needs]:
    """Who may call which route, by method and path, as the routes themselves ask; not those that ask nobody."""
    asked: tuple[tuple[Callable[..., object], Needs], ...] = ((manager, "manages"), (seller, "sells"), (anyone, "all"))
    found: dict[tuple[str, str], Needs] = {}
    for route in routes:
        if isinstance(route, APIRoute):
            calls = _called(route.dependant)
            needs = next((word for call, word in asked if call in calls), None)
            found |= {(m.lower(), route.path): needs for m in route.methods or () if needs}
    return found


def _called(of: Dependant) -> set[object]:
    return {of.call} | {call for part in of.dependencies for call in _called(part)}


Anyone = Annotated[Desk, Depends(anyone)]
Seller = Annotated[Desk, Depends(seller)]
Manager = Annotated[Desk, Depends(manager)]
