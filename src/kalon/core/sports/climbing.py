"""Climbing: fit, closure, shape, sole. Numbers are house defaults, words of the trade."""

from __future__ import annotations

from dataclasses import replace

from .asks import BODY, END, GROWING, HISTORY, LEATHER, LEVEL, OFTEN, PRICE_SCHOOL, SOFTENING
from .facts import Drawn, Purpose, SportFacts, WornIn
from .trying import BEND, STAND, TrialTest
from .words import Ask, Option, School, Vocabulary

_EDGES = ("technical_edging", "trad", "multi_pitch", "steep_sport", "outdoor_boulder", "indoor_general", "board")
VOCABULARY = Vocabulary(
    "Climbing",
    (
        Option("first_shoe", "First pair", picture="88 edge"),
        Option("indoor_general", "Indoor, a bit of all", picture="95 volume"),
        Option("indoor_boulder", "Indoor and competition bouldering", "volumes, heel and toe hooks",
               picture="125 volume"),
        Option("outdoor_boulder", "Outdoor bouldering", picture="118 edge"),
        Option("steep_sport", "Steep sport routes", "overhangs, small pockets", picture="132 pocket"),
        Option("technical_edging", "Technical faces", "vertical, tiny edges", picture="90 edge"),
        Option("gritstone", "Gritty friction rock", "rounded edges, many heel hooks", picture="80 smear"),
        Option("sandstone_slab", "Sandstone slab", "dimples, smears", picture="65 smear"),
        Option("trad", "Trad, one pitch", "standing to place protection", picture="86 crack"),
        Option("multi_pitch", "Long routes, all day", picture="80 crack"),
        Option("board", "Board training", picture="135 edge"),
        Option("mileage", "Endurance mileage", picture="92 volume"),
        Option("crack", "Cracks", "feet jammed and turned", picture="86 crack"),
        Option("speed", "Speed", "fifteen metres, a few seconds", picture="95 edge"),
    ),
    (
        Ask("small_edges_pct", "number", "How much of it is on small edges?", unit="%",
            why="The rest smears or pulls on steep holds: softer.", short="Small edges"),
        Ask("edge_mm", "number", "Smallest edge stood on", unit="mm", disciplines=_EDGES, drawn="edge",
            short="Smallest edge"),
        Ask("stance_min", "number", "Longest stand on one edge", unit="min",
            disciplines=("technical_edging", "trad", "multi_pitch"), short="Longest stand"),
        BODY,
        Ask("toe_strength", "choice", "Feet and toes", (
            Option("weak", "Not strong yet"), Option("average", "Average"), Option("strong", "Strong")),
            short="Toes", screen="athlete"),
        OFTEN, LEVEL, HISTORY, GROWING, *END,
    ),
    (
        School("climbing_fit", "How tight a performance pair", (
            Option("wearable_snug", "Snug and wearable 10–15 minutes"),
            Option("performance_tight", "Tighter, never numb"))),
        School("boulder_closure", "Closure for bouldering", (
            Option("fast", "Fast: straps or slip-on"), Option("laces", "Laces, for the heel"))),
        School("training_pair", "What to train in", (
            Option("old_performance_pair", "The old performance pair"), Option("same_shoe", "The same shoe always"),
            Option("separate_comfort", "A separate comfort pair"))),
        LEATHER, SOFTENING, PRICE_SCHOOL,
    ),
    drawn="wall",
)  # fmt: skip

FACTS = SportFacts(
    VOCABULARY,
    (
        STAND,
        TrialTest("walk", "Keep on", "Keep on and walk about.", "Bearable for 10 minutes, and not cosy.", 600,
                  spared="Nothing presses; off after ten minutes, and the skin shows no mark.", asks=("pinches",)),
        TrialTest("edge", "Edge", "Stand on a small edge.", "No roll, no slip."),
        TrialTest("smear", "Smear", "Stand on a slope.", "Sole bends to it and holds."),
        TrialTest("hook", "Hook", "Heel hook, then toe hook.", "The heel stays; no dead space.", asks=("slips",)),
        replace(BEND, how="Fold it at the ball; wring it; press the toe flat: does the hook spring back?"),
    ),
    WornIn("at home, on and off, sitting then standing", "easy routes, off between goes", steamed=True),
    build="slip", girths=(0.935, 0.957, 0.246), right_mm=(-12.0, 0.0),
    drawn=Drawn(stack=7, drop=1, collar=62, spring=0, sole=4),
    turns_ankles=False, toes_spread=False,
    looked_at=("toe_rubber", "sole", "downturn", "quarter", "upper", "overhang", "damp"),
    lives_h={"climbing": 150}, new_height="Another downturn or stiffness", usual_g=0.0, slack="harms",
    insole=False, by_body=True, hand_tests=("nail", "spring"),
    purposes={
        "first_climbing": Purpose.of("a first climbing shoe", "first_shoe indoor_general mileage"),
        "bouldering": Purpose.of("bouldering", "board indoor_boulder outdoor_boulder steep_sport"),
        "sport_climbing": Purpose.of(
            "sport climbing", "speed board indoor_general mileage steep_sport technical_edging",
        ),
        "trad_climbing": Purpose.of("trad and long routes", "crack gritstone mileage multi_pitch sandstone_slab trad"),
    },
    meant_words={
        "first_climbing": (
            "beginner", "beginners", "first shoe", "first shoes", "entry", "einsteiger", "anfanger", "debutant",
            "debutants", "initiation", "principiante", "principianti", "principiantes", "iniciacion",
            "beginner klimmen",
        ),
        "bouldering": ("boulder", "bouldering", "bouldern", "boulderschuhe", "bloc", "blocco", "boulderen"),
        "sport_climbing": (
            "sport climbing", "sportklettern", "escalade sportive", "falesia", "monotiri", "escalada deportiva",
            "sportklimmen",
        ),
        "trad_climbing": (
            "trad", "multi pitch", "multipitch", "mehrseil", "mehrseillangen", "alpin", "alpine", "grande voie",
            "grandes voies", "vie lunghe", "via larga", "vias largas", "all day",
        ),
    },
)  # fmt: skip
