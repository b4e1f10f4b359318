"""Files that come as a request's body, laid down piece by piece while they arrive."""

from __future__ import annotations

from pathlib import Path

from fastapi import Request
from starlette.concurrency import run_in_threadpool

from ..core.errors import BadInput


async def lay_down(request: Request, path: Path, most: int) -> None:
    """Write the body to `path`. Raises `BadInput` beyond so many bytes."""
    size = 0
    with path.open("wb") as out:
        async for chunk in request.stream():
            size += len(chunk)
            if size > most:
                raise BadInput(
                    f"The file has more than {most / 1e6:.0f} MB, which is more than is read.", code="file-large"
                )
            await run_in_threadpool(out.write, chunk)
