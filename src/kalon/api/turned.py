"""A fitting turned to the athlete: gathered from what the stations show, leaving out whatever isn't theirs."""

from __future__ import annotations

from typing import Any
from uuid import UUID

from ..core.care.breakin import BreakInOut
from ..core.contract import SIDES
from ..core.errors import BadInput, read
from ..core.feet.combine import FootFound
from ..core.fit.foot import FIT_ZONES
from ..core.match.beside import felt_in, in_short, zones_do
from ..core.mechanics.studs import Stud
from ..core.parts import SpecPart, TrialPart
from ..core.rules.aloud import sentence
from ..core.rules.bench import mechanics
from ..core.rules.engine import Case, Spec
from ..core.sizes import on_the_box
from ..core.turned.feet import length_said, seen_said, unlike_said
from ..core.turned.need import because
from ..core.turned.told import they_said, told
from ..store import bench, captures, sales, stock
from ..store.bench import Loaded, Preview
from ..store.database import Cx
from .costs import costs_of
from .schemas import PairCost
from .schemas_turned import (
    PairBeside,
    PairCostSpan,
    TurnedFeet,
    TurnedFoot,
    TurnedOut,
    TurnedShoe,
    TurnedWear,
)


def for_drawing(spec: Spec) -> Spec:
    """A spec with what is drawn of it alone: no reason, no school, nothing that was ruled out or cautioned about."""
    bare: dict[str, Any] = {"reasons": [], "by_hand": None}
    return spec.model_copy(
        update={
            "properties": {n: b.model_copy(update=bare) for n, b in spec.properties.items()},
            "choices": {n: [c.model_copy(update={"reasons": []}) for c in cs] for n, cs in spec.choices.items()},
            "features": {n: f.model_copy(update=bare) for n, f in spec.features.items()},
            "fit": {n: r.model_copy(update={"reasons": []}) for n, r in spec.fit.items()},
            "choice_weights": {},
            "vetoes": [],
            "cautions": [],
            "schools": [],
            "concerns": [],
        }
    )


def _foot(found: FootFound, outline: list[list[float]]) -> TurnedFoot | None:
    length = found.numbers.get("length_mm")
    if not length:
        return None
    wide = {n: found.numbers[n].value if n in found.numbers else None for n in ("ball_width_mm", "heel_width_mm")}
    return TurnedFoot(
        length_mm=length.value,
        toe_shape=found.toe_shape,
        arch=found.arch.value,
        bunion=found.bunion,
        outline=outline,
        **wide,
    )


def _feet(cx: Cx, on: Loaded) -> TurnedFeet:
    outlines = captures.outlines_of(cx, on.id)
    left, right = (_foot(getattr(on.found, side), outlines.get(side, [])) for side in SIDES)
    lines = [*length_said(on.found), *unlike_said(on.found), *seen_said(on.found, on.feet, on.norms)]
    return TurnedFeet(left=left, right=right, lines=lines)


def _blind(trial: TrialPart, lines: list[UUID], settled: bool) -> bool:
    scored = lines and all((p := trial.pairs.get(str(i))) and p.verdict is not None for i in lines)
    return trial.blind and not scored and not settled


def beside(cx: Cx, on: Loaded, also: list[UUID]) -> list[PairBeside]:
    """The pairs of the tray as pulled, and others by their stock lines, each with where it presses, gives and slips.

    Raises `BadInput` while feet or brief say too little, `NotFound` for a line that isn't here."""
    return [_pair(p, on) for p in _previews(cx, on, also)]


def _previews(cx: Cx, on: Loaded, also: list[UUID]) -> list[Preview]:
    lines = [r["id"] for r in stock.tray(cx, on.id)]
    if on.sale and on.sale["stock_line_id"] not in lines:
        lines.append(on.sale["stock_line_id"])
    return [bench.preview(cx, on, line) for line in dict.fromkeys([*lines, *also])]


def _pair(found: Preview, on: Loaded, costs: dict[UUID, PairCost] | None = None) -> PairBeside:
    row, trial = found.row, read(TrialPart, on.parts["trial"].body)
    line = UUID(str(row["id"]))
    tried = trial.pairs.get(str(line))
    zones = found.size.zones
    side = zones[0].foot
    sides = [dict(zip(FIT_ZONES, map(float, v), strict=True)) for v in on.foot.sides.values()]
    does = zones_do(found.size)
    cost = (costs or {}).get(line)
    span = (
        PairCostSpan(per_hour=cost.cost.per_hour, total_minor=cost.total_minor, currency=on.now.currency)
        if cost
        else None
    )
    return PairBeside(
        line_id=line,
        name=f"{row['maker']} {row['name']}",
        size=on_the_box(row),
        fit=found.size,
        foot_mm={z: max(s[z] for s in sides) for z in FIT_ZONES},
        side=side,
        toes=getattr(on.feet, side).toe_shape or "first_longest",
        asymmetry_deg=row["properties"].get("asymmetry_deg"),
        does=does,
        in_short=in_short(does),
        gives_up=found.in_a_word,
        felt=felt_in(tried, on.case.brief.sport),
        tried=bool(tried and (tried.tests or tried.pinches or tried.verdict)),
        verdict=tried.verdict if tried else None,
        cost=span,
        sold=bool(on.sale and on.sale["stock_line_id"] == line),
    )


def _is_paid(on: Loaded, cost: PairCost) -> bool:
    """Whether a sold pair is still asked for what was paid for it: by another price its hours cost something else."""
    if not on.sale or on.sale["stock_line_id"] != cost.line_id:
        return True
    paid = sales.paid(on.sale)
    return (paid.minor, paid.currency) == (cost.total_minor, on.now.currency)


def _studs(case: Case, spec: Spec) -> list[Stud] | None:
    ground, plate = mechanics(case, spec).on_ground, spec.choices.get("plate")
    if not ground or not plate:
        return None
    return next((p.studs for p in ground.plates if p.plate == plate[0].value), None)


ORDER = {"pass": 0, None: 1, "fail": 2}
"""Passed before untried before failed."""


def turned(cx: Cx, on: Loaded, shop_name: str) -> TurnedOut:
    """The fitting for the person it is about."""
    name = None if on.row["unnamed_since"] else on.row["name"]
    out = TurnedOut(
        shop=shop_name, athlete=name, feet=_feet(cx, on), shoe=None, pairs=[], wear=None,
        said=they_said(on.draft), decided=[],
    )  # fmt: skip
    try:
        spec, case = on.spec, on.case
    except BadInput:
        return out
    shoe = TurnedShoe(
        spec=for_drawing(spec),
        studs=_studs(case, spec),
        foot_mm=case.foot_mm,
        sentence=sentence(spec),
        because=because(spec),
    )
    try:
        found = _previews(cx, on, [])
        costs = {c.line_id: c for c in costs_of(cx, on).pairs if _is_paid(on, c)}
        pairs = [_pair(p, on, costs) for p in found]
    except BadInput:
        return out.model_copy(update={"shoe": shoe})
    trial = read(TrialPart, on.parts["trial"].body)
    if _blind(trial, [p.line_id for p in pairs], on.sale is not None):
        letters = {p.line_id: f"Pair {chr(ord('A') + n)}" for n, p in enumerate(pairs)}
        pairs = [p.model_copy(update={"name": letters[p.line_id], "cost": None}) for p in pairs]
    pairs.sort(key=lambda p: (not p.sold, ORDER[p.verdict]))
    plans = {UUID(str(p.row["id"])): p.plan for p in found}
    wear = _wear(pairs[0], plans[pairs[0].line_id]) if pairs and (pairs[0].sold or pairs[0].verdict == "pass") else None
    return out.model_copy(update={"shoe": shoe, "pairs": pairs, "wear": wear, "decided": _decided(cx, on, spec, pairs)})


def _wear(pair: PairBeside, plan: BreakInOut) -> TurnedWear:
    return TurnedWear(
        line_id=pair.line_id,
        pair=pair.name,
        wears=plan.wears,
        ready_on=plan.ready_on,
        verdict=plan.verdict,
        rules=plan.rules,
    )


def _decided(cx: Cx, on: Loaded, spec: Spec, pairs: list[PairBeside]) -> list[str]:
    """What was told as a caution and taken note of, the pair, its price, and when they come back."""
    noted = read(SpecPart, on.parts["spec"].body).acknowledged
    lines = [f"I was told: {told(c.text)}" for c in spec.cautions if c.rule in noted]
    sold = next((p for p in pairs if p.sold), None)
    if sold and on.sale:
        total = sales.paid(on.sale)
        lines.append(f"I take {sold.name} in {sold.size}, for {total}.")
        booked = sales.follow_up(cx, on.id)
        if booked:
            lines.append(f"I come back on {booked['due_on']:%-d %B %Y}, to have it looked at.")
    return lines
