"""A database server, a loaded demo and a web process of the tests' own, each for as long as it is needed."""

from __future__ import annotations

import atexit
import fcntl
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

import psycopg
from psycopg.conninfo import conninfo_to_dict

from kalon.demo.people import SIGN_INS
from kalon.host.home import base
from kalon.host.postgres import OWNER, SUPER, Addresses, LocalServer, free_port
from kalon.host.supervise import answers
from kalon.store.migrate import migrate
from kalon.store.staff import digest
from tests import plainly

TEMPLATE = "kalon_template"
SEED = "KALON_TEST_SEED"
"""Environment variable: where the processes of one test run share their seed."""
THROWN_AWAY = ("fsync=off", "full_page_writes=off", "synchronous_commit=off", "max_connections=400",
               "shared_buffers=256MB", "autovacuum=off")  # fmt: skip
"""Settings of the run's one server: nobody misses its data after a power cut."""


def own_home() -> Path:
    """A data folder nobody else uses, which the database's user can reach."""
    return base().with_name("kalon-tests") / f"test-{uuid.uuid4().hex[:8]}"


@contextmanager
def _one_at_a_time() -> Iterator[Path]:
    """The run's seed, held by one process at a time."""
    if SEED not in os.environ:
        os.environ[SEED] = str(own_home().with_suffix(".seed"))
        atexit.register(forget_seed)
    place = Path(os.environ[SEED])
    place.parent.mkdir(parents=True, exist_ok=True)
    with place.with_suffix(".lock").open("w") as lock:
        fcntl.flock(lock, fcntl.LOCK_EX)
        yield place


def seed() -> Path:
    """A stopped cluster with the demo scenario, made by whoever comes first; the others copy it."""
    with _one_at_a_time() as place:
        if not (place / "whole").exists():
            server = LocalServer(place, settings=THROWN_AWAY)
            try:
                server.start()
                url = loaded_database(server, TEMPLATE)
                keep_sign_ins(url)
            finally:
                server.stop()
            (place / "whole").touch()
    return place


def shared_server() -> LocalServer:
    """The one server of the whole run: started by whoever comes first, stopped when the run forgets its seed."""
    image = seed()
    with _one_at_a_time() as place:
        server = LocalServer(place.with_suffix(".server"), settings=THROWN_AWAY)
        if not server.running():
            subprocess.run(["cp", "-a", str(image), str(server.home)], check=True)
            server.start()
        _servers[server.port] = server
        return server


def forget_seed() -> None:
    """Throw the seed away, and the run's server with it."""
    place = Path(os.environ.pop(SEED))
    server = LocalServer(place.with_suffix(".server"))
    server.stop()
    shutil.rmtree(server.home, ignore_errors=True)
    shutil.rmtree(place, ignore_errors=True)
    place.with_suffix(".lock").unlink(missing_ok=True)


@contextmanager
def database_server() -> Iterator[LocalServer]:
    """A PostgreSQL of a test's own in a folder of its own, which it may kill; thrown away afterwards."""
    home = own_home()
    server = LocalServer(home)
    try:
        subprocess.run(["cp", "-a", str(seed()), str(home)], check=True)
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


TOKENS = {p.login: f"signed-in-before-{p.login}".ljust(43, "-") for p in SIGN_INS}
"""Sessions that every copy of the demo has, by sign-in name."""


def keep_sign_ins(url: str) -> None:
    """Somebody of each name has signed in before: tests needn't verify a password again and again."""
    with psycopg.connect(url) as cx:
        for login, token in TOKENS.items():
            cx.execute(
                "INSERT INTO session (token_hash, shop_id, staff_id, expires_at) "
                "SELECT %s, shop_id, id, now() + interval '12 hours' FROM staff WHERE login = %s",
                [digest(token), login],
            )


def demo_database(server: LocalServer, name: str) -> str:
    """A database with the demo scenario, copied from the template; its owner's address. One of that name before it
    goes, whoever is at it.

    Copied as files: a copy by its log keeps what its sequences had logged ahead in the template, and after a kill they
    would count from the copy's beginning again."""
    with psycopg.connect(server.url(SUPER, "postgres"), autocommit=True) as cx:
        cx.execute(f"DROP DATABASE IF EXISTS {name} WITH (FORCE)")
        cx.execute(f"CREATE DATABASE {name} TEMPLATE {TEMPLATE} STRATEGY FILE_COPY OWNER {OWNER}")
    return server.url(OWNER, name)


def loaded_database(server: LocalServer, name: str) -> str:
    """A fresh database into which the demo scenario is loaded; its owner's address."""
    from kalon.demo.load import load  # brings all of the core: only where a demo is loaded

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
        # An idle connection is kept as long as the product keeps one: with the library's own five seconds, which are
        # also those of the clients here, now and then a client asked on one that was just being closed.
        self.process = subprocess.Popen(
            [sys.executable, "-m", "uvicorn", "kalon.api.app:create_app", "--factory", "--port", str(self.port),
             "--no-access-log", "--log-level", "warning", "--timeout-keep-alive", "75"],
            env={**os.environ, "KALON_DATABASE_URL": self.database.app, "KALON_GATE_URL": self.database.gate,
                 "KALON_LOG": "ERROR"} | self.env,
            cwd=Path(__file__).parents[1],
        )  # fmt: skip
        deadline = time.monotonic() + 90
        while not answers("127.0.0.1", self.port):
            if time.monotonic() > deadline:
                raise TimeoutError("the application did not come up")
            time.sleep(0.1)

    def up(self) -> None:
        """Started, if it isn't running, and ready on the database that is there now."""
        if self.process is None or self.process.poll() is not None:
            self.start()
        deadline = time.monotonic() + 30
        while plainly.get(f"{self.url}/ready", timeout=20).status_code != 200:
            if time.monotonic() > deadline:
                raise TimeoutError("the application did not find its database")
            time.sleep(0.05)

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
