"""A fitting's stored parts put through the core: the spec, the fit, what a sale keeps, what a follow-up showed."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import UTC, datetime
from typing import Any
from uuid import UUID

from ..core.care.breakin import BreakInIn, BreakInOut, breakin
from ..core.care.followup import FollowUpIn, FollowUpOut, ZonePrediction, follow_up
from ..core.errors import Conflict, read
from ..core.feet.gauge import Feet
from ..core.fit.foot import FIT_ZONES, MEASURES, SITTING_NOTE, FootToFit, foot_to_fit
from ..core.fit.size import ShoeSize, SizeFit, SizeRecommendIn, SizeRecommendOut, recommend_for
from ..core.fit.stretch import give_of
from ..core.house import House, TaxOn, tax_on
from ..core.match.rank import Point, judge
from ..core.parts import ReturnPart, SettlePart, SpecPart, with_path
from ..core.rules.brief import Brief, BriefDraft, complete
from ..core.rules.engine import Case, Spec
from ..core.rules.hand import HandWeight
from ..core.rules.spec import fit_target, spec_for
from ..core.sizes import SizeConvertIn, size_convert
from . import captures, fittings, house, sales, stock
from .database import Cx, Row
from .fittings import Part

LONG_EFFORT = ("multi_pitch", "mileage")
STEAMED = ("football", "climbing")
"""Where softening leather is a school."""


@dataclass(frozen=True)
class Bench:
    """A fitting's feet and brief, the house it keeps, and the spec and the foot they give."""

    feet: Feet
    brief: Brief
    spec: Spec
    foot: FootToFit
    house: House

    @property
    def case(self) -> Case:
        """As rules look at it."""
        return Case(self.brief, self.feet, self.house)


def gauge_of(parts: dict[str, Part]) -> Feet:
    """The feet as typed."""
    return read(Feet, parts["feet"].body)


def feet_of(cx: Cx, fitting_id: UUID, parts: dict[str, Part]) -> Feet:
    """The feet as gauge and captures together show them: what everything further on is computed from."""
    return captures.feet_that_count(cx, fitting_id, gauge_of(parts))


def draft_of(parts: dict[str, Part], sets: dict[str, Any] | None = None) -> BriefDraft:
    """The brief as stored, with `sets` tried on top."""
    body = parts["brief"].body
    for path, value in (sets or {}).items():
        body = with_path(body, path, value)
    return read(BriefDraft, body)


def case_of(cx: Cx, fitting_id: UUID, sets: dict[str, Any] | None = None) -> tuple[Case, Spec]:
    """What rules look at and the spec they give; a settled fitting keeps what it was settled by.

    `sets` are answers tried on top. Raises `BadInput` when the brief has gaps."""
    keeps = house.of_fitting(cx, fitting_id)
    sale = sales.standing(cx, fitting_id)
    if sale and not sets:
        kept = sale["snapshot"]
        case = Case(Brief.model_validate(kept["brief"]), Feet.model_validate(kept["feet"]), keeps)
        return case, Spec.model_validate(kept["spec"])
    parts = fittings.parts(cx, fitting_id)
    brief, feet = complete(draft_of(parts, sets)), feet_of(cx, fitting_id, parts)
    return Case(brief, feet, keeps), spec_for(brief, feet, keeps, weights_of(parts))


def weights_of(parts: dict[str, Part]) -> dict[str, HandWeight]:
    """Weights moved by hand in this fitting."""
    return read(SpecPart, parts["spec"].body).weights


def spec_of(cx: Cx, fitting_id: UUID) -> Spec:
    """The spec now. Raises `BadInput` when the brief has gaps."""
    return case_of(cx, fitting_id)[1]


def bench_of(cx: Cx, fitting_id: UUID) -> Bench:
    """Everything fit is computed from. Raises `BadInput` naming what is still missing."""
    parts = fittings.parts(cx, fitting_id)
    feet, brief = feet_of(cx, fitting_id, parts), complete(draft_of(parts))
    case, spec = case_of(cx, fitting_id)
    return Bench(feet, brief, spec, _foot(feet, gauge_of(parts), brief), case.house)


def _foot(feet: Feet, typed: Feet, brief: Brief) -> FootToFit:
    foot = foot_to_fit(feet, long_effort=brief.discipline in LONG_EFFORT)
    if typed.stance == "standing":
        return foot
    return replace(foot, notes=(*foot.notes, SITTING_NOTE))


def require_acknowledged(cx: Cx, fitting_id: UUID, spec: Spec) -> None:
    """Raise `Conflict` while a caution that must be acknowledged isn't."""
    done = fittings.parts(cx, fitting_id)["spec"].body.get("acknowledged", {})
    open_ = [c for c in spec.cautions if c.must_acknowledge and c.rule not in done]
    if open_:
        raise Conflict(f"To acknowledge first, at Spec: {open_[0].text}", code="caution-open")


def sizes_of(bench: Bench, rows: list[Row]) -> SizeRecommendOut:
    """Every size of one model and width on these feet."""
    shoe = stock.shoe_of(rows[0])
    given = SizeRecommendIn(
        feet=bench.feet,
        target=fit_target(bench.spec, shoe.upper),
        upper=shoe.upper,
        build=shoe.build,
        reinforced=shoe.reinforced,
        sizes=[
            ShoeSize(
                label=r["eu_label"],
                length_mm=r["length_mm"],
                ball_girth_mm=r["ball_girth_mm"],
                instep_girth_mm=r["instep_girth_mm"],
                heel_width_mm=r["heel_width_mm"],
            )
            for r in rows
        ],
    )
    return recommend_for(bench.foot, given)


@dataclass(frozen=True)
class Preview:
    """What settling on a pair would mean."""

    row: Row
    size: SizeFit
    tau_h: float
    gives_up: list[Point]
    plan: BreakInOut
    tax: TaxOn | None

    def kept(self) -> dict[str, Any]:
        """As a sale keeps it."""
        return {
            "size": self.size.model_dump(mode="json"),
            "tau_h": self.tau_h,
            "gives_up": [p.model_dump() for p in self.gives_up],
            "plan": self.plan.model_dump(mode="json"),
            "tax": self.tax.model_dump(mode="json") if self.tax else None,
        }


def preview(cx: Cx, fitting_id: UUID, line_id: UUID) -> Preview:
    """What settling on a pair would mean: its fit, what it gives up, the break-in plan."""
    bench = bench_of(cx, fitting_id)
    row = stock.line(cx, line_id)
    shoe = stock.shoe_of(row)
    size = sizes_of(bench, [row]).sizes[0]
    settle = read(SettlePart, fittings.parts(cx, fitting_id)["settle"].body)
    ball = next(z for z in size.zones if z.zone == "ball_girth")
    tightest = min(size.zones, key=lambda z: z.new_mm if z.zone != "length" else 0.0)
    press = tightest if tightest.new_mm < ball.new_mm and tightest.zone == "instep_girth" else ball
    plan = breakin(
        BreakInIn(
            upper=shoe.upper,
            build=shoe.build,
            interference_mm=min(max(-press.new_mm, -60), 60),
            inner_mm=row["ball_girth_mm"],
            start_on=settle.start_on or datetime.now(UTC).date(),
            event_on=bench.brief.event_on,
            weekdays=settle.weekdays,
            steam=bench.brief.sport in STEAMED and bench.case.school("softening") == "steam_leather",
            sport=bench.brief.sport,
            ready_share=bench.house["breakin.ready_share"],
        )
    )
    _, _, costs = judge(shoe, bench.spec)
    labels = size_convert(SizeConvertIn(system="eu", label=row["eu_label"])).labels
    return Preview(
        row=row,
        size=size,
        tau_h=give_of(shoe.upper, shoe.build).tau_h,
        gives_up=costs[:4],
        plan=plan,
        tax=tax_on(bench.house.tax, row["price_cents"], labels),
    )


def snapshot(cx: Cx, fitting_id: UUID, line_id: UUID) -> dict[str, Any]:
    """Everything a sale was computed from, so that an old sheet still explains itself."""
    bench = bench_of(cx, fitting_id)
    return {
        "feet": bench.feet.model_dump(mode="json"),
        "brief": bench.brief.model_dump(mode="json"),
        "spec": bench.spec.model_dump(mode="json"),
        "house": bench.house.model_dump(mode="json"),
        "foot_notes": list(bench.foot.notes),
        "settled": preview(cx, fitting_id, line_id).kept(),
        "note": read(SettlePart, fittings.parts(cx, fitting_id)["settle"].body).gives_up,
    }


def outcome(cx: Cx, fitting_id: UUID) -> FollowUpOut | None:
    """What was measured at the follow-up against what was predicted; none before there are numbers."""
    sale = sales.standing(cx, fitting_id)
    back = read(ReturnPart, fittings.parts(cx, fitting_id)["return"].body)
    seen = {z: v for z, m in zip(FIT_ZONES, MEASURES, strict=True) if (v := getattr(back, m)) is not None}
    if not sale or back.hours is None or not seen:
        return None
    settled = sale["snapshot"]["settled"]
    names = ZonePrediction.model_fields
    return follow_up(
        FollowUpIn(
            predicted=[ZonePrediction(**{n: z[n] for n in names}) for z in settled["size"]["zones"]],
            tau_h=settled["tau_h"],
            hours=back.hours,
            seen_mm=seen,
        )
    )
