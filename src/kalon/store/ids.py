"""Identifiers: UUID version 7 (RFC 9562), ordered by time and not to be guessed."""

from __future__ import annotations

import secrets
import time
from uuid import UUID


def new_id() -> UUID:
    """A new UUIDv7: 48 bits of milliseconds, then randomness."""
    milliseconds = time.time_ns() // 1_000_000
    value = (milliseconds & (1 << 48) - 1) << 80 | secrets.randbits(80)
    value = value & ~(0xF << 76) | 0x7 << 76
    value = value & ~(0x3 << 62) | 0x2 << 62
    return UUID(int=value)
