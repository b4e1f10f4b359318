"""The athletes."""

from __future__ import annotations

import json
import re
from datetime import date, datetime
from typing import Annotated
from uuid import UUID

from fastapi import APIRouter, Query, Response

from ...core.care.unnamed import known_by
from ...core.feet.combine import FootFound
from ...core.feet.over_time import growing
from ...core.sizes import on_the_box
from ...store import athletes, captures, house, known, merging, orders, person, shop, stock, unnamed, years
from ...store.database import Cx, Deadlocked, Row
from ..desk import Anyone, Manager, Seller
from ..schemas import (
    AlikeOut,
    AthleteChange,
    AthleteIn,
    AthleteListed,
    AthleteNew,
    AthleteOut,
    AthletePage,
    ChangeOut,
    ConsentIn,
    ConsentOut,
    ErasedOut,
    FittingListed,
    FittingOut,
    KnownOut,
    KnownPage,
    MergedOut,
    MergeIn,
    PartIn,
    TakeUp,
    WalkIn,
)
from ..schemas_years import ChangesOut, EventThen, Measured, SaidOfFeet, VisitMeasured, YearsOut
from .fittings import begun

router = APIRouter(prefix="/api", tags=["athletes"])
ERASE_TURNS = 5
ID = re.compile(r"[0-9a-f]{8}(?:-[0-9a-f]{4}){3}-[0-9a-f]{12}")


@router.get("/athletes")
def find(desk: Anyone, text: Annotated[str, Query(max_length=100)] = "") -> list[AthleteListed]:
    """Athletes by name or squad."""
    with desk.open() as cx:
        return [AthleteListed(**r) for r in athletes.find(cx, text)]


@router.post("/athletes", status_code=201)
def add(desk: Anyone, given: AthleteNew) -> AthleteOut:
    """A new athlete."""
    with desk.open() as cx:
        return AthleteOut(**athletes.add(cx, desk.who, given.change_id, _values(given)))


@router.post("/walk-ins", status_code=201)
def walk_in(desk: Anyone, given: WalkIn) -> FittingOut:
    """A fitting of somebody without a name, known by how they look and when they came."""
    with desk.open() as cx:
        came = datetime.now(shop.zone_of(house.current(cx)))
        values = {"name": known_by(given.called, came), "born_on": None, "squad": "", "note": ""}
        athlete = athletes.add(cx, desk.who, given.change_id, values, unnamed=True)
        return begun(cx, desk.who, athlete["id"], given.fitting_id)


@router.get("/athletes/{athlete_id}")
def page(desk: Anyone, athlete_id: UUID) -> AthletePage:
    """An athlete with their fittings."""
    with desk.open() as cx:
        return _page(cx, athlete_id)


def _page(cx: Cx, athlete_id: UUID) -> AthletePage:
    row = merging.whole(cx, athlete_id)
    merged = [MergedOut(**m) for m in row.pop("merged")]
    athlete = AthleteOut(**row)
    agreed = known.consent(cx, athlete_id)
    there = known.before(cx, athlete_id)
    return AthletePage(
        athlete=athlete,
        forgotten_on=unnamed.when_forgotten(cx, athlete_id) if athlete.unnamed_since else None,
        fittings=[
            FittingListed(
                **{n: v for n, v in r.items() if n not in ("system", "label", "eu_label")},
                size=on_the_box(r) if r["pair"] else None,
            )
            for r in athletes.fittings(cx, athlete_id)
        ],
        consent=ConsentOut(**{n: agreed[n] for n in ConsentOut.model_fields}) if agreed else None,
        would_say=known.SAID,
        sisters=[r["name"] for r in orders.sisters(cx)],
        merged=merged,
        from_shop=there["shop"] if there else None,
    )


@router.get("/athletes/{athlete_id}/years")
def years_of(desk: Anyone, athlete_id: UUID) -> YearsOut:
    """Their feet from visit to visit, how they grow, what was said of them and what they trained for."""
    with desk.open() as cx:
        athletes.get(cx, athlete_id)
        zone = shop.zone_of(house.current(cx))
        seen, then = captures.visits(cx, athlete_id), years.said(cx, athlete_id)
        told = years.complaints(cx, then)
        born = captures.born_on(cx, athlete_id)

    def on(row: Row) -> date:
        return shop.day_of(row["opened_at"], zone)

    return YearsOut(
        today=shop.today(zone),
        visits=[
            VisitMeasured(fitting_id=row["id"], on=on(row), left=_measured(found.left), right=_measured(found.right),
                          outlines=outlines)
            for row, found, outlines in seen
        ],
        growth=growing(born, [(on(row), found) for row, found, _ in seen]),
        said=[
            SaidOfFeet(fitting_id=row["id"], on=on(row), **c.model_dump(exclude={"line_id"}))
            for row, all_said in told
            for c in all_said
        ],
        events=[EventThen(**e) for e in years.events(then)],
    )  # fmt: skip


def _measured(foot: FootFound) -> dict[str, Measured]:
    return {
        name: Measured(value=n.value, uncertainty=n.uncertainty, source=n.source) for name, n in foot.numbers.items()
    }


@router.get("/athletes/{athlete_id}/changes")
def changes(
    desk: Anyone, athlete_id: UUID, before: Annotated[int, Query(ge=1, le=athletes.NEWEST)] = athletes.NEWEST
) -> ChangesOut:
    """What was changed of an athlete's record and by whom, newest first, so many at once: `before` for older ones."""
    with desk.open() as cx:
        athletes.get(cx, athlete_id)
        rows = athletes.history(cx, athlete_id, before)
        named = {UUID(i) for r in rows for i in ID.findall(json.dumps([r["before"], r["after"]]))}
        return ChangesOut(
            changes=[ChangeOut(**r) for r in rows],
            pairs={str(i): name for i, name in stock.called(cx, list(named)).items()},
            before=rows[-1]["id"] if len(rows) == athletes.HISTORY else None,
        )


@router.put("/athletes/{athlete_id}/consent")
def consent(desk: Seller, athlete_id: UUID, given: ConsentIn) -> AthletePage:
    """The athlete agrees to be known in the chain's other shops, or takes it back."""
    with desk.open() as cx:
        if given.agrees:
            known.agree(cx, desk.who, athlete_id, given.id)
        else:
            known.take_back(cx, desk.who, athlete_id)
        return _page(cx, athlete_id)


@router.get("/known")
def of_sister_shops(desk: Anyone, text: Annotated[str, Query(max_length=100)] = "") -> list[KnownOut]:
    """Athletes of sister shops who agreed to be known here, by three letters of their name or more."""
    with desk.open() as cx:
        return [KnownOut(**r) for r in known.find(cx, text)]


@router.get("/known/{known_id}")
def of_a_sister_shop(desk: Anyone, known_id: UUID) -> KnownPage:
    """What a sister shop lets be known of one of them."""
    with desk.open() as cx:
        row = known.elsewhere(cx, known_id)
        return KnownPage(**{n: row[n] for n in KnownPage.model_fields})


@router.post("/known/{known_id}/athlete", status_code=201)
def take_up(desk: Anyone, known_id: UUID, given: TakeUp) -> AthleteOut:
    """They have come here: a record of this shop's own, whose first fitting begins from what the other measured."""
    with desk.open() as cx:
        return AthleteOut(**known.take_up(cx, desk.who, known_id, given.change_id))


@router.put("/athletes/{athlete_id}")
def change(desk: Anyone, athlete_id: UUID, given: AthleteChange) -> AthleteOut:
    """Change an athlete's own data."""
    with desk.open() as cx:
        row = athletes.change(cx, desk.who, athlete_id, given.version, given.change_id, _values(given),
                              unnamed=given.unnamed)  # fmt: skip
        return AthleteOut(**row)


@router.get("/athletes/{athlete_id}/alike")
def alike(desk: Manager, athlete_id: UUID, text: Annotated[str, Query(max_length=100)] = "") -> list[AlikeOut]:
    """Records that may be of the same person: by a part of their name, or like this one's where nothing is asked."""
    with desk.open() as cx:
        athletes.get(cx, athlete_id)
        return [AlikeOut(**r) for r in merging.alike(cx, athlete_id, text)]


@router.post("/athletes/{athlete_id}/merged")
def merge(desk: Manager, athlete_id: UUID, given: MergeIn) -> AthletePage:
    """Another record is of the same person: everything of it goes to this one, and can be parted again."""
    with desk.open() as cx:
        merging.merge(cx, athlete_id, given.other_id, given.id)
        return _page(cx, athlete_id)


@router.post("/athletes/{athlete_id}/merged/{merge_id}/parted")
def part(desk: Manager, athlete_id: UUID, merge_id: UUID, given: PartIn) -> AthletePage:
    """They are two people after all: what came from the other record goes back to it."""
    with desk.open() as cx:
        merging.part(cx, athlete_id, merge_id, given.change_id)
        return _page(cx, athlete_id)


@router.get("/athletes/{athlete_id}/data.json")
def data(desk: Manager, athlete_id: UUID) -> Response:
    """All that is kept of an athlete, to be given to them."""
    with desk.open() as cx:
        everything = person.everything(cx, athlete_id)
    return Response(
        json.dumps(everything, default=str, ensure_ascii=False, indent=1),
        media_type="application/json",
        headers={"content-disposition": 'attachment; filename="kalon-athlete.json"'},
    )


@router.post("/athletes/{athlete_id}/erase")
def erase(desk: Manager, athlete_id: UUID) -> ErasedOut:
    """Take an athlete's data out of the records, at their request. That it was done stays."""
    for turn in range(ERASE_TURNS):
        try:
            with desk.open() as cx:
                person.erase(cx, athlete_id)
            break
        except Deadlocked:  # names are taken out of what others may be writing in
            if turn == ERASE_TURNS - 1:
                raise
    return ErasedOut()


def _values(given: AthleteIn) -> dict[str, object]:
    return {f: getattr(given, f) for f in athletes.FIELDS}
