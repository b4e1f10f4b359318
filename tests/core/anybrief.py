"""Any brief somebody might bring: every question of its sport answered at random or not at all, with feet or without,
for one discipline or several, in any school."""

from __future__ import annotations

from random import Random
from typing import Any

from kalon.core.errors import BadInput
from kalon.core.rules.spec import SpecIn
from kalon.core.rules.words import SPORTS, Ask, Sport

NUMBERS: dict[str, tuple[float, float]] = {
    "body_kg": (28, 140), "sessions_per_week": (0, 9), "small_edges_pct": (0, 100), "edge_mm": (3, 30),
    "stance_min": (0, 12), "stature_mm": (1300, 2050), "thigh_mm": (330, 520), "knee_to_wall_cm": (2, 16), "bar_kg": (0, 260),
    "ride_km": (3, 220), "power_w": (120, 1500), "cadence_rpm": (60, 130), "budget": (25, 380),
}  # fmt: skip
NOTES = ("", "", "", "flat feet", "bunion on the left", "hallux rigidus", "rolled her ankle in May", "knee gives way",
         "prosthesis", "five months pregnant", "wears orthotics", "tingling toes", "aged 67", "11-year-old")  # fmt: skip
KINDS = ("this_sport", "other_sport", "running", "street", "none")


def _answer(ask: Ask, random: Random) -> Any:
    match ask.kind:
        case "choice":
            return random.choice(ask.options).value
        case "many":
            return random.sample([o.value for o in ask.options], random.choice((0, 0, 0, 1, 1, 2)))
        case "number":
            low, high = NUMBERS[ask.field]
            return round(random.uniform(low, high), 1)
        case "yes":
            return random.random() < 0.3
        case _:
            return None


def _foot(random: Random, length: float) -> dict[str, Any]:
    return {
        "length_mm": round(length, 1), "ball_width_mm": round(length * random.gauss(0.39, 0.014), 1),
        "ball_girth_mm": round(length * random.gauss(0.94, 0.04), 1),
        "instep_girth_mm": round(length * random.gauss(0.96, 0.045), 1),
        "heel_width_mm": round(length * random.gauss(0.245, 0.012), 1),
        "arch": random.choice((None, "low", "medium", "high")),
        "toe_shape": random.choice((None, "first_longest", "second_longest", "square")), "bunion": random.choice((None, False, True)),
    }  # fmt: skip


def feet(random: Random) -> dict[str, Any]:
    """A pair of feet, rather alike."""
    length = random.gauss(262, 16)
    return {
        "left": _foot(random, length), "right": _foot(random, length + random.gauss(0, 2.5)),
        "sock": random.choice(("none", "thin", "medium", "thick")), "wounds_or_numbness": random.random() < 0.05,
    }  # fmt: skip


def any_brief(random: Random, sport: Sport) -> dict[str, Any]:
    """A brief of a sport, as the calculation takes it."""
    words = SPORTS[sport]
    first, *others = random.sample(
        [d.value for d in words.disciplines], min(len(words.disciplines), random.choice((1, 1, 1, 2, 3)))
    )
    values: dict[str, Any] = {"sport": sport, "discipline": first, "body_kg": 70}
    for ask in words.asks:
        asked = not ask.disciplines or first in ask.disciplines
        if asked and (ask.needed or random.random() < 0.6) and (answer := _answer(ask, random)) is not None:
            values[ask.field] = answer
    grounds = {a.field: a for a in words.asks if a.field in words.needs}
    values["also"] = [
        {"discipline": o, "share_pct": random.choice((10, 25, 40))}
        | {f: random.choice(a.options).value for f, a in grounds.items() if random.random() < 0.5}
        for o in others
    ]
    if random.random() < 0.3:
        values["schools"] = {s.slug: random.choice(s.options).value for s in words.schools}
    if random.random() < 0.6:
        values["feet"] = feet(random)
    if random.random() < 0.3:
        values["present"] = {"kind": random.choice(KINDS), "drop_mm": random.choice((None, 4, 10))}
    values["note"] = random.choice(NOTES)
    return values


def any_briefs(count: int, seed: int) -> list[SpecIn]:
    """So many briefs over all sports; what a sport wouldn't take (shares over the whole) is left out."""
    random, found = Random(seed), []
    while len(found) < count:
        try:
            found.append(SpecIn.model_validate(any_brief(random, random.choice(list(SPORTS)))))
        except (BadInput, ValueError):
            continue
    return found
