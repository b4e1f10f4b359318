"""What this machine's host wrote down for the web: of tablets, in the folder it names (`host/tablets.py`), and of the
archive (`host/keeper.py`)."""

from __future__ import annotations

import json
import os
from pathlib import Path

from .schemas_tablets import ArchiveOut, TriedOut, TrustOut


def _read(name: str) -> bytes | None:
    folder = os.environ.get("KALON_TABLETS")
    try:
        return (Path(folder) / name).read_bytes() if folder else None
    except OSError:
        return None


def tablets_told() -> TrustOut:
    """Where tablets reach it, and how they come to trust it; nothing where it serves none."""
    try:
        told = json.loads(_read("where.json") or b"{}")
    except ValueError:
        told = {}
    return TrustOut(secure=told.get("secure", []), trust=told.get("trust"), fingerprint=told.get("fingerprint"))


def archive_told() -> ArchiveOut:
    """How the archive stood when it was last looked at; that there is none where there is none."""
    kept, state = os.environ.get("KALON_ARCHIVE"), os.environ.get("KALON_ARCHIVE_STATE")
    try:
        told = json.loads(Path(state).read_text()) if state else {}
    except (OSError, ValueError):
        told = {}
    return ArchiveOut(
        to=kept, trouble=told.get("trouble"), tried=TriedOut(**told["tried"]) if told.get("tried") else None,
        since=told.get("since"), newest=told.get("newest"), bytes=told.get("bytes"),
    )  # fmt: skip


def trusted() -> bytes | None:
    """The certificate of its own authority, DER; none where it has none."""
    return _read("authority.crt")
