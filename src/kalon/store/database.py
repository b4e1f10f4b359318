"""The connection pool, and the one way into the database: a transaction that belongs to a shop."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from typing import Any
from uuid import UUID

from psycopg import Connection, DatabaseError, DataError, OperationalError
from psycopg.errors import DeadlockDetected, DiskFull, ForeignKeyViolation, UniqueViolation
from psycopg.rows import dict_row
from psycopg_pool import ConnectionPool, PoolTimeout

from ..core.errors import BadInput, Conflict, Forbidden, KalonError, NotFound

Row = dict[str, Any]
Cx = Connection[Row]
Pool = ConnectionPool[Cx]


class StoreAway(KalonError):
    """The database doesn't answer."""

    code = "store-away"
    status = 503


class Deadlocked(StoreAway):
    """It waited for somebody who waited for it, and gave way: nothing was done, and it may be tried again at once."""


class Full(KalonError):
    """There is no room left to write in."""

    code = "disk-full"
    status = 507

    def __init__(self) -> None:
        super().__init__("The machine's disk is full, so this could not be kept. Nothing was changed; make room on it.")


AWAY = "The record store is not answering. What you typed is kept here and will be sent."


@dataclass(frozen=True)
class Who:
    """The person signed in, and their shop."""

    staff_id: UUID
    shop_id: UUID
    shop_name: str
    login: str
    name: str
    role: str
    seal: str = ""
    """With what a browser seals what this person leaves unsent, 64 hexadecimal digits; known of a session alone."""


ERASED = "This athlete was erased at their request. Nothing is kept of them any more."
ERASED_STATE = "KA410"
"""What the database says of a write to somebody who was erased."""
FORBIDDEN_STATE = "KA403"
"""What the database says of something the person signed in may not do."""
LIMITS = "-c statement_timeout=20s -c lock_timeout=10s -c idle_in_transaction_session_timeout=60s -c jit=off"
"""No question holds a connection for ever; none is compiled first, which takes longer than the longest of them."""


def open_pool(url: str, *, size: int = 10) -> Pool:
    """A pool of connections, checked before use. Its role sees no rows until a session proves a shop."""
    return ConnectionPool(
        url,
        min_size=1,
        max_size=size,
        timeout=4,
        open=True,
        reconnect_timeout=30,
        kwargs={"row_factory": dict_row, "connect_timeout": 3, "options": LIMITS},
        check=ConnectionPool.check_connection,
        connection_class=Connection[Row],
    )


@contextmanager
def transaction(pool: Pool) -> Iterator[Cx]:
    """A transaction of no shop. Raises `StoreAway`; what the tables refuse becomes a sentence."""
    try:
        with pool.connection() as connection:
            yield connection
    except DeadlockDetected as error:
        raise Deadlocked(AWAY) from error
    except DiskFull as error:
        raise Full from error
    except (OperationalError, PoolTimeout) as error:
        raise StoreAway(AWAY) from error
    except UniqueViolation:
        raise Conflict("Something is already kept under that id. Nothing was changed.", code="id-used") from None
    except ForeignKeyViolation:
        raise NotFound("What this refers to is not here.") from None
    except DataError:
        raise BadInput("A value is outside what can be kept.") from None
    except DatabaseError as error:
        if error.sqlstate == ERASED_STATE:
            raise NotFound(ERASED, code="erased") from None
        if error.sqlstate == FORBIDDEN_STATE:
            raise Forbidden("This is not for you to do.") from None
        raise


@contextmanager
def at_shop(pool: Pool, token: str) -> Iterator[Cx]:
    """A transaction that sees and writes the rows of one shop only: the one the session's token proves."""
    with transaction(pool) as connection:
        enter(connection, token)
        yield connection


def enter(connection: Cx, token: str) -> None:
    """Show the session's token to the database for this transaction; row security asks for it."""
    connection.execute("SELECT set_config('kalon.token', %s, true)", [token])
