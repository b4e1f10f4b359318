"""A PostgreSQL server of our own: its data folder, its port on loopback, its start, stop and recovery."""

from __future__ import annotations

import contextlib
import json
import os
import pwd
import re
import secrets
import shutil
import socket
import subprocess
import time
from collections.abc import Callable
from dataclasses import dataclass, field
from pathlib import Path
from urllib.parse import quote

from ..core.errors import KalonError

Say = Callable[[str], None]
SUPER, OWNER, DATABASE = "kalon_super", "kalon_owner", "kalon"
APP, GATE = "kalon_app", "kalon_gate"
"""Whom the web signs in as: one for a shop's rows, one for the sign-in functions; both own nothing."""
SYSTEM_USER = "postgres"
GOING_BACK = "going-back"
"""There while the cluster is changed for another one."""
COMING_BACK = "recovery.signal"
"""There as long as a cluster out of an archive hasn't played its journal back."""
PASSWORDS = "kalon.passwords"
"""The roles' passwords beside the cluster's own files, where there is an archive."""


class HostTrouble(KalonError):
    """Something about this machine stands in the way; the text says what to do."""

    code = "host"


def programs(version: str = "") -> Path:
    """Folder of a PostgreSQL server's programs: of the version a cluster was made by, else the newest. Raises
    `HostTrouble`."""
    found = {p.parts[4]: p.parent for p in Path("/usr/lib/postgresql").glob("*/bin/postgres")}
    if version and found and version not in found:
        raise HostTrouble(
            f"The data are of PostgreSQL {version}, and this machine has {', '.join(sorted(found, key=int))}: "
            f"install it again (apt-get install postgresql-{version}), or write a backup where it still is and restore "
            "it here."
        )
    if found:
        return found[version or max(found, key=int)]
    other = shutil.which("postgres")
    if other:
        return Path(other).resolve().parent
    raise HostTrouble("PostgreSQL isn't installed: run ./kalon demo, which installs it, or apt-get install postgresql.")


def free_port() -> int:
    """A port nobody listens on, on loopback."""
    with socket.socket() as s:
        s.bind(("127.0.0.1", 0))
        return int(s.getsockname()[1])


@dataclass(frozen=True)
class Addresses:
    """A database by the role that comes to it: the tables' owner, the application, its gate."""

    owner: str = field(repr=False)
    app: str = field(repr=False)
    gate: str = field(repr=False)


@dataclass
class LocalServer:
    """One cluster below `home`. PostgreSQL refuses to run as root, so root hands it to the system's user."""

    home: Path
    say: Say = lambda text: None
    port: int = 0
    settings: tuple[str, ...] = ()
    """Settings of the server beside its own (`fsync=off`): for clusters that are thrown away, and for archives."""
    wait_s: int = 60
    """How long its start may take."""
    going_back: bool = False
    """Started in the midst of going back to a moment (`goback.py`)."""

    @property
    def data(self) -> Path:
        """The cluster's folder."""
        return self.home / "pgdata"

    @property
    def log(self) -> Path:
        """The server's own log."""
        return self.home / "postgres.log"

    def _program(self, name: str) -> str:
        """A program of the version this cluster was made by."""
        made_by = self.data / "PG_VERSION"
        return str(programs(made_by.read_text().strip() if made_by.exists() else "") / name)

    def _password_file(self, user: str) -> Path:
        return self.home / ("secret" if user == SUPER else f"secret.{user}")

    def _owner(self) -> pwd.struct_passwd:
        """The user the server runs as: of root's commands, whoever the cluster is of already."""
        if os.geteuid() != 0:
            return pwd.getpwuid(os.geteuid())
        with contextlib.suppress(FileNotFoundError, KeyError):
            if (of := pwd.getpwuid(self.data.stat().st_uid)).pw_uid != 0:
                return of
        try:
            return pwd.getpwnam(SYSTEM_USER)
        except KeyError:
            raise HostTrouble(f"There is no user {SYSTEM_USER}; install Debian's postgresql package.") from None

    def run_as_owner(self, *command: str, env: dict[str, str] | None = None) -> subprocess.CompletedProcess[str]:
        """Run a program as the server's user; how it ended is for whoever runs it to see."""
        prefix = ["runuser", "-u", self._owner().pw_name, "--"] if os.geteuid() == 0 else []
        return subprocess.run(
            [*prefix, *command], capture_output=True, text=True, errors="replace", cwd="/", check=False,
            stdin=subprocess.DEVNULL, env=os.environ | (env or {}),
        )  # fmt: skip

    def _run(self, *command: str, check: bool = True) -> subprocess.CompletedProcess[str]:
        done = self.run_as_owner(*command)
        if check and done.returncode:
            tail = "\n".join((done.stderr or done.stdout).strip().splitlines()[-3:])
            raise HostTrouble(f"PostgreSQL's {Path(command[0]).name} failed: {tail}")
        return done

    def give(self, path: Path) -> None:
        """Make a file or a folder the server's user's."""
        if os.geteuid() == 0:
            owner = self._owner()
            os.chown(path, owner.pw_uid, owner.pw_gid)

    def prepare(self) -> None:
        """Its folder, which its user can reach. Raises `HostTrouble`."""
        try:
            self.home.mkdir(parents=True, exist_ok=True)
            self.give(self.home)
            self.home.chmod(0o750)
        except OSError as error:
            raise HostTrouble(f"The data folder {self.home} can't be used: {error.strerror}.") from None
        probe = self._run("test", "-w", str(self.home), check=False)
        if probe.returncode:
            raise HostTrouble(
                f"The user {self._owner().pw_name} can't reach the data folder {self.home}. "
                "Set KALON_DATA to a folder it can write, such as /var/lib/kalon."
            )

    def create(self) -> None:
        """Make the cluster if it isn't there. A half-made one is thrown away and made anew."""
        self.prepare()
        if (self.data / "PG_VERSION").exists():
            return
        self.say(f"new database cluster in {self.data}")
        half = self.home / "pgdata.new"
        if half.exists():
            self.say("an earlier start stopped half-way; beginning that step again")
            shutil.rmtree(half)
        for user in (SUPER, OWNER, APP, GATE):
            self._new_password(user)
        self._run(
            self._program("initdb"), "-D", str(half), "-U", SUPER, "--pwfile", str(self._password_file(SUPER)),
            "--auth=scram-sha-256", "-E", "UTF8", "--locale=C.UTF-8", "--data-checksums",
        )  # fmt: skip
        half.rename(self.data)

    def _recorded(self) -> tuple[int, int] | None:
        """Process and port that the lock file names, if there is one."""
        try:
            lines = (self.data / "postmaster.pid").read_text().splitlines()
            return int(lines[0]), int(lines[3])
        except (OSError, IndexError, ValueError):
            return None

    def _alive(self, process: int) -> bool:
        """Whether that process is this cluster's server, and not one that got its number later."""
        try:
            command = Path(f"/proc/{process}/cmdline").read_bytes().split(b"\0")
        except OSError:
            return False
        return b"postgres" in Path(os.fsdecode(command[0])).name.encode() and os.fsencode(self.data) in command

    def running(self) -> bool:
        """Whether the server runs; takes over its port."""
        recorded = self._recorded()
        if recorded and self._alive(recorded[0]):
            self.port = recorded[1]
            return True
        return False

    def start(self) -> None:
        """Start the server, or take over one that a killed Kalon left running. Clears a stale lock."""
        if not self.going_back and (self.home / GOING_BACK).exists():
            raise HostTrouble(
                "Going back to a moment was cut off, and what is here is neither this nor that: run the same again "
                "(./kalon restore --at …). What was there before is safe."
            )
        self.create()
        if self.running():
            self.say("PostgreSQL was still running; using it")
            self._provision()
            return
        lock = self.data / "postmaster.pid"
        if lock.exists():
            self.say("a lock left by a power cut was cleared; PostgreSQL recovers its journal")
            lock.unlink()
        self.port = self.port or free_port()
        options = f"-p {self.port} -c listen_addresses=127.0.0.1 -c unix_socket_directories='' -c max_connections=60"
        # Of what is set twice the last holds.
        options += "".join(f" -c {setting}" for setting in self.settings)
        coming_back = (self.data / COMING_BACK).exists()
        started = self._run(
            self._program("pg_ctl"), "start", "-w", "-t", str(self.wait_s), "-D", str(self.data), "-l", str(self.log),
            "-o", options, check=False,
        )  # fmt: skip
        if started.returncode or not self.running() or (coming_back and not self._played_back()):
            told = self.log.read_text(errors="replace").strip().splitlines() if self.log.exists() else []
            why = [line for line in told if "FATAL" in line][-1:] or told[-2:]
            raise HostTrouble(f"PostgreSQL did not start; its log {self.log} says: {' / '.join(why)}")
        try:
            self._provision()
        except BaseException:
            self.stop()  # nobody else would
            raise

    def _played_back(self) -> bool:
        """Wait until a journal out of an archive is played back; whether it was."""
        import psycopg

        until = time.monotonic() + self.wait_s
        while self.running() and time.monotonic() < until:
            with contextlib.suppress(psycopg.OperationalError), psycopg.connect(self.url(SUPER, "postgres")) as cx:
                if cx.execute("SELECT pg_is_in_recovery()").fetchone() == (False,):
                    return True
            time.sleep(0.2)
        return False

    def _new_password(self, user: str, password: str = "") -> None:
        file = self._password_file(user)
        half = file.with_name(file.name + ".new")
        half.touch(mode=0o600)
        half.write_text(password or secrets.token_urlsafe(24))
        self.give(half)
        half.rename(file)

    def _provision(self) -> None:
        """The database and its three roles, none of which may make roles or databases, each with its own password.

        The owner may act as the application's role, never the other way round. Raises `HostTrouble` where the server
        lets nobody in."""
        import psycopg

        try:
            self._roles()
        except psycopg.OperationalError as error:
            said = str(error).strip().splitlines()[0].rpartition("FATAL: ")[2].strip()
            raise HostTrouble(
                f"The database in {self.data} can't be used: {said}. Put the folder back from a copy; or set "
                "KALON_DATA to an empty one and bring a backup in there (./kalon restore FILE)."
            ) from None
        self.ensure_database(DATABASE)

    def _roles(self) -> None:
        import psycopg
        from psycopg import sql

        with psycopg.connect(self.url(SUPER, "postgres"), autocommit=True) as cx:
            for user in (OWNER, APP, GATE):
                if not self._password_file(user).exists():
                    self._new_password(user)
                role = sql.Identifier(user)
                if not cx.execute("SELECT 1 FROM pg_roles WHERE rolname = %s", [user]).fetchone():
                    cx.execute(sql.SQL("CREATE ROLE {}").format(role))
                cx.execute(
                    sql.SQL("ALTER ROLE {} LOGIN NOSUPERUSER NOCREATEROLE NOCREATEDB NOBYPASSRLS PASSWORD {}").format(
                        role, sql.Literal(self._password(user))
                    )
                )
            cx.execute(sql.SQL("GRANT {} TO {} WITH ADMIN OPTION").format(sql.Identifier(APP), sql.Identifier(OWNER)))

    def ensure_database(self, name: str, *, fresh: bool = False) -> str:
        """Make a database if it isn't there, or throw it away first; returns its address."""
        import psycopg
        from psycopg import sql

        with psycopg.connect(self.url(SUPER, "postgres"), autocommit=True) as cx:
            database, owner = sql.Identifier(name), sql.Identifier(OWNER)
            if fresh:
                cx.execute(sql.SQL("DROP DATABASE IF EXISTS {} WITH (FORCE)").format(database))
            if not cx.execute("SELECT 1 FROM pg_database WHERE datname = %s", [name]).fetchone():
                cx.execute(sql.SQL("CREATE DATABASE {} OWNER {}").format(database, owner))
        return self.url(OWNER, name)

    def _password(self, user: str) -> str:
        try:
            return self._password_file(user).read_text().strip()
        except FileNotFoundError:
            raise HostTrouble(
                f"The database's password is missing: {self._password_file(user)}. Put that file back from a copy of "
                "the folder; or set KALON_DATA to an empty folder and bring a backup in there (./kalon restore FILE)."
            ) from None

    def put_passwords_by(self) -> None:
        """Keep the passwords of its roles with the cluster, so that they come back with it."""
        half = self.data / f"{PASSWORDS}.new"
        half.touch(mode=0o600)
        half.write_text(json.dumps({user: self._password(user) for user in (SUPER, OWNER, APP, GATE)}))
        self.give(half)
        half.rename(self.data / PASSWORDS)

    def take_passwords(self) -> None:
        """Those a cluster that was brought back came with; where it came with none, those there are stay."""
        try:
            found = json.loads((self.data / PASSWORDS).read_text())
        except FileNotFoundError:
            return
        for user, password in found.items():
            self._new_password(user, password)

    def password(self, user: str = SUPER) -> str:
        """The password of one of its roles."""
        return self._password(user)

    def url(self, user: str = OWNER, database: str = DATABASE) -> str:
        """Address of the database for one of its roles."""
        return f"postgresql://{user}:{quote(self._password(user), safe='')}@127.0.0.1:{self.port}/{database}"

    def addresses(self, database: str = DATABASE) -> Addresses:
        """Address of the database for each of its roles."""
        return Addresses(self.url(OWNER, database), self.url(APP, database), self.url(GATE, database))

    def stop(self) -> None:
        """Stop the server and wait for it."""
        if self.running():
            self._run(self._program("pg_ctl"), "stop", "-w", "-m", "fast", "-D", str(self.data), check=False)

    def pages_looked_at(self) -> int:
        """How many pages of a stopped cluster there are. Raises `HostTrouble` where one isn't what was written."""
        done = self.run_as_owner(self._program("pg_checksums"), "--check", "-D", str(self.data))
        looked = re.search(r"Blocks scanned:\s+(\d+)", done.stdout)
        bad = re.search(r"Bad checksums:\s+(\d+)", done.stdout)
        if done.returncode or not looked:
            spoilt = f"{bad[1]} pages are spoilt" if bad else done.stderr.strip() or "its pages can't be read"
            raise HostTrouble(f"In {self.data} {spoilt}.")
        return int(looked[1])

    def kill(self) -> None:
        """Kill the server and all its processes at once, as a power cut would."""
        recorded = self._recorded()
        if recorded:
            subprocess.run(["pkill", "-9", "-P", str(recorded[0])], check=False)
            os.kill(recorded[0], 9)
            while self._alive(recorded[0]):
                time.sleep(0.05)
