"""Text of a cell put right, and a short form of it for a sentence."""

from __future__ import annotations

import re
from functools import lru_cache

SHORT = 40


def plain(text: str) -> str:
    """Text with its spaces put right, and without signs nobody can see or write."""
    if text.isascii() and text.isprintable() and "  " not in text and text == text.strip():
        return text
    return _mended(text)


@lru_cache(maxsize=10_000)
def _mended(text: str) -> str:
    seen = re.sub(r"[\x00-\x1f\x7f\u00a0\ufeff]", " ", text).encode("utf-8", "replace").decode()
    return " ".join(seen.split())


def short(text: str) -> str:
    """As much of a cell as a sentence shows."""
    return text if len(text) <= SHORT else text[: SHORT - 1] + "…"
