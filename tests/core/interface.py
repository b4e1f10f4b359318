"""What the interface takes over of each sport, as it draws and names it: `python -m tests.core.interface` writes it."""

from __future__ import annotations

import json
from dataclasses import asdict
from pathlib import Path

from kalon.core.sports.every import EVERY

FILE = Path(__file__).parents[2] / "web" / "src" / "api" / "sports.json"


def text() -> str:
    """The file, by sport: what such a shoe is called, how it is built, and what is drawn where nothing is said."""
    sports = {
        sport: {"called": facts.called or sport, "build": facts.build, "drawn": asdict(facts.drawn)}
        for sport, facts in EVERY.items()
    }
    return json.dumps(sports, indent=2) + "\n"


if __name__ == "__main__":
    FILE.write_text(text())
