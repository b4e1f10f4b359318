"""How long a shop stands still when something of the bench is killed: `./kalon bench recovery [times]`.

One web process (a shop's own machine), its own PostgreSQL, and each of them killed so often, with a pause as long as it
takes to be ready for the next. The baseline is making one web process ready, as it was waited for before one was held
ready."""

from __future__ import annotations

import contextlib
import os
import shutil
import signal
import subprocess
import sys
import time
from collections.abc import Callable
from pathlib import Path
from statistics import median

sys.path.insert(0, str(Path(__file__).parents[1]))

from tests.api.test_serve import alive, children, web_processes
from tests.running import own_home

from kalon.host.postgres import LocalServer, free_port
from kalon.host.supervise import answers

LIMIT_S = 3.0
PATIENCE_S = 90.0


def until(there: Callable[[], object], what: str) -> float:
    """Seconds until it is so."""
    began = time.monotonic()
    while not there():
        if time.monotonic() - began > PATIENCE_S:
            raise TimeoutError(what)
        time.sleep(0.01)
    return time.monotonic() - began


def killed(process: int, port: int) -> float:
    """Seconds from the end of a process to the next answer."""
    with contextlib.suppress(ProcessLookupError):
        os.kill(process, signal.SIGKILL)
    began = time.monotonic()
    until(lambda: not alive(process), "it did not end")
    until(lambda: answers("127.0.0.1", port), "the bench did not come back")
    return time.monotonic() - began


def told(name: str, times: list[float], base: float) -> bool:
    """A line of figures; whether they are within the limit."""
    ordered = sorted(times)
    worst = ordered[int(0.95 * (len(ordered) - 1) + 0.5)]
    print(
        f"{name:28} median {median(ordered):5.2f} s {median(ordered) / base:5.2f} ×   95 in 100 within {worst:5.2f} s"
    )
    return median(ordered) < LIMIT_S


def main(times: int = 15) -> int:
    """Kill each in turn; nought when the bench was back within the limit."""
    home, port = own_home(), free_port()
    began = time.monotonic()
    subprocess.run([sys.executable, "-c", "import kalon.api.app"], check=True)
    base = time.monotonic() - began
    supervisor = subprocess.Popen(
        [sys.executable, "-m", "kalon.cli", "serve", "--port", str(port), "--workers", "1",
         "--yes", "--shop", "A Shop", "--name", "First", "--login", "first"],
        env={**os.environ, "KALON_DATA": str(home), "KALON_LOG": "ERROR", "KALON_PASSWORD": "last-and-sock-4"}, stderr=subprocess.DEVNULL,
    )  # fmt: skip
    server = LocalServer(home)
    try:
        until(lambda: answers("127.0.0.1", port), "the bench did not start")
        web: list[float] = []
        backends: list[float] = []
        postmaster: list[float] = []
        recorded = home / "pgdata" / "postmaster.pid"
        for _ in range(times):
            until(lambda: len(web_processes(supervisor.pid)) == 2, "no process was held ready")
            time.sleep(base + 2.5)  # the spare has read its code; the one that serves has settled
            web.append(killed(min(web_processes(supervisor.pid)), port))
            postgres = int(recorded.read_text().split()[0])
            backends.append(killed(children(postgres)[-1], port))
        for _ in range(max(times // 5, 2)):
            time.sleep(6)
            postmaster.append(killed(int(recorded.read_text().split()[0]), port))
        print(f"making a web process ready   {base:5.2f} s  1.00 ×")
        fine = [
            told("the web process killed", web, base),
            told("a process of PostgreSQL", backends, base),
            told("PostgreSQL whole", postmaster, base),
        ]
        return 0 if all(fine) else 1
    finally:
        supervisor.send_signal(signal.SIGINT)
        with contextlib.suppress(subprocess.TimeoutExpired):
            supervisor.wait(timeout=30)
        supervisor.kill()
        server.stop()
        shutil.rmtree(home, ignore_errors=True)


if __name__ == "__main__":
    sys.exit(main(*map(int, sys.argv[1:2])))
