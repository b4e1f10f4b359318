"""The application: routers, problems, headers, health, and the built interface."""

from __future__ import annotations

import logging
import os
import secrets
import time
from collections.abc import AsyncIterator, Awaitable, Callable
from contextlib import asynccontextmanager
from functools import cache
from pathlib import Path
from urllib.parse import urlsplit

import structlog
from fastapi import FastAPI, Request, Response
from fastapi.exceptions import RequestValidationError
from fastapi.responses import HTMLResponse, JSONResponse
from fastapi.staticfiles import StaticFiles
from starlette.exceptions import HTTPException
from starlette.middleware.gzip import GZipMiddleware

from .. import __version__
from ..core.errors import KalonError, from_findings
from ..core.rules.spec import check_rulebook
from ..files import workers
from ..store.database import open_pool, transaction
from ..store.migrate import pending
from .routers import athletes, calc, feet, fittings, pull, return_, rooms, session, settle, spec, trial
from .schemas import Problem

DIST = Path(__file__).parents[3] / "web" / "dist"
BIGGEST_BODY = 1_000_000
FILES_AT = "/captures"
"""Uploads of files have their own, larger limits, kept while they stream in."""
SAFE = {"GET", "HEAD", "OPTIONS"}
log = structlog.get_logger()


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
    check_rulebook()
    app.state.pool = open_pool(os.environ["KALON_DATABASE_URL"])
    yield
    app.state.pool.close()
    workers.stop()


def _problem(status: int, document: dict[str, object]) -> JSONResponse:
    return JSONResponse(document, status_code=status, media_type="application/problem+json")


def _plain(status: int, code: str, text: str) -> JSONResponse:
    document = {"type": f"urn:kalon:{code}", "title": text, "status": status, "code": code, "fields": []}
    return _problem(status, document)


def _headers(response: Response, nonce: str, *, keep: bool = False) -> None:
    response.headers.update(
        {
            "content-security-policy": "default-src 'none'; script-src 'self'; "
            f"style-src 'self' 'nonce-{nonce}'; img-src 'self' data:; font-src 'self'; connect-src 'self'; "
            "manifest-src 'self'; base-uri 'none'; form-action 'self'; frame-ancestors 'none'",
            "x-content-type-options": "nosniff",
            "referrer-policy": "no-referrer",
            "cross-origin-opener-policy": "same-origin",
            "cross-origin-resource-policy": "same-origin",
            "permissions-policy": "camera=(), microphone=(), geolocation=()",
        }
    )
    response.headers["cache-control"] = "public, max-age=31536000, immutable" if keep else "no-store"


def _foreign(request: Request) -> bool:
    """Whether a changing request comes from a page of another origin."""
    origin = request.headers.get("origin")
    return bool(origin) and urlsplit(origin or "").netloc != request.headers.get("host")


def _too_big(request: Request) -> bool:
    if request.method == "POST" and request.url.path.endswith(FILES_AT):
        return False
    stated = request.headers.get("content-length") or "0"
    return not stated.isdigit() or int(stated) > BIGGEST_BODY


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
        responses={"4XX": {"model": Problem}},
        separate_input_output_schemas=False,
    )

    @app.middleware("http")
    async def guard(request: Request, go_on: Callable[[Request], Awaitable[Response]]) -> Response:
        started, nonce = time.perf_counter(), secrets.token_urlsafe(16)
        request.state.nonce = nonce
        if request.method not in SAFE and _foreign(request):
            response: Response = _plain(403, "foreign-origin", "This request came from another site.")
        elif _too_big(request):
            response = _plain(413, "too-big", "That is more than a megabyte: too much for one request.")
        else:
            response = await go_on(request)
        _headers(response, nonce, keep=response.status_code == 200 and request.url.path.startswith("/assets/"))
        route = request.scope.get("route")
        log.info(
            "request",
            method=request.method,
            route=getattr(route, "path", "-"),
            status=response.status_code,
            ms=round((time.perf_counter() - started) * 1000, 1),
        )
        return response

    app.add_middleware(GZipMiddleware, minimum_size=1000)

    @app.exception_handler(KalonError)
    async def known(_: Request, error: KalonError) -> JSONResponse:
        return _problem(error.status, error.as_problem())

    @app.exception_handler(RequestValidationError)
    async def invalid(_: Request, error: RequestValidationError) -> JSONResponse:
        findings = [dict(f) | {"loc": f["loc"][1:]} for f in error.errors()]
        return _problem(422, from_findings(findings).as_problem())

    @app.exception_handler(HTTPException)
    async def http(_: Request, error: HTTPException) -> JSONResponse:
        text = {404: "There is nothing here.", 405: "That can't be done here."}.get(
            error.status_code, str(error.detail)
        )
        return _plain(error.status_code, "http", text)

    @app.exception_handler(Exception)
    async def unknown(request: Request, error: Exception) -> JSONResponse:
        reference = secrets.token_hex(4)
        log.error("failed", reference=reference, kind=type(error).__name__, exc_info=error)
        response = _plain(
            500, "failed", f"Something went wrong on our side. Nothing was half-written. Ref {reference}."
        )
        _headers(response, request.state.nonce)
        return response

    @app.get("/health", include_in_schema=False)
    def health() -> dict[str, str]:
        """Whether the process answers."""
        return {"status": "ok", "version": __version__}

    @app.get("/ready", include_in_schema=False)
    def ready(request: Request) -> Response:
        """Whether the database answers and is of this version."""
        with transaction(request.app.state.pool) as cx:
            missing = pending(cx)
        if missing:
            return _plain(503, "not-migrated", "The database is of an older version.")
        return JSONResponse({"status": "ready"})

    for router in (session, athletes, fittings, feet, spec, pull, trial, settle, return_, rooms, calc):
        app.include_router(router.router)
    if DIST.is_dir():
        app.mount("/assets", StaticFiles(directory=DIST / "assets"), name="assets")

        @app.get("/{path:path}", include_in_schema=False)
        def page(request: Request, path: str) -> Response:
            if path.startswith("api/"):
                raise HTTPException(404)
            return HTMLResponse(_index().replace("__NONCE__", request.state.nonce))

    return app


@cache
def _index() -> str:
    return (DIST / "index.html").read_text(encoding="utf-8")
