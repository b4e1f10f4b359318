"""The application: routers, problems, health, and the built interface."""

from __future__ import annotations

import errno
import logging
import os
import re
from collections.abc import AsyncIterator
from contextlib import asynccontextmanager
from functools import lru_cache
from pathlib import Path

import structlog
from anyio import to_thread
from fastapi import FastAPI, Request, Response
from fastapi.exceptions import RequestValidationError
from fastapi.responses import FileResponse, HTMLResponse, JSONResponse
from starlette.exceptions import HTTPException
from starlette.middleware.gzip import GZipMiddleware

from .. import __version__
from ..core.errors import KalonError, from_findings
from ..core.rules.spec import check_rulebook
from ..core.sports.every import check_sports
from ..core.systems import check_systems
from ..files import workers
from ..store.database import CONNECTIONS, Full, open_pool, transaction
from ..store.migrate import pending
from .assets import Assets
from .desk import Sessions
from .guard import Guard, plain, problem, said
from .routers import (
    athletes,
    away,
    calc,
    day,
    feet,
    fittings,
    invited,
    ledger,
    orders,
    pairs,
    pictures,
    plans,
    prices,
    pull,
    purchases,
    queue,
    rack,
    reach,
    return_,
    rooms,
    session,
    settle,
    sheets,
    size_card,
    spec,
    squads,
    tablets,
    takings,
    trial,
    turned,
)
from .schemas import Problem

DIST = Path(os.environ.get("KALON_DIST") or Path(__file__).parents[3] / "web" / "dist")
"""The built interface."""
AT_THE_ROOT = {
    "sw.js": "text/javascript",
    "manifest.webmanifest": "application/manifest+json",
    "icon.svg": "image/svg+xml",
}
"""Files of the interface that a browser asks for at the root: what works offline, and how it is installed."""
STATUSES = {
    400: "Not as agreed.", 401: "Not signed in.", 403: "Not allowed.", 404: "Not here.", 405: "Not done here.",
    408: "Too slow.", 409: "The state of things forbids it.", 413: "Too big.", 422: "Values that can't be used.",
    429: "Too many tries.", 500: "Our fault.", 503: "Full, or the store is away.",
}  # fmt: skip


def _logging() -> None:
    """JSON lines on standard output: route, status, time. Never a path's values, a body or a person."""
    structlog.configure(
        processors=[structlog.processors.add_log_level, structlog.processors.TimeStamper("iso", utc=True),
                    structlog.processors.JSONRenderer()],
        wrapper_class=structlog.make_filtering_bound_logger(
            logging.getLevelNamesMapping().get(os.environ.get("KALON_LOG", "INFO").upper(), logging.INFO)
        ),
    )  # fmt: skip


@asynccontextmanager
async def _lifespan(app: FastAPI) -> AsyncIterator[None]:
    check_sports()
    check_systems()
    check_rulebook()
    to_thread.current_default_thread_limiter().total_tokens = CONNECTIONS
    app.state.pool = open_pool(os.environ["KALON_DATABASE_URL"])
    app.state.gate = open_pool(os.environ["KALON_GATE_URL"], size=2)
    app.state.sessions = Sessions()
    yield
    app.state.pool.close()
    app.state.gate.close()
    workers.stop()


NO_ROOM = (errno.ENOSPC, errno.EDQUOT, errno.EFBIG)
"""What a write says where there is no room left for a file."""


def _allowed(request: Request) -> str:
    """The methods there are at a path that was asked in another way."""
    found = {"GET"} if not request.url.path.startswith("/api/") else set()
    for path, methods in request.app.openapi()["paths"].items():
        if re.fullmatch(re.sub(r"\{[^}]+\}", "[^/]+", path), request.url.path):
            found |= {m.upper() for m in methods}
    if "GET" in found:
        found.add("HEAD")
    return ", ".join(sorted(found))


STATIONS = (fittings, feet, spec, pull, trial, settle, return_, turned)
AFTER = (day, pairs, plans, squads)
ROUTERS = (
    session, invited, athletes, *STATIONS, *AFTER, rooms, rack, orders, takings, prices, purchases, pictures, sheets,
    ledger, queue, size_card, reach, away, tablets, calc,
)  # fmt: skip


def create_app() -> FastAPI:
    """The application; one per process, all state in PostgreSQL."""
    _logging()
    app = FastAPI(
        title="Kalon",
        version=__version__,
        lifespan=_lifespan,
        docs_url=None,
        redoc_url=None,
        openapi_url="/api/openapi.json",
        separate_input_output_schemas=False,
    )
    app.add_middleware(GZipMiddleware, minimum_size=2000, compresslevel=3)
    app.add_middleware(Guard)

    @app.exception_handler(KalonError)
    async def known(_: Request, error: KalonError) -> JSONResponse:
        return said(error)

    @app.exception_handler(OSError)
    async def unwritten(_: Request, error: OSError) -> JSONResponse:
        if error.errno not in NO_ROOM:
            raise error
        structlog.get_logger().error("no room to write in", errno=error.errno)
        return said(Full())

    @app.exception_handler(RequestValidationError)
    async def invalid(_: Request, error: RequestValidationError) -> JSONResponse:
        findings = [dict(f) | {"loc": f["loc"][1:]} for f in error.errors()]
        return problem(422, from_findings(findings).as_problem())

    @app.exception_handler(HTTPException)
    async def http(request: Request, error: HTTPException) -> JSONResponse:
        text = {404: "There is nothing here.", 405: "That can't be done here."}.get(
            error.status_code, str(error.detail)
        )
        headers = dict(error.headers or {})
        if error.status_code == 405:
            headers["allow"] = _allowed(request)
        return plain(error.status_code, "http", text, headers)

    @app.get("/health", include_in_schema=False)
    async def health() -> dict[str, str]:
        """Whether the process answers."""
        return {"status": "ok", "version": __version__}

    @app.get("/ready", include_in_schema=False)
    def ready(request: Request) -> Response:
        """Whether the database answers and is of this version."""
        with transaction(request.app.state.pool) as cx:
            missing = pending(cx)
        if missing:
            return plain(503, "not-migrated", "The database is of an older version.")
        return JSONResponse({"status": "ready"})

    for part in ROUTERS:
        app.include_router(part.router)
    _describe(app)
    if DIST.is_dir():
        app.mount("/assets", Assets(directory=DIST / "assets"), name="assets")

        @app.get("/{path:path}", include_in_schema=False)
        def page(request: Request, path: str) -> Response:
            if path.startswith("api/"):
                raise HTTPException(404)
            if path in AT_THE_ROOT and (DIST / path).is_file():
                return FileResponse(DIST / path, media_type=AT_THE_ROOT[path])
            return HTMLResponse(_index().replace("__NONCE__", request.state.nonce))

    return app


def _describe(app: FastAPI) -> None:
    """Every problem an answer may be, in the API's own description, under its real media type."""
    plain_openapi = app.openapi

    def described() -> dict[str, object]:
        if app.openapi_schema:
            return app.openapi_schema
        whole = plain_openapi()
        schemas = whole.setdefault("components", {}).setdefault("schemas", {})
        for name in ("HTTPValidationError", "ValidationError"):
            schemas.pop(name, None)
        model = Problem.model_json_schema(ref_template="#/components/schemas/{model}")
        schemas |= model.pop("$defs", {})
        schemas["Problem"] = model
        content = {"application/problem+json": {"schema": {"$ref": "#/components/schemas/Problem"}}}
        for path in whole["paths"].values():
            for operation in path.values():
                for status, text in STATUSES.items():
                    operation["responses"][str(status)] = {"description": text, "content": content}
        app.openapi_schema = whole
        return whole

    app.openapi = described  # type: ignore[method-assign]


@lru_cache(maxsize=1)
def _index_of(_mtime_ns: int) -> str:
    return (DIST / "index.html").read_text(encoding="utf-8")


def _index() -> str:
    """The first page: read again when the interface was built anew under a running server."""
    return _index_of((DIST / "index.html").stat().st_mtime_ns)
