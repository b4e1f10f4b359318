"""The door: what is turned away before anything is looked up, what every answer carries, and one log line a request.

Bodies are counted as they arrive and given a limited time; a failure is answered with a sentence and a reference,
and logged by where it happened, never by what was typed.
"""

from __future__ import annotations

import asyncio
import secrets
import time
import traceback
from urllib.parse import urlsplit

import structlog
from starlette.datastructures import Headers, MutableHeaders
from starlette.responses import JSONResponse, Response
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from ..core.errors import BadInput, KalonError
from .bodies import BIGGEST_BODY, TooBig, check_json

SAFE = {"GET", "HEAD", "OPTIONS"}
FILES_AT = ("/captures", "/api/sheets", "/pictures", "/api/squad/list")
"""Uploads of files have their own, larger limits, kept while they stream in."""
CHUNK_S, BODY_S, FILE_S = 20.0, 30.0, 300.0
"""Longest wait for the next piece of a body, for a whole one, and for a whole file."""
LONGEST_PATH = 1500
log = structlog.get_logger()


class TooSlow(KalonError):
    """A body that doesn't arrive."""

    code = "too-slow"
    status = 408


class Nothing(KalonError):
    """A path nobody could mean."""

    code = "http"
    status = 404


def problem(status: int, document: dict[str, object], headers: dict[str, str] | None = None) -> JSONResponse:
    """A problem document as an answer (RFC 9457)."""
    return JSONResponse(document, status_code=status, media_type="application/problem+json", headers=headers)


def plain(status: int, code: str, text: str, headers: dict[str, str] | None = None) -> JSONResponse:
    """A problem of which there is only a sentence."""
    document: dict[str, object] = {
        "type": f"urn:kalon:{code}", "title": text, "status": status, "code": code, "fields": [],
    }  # fmt: skip
    return problem(status, document, headers)


def said(error: KalonError) -> JSONResponse:
    """A known error as an answer."""
    wait = getattr(error, "wait_s", 2 if error.status == 503 else None)
    headers = {"retry-after": str(wait)} if wait else {}
    if error.status in (408, 413):
        headers["connection"] = "close"
    return problem(error.status, error.as_problem(), headers)


def _foreign(headers: Headers) -> bool:
    """Whether a changing request comes from a page of another origin."""
    origin = headers.get("origin")
    if origin is None:
        return False
    try:
        return urlsplit(origin).netloc != headers.get("host")
    except ValueError:
        return True


def _carry(headers: MutableHeaders, nonce: str, *, keep: bool) -> None:
    headers["content-security-policy"] = (
        "default-src 'none'; script-src 'self'; "
        f"style-src 'self' 'nonce-{nonce}'; img-src 'self' data:; font-src 'self'; connect-src 'self'; "
        "manifest-src 'self'; worker-src 'self'; base-uri 'none'; form-action 'self'; frame-ancestors 'none'"
    )
    headers["x-content-type-options"] = "nosniff"
    headers["referrer-policy"] = "no-referrer"
    headers["cross-origin-opener-policy"] = "same-origin"
    headers["cross-origin-resource-policy"] = "same-origin"
    headers["permissions-policy"] = "camera=(self), microphone=(), geolocation=()"
    headers["cache-control"] = "public, max-age=31536000, immutable" if keep else "no-store"


def _where(error: BaseException) -> list[str]:
    """Where something failed: files and lines, without a word of what was in hand."""
    frames = traceback.extract_tb(error.__traceback__)
    return [f"{f.filename.rpartition('/')[2]}:{f.lineno} {f.name}" for f in frames[-8:]]


class _Incoming:
    """A request's body on its way in: its pieces counted, each given so long to come."""

    def __init__(self, receive: Receive, *, file: bool) -> None:
        self._receive = receive
        self._until = time.monotonic() + (FILE_S if file else BODY_S)

    async def piece(self) -> Message:
        """The next piece. Raises `TooSlow`."""
        left = self._until - time.monotonic()
        try:
            return await asyncio.wait_for(self._receive(), min(CHUNK_S, max(left, 0.01)))
        except TimeoutError:
            raise TooSlow("What was being sent did not arrive in time.") from None

    async def whole(self) -> bytes:
        """All of it, up to the limit. Raises `TooBig`."""
        body = bytearray()
        while True:
            message = await self.piece()
            if message["type"] == "http.disconnect":
                raise TooSlow("The sender went away.")
            body += message.get("body", b"")
            if len(body) > BIGGEST_BODY:
                raise TooBig
            if not message.get("more_body"):
                return bytes(body)


def _check_address(scope: Scope) -> None:
    raw: bytes = scope.get("raw_path") or b""
    if len(raw) > LONGEST_PATH or "\x00" in scope["path"]:
        raise Nothing("There is nothing here.")
    query: bytes = scope.get("query_string") or b""
    if b"%00" in query or b"\x00" in query:
        raise BadInput("There is a character in this that can't be kept.", code="bad-character")


class Guard:
    """Wraps the application."""

    def __init__(self, app: ASGIApp) -> None:
        self.app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Let a request through, or turn it away."""
        if scope["type"] != "http":
            await self.app(scope, receive, send)
            return
        started, nonce = time.perf_counter(), secrets.token_urlsafe(16)
        method = scope["method"]
        scope.setdefault("state", {})["nonce"] = nonce
        status = 0

        async def out(message: Message) -> None:
            nonlocal status
            if message["type"] == "http.response.start":
                status = message["status"]
                keep = status == 200 and scope["path"].startswith("/assets/")
                _carry(MutableHeaders(scope=message), nonce, keep=keep)
            elif method == "HEAD":
                message = {**message, "body": b""}
            await send(message)

        try:
            answer = await self._through(scope, receive, out)
        except Exception as error:
            answer = self._failed(error)
        if answer and not status:
            await answer(scope, receive, out)
        route = scope.get("route")
        log.info(
            "request",
            method=method,
            route=getattr(route, "path", "-"),
            status=status,
            ms=round((time.perf_counter() - started) * 1000, 1),
        )

    async def _through(self, scope: Scope, receive: Receive, out: Send) -> Response | None:
        headers, method = Headers(scope=scope), scope["method"]
        try:
            _check_address(scope)
            if method not in SAFE and _foreign(headers):
                return plain(403, "foreign-origin", "This request came from another site.")
            if method == "HEAD":
                scope = {**scope, "method": "GET"}
            if method not in SAFE:
                receive = await self._body(scope, headers, receive)
        except KalonError as error:
            return said(error)
        await self.app(scope, receive, out)
        return None

    async def _body(self, scope: Scope, headers: Headers, receive: Receive) -> Receive:
        """The body, checked, to be received again; a file's pieces as they come."""
        file = scope["method"] == "POST" and scope["path"].endswith(FILES_AT)
        incoming = _Incoming(receive, file=file)
        if file:
            return incoming.piece
        stated = headers.get("content-length") or "0"
        if not stated.isdigit() or len(stated) > 12 or int(stated) > BIGGEST_BODY:
            raise TooBig
        body = await incoming.whole()
        if body:
            check_json(body)
        handed = False

        async def again() -> Message:
            nonlocal handed
            if handed:
                return await receive()
            handed = True
            return {"type": "http.request", "body": body, "more_body": False}

        return again

    def _failed(self, error: Exception) -> Response:
        if isinstance(error, KalonError):
            return said(error)
        reference = secrets.token_hex(4)
        log.error("failed", reference=reference, kind=type(error).__name__, where=_where(error))
        text = f"Something went wrong on our side. Nothing was half-written. Ref {reference}."
        return plain(500, "failed", text)
