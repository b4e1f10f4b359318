"""Files that come as a request's body, laid down piece by piece while they arrive."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from fastapi import Request
from starlette.concurrency import run_in_threadpool

from ..core.errors import BadInput

HEAD_BYTES = 16
"""So much of a file tells what kind it is."""


async def lay_down(request: Request, path: Path, most: int, begins: Callable[[bytes], None] | None = None) -> None:
    """Write the body to `path`. Raises `BadInput` beyond so many bytes, and what `begins` raises of the first ones."""
    size, head = 0, b""
    with path.open("wb") as out:
        async for chunk in request.stream():
            size += len(chunk)
            if begins and len(head) < HEAD_BYTES:
                head += chunk[: HEAD_BYTES - len(head)]
                if len(head) >= HEAD_BYTES:
                    begins(head)
            if size > most:
                raise BadInput(
                    f"The file has more than {most / 1e6:.0f} MB, which is more than is read.", code="file-large"
                )
            await run_in_threadpool(out.write, chunk)
    if begins and size < HEAD_BYTES:
        begins(head)
