"""One inside per size: against the whole normal model solved at once, without a line of the code under test."""

from __future__ import annotations

import numpy as np
import pytest

from kalon.core.learn.given import Learned
from kalon.core.learn.inside import WHOLE, Book, Habits, Read, Shelved, insides
from kalon.core.shoes.inner import SPREADS, InnerIn, ShoeReading, facts, inner, surest

MAKER, MODEL, SIZE = 2.5, 1.5, 0.8
"""Spreads of an inner length, mm, as docs and handbook have them."""
LABELS = np.array([270.0, 276.7, 283.3, 290.0])


def solved(read: dict[int, tuple[float, float]], models: list[int], more: list[tuple[int, float, float]] = ()):  # type: ignore[no-untyped-def, assignment]
    """Maker, two models and four sizes as one normal: its mean and covariance given readings (mm, 1 sd) of sizes.

    `more` are measures of the same kind that aren't readings: as a foot of known length would tell of a size."""
    names = 3 + len(models)
    design = np.zeros((len(models), names))
    for size, model in enumerate(models):
        design[size, [0, 1 + model, 3 + size]] = 1
    cov = np.diag([MAKER**2, MODEL**2, MODEL**2, *[SIZE**2] * len(models)])
    mean = np.zeros(names)
    for size, mm, sigma in [*((k, *v) for k, v in read.items()), *more]:
        row = design[size]
        gain = cov @ row / (row @ cov @ row + sigma**2)
        mean = mean + gain * (mm - LABELS[size] - row @ mean)
        cov = cov - np.outer(gain, row @ cov)
    habit = np.zeros((2, names))
    habit[0, [0, 1]] = habit[1, [0, 2]] = 1
    return (
        LABELS + design @ mean, np.sqrt(np.diag(design @ cov @ design.T)),
        habit @ mean, np.sqrt(np.diag(habit @ cov @ habit.T)),
    )  # fmt: skip


def in_length(values: list[float]) -> np.ndarray:
    """One zone's numbers, the other three unknown."""
    found = np.full((len(values), 4), np.nan)
    found[:, 0] = values
    return found


def as_read(read: dict[int, tuple[float, float]]) -> Read:
    mm, sigma = ([read.get(i, (np.nan, np.nan))[k] for i in range(4)] for k in (0, 1))
    return Read(in_length(mm), in_length(sigma))


def boxes() -> np.ndarray:
    return np.stack([LABELS, LABELS * 0.9, LABELS * 0.915, LABELS * 0.24], axis=1)


def habits(
    mean: np.ndarray, sd: np.ndarray, models: list[int], tried: dict[int, tuple[float, float]] | None = None
) -> Habits:
    of, of_sd = in_length([mean[m] for m in models]), in_length([sd[m] for m in models])
    known = [(tried or {}).get(i, (np.nan, np.nan)) for i in range(4)]
    return Habits(of, of_sd, ~np.isnan(of_sd), in_length([k[0] for k in known]), in_length([k[1] for k in known]))


MODELS = [0, 0, 0, 1]
READINGS = {0: (267.0, 1.0), 1: (274.1, 1.5), 3: (292.4, 1.0)}


def test_a_reading_counts_once_though_its_models_habit_was_learned_from_it() -> None:
    mm, sd, habit, habit_sd = solved(READINGS, MODELS)
    found, sigma = insides(boxes(), as_read(READINGS), as_read(READINGS), habits(habit, habit_sd, MODELS))
    assert found[:, 0] == pytest.approx(mm, abs=1e-9)
    assert sigma[:, 0] == pytest.approx(sd, abs=1e-9)
    assert found[:, 1:] == pytest.approx(boxes()[:, 1:])
    assert sigma[:, 1:] == pytest.approx(np.tile(WHOLE[1:], (4, 1)))


def test_a_reading_made_since_is_put_to_what_was_learned_before_it() -> None:
    """Of its own size as exactly as if all had been learned with it; its model's habit waits for the next version."""
    before = {k: READINGS[k] for k in (1, 3)}
    _, _, habit, habit_sd = solved(before, MODELS)
    mm, sd, _, _ = solved(READINGS, MODELS)
    found, sigma = insides(boxes(), as_read(READINGS), as_read(before), habits(habit, habit_sd, MODELS))
    assert (found[0, 0], sigma[0, 0]) == pytest.approx((mm[0], sd[0]), abs=1e-9)


def test_a_size_that_was_tried_takes_what_is_read_since_and_loses_what_is_set_aside() -> None:
    told = [(2, 280.4, 1.9)]
    tried, tried_sd, habit, habit_sd = solved({2: (279.0, 1.0)}, MODELS, told)
    known = habits(habit, habit_sd, MODELS, {2: (tried[2], tried_sd[2])})
    as_then = as_read({2: (279.0, 1.0)})
    same, spread = insides(boxes(), as_then, as_then, known)
    assert (same[2, 0], spread[2, 0]) == pytest.approx((tried[2], tried_sd[2]))
    without, without_sd, _, _ = solved({}, MODELS, told)
    found, sigma = insides(boxes(), as_read({}), as_then, known)
    assert (found[2, 0], sigma[2, 0]) == pytest.approx((without[2], without_sd[2]), abs=1e-9)
    more, more_sd, _, _ = solved({2: (279.0, 1.0)}, MODELS, [*told, (2, 281.5, 1.0)])
    both = (279.0 + 281.5) / 2, 0.5**0.5
    found, sigma = insides(boxes(), as_read({2: both}), as_then, known)
    assert (found[2, 0], sigma[2, 0]) == pytest.approx((more[2], more_sd[2]), abs=1e-9)


def test_of_an_unknown_maker_label_and_readings_are_what_the_calculator_says() -> None:
    given = InnerIn(
        sport="football", label=42, width="wide",
        readings=[
            ShoeReading(zone="length", mm=278.5, source="stick"), ShoeReading(zone="length", mm=279.5, source="sheet"),
            ShoeReading(zone="heel_width", mm=66, source="insole"), ShoeReading(zone="ball_girth", mm=270, source="stick"),
        ],
    )  # fmt: skip
    kept = np.array([v if v is not None else np.nan for v in facts(given)])[None]
    read = Read(kept[:, 4:8], kept[:, 8:])
    nothing = Habits.of(Book(), [("M", "m")], np.array([0]), {})
    mm, sigma = insides(kept[:, :4], read, read, nothing)
    known = inner(given)
    zones = (known.length, known.ball_girth, known.instep_girth, known.heel_width)
    assert mm[0] == pytest.approx([z.mm for z in zones], abs=0.006)
    assert sigma[0] == pytest.approx([z.sigma_mm for z in zones], abs=0.0006)
    assert np.isnan(read.mm[0, 1]), "a stick says nothing of a girth"
    assert surest(given) == "stick"
    assert surest(given.model_copy(update={"readings": []})) == "label"


def test_a_shelf_knows_what_was_learned_of_model_maker_and_size() -> None:
    """A known model moves all its sizes, read ones too; an unseen one of a known maker by less certainty."""
    book = Book(
        makers={"M": {0: Learned(mean_mm=-1.5, sd_mm=0.5)}},
        models={"a": {0: Learned(mean_mm=-2.0, sd_mm=0.4)}},
        sizes={"size-b": {0: Learned(mean_mm=272.5, sd_mm=0.3)}},
    )
    box = np.array([[270.0, 244, 249, 65], [275, 248, 253, 66], [275, 248, 253, 66], [280, 252, 257, 67]])
    read = Read(np.full((4, 4), np.nan), np.full((4, 4), np.nan))
    read.mm[3, 0], read.sigma[3, 0] = 281.0, 1.0
    none = Read(np.full((4, 4), np.nan), np.full((4, 4), np.nan))
    kept = Shelved(np.array([0, 0, 1, 1]), np.array([40.5, 41.5, 41.5, 42]), ["a", "b", "c", "d"], box, read)
    shelf = kept.with_insides(book, [("M", "a"), ("M", "z")], {1: "size-b"}, none)
    assert shelf.inner[:3, 0] == pytest.approx([268.0, 272.5, 273.5])
    unseen = np.hypot(np.hypot(0.5, MODEL), SIZE)
    assert shelf.spread[:3, 0] == pytest.approx([np.hypot(0.4, SIZE), 0.3, unseen])
    precision = 1 / unseen**2 + 1
    assert shelf.inner[3, 0] == pytest.approx((278.5 / unseen**2 + 281.0) / precision)
    assert shelf.spread[3, 0] == pytest.approx(precision**-0.5)
    assert (shelf.inner[:, 1:] == box[:, 1:]).all()
    # The same reading on a model that was met: its habit may have been learned from it, so it is taken out first.
    of_known = Shelved(np.array([0, 0, 0, 0]), kept.label, kept.line_ids, box, read)
    new = of_known.with_insides(book, [("M", "a")], {}, none).spread[3, 0]
    assert of_known.with_insides(book, [("M", "a")], {}, read).spread[3, 0] > new


def test_a_habit_is_never_taken_to_know_less_than_nothing() -> None:
    """A habit that has walked since may hold less than the reading it was once learned from."""
    walked = habits(np.array([-0.4, 0.0]), np.array([2.9, 2.9]), MODELS)
    mm, sigma = insides(boxes(), as_read({0: (262.0, 1.0)}), as_read({0: (262.0, 1.0)}), walked)
    alone = inner(InnerIn(sport="football", label=40.5, readings=[ShoeReading(zone="length", mm=262.0, sigma_mm=1.0)]))
    assert sigma[0, 0] == pytest.approx(alone.length.sigma_mm, abs=0.001)
    assert 262 < mm[0, 0] < 270
    assert SPREADS.whole(0) == pytest.approx((MAKER**2 + MODEL**2 + SIZE**2) ** 0.5)
