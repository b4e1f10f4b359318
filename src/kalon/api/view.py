"""A fitting as the stations see it: stored parts put through the core."""

from __future__ import annotations

from datetime import timedelta
from functools import lru_cache
from typing import Any
from uuid import UUID

from pydantic import ValidationError

from ..core.care.breakin import BreakInOut, ZonePress, ZoneReady, by_zone
from ..core.errors import read
from ..core.feet.gauge import read_feet
from ..core.feet.usual import can_size, estimates
from ..core.fit.foot import FIT_ZONES
from ..core.fit.size import SizeFit
from ..core.house import DEFAULTS, House, group
from ..core.match.gives import OlderModel, older
from ..core.match.shelf import sized
from ..core.parts import PARTS
from ..core.rules.aloud import hand_words, sentence
from ..core.rules.bench import mechanics
from ..core.rules.brief import still_to_ask
from ..core.rules.changes import changes
from ..core.rules.engine import Spec
from ..core.rules.present import lies
from ..core.rules.words import every_school
from ..core.sizes import SizeConvertIn, size_convert
from ..core.takings.asked import Asked
from ..core.takings.journal import BECAME_WORDS, KIND_WORDS, number_text
from ..store import bench, captures, catalogue, fittings, house, journal, pairs, sales, stock
from ..store.bench import Loaded
from ..store.database import Cx, Row
from ..store.fittings import Part
from .machine import tablets_told
from .schemas import (
    AskedOut,
    AthleteOut,
    CaptureOut,
    FittingOut,
    FollowUpState,
    HandOut,
    HouseNumber,
    HouseOut,
    HouseVersion,
    JournalLine,
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


def pair_out(row: Row, currency: str) -> PairOut:
    """A stock line for the interface, with its label in every system that has it and its properties in its size."""
    names = PairOut.model_fields.keys() & row.keys()
    own = {
        "labels": labels_of(row["eu_label"]),
        "currency": currency,
        "properties": sized(row["properties"], row["eu_label"]),
    }
    return PairOut(**{n: row[n] for n in names} | own)


@lru_cache(maxsize=500)
def labels_of(eu_label: float) -> dict[str, float]:
    """A label in every size system; none for one that no shoe has, which must not hide the rest of the shelf."""
    try:
        found = size_convert(SizeConvertIn(system="eu", label=eu_label)).nearest
    except ValidationError:
        return {}
    return {str(k): v for k, v in found.items()}


def capture_out(row: Row) -> CaptureOut:
    """A capture for the interface, without its geometry."""
    names = ("id", "kind", "side", "name", "version", "practice", "taken_at", "measured_at", "taken_by", "said")
    return CaptureOut(**{n: row[n] for n in names}, reading=captures.reading_of(row))


def shoe_fit(cx: Cx, fitting_id: UUID, model_id: UUID, width: str) -> ShoeFit:
    """One model in one width on these feet."""
    on = bench.load(cx, fitting_id)
    rows = stock.run_of(cx, model_id, width, on.row["learned_version"])
    found = bench.sizes_of(on, rows)
    wanted = found.recommended or max(found.sizes, key=lambda s: s.quality or 0.0).label
    return ShoeFit(
        pair=pair_out(next(r for r in rows if r["eu_label"] == wanted), on.now.currency),
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
                slug=slug,
                group=group(slug),
                text=d.text,
                unit=d.unit,
                value=d.value,
                low=d.low,
                high=d.high,
                step=d.step,
                mark=d.mark,
                now=now[slug],
            )
            for slug, d in DEFAULTS.items()
        ],
        schools=[
            SchoolOut(
                slug=slug,
                text=s.text,
                options=[OptionOut(value=o.value, text=o.text, hint=o.hint) for o in s.options],
                side=house_sides(now)[slug],
                spec=s.spec,
            )
            for slug, s in every_school().items()
        ],
        versions=[HouseVersion(**{n: r[n] for n in HouseVersion.model_fields}) for r in house.history(cx)],
        link_address=now.public_address or next(iter(tablets_told().secure), None),
    )


def spec_view(cx: Cx, fitting_id: UUID, sets: dict[str, Any] | None = None) -> SpecView:
    """The spec with what it stands on: mechanics, the present shoe, other schools, and weights moved by hand.

    With `sets` tried on top it says what they move, and leaves out what other schools would have said: a tried answer
    is to be drawn at once, and the schools can be tried themselves."""
    on = bench.load(cx, fitting_id)
    case, spec = on.what_if(sets) if sets else (on.case, on.spec)
    hands = fittings.moved_by(cx, fitting_id)
    says = [] if sets else on.schools
    return SpecView(
        spec=spec.model_copy(update={"schools": says}),
        sentence=sentence(spec),
        words=hand_words(spec),
        mechanics=mechanics(case, spec),
        present=lies(case.brief.present, case.brief.sport),
        moved=changes(on.spec, spec) if sets else [],
        hands={n: HandOut(by=r["by"], at=r["at"]) for n, r in hands.items() if _by_hand(spec, n)},
        foot_mm=case.foot_mm,
        house_version=case.house.version,
        newest_house=on.now.version,
    )


def _by_hand(spec: Spec, name: str) -> bool:
    moved = spec.properties.get(name) or spec.choice_weights.get(name) or spec.features.get(name)
    return moved is not None and moved.by_hand is not None


def preview_out(cx: Cx, on: Loaded, found: bench.Preview) -> SettlePreview:
    """A preview for the interface, with what else stands on that last and what would play instead."""
    return SettlePreview(
        pair=pair_out(found.row, found.row["currency"]),
        size=found.size,
        tau_h=found.tau_h,
        gives_up=found.gives_up,
        in_a_word=found.in_a_word,
        plan=found.plan,
        by_zone=zones_ready(found.size, found.tau_h, found.plan),
        asked=_asked(found.asked),
        tax=found.tax,
        older=[] if on.sale else _older(cx, found.row),
        old_pair="" if found.plan.in_time else _plays_instead(cx, on),
    )


def _asked(of: Asked | None) -> AskedOut | None:
    if of is None:
        return None
    return AskedOut(
        price_minor=of.price.minor,
        discount_minor=of.discount.minor,
        total_minor=of.total.minor,
        currency=of.total.currency,
        said=of.said,
    )


def zones_ready(size: SizeFit, tau_h: float, plan: BreakInOut) -> list[ZoneReady]:
    """When each zone of a pair comes right on the days of its plan; what is judged new doesn't wait for it."""
    presses = [
        ZonePress(zone=z.zone, new_mm=z.new_mm, settled_mm=z.settled_mm, low_mm=z.low_mm)
        for z in size.zones
        if not z.judged_new
    ]
    return by_zone(presses, tau_h, plan.wears)


def _older(cx: Cx, row: Row) -> list[OlderModel]:
    new = catalogue.shoe_of(row)
    found = [
        older(catalogue.shoe_of(r, "id"), f"{r['maker']} {r['name']}", str(r["line_id"]), new)
        for r in catalogue.same_last(cx, row)
    ]
    return [f for f in found if f][:2]


def _plays_instead(cx: Cx, on: Loaded) -> str:
    """The pair of that sport they have, and whether it lasts until the event."""
    sport = on.case.brief.sport
    rows = [
        r
        for r in pairs.of_athlete(cx, on.row["athlete_id"])
        if r["sport"] == sport and r["ended_on"] is None and (not on.sale or r["sale_id"] != on.sale["id"])
    ]
    if not rows:
        worn = on.draft.wears_now
        return (
            f"The old pair is {worn}: look at it before you count on it." if worn else "No old pair is on record: ask."
        )
    row = max(rows, key=lambda r: (r["median_h"] or 0.0) - r["worn_h"])
    left = max((row["median_h"] or 0.0) - row["worn_h"], 0.0)
    name = f"{row['maker']} {row['name']}".strip()
    return (
        f"{name} has about {left:.0f} h left: it plays." if left > 3 else f"{name} is near its end: look at it first."
    )


AFTER_THE_SALE = ("settle", "return")


def stations(on: Loaded, tray: list[Row], booked: bool) -> list[StationOut]:
    """Each station done, doing, or what it waits for: the first not done is doing, the rest wait for it.

    Once a pair is sold nothing before the sale is still to do."""
    sold = on.sale is not None
    acknowledged = on.parts["spec"].body.get("acknowledged", {})
    asked = not still_to_ask(on.draft)
    done = {
        "feet": can_size(on.feet),
        "brief": asked,
        "spec": asked and all(c.rule in acknowledged for c in on.spec.cautions if c.must_acknowledge),
        "pull": bool(tray),
        "trial": fittings.passed(on.parts["trial"].body),
        "settle": sold and (booked or on.row["state"] == "returned"),
        "return": on.row["state"] == "returned",
    }
    found = []
    waiting: str | None = None
    for slug, is_done in done.items():
        if is_done or (sold and slug not in AFTER_THE_SALE):
            found.append(StationOut(slug=slug, state="done", waits_for=None))
        elif waiting is None:
            found.append(StationOut(slug=slug, state="doing", waits_for=None))
            waiting = slug
        else:
            found.append(StationOut(slug=slug, state="waits", waits_for=NEEDED[waiting]))
    return found


def part_state(part: str, found: Part) -> dict[str, Any]:
    """A part as the interface holds it: version, the body with usual values filled in, and what was given."""
    return {
        "version": found.version,
        "body": read(PARTS[part], found.body).model_dump(mode="json"),
        "said": sorted(found.body),
    }


def _in_tray(on: Loaded, row: Row) -> PairOut:
    """A pair of the tray, with the price said for it where the shop knows none."""
    found = pair_out(row, on.now.currency)
    price = bench.asked_for(on, row) if row["price_minor"] is None else None
    return found.model_copy(update={"price_minor": price.price.minor, "price_said": True}) if price else found


def sale_out(cx: Cx, on: Loaded, sale: Row) -> SaleOut:
    """A sale for the interface, with its lines in the journal."""
    lines = journal.of_sale(cx, sale["id"])
    return SaleOut(
        **{n: sale[n] for n in SaleOut.model_fields if n in sale},
        system=sale["pair"].get("system", "eu"),
        label=sale["pair"].get("label"),
        sold_on=on.day_of(sale["sold_at"]),
        lines=[line_out(r) for r in lines],
        too_late=journal.can_undo(on.now, lines),
    )


def line_out(row: Row) -> JournalLine:
    """A line of the journal for the interface."""
    became = row["became"]
    return JournalLine(
        **{n: row[n] for n in JournalLine.model_fields if n in row and n != "number"},
        number=number_text(row["year"], row["number"]),
        says=KIND_WORDS[row["kind"]],
        what=f"{row['maker']} {row['model']}".strip(),
        became_says=BECAME_WORDS[became] if became else "",
        upon=number_text(row["of_year"], row["of_number"]) if row["of_number"] else "",
    )


def fitting_out(cx: Cx, fitting_id: UUID) -> FittingOut:
    """The whole fitting."""
    on = bench.load(cx, fitting_id)
    hold_h = on.now["shelf.hold_h"]
    tray = stock.tray(cx, fitting_id)
    booked = sales.follow_up(cx, fitting_id) if on.row["state"] != "open" else None
    states: dict[str, dict[str, Any]] = {n: {"version": p.version, "body": p.body} for n, p in on.parts.items()}
    states["brief"]["said"] = sorted(on.parts["brief"].body)
    sale = on.sale
    return FittingOut(
        id=on.id,
        state=on.row["state"],
        opened_at=on.row["opened_at"],
        begun_on=on.day_of(on.row["opened_at"]),
        today=on.today,
        athlete=AthleteOut(
            id=on.row["athlete_id"],
            **{n: on.row[n] for n in ("name", "born_on", "squad", "note", "version", "unnamed_since")},
        ),
        parts=Parts.model_validate(states),
        reading=read_feet(on.feet, on.norms),
        found=on.found,
        estimated=estimates(on.feet, on.norms),
        captures=[capture_out(r) for r in on.captures],
        stations=stations(on, tray, bool(booked)),
        tray=[_in_tray(on, r) for r in tray],
        held_until=on.row["touched_at"] + timedelta(hours=hold_h) if tray and on.row["state"] == "open" else None,
        sale=sale_out(cx, on, sale) if sale else None,
        schools=house_sides(on.keeps),
        learned=on.row["learned_version"],
        learned_newest=on.row["learned_newest"],
        learned_lain=on.row["learned_from"] is not None,
        unfelt=not still_to_ask(on.draft) and on.spec.unfelt,
        follow_up=FollowUpState(due_on=booked["due_on"], done_at=booked["done_at"]) if booked else None,
        follow_up_proposed=on.day_of(sale["sold_at"]) + bench.FOLLOW_UP_AFTER if sale else None,
    )
