"""The connection pool, and the one way into the database: a transaction that belongs to a shop."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from typing import Any
from uuid import UUID

from psycopg import Connection, OperationalError
from psycopg.rows import dict_row
from psycopg_pool import ConnectionPool, PoolTimeout

from ..core.errors import KalonError

Row = dict[str, Any]
Cx = Connection[Row]
Pool = ConnectionPool[Cx]


class StoreAway(KalonError):
    """The database doesn't answer."""

    code = "store-away"
    status = 503


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


def _as_app(connection: Cx) -> None:
    connection.execute("SET ROLE kalon_app")
    connection.commit()


def open_pool(url: str, *, size: int = 10) -> Pool:
    """A pool whose connections act as the role `kalon_app` and are checked before use."""
    return ConnectionPool(
        url,
        min_size=1,
        max_size=size,
        timeout=4,
        open=True,
        reconnect_timeout=30,
        kwargs={"row_factory": dict_row, "connect_timeout": 3},
        configure=_as_app,
        check=ConnectionPool.check_connection,
        connection_class=Connection[Row],
    )


@contextmanager
def transaction(pool: Pool) -> Iterator[Cx]:
    """A transaction of no shop: only the sign-in functions answer here. Raises `StoreAway`."""
    try:
        with pool.connection() as connection:
            yield connection
    except (OperationalError, PoolTimeout) as error:
        raise StoreAway(AWAY) from error


@contextmanager
def at_shop(pool: Pool, shop_id: UUID) -> Iterator[Cx]:
    """A transaction that sees and writes the rows of one shop only. Raises `StoreAway`."""
    with transaction(pool) as connection:
        connection.execute("SELECT set_config('kalon.shop_id', %s, true)", [str(shop_id)])
        yield connection
