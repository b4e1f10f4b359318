"""A fitting read once and put through the core: the spec, the fit, what a sale keeps, what a follow-up showed."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import date, datetime, timedelta
from functools import cached_property
from typing import Any, Literal, cast
from uuid import UUID

from ..core.care.breakin import BreakInIn, BreakInOut, breakin
from ..core.care.followup import FollowUpIn, FollowUpOut, ZonePrediction, follow_up
from ..core.errors import Conflict, NotFound, read
from ..core.feet.combine import FeetFound, combine, resolved
from ..core.feet.gauge import Feet, Norms
from ..core.feet.growth import years_old
from ..core.fit.foot import FIT_ZONES, MEASURES, SITTING_NOTE, FootToFit, foot_to_fit
from ..core.fit.size import ShoeSize, SizeFit, SizeRecommendIn, SizeRecommendOut, gives_most, recommend_for
from ..core.fit.stretch import give_of
from ..core.house import HOUSE, House, TaxOn
from ..core.match.gives import in_a_word
from ..core.match.judged import Point, judge
from ..core.match.shelf import Shelf, Shoe, in_size, near
from ..core.parts import ReturnPart, SettlePart, SpecPart, check_paths, with_path
from ..core.remembered import Remembered, key_of
from ..core.rules.brief import Brief, BriefDraft, complete
from ..core.rules.climbing import LONG_EFFORT
from ..core.rules.concerns import Heard, concerns_of
from ..core.rules.engine import Case, SchoolSays, Spec
from ..core.rules.hand import HandWeight
from ..core.rules.spec import VERSION, fit_target, schools_say, spec_of
from ..core.rules.words import Sport
from ..core.sizes import label_words
from ..core.sports.every import facts_of
from ..core.takings.asked import Asked, Lowered, asked
from . import captures, catalogue, fittings, heard, learned, sales, shelves, shop, stock
from .database import ERASED, Cx, Row, Who
from .fittings import Part
from .house import house_from

FOLLOW_UP_AFTER = timedelta(days=21)
"""When an athlete is asked back after a sale. House default."""
PressedZone = Literal["length", "ball_girth", "instep_girth", "heel_width"]


REMEMBERED = 200
_specs: Remembered[Spec] = Remembered(REMEMBERED)
_schools: Remembered[tuple[SchoolSays, ...]] = Remembered(REMEMBERED)
"""What each process remembers of fittings: a spec is asked for again by every station after it."""


def _key(case: Case, weights: dict[str, HandWeight]) -> bytes:
    of = (case.brief, case.feet, case.house, case.norms, case.heard, case.age_years)
    return key_of(*of, list(weights), list(weights.values()))


def _spec(case: Case, weights: dict[str, HandWeight]) -> Spec:
    return _specs.of(_key(case, weights), lambda: spec_of(case, weights))


@dataclass(frozen=True)
class Loaded:
    """A fitting with everything it is computed from, each thing read once."""

    row: Row
    """The fitting's and the athlete's own columns."""
    parts: dict[str, Part]
    captures: list[Row]
    sale: Row | None
    keeps: House
    """The house this fitting is computed under."""
    now: House
    """The house as it now is: its clock and currency."""
    norms: Norms | None
    heard: tuple[Heard, ...]
    """What was said of the athlete elsewhere, as it now stands."""

    @property
    def id(self) -> UUID:
        """The fitting's id."""
        return cast(UUID, self.row["id"])

    @cached_property
    def gauge(self) -> Feet:
        """The feet as typed."""
        return read(Feet, self.parts["feet"].body)

    @cached_property
    def found(self) -> FeetFound:
        """The feet as gauge and captures together show them."""
        return combine(self.gauge, captures.as_captured(self.captures, self.row["opened_at"], self.row["born_on"]))

    @cached_property
    def feet(self) -> Feet:
        """The feet everything further on is computed from."""
        return resolved(self.gauge, self.found)

    @cached_property
    def draft(self) -> BriefDraft:
        """The brief as stored."""
        return read(BriefDraft, self.parts["brief"].body)

    def tried(self, sets: dict[str, Any]) -> BriefDraft:
        """The brief with `sets` tried on top."""
        check_paths(sets)
        body = self.parts["brief"].body
        for path, value in sets.items():
            body = with_path(body, path, value)
        return read(BriefDraft, body)

    @property
    def weights(self) -> dict[str, HandWeight]:
        """Weights moved by hand in this fitting."""
        return read(SpecPart, self.parts["spec"].body).weights

    @property
    def kept(self) -> dict[str, Any] | None:
        """What the sale that stands was computed from."""
        return self.sale["snapshot"] if self.sale else None

    @cached_property
    def case(self) -> Case:
        """What rules look at; a settled fitting keeps what it was settled by. Raises `BadInput` at gaps."""
        if self.kept:
            feet = Feet.model_validate(self.kept["feet"])
            norms = shop.norms_from(self.kept.get("norms"))
            then = tuple(Heard.model_validate(h) for h in self.kept.get("heard", ()))
            brief, age = Brief.model_validate(self.kept["brief"]), self.kept.get("age_years")
            return Case(brief, feet, self.keeps, norms=norms, heard=then, age_years=age)
        return self._case(complete(self.draft))

    def _case(self, brief: Brief) -> Case:
        return Case(brief, self.feet, self.keeps, norms=self.norms, heard=self.heard, age_years=self.age_years)

    @property
    def growing(self) -> bool:
        """Whether the feet still grow, as answered, as noted or by the date of birth, brief whole or not."""
        return "growing" in concerns_of(self.draft, self.feet, self.heard, self.age_years)

    @property
    def age_years(self) -> float | None:
        """How old the athlete was when the fitting was begun, where the date of birth is known."""
        born: date | None = self.row["born_on"]
        return None if born is None else max(round(years_old(born, self.day_of(self.row["opened_at"])), 1), 0.0)

    @cached_property
    def spec(self) -> Spec:
        """The spec; a settled fitting keeps the one it was settled by. Raises `BadInput` when the brief has gaps."""
        if self.kept:
            kept = self.kept["spec"]
            return _specs.of(("sold", self.sale["id"] if self.sale else None), lambda: Spec.model_validate(kept))
        return _spec(self.case, self.weights)

    @property
    def schools(self) -> list[SchoolSays]:
        """What each side not taken would have said."""
        if self.kept:
            return schools_say(self.case, self.spec)
        key = _key(self.case, self.weights)
        return list(_schools.of(key, lambda: tuple(schools_say(self.case, self.spec))))

    def what_if(self, sets: dict[str, Any]) -> tuple[Case, Spec]:
        """Case and spec with some answers tried on top."""
        case = self._case(complete(self.tried(sets)))
        return case, _spec(case, self.weights)

    @cached_property
    def foot(self) -> FootToFit:
        """The foot a shoe has to hold. Raises `BadInput` naming what is still to measure."""
        case = self.case
        foot = foot_to_fit(case.feet or self.feet, long_effort=case.brief.discipline in LONG_EFFORT, norms=case.norms)
        if self.gauge.stance == "standing":
            return foot
        return replace(foot, notes=(*foot.notes, SITTING_NOTE))

    def require_acknowledged(self) -> None:
        """Raise `Conflict` while a caution that must be acknowledged isn't."""
        done = self.parts["spec"].body.get("acknowledged", {})
        open_ = [c for c in self.spec.cautions if c.must_acknowledge and c.rule not in done]
        if open_:
            raise Conflict(f"To acknowledge first, at Spec: {open_[0].text}", code="caution-open")

    @property
    def today(self) -> date:
        """The shop's day."""
        return shop.today(shop.zone_of(self.now))

    def day_of(self, moment: datetime) -> date:
        """The shop's day of a moment."""
        return shop.day_of(moment, shop.zone_of(self.now))


def load(cx: Cx, fitting_id: UUID, *, lock: bool = False) -> Loaded:
    """Read a fitting. Raises `NotFound`. `lock` keeps others from changing it meanwhile."""
    row = cx.execute(
        "SELECT f.id, f.athlete_id, f.state, f.opened_at, f.touched_at, f.house_version, "
        "f.learned_version, f.learned_from, "
        "(SELECT coalesce(max(version), 0) FROM learned_version) AS learned_newest, "
        "now() AS asked_at, a.name, a.born_on, a.squad, "
        "a.note, a.version, a.unnamed_since, k.body AS keeps,"
        " k.format AS keeps_format, n.body AS norms, h.version AS now_version, "
        "h.body AS now, h.format AS now_format, "
        "(SELECT json_agg(json_build_object('part', part, 'version', version, 'body', body, 'format', format)) "
        "FROM fitting_part WHERE fitting_id = f.id) AS parts, "
        "(SELECT count(*) FROM foot_capture WHERE fitting_id = f.id AND removed_at IS NULL) AS captured, e.* "
        "FROM fitting f JOIN athlete a ON a.id = f.athlete_id "
        "LEFT JOIN house_version k ON k.shop_id = f.shop_id AND k.version = f.house_version "
        "LEFT JOIN shop_norm n ON n.shop_id = f.shop_id "
        "LEFT JOIN LATERAL (SELECT version, body, format FROM house_version v WHERE v.shop_id = f.shop_id "
        f"ORDER BY version DESC LIMIT 1) h ON true CROSS JOIN LATERAL ({heard.ELSEWHERE}) e WHERE f.id = %s"
        + (" FOR NO KEY UPDATE OF f" if lock else ""),
        [fitting_id],
    ).fetchone()
    if not row:
        raise NotFound("There is no such fitting here.")
    if row["state"] == "erased":
        raise NotFound(ERASED, code="erased")
    keeps = house_from(row["house_version"], row["keeps"], row["keeps_format"]) if row["keeps"] else HOUSE
    now = house_from(row["now_version"], row["now"], row["now_format"]) if row["now"] else HOUSE
    return Loaded(
        row=row,
        parts=fittings.as_parts(row["parts"] or []),
        captures=captures.of_fitting(cx, fitting_id) if row["captured"] else [],
        sale=sales.standing(cx, fitting_id) if row["state"] != "open" else None,
        keeps=keeps,
        now=now,
        norms=shop.norms_from(row["norms"]),
        heard=heard.heard_in(row, shop.zone_of(now)),
    )


def shelf_for(cx: Cx, on: Loaded, sport: Sport, *, here: bool = True) -> tuple[list[Shoe], Shelf]:
    """The shelf of a sport for these feet, near enough to come into question, with what was learned."""
    return shelf_of(cx, on, sport, on.spec, on.foot, here=here)


def shelf_of(
    cx: Cx, on: Loaded, sport: str, spec: Spec, foot: FootToFit, *, here: bool = True
) -> tuple[list[Shoe], Shelf]:
    """The same for another spec than the fitting's own."""
    shoes, lines = shelves.shelf(cx, sport, near(spec, foot), here=here)
    return learned.on_shelf(cx, on.row["learned_version"], shoes, lines, here=here)


def sizes_of(on: Loaded, rows: list[Row]) -> SizeRecommendOut:
    """Every size of one model and width on these feet; rows with their insides as the fitting knows them."""
    shoe = catalogue.shoe_of(rows[0])
    given = SizeRecommendIn(
        feet=on.case.feet or on.feet,
        target=fit_target(on.spec, *shoe.fits_as),
        upper=shoe.upper,
        build=shoe.build,
        reinforced=shoe.reinforced,
        gives=rows[0]["gives"],
        sizes=[
            ShoeSize(
                label=r["eu_label"],
                length_mm=r["length_mm"],
                ball_girth_mm=r["ball_girth_mm"],
                instep_girth_mm=r["instep_girth_mm"],
                heel_width_mm=r["heel_width_mm"],
                sigma_mm=tuple(r[n] for n in catalogue.SIGMAS),
                box=_box(r),
            )
            for r in rows
        ],
    )
    return recommend_for(on.foot, given)


def _box(row: Row) -> str:
    """What a box says, where it isn't the EU label a size is kept by alone."""
    plain = row["system"] == "eu" and row["label"] == row["eu_label"]
    return "" if plain else label_words(row["system"], row["label"])


@dataclass(frozen=True)
class Preview:
    """What settling on a pair would mean, or meant."""

    row: Row
    size: SizeFit
    tau_h: float
    gives_up: list[Point]
    in_a_word: str
    """What it gives up, in one sentence for the athlete."""
    plan: BreakInOut
    asked: Asked | None
    """What it is asked for, with tax; none where nobody knows a price, or it is sold already."""
    tax: TaxOn | None

    def kept(self) -> dict[str, Any]:
        """As a sale keeps it."""
        return {
            "size": self.size.model_dump(mode="json"),
            "tau_h": self.tau_h,
            "gives_up": [p.model_dump() for p in self.gives_up],
            "in_a_word": self.in_a_word,
            "plan": self.plan.model_dump(mode="json"),
            "tax": self.tax.model_dump(mode="json") if self.tax else None,
            "discount_minor": self.asked.discount.minor if self.asked else 0,
        }


def preview(cx: Cx, on: Loaded, line_id: UUID) -> Preview:
    """What settling on a pair would mean: its fit, what it gives up, the break-in plan.

    Of the pair a settled fitting was settled on: what it meant then, from the sale alone."""
    if on.sale and on.sale["stock_line_id"] == line_id:
        return _as_settled(on.sale)
    row = stock.line(cx, line_id, on.row["learned_version"])
    shoe = catalogue.shoe_of(row)
    size = sizes_of(on, [row]).sizes[0]
    brief = on.case.brief
    settle = read(SettlePart, on.parts["settle"].body)
    press = gives_most(size)
    plan = breakin(
        BreakInIn(
            upper=shoe.upper,
            build=shoe.build,
            zone=cast(PressedZone, press.zone),
            interference_mm=min(max(-press.new_mm, -60), 60),
            inner_mm=row[f"{press.zone}_mm"],
            reinforced=shoe.reinforced,
            start_on=settle.start_on or on.today,
            event_on=brief.event_on,
            weekdays=settle.weekdays,
            steam=facts_of(brief.sport).worn_in.steamed and on.case.school("softening") == "steam_leather",
            unfelt=on.case.unfelt,
            sport=brief.sport,
            ready_share=on.keeps["breakin.ready_share"],
        )
    )
    met = judge(in_size(shoe, row["eu_label"]), on.spec)
    wanted = asked_for(on, row)
    return Preview(
        row=row | {"currency": on.now.currency},
        size=size,
        tau_h=give_of(shoe.upper, shoe.build).tau_h,
        gives_up=met.costs[:4],
        in_a_word=in_a_word(met),
        plan=plan,
        asked=wanted,
        tax=wanted.tax if wanted else None,
    )


def asked_for(on: Loaded, row: Row) -> Asked | None:
    """What a pair is asked for in this fitting: its price here or the one said for it, lowered as Settle says."""
    settle = read(SettlePart, on.parts["settle"].body)
    said = settle.prices.get(str(row["id"]))
    if said and said.currency != on.now.currency:
        said = None
    lowered = settle.lowered.get(str(row["id"]), Lowered())
    size = (row["system"], row["label"], row["runs_ahead"])
    return asked(catalogue.price_of(row), said, lowered, on.keeps.tax, *size)


def sell(cx: Cx, who: Who, on: Loaded, line_id: UUID, sale_id: UUID, anyway: str = "") -> None:
    """Settle a loaded fitting on a pair, with everything it was computed from. Raises as `sales.settle` does."""
    found = preview(cx, on, line_id)
    kept = _snapshot(on, found)
    sales.settle(cx, who, on.id, line_id, sale_id, VERSION, kept, found.asked, anyway)


def _as_settled(sale: Row) -> Preview:
    settled = sale["snapshot"]["settled"]
    return Preview(
        row=sale["snapshot"]["pair"] | {"on_hand": 0, "currency": sale["currency"]},
        size=SizeFit.model_validate(settled["size"]),
        tau_h=settled["tau_h"],
        gives_up=[Point.model_validate(p) for p in settled["gives_up"]],
        in_a_word=settled.get("in_a_word", ""),
        plan=BreakInOut.model_validate(settled["plan"]),
        asked=None,
        tax=TaxOn.model_validate(settled["tax"]) if settled["tax"] else None,
    )


def _snapshot(on: Loaded, found: Preview) -> dict[str, Any]:
    """Everything a sale was computed from, so that an old sheet still explains itself."""
    return {
        "feet": on.feet.model_dump(mode="json"),
        "brief": on.case.brief.model_dump(mode="json"),
        "heard": [h.model_dump(mode="json") for h in on.heard],
        "age_years": on.age_years,
        "spec": on.spec.model_dump(mode="json"),
        "house": on.keeps.model_dump(mode="json"),
        "norms": {name: list(pair) for name, pair in on.norms.items()} if on.norms else None,
        "foot_notes": list(on.foot.notes),
        "settled": found.kept(),
        "note": read(SettlePart, on.parts["settle"].body).gives_up,
    }


def outcome(on: Loaded) -> FollowUpOut | None:
    """What was measured at the follow-up against what was predicted; none before there are numbers."""
    back = read(ReturnPart, on.parts["return"].body)
    seen = {z: v for z, m in zip(FIT_ZONES, MEASURES, strict=True) if (v := getattr(back, m)) is not None}
    if not on.kept or back.hours is None or not seen:
        return None
    settled = on.kept["settled"]
    names = ZonePrediction.model_fields
    return follow_up(
        FollowUpIn(
            predicted=[ZonePrediction(**{n: z[n] for n in names if n in z}) for z in settled["size"]["zones"]],
            tau_h=settled["tau_h"],
            hours=back.hours,
            sport=on.case.brief.sport,
            seen_mm=seen,
        )
    )
