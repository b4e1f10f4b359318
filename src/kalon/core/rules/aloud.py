"""The spec said aloud: what a hand finds in a shoe before any number, and the whole shoe in one sentence."""

from __future__ import annotations

import re

from ..shoes.anatomy import FEATURES
from ..shoes.hands import HANDS, OF_SPORT, words_of
from ..sizes import STREET_ROOM_MM
from .changes import value_word
from .engine import Spec, SpecRoom
from .scales import LEATHERS

HAND_WORDS: dict[str, tuple[tuple[float, str], ...]] = {
    "drop_mm": ((3, "no drop"), (7, "a low heel"), (13, "a raised heel"), (99, "a raised rigid heel")),
    "heel_stack_mm": (
        (12, "little under the heel"),
        (24, "a middling height under the heel"),
        (99, "much under the heel"),
    ),
    "downturn_deg": ((4, "toes that lie flat"), (12, "a moderate hook"), (99, "a strong hook")),
    "asymmetry_deg": (
        (6, "a nearly straight last"),
        (12, "a last drawn a little to the big toe"),
        (99, "a last drawn to the big toe"),
    ),
    "heel_flare": (
        (0.99, "a heel narrower than the upper"),
        (1.15, "a heel a little wider than the upper"),
        (9, "a flared heel"),
    ),
    "heel_round_mm": ((5, "a square heel"), (10, "a rounded heel"), (99, "a heel rounded to land on")),
    "toe_rubber": ((0.35, "little rubber over the toe"), (0.6, "rubber over the toe"), (1, "rubber all over the toes")),
    "heel_rubber": ((0.4, "a thin heel cup"), (0.65, "a rubbered heel"), (1, "a thick rubber heel cup")),
    "sole_mm": ((3.4, "thin rubber that feels"), (4.6, "middling thick rubber"), (9, "thick rubber that lasts")),
    "arch_support": (
        (2.9, "nearly flat inside"),
        (5.4, "a low bridge under the arch"),
        (10, "a high bridge under the arch"),
    ),
    "toe_box_mm": ((-18, "a pointed toe"), (-8, "a rounded toe box"), (10, "a wide toe box")),
    "last_curve_deg": ((5, "a straight last"), (11, "a semi-curved last"), (30, "a curved last")),
    "tread_mm": ((1.6, "a low tread"), (3.6, "a middling tread"), (9, "a deep tread")),
}
HAND_WORDS |= {hand.tells: words_of(hand, None) for hand in HANDS}
"""What the hand says up to each value, in the unit of the property: of what is tested by hand as the table of those has
it, of the rest here. House defaults."""
SAID_IN_SPORT = {
    (sport, name): words_of(hand, sport) for sport, name in OF_SPORT for hand in HANDS if hand.tells == name
}

LEADS = {
    "soft_ground": "long studs", "firm_ground_round": "round studs", "firm_ground_blade": "blades",
    "hard_ground": "many short studs", "artificial_grass": "many short round studs", "turf": "rubber nubs",
    "indoor": "a flat gum sole", "gum_court": "a flat gum sole", "flat_dense": "a flat dense sole", "lug": "lugs",
    "grip_flat": "a flat sole that grips", "spikes_full": "full spikes", "spikes_half": "spikes in front",
    "rubber_spikes": "rubber spikes", "pimpled": "rubber pimples", "slipper": "a slip-on",
    "leather_unlined": "leather that gives", "leather_lined": "lined leather", "leather_thin": "thin leather",
    "suede": "suede that gives", "microfibre": "microfibre that holds its shape",
    "synthetic": "a synthetic that holds its shape", "knit": "a knit", "mesh": "a mesh that breathes",
    "laceless": "no laces", "dial": "a dial", "ratchet": "a ratchet", "laces_strap": "laces and a strap",
    "two_bolt": "cleats on two bolts", "three_bolt": "cleats on three bolts", "both": "holes for either cleat",
}  # fmt: skip
"""Choices as they are said of a whole shoe; the others are said as they are called."""
HALF_SIZE_MM = 4.23
"""Half a UK size, a third of an inch a size. Sizes are said in one system: half of one is another length in each."""
FLAT_TOES_MM = -2.0
"""From here on a climbing shoe's room lets the toes lie flat: it isn't said as sizes under. House default."""
OF_A_SHOE = {"midsole": {"full": "a full midsole", "split": "a split midsole", "none": "no midsole"}}
SAID_PROPERTIES = 2
SAID_FEATURES, SAID_FROM = 2, 0.6
"""How many features are said of a whole shoe, and from which weight. House defaults."""
SAID_BY = {
    "toe_patch": "toe_rubber", "low_tread": "tread_mm", "thick_heel": "heel_rubber", "token_heel": "heel_rubber",
}  # fmt: skip
"""Features that a property says already: rubber all over the toes needs no rubber over the toes beside it."""
PART = re.compile("^an? (?:sole|middle|last) (?:that )?")
"""What a band's own name says already."""


def hand_word(name: str, low: float, high: float, sport: str) -> str:
    """What a hand finds in the middle of a band; empty where only a scale or a rule can tell."""
    middle = (low + high) / 2
    words = SAID_IN_SPORT.get((sport, name)) or HAND_WORDS.get(name, ())
    return next((word for upto, word in words if middle <= upto), words[-1][1] if words else "")


def _told(spec: Spec) -> dict[str, str]:
    found = {n: hand_word(n, b.low, b.high, spec.sport) for n, b in spec.properties.items()}
    return {name: word for name, word in found.items() if word}


def hand_words(spec: Spec) -> dict[str, str]:
    """Each band in the words of a hand test, those a hand can tell, to stand beside the band's name."""
    return {name: PART.sub("", word) for name, word in _told(spec).items()}


def short_word(name: str, low: float, high: float, sport: str) -> str:
    """`hand_word` beside the property's name: "folds at the ball" for "a sole that folds at the ball"."""
    return PART.sub("", hand_word(name, low, high, sport))


def said_word(name: str, value: str) -> str:
    """A choice's value as it is said of a whole shoe: "round studs", "no midsole"."""
    if name == "cleat" and value == "none":
        return "no cleat"
    return _lead(name, value)


def _lead(name: str, value: str) -> str:
    if name == "cleat" and value == "none":
        return ""
    return OF_A_SHOE.get(name, {}).get(value) or LEADS.get(value) or value_word(value)


def _room(spec: Spec, upper: str) -> SpecRoom | None:
    """The room wanted at the toe in an upper."""
    usual = spec.fit.get("toe_room_mm")
    if upper not in LEATHERS:
        return usual
    own = spec.fit.get("toe_room_leather_mm", usual)
    return spec.fit.get("toe_room_unlined_mm", own) if upper == "leather_unlined" else own


def _under(room: SpecRoom) -> str:
    """How far under a street shoe's that is."""
    under = round((STREET_ROOM_MM - (room.low + room.high) / 2) / HALF_SIZE_MM)
    if under <= 0:
        return ""
    whole, half = divmod(under, 2)
    if not whole:
        return "half a UK size"
    sizes = {1: "a UK size", 2: "two UK sizes", 3: "three UK sizes"}.get(whole, f"{whole} UK sizes")
    return f"{sizes} and a half" if half else sizes


def _uppers(spec: Spec) -> list[str]:
    """The best upper; where leathers and others are as good, one that doesn't give and one that does."""
    found = spec.choices.get("upper", [])
    best = [c.value for c in found if c.score == found[0].score]
    firm = next((u for u in best if u not in LEATHERS), None)
    leather = next((u for u in best if u in LEATHERS), None)
    return [u for u in (firm, leather) if u]


def size_said(spec: Spec) -> str:
    """How the wanted room at the toe compares with a street shoe's: "half a UK size under your street shoe". Where
    leathers and others are as good as each other, what does not give is said first, and the leather's own beside it.

    On feet that don't feel no shoe is compared: it goes by what was measured."""
    if spec.unfelt:
        return "the size by what is measured, nothing pressing anywhere"
    first, *other = _uppers(spec) or [""]
    room = _room(spec, first)
    if room is None:
        return ""
    if spec.sport == "climbing" and (room.low + room.high) / 2 >= FLAT_TOES_MM:
        return "toes flat, neither tight nor loose; measured, not sized down"
    under = _under(room)
    said = f"{under} under your street shoe" if under else "about your street size"
    gives = _room(spec, other[0]) if other else None
    if gives is not None and (closer := _under(gives)) != under:
        said += f", in leather {closer}" if closer else ", in leather your street size"
    return said


def sentence(spec: Spec) -> str:
    """What a fitter would say of the whole shoe.

    The first of each choice, the weightiest of what a hand can tell, what it should have, and the size against a
    street shoe."""
    order = ("plate", "sole", "cleat", "midsole", "upper", "closure")
    leads = [
        " or ".join(_lead(name, u) for u in _uppers(spec)) if name == "upper" else _lead(name, best[0].value)
        for name in order
        if (best := spec.choices.get(name))
    ]
    words = _told(spec)
    weighty = sorted((n for n in words), key=lambda n: (-spec.properties[n].weight, n))[:SAID_PROPERTIES]
    strapped = "strap" in (spec.choices["closure"][0].value if spec.choices.get("closure") else "")
    wished = [
        FEATURES[name].said
        for name, f in spec.features.items()
        if f.wish != "avoid"
        and f.weight >= SAID_FROM
        and not (strapped and name == "tie_down")
        and SAID_BY.get(name) not in weighty
    ]
    parts = [p for p in (*leads, *(words[n] for n in weighty), *wished[:SAID_FEATURES]) if p]
    said = ", ".join(dict.fromkeys(parts))
    size = size_said(spec)
    whole = f"{said}; {size}" if size else said
    return f"{whole[:1].upper()}{whole[1:]}." if whole else ""
