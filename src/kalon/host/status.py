"""How this machine's Kalon is: who serves, its database, its learner, its last backup, its disk. Nothing is started."""

from __future__ import annotations

import json
import os
import shutil
from collections.abc import Iterator
from dataclasses import asdict, dataclass
from datetime import datetime, timedelta
from pathlib import Path
from typing import Any

import psycopg

from .. import __version__
from ..store.migrate import shipped
from . import archive, keeper
from .postgres import DATABASE, OWNER, LocalServer
from .supervise import answers, reached_at, who_holds
from .tablets import told as tablets_at

BACKUPS = "backup.json"
OLD_BACKUP = timedelta(days=7)
"""A backup older than this is said to be old. House default."""
LATE = timedelta(hours=3)
"""An archive without a backup for so long is said to be late: one is due each hour. House default."""
FULL = 0.1
"""Less of the disk free than this is said. House default."""
STEPS = list(shipped())


@dataclass(frozen=True)
class Status:
    """What was found. Sizes in bytes, times in seconds; what couldn't be found out is none."""

    version: str
    data: str
    serving: bool
    up_s: float | None
    at: str | None
    answers: bool | None
    database: bool
    schema: str | None
    database_bytes: int | None
    waiting: int | None
    """Fittings and makers the learner hasn't looked at."""
    oldest_s: float | None
    parked: int | None
    """What the learner couldn't read and put aside."""
    tablets: int | None
    """Of all shops here, and when somebody last worked on one."""
    tablet_seen: str | None
    secure: list[str]
    """Where tablets reach it, while it serves them."""
    archive: dict[str, Any] | None
    """The archive as it stood when it was last looked at, and where it is; none where there is none."""
    backup: dict[str, Any] | None
    free_bytes: int
    disk_bytes: int

    @property
    def well(self) -> bool:
        """Whether it serves, answers, its database is this version's, and its archive is written."""
        kept = not self.archive or not (self.archive.get("trouble") or (self.archive.get("tried") or {}).get("trouble"))
        return self.serving and self.answers is not False and self.database and self.schema == STEPS[-1] and kept


def note_backup(home: Path, file: Path, now: datetime) -> None:
    """Remember that a backup was written."""
    half = home / f"{BACKUPS}.new"
    noted = {"format": 1, "at": now.isoformat(), "file": str(file.resolve()), "bytes": file.stat().st_size}
    half.write_text(json.dumps(noted))
    if os.geteuid() == 0:
        owner = home.stat()
        os.chown(half, owner.st_uid, owner.st_gid)
    half.rename(home / BACKUPS)


def last_backup(home: Path) -> dict[str, Any] | None:
    """The newest backup written on this machine; none where none was, or where its note can't be read."""
    try:
        noted = json.loads((home / BACKUPS).read_text())
        datetime.fromisoformat(noted["at"])
        return {"at": noted["at"], "file": str(noted["file"]), "bytes": int(noted["bytes"])}
    except (OSError, ValueError, KeyError, TypeError):
        return None


def found(home: Path, now: datetime) -> Status:
    """Look at everything. Raises `PermissionError` where whoever asks may not read the data."""
    holder = who_holds(home)
    at = holder.get("at")
    server = LocalServer(home)
    running = server.running()
    of_database = _database(server.url(OWNER, holder.get("database") or DATABASE)) if running else {}
    room = shutil.disk_usage(home if home.is_dir() else home.parents[0] if home.parents[0].is_dir() else Path("/"))
    began = holder.get("since")
    return Status(
        __version__, str(home), bool(at),
        (now - datetime.fromisoformat(began)).total_seconds() if at and began else None,
        at, answers(*_parted(at)) if at else None,
        running and bool(of_database), of_database.get("schema"), of_database.get("bytes"), of_database.get("waiting"),
        of_database.get("oldest_s"), of_database.get("parked"), of_database.get("tablets"),
        of_database.get("tablet_seen"), tablets_at(home) if at else [], _archive(home), last_backup(home),
        room.free, room.total,
    )  # fmt: skip


def _archive(home: Path) -> dict[str, Any] | None:
    kept = archive.where(home)
    if kept is None:
        return None
    return {"to": str(kept), "since": None, "newest": None, "bytes": None, **(keeper.state(home) or {})}


def _parted(at: str) -> tuple[str, int]:
    host, _, port = at.removeprefix("http://").rpartition(":")
    return reached_at(host), int(port)


LEARNER = """
    SELECT (SELECT count(*) FROM learn_due) + (SELECT count(*) FROM learn_maker_due) AS waiting,
           extract(epoch FROM now() - least((SELECT min(at) FROM learn_due), (SELECT min(at) FROM learn_maker_due)))
               AS oldest_s,
           (SELECT count(*) FROM learn_parked) AS parked
"""


def _database(url: str) -> dict[str, Any]:
    """What the database says of itself; nothing where it doesn't answer."""
    try:
        with psycopg.connect(url, connect_timeout=3) as cx:
            size = cx.execute("SELECT pg_database_size(current_database())").fetchone()
            told: dict[str, Any] = {"bytes": size[0] if size else None}
            if cx.execute("SELECT to_regclass('_yoyo_migration')").fetchone() != (None,):
                newest = cx.execute("SELECT max(migration_id) FROM _yoyo_migration").fetchone()
                told["schema"] = newest[0] if newest else None
            if cx.execute("SELECT to_regclass('learn_parked')").fetchone() != (None,):
                row = cx.execute(LEARNER).fetchone()
                waiting, oldest, parked = row or (None, None, None)
                told |= {"waiting": waiting, "oldest_s": float(oldest) if oldest else None, "parked": parked}
            if cx.execute("SELECT to_regclass('tablet')").fetchone() != (None,):
                row = cx.execute("SELECT count(*), max(seen_at) FROM tablet WHERE ended_at IS NULL").fetchone()
                count, seen = row or (None, None)
                told |= {"tablets": count, "tablet_seen": seen.isoformat() if seen else None}
            return told
    except psycopg.OperationalError:
        return {}


def lines(of: Status, now: datetime) -> Iterator[str]:
    """It in words, a line a matter; what somebody should see to says so."""
    serves = f"serves at {of.at}, up {span(of.up_s or 0)}" if of.serving else "isn't served: ./kalon serve"
    if of.serving and not of.answers:
        serves += ", but doesn't answer: see its log"
    yield f"Kalon     {of.version} {serves}"
    if of.database and of.schema != STEPS[-1]:
        behind = "brought up to date at the next start" if of.schema in (None, *STEPS) else "of a newer Kalon than this"
        yield f"Database  {size(of.database_bytes)}, its schema {of.schema or 'not made yet'}: {behind}"
    else:
        away = "doesn't answer" if of.serving else "stopped"
        yield f"Database  {size(of.database_bytes) + ', up to date' if of.database else away}"
    if of.waiting is not None:
        aside = f"; {of.parked} set aside, named in the ledger" if of.parked else ""
        waits = f"{of.waiting} to look at, the oldest for {span(of.oldest_s or 0)}" if of.waiting else "nothing waits"
        yield f"Learner   {waits}{aside}"
    if of.tablets is not None:
        worked = now - datetime.fromisoformat(of.tablet_seen) if of.tablet_seen else None
        seen = f"{of.tablets}, one last worked on {span(worked.total_seconds())} ago" if worked else "none yet"
        yield f"Tablets   {seen}: {', '.join(of.secure) or 'not served to (./kalon serve --tablets)'}"
    if of.archive:
        yield f"Archive   {_of_archive(of.archive, now)}"
    if of.backup:
        age = now - datetime.fromisoformat(of.backup["at"])
        old = ": write one soon (./kalon backup FILE)" if age > OLD_BACKUP else ""
        gone = "" if Path(of.backup["file"]).exists() else ", which isn't there any more"
        yield f"Backup    {span(age.total_seconds())} ago, {size(of.backup['bytes'])}, {of.backup['file']}{gone}{old}"
    else:
        yield "Backup    none was written on this machine yet: ./kalon backup FILE"
    short = ": nearly full" if of.free_bytes < FULL * of.disk_bytes else ""
    yield f"Disk      {size(of.free_bytes)} of {size(of.disk_bytes)} free at {of.data}{short}"


def _of_archive(of: dict[str, Any], now: datetime) -> str:
    if of.get("trouble"):
        return f"{of['to']}: nothing is written there now. {of['trouble']}"
    if not of["newest"]:
        return f"{of['to']}: not looked at yet"
    since, newest = (datetime.fromisoformat(of[n]) for n in ("since", "newest"))
    old = now - newest
    late = ": nothing came since" if old > LATE else ""
    return (
        f"{of['to']}, {size(of['bytes'])}: back to {since.astimezone(now.tzinfo):%-d %B, %H:%M}, "
        f"last backup {span(old.total_seconds())} ago{late}; {_of_drill(of.get('tried'), now)}"
    )


def _of_drill(of: dict[str, Any] | None, now: datetime) -> str:
    if not of:
        return "not tried yet"
    ago = span((now - datetime.fromisoformat(of["at"])).total_seconds())
    if of["trouble"]:
        return f"TRIED {ago} ago and it can't be had back: {of['trouble']}"
    return f"tried {ago} ago, {of['records']} records as here, {of['pages']} pages whole"


def as_json(of: Status) -> str:
    """It for a program that watches."""
    return json.dumps(asdict(of) | {"well": of.well}, ensure_ascii=False)


def span(seconds: float) -> str:
    """A time in words, by its two largest units."""
    minutes = int(max(seconds, 0) // 60)
    days, hours = divmod(minutes // 60, 24)
    parts = [(days, "d"), (hours, "h"), (minutes % 60, "min")]
    first = next((i for i, (n, _) in enumerate(parts) if n), None)
    if first is None:
        return "less than a minute"
    return " ".join(f"{n} {unit}" for n, unit in parts[first : first + 2] if n)


def size(count: int | None) -> str:
    """A size in words, in powers of a thousand."""
    if count is None:
        return "of unknown size"
    for limit, unit in ((1e12, "TB"), (1e9, "GB"), (1e6, "MB")):
        if count >= limit:
            return f"{count / limit:.1f} {unit}"
    return f"{count / 1e3:.0f} kB"
