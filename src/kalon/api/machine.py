"""What this machine's host wrote down for tablets, in the folder it names (`host/tablets.py`)."""

from __future__ import annotations

import json
import os
from pathlib import Path

from .schemas_tablets import TrustOut


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


def trusted() -> bytes | None:
    """The certificate of its own authority, DER; none where it has none."""
    return _read("authority.crt")
