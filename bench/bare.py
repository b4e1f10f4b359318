"""The platform's bare bound: the same framework, server, pool and driver, reading one row by its key."""

from __future__ import annotations

import os
import subprocess
import sys
import time
from collections.abc import AsyncIterator, Iterator
from contextlib import asynccontextmanager, contextmanager
from pathlib import Path

from fastapi import FastAPI, Request
from psycopg import Connection
from psycopg.rows import dict_row
from psycopg_pool import ConnectionPool
from pydantic import BaseModel

from kalon.host.postgres import free_port
from kalon.host.supervise import answers


class RowOut(BaseModel):
    """A row."""

    name: str
    version: str


@asynccontextmanager
async def _pool(app: FastAPI) -> AsyncIterator[None]:
    app.state.pool = ConnectionPool(
        os.environ["BARE_URL"], min_size=1, max_size=10, open=True, kwargs={"row_factory": dict_row},
        connection_class=Connection,
    )  # fmt: skip
    yield
    app.state.pool.close()


def create_app() -> FastAPI:
    """Two routes."""
    app = FastAPI(lifespan=_pool, openapi_url=None)

    @app.get("/ready")
    def ready() -> dict[str, str]:
        return {"status": "ready"}

    @app.get("/row")
    def row(request: Request) -> RowOut:
        with request.app.state.pool.connection() as cx:
            found = cx.execute(
                "SELECT rolname AS name, oid::text AS version FROM pg_roles WHERE rolname = %s", ["kalon_app"]
            ).fetchone()
        return RowOut(**found)

    return app


@contextmanager
def bare_url(database: str) -> Iterator[tuple[str, int]]:
    """It runs: its address and its process."""
    port = free_port()
    process = subprocess.Popen(
        [sys.executable, "-m", "uvicorn", "bench.bare:create_app", "--factory", "--port", str(port), "--no-access-log",
         "--log-level", "warning", "--timeout-keep-alive", "75"],
        env={**os.environ, "BARE_URL": database}, cwd=Path(__file__).parents[1],
    )  # fmt: skip
    try:
        while not answers("127.0.0.1", port):
            time.sleep(0.05)
        yield f"http://127.0.0.1:{port}", process.pid
    finally:
        process.terminate()
        process.wait()
