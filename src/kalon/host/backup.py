"""Backups: pg_dump's own format out; in again in one transaction, with the migrations the backup lacks."""

from __future__ import annotations

import errno
import os
import subprocess
import tempfile
from pathlib import Path

import psycopg
from psycopg.conninfo import conninfo_to_dict

from ..store.migrate import marked, shipped
from .postgres import APP, GATE, HostTrouble, programs

LIBPQ = {"host": "PGHOST", "port": "PGPORT", "user": "PGUSER", "password": "PGPASSWORD", "sslmode": "PGSSLMODE",
         "dbname": "PGDATABASE"}  # fmt: skip
OF_THE_MOMENT = ("session", "sign_in_attempt", "sign_in_device", "capture_progress", "pin_tried")
"""Tables whose rows no backup holds and no restore brings back: nobody is signed in by a restore, and no device is
remembered that was forgotten since."""
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
DO $$
DECLARE name text;
BEGIN
    FOREACH name IN ARRAY ARRAY[{secrets}] LOOP
        IF to_regclass('public.' || name) IS NOT NULL THEN
            EXECUTE format('INSERT INTO ended_here SELECT %L, token_hash FROM public.%I WHERE ended_at IS NOT NULL',
                           name, name);
        END IF;
    END LOOP;
END
$$;
DROP SCHEMA public CASCADE;
CREATE SCHEMA public AUTHORIZATION pg_database_owner;
""".format(secrets=", ".join(f"'{name}'" for name in SECRETS))


def _after() -> str:
    """What follows the backup's own statements: the migrations it lacks, what was ended stays so, nobody signed in."""
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
    steps.append(f"TRUNCATE {', '.join(OF_THE_MOMENT)};")
    return "\n".join(steps) + "\n"


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


def _contents(file: Path) -> str:
    listed = subprocess.run(
        [str(programs() / "pg_restore"), "--list", str(file)],
        capture_output=True,
        text=True,
        errors="replace",
        check=False,
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
