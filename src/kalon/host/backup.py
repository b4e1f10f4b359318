"""Backups: pg_dump's own format out, pg_restore's in, in one transaction."""

from __future__ import annotations

import os
import subprocess
from pathlib import Path

import psycopg
from psycopg.conninfo import conninfo_to_dict

from ..store.migrate import migrate
from .postgres import HostTrouble, programs

LIBPQ = {"host": "PGHOST", "port": "PGPORT", "user": "PGUSER", "password": "PGPASSWORD", "sslmode": "PGSSLMODE",
         "dbname": "PGDATABASE"}  # fmt: skip


def _environment(url: str) -> dict[str, str]:
    """The address as libpq's variables: a password on a command line could be read by anybody on the machine."""
    parts = conninfo_to_dict(url)
    return {**os.environ, **{LIBPQ[k]: str(v) for k, v in parts.items() if k in LIBPQ and v is not None}}


def _tail(text: str) -> str:
    return " / ".join(text.strip().splitlines()[-2:])


def backup(url: str, file: Path) -> None:
    """Write the whole database to `file`; a failed backup leaves no file that looks whole."""
    half = file.with_name(file.name + ".part")
    done = subprocess.run(
        [str(programs() / "pg_dump"), "--format=custom", "--no-owner", f"--file={half}"],
        capture_output=True, text=True, check=False, env=_environment(url),
    )  # fmt: skip
    if done.returncode:
        half.unlink(missing_ok=True)
        raise HostTrouble(f"The backup was not written: {_tail(done.stderr)}")
    with half.open("rb") as written:
        os.fsync(written.fileno())
    half.rename(file)


def restore(url: str, file: Path) -> None:
    """Put a backup in place of what is there: all of it or nothing."""
    if not file.is_file():
        raise HostTrouble(f"There is no backup file {file}.")
    check = subprocess.run([str(programs() / "pg_restore"), "--list", str(file)], capture_output=True, check=False)
    if check.returncode:
        raise HostTrouble(f"{file} is not a backup written by ./kalon backup, or it is cut short.")
    migrate(url)
    with psycopg.connect(url) as cx:
        cx.execute(
            "SELECT pg_terminate_backend(pid) FROM pg_stat_activity "
            "WHERE datname = current_database() AND pid <> pg_backend_pid() AND usename = current_user"
        )
    done = subprocess.run(
        [str(programs() / "pg_restore"), "--clean", "--if-exists", "--no-owner", "--single-transaction",
         f"--dbname={conninfo_to_dict(url)['dbname']}", str(file)],
        capture_output=True, text=True, check=False, env=_environment(url),
    )  # fmt: skip
    if done.returncode:
        raise HostTrouble(f"Nothing was changed; the restore failed: {_tail(done.stderr)}")
    migrate(url)
