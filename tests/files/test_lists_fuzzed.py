"""Lists of known content in every dialect: of the lines that hold maker, model and size nearly all come in, none wrong,
by at most six answers a list."""

from __future__ import annotations

import json
from pathlib import Path
from random import Random
from typing import Any

from kalon.files.lists import Listed, lines_at, read_list
from tests.fuzz_lists import Made, answers_to, made
from tests.much import much

NOBODY: Any = lambda _share, _step: None  # noqa: E731
MOST_ANSWERS, LEAST_SHARE = 6, 0.99


def read(path: Path, given: Made) -> tuple[Listed, int]:
    """The list read as often as somebody answers it, and how many answers that took."""
    path.write_bytes(given.data)
    first = read_list(path, NOBODY, given.settings)
    answers = len(given.settings) - 1
    words = answers_to(given, first.asks, MOST_ANSWERS - answers)  # whoever is asked more leaves the rest open
    if words:
        first = read_list(path, NOBODY, given.settings | {"words": words})
    return first, answers + sum(map(len, words.values()))


def came_in(path: Path) -> set[tuple[Any, ...]]:
    bodies = [json.loads(text) for _, verdict, _, text in lines_at(path) if verdict != "refused"]
    return {
        (
            b["maker"],
            b["model"],
            b["sport"],
            b["eu_label"],
            b["width"],
            b["colour"],
            b.get("pairs"),
            b.get("price_minor"),
        )
        for b in bodies
        if "eu_label" in b
    }


def test_lists_in_every_dialect_come_in_right(tmp_path: Path) -> None:
    held = right = 0
    for n in range(much(60, 2000)):
        given = made(Random(n))
        _, answers = read(tmp_path / "list", given)
        found = came_in(tmp_path / "list")
        wrong = found - given.held
        assert not wrong, f"list {n} ({given.told}): {sorted(map(str, wrong))[:3]}"
        assert answers <= MOST_ANSWERS, f"list {n}: {answers} answers"
        held += len(given.held)
        right += len(found & given.held)
    print(f"{right} of {held} lines right")
    assert right >= LEAST_SHARE * held, f"{right} of {held}"
