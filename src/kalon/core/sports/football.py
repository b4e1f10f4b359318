"""Football: the ground chooses the plate. Numbers are house defaults, words of the trade."""

from __future__ import annotations

from dataclasses import replace

from .asks import ANKLE, BODY, END, GROWING, HISTORY, LEATHER, LEVEL, OFTEN, PRICE_SCHOOL, SOFTENING
from .facts import Drawn, Purpose, SportFacts, WornIn
from .trying import CUT, STAND, TOE, WALK, TrialTest
from .words import Ask, Option, School, Vocabulary

SURFACES = (
    Option("soft_natural", "Soft wet grass", "a stud sinks in fully"),
    Option("firm_natural", "Firm grass", "gives a little underfoot"),
    Option("hard_natural", "Hard dry grass", "studs hardly go in"),
    Option("artificial_grass", "Artificial grass", "long fibres, rubber granules"),
    Option("carpet_turf", "Carpet turf", "short carpet over a hard base"),
    Option("indoor_hall", "Hall floor", "wood or sprung floor indoors"),
)
VOCABULARY = Vocabulary(
    "Football",
    (Option("match", "Matches"), Option("training", "Training"), Option("casual", "Casual games"),
     Option("goalkeeping", "Goalkeeping")),
    (
        Ask("surface", "choice", "What is the ground like?", SURFACES, needed=True, drawn="surface",
            why="The ground chooses the plate.", short="Ground"),
        Ask("wet", "yes", "Often wet?", short="Wet"),
        BODY, OFTEN, LEVEL, HISTORY, GROWING,
        Ask("feel", "choice", "Touch on the ball", (
            Option("either", "No preference"), Option("leather", "Leather"), Option("synthetic", "Synthetic")),
            short="Touch"),
        *END,
    ),
    (
        School("football_size", "How football boots are sized", (
            Option("half_under", "Half a size under street, toes wiggle"),
            Option("street_with_room", "Street size with a finger's room (synthetic)"))),
        School("turf_on_artificial", "Turf shoes on artificial grass", (
            Option("casual_only", "Casual games only"), Option("never", "Never"),
            Option("fine_when_dry", "Fine when dry"))),
        LEATHER, ANKLE, SOFTENING, PRICE_SCHOOL,
    ),
    ("surface",),
)  # fmt: skip

FACTS = SportFacts(
    VOCABULARY,
    (
        STAND, TOE, WALK,
        replace(CUT, how="Shuffles, cuts, figure of eight, stop and start."),
        TrialTest("touch", "Touch", "Pass and control a ball.", "The feel is liked."),
    ),
    WornIn("at home on clean floors, laced as for a match", "juggling and easy running", steamed=True),
    build="plate", girths=(0.900, 0.915, 0.2385), right_mm=(4.0, 9.0),
    drawn=Drawn(stack=9, drop=2, collar=60, spring=7, sole=3),
    own_cares=frozenset({"older"}),
    looked_at=("studs", "sole", "midsole", "quarter", "upper", "overhang", "cup", "damp"),
    lives_h={"football": 120}, new_height="Another plate or stiffness", usual_g=220.0, slack="little",
    sole_kind="plate", hand_tests=("rub",),
    purposes={
        "soft_ground": Purpose.of("soft ground", "soft_natural", "artificial_grass carpet_turf indoor_hall"),
        "firm_ground": Purpose.of("firm ground", "firm_natural hard_natural", "indoor_hall"),
        "artificial_ground": Purpose.of("artificial grass", "artificial_grass firm_natural", "indoor_hall"),
        "carpet_turf": Purpose.of("carpet turf", "carpet_turf hard_natural", "indoor_hall soft_natural"),
        "hall_football": Purpose.of("the hall", "indoor_football indoor_hall", "firm_natural soft_natural"),
    },
    meant_words={
        "soft_ground": (
            "soft ground", "sg", "sg pro", "weicher boden", "terrain gras", "terrain souple", "terreno morbido",
            "terreno blando", "zachte ondergrond",
        ),
        "firm_ground": (
            "firm ground", "fg", "mg", "hg", "multi ground", "hard ground", "fester boden", "naturrasen",
            "terrain sec", "terrain ferme", "terreno firme", "terreno compatto", "terreno secco", "terreno duro",
            "cesped natural", "natuurgras", "droge ondergrond",
        ),
        "artificial_ground": (
            "artificial ground", "artificial grass", "ag", "mg", "multi ground", "3g", "4g", "kunstrasen",
            "gazon synthetique", "terrain synthetique", "erba sintetica", "cesped artificial", "kunstgras",
        ),
        "carpet_turf": ("turf", "tf", "astro", "astro turf", "multinocken", "hartplatz", "moquette"),
        "hall_football": (
            "futsal", "indoor", "ic", "hall", "halle", "hallenfussball", "salle", "sala", "futbol sala",
            "calcio a 5", "calcetto", "zaal", "zaalvoetbal",
        ),
    },
)  # fmt: skip
