"""Ice: fit, then comfort, then support. Numbers are house defaults, words of the trade."""

from __future__ import annotations

from .asks import BODY, END, GROWING, HISTORY, LEVEL, OFTEN, PRICE_SCHOOL
from .facts import Drawn, Purpose, SportFacts, WornIn
from .trying import STAND, TrialTest
from .words import Ask, Option, Vocabulary

_FIGURE = ("figure", "figure_single", "figure_double", "figure_triple")
VOCABULARY = Vocabulary(
    "Ice",
    (
        Option("hockey", "Ice hockey"), Option("rink", "Public rink", "now and then, hired or own"),
        Option("figure", "Figure, no jumps yet"), Option("figure_single", "Figure, single jumps"),
        Option("figure_double", "Figure, double jumps"), Option("figure_triple", "Figure, triple jumps"),
    ),
    (
        BODY, OFTEN, LEVEL,
        Ask("creased", "yes", "Do the present skates crease near the eyelets?",
            why="Creases mean too soft, or worn out.", short="Creases"),
        HISTORY, GROWING, *END,
    ),
    (PRICE_SCHOOL,),
)  # fmt: skip

FACTS = SportFacts(
    VOCABULARY,
    (
        STAND,
        TrialTest("toe", "Toes", "Stand, then bend the knees.", "Brush the cap standing, clear it bent.",
                  asks=("toes",)),
        TrialTest("lean", "Forward", "Lean into the laces, ten times.", "No heel lift, no fold at the quarter.",
                  asks=("slips",)),
        TrialTest("keep", "Keep on", "Laced, sitting and standing.", "No numbness.", 600, asks=("pinches",)),
    ),
    WornIn("laced at home with guards on, sitting and standing", "easy laps, off between"),
    build="board", girths=(0.90, 0.925, 0.240), right_mm=(1.0, 6.0),
    drawn=Drawn(stack=14, drop=6, collar=128, spring=5, sole=4, blade_mm=42),
    turns_ankles=False,
    looked_at=("quarter", "upper", "cup", "damp"),
    lives_h={"ice": 250}, new_height="Another boot", usual_g=620.0, slack="harms", called="ice", by_body=True,
    scales={"bend_n_mm_per_deg": {"name": "Stiffness of the boot"}},
    in_hand={
        "bend_n_mm_per_deg": (
            (120, 240, "a boot that folds forward"), (240, 420, "a firm boot"), (420, 720, "a boot you cannot fold"),
        ),
        "collar_mm": (
            (95, 117, "over the ankle"), (117, 133, "well over the ankle"), (133, 150, "half-way up the shin"),
        ),
    },
    purposes={
        "ice_hockey": Purpose("ice hockey", frozenset({"hockey"}), frozenset({*_FIGURE, "speed"})),
        "figure_skating": Purpose("figure skating", frozenset(_FIGURE), frozenset({"hockey", "speed"})),
        "speed_skating": Purpose("speed skating", frozenset({"speed"}), frozenset({"hockey", *_FIGURE})),
        "leisure_skating": Purpose.of("leisure skating", "leisure rink"),
    },
    meant_words={
        "ice_hockey": (
            "hockey", "ice hockey", "eishockey", "hockey sur glace", "hockey su ghiaccio", "hockey sobre hielo",
            "hockey hielo", "ijshockey",
        ),
        "figure_skating": (
            "figure", "figure skating", "figure skate", "figure skates", "eiskunstlauf", "kunstlauf",
            "patinage artistique", "artistique", "pattinaggio artistico", "artistico", "patinaje artistico",
            "kunstschaatsen", "kunstrijden",
        ),
        "speed_skating": (
            "speed", "speed skating", "eisschnelllauf", "patinage de vitesse", "vitesse", "velocita", "velocidad",
            "langebaan", "short track", "shorttrack",
        ),
        "leisure_skating": (
            "leisure", "recreational", "recreation", "freizeit", "loisir", "loisirs", "tempo libero", "recreo",
            "recreatie",
        ),
    },
)  # fmt: skip
