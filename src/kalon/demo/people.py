"""The invented people of the scenario: sign-ins, athletes, squads. Every name is made up."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class SignIn:
    """A demo sign-in."""

    login: str
    password: str
    name: str
    role: str
    shop: str


DATABASE = "kalon_demo"
HARBOUR, NORTH = "Games fitting room, Harbour", "Games fitting room, North Isle"
SKERRY = "Games fitting room, Skerry"
"""A shop with shelves and nobody of ours in it."""
GAMES = "Inter-island games, the made-up chain"
SIGN_INS = (
    SignIn("marrow", "plumb-line-7", "Marrow Tesk", "manager", HARBOUR),
    SignIn("ilse", "chalk-and-tape-7", "Ilse Varn", "fitter", HARBOUR),
    SignIn("bram", "half-size-up-7", "Bram Ostley", "fitter", HARBOUR),
    SignIn("pip", "learning-lasts-7", "Pip Quill", "trainee", HARBOUR),
    SignIn("sorrel", "north-light-7", "Sorrel Hjem", "manager", NORTH),
    SignIn("tarn", "skerry-tide-7", "Tarn Ellerby", "manager", SKERRY),
)


@dataclass(frozen=True)
class Person:
    """An athlete to be: name, squad, age, foot length in mm, body mass, and what they do."""

    name: str
    squad: str
    age: int
    length_mm: float
    body_kg: float
    sport: str
    brief: dict[str, object]
    note: str = ""


def _brief(sport: str, discipline: str, **more: object) -> dict[str, object]:
    return {"sport": sport, "discipline": discipline, **more}


ATHLETES = (
    Person("Anneke Dovrel", "Football, Gull Bay", 24, 248, 61, "football",
           _brief("football", "match", surface="artificial_grass", level="competitive", history=["knee"], event_in=12)),
    Person("Tavi Umber", "Football, Gull Bay", 27, 272, 79, "football",
           _brief("football", "match", surface="firm_natural", level="competitive", feel="leather", event_in=21)),
    Person("Corin Salt", "Football, Gull Bay", 31, 266, 84, "football",
           _brief("football", "training", surface="soft_natural", wet=True, event_in=4)),
    Person("Wren Halloway-Tisk", "Football, Low Island", 22, 243, 58, "football",
           _brief("football", "match", surface="hard_natural", history=["back"], event_in=9)),
    Person("Oslo Brindle", "Football, Low Island", 38, 281, 92, "football",
           _brief("football", "casual", surface="carpet_turf", level="new")),
    Person("Mirre Ansgate", "Football, Low Island", 19, 239, 55, "football",
           _brief("football", "training", surface="indoor_hall", sessions_per_week=4)),
    Person("Jory Petch", "Football juniors", 12, 226, 41, "football",
           _brief("football", "training", surface="artificial_grass"),
           "Growing: re-measure every three months."),
    Person("Fenna Rusk", "Football juniors", 13, 233, 46, "football",
           _brief("football", "match", surface="artificial_grass")),
    Person("Piet Ombry", "Football juniors", 11, 219, 37, "football",
           _brief("football", "match", surface="firm_natural")),
    Person("Lark Dassen", "Football juniors", 14, 245, 52, "football",
           _brief("football", "training", surface="carpet_turf")),
    Person("Sunniva Crake", "Climbing, Stack Rocks", 26, 241, 57, "climbing",
           _brief("climbing", "indoor_boulder", level="competitive", toe_strength="strong", event_in=15)),
    Person("Ewart Linn", "Climbing, Stack Rocks", 34, 268, 74, "climbing",
           _brief("climbing", "technical_edging", edge_mm=8, stance_min=2, toe_strength="average")),
    Person("Bex Morrane", "Climbing, Stack Rocks", 29, 252, 63, "climbing", _brief("climbing", "trad", stance_min=6)),
    Person("Halden Roe", "Climbing, Stack Rocks", 41, 275, 82, "climbing",
           _brief("climbing", "multi_pitch", also=[{"discipline": "trad", "share_pct": 30}])),
    Person("Ottoline Fray", "Climbing, beginners", 17, 237, 52, "climbing",
           _brief("climbing", "first_shoe", level="new")),
    Person("Kester Vane", "Climbing, beginners", 23, 270, 71, "climbing", 
           _brief("climbing", "indoor_general", level="new", history=["surgery"])),
    Person("Nuala Tarrant-Oke", "Climbing, Stack Rocks", 31, 246, 60, "climbing",
           _brief("climbing", "steep_sport", history=["numbness"], toe_strength="strong")),
    Person("Dagny Pell", "Lifting, Harbour Hall", 25, 244, 64, "lifting",
           _brief("lifting", "olympic", stature_mm=1650, knee_to_wall_cm=9, bar_kg=70, level="competitive",
                  event_in=30)),
    Person("Ruben Stave", "Lifting, Harbour Hall", 33, 283, 104, "lifting",
           _brief("lifting", "powerlifting_squat", stature_mm=1860, knee_to_wall_cm=7, bar="low", bar_kg=190)),
    Person("Ilka Monro-Besk", "Lifting, Harbour Hall", 28, 250, 72, "lifting",
           _brief("lifting", "deadlift", bar_kg=120)),
    Person("Casimir Loe", "Lifting, Harbour Hall", 36, 274, 88, "lifting",
           _brief("lifting", "mixed_training", sessions_per_week=5, history=["heel_pain"])),
    Person("Tamsin Eddary", "Lifting, Harbour Hall", 45, 247, 68, "lifting", _brief("lifting", "general_strength")),
    Person("Vido Carrick-Yann", "Cycling, Long Causeway", 30, 271, 73, "cycling",
           _brief("cycling", "road_race", pedal="three_bolt", power_w=780, cadence_rpm=104, ride_km=90, event_in=18)),
    Person("Petra Lune", "Cycling, Long Causeway", 26, 244, 60, "cycling",
           _brief("cycling", "cyclocross", pedal="two_bolt", wet=True, event_in=25)),
    Person("Odo Marchbank", "Cycling, Long Causeway", 47, 276, 91, "cycling",
           _brief("cycling", "commute", pedal="undecided", ride_km=18, level="new")),
    Person("Mette Sorrowby", "Badminton", 21, 240, 56, "court",
           _brief("court", "badminton", floor="sprung_wood", history=["heel_pain"], sessions_per_week=4),
           "Heel pain last season."),
    Person("Ansel Thripp", "Fencing", 27, 269, 77, "court",
           _brief("court", "fencing", lunging="most", level="competitive", event_in=30), "Lunges on the right foot."),
    Person("Perrin Ade-Lowell", "Volleyball", 24, 287, 89, "court",
           _brief("court", "volleyball", floor="hard_wood", history=["ankle"])),
    Person("Lio Farrant", "Squash", 35, 265, 79, "court", _brief("court", "squash", lunging="often",
                                                               present={"kind": "running", "fold": "in_half"})),
    Person("Sabine Oake", "Dance fitness", 39, 239, 63, "court",
           _brief("court", "dance_fitness", history=["heel_pain"], level="new")),
    Person("Roswitha Kane-Eld", "Cricket", 32, 251, 66, "field",
           _brief("field", "cricket", role="all_rounder", wicket="grass")),
    Person("Tobit Ashgrove", "Cricket", 23, 279, 87, "field",
           _brief("field", "cricket", role="pace_bowler", wicket="grass", history=["back"], level="competitive")),
    Person("Juno Hask", "Ice hockey", 20, 277, 90, "ice",
           _brief("ice", "hockey", creased=True, sessions_per_week=4, level="competitive"),
           "Skates crease at the quarter."),
    Person("Wil Dunmore", "Ice hockey", 33, 270, 101, "ice", _brief("ice", "hockey", level="new",
                                                                   sessions_per_week=1)),
)  # fmt: skip
