"""How far a measuring is, said in the store while a worker is at it, and forgotten afterwards."""

from __future__ import annotations

import contextlib
from collections.abc import AsyncIterator, Awaitable, Callable
from uuid import UUID

from starlette.concurrency import run_in_threadpool

from ..store import captures
from ..store.database import StoreAway
from .desk import Desk


@contextlib.asynccontextmanager
async def telling(desk: Desk, key: UUID) -> AsyncIterator[Callable[[float, str], Awaitable[None]]]:
    """What hears of each step of the measuring of that id, held no longer than the measuring."""

    def told(share: float, step: str) -> None:
        with contextlib.suppress(StoreAway), desk.open() as cx:
            captures.progress(cx, desk.who, key, share, step)

    def forgotten() -> None:
        with contextlib.suppress(StoreAway), desk.open() as cx:
            captures.done(cx, key)

    async def tell(share: float, step: str) -> None:
        await run_in_threadpool(told, share, step)

    try:
        yield tell
    finally:
        await run_in_threadpool(forgotten)
