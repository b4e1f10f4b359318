"""What the interface takes over of sports, sizes and shoes, as it draws and names them:
`python -m tests.core.interface` writes it."""

from __future__ import annotations

import json
from collections.abc import Mapping
from dataclasses import asdict
from pathlib import Path

from kalon.core.rules.scales import CHOICE_PART, PARTS, PROPERTIES
from kalon.core.sports.every import EVERY
from kalon.core.systems import SIZE_SYSTEMS

WEB = Path(__file__).parents[2] / "web" / "src"


def _sports() -> Mapping[str, object]:
    """By sport: what such a shoe is called, how it is built, and what is drawn where nothing is said."""
    return {
        sport: {"called": facts.called or sport, "build": facts.build, "drawn": asdict(facts.drawn)}
        for sport, facts in EVERY.items()
    }


def _sizes() -> Mapping[str, object]:
    """By size system: its name, the step its sizes are sold in, and whom it is offered to."""
    return {
        system: {"name": f"{of.name} {of.unit}".strip(), "step": of.step, "typed": of.typed, "own_step": of.own_step, "asked": of.asked}
        for system, of in SIZE_SYSTEMS.items()
    }  # fmt: skip


def _parts() -> Mapping[str, object]:
    """By part of a shoe: its name, what is said of it, and where features of it sit."""
    return {
        part: {"name": name, "properties": [n for n, s in PROPERTIES.items() if s.part == part],
               "choices": [n for n, at in CHOICE_PART.items() if at == part], "holds": list(holds)}
        for part, (name, holds) in PARTS.items()
    }  # fmt: skip


WRITTEN = {
    WEB / "api" / "sports.json": _sports, WEB / "api" / "sizes.json": _sizes,
    WEB / "stations" / "spec" / "parts.json": _parts,
}  # fmt: skip


def text(file: Path) -> str:
    """What a file must be."""
    return json.dumps(WRITTEN[file](), indent=2) + "\n"


if __name__ == "__main__":
    for path in WRITTEN:
        path.write_text(text(path))
