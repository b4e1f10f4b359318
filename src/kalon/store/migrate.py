"""Bring the database to this version: plain SQL files applied by yoyo, one process at a time."""

from __future__ import annotations

from pathlib import Path

import psycopg
from yoyo import get_backend, read_migrations

FOLDER = Path(__file__).parent / "migrations"
LOCK_KEY = 0x6B616C6F6E


def yoyo_url(url: str) -> str:
    """The same address under the name yoyo knows psycopg 3 by."""
    return url.replace("postgresql://", "postgresql+psycopg://", 1).replace("postgres://", "postgresql+psycopg://", 1)


def migrate(url: str) -> list[str]:
    """Apply what is missing; returns the names applied. An advisory lock dies with its process, unlike a row."""
    with psycopg.connect(url, autocommit=True) as guard:
        guard.execute("SELECT pg_advisory_lock(%s)", [LOCK_KEY])
        backend = get_backend(yoyo_url(url))
        try:
            missing = backend.to_apply(read_migrations(str(FOLDER)))
            names = [m.id for m in missing]
            backend.apply_migrations(missing)
        finally:
            backend.connection.close()
    return names


def pending(connection: psycopg.Connection[dict[str, object]]) -> list[str]:
    """Names of migrations this database lacks."""
    rows = connection.execute("SELECT migration_id FROM _yoyo_migration").fetchall()
    applied = {row["migration_id"] for row in rows}
    return [m.id for m in read_migrations(str(FOLDER)) if m.id not in applied]
