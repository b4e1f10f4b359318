"""Measuring in processes of their own: bounded in time and memory, with progress; requests never wait for it."""

from __future__ import annotations

import contextlib
import math
import os
import resource
import signal
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
from types import FrameType
from typing import Any

from pebble import ProcessExpired, ProcessPool

from ..core.errors import BadInput, FieldProblem, KalonError
from ..core.feet.said import Said
from ..core.shoes.pictured import Way
from .captures import Measured, measure, measure_again
from .reading import Kind
from .shoes import ShoePicture, ShoeSaid, measure_shoe

Progress = Callable[[float, str], None]
"""Hears how far something is, 0…1, and what it is at."""
SECONDS = 60.0
"""Of a processor's own time, for one file: a machine with other things to do doesn't make a file too slow."""
LONGEST_S = 600.0
"""By the clock, for whatever doesn't even work."""
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
Job = Callable[..., Any]
"""What a worker does: called with the file's path, a function that reports its progress, and further arguments."""


class _TooLong(Exception):
    """A processor was taken up for longer than one file may."""


def _too_long(_signal: int, _frame: FrameType | None) -> None:
    raise _TooLong


@contextlib.contextmanager
def _given_time(seconds: float) -> Iterator[None]:
    """So many seconds of a processor's time from here on, by the whole second above. Raises `_TooLong`."""
    used = resource.getrusage(resource.RUSAGE_SELF)
    signal.signal(signal.SIGXCPU, _too_long)
    until = math.ceil(used.ru_utime + used.ru_stime + seconds)
    resource.setrlimit(resource.RLIMIT_CPU, (until, resource.RLIM_INFINITY))
    try:
        yield
    finally:
        resource.setrlimit(resource.RLIMIT_CPU, (resource.RLIM_INFINITY, resource.RLIM_INFINITY))


def _slow(seconds: float) -> str:
    return f"This kept a processor busy for more than {seconds:.0f} seconds and was stopped. Thin the file out."


def _work(job: Job, path: str, args: tuple[Any, ...], seconds: float) -> tuple[Any, Problem | None]:
    """In the worker: do the job with the file at `path`; a problem comes back as plain values."""
    progress = Path(path + ".progress")

    def report(share: float, step: str) -> None:
        progress.write_text(f"{share:.2f} {step}", encoding="utf-8")

    try:
        with _given_time(seconds):
            return job(Path(path), report, *args), None
    except _TooLong:
        return None, ("file-slow", _slow(seconds), [])
    except BadInput as error:
        return None, (error.code, error.text, [(f.field, f.code, f.text) for f in error.fields])
    except MemoryError:
        return None, ("file-large", "This needs more memory than is given to one file. Thin it out.", [])


def _measure(path: Path, report: Progress, name: str, kind: Kind | None, said: Said) -> list[Measured]:
    data = path.read_bytes()
    try:
        return [measure_again(kind, data, said, report)] if kind else measure(data, name, said, report)
    except (ValueError, IndexError, ZeroDivisionError, FloatingPointError, ArithmeticError) as error:
        text = f"No foot can be made out in this ({type(error).__name__}). Is it a whole foot, heel to toes?"
        raise BadInput(text, code="measure-none") from None


def _given(job: Job, path: Path, args: tuple[Any, ...], seconds: float) -> Future[tuple[Any, Problem | None]]:
    """Hand the file to the pool; a pool that lost a worker to something outside is replaced. Raises `Busy`."""
    with _ONE_AT_A_TIME:
        for _ in range(2):
            try:
                handed: Future[tuple[Any, Problem | None]] = _pool().schedule(
                    _work, args=(job, str(path), args, seconds), timeout=LONGEST_S
                )
                return handed
            except RuntimeError:
                _pool.cache_clear()
    raise Busy(AWAY)


_in_turn: list[Future[tuple[Any, Problem | None]]] = []
"""What was handed over and isn't done, in turn."""


class Handed:
    """A file handed to a worker: `look` now and then until it gives the result."""

    def __init__(self, job: Job, path: Path, *args: Any, seconds: float | None = None) -> None:
        self._path = path
        self._seconds = seconds or SECONDS
        self._future = _given(job, path, args, self._seconds)
        self._told = ""
        self._before = [f for f in _in_turn if not f.done()]
        _in_turn[:] = [*self._before, self._future]

    def look(self, seconds: float) -> tuple[Any] | None:
        """The result, in a tuple of one, if it comes within so many seconds. Raises `BadInput`, `Busy`."""
        try:
            result, problem = self._future.result(timeout=seconds)
        except StillRunning:
            if not self._future.done():
                return None
            if isinstance(self._future.exception(), StillRunning):
                raise BadInput(_slow(self._seconds), code="file-slow") from None
            return self.look(0)  # it ended between the two looks
        except ProcessExpired:
            raise BadInput("Reading this file broke off: it is damaged, or too large.", code="file-broke") from None
        except (CancelledError, RuntimeError):
            raise Busy(AWAY) from None
        Path(f"{self._path}.progress").unlink(missing_ok=True)
        if problem:
            code, text, fields = problem
            raise BadInput(text, code=code, fields=[FieldProblem(*f) for f in fields])
        return (result,)

    def waits(self) -> tuple[float, str] | None:
        """How many are before it, when that has changed; nothing once a worker has it."""
        if self._future.running() or self._future.done():
            return None
        before = sum(1 for f in self._before if not f.done())
        told = f"waiting: {before} before it" if before else ""
        if not told or told == self._told:
            return None
        self._told = told
        return 0.0, told

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


MOST_WAITING = 6
"""Files that may be under way or wait for a worker in one web process; the next is told to come again."""
MOST_FROM_AFAR = AT_ONCE - 1
"""Of those, from links: a worker is always left for the shop. House default."""
_placed: list[str] = []
"""From which link each of them is; of the shop's own, from none."""


@contextlib.contextmanager
def place(link: str = "") -> Iterator[None]:
    """A place among those who wait for a worker; `link` says through which link it is asked. Raises `Busy` when there
    is none left, and for a second file of one link before the first is measured."""
    if link and link in _placed:
        raise Busy("Your picture before this one is still being measured. Try again in a moment.")
    from_afar = sum(1 for p in _placed if p)
    if len(_placed) >= MOST_WAITING or (link and from_afar >= MOST_FROM_AFAR):
        raise Busy("Several files are being measured already. Try again in a moment.")
    _placed.append(link)
    try:
        yield
    finally:
        _placed.remove(link)


async def done(
    job: Job,
    path: Path,
    *args: Any,
    progress: Callable[[float, str], Awaitable[None]] | None = None,
    seconds: float | None = None,
) -> Any:
    """Have a worker do `job` with the file at `path`, holding no thread while it waits. `progress` hears of each step;
    `seconds` of a processor's time are given to it, or as many as to any file.

    Raises `BadInput` with what is wrong, `Busy` when no worker is to be had."""
    under_way = Handed(job, path, *args, seconds=seconds)
    try:
        while (found := under_way.look(0)) is None:
            if progress and (step := under_way.waits() or under_way.step()):
                await progress(*step)
            await sleep(LOOK_EVERY_S)
    except BaseException:
        under_way.give_up()
        raise
    return found[0]


async def measured(
    path: Path,
    name: str,
    said: Said,
    progress: Callable[[float, str], Awaitable[None]] | None = None,
    kind: Kind | None = None,
) -> list[Measured]:
    """Measure the file (or, with `kind`, a kept copy) at `path` in a worker."""
    return list(await done(_measure, path, name, kind, said, progress=progress))


def _measure_shoe(path: Path, report: Progress, way: Way, said: ShoeSaid, again: bool) -> ShoePicture:
    try:
        return measure_shoe(path.read_bytes(), said, report, way, again=again)
    except (ValueError, IndexError, ZeroDivisionError, FloatingPointError, ArithmeticError) as error:
        text = f"No shoe can be made out in this ({type(error).__name__}). Is the whole of it in the picture?"
        raise BadInput(text, code="measure-none") from None


async def measured_shoe(
    path: Path,
    way: Way,
    said: ShoeSaid,
    progress: Callable[[float, str], Awaitable[None]] | None = None,
    again: bool = False,
) -> ShoePicture:
    """Measure the picture of a shoe (or, `again`, the copy kept of it) at `path` in a worker."""
    found: ShoePicture = await done(_measure_shoe, path, way, said, again, progress=progress)
    return found


def wait_for(job: Job, path: Path, *args: Any, progress: Progress) -> Any:
    """`done` for callers that wait."""
    under_way = Handed(job, path, *args)
    while (found := under_way.look(LOOK_EVERY_S)) is None:
        if step := under_way.step():
            progress(*step)
    return found[0]


def run(path: Path, name: str, said: Said, progress: Progress, kind: Kind | None = None) -> list[Measured]:
    """`measured` for callers that wait."""
    return list(wait_for(_measure, path, name, kind, said, progress=progress))


@contextlib.contextmanager
def spooled(data: bytes = b"") -> Iterator[Path]:
    """A temporary file, gone afterwards with what was written beside it."""
    handle, name = tempfile.mkstemp(prefix="kalon-")
    path = Path(name)
    try:
        with os.fdopen(handle, "wb") as out:
            out.write(data)
        yield path
    finally:
        for part in (path, Path(f"{name}.progress"), Path(f"{name}.lines")):
            part.unlink(missing_ok=True)
