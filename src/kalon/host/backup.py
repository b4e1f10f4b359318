"""Backups: pg_dump's own format out; in again in one transaction, with the migrations the backup lacks."""

from __future__ import annotations

import errno
import os
import re
import subprocess
import tempfile
from dataclasses import dataclass
from datetime import UTC, datetime
from pathlib import Path
from typing import LiteralString
from uuid import UUID

import psycopg
from psycopg.conninfo import conninfo_to_dict

from ..store.migrate import marked, migrate, rules_kept, shipped
from .postgres import APP, GATE, HostTrouble, programs

LIBPQ = {"host": "PGHOST", "port": "PGPORT", "user": "PGUSER", "password": "PGPASSWORD", "sslmode": "PGSSLMODE",
         "dbname": "PGDATABASE"}  # fmt: skip
OF_THE_MOMENT = (
    "session", "sign_in_attempt", "sign_in_device", "capture_progress", "pin_tried", "shelf_change", "learn_start",
)  # fmt: skip
"""Tables whose rows no backup holds and no restore brings back: nobody is signed in by a restore, and no device is
remembered that was forgotten since; what changed on a shelf, and where the learner stood, is of this very database."""
SECRETS = ("athlete_link", "day_feed", "tablet")
"""Tables of secrets given away, with when they were ended: what was ended here stays ended in what is restored."""


def _environment(url: str) -> dict[str, str]:
    """The address as libpq's variables: a password on a command line could be read by anybody on the machine."""
    parts = conninfo_to_dict(url)
    return {**os.environ, **{LIBPQ[k]: str(v) for k, v in parts.items() if k in LIBPQ and v is not None}}


def _tail(text: str) -> str:
    return " / ".join(text.strip().splitlines()[-2:])


def backup(url: str, file: Path) -> None:
    """Write the whole database to `file`, for its owner only; a failed or killed backup leaves nothing behind."""
    half = file.with_name(file.name + ".part")
    try:
        half.unlink(missing_ok=True)
        handle, named = _begun(half)
    except OSError as error:
        raise HostTrouble(f"{file} can't be written: {error.strerror}.") from None
    try:
        left_out = [f"--exclude-table-data=public.{t}" for t in OF_THE_MOMENT]
        done = subprocess.run(
            [str(programs() / "pg_dump"), "--format=custom", "--no-owner", *left_out],
            stdout=handle, stderr=subprocess.PIPE, check=False, env=_environment(url),
        )  # fmt: skip
        if done.returncode:
            raise HostTrouble(f"The backup was not written: {_tail(done.stderr.decode(errors='replace'))}")
        os.fsync(handle)
        if not named:
            # With a folder given, though the path needs none: only so is a link followed (linkat, AT_SYMLINK_FOLLOW).
            os.link(f"/proc/self/fd/{handle}", half, src_dir_fd=handle, follow_symlinks=True)
        half.replace(file)
    finally:
        os.close(handle)
        half.unlink(missing_ok=True)


def _begun(half: Path) -> tuple[int, bool]:
    """A file to write, and whether it has its name already: where it can be, it has none, so that whoever dies while
    writing leaves nothing behind."""
    try:
        return os.open(half.parent, os.O_TMPFILE | os.O_RDWR, 0o600), False
    except OSError as error:
        if error.errno not in (errno.EOPNOTSUPP, errno.EISDIR, errno.EINVAL):
            raise
    return os.open(half, os.O_CREAT | os.O_EXCL | os.O_RDWR, 0o600), True


BEFORE = """
CREATE TEMP TABLE ended_here (source text, token_hash bytea);
CREATE TEMP TABLE erased_here (athlete_id uuid);
DO $$
DECLARE name text;
BEGIN
    FOREACH name IN ARRAY ARRAY[{secrets}] LOOP
        IF to_regclass('public.' || name) IS NOT NULL THEN
            EXECUTE format('INSERT INTO ended_here SELECT %L, token_hash FROM public.%I WHERE ended_at IS NOT NULL',
                           name, name);
        END IF;
    END LOOP;
    IF EXISTS (SELECT 1 FROM information_schema.columns WHERE table_schema = 'public' AND table_name = 'athlete'
               AND column_name = 'erased_at') THEN
        EXECUTE 'INSERT INTO erased_here SELECT id FROM public.athlete WHERE erased_at IS NOT NULL';
    END IF;
END
$$;
DROP SCHEMA public CASCADE;
CREATE SCHEMA public AUTHORIZATION pg_database_owner;
""".format(secrets=", ".join(f"'{name}'" for name in SECRETS))


@dataclass(frozen=True)
class Stays:
    """What stays ended (table and secret) and erased (athletes) whatever is brought back."""

    ended: list[tuple[str, bytes]]
    erased: list[UUID]


def stays_of(url: str) -> Stays:
    """What was ended and who was erased in a database."""
    ended: list[tuple[str, bytes]] = []
    erased: list[UUID] = []
    with psycopg.connect(url) as cx:
        for name in SECRETS:
            if cx.execute("SELECT to_regclass(%s)", [name]).fetchone() != (None,):
                found = cx.execute(f"SELECT token_hash FROM {name} WHERE ended_at IS NOT NULL").fetchall()
                ended += [(name, r[0]) for r in found]
        columns = "SELECT 1 FROM information_schema.columns WHERE table_name = 'athlete' AND column_name = 'erased_at'"
        if cx.execute(columns).fetchone():
            erased = [r[0] for r in cx.execute("SELECT id FROM athlete WHERE erased_at IS NOT NULL").fetchall()]
    return Stays(ended, erased)


def stays_put(url: str, stays: Stays) -> None:
    """Make it so in a database that was brought back, brought up to date first where something has to; nobody is signed
    in there any more."""
    if stays.ended or stays.erased:
        migrate(url)
    with psycopg.connect(url) as cx:
        if cx.execute("SELECT to_regclass('session')").fetchone() == (None,):
            return
        for name, secret in stays.ended:
            cx.execute(f"UPDATE {name} SET ended_at = now() WHERE token_hash = %s AND ended_at IS NULL", [secret])
        if stays.erased:
            cx.execute("CREATE TEMP TABLE erased_here (athlete_id uuid)")
            cx.cursor().executemany("INSERT INTO erased_here VALUES (%s)", [(e,) for e in stays.erased])
            cx.execute(ERASED)
        for name in OF_THE_MOMENT:
            if cx.execute("SELECT to_regclass(%s)", [name]).fetchone() != (None,):
                cx.execute(f"DELETE FROM {name}")


ERASED: LiteralString = """
DO $$
DECLARE
    one record;
    token text := gen_random_uuid()::text;
BEGIN
    FOR one IN SELECT a.id, a.shop_id, (SELECT s.id FROM staff s WHERE s.shop_id = a.shop_id AND s.role = 'manager'
                                        AND s.active ORDER BY s.id LIMIT 1) AS manager
               FROM erased_here e JOIN athlete a ON a.id = e.athlete_id WHERE a.erased_at IS NULL LOOP
        DELETE FROM session WHERE token_hash = sha256(convert_to(token, 'UTF8'));
        INSERT INTO session (token_hash, shop_id, staff_id, expires_at)
            VALUES (sha256(convert_to(token, 'UTF8')), one.shop_id, one.manager, now() + interval '1 hour');
        PERFORM set_config('kalon.token', token, true);
        IF NOT athlete_erase(one.id) THEN
            RAISE EXCEPTION 'an athlete who was erased here could not be erased in what was restored';
        END IF;
    END LOOP;
    PERFORM set_config('kalon.token', '', true);
END
$$;
"""
"""Who was erased here since is erased in what is restored too, as a manager of their shop would."""


def _after() -> str:
    """What follows the backup's own statements: the migrations it lacks, what was ended and who was erased stays so,
    nobody signed in."""
    names = ", ".join(f"'{name}'" for name in shipped())
    steps = [
        "RESET ALL;",
        "SET search_path = public;",
        "DO $$ BEGIN IF EXISTS (SELECT 1 FROM _yoyo_migration WHERE migration_id NOT IN (" + names + ")) THEN "
        "RAISE EXCEPTION 'this backup is of a newer Kalon'; END IF; END $$;",
    ]
    for name, file in shipped().items():
        steps += [
            f"SELECT NOT EXISTS (SELECT 1 FROM _yoyo_migration WHERE migration_id = '{name}') AS lacking \\gset",
            "\\if :lacking",
            f"\\i '{file}'",
            marked(name),
            "\\endif",
        ]
    steps += [
        f"UPDATE {name} s SET ended_at = now() FROM ended_here e "
        f"WHERE e.source = '{name}' AND e.token_hash = s.token_hash AND s.ended_at IS NULL;"
        for name in SECRETS
    ]
    steps += [ERASED, rules_kept()]
    steps.append(f"TRUNCATE {', '.join(OF_THE_MOMENT)};")
    return "\n".join(steps) + "\n"


@dataclass(frozen=True)
class Lost:
    """What a restore would take away: of which shops, and what was done there since the backup was written."""

    shops: list[str]
    written: datetime | None
    """When the backup was; none where its head doesn't say."""
    changes: int
    sales: int
    athletes: int

    @property
    def text(self) -> str:
        """It in a sentence."""
        whose = ", ".join(f"“{s}”" for s in self.shops)
        if self.written is None:
            return f"All that is here now, of {whose}, gives way to the backup."
        when = self.written.astimezone()
        since = f"since then {self.changes} changes, {self.sales} sales and {self.athletes} new athletes would be lost"
        return f"All that is here now, of {whose}, gives way to the backup of {when:%-d %B %Y, %H:%M}: {since}."


def written_at(file: Path) -> datetime | None:
    """When a backup was written, as its head says."""
    found = re.search(r"Archive created at (\d{4}-\d\d-\d\d \d\d:\d\d:\d\d) ?(\S*)", _contents(file, TZ="UTC"))
    return datetime.fromisoformat(found[1]).replace(tzinfo=UTC) if found else None


SINCE: tuple[tuple[str, LiteralString], ...] = (
    ("changes", "SELECT count(*) FROM change WHERE at > %s"),
    ("sales", "SELECT count(*) FROM sale WHERE sold_at > %s AND undone_at IS NULL"),
    ("athletes", "SELECT count(DISTINCT athlete_id) FROM change WHERE at > %s AND part = 'athlete' AND version = 1"),
)


def lost(url: str, file: Path) -> Lost | None:
    """What restoring a file would take away; none where there is no shop yet, or no such table."""
    written = written_at(file) if file.is_file() else None
    with psycopg.connect(url) as cx:
        if cx.execute("SELECT to_regclass('shop')").fetchone() == (None,):
            return None
        shops = [r[0] for r in cx.execute("SELECT name FROM shop ORDER BY name").fetchall()]
        if not shops:
            return None
        counts = {}
        for name, asked in SINCE:
            row = cx.execute(asked, [written]).fetchone()
            counts[name] = row[0] if row else 0
    return Lost(shops, written, **counts)


def restore(url: str, file: Path) -> None:
    """Put a backup, of this or any earlier version, in place of what is there: all of it or nothing."""
    if not file.is_file():
        raise HostTrouble(f"There is no backup file {file}.")
    with tempfile.TemporaryDirectory(prefix="kalon-restore-") as folder:
        before, script, after = (Path(folder) / n for n in ("before.sql", "backup.sql", "after.sql"))
        read = subprocess.run(
            [str(programs() / "pg_restore"), "--no-owner", f"--file={script}", str(file)],
            capture_output=True, text=True, errors="replace", check=False,
        )  # fmt: skip
        if read.returncode or "_yoyo_migration" not in _contents(file):
            raise HostTrouble(f"{file} is not a backup written by ./kalon backup, or it is cut short.")
        before.write_text(BEFORE, encoding="utf-8")
        after.write_text(_after(), encoding="utf-8")
        _send_away(url)
        done = subprocess.run(
            [str(programs() / "psql"), "--no-psqlrc", "--quiet", "--single-transaction", "--output=/dev/null",
             "--set=ON_ERROR_STOP=1", f"--file={before}", f"--file={script}", f"--file={after}"],
            capture_output=True, text=True, errors="replace", check=False, env=_environment(url),
            stdin=subprocess.DEVNULL,
        )  # fmt: skip
    if done.returncode:
        raise HostTrouble(f"Nothing was changed; the restore failed: {_tail(done.stderr)}")


def _contents(file: Path, **more: str) -> str:
    listed = subprocess.run(
        [str(programs() / "pg_restore"), "--list", str(file)],
        capture_output=True,
        text=True,
        errors="replace",
        check=False,
        env=os.environ | more,
    )
    return listed.stdout


def _send_away(url: str) -> None:
    """End the other connections of our own roles, whose plans would be of tables that are no more."""
    with psycopg.connect(url) as cx:
        cx.execute(
            "SELECT pg_terminate_backend(pid) FROM pg_stat_activity WHERE datname = current_database() "
            "AND pid <> pg_backend_pid() AND pg_has_role(current_user, usesysid, 'USAGE') "
            "AND usename IN (current_user, %s, %s)",
            [APP, GATE],
        )
