"""A shop as it is: shoes that depart from their labels, people who answer as people do, fitters with habits.

It knows nothing of how Kalon learns: what it makes are feet as read and trials as they are typed. Every number here is
its own.
"""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any

import numpy as np

ZONES = ("length", "ball_girth", "instep_girth", "heel_width")
SHARE_OF_LENGTH = (1.0, 0.905, 0.92, 0.24)
MAKERS_APART, MODELS_APART, SIZES_APART = (2.5, 4.0, 4.0, 1.2), (1.5, 3.5, 4.0, 1.0), (0.8, 2.0, 2.5, 0.6)
WANTED = ((4.0, 9.0), (-5.0, 6.0), (-5.0, 7.0), (-3.0, 2.0))
"""The room that is wanted, mm."""
MISREAD = (1.4, 2.5, 2.5, 1.0)
"""How far one foot is misread, mm."""
FEET_APART = (2.5, 3.0, 3.0, 1.0)
FELT, BEYOND = 1.5, 1.5
"""How badly room is felt, mm, and how far outside the wanted one complains."""
PLACES = (("toe_tips",), ("ball", "outer_ball"), ("instep",), ("heel",))
SMALLEST, STEP, SIZES = 236.0, 10 / 3, 22
DAYS = 330
MOST_PAIRS = 4


@dataclass(frozen=True)
class Habits:
    """One fitter: how far they place the wanted room off, mm, how often all is simply fine, how often a test is done."""

    name: str
    off: float = 0.0
    all_fine: float = 0.0
    asks: float = 0.8


@dataclass(frozen=True)
class Untruth:
    """In what the shop is not as one would like to suppose."""

    fitters: tuple[Habits, ...] = (Habits("a"), Habits("b"), Habits("c"))
    wild: bool = False
    """Felt with Student's t of two degrees instead of a normal."""
    at_random: float = 0.0
    fine_anyway: float = 0.0
    changed_mm: float = 0.0
    """One model of each maker is so much longer from the middle of the time on."""
    told: bool = False
    carried: bool = False
    """Feet are measured once for three visits."""


@dataclass
class Visit:
    """One visit: whose judgement, which measuring, both feet as read, mm by zone, the day, and the pairs tried: maker,
    model, size, last and what was typed of it."""

    name: str
    fitter: str
    foot: str
    left: np.ndarray
    right: np.ndarray
    day: int
    tried: list[tuple[int, int, int, str, dict[str, Any]]] = field(default_factory=list)


@dataclass
class Shop:
    """What is true, mm against the label, by maker, model, size and zone, before and after; and what was seen."""

    before: np.ndarray
    now: np.ndarray
    visits: list[Visit]


def label_mm(size: int) -> np.ndarray:
    """What a size's label says of each zone, mm."""
    return (SMALLEST + STEP * size) * np.array(SHARE_OF_LENGTH)


def _truth(rng: np.random.Generator, makers: int, models: int) -> np.ndarray:
    shape = [(makers, 1, 1, 4), (makers, models, 1, 4), (makers, models, SIZES, 4)]
    apart = (MAKERS_APART, MODELS_APART, SIZES_APART)
    return sum(rng.normal(0, 1, s) * np.array(a) for s, a in zip(shape, apart, strict=True))


def typed(rng: np.random.Generator, gaps: np.ndarray, who: Habits, how: Untruth) -> dict[str, Any]:
    """What is typed of one pair whose new room is `gaps`, mm by zone: tests done, answers, pinches."""
    said = []
    for zone, (low, high) in enumerate(WANTED):
        noise = rng.standard_t(2) * FELT if how.wild else rng.normal(0, FELT)
        felt = gaps[zone] + noise - who.off
        said.append("jam" if felt < low - BEYOND else "slack" if felt > high + BEYOND else "fine")
        if rng.random() < how.at_random:
            said[-1] = str(rng.choice(["jam", "fine", "slack"]))
        if rng.random() < max(how.fine_anyway, who.all_fine):
            said[-1] = "fine"
    trial: dict[str, Any] = {"tests": {}, "pinches": {}}
    asked = {name: rng.random() < who.asks for name in ("toe", "stand", "cut", "jump")}
    if asked["toe"]:
        trial["toes"] = said[0]
        trial["tests"]["toe"] = "pass" if said[0] == "fine" else "fail"
    if asked["stand"]:
        hurts = [z for z in (1, 2, 3) if said[z] == "jam"]
        for zone in hurts:
            side = str(rng.choice(["left", "right"]))
            trial["pinches"][f"{side}:{rng.choice(PLACES[zone])}"] = int(rng.choice([2, 3], p=[0.7, 0.3]))
        trial["tests"]["stand"] = "fail" if hurts else "pass"
    if asked["cut"]:
        trial["slide"] = "always" if said[1] == "slack" else "no"
        trial["tests"]["cut"] = "fail" if said[1] == "slack" else "pass"
    if asked["jump"]:
        slips = said[3] == "slack"
        trial["tests"]["jump"] = "fail" if slips else "pass"
        trial |= {"heel_slip": 2} if slips else {}
    good = said[0] == "fine" and not trial["pinches"] and trial.get("slide") != "always"
    return trial | {"verdict": "pass" if good else "fail"}


def a_season(seed: int, how: Untruth, visits: int = 240, makers: int = 3, models: int = 5) -> Shop:
    """A shop's season: visits one after another, each with pairs tried until one passes."""
    rng = np.random.default_rng(seed)
    before = _truth(rng, makers, models)
    now = before.copy()
    now[:, 0] += how.changed_mm * np.array(SHARE_OF_LENGTH)
    shop = Shop(before, now, [])
    feet: list[tuple[str, np.ndarray, np.ndarray, np.ndarray]] = []
    for n in range(visits):
        day = int(DAYS * n / visits)
        who = how.fitters[int(rng.integers(len(how.fitters)))]
        if how.carried and feet and n % 3:
            name, true, left, right = feet[-1]
        else:
            middle = rng.uniform(246, 284) * np.array(SHARE_OF_LENGTH) + rng.normal(0, [0, 6, 6, 2])
            apart = rng.normal(0, FEET_APART) / 2
            pair = np.stack([middle + apart, middle - apart])
            left, right = pair + rng.normal(0, 1, (2, 4)) * np.array(MISREAD)
            name, true = f"foot {n}", pair.max(axis=0)
            feet.append((name, true, left, right))
        visit = Visit(f"visit {n}", who.name, name, left, right, day)
        m, k = int(rng.integers(makers)), int(rng.integers(models))
        changed = how.changed_mm and k == 0 and day >= DAYS // 2
        wanted = (max(left[0], right[0]) + sum(WANTED[0]) / 2 - SMALLEST) / STEP
        at = int(np.clip(round(wanted), 0, SIZES - 1))
        seen: set[int] = set()
        while len(seen) < MOST_PAIRS and at not in seen:
            seen.add(at)
            inside = label_mm(at) + (now if changed else before)[m, k, at]
            trial = typed(rng, inside - true, who, how)
            last = ("second" if changed else "first") if how.told and k == 0 else ""
            visit.tried.append((m, k, at, last, trial))
            if trial["verdict"] == "pass":
                break
            step = 1 if trial.get("toes") == "jam" else -1 if trial.get("toes") == "slack" else 0
            if not step:
                k, at = int(rng.integers(models)), at
                changed = how.changed_mm and k == 0 and day >= DAYS // 2
                seen = set()
                if len(visit.tried) >= MOST_PAIRS:
                    break
                continue
            at = min(max(at + step, 0), SIZES - 1)
        shop.visits.append(visit)
    return shop


NEEDED: dict[str, Untruth] = {
    "as supposed": Untruth(),
    "felt wildly": Untruth(wild=True),
    "fifteen in a hundred at random": Untruth(at_random=0.15),
    "a third fine anyway": Untruth(fine_anyway=1 / 3),
    "one fitter always says fine": Untruth(fitters=(Habits("a"), Habits("b"), Habits("c", all_fine=1.0))),
    "fitters 2 mm apart either way": Untruth(fitters=(Habits("a", -2.0), Habits("b"), Habits("c", 2.0))),
    "one fitter 2 mm off": Untruth(fitters=(Habits("a"), Habits("b"), Habits("c"), Habits("d", 2.0))),
    "a last 2.5 mm shorter, told": Untruth(changed_mm=-2.5, told=True),
    "a last 2.5 mm shorter, untold": Untruth(changed_mm=-2.5),
    "feet carried": Untruth(carried=True),
}
