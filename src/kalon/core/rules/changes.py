"""What moves between two specs, in words: for "what if", and for what another school would have said."""

from __future__ import annotations

from ..shoes.anatomy import FEATURES
from .engine import Spec, SpecFeature
from .scales import scale

ROOM_NAMES = {
    "toe_room_mm": "Room at the toe", "toe_room_leather_mm": "Room at the toe, leather, new",
    "toe_room_unlined_mm": "Room at the toe, unlined leather, new",
    "toe_room_slipper_mm": "Room at the toe, slip-on", "ball_room_mm": "Room at the ball",
    "instep_room_mm": "Room at the instep", "heel_room_mm": "Room at the heel",
}  # fmt: skip
CHOICE_NAMES = {
    "plate": "Plate", "sole": "Sole", "cleat": "Cleat", "midsole": "Midsole", "closure": "Closure", "upper": "Upper",
}  # fmt: skip
VALUE_WORDS = {
    "soft_ground": "long studs, soft ground", "firm_ground_round": "firm ground, round studs",
    "firm_ground_blade": "firm ground, blades", "hard_ground": "many short studs, hard ground",
    "artificial_grass": "short round studs, artificial grass", "turf": "rubber nubs, turf",
    "indoor": "flat gum, indoor", "strap_1": "one strap", "strap_2": "two straps", "strap_3": "three straps",
    "slipper": "slip-on", "laces_strap": "laces and strap", "leather_unlined": "unlined leather",
    "leather_lined": "lined leather", "leather_thin": "thin leather", "flat_dense": "flat, dense",
    "grip_flat": "flat, gripping", "gum_court": "gum, court", "spikes_full": "full spikes",
    "spikes_half": "spikes in front, rubber behind", "rubber_spikes": "rubber spikes", "pimpled": "rubber pimples",
    "lug": "lugs", "two_bolt": "two bolts", "three_bolt": "three bolts", "both": "takes two or three bolts",
    "none": "none",
}  # fmt: skip


def value_word(value: str) -> str:
    """A choice's value in the trade's words."""
    return VALUE_WORDS.get(value, value.replace("_", " "))


WISH_WORDS = {"need": "needed", "want": "wanted", "avoid": "better without"}


def wish_word(name: str, found: SpecFeature) -> str:
    """A feature's wish in words: "Toe guard: wanted"."""
    return f"{FEATURES[name].name}: {WISH_WORDS[found.wish]}"


def _span(low: float, high: float) -> str:
    return f"{low:g} to {high:g}"


def changes(was: Spec, now: Spec) -> list[str]:
    """Sentences without their stop, biggest matters first; empty when nothing moves."""
    lines: list[str] = []
    for name, ranked in now.choices.items():
        before = was.choices.get(name)
        if not before or before[0].value != ranked[0].value:
            lines.append(f"{CHOICE_NAMES[name]}: {value_word(ranked[0].value)} first")
    out = {(v.name, v.value) for v in now.vetoes}
    out_before = {(v.name, v.value) for v in was.vetoes}
    lines += [f"{value_word(v).capitalize()} is out" for _, v in sorted(out - out_before)]
    lines += [f"{value_word(v).capitalize()} is in again" for _, v in sorted(out_before - out)]
    for name, band in now.properties.items():
        drawn = scale(name, now.sport)
        unit = "" if drawn.unit.startswith(("of", "×", "share")) else f" {drawn.unit}"
        old = was.properties.get(name)
        if old is None:
            lines.append(f"{drawn.name} now counts")
        elif (old.low, old.high) != (band.low, band.high):
            lines.append(f"{drawn.name}: {_span(old.low, old.high)} becomes {_span(band.low, band.high)}{unit}")
        elif old.weight != band.weight:
            lines.append(f"{drawn.name} counts {band.weight:g} instead of {old.weight:g}")
    lines += [f"{scale(n, was.sport).name} no longer counts" for n in was.properties if n not in now.properties]
    for name, wished in now.features.items():
        before_wish = was.features.get(name)
        if before_wish is None or before_wish.wish != wished.wish:
            lines.append(wish_word(name, wished))
        elif before_wish.weight != wished.weight:
            lines.append(f"{FEATURES[name].name} counts {wished.weight:g} instead of {before_wish.weight:g}")
    lines += [f"{FEATURES[n].name} no longer counts" for n in was.features if n not in now.features]
    for name, room in now.fit.items():
        before_room = was.fit.get(name)
        if before_room is None:
            lines.append(f"{ROOM_NAMES[name]}: {_span(room.low, room.high)} mm")
        elif (before_room.low, before_room.high) != (room.low, room.high):
            lines.append(
                f"{ROOM_NAMES[name]}: {_span(before_room.low, before_room.high)} becomes "
                f"{_span(room.low, room.high)} mm"
            )
    return lines
