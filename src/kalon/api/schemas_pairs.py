"""What goes over the wire after the sale: pairs owned, plans of pairs, the day, squads, what a link shows then."""

from __future__ import annotations

from datetime import date, datetime
from typing import Literal
from uuid import UUID

from pydantic import Field

from ..core.care.again import AgainOut
from ..core.care.breakin import BreakInOut
from ..core.care.day import DayKind, Drawn
from ..core.care.lives import Learnt
from ..core.care.seen import SeenPart, WearSeenOut
from ..core.care.wear import Life, WearOut
from ..core.contract import Day
from ..core.fit.size import Hope
from ..core.fit.stretch import Upper
from ..core.house import DateOrder
from ..core.match.plan import PlanNeed, PlanOut
from ..core.rules.words import Sport
from ..core.sheets.people import PersonLine
from ..store.plans import PlanBody
from .schemas import MOST_VERSIONS, Wire, Written

Surface = Literal[
    "soft_natural", "firm_natural", "hard_natural", "artificial_grass", "carpet_turf", "indoor_hall",
]  # fmt: skip


class PairValues(Wire):
    """What somebody says of a pair an athlete owns. What a sale says of its pair stays as it is."""

    maker: str = Field("", max_length=80)
    name: Written = Field(max_length=120)
    size: str = Field("", max_length=40)
    sport: Sport
    discipline: str = Field(max_length=60)
    surface: Surface | None = None
    upper: Upper | None = None
    bought_on: Day
    begun_on: Day
    price_minor: int | None = Field(None, ge=0, le=100_000_000)
    hours_per_week: float = Field(3, ge=0, le=168)
    role: Literal["main", "training"] = "main"
    event_on: Day | None = None
    note: str = Field("", max_length=300)


class PairIn(Wire):
    """A pair as it is to be kept, as read at a version (0 for a new one), under a change id of its own."""

    change_id: UUID
    version: int = Field(ge=0, le=MOST_VERSIONS)
    pair: PairValues


class WornIn(Wire):
    """One wear."""

    id: UUID
    on: Day
    minutes: int = Field(ge=1, le=1440)
    surface: Surface | None = None


class SeenIn(Wire):
    """What was seen of a pair, part by part."""

    id: UUID
    on: Day
    seen: dict[SeenPart, str] = Field(min_length=1)


class EndIn(Wire):
    """Why a pair is put away, and when; without a reason it is taken up again."""

    change_id: UUID
    why: Literal["worn_out", "given_away", "lost"] | None
    on: Day | None = None


class WornOut(Wire):
    """One wear logged."""

    id: UUID
    on_day: date
    minutes: int
    surface: str | None
    by: str | None
    by_link: bool


class SeenOut(Wire):
    """What was seen of a pair on a day, and the share of it worn away by then."""

    id: UUID
    on_day: date
    hours: float
    seen: dict[SeenPart, str]
    worn_share: float | None
    sigma: float | None
    by: str | None


class OwnedPair(Wire):
    """A pair an athlete owns, with what is left of it."""

    id: UUID
    athlete_id: UUID
    athlete: str
    fitting_id: UUID | None
    sold_here: bool
    told_on: date | None
    """The day of the follow-up at which its hours were told."""
    maker: str
    name: str
    size: str
    sport: Sport
    discipline: str
    surface: str | None
    upper: str | None
    bought_on: date
    begun_on: date
    price_minor: int | None
    currency: str
    hours_per_week: float
    role: Literal["main", "training"]
    ready_on: date | None
    event_on: date | None
    ended_on: date | None
    ended_why: str | None
    note: str
    version: int
    logged_h: float
    reckoned_h: float
    wear: WearOut
    look_on: date | None
    last_seen: date | None
    says: list[str]
    """What to do about it, the weightiest first."""


class FindingOut(Wire):
    """What may be found of a part."""

    value: str
    text: str


class LookedOut(Wire):
    """A part one looks at, how, and what may be found."""

    part: SeenPart
    name: str
    how: str
    replaced: bool
    findings: list[FindingOut]


class PairPage(Wire):
    """A pair with what was logged and seen of it, and the life it was given by the table."""

    pair: OwnedPair
    today: date
    usual: Life
    """Its kind's life, by the table and what was learned, before anybody looked at this pair."""
    worn: list[WornOut]
    seen: list[SeenOut]
    looked: list[LookedOut]
    shape: dict[str, float]
    """Properties to draw it by, as far as they are known."""


class SeenTried(Wire):
    """Findings that are not kept yet."""

    seen: dict[SeenPart, str] = Field(min_length=1)


class SeenSays(Wire):
    """What findings would say: the share worn, and what would be left of the pair."""

    says: WearSeenOut
    wear: WearOut


class NearestOut(Wire):
    """A pair on hand like one that was sold, and what differs."""

    line_id: UUID
    name: str
    label: float
    hope: Hope
    like: float
    differs: list[str]


class AgainPage(Wire):
    """Whether the same can be sold again, the line to pull, and what is nearest to it."""

    again: AgainOut
    line_id: UUID | None
    nearest: list[NearestOut]


class LivesPage(Wire):
    """What the chain has learned of how long pairs last."""

    version: int
    seen: int
    learned: dict[str, Learnt]
    says: list[str]


class PlanIn(Wire):
    """A plan as it is to be kept, as read at a version."""

    version: int = Field(ge=0, le=MOST_VERSIONS)
    body: PlanBody


class PlanTry(Wire):
    """A plan tried out: nothing is kept."""

    body: PlanBody
    curve: bool = False


class PlanPair(Wire):
    """A pair owned, as a plan counts it."""

    id: UUID
    athlete: str
    name: str
    size: str
    left_h: float
    word: str


class PlanWaits(Wire):
    """Who can't be planned for yet, and why."""

    athlete: str
    why: str


class PlanPage(Wire):
    """A plan of pairs: what was set, what it comes to, and what it stands on."""

    name: str
    version: int
    body: PlanBody
    currency: str
    needs: list[PlanNeed]
    owned: list[PlanPair]
    out: PlanOut
    waiting: list[PlanWaits]


class DayItem(Wire):
    """One matter of the day: what it is, when, whose, in a sentence, and where it is done."""

    kind: DayKind
    key: str
    on_day: date
    until: date | None
    """The day it was put off to."""
    mark_id: UUID | None
    staff: str | None
    mine: bool
    athlete_id: UUID | None
    name: str | None
    event_on: date | None
    """The event an open fitting is for, or a pair has to be ready by."""
    text: str
    place: str
    when: str
    """Its day, or the one it was put off to, as one says it today."""
    late: bool
    drawn: Drawn


class BeginItem(Wire):
    """What a new shop has still to do, and where; no place for what is done at the machine."""

    key: str
    text: str
    place: str


class TodayOut(Wire):
    """The bench's day."""

    today: date
    kinds: dict[DayKind, str]
    items: list[DayItem]
    done: list[DayItem]
    """What was marked done today: it can be taken back."""
    begin: list[BeginItem]
    """What a new shop has still to do; for its managers."""


class DayMark(Wire):
    """A matter is done, or put off until a day."""

    id: UUID
    key: str = Field(min_length=3, max_length=120)
    until: Day | None = None


class CalendarOut(Wire):
    """A calendar given out, and by whom."""

    id: UUID
    whole: bool
    made_at: datetime
    until: datetime
    """It ends by itself then."""
    mine: bool
    by: str


class CalendarIn(Wire):
    """A calendar of one's own matters, or of the whole shop's."""

    id: UUID
    whole: bool


class CalendarMade(Wire):
    """A calendar just made: its secret is shown this once."""

    token: str


class SquadListed(Wire):
    """A squad by name."""

    name: str
    athletes: int


class SquadMember(Wire):
    """Somebody of a squad: how far they have come, what they wear, and the days that follow."""

    id: UUID
    name: str
    born_on: date | None
    measure_on: date | None
    fitting_id: UUID | None
    state: str | None
    sport: str | None
    discipline: str | None
    pair_id: UUID | None
    pair: str | None
    size: str | None
    """As the pair's box has it."""
    eu_label: float | None
    width: str | None
    plate: str | None
    ready_on: date | None
    event_on: date | None
    due_on: date | None


class SquadOut(Wire):
    """A squad, and who of it is next."""

    name: str
    today: date
    members: list[SquadMember]
    next: UUID | None
    """Who has no fitting of the last months and none open; the first by name."""


class PeopleList(Wire):
    """A list of athletes, line by line, and whether it was written."""

    written: bool
    lines: list[PersonLine]
    date_order: DateOrder | None
    """The order its dates are read by: as they show it, as was said, or the house's; none where it is asked for."""
    two_ways: str | None
    """A date of it that can be read two ways, where somebody has to say which; nothing is written before."""
    new: int
    here: int
    refused: int


class AwayWorn(Wire):
    """A wear as a link shows it."""

    id: UUID
    on: date
    minutes: int
    mine: bool


class AwayPair(Wire):
    """A pair as a link shows it."""

    id: UUID
    name: str
    size: str
    sport: str
    bought_on: date
    ready_on: date | None
    worn_h: float
    left_h: float | None
    plan: BreakInOut | None
    follow_up: date | None
    worn: list[AwayWorn]
