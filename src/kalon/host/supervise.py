"""Run the web processes (and our own database server) until told to stop; start again what dies."""

from __future__ import annotations

import contextlib
import fcntl
import json
import os
import signal
import socket
import subprocess
import sys
import time
import urllib.error
import urllib.request
from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass, field
from datetime import datetime
from pathlib import Path
from types import FrameType

import psycopg

from .archive import state_file
from .archive import where as archived
from .postgres import DATABASE, Addresses, HostTrouble, LocalServer, Say
from .tablets import Front

LONGEST_PAUSE_S = 30.0
"""Between two tries to start what won't stay up."""
SETTLED_S = 5.0
"""What stayed up so long is started again at once when it ends."""
BEFORE_READY = 4
"""Ends of a web process that never answered, after which something is wrong that a retry doesn't mend."""
LOOK_EVERY_S = 0.1


@contextlib.contextmanager
def only_one(home: Path, at: str = "", database: str = DATABASE) -> Iterator[None]:
    """Hold the data folder for this process, which serves one of its databases `at` an address.

    Raises `HostTrouble` when another Kalon has it."""
    home.mkdir(parents=True, exist_ok=True)
    with (home / LOCK).open("a+") as lock:
        for more in (True, True, False):
            try:
                fcntl.flock(lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
                break
            except BlockingIOError:
                if not more:
                    raise HostTrouble(
                        f"Another Kalon already runs on the data in {home}. Stop that one first."
                    ) from None
                time.sleep(0.05)  # somebody may only be looking (`who_holds`)
        lock.truncate(0)
        json.dump({"since": datetime.now().astimezone().isoformat(), "at": at, "database": database}, lock)
        lock.flush()
        yield


LOCK = "kalon.lock"


def who_holds(home: Path) -> dict[str, str]:
    """Since when the data folder is held, at which address which database of it is served; nothing where nobody holds
    it."""
    try:
        with (home / LOCK).open() as lock:
            try:
                fcntl.flock(lock, fcntl.LOCK_SH | fcntl.LOCK_NB)
            except BlockingIOError:
                return dict(json.loads(lock.read()))
    except (FileNotFoundError, ValueError):
        pass
    return {}


def listen(host: str, port: int, say: Say) -> socket.socket:
    """A listening socket, for all web processes to share. Ends our own leftovers on it first.

    Raises `HostTrouble` when the port is somebody else's."""
    for _ in range(2):
        opened = socket.socket()
        opened.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            opened.bind((host, port))
            opened.listen(256)
            return opened
        except OSError as error:
            opened.close()
            trouble = error.strerror
            if not end_leftovers(say):
                break
    raise HostTrouble(
        f"Port {port} on {host} can't be used ({trouble}). Stop the program that has it, "
        f"or choose another: --port {port + 1}."
    )


def _command(process: int) -> list[str]:
    with contextlib.suppress(OSError):
        return Path(f"/proc/{process}/cmdline").read_bytes().decode(errors="replace").split("\0")
    return []


def end_leftovers(say: Say) -> int:
    """End web processes of this checkout whose supervisor is gone; how many there were."""
    ended = 0
    for entry in Path("/proc").iterdir():
        if not entry.name.isdigit():
            continue
        command = _command(int(entry.name))
        if len(command) < 6 or command[0] != sys.executable or command[2] != MODULE:
            continue
        supervisor = command[5]
        if any("kalon.cli" in part or part.endswith("kalon") for part in _command(int(supervisor))):
            continue
        say(f"a web process left by a killed Kalon was ended (process {entry.name})")
        for number in (signal.SIGTERM, signal.SIGKILL):
            with contextlib.suppress(ProcessLookupError):
                os.kill(int(entry.name), number)
                _gone(int(entry.name), 6)
        ended += 1
    return ended


def _gone(process: int, seconds: float) -> None:
    deadline = time.monotonic() + seconds
    while _command(process) and time.monotonic() < deadline:
        time.sleep(0.05)


class Stopped(Exception):
    """Ctrl-C, or told to end."""


def _stop(_signal: int, _frame: FrameType | None) -> None:
    raise Stopped


MODULE, LEARNER, KEEPER = "kalon.host.webprocess", "kalon.host.learner", "kalon.host.keeper"


@dataclass
class Retry:
    """When something that ended may be tried again: at once, then after pauses that grow."""

    pause: float = 0.0
    at: float = 0.0
    begun: float = field(default_factory=time.monotonic)

    def ended(self) -> None:
        """It ended, or didn't start."""
        now = time.monotonic()
        if now - self.begun > SETTLED_S:
            self.pause = 0.0
        self.at = now + self.pause
        self.pause = min(max(2 * self.pause, 0.5), LONGEST_PAUSE_S)

    @property
    def due(self) -> bool:
        """Whether the pause is over."""
        return time.monotonic() >= self.at

    def started(self) -> None:
        """It was started."""
        self.begun = time.monotonic()


@dataclass
class Kept:
    """A process of ours, started again when it ends."""

    start: Callable[[], subprocess.Popen[bytes]]
    what: str = "a web process"
    process: subprocess.Popen[bytes] | None = None
    retry: Retry = field(default_factory=Retry)
    waits: bool = False
    ends: int = 0

    def look(self, say: Say) -> None:
        """Start it if it isn't there and its pause is over."""
        if self.process and self.process.poll() is None:
            return
        if self.process and not self.waits:
            self.ends += 1
            self.waits = True
            self.retry.ended()
            say(f"{self.what} had ended; starting it again")
        if self.retry.due:
            self.process, self.waits = self.start(), False
            self.retry.started()


class Spare:
    """A web process made ready beforehand: making one ready takes seconds, in which a shop stands still."""

    def __init__(self, start: Callable[[], subprocess.Popen[bytes]]) -> None:
        self._start = start
        self._retry = Retry()
        self.process: subprocess.Popen[bytes] | None = None

    def look(self) -> None:
        """Have one ready, after a pause where the last one ended by itself."""
        if self.process and self.process.poll() is not None:
            self.process = None
            self._retry.ended()
        if not self.process and self._retry.due:
            self.process = self._start()
            self._retry.started()

    def take(self) -> subprocess.Popen[bytes]:
        """One that serves at once, or as soon as it can."""
        taken, self.process = self.process, None
        if not taken or taken.poll() is not None:
            taken = self._start()
        if taken.stdin:
            with contextlib.suppress(BrokenPipeError):
                taken.stdin.write(b"1")
                taken.stdin.close()
        return taken


def _end(processes: Iterable[subprocess.Popen[bytes] | None]) -> None:
    running = [p for p in processes if p and p.poll() is None]
    for process in running:
        process.terminate()
    deadline = time.monotonic() + 8
    for process in running:
        try:
            process.wait(timeout=max(deadline - time.monotonic(), 0.1))
        except subprocess.TimeoutExpired:
            os.killpg(process.pid, signal.SIGKILL)
            process.wait()


def answers(host: str, port: int) -> bool:
    """Whether the application is up and its database ready."""
    try:
        with urllib.request.urlopen(f"http://{host}:{port}/ready", timeout=2) as reply:
            return bool(reply.status == 200)
    except (urllib.error.URLError, OSError):
        return False


def reached_at(host: str) -> str:
    """Where what listens at an address is reached from this machine."""
    return "127.0.0.1" if host in ("0.0.0.0", "::", "") else host  # noqa: S104 - asked about, not bound


def serve(
    to: Addresses,
    opened: socket.socket,
    workers: int,
    say: Say,
    ready: str,
    server: LocalServer | None = None,
    front: Front | None = None,
) -> None:
    """Serve on a listening socket, and to tablets by what stands before it, until Ctrl-C or SIGTERM; start again
    whichever of our processes ends.

    Raises `HostTrouble` when the application, or what stands before it, never came up at all."""
    host, port = opened.getsockname()[:2]
    held, lifeline = os.pipe()
    environment = {k: v for k, v in os.environ.items() if k not in ("KALON_DATABASE_URL", "KALON_APP_URL")}
    environment |= {"KALON_DATABASE_URL": to.app, "KALON_GATE_URL": to.gate}
    kept = archived(server.home) if server else None
    if server and kept:
        environment |= {"KALON_ARCHIVE": str(kept), "KALON_ARCHIVE_STATE": str(state_file(server.home))}
    if front:
        proxies = [p for p in os.environ.get("KALON_PROXIES", "").split(",") if p]
        environment |= {"KALON_PROXIES": ",".join([*proxies, reached_at(host)]), "KALON_TABLETS": str(front.folder)}
    command = [sys.executable, "-m", MODULE, str(opened.fileno()), str(held), str(os.getpid())]

    spare = Spare(
        lambda: subprocess.Popen(
            command,
            env=environment,
            start_new_session=True,
            pass_fds=(opened.fileno(), held),
            stdin=subprocess.PIPE,
        )
    )

    for number in (signal.SIGINT, signal.SIGTERM):
        signal.signal(number, _stop)

    def beside(module: str, *more: str) -> subprocess.Popen[bytes]:
        return subprocess.Popen(
            [sys.executable, "-m", module, str(held), str(os.getpid()), *more],
            env=environment | {"KALON_DATABASE_URL": to.owner},
            start_new_session=True,
            pass_fds=(held,),
            stdin=subprocess.DEVNULL,
        )

    web = [Kept(spare.take) for _ in range(workers)]
    caddy = Kept(front.start, "Caddy, which tablets come by,") if front else None
    processes = [*web, *([caddy] if caddy else []), Kept(lambda: beside(LEARNER), "the learner")]
    if server and kept:
        home = server.home
        processes.append(Kept(lambda: beside(KEEPER, str(home)), "what keeps the archive"))
    database = Retry()
    said = False
    try:
        while True:
            for process in processes:
                process.look(say)
            if not said:
                if answers(host, port):
                    say(ready)
                    said = True
                elif max(p.ends for p in web) >= BEFORE_READY:
                    raise HostTrouble("The application keeps ending right after its start; see the lines above.")
                elif caddy and caddy.ends >= BEFORE_READY:
                    raise HostTrouble("Caddy keeps ending right after its start; see the lines above.")
            if said:
                spare.look()
            if server and database.due and not server.running():
                _start_again(server, database, say)
            if front and caddy and caddy.process and front.moved():
                caddy.process.terminate()
            time.sleep(LOOK_EVERY_S)
    except Stopped:
        say("stopping")
    finally:
        for number in (signal.SIGINT, signal.SIGTERM):
            signal.signal(number, signal.SIG_IGN)
        _end([*(p.process for p in processes), *(front.announcers.values() if front else ()), spare.process])
        for end in (held, lifeline):
            os.close(end)
        opened.close()


def _start_again(server: LocalServer, retry: Retry, say: Say) -> None:
    """Start our PostgreSQL again; if it won't, say so and try later."""
    say("PostgreSQL was gone; starting it again")
    retry.ended()
    try:
        server.start()
        retry.started()
    except (HostTrouble, OSError, psycopg.Error) as error:
        say(f"{error} Trying again in {max(retry.at - time.monotonic(), 0) + retry.pause:.0f} s.")
        retry.at = time.monotonic() + retry.pause
