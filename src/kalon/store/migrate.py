"""Bring the database to this version: plain SQL files applied by yoyo, one process at a time."""

from __future__ import annotations

from functools import cache
from pathlib import Path

import psycopg

FOLDER = Path(__file__).parent / "migrations"
LOCK_KEY = 0x6B616C6F6E


def shipped() -> dict[str, Path]:
    """Every migration of this version in order: its name and its file."""
    return {f.stem: f for f in sorted(FOLDER.glob("*.sql"))}


def yoyo_url(url: str) -> str:
    """The same address under the name yoyo knows psycopg 3 by."""
    return url.replace("postgresql://", "postgresql+psycopg://", 1).replace("postgres://", "postgresql+psycopg://", 1)


def migrate(url: str, *, up_to: str | None = None) -> list[str]:
    """Apply what is missing (up to a name, where one is given); returns the names applied.

    An advisory lock dies with its process, unlike a row."""
    from yoyo import get_backend, read_migrations

    with psycopg.connect(url, autocommit=True) as guard:
        guard.execute("SELECT pg_advisory_lock(%s)", [LOCK_KEY])
        if up_to is None and not _missing(guard):
            return []
        backend = get_backend(yoyo_url(url))
        try:
            missing = backend.to_apply(read_migrations(str(FOLDER)))
            if up_to:
                missing = missing.filter(lambda m: m.id <= up_to)
            names = [m.id for m in missing]
            backend.apply_migrations(missing)
        finally:
            backend.connection.close()
    return names


def _missing(cx: psycopg.Connection[tuple[object, ...]]) -> list[str]:
    if cx.execute("SELECT to_regclass('_yoyo_migration')").fetchone() != (None,):
        applied = {row[0] for row in cx.execute("SELECT migration_id FROM _yoyo_migration").fetchall()}
        return [name for name in shipped() if name not in applied]
    return list(shipped())


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
