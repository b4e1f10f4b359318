"""The house, its people, and the words the interface asks with."""

from __future__ import annotations

from uuid import UUID

import structlog
from fastapi import APIRouter

from ...core.fit.size import HOPES, ZONE_NAMES
from ...core.fit.trial import PINCH_NAMES, TESTS
from ...core.rules.changes import CHOICE_NAMES, ROOM_NAMES, VALUE_WORDS
from ...core.rules.scales import CHOICES, PROPERTIES, ROOM_SCALE_MM, scale
from ...core.rules.sides import sides_of
from ...core.rules.words import SPORTS, Option
from ...core.shoes.anatomy import FEATURES, READ
from ...core.shoes.hands import HANDS
from ...core.shoes.meant import of_sport
from ...core.sizes import foot_by_label
from ...core.systems import SIZE_SYSTEMS, System
from ...store import house, staff
from ..desk import Anyone, Manager
from ..schemas import (
    AskOut,
    Failure,
    FeatureOut,
    FootByLabel,
    HandTestOut,
    HouseIn,
    HouseOut,
    InvitationOut,
    OptionOut,
    PersonChange,
    PersonIn,
    PersonOut,
    ScaleOut,
    SchoolOut,
    SchoolSides,
    SideScale,
    SportOut,
    TestOut,
    Vocabulary,
)
from ..view import house_out, house_sides

router = APIRouter(prefix="/api", tags=["rooms"])
_HANDS = [
    HandTestOut.model_validate(
        {
            "slug": h.brief,
            "name": h.name,
            "how": h.how,
            "findings": [{"slug": f.slug, "text": f.text} for f in h.feels],
        }
    )
    for h in HANDS
    if h.brief
]
log = structlog.get_logger()


def scale_out(name: str, sport: str) -> ScaleOut:
    """A property's scale in a sport."""
    drawn = scale(name, sport)
    return ScaleOut(name=drawn.name, unit=drawn.unit, low=drawn.low, high=drawn.high, read=READ[name])


def _options(options: tuple[Option, ...]) -> list[OptionOut]:
    return [OptionOut(value=o.value, text=o.text, hint=o.hint, picture=o.picture) for o in options]


@router.get("/vocabulary")
def vocabulary(desk: Anyone) -> Vocabulary:
    """What each sport is asked about, its tests, and the scales properties are drawn on."""
    with desk.open() as cx:
        sides = house_sides(house.current(cx))
    sports = [
        SportOut(
            slug=slug,
            name=v.name,
            disciplines=_options(v.disciplines),
            purposes=[OptionOut(value=p, text=of.text, hint="") for p, of in of_sport(slug).items()],
            asks=[
                AskOut(
                    field=a.field,
                    kind=a.kind,
                    text=a.text,
                    options=_options(a.options),
                    unit=a.unit,
                    needed=a.needed,
                    disciplines=list(a.disciplines),
                    drawn=a.drawn,
                    why=a.why,
                    short=a.short,
                    screen=a.screen,
                )
                for a in v.asks
            ],
            drawn=v.drawn,
            needs=list(v.needs),
            scales={k: scale_out(k, slug) for k in PROPERTIES},
            schools=[
                SchoolOut(
                    slug=s.slug,
                    text=s.text,
                    options=_options(s.options),
                    side=sides[s.slug],
                    spec=s.spec,
                )
                for s in v.schools
            ],
            tests=[
                TestOut(slug=t.slug, name=t.name, how=t.how, passes=t.passes, spared=t.spared, seconds=t.seconds)
                for t in TESTS[slug]
            ],
            hands=_HANDS,
        )
        for slug, v in SPORTS.items()
    ]
    return Vocabulary(
        sports=sports,
        values={**VALUE_WORDS, **HOPES},
        rooms=ROOM_NAMES,
        choices=CHOICE_NAMES,
        kinds={n: list(v) for n, v in CHOICES.items()},
        zones={slug: name.capitalize() for slug, name in ZONE_NAMES.items()},
        pinches=dict(PINCH_NAMES),
        room_scale=ScaleOut(name="Room", unit="mm", low=ROOM_SCALE_MM[0], high=ROOM_SCALE_MM[1]),
        features={slug: FeatureOut(name=f.name, does=f.does, seen=f.seen, part=f.part) for slug, f in FEATURES.items()},
        foot_by_label={s: _foot_by_label(s) for s, of in SIZE_SYSTEMS.items() if of.typed},
    )


def _foot_by_label(system: System) -> FootByLabel:
    per_size, at_zero = foot_by_label(system)
    return FootByLabel(mm_per_size=per_size, mm_at_zero=at_zero)


@router.get("/house")
def house_now(desk: Anyone) -> HouseOut:
    """What the shop has set, every number it may set, and who set it when."""
    with desk.open() as cx:
        return house_out(cx)


@router.get("/house/sides")
def sides(desk: Anyone) -> list[SchoolSides]:
    """What the sides of each school come to, drawn on the first brief they part on."""
    del desk
    found: dict[str, SchoolSides] = {}
    for sport, words in SPORTS.items():
        for school in words.schools:
            part = None if school.slug in found else sides_of(sport, school.slug)
            if part:
                found[school.slug] = SchoolSides(
                    school=school.slug,
                    sport=words.name,
                    brief=part.brief,
                    drawn=[
                        SideScale(name=d.name, unit=d.unit, low=d.low, high=d.high, bands=d.bands) for d in part.drawn
                    ],
                    leads=part.leads,
                )
    return list(found.values())


@router.put("/house")
def set_house(desk: Manager, given: HouseIn) -> HouseOut:
    """Set the next version of the house; open and settled fittings keep theirs."""
    with desk.open() as cx:
        house.save(cx, desk.who, given.base_version, given.house)
        return house_out(cx)


@router.get("/people")
def people(desk: Manager) -> list[PersonOut]:
    """Everyone of the shop."""
    with desk.open() as cx:
        return [PersonOut(**r) for r in staff.people(cx)]


@router.post("/people", status_code=201)
def add_person(desk: Manager, given: PersonIn) -> list[PersonOut]:
    """A new person, who sets their own password by an invitation."""
    with desk.open() as cx:
        staff.newcomer(cx, desk.who, given.change_id, given.login, given.name, given.role)
        return [PersonOut(**r) for r in staff.people(cx)]


@router.patch("/people/{staff_id}")
def change_person(desk: Manager, staff_id: UUID, given: PersonChange) -> list[PersonOut]:
    """Shut somebody out or let them in, another role; all their sessions end at once."""
    with desk.open() as cx:
        everyone = staff.change_person(cx, desk.who, given.change_id, staff_id, active=given.active, role=given.role)
    return [PersonOut(**r) for r in everyone]


@router.post("/people/{staff_id}/invitation", status_code=201)
def invite(desk: Manager, staff_id: UUID) -> InvitationOut:
    """A link by which somebody sets their own password, once; those made before end."""
    with desk.open() as cx:
        token, row = staff.invite(cx, staff_id)
    return InvitationOut(path=f"/invited/{token}", until=row["until"])


@router.post("/failures", status_code=204)
def failed(desk: Anyone, given: Failure) -> None:  # noqa: ARG001
    """Note in the log that the interface failed somewhere."""
    log.error("interface failed", kind=given.kind, where=given.where)
