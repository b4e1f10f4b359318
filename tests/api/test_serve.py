"""`./kalon serve` comes back by itself from the death of any one of its processes; a killed one leaves no mess."""

from __future__ import annotations

import contextlib
import os
import shutil
import signal
import subprocess
import sys
import time
from collections.abc import Iterator
from pathlib import Path

import psycopg
import pytest

from kalon.host.postgres import SUPER, LocalServer, free_port
from kalon.host.supervise import MODULE, Retry, answers, listen
from tests.api.calls import eventually
from tests.running import own_home


def children(process: int) -> list[int]:
    told = subprocess.run(["ps", "-o", "pid=", "--ppid", str(process)], capture_output=True, text=True, check=False)
    return [int(p) for p in told.stdout.split()]


def alive(process: int) -> bool:
    with contextlib.suppress(OSError):
        return Path(f"/proc/{process}/stat").read_text().rpartition(")")[2].split()[0] != "Z"
    return False


def web_processes(supervisor: int) -> list[int]:
    return [p for p in children(supervisor) if MODULE in _command(p)]


def _command(pid: int) -> str:
    """A process's command; nothing of one that has just ended."""
    try:
        return Path(f"/proc/{pid}/cmdline").read_text()
    except (FileNotFoundError, ProcessLookupError):
        return ""


def serve(home: Path, port: int) -> subprocess.Popen[str]:
    return subprocess.Popen(
        [sys.executable, "-m", "kalon.cli", "serve", "--port", str(port), "--workers", "2",
         "--yes", "--shop", "A Shop", "--name", "First", "--login", "first"],
        env={**os.environ, "KALON_DATA": str(home), "KALON_LOG": "ERROR", "KALON_PASSWORD": "last-and-sock-4"}, text=True, stderr=subprocess.PIPE,
    )  # fmt: skip


def ready(port: int) -> None:
    eventually(lambda: answers("127.0.0.1", port) or None, seconds=60)


class Bench:
    """A serving Kalon that tests may maim one after the other; one that was ended is started anew."""

    def __init__(self, home: Path) -> None:
        self.home, self.port = home, free_port()
        self.supervisor = serve(home, self.port)

    def up(self) -> Bench:
        if self.supervisor.poll() is not None:
            self.supervisor = serve(self.home, self.port)
        ready(self.port)
        return self

    def end(self) -> tuple[int, str]:
        """End it as a person would; its code and what it told."""
        self.supervisor.send_signal(signal.SIGINT)
        _, told = self.supervisor.communicate(timeout=30)
        return self.supervisor.returncode, told


@pytest.fixture(scope="module")
def maimed() -> Iterator[Bench]:
    home = own_home()
    bench = Bench(home)
    yield bench
    with contextlib.suppress(subprocess.TimeoutExpired, ValueError):
        bench.end()
    bench.supervisor.kill()
    LocalServer(home).stop()
    shutil.rmtree(home, ignore_errors=True)


@pytest.fixture
def bench(maimed: Bench) -> Bench:
    return maimed.up()


def test_each_web_process_may_be_killed(bench: Bench) -> None:
    port, supervisor = bench.port, bench.supervisor
    for place in range(3):  # the third is held ready, and serves once one of the others is gone
        before = eventually(lambda: p if len(p := web_processes(supervisor.pid)) == 3 else None)
        os.kill(before[place], signal.SIGKILL)
        eventually(lambda b=before: True if len(set(web_processes(supervisor.pid)) - set(b)) == 1 else None)
        ready(port)
    assert supervisor.poll() is None


def test_each_process_of_postgresql_may_be_killed(bench: Bench) -> None:
    home, port, supervisor = bench.home, bench.port, bench.supervisor
    server = LocalServer(home)
    assert server.running()
    recorded = home / "pgdata" / "postmaster.pid"

    def first() -> int:
        return int(recorded.read_text().split()[0])

    postmaster = first()
    for process in children(postmaster)[:3]:
        with contextlib.suppress(ProcessLookupError):
            os.kill(process, signal.SIGKILL)
        ready(port)
    postmaster = first()
    server.kill()
    # What was asked of the one that was killed may be answered for a moment still.
    eventually(
        lambda: True if recorded.exists() and recorded.read_text() and first() != postmaster else None, seconds=60
    )
    ready(port)
    assert supervisor.poll() is None


def test_a_leftover_that_does_not_end_by_itself_is_found_and_ended() -> None:
    port = free_port()
    gone = subprocess.Popen([sys.executable, "-c", ""])
    gone.wait()
    code = (
        "import socket, sys, time, signal\n"
        "signal.signal(signal.SIGTERM, signal.SIG_IGN)\n"
        f"s = socket.create_server(('127.0.0.1', {port})); print('up', flush=True); time.sleep(600)\n"
    )
    folder = Path(os.environ.get("TMPDIR", "/tmp")) / f"kalon-left-{port}"
    package = folder / "kalon" / "host"
    package.mkdir(parents=True)
    for place in (folder / "kalon", package):
        (place / "__init__.py").write_text("")
    (package / "webprocess.py").write_text(code)
    left = subprocess.Popen(
        [sys.executable, "-m", MODULE, "3", "4", str(gone.pid)], cwd=folder, stdout=subprocess.PIPE,
        env={**os.environ, "PYTHONPATH": str(folder)},
    )  # fmt: skip
    try:
        assert left.stdout and left.stdout.readline() == b"up\n"
        said: list[str] = []
        opened = listen("127.0.0.1", port, said.append)
        opened.close()
        assert any("left by a killed Kalon" in s for s in said)
        assert left.wait(timeout=10) == -signal.SIGKILL
    finally:
        left.kill()


def test_postgresql_that_will_not_start_is_tried_again_after_growing_pauses(bench: Bench) -> None:
    home, port, supervisor = bench.home, bench.port, bench.supervisor
    config = home / "pgdata" / "postgresql.conf"
    whole = config.read_text()
    config.write_text(whole + "\nno_such_setting = 1\n")
    LocalServer(home).kill()
    eventually(lambda: True if not answers("127.0.0.1", port) else None)
    time.sleep(3)
    assert supervisor.poll() is None
    config.write_text(whole)
    ready(port)


def test_a_killed_supervisor_takes_its_web_processes_along_and_the_next_start_comes_up(bench: Bench) -> None:
    own = eventually(lambda: p if len(p := web_processes(bench.supervisor.pid)) == 3 else None)
    bench.supervisor.kill()
    bench.supervisor.communicate()
    bench.supervisor = serve(bench.home, bench.port)
    eventually(lambda: True if not any(map(alive, own)) else None)
    ready(bench.port)
    server = LocalServer(bench.home)
    assert server.running()
    with psycopg.connect(server.url(SUPER, "postgres")) as cx:
        assert cx.execute("SELECT 1").fetchone() == (1,)
    code, told = bench.end()
    assert code == 0
    assert "still running" in told
    assert not LocalServer(bench.home).running()


def test_pauses_grow_and_begin_again_after_a_quiet_while(monkeypatch: pytest.MonkeyPatch) -> None:
    now = 1000.0
    monkeypatch.setattr("kalon.host.supervise.time.monotonic", lambda: now)
    retry = Retry(begun=now)
    pauses = []
    for _ in range(9):
        retry.ended()
        pauses.append(retry.at - now)
        now = retry.at
        retry.started()
    assert pauses == [0.0, 0.5, 1.0, 2.0, 4.0, 8.0, 16.0, 30.0, 30.0]
    now += 61
    retry.ended()
    assert retry.due
