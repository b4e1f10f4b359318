"""Run the web processes (and our own database server) until told to stop; start again what dies."""

from __future__ import annotations

import contextlib
import fcntl
import os
import signal
import socket
import subprocess
import sys
import time
import urllib.error
import urllib.request
from collections.abc import Iterator
from pathlib import Path
from types import FrameType

from .postgres import HostTrouble, LocalServer, Say

MOST_RESTARTS, WITHIN_S = 5, 60.0


@contextlib.contextmanager
def only_one(home: Path) -> Iterator[None]:
    """Hold the data folder for this process. Raises `HostTrouble` when another Kalon has it."""
    home.mkdir(parents=True, exist_ok=True)
    with (home / "kalon.lock").open("w") as lock:
        try:
            fcntl.flock(lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except BlockingIOError:
            raise HostTrouble(f"Another Kalon already runs on the data in {home}. Stop that one first.") from None
        yield


def check_port(host: str, port: int) -> None:
    """Raise `HostTrouble` when the port is taken."""
    with socket.socket() as s:
        s.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            s.bind((host, port))
        except OSError as error:
            raise HostTrouble(
                f"Port {port} on {host} can't be used ({error.strerror}). Stop the program that has it, "
                f"or choose another: --port {port + 1}."
            ) from None


class Stopped(Exception):
    """Ctrl-C, or told to end."""


def _stop(_signal: int, _frame: FrameType | None) -> None:
    raise Stopped


def _start_web(url: str, host: str, port: int, workers: int) -> subprocess.Popen[bytes]:
    command = [sys.executable, "-m", "uvicorn", "kalon.api.app:create_app", "--factory", "--host", host,
               "--port", str(port), "--workers", str(workers), "--no-access-log", "--log-level", "warning",
               "--proxy-headers", "--timeout-graceful-shutdown", "5"]  # fmt: skip
    return subprocess.Popen(command, env={**os.environ, "KALON_DATABASE_URL": url}, start_new_session=True)


def _end(web: subprocess.Popen[bytes]) -> None:
    if web.poll() is None:
        os.killpg(web.pid, signal.SIGTERM)
        try:
            web.wait(timeout=8)
        except subprocess.TimeoutExpired:
            os.killpg(web.pid, signal.SIGKILL)
            web.wait()


def answers(host: str, port: int) -> bool:
    """Whether the application is up and its database ready."""
    try:
        with urllib.request.urlopen(f"http://{host}:{port}/ready", timeout=2) as reply:
            return bool(reply.status == 200)
    except (urllib.error.URLError, OSError):
        return False


def serve(
    url: str, host: str, port: int, workers: int, say: Say, ready: str, server: LocalServer | None = None
) -> None:
    """Serve until Ctrl-C or SIGTERM; restart the web processes or our own PostgreSQL when they die."""
    for number in (signal.SIGINT, signal.SIGTERM):
        signal.signal(number, _stop)
    web = _start_web(url, host, port, workers)
    restarts: list[float] = []
    said = False
    try:
        while True:
            if not said and answers(host, port):
                say(ready)
                said = True
            if server and not server.running():
                say("PostgreSQL was gone; starting it again")
                server.start()
            if web.poll() is not None:
                restarts = [t for t in restarts if time.monotonic() - t < WITHIN_S] + [time.monotonic()]
                if len(restarts) > MOST_RESTARTS:
                    raise HostTrouble("The application keeps ending right after its start; see the lines above.")
                say("the application had ended; starting it again")
                web = _start_web(url, host, port, workers)
            time.sleep(0.2 if not said else 0.5)
    except Stopped:
        say("stopping")
    finally:
        for number in (signal.SIGINT, signal.SIGTERM):
            signal.signal(number, signal.SIG_IGN)
        _end(web)
