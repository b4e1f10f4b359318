"""Lifting and gym: flat and dense, or a raised rigid heel; running beside it. Numbers are house defaults."""

from __future__ import annotations

from dataclasses import replace

from .asks import BODY, END, GROWING, HISTORY, LEVEL, OFTEN, PRICE_SCHOOL
from .facts import Drawn, Purpose, SportFacts, WornIn
from .trying import BEND, JUMP, STAND, TOE, WALK, TrialTest
from .words import Ask, Option, School, Vocabulary

_RUNS = "gym_running road_running"
UNDER_A_BAR = ("olympic", "powerlifting_squat", "deadlift", "machines")
_SQUATS = ("olympic", "powerlifting_squat", "machines", "general_strength")
VOCABULARY = Vocabulary(
    "Lifting and gym",
    (
        Option("olympic", "Snatch, clean and jerk"), Option("powerlifting_squat", "Heavy squats"),
        Option("deadlift", "Deadlifts"), Option("general_strength", "General strength"),
        Option("machines", "Hack squat, leg press"),
        Option("mixed_training", "Mixed training", "lifts, jumps, ropes, short runs"),
        Option("gym_running", "Mostly running at the gym"),
        Option("road_running", "Running on roads", "a pair of its own"),
    ),
    (
        Ask("bar", "choice", "Where the bar sits", (
            Option("high", "High on the back"), Option("low", "Low on the back"), Option("front", "In front"),
            Option("overhead", "Overhead")), disciplines=("olympic", "powerlifting_squat"), drawn="bar", short="Bar"),
        Ask("bar_kg", "number", "Working weight", unit="kg", disciplines=("olympic", "powerlifting_squat"),
            short="Weight"),
        BODY,
        Ask("stature_mm", "number", "Height", unit="mm", why="Limbs follow from it.", short="Height", screen="athlete"),
        Ask("thigh_mm", "number", "Thigh, hip to knee, if measured", unit="mm", disciplines=_SQUATS,
            short="Thigh", screen="athlete"),
        Ask("knee_to_wall_cm", "number", "Knee to wall, heel down", unit="cm", disciplines=_SQUATS, drawn="wall_test",
            why="The ankle's range decides the heel.", short="Knee to wall", screen="athlete"),
        OFTEN, LEVEL, HISTORY, GROWING, *END,
    ),
    (
        School("squat_heel", "Heel for squats", (
            Option("computed", "Computed for this lifter"), Option("flat", "Flat always"),
            Option("raised", "Raised always"))),
        PRICE_SCHOOL,
    ),
    drawn="lift",
)  # fmt: skip

FACTS = SportFacts(
    VOCABULARY,
    (
        STAND, TOE, WALK,
        TrialTest("squat", "Squat", "Bodyweight, then an empty bar, heels down.", "Depth and trunk as computed."),
        JUMP,
        replace(BEND, how="Fold it: in half is not for lifting. Wring it, press the heel's foam, flop the collar."),
    ),
    WornIn("at home, then bodyweight squats", "warm-up sets only"),
    build="board", girths=(0.905, 0.915, 0.2395), right_mm=(5.0, 11.0),
    drawn=Drawn(stack=18, drop=4, collar=68, spring=6, sole=5),
    looked_at=("sole", "midsole", "quarter", "upper", "overhang", "cup", "damp"),
    lives_h={"lifting": 800, "mixed": 300, "running": 70},
    worn_as={
        "mixed_training": "mixed", "gym_running": "running", "road_running": "running", "general_strength": "mixed",
    },
    new_height="Another heel", usual_g=330.0, slack="free",
    purposes={
        "weightlifting": Purpose.of("weightlifting", "general_strength olympic powerlifting_squat", _RUNS),
        "powerlifting": Purpose.of("powerlifting", "deadlift general_strength powerlifting_squat", _RUNS),
        "deadlift": Purpose.of("deadlifts", "deadlift", "gym_running olympic"),
        "mixed_training": Purpose.of("mixed training", "general_strength gym_running machines mixed_training"),
        "running": Purpose(
            "running", frozenset(_RUNS.split()), frozenset({*UNDER_A_BAR, "indoor_hall"}), never_in=("court",)
        ),
    },
    meant_words={
        "weightlifting": (
            "weightlifting", "weight lifting", "olympic", "olympic lifting", "gewichtheben", "halterophilie",
            "halterofilia", "sollevamento pesi", "pesistica", "gewichtheffen", "levantamiento de pesas",
        ),
        "powerlifting": ("powerlifting", "power lifting", "squat", "squats", "kraftdreikampf", "force athletique"),
        "deadlift": ("deadlift", "deadlifts", "kreuzheben", "souleve de terre", "stacco", "peso muerto"),
        "mixed_training": (
            "training", "cross training", "mixed training", "functional", "functional training",
            "functional fitness", "gym", "fitness",
        ),
        "running": ("running", "laufen", "laufschuhe", "course a pied", "corsa", "correr", "hardlopen"),
    },
)  # fmt: skip
