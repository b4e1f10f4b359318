"""Bring the database to this version: plain SQL files applied by yoyo, one process at a time."""

from __future__ import annotations

import time
from functools import cache
from pathlib import Path

import psycopg

from ..core.errors import KalonError
from ..core.feet.usual_growth import measured_again

FOLDER = Path(__file__).parent / "migrations"
LOCK_KEY = 0x6B616C6F6E
LOCK_MS, PAUSE_S, MOST_TRIES = 3000, 2.0, 30
"""How long a step waits for a lock, how long it gives way then, and how often. House defaults."""


class NewerDatabase(KalonError):
    """A version that is newer than this one was here."""

    code = "newer-database"

    def __init__(self, step: str) -> None:
        super().__init__(
            f"This database is of a newer Kalon ({step} is unknown here): serve it by that one, or bring back a backup "
            "of before (./kalon restore FILE)."
        )


def shipped() -> dict[str, Path]:
    """Every migration of this version in order: its name and its file."""
    return {f.stem: f for f in sorted(FOLDER.glob("*.sql"))}


def yoyo_url(url: str) -> str:
    """The same address as yoyo knows it, of psycopg 3, with how long each of its connections waits for a lock."""
    scheme, _, rest = url.partition("://")
    assert scheme in ("postgresql", "postgres")
    return f"postgresql+psycopg://{rest}{'&' if '?' in rest else '?'}options=-c%20lock_timeout%3D{LOCK_MS}"


def migrate(url: str, *, up_to: str | None = None) -> list[str]:
    """Apply what is missing (up to a name, where one is given); returns the names applied.

    An advisory lock dies with its process, unlike a row. No step waits for a lock with everybody else behind it: it
    gives way and comes again. Raises `NewerDatabase` where another version was here."""
    from yoyo import get_backend, read_migrations

    with psycopg.connect(url, autocommit=True) as guard:
        guard.execute("SELECT pg_advisory_lock(%s)", [LOCK_KEY])
        if newer := _unknown(guard):
            raise NewerDatabase(min(newer))
        if up_to is None and not _missing(guard):
            _keep_rules(guard)
            return []
        backend = get_backend(yoyo_url(url))
        try:
            names: list[str] = []
            for tries in range(MOST_TRIES, 0, -1):
                missing = backend.to_apply(read_migrations(str(FOLDER)))
                if up_to:
                    missing = missing.filter(lambda m: m.id <= up_to)
                names += [m.id for m in missing if m.id not in names]
                try:
                    backend.apply_migrations(missing)
                    break
                except psycopg.errors.LockNotAvailable:
                    if tries == 1:
                        raise
                    time.sleep(PAUSE_S)
        finally:
            backend.connection.close()
        if up_to is None:
            _keep_rules(guard)
    return names


def _keep_rules(cx: psycopg.Connection[tuple[object, ...]]) -> None:
    """What the database goes by is what the core says: when a young foot is measured again."""
    kept = cx.execute("SELECT up_to_years, days FROM growth_step ORDER BY up_to_years").fetchall()
    if kept != measured_again():
        with cx.transaction():
            cx.execute(rules_kept().encode())


def rules_kept() -> str:
    """The statements by which the database goes by what the core says, whatever it went by before."""
    rows = ", ".join(f"({years}, {days})" for years, days in measured_again())
    return (
        f"DELETE FROM growth_step; INSERT INTO growth_step (up_to_years, days) VALUES {rows}; "
        "UPDATE athlete SET measured_on = measured_on WHERE measured_on IS NOT NULL AND erased_at IS NULL;"
    )


def _unknown(cx: psycopg.Connection[tuple[object, ...]]) -> set[str]:
    return {str(name) for name in _applied(cx)} - set(shipped())


def _applied(cx: psycopg.Connection[tuple[object, ...]]) -> set[object]:
    if cx.execute("SELECT to_regclass('_yoyo_migration')").fetchone() == (None,):
        return set()
    return {row[0] for row in cx.execute("SELECT migration_id FROM _yoyo_migration").fetchall()}


def _missing(cx: psycopg.Connection[tuple[object, ...]]) -> list[str]:
    applied = _applied(cx)
    return [name for name in shipped() if name not in applied]


def marked(name: str) -> str:
    """The statement that notes a migration as applied, as yoyo itself notes it."""
    from yoyo.migrations import get_migration_hash

    return (
        "INSERT INTO _yoyo_migration (migration_hash, migration_id, applied_at_utc) "
        f"VALUES ('{get_migration_hash(name)}', '{name}', now() AT TIME ZONE 'utc');"
    )


@cache
def _names() -> tuple[str, ...]:
    return tuple(shipped())


def pending(connection: psycopg.Connection[dict[str, object]]) -> list[str]:
    """Names of migrations this database lacks."""
    rows = connection.execute("SELECT migration_id FROM _yoyo_migration").fetchall()
    applied = {row["migration_id"] for row in rows}
    return [name for name in _names() if name not in applied]
