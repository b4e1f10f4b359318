"""Field: wicket and role choose the sole. Numbers are house defaults, words of the trade."""

from __future__ import annotations

from .asks import ANKLE, BODY, END, GROWING, HISTORY, LEVEL, OFTEN, PRICE_SCHOOL
from .facts import Drawn, Purpose, SportFacts, WornIn
from .trying import BEND, STAND, TOE, WALK, TrialTest
from .words import Ask, Option, School, Vocabulary

_OTHERS = (
    "rugby_forwards", "rugby_backs", "hockey_water", "hockey_sand", "lacrosse", "bases", "throws_turning",
    "throws_straight",
)  # fmt: skip
VOCABULARY = Vocabulary(
    "Field",
    (
        Option("cricket", "Cricket"),
        Option("rugby_forwards", "Rugby, in the pack", "pushing, scrums"),
        Option("rugby_backs", "Rugby, in the backs", "running, kicking"),
        Option("hockey_water", "Field hockey, watered turf"), Option("hockey_sand", "Field hockey, sanded turf"),
        Option("lacrosse", "Lacrosse"), Option("bases", "Baseball and softball"),
        Option("throws_turning", "Throws that turn", "discus, hammer, rotating shot"),
        Option("throws_straight", "Throws that run up", "javelin"),
    ),
    (
        Ask("wicket", "choice", "What is the wicket?", (
            Option("grass", "Grass"), Option("artificial_outdoor", "Artificial, outdoors"),
            Option("artificial_indoor", "Artificial, indoors"),
            Option("sports_hall", "Polished sports hall")), needed=True, drawn="wicket", disciplines=("cricket",),
            why="Wicket and role choose the sole.", short="Wicket"),
        Ask("role", "choice", "What do they mostly do?", (
            Option("pace_bowler", "Bowl fast"), Option("spin_bowler", "Bowl spin"), Option("batter", "Bat"),
            Option("keeper", "Keep wicket"), Option("fielder", "Field"), Option("all_rounder", "A bit of all")),
            needed=True, disciplines=("cricket",), short="Role"),
        BODY, OFTEN, LEVEL, HISTORY, GROWING, *END,
    ),
    (
        School("batter_spikes", "Spikes for batters", (
            Option("half_and_half", "Half and half"), Option("full", "Full spikes"))),
        ANKLE, PRICE_SCHOOL,
    ),
    ("wicket", "role"),
)  # fmt: skip

FACTS = SportFacts(
    VOCABULARY,
    (
        STAND, TOE, WALK,
        TrialTest("cut", "Turn", "Set off, stop, turn.", "The foot doesn't slide.", asks=("slides",)),
        TrialTest("stride", "Stride", "The bowling, throwing or running stride on a mat, slowly.",
                  "Ankle held, toes not jammed."),
        BEND,
    ),
    WornIn("at home without spikes, or on grass, walking", "practice at half pace"),
    build="plate", girths=(0.91, 0.925, 0.241), right_mm=(6.0, 11.0),
    drawn=Drawn(stack=16, drop=4, collar=78, spring=8, sole=4),
    foam=True,
    looked_at=("studs", "sole", "midsole", "quarter", "upper", "overhang", "cup", "damp"),
    lives_h={"cricket": 150, "field sports": 120},
    worn_as=dict.fromkeys(_OTHERS, "field sports"), new_height="Another sole", usual_g=360.0, slack="little",
    called="cricket or a field sport",
    hand_tests=("nail", "coin"),
    purposes={
        "cricket": Purpose.of("cricket", "cricket"),
        "field_hockey": Purpose.of("field hockey", "hockey_water hockey_sand", "cricket"),
        "rugby": Purpose.of("rugby", "rugby_forwards rugby_backs", "cricket hockey_water hockey_sand"),
        "lacrosse": Purpose.of("lacrosse", "lacrosse rugby_backs", "cricket"),
        "bases": Purpose.of("baseball and softball", "bases", "cricket hockey_water hockey_sand"),
        "throws": Purpose.of("throws", "throws_turning throws_straight", "cricket"),
    },
    meant_words={
        "cricket": ("cricket", "kricket"),
        "field_hockey": (
            "hockey", "field hockey", "feldhockey", "hockey sur gazon", "hockey su prato", "hockey hierba",
            "veldhockey",
        ),
        "rugby": ("rugby",),
        "lacrosse": ("lacrosse",),
        "bases": ("baseball", "softball", "honkbal", "beisbol"),
        "throws": ("throws", "discus", "hammer", "shot put", "javelin", "diskus", "speer", "kugelstossen", "lancers"),
    },
)  # fmt: skip
