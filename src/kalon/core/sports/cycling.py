"""Cycling: the pedals decide the sole. Numbers are house defaults, words of the trade."""

from __future__ import annotations

from .asks import BODY, END, GROWING, HISTORY, LEVEL, OFTEN, PRICE_SCHOOL
from .facts import Drawn, Purpose, SportFacts, WornIn
from .trying import BEND, STAND, TOE, TrialTest
from .words import Ask, Option, School, Vocabulary

VOCABULARY = Vocabulary(
    "Cycling",
    (
        Option("road_race", "Road racing"), Option("road_fast", "Brisk road rides"),
        Option("town", "Town and short easy rides"), Option("commute", "Commuting, with walking"),
        Option("gravel", "Gravel"), Option("cyclocross", "Cyclo-cross", "riding and running in mud"),
        Option("mtb_xc", "Cross-country race"), Option("mtb_trail", "Trail riding"),
        Option("mtb_downhill", "Downhill"), Option("triathlon", "Triathlon"),
        Option("winter", "Deep winter"), Option("track", "Track"),
        Option("indoor_ride", "Indoors, on a bike that stands"),
    ),
    (
        Ask("pedal", "choice", "What are the pedals?", (
            Option("flat", "Flat", "pins, no clip"), Option("two_bolt", "Two bolts", "small cleat, sunk in the sole"),
            Option("three_bolt", "Three bolts", "large cleat, stands proud"),
            Option("undecided", "Not decided")), needed=True, drawn="pedal", why="Pedals decide the sole.",
            short="Pedals"),
        Ask("ride_km", "number", "A usual ride", unit="km", short="A ride"),
        Ask("wet", "yes", "Often wet or muddy?", short="Wet"),
        BODY,
        Ask("power_w", "number", "Hardest effort held for a minute, if known", unit="W",
            why="How much a soft sole gives away.", short="Hardest minute"),
        Ask("cadence_rpm", "number", "Cadence then", unit="rpm", short="Cadence"),
        OFTEN, LEVEL, HISTORY, GROWING, *END,
    ),
    (
        School("cycling_stiffness", "How stiff a sole", (
            Option("loss_shown", "Counts little; the loss is shown"),
            Option("stiffest", "The stiffest affordable"))),
        PRICE_SCHOOL,
    ),
    ("pedal",),
)  # fmt: skip

FACTS = SportFacts(
    VOCABULARY,
    (
        STAND, TOE,
        TrialTest("pedal", "Pedal", "Clip in, spin, pull up hard.", "No heel lift, no numbness.",
                  asks=("slips", "pinches")),
        TrialTest("clear", "Clearances", "Heel past the crank, toe past the wheel.", "Nothing touches."),
        BEND,
    ),
    WornIn("at home, then on a trainer, easy", "short easy rides"),
    build="plate", girths=(0.905, 0.92, 0.240), right_mm=(5.0, 10.0),
    drawn=Drawn(stack=13, drop=3, collar=60, spring=13, sole=5),
    turns_ankles=False, own_cares=frozenset({"high_arch"}),
    looked_at=("sole", "quarter", "upper", "overhang", "cup", "cleat", "damp"),
    lives_h={"cycling": 1500}, new_height="Another sole and stack", usual_g=300.0, slack="free",
    hand_tests=("nail",), scales={"bend_n_mm_per_deg": {"high": 6500, "falloff": 1500, "grain": 50}},
    in_hand={"bend_n_mm_per_deg": (
        (50, 300, "a sole that folds in the hand"), (300, 1500, "a sole that gives under the hand"),
        (1500, 6000, "a sole stiff as a board"),
    )},
    purposes={
        "road": Purpose.of(
            "road", "track commute road_fast road_race triathlon winter",
            "cyclocross mtb_downhill mtb_trail",
        ),
        "mountain": Purpose.of(
            "mountain", "commute cyclocross gravel mtb_trail mtb_xc winter",
            "road_race triathlon",
        ),
        "downhill": Purpose.of(
            "downhill and flat pedals", "commute mtb_downhill mtb_trail town",
            "mtb_xc road_fast road_race triathlon",
        ),
        "gravel": Purpose.of("gravel", "commute cyclocross gravel mtb_xc road_fast winter"),
        "triathlon": Purpose.of("triathlon", "road_fast triathlon", "cyclocross mtb_downhill mtb_trail mtb_xc"),
        "town": Purpose.of("town", "indoor_ride commute town", "road_fast road_race triathlon"),
    },
    meant_words={
        "road": (
            "road", "rennrad", "strasse", "route", "velo de route", "strada", "carretera", "wielrennen",
            "racefiets", "weg",
        ),
        "mountain": (
            "mtb", "mountain", "mountainbike", "mountain bike", "vtt", "cross country", "xc", "montagna",
            "montana",
        ),
        "downhill": (
            "downhill", "dh", "enduro", "freeride", "flat pedal", "flat pedals", "flats", "flatpedal", "descente",
            "descenso",
        ),
        "gravel": ("gravel",),
        "triathlon": ("triathlon", "tri", "triatlon"),
        "town": ("urban", "city", "commute", "commuter", "stadt", "ville", "citta", "ciudad", "stad"),
    },
)  # fmt: skip
