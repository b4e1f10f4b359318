"""Whether what is in the archive can be had back: tried each week, in a cluster of its own beside the shop's, thrown
away afterwards. Every page's checksum is looked at; the records of what was done are held against the shop's own.
"""

from __future__ import annotations

import shutil
from dataclasses import asdict, dataclass
from datetime import datetime, timedelta
from typing import Any, LiteralString

import psycopg

from . import archive
from .postgres import OWNER, HostTrouble, LocalServer

EVERY, AGAIN = timedelta(days=7), timedelta(days=1)
"""How often it is tried, and how soon again where it failed. House defaults."""
SETTLED = timedelta(minutes=10)
"""What is younger isn't held against anything: it may still be on its way into the archive."""
ROOM = 2.0
"""So many times the database's size has to be free for it. House default."""
LONGEST_S = 3600
RECORDS: dict[str, LiteralString] = {
    "change": "SELECT id::text, hashtextextended(r::text, 0) FROM change r WHERE at < %s",
    "shop_change": "SELECT id::text, hashtextextended(r::text, 0) FROM shop_change r WHERE at < %s",
    "movement": "SELECT id::text, hashtextextended(r::text, 0) FROM movement r WHERE at < %s",
    "journal_line": "SELECT id::text, hashtextextended(r::text, 0) FROM journal_line r WHERE at < %s",
}
"""Tables that are added to and never altered (but where somebody is erased), with a hash of each row."""


@dataclass(frozen=True)
class Tried:
    """A drill: when, how many pages were looked at, how many records were the same here and there."""

    at: str
    pages: int
    records: int
    trouble: str | None = None

    def noted(self) -> dict[str, Any]:
        """For the state that is kept."""
        return asdict(self)


def is_due(last: dict[str, Any] | None, now: datetime) -> bool:
    """Whether it is time to try it (again)."""
    if not last:
        return True
    return now - datetime.fromisoformat(last["at"]) >= (AGAIN if last["trouble"] else EVERY)


def tried(server: LocalServer, now: datetime, settled: timedelta = SETTLED) -> Tried:
    """Bring the archive back beside the shop's own, and look at it."""
    beside = LocalServer(server.home / "drill", wait_s=LONGEST_S)
    shutil.rmtree(beside.home, ignore_errors=True)
    try:
        _room_for(server)
        beside.prepare()
        beside.data.mkdir(mode=0o700)
        beside.give(beside.data)
        own = f"--target-timeline={archive.timeline(server)}"
        archive.run(server, f"--pg1-path={beside.data}", "--archive-mode=off", own, "restore")
        beside.take_passwords()
        beside.start()
        records = _same(beside.url(OWNER), server.url(OWNER), now - settled)
        beside.stop()
        return Tried(now.isoformat(), beside.pages_looked_at(), records)
    except (HostTrouble, psycopg.Error) as error:
        return Tried(now.isoformat(), 0, 0, str(error).strip().splitlines()[0])
    finally:
        beside.stop()
        shutil.rmtree(beside.home, ignore_errors=True)


def _room_for(server: LocalServer) -> None:
    """Raises `HostTrouble` where trying it would fill the shop's own disk."""
    needed = ROOM * max((b.bytes for b in archive.held(server).backups), default=0)
    if (free := shutil.disk_usage(server.home).free) < needed:
        raise HostTrouble(f"There is no room to try it: {needed / 1e9:.1f} GB are needed and {free / 1e9:.1f} GB free.")


def _same(there: str, here: str, until: datetime) -> int:
    """How many records are the same. Raises `HostTrouble` where one is missing or another."""
    count = 0
    with psycopg.connect(there) as back, psycopg.connect(here) as own:
        for table, asked in RECORDS.items():
            ours: dict[str, int] = dict(own.execute(asked, [until]).fetchall())
            theirs: dict[str, int] = dict(back.execute(asked, [until]).fetchall())
            if missing := ours.keys() - theirs.keys():
                raise HostTrouble(f"{len(missing)} records of {table} aren't in the archive.")
            if other := [k for k, of in ours.items() if theirs[k] != of]:
                raise HostTrouble(f"{len(other)} records of {table} are others in the archive.")
            count += len(ours)
    return count
