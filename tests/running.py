"""A database server, a loaded demo and a web process of the tests' own, each for as long as it is needed."""

from __future__ import annotations

import os
import shutil
import signal
import subprocess
import sys
import time
import uuid
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field
from pathlib import Path

from psycopg.conninfo import conninfo_to_dict

from kalon.demo.load import load
from kalon.host.postgres import SUPER, Addresses, LocalServer, default_home, free_port
from kalon.host.supervise import answers
from kalon.store.migrate import migrate


@contextmanager
def database_server() -> Iterator[LocalServer]:
    """A PostgreSQL of our own in a folder of its own, thrown away afterwards."""
    home = default_home().parent / f"test-{uuid.uuid4().hex[:8]}"
    server = LocalServer(home)
    try:
        server.start()
        _servers[server.port] = server
        yield server
    finally:
        server.stop()
        shutil.rmtree(home, ignore_errors=True)


_servers: dict[int, LocalServer] = {}
"""Servers of this process by port."""


def addresses_of(url: str) -> Addresses:
    """The same database for each of its roles."""
    parts = conninfo_to_dict(url)
    return _servers[int(str(parts["port"]))].addresses(str(parts["dbname"]))


def superuser_of(url: str) -> str:
    """The same database for the server's superuser."""
    parts = conninfo_to_dict(url)
    return _servers[int(str(parts["port"]))].url(SUPER, str(parts["dbname"]))


def demo_database(server: LocalServer, name: str) -> str:
    """A fresh database with the demo scenario; its address."""
    url = server.ensure_database(name, fresh=True)
    migrate(url)
    load(url, lambda _: None)
    return url


@dataclass
class Web:
    """The web process, which tests may kill and start again on the same port."""

    database: Addresses
    port: int = field(default_factory=free_port)
    env: dict[str, str] = field(default_factory=dict)
    process: subprocess.Popen[bytes] | None = None

    @property
    def url(self) -> str:
        return f"http://127.0.0.1:{self.port}"

    def start(self) -> None:
        self.process = subprocess.Popen(
            [sys.executable, "-m", "uvicorn", "kalon.api.app:create_app", "--factory", "--port", str(self.port),
             "--no-access-log", "--log-level", "warning"],
            env={**os.environ, "KALON_DATABASE_URL": self.database.app, "KALON_GATE_URL": self.database.gate,
                 "KALON_LOG": "ERROR"} | self.env,
            cwd=Path(__file__).parents[1],
        )  # fmt: skip
        deadline = time.monotonic() + 30
        while not answers("127.0.0.1", self.port):
            if time.monotonic() > deadline:
                raise TimeoutError("the application did not come up")
            time.sleep(0.1)

    def kill(self) -> None:
        """As `kill -9`."""
        if self.process:
            self.process.send_signal(signal.SIGKILL)
            self.process.wait()

    def stop(self) -> None:
        if self.process and self.process.poll() is None:
            self.process.terminate()
            self.process.wait(timeout=15)


@contextmanager
def web(url: str, **env: str) -> Iterator[Web]:
    """A running application on the database whose owner's address this is."""
    running = Web(addresses_of(url), env=env)
    running.start()
    try:
        yield running
    finally:
        running.stop()
