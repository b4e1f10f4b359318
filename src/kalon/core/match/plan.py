"""The plan of pairs: what to buy for several uses, in which order, what stays uncovered, what more money would bring.

The choice itself is `pairs`, exact. Around it stands what the trade says: which pair first, a comfortable pair beside
the one for performance, one last under several plates, one good pair or cheap ones in a row.
"""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from ..care.cost import BreakEvenIn, Use, break_even
from ..contract import Contract
from .pairs import Bought, Need, Offer, Owned, PairsIn, PairsOut, pairs

COUNTED_WEEKS = 12.0
"""A pair that won't last so many weeks counts for the part of them it lasts. House default."""
STEPS = 10
"""How many budgets the curve is drawn at, if it is asked for."""
FURTHEST = 2.0
"""The curve ends at so many times the budget."""
BRINGS = 0.01
"""Less than this of the whole is no step worth naming."""
NEAR_GAIN = 0.05
"""Gains nearer than this are bought in the trade's order. House default."""
DEAR = 1.5
"""Dearer than the cheapest that serves by this, as a share, is held against cheap pairs in a row. House default."""
FIRST: tuple[Use, ...] = ("mixed", "lifting", "running")
"""In a gym: mixed training first, then lifters, then running. Common practice."""
PERFORMS = ("steep_sport", "technical_edging", "board", "outdoor_boulder")
EASY = ("mileage", "multi_pitch", "first_shoe", "indoor_general", "trad")
"""Climbing disciplines of performance, and those a comfortable pair is for."""


class PlanNeed(Contract):
    """A use, its share of the time, and how much it is done."""

    id: str = Field(min_length=1, max_length=120)
    name: str
    whose: str = ""
    sport: str
    discipline: str
    use: Use
    share: float = Field(ge=0, le=1)
    hours_per_week: float = Field(gt=0, le=168)


class PlanOwned(Contract):
    """A pair they have: how well it serves each use while it lasts, and the hours left in it."""

    id: str
    name: str
    scores: dict[str, float] = {}
    left_h: float | None = None
    last: str = ""


class PlanOffer(Contract):
    """A pair to be had, at a price with tax in whole units."""

    id: str
    name: str
    price: float = Field(ge=0)
    scores: dict[str, float] = {}
    last: str = ""


class PlanIn(Contract):
    """Uses, pairs, offers and a budget; `drop` leaves out pairs owned, `bought` are offers taken as bought already."""

    needs: list[PlanNeed] = Field(min_length=1, max_length=60)
    owned: list[PlanOwned] = Field([], max_length=100)
    offers: list[PlanOffer] = Field([], max_length=600)
    budget: float = Field(ge=0, le=1_000_000)
    most_pairs: int | None = Field(None, ge=0, le=60)
    least_score: float = Field(0.5, ge=0, le=1)
    drop: list[str] = []
    bought: list[str] = []
    curve: bool = True
    """Whether what other budgets bring is worked out too."""


class PlanBuy(Contract):
    """A pair to buy, the uses it is for, and what it adds of the whole, 0…1."""

    id: str
    name: str
    price: float
    gain: float
    serves: list[str]
    why: str


class PlanCover(Contract):
    """Which pair serves a use, and how well; nothing where none does."""

    need: str
    name: str
    share: float
    pair: str | None
    pair_name: str
    kind: Literal["owned", "buy", "none"]
    score: float


class PlanPoint(Contract):
    """What a budget brings: the value of it all, 0…1, and what is spent."""

    budget: float
    value: float
    spent: float


class PlanStep(Contract):
    """The next step of money that brings anything, and what would be bought then."""

    budget: float
    value: float
    buys: list[str]


class PlanOut(Contract):
    """What to buy in which order, what serves what, what stays open, the curve, and what the trade says to it."""

    buy: list[PlanBuy]
    covers: list[PlanCover]
    uncovered: list[str]
    value: float
    value_now: float
    spent: float
    curve: list[PlanPoint]
    next_step: PlanStep | None
    says: list[str]


def _lasting(pair: PlanOwned, needs: list[PlanNeed]) -> dict[str, float]:
    """Scores of a pair owned, less by what it won't last."""
    if pair.left_h is None:
        return pair.scores
    week = {n.id: n.hours_per_week for n in needs}
    return {
        n: score * min(1.0, pair.left_h / (week[n] * COUNTED_WEEKS)) for n, score in pair.scores.items() if n in week
    }


def _given(plan: PlanIn, budget: float) -> PairsIn:
    taken = [o for o in plan.offers if o.id in plan.bought]
    owned = [Owned(id=p.id, scores=_lasting(p, plan.needs)) for p in plan.owned if p.id not in plan.drop]
    return PairsIn(
        needs=[Need(id=n.id, share=n.share) for n in plan.needs],
        owned=[*owned, *(Owned(id=o.id, scores=o.scores) for o in taken)],
        offers=[Offer(id=o.id, price=o.price, scores=o.scores) for o in plan.offers if o.id not in plan.bought],
        budget=max(budget - sum(o.price for o in taken), 0.0),
        most_pairs=None if plan.most_pairs is None else max(plan.most_pairs - len(taken), 0),
        least_score=plan.least_score,
    )


def plan_of_pairs(plan: PlanIn) -> PlanOut:
    """Choose the pairs, put them in order, and say what stands behind it."""
    found = pairs(_given(plan, plan.budget))
    offers = {o.id: o for o in plan.offers}
    names = {p.id: p.name for p in plan.owned} | {o.id: o.name for o in plan.offers}
    scores = {p.id: _lasting(p, plan.needs) for p in plan.owned} | {o.id: o.scores for o in plan.offers}
    covers = [_cover(n, found.covers.get(n.id), names, scores, offers) for n in plan.needs]
    serves: dict[str, list[PlanNeed]] = {}
    for need in plan.needs:
        if pair := found.covers.get(need.id):
            serves.setdefault(pair, []).append(need)
    curve = _curve(plan) if plan.curve else []
    return PlanOut(
        buy=[
            PlanBuy(
                id=b.id, name=names[b.id], price=offers[b.id].price, gain=b.gain,
                serves=[n.name for n in serves.get(b.id, [])], why=_why(b.gain, serves.get(b.id, [])),
            )
            for b in _in_order(found, serves)
        ],
        covers=covers,
        uncovered=[c.name for c in covers if c.kind == "none"],
        value=found.value, value_now=found.value_now, spent=found.spent,
        curve=[point for point, _ in curve],
        next_step=_next(plan, found, curve, names),
        says=_says(plan, found, serves),
    )  # fmt: skip


def _in_order(found: PairsOut, serves: dict[str, list[PlanNeed]]) -> list[Bought]:
    """The greatest gain first; what gains about the same, in the trade's order."""

    def trade(pair: str) -> int:
        uses = [FIRST.index(n.use) for n in serves.get(pair, []) if n.use in FIRST]
        return min(uses, default=len(FIRST))

    left = list(found.order)
    out = []
    while left:
        best = max(b.gain for b in left)
        near = [b for b in left if b.gain >= best - NEAR_GAIN]
        first = min(near, key=lambda b: (trade(b.id), -b.gain))
        out.append(first)
        left.remove(first)
    return out


def _cover(
    need: PlanNeed, pair: str | None, names: dict[str, str], scores: dict[str, dict[str, float]],
    offers: dict[str, PlanOffer],
) -> PlanCover:  # fmt: skip
    return PlanCover(
        need=need.id,
        name=f"{need.whose}: {need.name}" if need.whose else need.name,
        share=need.share,
        pair=pair,
        pair_name=names.get(pair or "", ""),
        kind="none" if pair is None else "buy" if pair in offers else "owned",
        score=scores[pair].get(need.id, 0.0) if pair else 0.0,
    )


def _why(gain: float, serves: list[PlanNeed]) -> str:
    for_ = " and ".join(f"{n.whose}, {n.name}" if n.whose else n.name for n in serves)
    more = f"{gain:.0%} more of the time in a pair that suits"
    return f"{more}: {for_}." if for_ else f"{more}."


def _curve(plan: PlanIn) -> list[tuple[PlanPoint, PairsOut]]:
    """The value of the best choice at budgets from nothing to twice this one."""
    prices = sorted(o.price for o in plan.offers if o.scores)
    top = max(plan.budget * FURTHEST, prices[0] * 2 if prices else 0.0)
    if not top:
        return []
    out = []
    for i in range(STEPS + 1):
        budget = top * i / STEPS
        found = pairs(_given(plan, budget))
        out.append((PlanPoint(budget=budget, value=found.value, spent=found.spent), found))
    return out


def _next(
    plan: PlanIn, now: PairsOut, curve: list[tuple[PlanPoint, PairsOut]], names: dict[str, str]
) -> PlanStep | None:
    """The first budget above this one that brings something, to the exact price of what it buys."""
    for point, found in curve:
        if point.budget > plan.budget and found.value > now.value + BRINGS:
            taken = sum(o.price for o in plan.offers if o.id in plan.bought)
            return PlanStep(budget=found.spent + taken, value=found.value, buys=[names[b] for b in found.buy])
    return None


def _says(plan: PlanIn, found: PairsOut, serves: dict[str, list[PlanNeed]]) -> list[str]:
    """What the trade says to this plan."""
    out = []
    uses = {n.use for n in plan.needs}
    if len(uses & set(FIRST)) > 1:
        out.append("For the gym: mixed training shoes first, then lifters, then running shoes. Common practice.")
    out += _comfort(plan, found)
    out += _one_last(plan, found)
    out += _good_or_cheap(plan, found, serves)
    return out


def _comfort(plan: PlanIn, found: PairsOut) -> list[str]:
    out = []
    for whose in dict.fromkeys(n.whose for n in plan.needs):
        climbs = [n for n in plan.needs if n.whose == whose and n.sport == "climbing"]
        hard = {found.covers.get(n.id) for n in climbs if n.discipline in PERFORMS}
        easy = {found.covers.get(n.id) for n in climbs if n.discipline in EASY}
        if hard and easy and hard == easy:
            who = f"{whose}: a" if whose else "A"
            out.append(
                f"{who} comfortable pair beside the performance pair spares both, and the feet. Common practice."
            )
    return out


def _one_last(plan: PlanIn, found: PairsOut) -> list[str]:
    """Boots for several grounds: the same last under another plate fits without a new fitting."""
    chosen = [o for o in plan.offers if o.id in found.buy]
    have = [p for p in plan.owned if p.id not in plan.drop] + chosen
    out = []
    for pair in chosen:
        same = [p for p in have if p.id != pair.id and p.last and p.last == pair.last]
        if same:
            out.append(f"{pair.name} stands on the same last as {same[0].name}: another plate, the same fit.")
    grounds = {n.name for n in plan.needs if n.sport == "football"}
    if len(grounds) > 1 and not out and len(chosen) > 1:
        out.append("For several grounds look for one last on several plates: it is fitted once. Common practice.")
    return out


def _good_or_cheap(plan: PlanIn, found: PairsOut, serves: dict[str, list[PlanNeed]]) -> list[str]:
    offers = {o.id: o for o in plan.offers}
    out = []
    for pair in found.buy:
        needs = [n.id for n in serves.get(pair, [])]
        able = [
            o
            for o in plan.offers
            if o.price > 0 and needs and all(o.scores.get(n, 0) >= plan.least_score for n in needs)
        ]
        cheapest = min(able, key=lambda o: o.price, default=None)
        mine = offers[pair]
        if cheapest and cheapest.id != pair and mine.price > DEAR * cheapest.price:
            count = max(round(mine.price / cheapest.price), 2)
            told = break_even(BreakEvenIn(cheap=cheapest.price, dear=mine.price, count=count))
            out.append(f"{mine.name} or {cheapest.name} again and again: {told.text}")
    return out
