"""Plans of pairs: what an athlete or a squad does, what they own and what is to be had, put before `plan_of_pairs`."""

from __future__ import annotations

from dataclasses import dataclass, replace
from uuid import UUID

import numpy as np
from psycopg.types.json import Jsonb
from pydantic import Field

from ..core.care.cost import HOURS_A_SESSION, use_of
from ..core.contract import Contract
from ..core.errors import BadInput, Conflict, KalonError, NotFound, read
from ..core.fit.foot import MEASURES, FootToFit
from ..core.formats import brought_up, newest
from ..core.house import tax_on
from ..core.match.plan import PlanIn, PlanNeed, PlanOffer, PlanOut, PlanOwned, plan_of_pairs
from ..core.match.rank import rank
from ..core.match.shelf import GIVES_AS, Shelf, Shoe
from ..core.match.substitutes import ENOUGH_KNOWN, LEAST_SOLE, as_for
from ..core.rules.brief import Brief, BriefDraft, complete
from ..core.rules.concerns import Heard
from ..core.rules.engine import Spec
from ..core.rules.spec import spec_for
from ..core.rules.words import SPORTS, Sport
from ..core.sizes import on_the_box
from ..core.sports.every import facts_of
from . import athletes, bench, catalogue, pairs, squads, stock
from .bench import Loaded
from .catalogue import SIGMAS, price_of
from .database import Cx, Row, Who
from .heard import said_there
from .ids import new_id

OFFERED = 14
"""So many pairs of the shelf are offered for each use: the best of it. House default."""
AS_BOUGHT, BESIDE = 0.8, 0.5
"""How well a pair nobody knows the make of serves what it was bought for, and another use of that sport. House
defaults."""
MOST_ATHLETES = 12
"""A squad's plan looks at so many of it at once; more would be no plan but a list."""


MOST_USES, MOST_PAIRS, MOST_OFFERS = 60, 100, 600
"""As many as the choice is made among."""


class MoreNeed(Contract):
    """A use nobody has answered a brief for yet: the answers that differ from the athlete's own brief."""

    athlete_id: UUID
    sport: Sport
    discipline: str = Field(max_length=60)
    surface: str | None = None
    floor: str | None = None
    pedal: str | None = None
    role: str | None = None
    wicket: str | None = None


class PlanBody(Contract):
    """What somebody set in a plan: money, shares of time by use, uses added, pairs tried out or left out."""

    budget: float = Field(300, ge=0, le=100_000)
    most_pairs: int | None = Field(None, ge=0, le=60)
    shares: dict[str, float] = Field({}, max_length=100)
    more: list[MoreNeed] = Field([], max_length=20)
    drop: list[UUID] = Field([], max_length=60)
    bought: list[UUID] = Field([], max_length=60)


@dataclass(frozen=True)
class Use:
    """One use of one athlete: its need, spec and foot."""

    need: PlanNeed
    spec: Spec
    foot: FootToFit
    on: Loaded


@dataclass(frozen=True)
class Planned:
    """A plan with what it stands on: uses with their shares, pairs owned, stock lines offered."""

    out: PlanOut
    needs: list[PlanNeed]
    owned: list[Row]
    left: dict[UUID, float]
    offered: dict[str, Row]
    waiting: list[tuple[str, str]]
    """Athletes whose brief or feet have gaps, with the sentence that says which."""


def get(cx: Cx, athlete_id: UUID | None, squad: str) -> tuple[int, PlanBody]:
    """A plan's version and body; version 0 where none was kept yet."""
    where, value = ("athlete_id = %s", athlete_id) if athlete_id else ("squad = %s", squad)
    row = cx.execute(f"SELECT version, body, format FROM pair_plan WHERE {where}", [value]).fetchone()
    if not row:
        return 0, PlanBody()
    return row["version"], read(PlanBody, brought_up("plan", row["body"], row["format"]))


def save(cx: Cx, who: Who, athlete_id: UUID | None, squad: str, version: int, body: PlanBody) -> int:
    """Keep a plan as read at `version`; the same again is no change. Raises `Conflict` when somebody was first."""
    if athlete_id:
        athletes.get(cx, athlete_id)
    now, kept = get(cx, athlete_id, squad)
    if kept == body and now:
        return now
    if now != version:
        raise Conflict("Somebody changed this plan meanwhile. Look again before changing it.", code="changed-elsewhere")
    values = [Jsonb(body.model_dump(mode="json")), newest("plan"), who.staff_id]
    if now:
        where, value = ("athlete_id = %s", athlete_id) if athlete_id else ("squad = %s", squad)
        done = cx.execute(
            f"UPDATE pair_plan SET body = %s, format = %s, changed_by = %s, changed_at = now(), version = version + 1 "
            f"WHERE {where} AND version = %s",
            [*values, value, version],
        ).rowcount
        if not done:
            raise Conflict("Somebody changed this plan meanwhile. Look again.", code="changed-elsewhere")
    else:
        cx.execute(
            "INSERT INTO pair_plan (id, shop_id, athlete_id, squad, body, format, changed_by) "
            "VALUES (%s, %s, %s, %s, %s, %s, %s)",
            [new_id(), who.shop_id, athlete_id, "" if athlete_id else squad, *values],
        )
    return now + 1


# --- what they do


NEWEST = """
    SELECT DISTINCT ON (b.body ->> 'sport') f.id FROM (
        SELECT id, opened_at FROM fitting WHERE athlete_id = %s AND state <> 'erased'
        ORDER BY opened_at DESC, id DESC LIMIT 40) f
    JOIN fitting_part b ON b.fitting_id = f.id AND b.part = 'brief'
    WHERE b.body ? 'sport' ORDER BY b.body ->> 'sport', f.opened_at DESC, f.id DESC
"""
"""The newest fitting of an athlete in each sport."""
APART = ("surface", "floor", "pedal", "role", "wicket")


def _need_id(athlete: UUID, draft: Brief) -> str:
    told = [str(v) for n in APART if (v := getattr(draft, n))]
    return ":".join((str(athlete), str(draft.sport), str(draft.discipline), *told))[:120]


def _name(draft: Brief) -> str:
    words = SPORTS[draft.sport]
    text = next((d.text for d in words.disciplines if d.value == draft.discipline), str(draft.discipline))
    options = {o.value: o.text for a in words.asks for o in a.options}
    told = [options.get(str(v), str(v)).lower() for n in APART if (v := getattr(draft, n))]
    return f"{words.name}, {text}{f' ({told[0]})' if told else ''}"


def _own(on: Loaded) -> Heard:
    """What this fitting itself says, for a use of another sport that it doesn't speak of."""
    return said_there(
        on.parts["brief"].body, on.parts["feet"].body, f"at the fitting of {on.day_of(on.row['opened_at']):%-d %B %Y}"
    )


def _uses(cx: Cx, athlete: Row, body: PlanBody, whose: str) -> tuple[list[Use], str]:
    """What one athlete does, from the newest brief of each sport and what the plan adds; or what is still missing."""
    found: list[tuple[float, Loaded, Brief]] = []
    gap = ""
    ids = [r["id"] for r in cx.execute(NEWEST, [athlete["id"]]).fetchall()]
    loaded = [bench.load(cx, i) for i in ids]
    for on in loaded:
        try:
            brief = complete(on.draft)
        except KalonError as error:
            gap = str(error)
            continue
        found += [(share * max(brief.sessions_per_week, 0.5), on, plain) for share, plain in brief.each()]
    for more in body.more:
        if more.athlete_id != athlete["id"]:
            continue
        base = next((o for o in loaded if o.draft.sport == more.sport), loaded[0] if loaded else None)
        if base is None:
            raise BadInput(f"{athlete['name']} has no fitting yet: begin one first, so that the feet are known.")
        own = base.draft.model_dump() if base.draft.sport == more.sport else {"body_kg": base.draft.body_kg}
        told = {n: getattr(more, n) for n in APART if getattr(more, n)}
        answers = own | {"sport": more.sport, "discipline": more.discipline, "also": []} | told
        found.append((1.0, base, complete(read(BriefDraft, answers))))
    uses: list[Use] = []
    for hours, on, draft in found:
        try:
            spec = spec_for(draft, on.feet, on.keeps, {}, on.norms, (*on.heard, _own(on)))
            foot = on.foot
        except KalonError as error:
            gap = str(error)
            continue
        use, _ = use_of(draft.sport, draft.discipline, draft.surface)
        key = _need_id(athlete["id"], draft)
        if any(u.need.id == key for u in uses):
            continue
        need = PlanNeed(
            id=key, name=_name(draft), whose=whose, sport=draft.sport,
            discipline=draft.discipline, use=use, share=0.0,
            hours_per_week=max(hours * HOURS_A_SESSION, 0.2),
        )  # fmt: skip
        uses.append(Use(need, spec, foot, on))
    return uses, "" if uses else gap or "No brief is answered yet."


def _shared(uses: list[Use], body: PlanBody) -> list[Use]:
    """The uses with their shares of the time: as said, or by how often each is done; together 1."""
    told = [body.shares.get(u.need.id) for u in uses]
    weight = [u.need.hours_per_week if t is None else max(t, 0.0) for u, t in zip(uses, told, strict=True)]
    if any(t is not None for t in told):
        left = max(1 - sum(t for t in told if t is not None), 0.0)
        usual = sum(u.need.hours_per_week for u, t in zip(uses, told, strict=True) if t is None)
        weight = [
            t if t is not None else left * u.need.hours_per_week / usual if usual else 0.0
            for u, t in zip(uses, told, strict=True)
        ]
    total = sum(weight) or 1.0
    return [replace(u, need=u.need.model_copy(update={"share": w / total})) for u, w in zip(uses, weight, strict=True)]


# --- how well a pair serves


def scores_of(use: Use, shoes: list[Shoe], rows: list[Row]) -> dict[str, float]:
    """How well some pairs, in the sizes they are, serve a use: 0…1 by the pair's id, none that is ruled out."""
    if not rows:
        return {}
    shelf = Shelf(
        shoe=np.arange(len(rows)),
        label=np.array([float(r["eu_label"]) for r in rows]),
        inner=np.array([[float(r[n]) for n in MEASURES] for r in rows]),
        line_ids=[str(r["id"]) for r in rows],
        sigma=np.array([[float(r[n]) for n in SIGMAS] for r in rows]),
    )
    sport = use.need.sport
    given = [as_for(s, sport) if s.sport != sport else s for s in shoes]
    kind = facts_of(sport).sole_kind
    good = {c.value for c in use.spec.choices.get(kind, []) if c.score >= LEAST_SOLE}
    found = rank(given, shelf, use.spec, use.foot, use.on.keeps["rank.fit_power"])
    of = {s.id: s for s in given}
    return {
        p.line_id: p.score
        for p in found.places
        if of[p.shoe_id].sport == sport
        or (not p.asks and p.known >= ENOUGH_KNOWN and of[p.shoe_id].choices.get(kind) in good)
    }


def _each(rows: list[Row]) -> list[Shoe]:
    return [replace(catalogue.shoe_of(r), id=str(r["id"])) for r in rows]


def _offers(cx: Cx, uses: list[Use]) -> dict[str, Row]:
    """Stock lines worth offering: the best of the shelf for each use."""
    best: set[str] = set()
    shelves: dict[tuple[str, int], tuple[list[Shoe], Shelf]] = {}
    for use in uses:
        key = (use.need.sport, id(use.on))
        if key not in shelves:
            on = use.on
            shelves[key] = bench.shelf_of(cx, on, use.need.sport, use.spec, use.foot)
        shoes, shelf = shelves[key]
        best |= {p.line_id for p in rank(shoes, shelf, use.spec, use.foot, most=OFFERED).places}
    rows = stock.lines(cx, sorted(best), uses[0].on.id) if best else {}
    return {k: r for k, r in rows.items() if r["price_minor"] is not None}


def _owned(cx: Cx, people: list[Row], uses: list[Use]) -> tuple[list[Row], dict[UUID, float], list[PlanOwned]]:
    rows = [r for p in people for r in pairs.of_athlete(cx, p["id"]) if r["ended_on"] is None]
    ids = [r["id"] for r in rows]
    logged, looked, known = pairs.worn(cx, ids), pairs.seen(cx, ids), pairs.lives(cx)
    today = uses[0].on.today if uses else pairs.today_of(cx)
    left = {r["id"]: pairs.wear_of(r, logged[r["id"]], looked[r["id"]], known, today).left_h.mid for r in rows}
    sold = {r["id"]: r["pair"] for r in cx.execute("SELECT id, pair FROM sale WHERE id = ANY(%s)", [ids]).fetchall()}
    out = []
    for row in rows:
        scores: dict[str, float] = {}
        for use in (u for u in uses if u.on.row["athlete_id"] == row["athlete_id"]):
            made = sold.get(row["id"])
            if made and all(n in made for n in (*MEASURES, *SIGMAS, "properties", "choices")):
                as_line = {**made, "id": row["id"], "upper": made["upper"] or GIVES_AS}
                found = scores_of(use, _each([as_line]), [as_line])
                scores[use.need.id] = found.get(str(row["id"]), 0.0)
            elif row["sport"] == use.need.sport:
                same = row["discipline"] == use.need.discipline
                scores[use.need.id] = AS_BOUGHT if same else BESIDE
        name = f"{row['maker']} {row['name']}".strip()
        last = _last(sold.get(row["id"], {}))
        out.append(PlanOwned(id=str(row["id"]), name=name, scores=scores, left_h=left[row["id"]], last=last))
    return rows, left, out


def planned(cx: Cx, people: list[Row], body: PlanBody, *, curve: bool) -> Planned:
    """Work a plan out for some athletes. Raises `BadInput` where nothing is known of any of them."""
    several = len(people) > 1
    uses: list[Use] = []
    waiting: list[tuple[str, str]] = []
    for person in people[:MOST_ATHLETES]:
        found, gap = _uses(cx, person, body, person["name"].split(" ")[0] if several else "")
        uses += found
        if gap:
            waiting.append((person["name"], gap))
    for person in people[MOST_ATHLETES:]:
        waiting.append((person["name"], f"A plan is of {MOST_ATHLETES} at once, the first by name."))
    if len(uses) > MOST_USES:
        raise BadInput(f"That are {len(uses)} uses; a plan weighs {MOST_USES} at most. Plan a part of the squad.")
    if not uses:
        raise BadInput(waiting[0][1] if waiting else "There is nobody here to plan for.", code="nothing-to-plan")
    uses = _shared(uses, body)
    offered = _offers(cx, uses)
    rows = list(offered.values())
    scores: dict[str, dict[str, float]] = {}
    for use in uses:
        for line, score in scores_of(use, _each(rows), rows).items():
            scores.setdefault(line, {})[use.need.id] = score
    owned, left, owned_in = _owned(cx, people[:MOST_ATHLETES], uses)
    now = uses[0].on.now
    offers = []
    for key, row in offered.items():
        price = price_of(row)
        assert price  # what nobody has priced isn't offered
        tax = tax_on(now.tax, price, row["system"], row["label"], row["runs_ahead"])
        total = (tax.total if tax else price).whole
        name = f"{row['maker']} {row['name']} {on_the_box(row)}"
        # A pair serves one athlete: of a squad, whoever it serves best for their time.
        by_whose: dict[str, dict[str, float]] = {}
        for need, score in scores.get(key, {}).items():
            by_whose.setdefault(need.split(":")[0], {})[need] = score
        for whose, of in by_whose.items():
            offer = key if not several else f"{key}/{whose}"
            offers.append(PlanOffer(id=offer, name=name, price=total, scores=of, last=_last(row)))
    plan = PlanIn(
        needs=[u.need for u in uses], owned=owned_in[:MOST_PAIRS], offers=offers[:MOST_OFFERS], budget=body.budget,
        most_pairs=body.most_pairs, drop=[str(d) for d in body.drop], curve=curve,
        bought=[o.id for o in offers if o.id.split("/")[0] in {str(b) for b in body.bought}],
    )  # fmt: skip
    return Planned(plan_of_pairs(plan), plan.needs, owned, left, offered, waiting)


def _last(row: Row) -> str:
    return f"{row['maker']}: {row['last']}" if row.get("last") else ""


def people_of(cx: Cx, athlete_id: UUID | None, squad: str) -> list[Row]:
    """Whom a plan is of. Raises `NotFound`."""
    if athlete_id:
        return [athletes.get(cx, athlete_id)]
    found = squads.of(cx, squad)
    if not found:
        raise NotFound("There is no such squad here.")
    return found
