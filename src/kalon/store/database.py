"""The connection pool, and the one way into the database: a transaction that belongs to a shop."""

from __future__ import annotations

import re
import select
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from threading import Lock
from typing import Any, LiteralString
from uuid import UUID

from psycopg import Connection, DatabaseError, DataError, OperationalError
from psycopg.errors import DeadlockDetected, DiskFull, ForeignKeyViolation, UniqueViolation
from psycopg.rows import dict_row
from psycopg.types.json import set_json_loads
from psycopg_pool import ConnectionPool, PoolTimeout
from pydantic_core import from_json

from ..core.errors import BadInput, Conflict, Forbidden, KalonError, NotFound
from ..core.remembered import forget_all

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
LIMITS = (
    "-c statement_timeout=20s -c lock_timeout=10s -c idle_in_transaction_session_timeout=60s -c jit=off "
    "-c plan_cache_mode=force_generic_plan"
)
"""No question holds a connection for ever; none is compiled first, which takes longer than the longest of them; what is
planned once is planned for good: planning is a third of what the database has to do for a call."""
CONNECTIONS = 8
"""Of each web process, and as many threads of it work at a time: more would only wait for each other on a processor."""
PLANS_KEPT = 400
"""Statements kept planned in a connection, from the second time they are asked."""
TOKEN = re.compile(r"[A-Za-z0-9_-]{1,200}")
"""What a session's token is made of."""


def open_pool(url: str, *, size: int = CONNECTIONS) -> Pool:
    """A pool of connections, looked at before use. Its role sees no rows until a session proves a shop."""
    return ConnectionPool(
        url,
        min_size=1,
        max_size=size,
        timeout=4,
        open=True,
        reconnect_timeout=30,
        kwargs={
            "row_factory": dict_row,
            "connect_timeout": 3,
            "options": LIMITS,
            "prepare_threshold": 1,
            "autocommit": True,
        },
        configure=_ready,
        check=_still_there,
        connection_class=Connection[Row],
    )


def _ready(connection: Cx) -> None:
    connection.prepared_max = PLANS_KEPT
    set_json_loads(from_json, connection)
    row = connection.execute(INCARNATION).fetchone()
    _database.now_is(row["it"] if row else "")


INCARNATION = """
    SELECT (SELECT oid FROM pg_database WHERE datname = current_database()) || ' of '
           || (SELECT system_identifier FROM pg_control_system()) || ' on '
           || (SELECT timeline_id FROM pg_control_checkpoint()) || ' with ' || to_regclass('learned_version')::oid AS it
"""
"""Which database it is: another one under the same address, one brought back from a backup, or one gone back to an
earlier moment is another, and nothing remembered of the one before is true of it."""


class _Database:
    """The database this process remembers things of."""

    def __init__(self) -> None:
        self._it = ""
        self._lock = Lock()

    def now_is(self, it: str) -> None:
        """It was just connected to; another than before ends what was remembered."""
        with self._lock:
            if self._it and it != self._it:
                forget_all()
            self._it = it


_database = _Database()


def _still_there(connection: Cx) -> None:
    """Raise where a connection has ended. One that lies idle has nothing to read but its end, or a word before it: only
    then is the server asked."""
    looking = select.poll()
    looking.register(connection.fileno(), select.POLLIN)
    if looking.poll(0):
        ConnectionPool.check_connection(connection)


@contextmanager
def _answering(pool: Pool) -> Iterator[Cx]:
    """A connection on which every statement stands alone. Raises `StoreAway`; what the tables refuse becomes a
    sentence."""
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
def planned_anew(connection: Cx) -> Iterator[None]:
    """What is asked meanwhile is planned for what is given: a few lines of a stockroom are read otherwise than all."""
    connection.execute("SET LOCAL plan_cache_mode = force_custom_plan")
    yield
    connection.execute("SET LOCAL plan_cache_mode = force_generic_plan")


@contextmanager
def transaction(pool: Pool) -> Iterator[Cx]:
    """A transaction of no shop; committed when left. Raises `StoreAway`; what the tables refuse becomes a sentence."""
    with _answering(pool) as connection:
        connection.execute("BEGIN", prepare=False)
        yield connection


def asked(pool: Pool, question: LiteralString, given: list[Any]) -> Row | None:
    """The first row of one statement of no shop. Raises as `transaction` does."""
    with _answering(pool) as connection:
        return connection.execute(question, given).fetchone()


class NotSignedIn(KalonError):
    """No session, or an ended one."""

    code = "not-signed-in"
    status = 401

    def __init__(self) -> None:
        super().__init__("Please sign in.")


@contextmanager
def at_shop(pool: Pool, token: str) -> Iterator[Cx]:
    """A transaction that sees and writes the rows of one shop only: the one the session's token proves; none where it
    proves none."""
    with _in_shop(pool, token) as (connection, _):
        yield connection


@contextmanager
def proven(pool: Pool, token: str) -> Iterator[Cx]:
    """The same, of a session that holds at this moment. Raises `NotSignedIn`."""
    with _in_shop(pool, token) as (connection, shop):
        if shop is None:
            raise NotSignedIn
        yield connection


@contextmanager
def _in_shop(pool: Pool, token: str) -> Iterator[tuple[Cx, UUID | None]]:
    """One trip to the database for the beginning, the token and the shop it proves."""
    shown = token if TOKEN.fullmatch(token) else ""
    with _answering(pool) as connection:
        begins = f"BEGIN; SELECT set_config('kalon.token', '{shown}', true); SELECT shop_now() AS shop"
        cursor = connection.execute(begins.encode(), prepare=False)
        while cursor.nextset():
            pass
        row = cursor.fetchone()
        yield connection, row["shop"] if row else None


def enter(connection: Cx, token: str) -> None:
    """Show the session's token to the database for this transaction; row security asks for it."""
    connection.execute("SELECT set_config('kalon.token', %s, true)", [token])
