"""Measuring in processes of their own: bounded in time and memory, with progress; requests never wait for it."""

from __future__ import annotations

import contextlib
import os
import resource
import tempfile
from asyncio import sleep
from collections.abc import Awaitable, Callable, Iterator
from concurrent.futures import CancelledError, Future
from concurrent.futures import TimeoutError as StillRunning
from functools import cache
from multiprocessing import get_context, parent_process
from multiprocessing.connection import wait
from pathlib import Path
from threading import Lock, Thread

from pebble import ProcessExpired, ProcessPool

from ..core.errors import BadInput, FieldProblem, KalonError
from ..core.feet.said import Said
from .captures import Measured, measure, measure_again
from .reading import Kind

SECONDS = 60.0
MEMORY_BYTES = 3_000_000_000
"""Address space of one worker."""
LOOK_EVERY_S = 0.15
AT_ONCE = 2


class Busy(KalonError):
    """No worker is to be had."""

    code = "measuring-away"
    status = 503


def _end_with_parent() -> None:
    """In a thread of the worker: a web process that is killed leaves no worker behind.

    Not by the kernel's parent-death signal: it is sent when the thread that started the worker ends, and that
    thread is one of many that serve requests, let go after a few idle seconds."""
    parent = parent_process()
    if parent:
        wait([parent.sentinel])
        os._exit(1)


def _begin() -> None:
    Thread(target=_end_with_parent, daemon=True).start()
    os.nice(5)
    resource.setrlimit(resource.RLIMIT_AS, (MEMORY_BYTES, MEMORY_BYTES))
    for name in ("OMP_NUM_THREADS", "OPENBLAS_NUM_THREADS"):
        os.environ.setdefault(name, "1")
    import cv2

    cv2.setNumThreads(1)


_ONE_AT_A_TIME = Lock()
"""Two requests at once must not start two pools."""


@cache
def _pool() -> ProcessPool:
    return ProcessPool(max_workers=AT_ONCE, max_tasks=50, initializer=_begin, context=get_context("spawn"))


def stop() -> None:
    """End the workers."""
    if _pool.cache_info().currsize:
        _pool().stop()  # type: ignore[no-untyped-call]
        _pool().join()
        _pool.cache_clear()


AWAY = "The measuring process is not answering. Try again in a moment."
Problem = tuple[str, str, list[tuple[str, str, str]]]


def _work(path: str, name: str, kind: Kind | None, said: Said) -> list[Measured] | Problem:
    """In the worker: measure the file at `path`; a problem comes back as plain values."""
    progress = Path(path + ".progress")

    def report(share: float, step: str) -> None:
        progress.write_text(f"{share:.2f} {step}", encoding="utf-8")

    try:
        data = Path(path).read_bytes()
        return [measure_again(kind, data, said, report)] if kind else measure(data, name, said, report)
    except BadInput as error:
        return error.code, error.text, [(f.field, f.code, f.text) for f in error.fields]
    except MemoryError:
        return "file-large", "Measuring this needs more memory than is given to one file. Thin it out.", []
    except (ValueError, IndexError, ZeroDivisionError, FloatingPointError, ArithmeticError) as error:
        text = f"No foot can be made out in this ({type(error).__name__}). Is it a whole foot, heel to toes?"
        return "measure-none", text, []


def _given(path: Path, name: str, kind: Kind | None, said: Said) -> Future[list[Measured] | Problem]:
    """Hand the file to the pool; a pool that lost a worker to something outside is replaced. Raises `Busy`."""
    with _ONE_AT_A_TIME:
        for _ in range(2):
            try:
                handed: Future[list[Measured] | Problem] = _pool().schedule(
                    _work, args=(str(path), name, kind, said), timeout=SECONDS
                )
                return handed
            except RuntimeError:
                _pool.cache_clear()
    raise Busy(AWAY)


class Measuring:
    """A file handed to a worker: `look` now and then until it gives the result."""

    def __init__(self, path: Path, name: str, said: Said, kind: Kind | None = None) -> None:
        self._path = path
        self._future = _given(path, name, kind, said)
        self._told = ""

    def look(self, seconds: float) -> list[Measured] | None:
        """The result if it comes within so many seconds. Raises `BadInput` with what is wrong, `Busy`."""
        try:
            result = self._future.result(timeout=seconds)
        except StillRunning:
            if self._future.done():
                raise BadInput(
                    f"Measuring took longer than {SECONDS:.0f} seconds and was stopped. Thin the file out.",
                    code="file-slow",
                ) from None
            return None
        except ProcessExpired:
            raise BadInput("Measuring this file broke off: it is damaged, or too large.", code="file-broke") from None
        except (CancelledError, RuntimeError):
            raise Busy(AWAY) from None
        Path(f"{self._path}.progress").unlink(missing_ok=True)
        if isinstance(result, tuple):
            code, text, fields = result
            raise BadInput(text, code=code, fields=[FieldProblem(*f) for f in fields])
        return list(result)

    def step(self) -> tuple[float, str] | None:
        """How far it is and what it is at, when that has changed."""
        with contextlib.suppress(OSError, ValueError):
            line = Path(f"{self._path}.progress").read_text(encoding="utf-8")
            if line and line != self._told:
                self._told = line
                share, _, step = line.partition(" ")
                return float(share), step
        return None

    def give_up(self) -> None:
        """Nobody waits for it any more."""
        self._future.cancel()


_waiting = 0
MOST_WAITING = 6
"""Files that may be under way or wait for a worker in one web process; the next is told to come again."""


@contextlib.contextmanager
def place() -> Iterator[None]:
    """A place among those who wait for a worker. Raises `Busy` when there is none left."""
    global _waiting
    if _waiting >= MOST_WAITING:
        raise Busy("Several files are being measured already. Try again in a moment.")
    _waiting += 1
    try:
        yield
    finally:
        _waiting -= 1


async def measured(
    path: Path,
    name: str,
    said: Said,
    progress: Callable[[float, str], Awaitable[None]] | None = None,
    kind: Kind | None = None,
) -> list[Measured]:
    """Measure the file (or, with `kind`, a kept copy) at `path` in a worker, holding no thread while it waits.

    `progress` hears of each step. Raises `BadInput` with what is wrong, `Busy` when no worker is to be had."""
    under_way = Measuring(path, name, said, kind)
    try:
        while (found := under_way.look(0)) is None:
            if progress and (step := under_way.step()):
                await progress(*step)
            await sleep(LOOK_EVERY_S)
    except BaseException:
        under_way.give_up()
        raise
    return found


def run(
    path: Path, name: str, said: Said, progress: Callable[[float, str], None], kind: Kind | None = None
) -> list[Measured]:
    """`measured` for callers that wait."""
    under_way = Measuring(path, name, said, kind)
    while (found := under_way.look(LOOK_EVERY_S)) is None:
        if step := under_way.step():
            progress(*step)
    return found


@contextlib.contextmanager
def spooled(data: bytes = b"") -> Iterator[Path]:
    """A temporary file, gone afterwards with its progress note."""
    handle, name = tempfile.mkstemp(prefix="kalon-")
    path = Path(name)
    try:
        with os.fdopen(handle, "wb") as out:
            out.write(data)
        yield path
    finally:
        path.unlink(missing_ok=True)
        Path(f"{name}.progress").unlink(missing_ok=True)
