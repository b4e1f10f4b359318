"""A fitting as the stations see it: stored parts put through the core."""

from __future__ import annotations

from typing import Any
from uuid import UUID

from ..core.feet.combine import resolved
from ..core.feet.gauge import Feet, is_complete, read_feet, recentred
from ..core.fit.foot import FIT_ZONES
from ..core.house import DEFAULTS, House
from ..core.rules.bench import mechanics
from ..core.rules.brief import still_to_ask
from ..core.rules.changes import changes
from ..core.rules.engine import Spec
from ..core.rules.present import lies
from ..core.rules.spec import schools_say
from ..core.rules.words import every_school
from ..core.sizes import SizeConvertIn, size_convert
from ..store import bench, captures, fittings, house, sales, stock
from ..store.athletes import get as get_athlete
from ..store.bench import draft_of, gauge_of, spec_of
from ..store.database import Cx, Row
from ..store.fittings import Part
from .schemas import (
    AthleteOut,
    CaptureOut,
    FittingOut,
    FollowUpState,
    HandOut,
    HouseNumber,
    HouseOut,
    HouseVersion,
    OptionOut,
    PairOut,
    Parts,
    SaleOut,
    SchoolOut,
    SettlePreview,
    ShoeFit,
    SizeLine,
    SpecView,
    StationOut,
)

NEEDED = {"feet": "feet", "brief": "brief", "spec": "cautions", "pull": "a pair", "trial": "a pass",
          "settle": "a sale", "return": "the visit"}  # fmt: skip


def pair_out(row: Row) -> PairOut:
    """A stock line for the interface, with its label in every system."""
    names = PairOut.model_fields.keys() & row.keys()
    labels = size_convert(SizeConvertIn(system="eu", label=row["eu_label"])).nearest
    return PairOut(**{n: row[n] for n in names}, labels={str(k): v for k, v in labels.items()})


def capture_out(row: Row) -> CaptureOut:
    """A capture for the interface, without its geometry."""
    return CaptureOut(
        **{n: row[n] for n in ("id", "kind", "side", "name", "version", "practice", "taken_at", "taken_by", "said")},
        reading=row["reading"],
    )


def shoe_fit(cx: Cx, fitting_id: UUID, model_id: UUID, width: str) -> ShoeFit:
    """One model in one width on these feet."""
    on = bench.bench_of(cx, fitting_id)
    rows = stock.run_of(cx, model_id, width)
    found = bench.sizes_of(on, rows)
    wanted = found.recommended or max(found.sizes, key=lambda s: s.chance).label
    return ShoeFit(
        pair=pair_out(next(r for r in rows if r["eu_label"] == wanted)),
        lines=[SizeLine(label=r["eu_label"], **{n: r[n] for n in SizeLine.model_fields if n != "label"}) for r in rows],
        fit=found,
        foot_mm={side: dict(zip(FIT_ZONES, map(float, v), strict=True)) for side, v in on.foot.sides.items()},
    )


def house_sides(keeps: House) -> dict[str, str]:
    """The side a house takes in every school."""
    return {slug: keeps.schools.get(slug, s.options[0].value) for slug, s in every_school().items()}


def house_out(cx: Cx) -> HouseOut:
    """The house for its page."""
    now = house.current(cx)
    return HouseOut(
        house=now,
        defaults=[
            HouseNumber(
                slug=slug, text=d.text, unit=d.unit, value=d.value, low=d.low, high=d.high, mark=d.mark, now=now[slug]
            )
            for slug, d in DEFAULTS.items()
        ],
        schools=[
            SchoolOut(
                slug=slug,
                text=s.text,
                options=[OptionOut(value=o.value, text=o.text, hint=o.hint) for o in s.options],
                side=house_sides(now)[slug],
            )
            for slug, s in every_school().items()
        ],
        versions=[HouseVersion(**{n: r[n] for n in HouseVersion.model_fields}) for r in house.history(cx)],
    )


def spec_view(cx: Cx, fitting_id: UUID, sets: dict[str, Any] | None = None) -> SpecView:
    """The spec with what it stands on: mechanics, the present shoe, other schools, and weights moved by hand.

    With `sets` tried on top it says what they move."""
    case, spec = bench.case_of(cx, fitting_id, sets)
    hands = fittings.moved_by(cx, fitting_id)
    newest = house.current(cx).version
    return SpecView(
        spec=spec.model_copy(update={"schools": schools_say(case.brief, case.feet, case.house, spec)}),
        mechanics=mechanics(case, spec),
        present=lies(case.brief.present),
        moved=changes(bench.case_of(cx, fitting_id)[1], spec) if sets else [],
        hands={n: HandOut(by=r["by"], at=r["at"]) for n, r in hands.items() if _by_hand(spec, n)},
        house_version=case.house.version,
        newest_house=newest,
    )


def _by_hand(spec: Spec, name: str) -> bool:
    moved = spec.properties.get(name) or spec.choice_weights.get(name)
    return moved is not None and moved.by_hand is not None


def preview_out(found: bench.Preview) -> SettlePreview:
    """A preview for the interface."""
    return SettlePreview(
        pair=pair_out(found.row),
        size=found.size,
        tau_h=found.tau_h,
        gives_up=found.gives_up,
        plan=found.plan,
        tax=found.tax,
    )


def stations(
    feet: Feet, parts: dict[str, Part], spec: Spec | None, tray: list[Row], sold: bool, booked: bool, returned: bool
) -> list[StationOut]:
    """Each station done, doing, or what it waits for: the first not done is doing, the rest wait for it."""
    acknowledged = parts["spec"].body.get("acknowledged", {})
    trials = parts["trial"].body.get("pairs", {})
    done = {
        "feet": is_complete(feet),
        "brief": not still_to_ask(draft_of(parts)),
        "spec": spec is not None and all(c.rule in acknowledged for c in spec.cautions if c.must_acknowledge),
        "pull": bool(tray),
        "trial": any(t.get("verdict") == "pass" for t in trials.values()),
        "settle": sold and booked,
        "return": returned,
    }
    found = []
    waiting: str | None = None
    for slug, is_done in done.items():
        if is_done:
            found.append(StationOut(slug=slug, state="done", waits_for=None))
        elif waiting is None:
            found.append(StationOut(slug=slug, state="doing", waits_for=None))
            waiting = slug
        else:
            found.append(StationOut(slug=slug, state="waits", waits_for=NEEDED[waiting]))
    return found


def fitting_out(cx: Cx, fitting_id: UUID) -> FittingOut:
    """The whole fitting."""
    row = fittings.get(cx, fitting_id)
    parts = fittings.parts(cx, fitting_id)
    tray = stock.tray(cx, fitting_id)
    sale = sales.standing(cx, fitting_id)
    booked = sales.follow_up(cx, fitting_id)
    draft = draft_of(parts)
    spec = spec_of(cx, fitting_id) if not still_to_ask(draft) else None
    typed = gauge_of(parts)
    found = captures.feet_found(cx, fitting_id, typed)
    feet = resolved(typed, found)
    states: dict[str, dict[str, Any]] = {n: {"version": p.version, "body": p.body} for n, p in parts.items()}
    states["brief"]["said"] = sorted(parts["brief"].body)
    return FittingOut(
        id=row["id"],
        state=row["state"],
        opened_at=row["opened_at"],
        athlete=AthleteOut(**get_athlete(cx, row["athlete_id"])),
        parts=Parts.model_validate(states),
        reading=read_feet(feet, recentred(captures.girth_shares(cx))),
        found=found,
        captures=[capture_out(r) for r in captures.of_fitting(cx, fitting_id)],
        stations=stations(feet, parts, spec, tray, bool(sale), bool(booked), row["state"] == "returned"),
        tray=[pair_out(r) for r in tray],
        sale=SaleOut(**{n: sale[n] for n in SaleOut.model_fields}) if sale else None,
        schools=house_sides(house.of_fitting(cx, fitting_id)),
        follow_up=FollowUpState(due_on=booked["due_on"], done_at=booked["done_at"]) if booked else None,
    )
