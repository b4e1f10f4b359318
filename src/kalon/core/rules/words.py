"""What each sport is asked, in the athlete's words, from general to particular; looks and price last."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

Sport = Literal["climbing", "football", "cycling", "court", "lifting", "field", "ice"]


@dataclass(frozen=True)
class Option:
    """One answer in the athlete's words; `hint` tells how to recognise it."""

    value: str
    text: str
    hint: str = ""


@dataclass(frozen=True)
class Ask:
    """One question of the brief. `disciplines` limits it; empty asks always. `drawn` names the pictures."""

    field: str
    kind: Literal["choice", "many", "number", "yes", "date", "text"]
    text: str
    options: tuple[Option, ...] = ()
    unit: str = ""
    needed: bool = False
    disciplines: tuple[str, ...] = ()
    drawn: str = ""
    why: str = ""
    """What the answer decides, in a few words."""
    short: str = ""
    """The question in a word or two, for the list of answers."""
    screen: Literal["use", "athlete", "pair"] = "use"
    """What it is asked with: the sport's own matters, the athlete, or the pair."""


@dataclass(frozen=True)
class School:
    """A matter on which practitioners differ: the first option is the house's."""

    slug: str
    text: str
    options: tuple[Option, ...]
    spec: bool = True
    """Its sides differ in the spec; the others order the shelves or plan the break-in."""


@dataclass(frozen=True)
class Vocabulary:
    """What a sport is asked about."""

    name: str
    disciplines: tuple[Option, ...]
    asks: tuple[Ask, ...]
    schools: tuple[School, ...]
    needs: tuple[str, ...] = ()
    drawn: str = ""
    """Which pictures the disciplines have."""


_BODY = Ask(
    "body_kg",
    "number",
    "Body mass",
    unit="kg",
    needed=True,
    why="Stiffness and cushion go with it.",
    short="Body mass",
    screen="athlete",
)
_LEVEL = Ask("level", "choice", "How far along?", (
    Option("new", "New to it"), Option("club", "Club, regular"), Option("competitive", "Competes")),
        short="Level", screen="athlete")  # fmt: skip
_OFTEN = Ask("sessions_per_week", "number", "Sessions a week", unit="a week", short="How often", screen="athlete")
_GROWING = Ask(
    "growing",
    "yes",
    "Still growing?",
    why="Room to grow where slack does no harm, and a date to measure.",
    short="Growing",
    screen="athlete",
)
_EVENT = Ask("event_on", "date", "First match or event in the new pair", short="First event", screen="pair")
_LOOKS = Ask(
    "looks", "text", "Any wish about looks?", why="Last, for it decides nothing.", short="Looks", screen="pair"
)
_PRICE = Ask(
    "budget",
    "number",
    "Most they want to spend",
    why="Pairs above it are marked, not hidden.",
    short="To spend",
    screen="pair",
)
_HISTORY = Ask("history", "many", "Anything that hurts, was hurt, or that the shoe should know?", (
    Option("knee", "Knee"), Option("ankle", "Ankle"), Option("heel_pain", "Heel pain"), Option("back", "Back"),
    Option("hip", "Hip"), Option("achilles", "Achilles tendon"), Option("forefoot", "Ball of the foot"),
    Option("numbness", "Numb or tingling toes"), Option("diabetes", "Diabetes, poor circulation"),
    Option("surgery", "Recent operation"), Option("orthosis", "Wears a prescribed insole"),
    Option("older", "Older: feels it the day after")), short="Hurts", screen="athlete")  # fmt: skip
_SAID = Ask(
    "note", "text", "Anything else they said?", why="What hurts or doesn't feel is heard here too.", short="Said",
    screen="pair",
)  # fmt: skip
_END = (_EVENT, _LOOKS, _PRICE, _SAID)

_SOFTENING = School("softening", "Softening leather", (
    Option("wear_only", "Wear only"), Option("steam_leather", "Gentle steam for leather")),
    spec=False)  # fmt: skip
_PRICE_SCHOOL = School("price", "What counts as cheap", (
    Option("cost_per_hour", "Cost an hour worn"), Option("cheapest_that_fits", "The cheapest that fits")),
    spec=False)  # fmt: skip
_LEATHER = School("leather_give", "How much leather gives", (
    Option("by_construction", "By how it is built"), Option("quarter_size", "A quarter size, always"),
    Option("full_size", "A full size, always")))  # fmt: skip
_ANKLE = School("ankle", "Collar at the ankle", (
    Option("low", "Low, free to move"), Option("high", "High collar")))  # fmt: skip

SURFACES = (
    Option("soft_natural", "Soft wet grass", "a stud sinks in fully"),
    Option("firm_natural", "Firm grass", "gives a little underfoot"),
    Option("hard_natural", "Hard dry grass", "studs hardly go in"),
    Option("artificial_grass", "Artificial grass", "long fibres, rubber granules"),
    Option("carpet_turf", "Carpet turf", "short carpet over a hard base"),
    Option("indoor_hall", "Hall floor", "wood or sprung floor indoors"),
)
FOOTBALL = Vocabulary(
    "Football",
    (Option("match", "Matches"), Option("training", "Training"), Option("casual", "Casual games")),
    (
        Ask("surface", "choice", "What is the ground like?", SURFACES, needed=True, drawn="surface",
            why="The ground chooses the plate.", short="Ground"),
        Ask("wet", "yes", "Often wet?", short="Wet"),
        _BODY, _OFTEN, _LEVEL, _HISTORY, _GROWING,
        Ask("feel", "choice", "Touch on the ball", (
            Option("either", "No preference"), Option("leather", "Leather"), Option("synthetic", "Synthetic")),
            short="Touch"),
        *_END,
    ),
    (
        School("football_size", "How football boots are sized", (
            Option("half_under", "Half a size under street, toes wiggle"),
            Option("street_with_room", "Street size with a finger's room (synthetic)"))),
        School("turf_on_artificial", "Turf shoes on artificial grass", (
            Option("casual_only", "Casual games only"), Option("never", "Never"),
            Option("fine_when_dry", "Fine when dry"))),
        _LEATHER, _ANKLE, _SOFTENING, _PRICE_SCHOOL,
    ),
    ("surface",),
)  # fmt: skip

_EDGES = ("technical_edging", "trad", "multi_pitch", "steep_sport", "outdoor_boulder")
CLIMBING = Vocabulary(
    "Climbing",
    (
        Option("first_shoe", "First pair"), Option("indoor_general", "Indoor, a bit of all"),
        Option("indoor_boulder", "Indoor and competition bouldering", "volumes, heel and toe hooks"),
        Option("outdoor_boulder", "Outdoor bouldering"),
        Option("steep_sport", "Steep sport routes", "overhangs, small pockets"),
        Option("technical_edging", "Technical faces", "vertical, tiny edges"),
        Option("gritstone", "Gritty friction rock", "rounded edges, many heel hooks"),
        Option("sandstone_slab", "Sandstone slab", "dimples, smears"),
        Option("trad", "Trad, one pitch", "standing to place protection"),
        Option("multi_pitch", "Long routes, all day"), Option("board", "Board training"),
        Option("mileage", "Endurance mileage"),
    ),
    (
        Ask("small_edges_pct", "number", "How much of it is on small edges?", unit="%",
            why="The rest smears or pulls on steep holds: softer.", short="Small edges"),
        Ask("edge_mm", "number", "Smallest edge stood on", unit="mm", disciplines=_EDGES, drawn="edge",
            short="Smallest edge"),
        Ask("stance_min", "number", "Longest stand on one edge", unit="min",
            disciplines=("technical_edging", "trad", "multi_pitch"), short="Longest stand"),
        _BODY,
        Ask("toe_strength", "choice", "Feet and toes", (
            Option("weak", "Not strong yet"), Option("average", "Average"), Option("strong", "Strong")),
            short="Toes", screen="athlete"),
        _OFTEN, _LEVEL, _HISTORY, _GROWING, *_END,
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
        _LEATHER, _SOFTENING, _PRICE_SCHOOL,
    ),
    drawn="wall",
)  # fmt: skip

_SQUATS = ("olympic", "powerlifting_squat", "machines", "general_strength")
LIFTING = Vocabulary(
    "Lifting and gym",
    (
        Option("olympic", "Snatch, clean and jerk"), Option("powerlifting_squat", "Heavy squats"),
        Option("deadlift", "Deadlifts"), Option("general_strength", "General strength"),
        Option("machines", "Hack squat, leg press"),
        Option("mixed_training", "Mixed training", "lifts, jumps, ropes, short runs"),
        Option("gym_running", "Mostly running at the gym"),
    ),
    (
        Ask("bar", "choice", "Where the bar sits", (
            Option("high", "High on the back"), Option("low", "Low on the back"), Option("front", "In front"),
            Option("overhead", "Overhead")), disciplines=("olympic", "powerlifting_squat"), drawn="bar", short="Bar"),
        Ask("bar_kg", "number", "Working weight", unit="kg", disciplines=("olympic", "powerlifting_squat"),
            short="Weight"),
        _BODY,
        Ask("stature_mm", "number", "Height", unit="mm", why="Limbs follow from it.", short="Height", screen="athlete"),
        Ask("thigh_mm", "number", "Thigh, hip to knee, if measured", unit="mm", disciplines=_SQUATS,
            short="Thigh", screen="athlete"),
        Ask("knee_to_wall_cm", "number", "Knee to wall, heel down", unit="cm", disciplines=_SQUATS, drawn="wall_test",
            why="The ankle's range decides the heel.", short="Knee to wall", screen="athlete"),
        _OFTEN, _LEVEL, _HISTORY, *_END,
    ),
    (
        School("squat_heel", "Heel for squats", (
            Option("computed", "Computed for this lifter"), Option("flat", "Flat always"),
            Option("raised", "Raised always"))),
        _PRICE_SCHOOL,
    ),
    drawn="lift",
)  # fmt: skip

CYCLING = Vocabulary(
    "Cycling",
    (
        Option("road_race", "Road racing"), Option("road_fast", "Brisk road rides"),
        Option("town", "Town and short easy rides"), Option("commute", "Commuting, with walking"),
        Option("gravel", "Gravel"), Option("cyclocross", "Cyclo-cross", "riding and running in mud"),
        Option("mtb_xc", "Cross-country race"), Option("mtb_trail", "Trail riding"),
        Option("mtb_downhill", "Downhill"), Option("triathlon", "Triathlon"),
        Option("winter", "Deep winter"),
    ),
    (
        Ask("pedal", "choice", "What are the pedals?", (
            Option("flat", "Flat", "pins, no clip"), Option("two_bolt", "Two bolts", "small cleat, sunk in the sole"),
            Option("three_bolt", "Three bolts", "large cleat, stands proud"),
            Option("undecided", "Not decided")), needed=True, drawn="pedal", why="Pedals decide the sole.",
            short="Pedals"),
        Ask("ride_km", "number", "A usual ride", unit="km", short="A ride"),
        Ask("wet", "yes", "Often wet or muddy?", short="Wet"),
        _BODY,
        Ask("power_w", "number", "Hardest effort held for a minute, if known", unit="W",
            why="How much a soft sole gives away.", short="Hardest minute"),
        Ask("cadence_rpm", "number", "Cadence then", unit="rpm", short="Cadence"),
        _OFTEN, _LEVEL, _HISTORY, _GROWING, *_END,
    ),
    (
        School("cycling_stiffness", "How stiff a sole", (
            Option("loss_shown", "Counts little; the loss is shown"),
            Option("stiffest", "The stiffest affordable"))),
        _PRICE_SCHOOL,
    ),
    ("pedal",),
)  # fmt: skip

COURT = Vocabulary(
    "Court",
    (
        Option("badminton", "Badminton"), Option("tennis", "Tennis"), Option("squash", "Squash"),
        Option("volleyball", "Volleyball"), Option("basketball", "Basketball"),
        Option("indoor_football", "Indoor football"), Option("fencing", "Fencing"),
        Option("dance_fitness", "Dance fitness"),
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
            disciplines=("badminton", "squash", "fencing", "tennis"), why="Lunges want a rounder heel.",
            short="Lunging"),
        _BODY, _OFTEN, _LEVEL, _HISTORY, _GROWING, *_END,
    ),
    (
        School("court_size", "How court shoes are sized", (
            Option("true_snug", "True size, snug"), Option("half_up", "Half a size up"))),
        _ANKLE, _PRICE_SCHOOL,
    ),
)  # fmt: skip

FIELD = Vocabulary(
    "Field",
    (Option("cricket", "Cricket"),),
    (
        Ask("wicket", "choice", "What is the wicket?", (
            Option("grass", "Grass"), Option("artificial_outdoor", "Artificial, outdoors"),
            Option("artificial_indoor", "Artificial, indoors"),
            Option("sports_hall", "Polished sports hall")), needed=True, drawn="wicket",
            why="Wicket and role choose the sole.", short="Wicket"),
        Ask("role", "choice", "What do they mostly do?", (
            Option("pace_bowler", "Bowl fast"), Option("spin_bowler", "Bowl spin"), Option("batter", "Bat"),
            Option("keeper", "Keep wicket"), Option("fielder", "Field"), Option("all_rounder", "A bit of all")),
            needed=True, short="Role"),
        _BODY, _OFTEN, _LEVEL, _HISTORY, _GROWING, *_END,
    ),
    (
        School("batter_spikes", "Spikes for batters", (
            Option("half_and_half", "Half and half"), Option("full", "Full spikes"))),
        _ANKLE, _PRICE_SCHOOL,
    ),
    ("wicket", "role"),
)  # fmt: skip

ICE = Vocabulary(
    "Ice",
    (Option("hockey", "Ice hockey"),),
    (
        _BODY, _OFTEN, _LEVEL,
        Ask("creased", "yes", "Do the present skates crease near the eyelets?",
            why="Creases mean too soft, or worn out.", short="Creases"),
        _HISTORY, _GROWING, *_END,
    ),
    (_PRICE_SCHOOL,),
)  # fmt: skip

SPORTS: dict[Sport, Vocabulary] = {
    "football": FOOTBALL, "climbing": CLIMBING, "cycling": CYCLING, "court": COURT, "lifting": LIFTING,
    "field": FIELD, "ice": ICE,
}  # fmt: skip


def house_side(sport: Sport, slug: str) -> str:
    """The first side of a school."""
    return next(s.options[0].value for s in SPORTS[sport].schools if s.slug == slug)


def every_school() -> dict[str, School]:
    """All schools of all sports by their slug."""
    return {s.slug: s for words in SPORTS.values() for s in words.schools}
