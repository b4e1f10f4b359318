"""An archive of the database on another disk, by pgBackRest: a full backup a week, what changed each hour, and the
journal as it is written, so that it can be had back as it was at any moment of the last weeks, sealed with a key.

Debian's pgBackRest with its usual set-up; what it is told stands in the data folder.
"""

from __future__ import annotations

import json
import re
import secrets
import shutil
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import Any

import psycopg

from .postgres import SUPER, HostTrouble, LocalServer

FOLDER, SETTINGS, CONFIG = "archive", "archive.json", "pgbackrest.conf"
STANZA = "kalon"
FULL_EVERY, CHANGED_EVERY = timedelta(days=7), timedelta(hours=1)
"""How often all of it is written, and what changed since. House defaults."""
FULLS_KEPT = 4
"""So many full backups are kept, with all that belongs to them: about a month can be gone back. House default."""
SEGMENT_S = 60
"""So much of the journal can be lost when the machine's disk dies at once: it is handed over at least that often."""
A_KEY = re.compile(r"[A-Za-z0-9-]{10,200}")
LONGEST_SOCKET = 90
"""A socket's whole path has 107 characters at most (unix(7)), its own name among them."""
PLAIN = re.compile(r"/[A-Za-z0-9._/@+-]*")
READS = (0, 1, 2)
"""What pgBackRest says of an archive that is fine, of none, of one without a backup."""
KEY_WORDS = 8
QUEUE = "4GiB"
"""So much of the journal waits for an archive that is away; more, and it is given up rather than the shop's own disk
filled: there is a hole then until the next backup."""

CONF = """\
[global]
repo1-path={to}
repo1-cipher-type=aes-256-cbc
repo1-cipher-pass={key}
repo1-retention-full={fulls}
repo1-bundle=y
compress-type=zst
start-fast=y
archive-push-queue-max={queue}
process-max=1
log-level-console=warn
log-level-file=off
lock-path={folder}/lock
spool-path={folder}/spool

[{stanza}]
pg1-path={data}
pg1-socket-path={socket}
pg1-user={user}
"""


@dataclass(frozen=True)
class Backed:
    """One backup in the archive."""

    label: str
    kind: str
    began: datetime
    ended: datetime
    bytes: int


@dataclass(frozen=True)
class Archived:
    """What the archive holds: its backups, oldest first, and how much room they take there."""

    backups: tuple[Backed, ...]
    bytes: int

    @property
    def since(self) -> datetime | None:
        """The earliest moment it can go back to: the end of the first backup."""
        return self.backups[0].ended if self.backups else None

    @property
    def newest(self) -> datetime | None:
        """When the last backup ended; the journal reaches further."""
        return self.backups[-1].ended if self.backups else None


def folder(home: Path) -> Path:
    """Where its settings, locks and socket are."""
    return home / FOLDER


def where(home: Path) -> Path | None:
    """The folder the archive is in; none where there is none."""
    try:
        return Path(json.loads((home / SETTINGS).read_text())["to"])
    except (OSError, ValueError, KeyError):
        return None


def state_file(home: Path) -> Path:
    """Where it is noted how the archive stands."""
    return folder(home) / "state.json"


def new_key() -> str:
    """A key of 160 bits, in words of five letters and digits that nobody takes for another."""
    letters = "ABCDEFGHJKMNPQRSTVWXYZ23456789"
    return "-".join("".join(secrets.choice(letters) for _ in range(5)) for _ in range(KEY_WORDS))


def begin(server: LocalServer, to: Path, key: str | None) -> str:
    """Keep an archive in a folder from the next start on; the key it is sealed with, made where none is given.

    Raises `HostTrouble` for a folder that can't be one."""
    server.prepare()
    check(server.home, to)
    key = key or new_key()
    if not A_KEY.fullmatch(key):
        raise HostTrouble("An archive's key is at least ten letters, digits and hyphens.")
    to.mkdir(parents=True, exist_ok=True)
    server.give(to)
    to.chmod(0o700)
    _configure(server, to, key)
    half = server.home / f"{SETTINGS}.new"
    half.write_text(json.dumps({"format": 1, "to": str(to)}))
    server.give(half)
    half.rename(server.home / SETTINGS)
    return key


def end(home: Path) -> None:
    """Keep it no more; what is in it stays."""
    (home / SETTINGS).unlink(missing_ok=True)


def check(home: Path, to: Path) -> None:
    """Whether an archive can be there. Raises `HostTrouble`."""
    if not shutil.which("pgbackrest"):
        raise HostTrouble("An archive needs pgBackRest, which isn't on this machine: apt-get install pgbackrest.")
    if not PLAIN.fullmatch(str(to)):
        raise HostTrouble(f"“{to}” can't be an archive's folder: letters, digits and . _ / @ + - only.")
    if not PLAIN.fullmatch(str(home)) or len(str(folder(home) / "socket")) > LONGEST_SOCKET:
        raise HostTrouble(f"Data in {home} can't have an archive: a shorter path of plain letters can.")
    if to.is_relative_to(home) or home.is_relative_to(to):
        raise HostTrouble(f"{to} is with the data themselves: what takes them would take the archive too.")
    there = to
    while not there.exists():
        there = there.parent
    if not there.is_dir():
        raise HostTrouble(f"{there} isn't a folder.")


def same_disk(home: Path, to: Path) -> bool:
    """Whether the archive is on the very disk the data are on."""
    return home.stat().st_dev == to.stat().st_dev


def _configure(server: LocalServer, to: Path, key: str) -> None:
    at = folder(server.home)
    for each in (at, at / "lock", at / "spool", at / "socket"):
        each.mkdir(mode=0o700, parents=True, exist_ok=True)
        server.give(each)
    half = at / f"{CONFIG}.new"
    half.touch(mode=0o600)
    half.write_text(
        CONF.format(to=to, key=key, fulls=FULLS_KEPT, queue=QUEUE, folder=at, stanza=STANZA, data=server.data,
                    socket=at / "socket", user=SUPER)
    )  # fmt: skip
    server.give(half)
    half.rename(at / CONFIG)


def command(home: Path) -> str:
    """How pgBackRest is called for these data."""
    return f"pgbackrest --config={folder(home) / CONFIG} --stanza={STANZA}"


def server_settings(home: Path) -> tuple[str, ...]:
    """What the database's server is told at its start, so that its journal goes to the archive; nothing without one."""
    if where(home) is None:
        return ()
    return (
        f"unix_socket_directories={folder(home) / 'socket'}",
        "archive_mode=on",
        f"archive_timeout={SEGMENT_S}",
        f"archive_command='{command(home)} archive-push %p'",
    )


def run(server: LocalServer, *asked: str) -> str:
    """A command of pgBackRest's, as the database's user; what it says. Raises `HostTrouble`."""
    env = {"PGPASSWORD": server.password()} if server.running() else {}
    done = server.run_as_owner(*command(server.home).split(), *asked, env=env)
    if done.returncode:
        tail = (done.stderr or done.stdout).strip().splitlines()
        said = next(
            (line for line in tail if "ERROR" in line), tail[-1] if tail else f"it ended with {done.returncode}"
        )
        raise HostTrouble(f"The archive: {said.rpartition('ERROR: ')[2].strip()}")
    return done.stdout


def made_ready(server: LocalServer) -> None:
    """The archive of a running server begun, or seen to be this database's. Raises `HostTrouble`."""
    server.put_passwords_by()
    run(server, f"--pg1-port={server.port}", "stanza-create")


def timeline(server: LocalServer) -> int:
    """On which of its timelines a running server is: going back begins another one, and so does another machine that
    came out of the same archive."""
    with psycopg.connect(server.url(SUPER, "postgres")) as cx:
        row = cx.execute("SELECT timeline_id FROM pg_control_checkpoint()").fetchone()
    return int(row[0]) if row else 1


def held(server: LocalServer) -> Archived:
    """What is in the archive. Raises `HostTrouble` where it can't be read."""
    told = json.loads(run(server, "info", "--output=json"), strict=False)
    if any(repo["status"]["code"] not in READS for stanza in told for repo in stanza["repo"]):
        raise HostTrouble("The archive: it can't be read with this key.")
    return of_info(told)


def of_info(told: Sequence[dict[str, Any]]) -> Archived:
    """What pgBackRest's own account of an archive says."""
    backups, room = [], 0
    for stanza in told:
        for b in stanza.get("backup", []):
            if b.get("error"):
                continue
            times = b["timestamp"]
            room += int(b["info"]["repository"].get("delta", 0))
            backups.append(
                Backed(b["label"], b["type"], _at(times["start"]), _at(times["stop"]), int(b["info"]["size"]))
            )
    return Archived(tuple(sorted(backups, key=lambda b: b.ended)), room)


def _at(seconds: int) -> datetime:
    return datetime.fromtimestamp(seconds, UTC)


def due(there: Archived, now: datetime) -> str | None:
    """Which backup is due: `full`, `incr` (what changed), or none."""
    fulls = [b.ended for b in there.backups if b.kind == "full"]
    if not fulls or now - fulls[-1] >= FULL_EVERY:
        return "full"
    return "incr" if there.newest and now - there.newest >= CHANGED_EVERY else None


def back_up(server: LocalServer, kind: str) -> None:
    """Write a backup into the archive, beside a shop that works. Raises `HostTrouble`."""
    run(server, f"--pg1-port={server.port}", f"--type={kind}", "backup")
