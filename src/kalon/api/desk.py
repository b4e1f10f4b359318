"""Who is asking, and with which rights: the dependencies every router uses."""

from __future__ import annotations

import time
from collections.abc import Callable, Iterable, Iterator
from contextlib import contextmanager
from typing import Annotated, Literal

from fastapi import Depends, Request
from fastapi.concurrency import run_in_threadpool
from fastapi.dependencies.models import Dependant
from fastapi.routing import APIRoute
from starlette.routing import BaseRoute

from ..core.errors import Forbidden
from ..core.remembered import Remembered
from ..store.database import Cx, NotSignedIn, Pool, Who, proven
from ..store.staff import who_has

COOKIE = "kalon_session"
Needs = Literal["all", "sells", "manages"]
"""Whom a route is for: everybody who is signed in, fitters and managers, managers."""


KNOWN_S = 20.0
"""How long a process takes somebody for signed in without asking the database. Nothing is read or written on the word
of that: every transaction asks anew (`Desk.open`), and so does whatever only a fitter or a manager may do."""
MOST_KNOWN = 5000


class Sessions:
    """Whom a process has seen signed in of late, by their tokens."""

    def __init__(self) -> None:
        self._seen: Remembered[tuple[Who, float]] = Remembered(MOST_KNOWN)

    def of(self, token: str) -> Who | None:
        """Who has that token, if that was seen not long ago."""
        who, until = self._seen.known(token) or (None, 0.0)
        return who if time.monotonic() < until else None

    def seen(self, token: str, who: Who | None) -> None:
        """Who has that token now; nobody where its session is over."""
        if who:
            self._seen.keep(token, (who, time.monotonic() + KNOWN_S))
        else:
            self._seen.forget(token)


class Desk:
    """The person asking, with transactions of their shop."""

    def __init__(self, pool: Pool, who: Who, token: str, sessions: Sessions) -> None:
        self.pool = pool
        self.who = who
        self.token = token
        self._sessions = sessions

    @contextmanager
    def open(self) -> Iterator[Cx]:
        """A transaction of this shop; committed when left, before anything is acknowledged. Raises `NotSignedIn` where
        the session is over by now, as it is for whoever was let go or given another role."""
        try:
            with proven(self.pool, self.token) as cx:
                yield cx
        except NotSignedIn:
            self._sessions.seen(self.token, None)
            raise


def pool_of(request: Request) -> Pool:
    """The process's pool."""
    pool: Pool = request.app.state.pool
    return pool


def sessions_of(request: Request) -> Sessions:
    """Whom the process has seen signed in."""
    sessions: Sessions = request.app.state.sessions
    return sessions


def gate_of(request: Request) -> Pool:
    """The process's pool for signing in."""
    gate: Pool = request.app.state.gate
    return gate


async def surely(request: Request) -> Desk:
    """Whoever is signed in at this moment, as the database says. Raises `NotSignedIn`."""
    pool, sessions = pool_of(request), sessions_of(request)
    token = request.cookies.get(COOKIE)
    who = await run_in_threadpool(who_has, pool, token) if token else None
    if token:
        sessions.seen(token, who)
    if not token or not who:
        raise NotSignedIn
    return Desk(pool, who, token, sessions)


async def anyone(request: Request) -> Desk:
    """Whoever is signed in, or was a moment ago: what they read and write asks again. Raises `NotSignedIn`."""
    token, sessions = request.cookies.get(COOKIE), sessions_of(request)
    who = sessions.of(token) if token else None
    if not token or not who:
        return await surely(request)
    return Desk(pool_of(request), who, token, sessions)


def needs_seller(desk: Desk) -> None:
    """Raises `Forbidden` for a trainee."""
    if desk.who.role not in ("fitter", "manager"):
        raise Forbidden("A trainee prepares: this is for a fitter or manager to do.")


async def seller(desk: Annotated[Desk, Depends(surely)]) -> Desk:
    """A fitter or manager: trainees prepare; they don't sell, promise, move stock or take a consent."""
    needs_seller(desk)
    return desk


async def manager(desk: Annotated[Desk, Depends(surely)]) -> Desk:
    """A manager."""
    if desk.who.role != "manager":
        raise Forbidden("Only a manager may do this.")
    return desk


def who_may(routes: Iterable[BaseRoute]) -> dict[tuple[str, str], Needs]:
    """Who may call which route, by method and path, as the routes themselves ask; not those that ask nobody."""
    asked: tuple[tuple[Callable[..., object], Needs], ...] = (
        (manager, "manages"), (seller, "sells"), (surely, "all"), (anyone, "all"),
    )  # fmt: skip
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
Surely = Annotated[Desk, Depends(surely)]
Seller = Annotated[Desk, Depends(seller)]
Manager = Annotated[Desk, Depends(manager)]
