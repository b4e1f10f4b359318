"""Court: steady sideways on a floor. Numbers are house defaults, words of the trade."""

from __future__ import annotations

from dataclasses import replace

from .asks import ANKLE, BODY, END, GROWING, HISTORY, LEVEL, OFTEN, PRICE_SCHOOL
from .facts import Drawn, Purpose, SportFacts, WornIn
from .trying import BEND, CUT, JUMP, STAND, TOE, WALK, TrialTest
from .words import Ask, Option, School, Vocabulary

VOCABULARY = Vocabulary(
    "Court",
    (
        Option("badminton", "Badminton"), Option("tennis", "Tennis"), Option("squash", "Squash"),
        Option("volleyball", "Volleyball"), Option("basketball", "Basketball"),
        Option("indoor_football", "Indoor football"), Option("fencing", "Fencing"),
        Option("dance_fitness", "Dance fitness"), Option("netball", "Netball"), Option("handball", "Handball"),
        Option("padel", "Padel and paddle", "walls, short court, sanded turf"),
    ),
    (
        Ask("floor", "choice", "What is the floor like?", (
            Option("sprung_wood", "Springy wood", "bounces underfoot"),
            Option("hard_wood", "Wood, little give"), Option("vinyl_foam", "Soft vinyl", "over foam"),
            Option("concrete", "Hard", "tile, concrete, hard court"),
            Option("clay", "Clay or sand", "one slides on it")), drawn="floor",
            why="Cushion goes with the floor.", short="Floor"),
        Ask("wet", "yes", "Dusty or slippery?", short="Wet"),
        Ask("lunging", "choice", "How much lunging?", (
            Option("seldom", "Seldom"), Option("often", "Often"), Option("most", "All the time")),
            disciplines=("badminton", "squash", "fencing", "tennis", "padel"), why="Lunges want a rounder heel.",
            short="Lunging"),
        BODY, OFTEN, LEVEL, HISTORY, GROWING, *END,
    ),
    (
        School("court_size", "How court shoes are sized", (
            Option("true_snug", "True size, snug"), Option("half_up", "Half a size up"))),
        ANKLE, PRICE_SCHOOL,
    ),
)  # fmt: skip

FACTS = SportFacts(
    VOCABULARY,
    (
        STAND, TOE, WALK, CUT,
        TrialTest("lunge", "Lunge", "Several lunges and retreats.", "The heel lands round, no slide.",
                  asks=("slides",)),
        JUMP,
        replace(BEND, how="Fold it: at the ball only. Wring it: the middle resists. Push the collar: it stands."),
    ),
    WornIn("at home on clean floors", "warm-ups and easy rallies", at_home_h=3.0),
    build="board", girths=(0.905, 0.92, 0.240), right_mm=(6.0, 11.0),
    drawn=Drawn(stack=19, drop=5, collar=68, spring=9, sole=5),
    sized_up=("court_size", "half_up"), foam=True, own_cares=frozenset({"high_arch"}),
    looked_at=("sole", "midsole", "quarter", "upper", "overhang", "cup", "damp"),
    lives_h={"court": 130, "dance": 150}, worn_as={"dance_fitness": "dance"},
    new_height="Another heel or stiffness", usual_g=300.0, slack="little", called="a hall or court",
    hand_tests=("nail", "rub", "coin"),
    purposes={
        "tennis": Purpose.of("tennis", "tennis"),
        "padel": Purpose.of("padel", "padel tennis"),
        "badminton": Purpose.of("badminton", "badminton squash volleyball"),
        "squash": Purpose.of("squash", "badminton squash"),
        "volleyball": Purpose.of("volleyball", "badminton handball volleyball"),
        "basketball": Purpose.of("basketball", "basketball netball"),
        "netball": Purpose.of("netball", "basketball netball"),
        "handball": Purpose.of("handball", "badminton handball indoor_football volleyball"),
        "hall": Purpose.of("the hall", "badminton fencing handball indoor_football netball squash volleyball"),
        "fencing": Purpose.of("fencing", "fencing"),
        "dance": Purpose.of("dance fitness", "dance_fitness"),
    },
    meant_words={
        "tennis": ("tennis", "tenis"),
        "padel": ("padel", "paddle"),
        "badminton": ("badminton", "badmington"),
        "squash": ("squash",),
        "volleyball": ("volleyball", "volley", "pallavolo", "voleibol", "volleybal"),
        "basketball": ("basketball", "basket", "basket ball", "pallacanestro", "baloncesto", "basketbal"),
        "netball": ("netball", "netbal"),
        "handball": ("handball", "hand ball", "pallamano", "balonmano", "handbal"),
        "hall": ("indoor", "indoor court", "hall", "halle", "hallenschuh", "hallenschuhe", "salle", "sala", "zaal"),
        "fencing": ("fencing", "fechten", "escrime", "scherma", "esgrima", "schermen"),
        "dance": ("dance", "dance fitness", "tanz", "tanzfitness", "danse", "danza", "dans"),
    },
)  # fmt: skip
