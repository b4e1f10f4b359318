"""What an invitation opens: whoever holds it sets the password of whom it is of, once."""

from __future__ import annotations

from functools import partial

from anyio.to_thread import run_sync
from fastapi import APIRouter, Request

from ...store import staff
from ..desk import gate_of
from ..schemas import Invited, SetPassword
from .away import Token
from .session import not_many

router = APIRouter(prefix="/api/invited", tags=["session"])


@router.get("/{token}")
def invitation(token: Token, request: Request) -> Invited:
    """Whom an invitation is of, and until when it holds."""
    return Invited(**staff.invited(gate_of(request), token))


@router.post("/{token}", status_code=204)
async def set_password(token: Token, request: Request, given: SetPassword) -> None:
    """The password of whom an invitation is of, set by themselves; the invitation is over with it."""
    await run_sync(partial(staff.accept, gate_of(request), token, given.password), limiter=not_many())
