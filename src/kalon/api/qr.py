"""A text as a pattern that cameras read (QR code, ISO/IEC 18004, drawn by segno)."""

from __future__ import annotations

import segno


def squares(text: str) -> list[list[bool]]:
    """Its rows, top to bottom, dark squares true; a seventh of it may be dirty."""
    return [[bool(dark) for dark in row] for row in segno.make(text, error="m", micro=False).matrix]


def as_path(rows: list[list[bool]]) -> str:
    """The dark squares as one path of a drawing, runs side by side as one bar."""
    bars = []
    for y, row in enumerate(rows):
        x = 0
        while x < len(row):
            wide = 0
            while x + wide < len(row) and row[x + wide]:
                wide += 1
            if wide:
                bars.append(f"M{x} {y}h{wide}v1h-{wide}z")
            x += wide or 1
    return "".join(bars)
