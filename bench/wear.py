"""A made-up year of wear: how often what was left lies in what was said, as a shop looks at pairs: `./kalon bench wear`.

Eight hundred athletes wear pairs out and buy the next. How long each kind truly lasts differs from the table, which
nobody knows; athletes wear their pairs a little more or less than they say; a third of them log. Pairs are looked at
now and then, part by part, by people who see a part a little better or worse than it is. Every quarter the shop learns
how long pairs last. What was said at each look and at each quarter's end is held against when the pair truly ended.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, field
from random import Random

import numpy as np

from kalon.core.care.cost import Use
from kalon.core.care.lives import NOTHING, OWN_SD, RETIRED_SD, Kind, LifeSeen, LivesIn, LivesOut, life, lives
from kalon.core.care.seen import WearSeenIn, stretches
from kalon.core.care.wear import Inspection, WearIn, sighting, wear
from kalon.demo.after import found_of

ATHLETES, WEEKS, QUARTER, YEARS = 800, 52, 13, 3
SPORTS: tuple[tuple[str, Use], ...] = (("football", "football"), ("climbing", "climbing"), ("court", "court"))
TRULY = {"football": 0.9, "climbing": 0.8, "court": 1.15, "leather": 1.2, "synthetic": 0.95, "turf": 0.9}
"""How much longer than the table says each truly lasts."""
SAYS_SD = 0.1
"""How far athletes are from the hours they say, on the logarithm."""
LOOKED_AT_A_WEEK = 0.06


@dataclass
class Pair:
    """A pair, what is true of it, and what is known."""

    sport: str
    kind: Kind
    true_h: float
    says_a_week: float
    truly_a_week: float
    worn_h: float = 0.0
    known_h: float = 0.0
    seen: list[Inspection] = field(default_factory=list)
    said: list[tuple[int, float, float, float, float]] = field(default_factory=list)
    """Quarter, hours known then, and the interval of what is left."""


def _new(random: Random) -> Pair:
    sport, use = random.choice(SPORTS)
    upper = random.choice(["leather", "synthetic"])
    ground = random.choice(["turf", "natural", "artificial"]) if sport == "football" else None
    kind = Kind(use=use, ground=ground, upper=upper, price_ratio=random.choice([0.6, 0.9, 1.2, 1.6]))  # type: ignore[arg-type]
    truly = math.prod(TRULY.get(n or "", 1.0) for n in (use, upper, ground))
    true = life(kind).median_h * truly * math.exp(random.gauss(0, OWN_SD))
    says = random.uniform(2.0, 7.0)
    return Pair(sport, kind, true, says, says * math.exp(random.gauss(0, SAYS_SD)))


def _look(random: Random, pair: Pair) -> None:
    found = found_of(random, pair.sport, pair.worn_h / pair.true_h)
    parts = stretches(WearSeenIn(sport=pair.sport, seen=found))  # type: ignore[arg-type]
    if parts and pair.known_h > 0.5:
        pair.seen.append(Inspection(hours=pair.known_h, parts=parts))


def _left(pair: Pair, known: LivesOut, *, looked: bool = True) -> tuple[float, float, float]:
    seen = pair.seen[-100:] if looked else []
    found = wear(WearIn(life=life(pair.kind, known), inspections=seen, hours_now=pair.known_h)).left_h
    return found.low, found.mid, found.high


def _learned(ended: list[Pair], worn: list[Pair]) -> LivesOut:
    seen = [LifeSeen(kind=p.kind, life_h=p.known_h, log_sd=RETIRED_SD) for p in ended if p.known_h > 0]
    for pair in worn:
        found = sighting(life(pair.kind), pair.seen) if pair.seen else None
        if pair.known_h > 0:
            seen.append(
                LifeSeen(kind=pair.kind, life_h=math.exp(found[0]) if found else None,
                         log_sd=found[1] if found else None, lasts_beyond_h=pair.known_h)
            )  # fmt: skip
    return lives(LivesIn(seen=seen))


def a_year(seed: int) -> tuple[dict[int, list[bool]], list[tuple[float, float, float]]]:
    """By quarter whether what was left lay in what was said; and of pairs that ended, how far off, on the logarithm of
    the whole life, the table, the shop's learning and the looks were half-way."""
    random = Random(seed)
    worn = [_new(random) for _ in range(ATHLETES)]
    for pair in worn:  # a shop begins with pairs of every age
        begun = random.uniform(0, 0.8) * pair.true_h
        pair.worn_h, pair.known_h = begun, begun * pair.says_a_week / pair.truly_a_week
    ended: list[Pair] = []
    half: dict[int, tuple[float, float, float]] = {}
    known = NOTHING
    for week in range(YEARS * WEEKS):
        quarter = week // QUARTER
        for at, pair in enumerate(worn):
            pair.worn_h += pair.truly_a_week
            pair.known_h += pair.says_a_week
            if pair.worn_h >= pair.true_h:
                ended.append(pair)
                worn[at] = _new(random)
                continue
            if random.random() < LOOKED_AT_A_WEEK:
                _look(random, pair)
                low, mid, high = _left(pair, known)
                pair.said.append((quarter, pair.known_h, low, mid, high))
            if id(pair) not in half and pair.worn_h > 0.6 * pair.true_h:
                ways = ((NOTHING, False), (known, False), (known, True))
                half[id(pair)] = tuple(  # type: ignore[assignment]
                    pair.known_h + _left(pair, k, looked=looked)[1] for k, looked in ways
                )
        if week % QUARTER == QUARTER - 1:
            known = _learned(ended, worn)
    held: dict[int, list[bool]] = {}
    off = []
    for pair in ended:
        for quarter, then, low, _, high in pair.said:
            held.setdefault(quarter, []).append(low <= pair.known_h - then <= high)
        if id(pair) in half:
            a, b, c = (abs(math.log(e / pair.known_h)) for e in half[id(pair)])
            off.append((a, b, c))
    return held, off


def main() -> None:
    """Three made-up years, and what came of what was said."""
    held: dict[int, list[bool]] = {}
    off: list[tuple[float, float, float]] = []
    for seed in range(3):
        some, further = a_year(seed)
        for quarter, told in some.items():
            held.setdefault(quarter, []).extend(told)
        off += further
    # What was said last of all is only held against pairs that have ended by then, so the last year is left out.
    quarters = range((YEARS - 1) * WEEKS // QUARTER)
    print(f"3 shops of {ATHLETES} athletes, {YEARS} years; how often what was left lay in its 90 %:")
    for quarter in quarters:
        told = held.get(quarter, [])
        print(f"  quarter {quarter + 1:2}: {np.mean(told):6.1%} of {len(told)}")
    every = [h for q in quarters for h in held.get(q, [])]
    print(f"  altogether {np.mean(every):6.1%} of {len(every)} (aim 85 to 95)")
    table, learned, looked = (float(np.median([o[i] for o in off])) for i in range(3))
    print("how far off the whole life was, told at 60 % of it, median on the logarithm:")
    print(
        f"  the table {table:.3f}, learned {learned:.3f} ({learned / table:.2f} of it), looked at {looked:.3f} ({looked / table:.2f})"
    )


if __name__ == "__main__":
    main()
