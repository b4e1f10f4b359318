"""The interface's files, sent as they were packed when it was built."""

from __future__ import annotations

from mimetypes import guess_type
from pathlib import Path

from starlette.datastructures import Headers
from starlette.responses import Response
from starlette.staticfiles import StaticFiles
from starlette.types import Scope

PACKED = {"br": ".br", "gzip": ".gz"}
"""Endings by the encoding they hold, the smaller first."""


def taken(accepted: str) -> set[str]:
    """The encodings an `Accept-Encoding` takes, without those it gives no weight (RFC 9110, 12.5.3)."""
    ways = (way.replace(" ", "").partition(";q=") for way in accepted.lower().split(","))
    return {name for name, _, weight in ways if not weight or weight.strip("0.")}


class Assets(StaticFiles):
    """Files of a folder; one that stands there packed too is sent so to whoever takes that."""

    async def get_response(self, path: str, scope: Scope) -> Response:
        """The file, packed where it can be. Raises `HTTPException` where there is none."""
        takes = taken(Headers(scope=scope).get("accept-encoding", ""))
        plain = Path(str(self.directory)) / path
        for encoding, ending in PACKED.items():
            if encoding in takes and plain.is_file() and plain.with_name(plain.name + ending).is_file():
                found = await super().get_response(path + ending, scope)
                found.headers["content-encoding"] = encoding
                found.headers["content-type"] = guess_type(path)[0] or "application/octet-stream"
                break
        else:
            found = await super().get_response(path, scope)
        found.headers["vary"] = "Accept-Encoding"
        return found
