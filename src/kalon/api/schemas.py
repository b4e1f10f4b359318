"""What goes over the wire, where it isn't a core contract already."""

from __future__ import annotations

from datetime import date, datetime
from typing import Annotated, Any, Literal
from uuid import UUID

from pydantic import BaseModel, ConfigDict, Field, StringConstraints, model_validator

from ..core.care.breakin import BreakInOut, ZoneReady
from ..core.care.cost import CostOut
from ..core.contract import Day, Side
from ..core.errors import AtField
from ..core.feet.combine import FeetFound
from ..core.feet.gauge import Feet, FeetReading
from ..core.feet.growth import GrowthOut
from ..core.feet.measures import Reading
from ..core.feet.pressure import Zone
from ..core.feet.said import Said
from ..core.feet.usual import Estimated
from ..core.fit.foot import FIT_ZONES, Swelling
from ..core.fit.helps import Help, OddFeet
from ..core.fit.size import Hope, SizeFit, SizeRecommendOut
from ..core.fit.trial import Advice
from ..core.house import House, TaxOn
from ..core.learn.answers import Answers
from ..core.learn.given import Learned
from ..core.learn.said import Calibration
from ..core.learn.worn import FootFromWornOut
from ..core.match.gives import OlderModel
from ..core.match.judged import Point
from ..core.match.nearest import Like
from ..core.match.ordering import Arrival, ArrivalSays
from ..core.match.surer import Surer
from ..core.parts import ReturnPart, SettlePart, SpecPart, TrialPart
from ..core.rules.bench import Mechanics
from ..core.rules.brief import BriefDraft
from ..core.rules.engine import Spec
from ..core.rules.present import Lies
from ..core.sheets.asked import AskedField
from ..core.sheets.lines import Settings, Verdict
from ..core.shoes.anatomy import Part
from ..core.shoes.inner import LIMITS_MM, InnerOut
from ..core.shoes.made import Made
from ..core.systems import System
from ..core.takings.journal import Became, Kind

MOST_VERSIONS = 1_000_000_000
"""Far beyond any record's, well within its column."""


class Wire(BaseModel):
    """Unknown fields in requests are refused."""

    model_config = ConfigDict(extra="forbid")


Written = Annotated[str, StringConstraints(strip_whitespace=True, min_length=1)]
"""A text that says something: blanks round it go, and blanks alone are none."""


class SignIn(Wire):
    """A sign-in name and its password."""

    login: str = Field(min_length=1, max_length=100)
    password: str = Field(min_length=1, max_length=200)
    shop: str = Field("", max_length=200)
    """Only asked for where two shops know somebody by the same name and password."""


class OwnPassword(Wire):
    """One's own password, and the one to be."""

    password: str = Field(min_length=1, max_length=200)
    new_password: str = Field(min_length=1, max_length=200)


class SetPassword(Wire):
    """A password set by an invitation."""

    password: str = Field(min_length=1, max_length=200)


class Invited(Wire):
    """Whom an invitation is of."""

    login: str
    name: str
    shop_name: str
    until: datetime


class Me(Wire):
    """Who is signed in, and where."""

    name: str
    login: str
    role: Literal["manager", "fitter", "trainee"]
    shop_name: str
    seal: str
    """With what this person's browser seals what they typed and couldn't send, once their session is over."""
    tablet: str | None = None
    """What the shop calls the tablet this browser is; none where it is somebody's own device."""


class FieldTrouble(Wire):
    """One field's trouble."""

    field: str
    code: str
    text: str


class ClashOut(Wire):
    """A field that somebody else changed meanwhile."""

    path: str
    mine: Any
    theirs: Any
    by: str
    at: datetime


class Problem(Wire):
    """A problem document (RFC 9457)."""

    type: str
    title: str
    status: int
    code: str
    fields: list[FieldTrouble] = []
    clashes: list[ClashOut] = []
    version: int | None = None


class OptionOut(Wire):
    """One answer."""

    value: str
    text: str
    hint: str
    picture: str = ""


class AskOut(Wire):
    """One question."""

    field: str
    kind: Literal["choice", "many", "number", "yes", "date", "text"]
    text: str
    options: list[OptionOut]
    unit: str
    needed: bool
    disciplines: list[str]
    drawn: str
    why: str
    short: str
    screen: Literal["use", "athlete", "pair"]


class SchoolOut(Wire):
    """A matter practitioners differ on, and the side the house takes; `spec` where its sides differ in the spec."""

    slug: str
    text: str
    options: list[OptionOut]
    side: str
    spec: bool


class TestOut(Wire):
    """A trial test."""

    slug: str
    name: str
    how: str
    passes: str
    spared: str
    """What passes on feet on which nothing may press; empty where that is the same."""
    seconds: int | None


class FeelOut(Wire):
    """What a hand may find: its slug, and what it is called."""

    slug: str
    text: str


class HandTestOut(Wire):
    """A hand test of the shoe worn now: its field in the brief, how it is done, what may be found."""

    slug: Literal["fold", "wring", "heel_foam", "heel_cup", "collar"]
    name: str
    how: str
    findings: list[FeelOut]


class ScaleOut(Wire):
    """A property's scale."""

    name: str
    unit: str
    low: float
    high: float
    read: str = ""
    """How it is read at the bench."""


class FeatureOut(Wire):
    """A feature a shoe has or hasn't: its name, what it does, how one sees it, and where it sits."""

    name: str
    does: str
    seen: str
    part: Part


class SportOut(Wire):
    """A sport's vocabulary."""

    slug: str
    name: str
    disciplines: list[OptionOut]
    purposes: list[OptionOut]
    """What a model of it may be meant for."""
    drawn: str
    needs: list[str]
    scales: dict[str, ScaleOut]
    asks: list[AskOut]
    schools: list[SchoolOut]
    tests: list[TestOut]
    hands: list[HandTestOut]


class SideScale(Wire):
    """A matter on its scale, with the band each side of a school wants, by side."""

    name: str
    unit: str
    low: float
    high: float
    bands: dict[str, tuple[float, float]]


class SchoolSides(Wire):
    """Where the sides of a school part: on which brief, on which scales, and what leads by side."""

    school: str
    sport: str
    brief: str
    drawn: list[SideScale]
    leads: dict[str, str]


class FootByLabel(Wire):
    """A size typed as a foot's length: the foot is `mm_at_zero` and `mm_per_size` for each whole size."""

    mm_per_size: float
    mm_at_zero: float


class Vocabulary(Wire):
    """All the words the interface asks with, and how the sizes it is typed in become millimetres."""

    sports: list[SportOut]
    values: dict[str, str]
    rooms: dict[str, str]
    kinds: dict[str, list[str]]
    """The values each kind has."""
    choices: dict[str, str]
    zones: dict[str, str]
    pinches: dict[str, str]
    room_scale: ScaleOut
    features: dict[str, FeatureOut]
    foot_by_label: dict[System, FootByLabel]


class AthleteIn(Wire):
    """An athlete's own data."""

    name: Written = Field(max_length=120)
    born_on: Day | None = None
    squad: str = Field("", max_length=120)
    note: str = Field("", max_length=1000)


class AthleteNew(AthleteIn):
    """A new athlete; the id makes sending it twice harmless."""

    change_id: UUID


class AthleteChange(AthleteNew):
    """A change of an athlete as read at `version`."""

    version: int = Field(ge=1, le=MOST_VERSIONS)
    unnamed: bool = False
    """Of somebody without a name: what they are called now is no name either."""


class AthleteOut(AthleteIn):
    """An athlete."""

    id: UUID
    version: int
    unnamed_since: datetime | None = None
    """Since when they are here without a name; what they are called is how they are known here."""


class CardIn(Wire):
    """The address of the athlete's page, as it was shown to who made it."""

    link: str = Field(max_length=400, pattern=r"^https?://[^\s]+/away/[A-Za-z0-9_-]{20,80}$")


class WalkIn(Wire):
    """Somebody who comes in without a name, and their fitting; the ids make sending it twice harmless."""

    change_id: UUID
    fitting_id: UUID
    called: str = Field("", max_length=80)
    """How they are known meanwhile: "blue jacket"."""


class AthleteListed(AthleteOut):
    """An athlete in a list, with the newest fitting."""

    fitting_id: UUID | None
    state: str | None
    touched_at: datetime | None
    sport: str | None


class FittingListed(Wire):
    """A fitting of an athlete."""

    id: UUID
    state: str
    opened_at: datetime
    touched_at: datetime
    sport: str | None
    discipline: str | None
    pair: str | None
    size: str | None
    """Of the pair that was sold, as its box has it."""
    due_on: date | None


class ChangeOut(Wire):
    """An audit row."""

    id: int
    part: str
    before: dict[str, Any]
    after: dict[str, Any]
    at: datetime
    by: str


class ConsentOut(Wire):
    """The athlete agreed to be known in the chain's other shops: when, what was read to them, who recorded it."""

    said: str
    given_at: datetime
    by: str


class ConsentIn(Wire):
    """The athlete agrees to be known elsewhere, or takes it back; the id makes sending it twice harmless."""

    id: UUID
    agrees: bool


class AlikeOut(AthleteOut):
    """A record that may be of the same person, and how much hangs on it."""

    fittings: int
    pairs: int
    last_at: datetime | None


class MergedOut(Wire):
    """A record that was put together with this one."""

    id: UUID
    name: str
    at: datetime
    by: str


class MergeIn(Wire):
    """Which record goes into this one; the id makes sending it twice harmless."""

    id: UUID
    other_id: UUID


class PartIn(Wire):
    """Two records parted again; the change id makes sending it twice harmless."""

    change_id: UUID


class AthletePage(Wire):
    """An athlete with their fittings."""

    athlete: AthleteOut
    forgotten_on: date | None
    """The day somebody without a name is forgotten."""
    fittings: list[FittingListed]
    consent: ConsentOut | None
    would_say: str
    """What is read to the athlete before they agree."""
    sisters: list[str]
    """The chain's other shops; none where there is only one."""
    merged: list[MergedOut]
    from_shop: str | None
    """The sister shop they were taken up from, while they agree to be known from there."""


class KnownOut(Wire):
    """An athlete of a sister shop who agreed to be known here."""

    id: UUID
    name: str
    born_on: date | None
    squad: str
    shop: str
    given_at: datetime


class KnownPair(Wire):
    """A pair bought in a sister shop."""

    maker: str
    name: str
    sport: str
    eu_label: float
    sold_on: date


class KnownPage(Wire):
    """What a sister shop lets be known of an athlete."""

    id: UUID
    name: str
    born_on: date | None
    squad: str
    shop: str
    opened_at: datetime | None
    pairs: list[KnownPair]


class TakeUp(Wire):
    """Take up an athlete of a sister shop here; the id makes sending it twice harmless."""

    change_id: UUID


class FittingNew(Wire):
    """A new fitting; the client names it, so sending it twice is harmless."""

    id: UUID
    athlete_id: UUID


class FeetState(Wire):
    """The feet part."""

    version: int
    body: Feet


class BriefState(Wire):
    """The brief part; answers that nobody gave hold their usual values, `said` names those given."""

    version: int
    body: BriefDraft
    said: list[str]


class SpecState(Wire):
    """The spec part."""

    version: int
    body: SpecPart


class TrialState(Wire):
    """The trial part."""

    version: int
    body: TrialPart


class SettleState(Wire):
    """The settle part."""

    version: int
    body: SettlePart


class ReturnState(Wire):
    """The return part."""

    version: int
    body: ReturnPart


class Parts(Wire):
    """All parts of a fitting."""

    feet: FeetState
    brief: BriefState
    spec: SpecState
    trial: TrialState
    settle: SettleState
    return_: ReturnState = Field(alias="return")


class StationOut(Wire):
    """A station: done, doing, or what it waits for."""

    slug: Literal["feet", "brief", "spec", "pull", "trial", "settle", "return"]
    state: Literal["done", "doing", "waits"]
    waits_for: str | None


class PairOut(Wire):
    """A stock line with its model."""

    id: UUID
    model_id: UUID
    width: str
    eu_label: float
    labels: dict[str, float]
    length_mm: float
    ball_girth_mm: float
    instep_girth_mm: float
    heel_width_mm: float
    variant_id: UUID | None = None
    """The size in the chain's catalogue; what was sold before there was one has none."""
    system: System = "eu"
    label: float | None = None
    """As printed on the box, in its own system; what was sold before that was kept has its EU size alone."""
    colour: str = ""
    gtin: str | None = None
    known_from: str = "measured"
    """What its inside mostly rests on."""
    on_hand: int
    maker: str
    name: str
    sport: str
    upper: str | None
    build: str
    properties: dict[str, float]
    choices: dict[str, str]
    features: dict[str, bool] = {}
    price_minor: int | None
    full_minor: int | None = None
    """What it costs outside of a sale of some days."""
    price_said: bool = False
    """Whether the price was said for this fitting alone."""
    currency: str = "EUR"
    also_pulled: int = 0
    """How many pairs others hold: other trays, sister shops, customers."""


class JournalLine(Wire):
    """A line of the journal; amounts in minor units of its currency, negative where money goes out."""

    id: UUID
    number: str
    day: date
    at: datetime
    kind: Kind
    says: str
    by: str
    what: str
    size: str
    colour: str
    pairs: int
    price_minor: int | None
    price_said: bool
    discount_minor: int
    rate_pct: float | None
    tax_minor: int
    total_minor: int
    currency: str
    why: str
    became: Became | None
    became_says: str
    means: str
    till_number: str | None
    upon: str
    fitting_id: UUID | None
    athlete: str | None
    stands_minor: int
    """What stands of it with everything done upon it; of a line upon another, its own total."""
    back_already: bool
    """Whether the pair of a sale is with the shop again."""


class AskedOut(Wire):
    """What a pair is asked for in this sale; what is taken off it, and whether its price was said for it alone."""

    price_minor: int
    discount_minor: int
    total_minor: int
    currency: str
    said: bool


class SaleOut(Wire):
    """A standing sale, with its lines in the journal."""

    id: UUID
    stock_line_id: UUID
    sold_at: datetime
    sold_on: date
    sold_by: str
    price_minor: int
    currency: str
    rules_version: str
    eu_label: float
    width: str
    maker: str
    name: str
    system: System = "eu"
    label: float | None = None
    lines: list[JournalLine]
    too_late: str
    """Why it can't be undone any more as if it hadn't been; empty while it can."""


class FollowUpState(Wire):
    """A booked follow-up."""

    due_on: date
    done_at: datetime | None


class CaptureOut(Wire):
    """A scan, tracing, print or record of one foot, as read."""

    id: UUID
    kind: Literal["scan", "tracing", "mat", "record"]
    side: Literal["left", "right"]
    name: str
    version: int
    practice: bool
    taken_at: datetime
    measured_at: datetime
    """Earlier than taken, where a reading was carried along from an earlier fitting."""
    taken_by: str
    said: Said
    reading: Reading


class LoopOut(Wire):
    """A tape's path round a section, corners in the foot's frame (x forward, y towards the big toe, z up; mm)."""

    girth_mm: float
    gap_mm: float
    points: list[list[float]]


class ShapeOut(Wire):
    """What a capture's drawing needs; what doesn't concern its kind is left empty. Millimetres unless said."""

    outline: list[list[float]] = []
    unit: str | None = None
    feet_in_file: int = 1
    side_found: Literal["left", "right"] | None = None
    side_agree: float | None = None
    profile: list[list[float]] = []
    loops: dict[str, LoopOut] = {}
    paper: Literal["a4", "letter"] | None = None
    drawn: Literal["line", "foot"] | None = None
    corners: list[list[float]] = []
    corners_found: bool = True
    tilt_deg: float | None = None
    size: list[int] = []
    on_paper: list[list[float]] = []
    turn: list[list[float]] = []
    cell_mm: float | None = None
    grid_mm: float | None = None
    origin: list[float] = []
    grid: list[list[int]] = []
    thirds: list[float] = []
    zones: list[Zone] = []
    path: list[list[float]] = []
    load_n: list[float] = []


class CaptureDone(Wire):
    """What came out of a file: the captures it made, and the fitting as it now is."""

    captures: list[UUID]
    fitting: FittingOut


class CaptureChange(Wire):
    """What the fitter now says of a capture, as read at `version`."""

    version: int = Field(ge=1, le=MOST_VERSIONS)
    said: Said


class PracticeIn(Wire):
    """Use a practice device on one made-up foot."""

    id: UUID
    device: Literal["scanner", "camera", "mat"]
    side: Literal["left", "right"]
    seed: int = Field(ge=0, le=1_000_000)


class ProgressOut(Wire):
    """How far a measuring is, 0…1, and what it is at."""

    share: float
    step: str


class VisitOut(Wire):
    """A day on which the feet were measured."""

    fitting_id: UUID
    on: date
    left: dict[str, float]
    right: dict[str, float]
    outlines: dict[Literal["left", "right"], list[list[float]]]


class FeetOverTime(Wire):
    """Swelling over the day, growth from visit to visit, and earlier visits, oldest first."""

    swelling: list[Swelling]
    growth: dict[Literal["left", "right"], GrowthOut]
    visits: list[VisitOut]


class FittingOut(Wire):
    """A whole fitting."""

    id: UUID
    state: Literal["open", "settled", "returned"]
    opened_at: datetime
    begun_on: date
    today: date
    """The shop's day."""
    athlete: AthleteOut
    parts: Parts
    reading: FeetReading
    found: FeetFound
    estimated: dict[Side, dict[str, Estimated]]
    """What sizing needs and nobody measured, as usual for such a foot."""
    captures: list[CaptureOut]
    stations: list[StationOut]
    tray: list[PairOut]
    held_until: datetime | None
    """Until when the tray's pairs are held for it, if nobody touches it before."""
    sale: SaleOut | None
    follow_up: FollowUpState | None
    follow_up_proposed: date | None
    """When to see the athlete again, before anything is booked."""
    schools: dict[str, str]
    """Sides the house takes, in the version this fitting keeps."""
    learned: int
    """The version of what was learned that it is computed with."""
    learned_newest: int
    learned_lain: bool
    """It lay so long that what it was begun with is no longer kept: it is computed with what is known now."""
    unfelt: bool
    """Whether nothing may press on these feet; not known before the brief is answered."""


class PatchIn(Wire):
    """Fields to set, by path (`left/length_mm`), as read at a version; null clears."""

    base_version: int = Field(ge=0, le=MOST_VERSIONS)
    change_id: UUID
    set: dict[str, Any] = Field(min_length=1, max_length=400)


class PatchOut(Wire):
    """The part as it now is."""

    version: int
    body: dict[str, Any]
    """As the whole fitting shows it: what nobody gave holds its usual value."""
    said: list[str]


class WhatIfIn(Wire):
    """Brief answers to try without keeping them."""

    set: dict[str, Any] = Field(max_length=50)


class HandOut(Wire):
    """Who moved a weight, and when."""

    by: str
    at: datetime


class SpecView(Wire):
    """The spec with what it stands on, said in a sentence and, band by band, in a hand's words; `moved` says what
    answers tried on top change."""

    spec: Spec
    sentence: str
    words: dict[str, str]
    mechanics: Mechanics
    present: dict[str, Lies]
    moved: list[str]
    hands: dict[str, HandOut]
    foot_mm: float
    """The foot the shoe is for, and drawn for."""
    house_version: int
    newest_house: int


class HouseNumber(Wire):
    """A number of the house: as it comes, the range it may be set in, its mark, and as it now is."""

    slug: str
    group: str
    text: str
    unit: str
    value: float
    low: float
    high: float
    step: float
    """By how much it is moved."""
    mark: str
    now: float


class HouseVersion(Wire):
    """When a version was set, and by whom."""

    version: int
    set_at: datetime
    set_by: str


class HouseOut(Wire):
    """The house as it is set."""

    house: House
    defaults: list[HouseNumber]
    schools: list[SchoolOut]
    versions: list[HouseVersion]
    link_address: str | None
    """Where links lead: the house's own address, else the machine's for tablets; none where neither is known."""


class HouseIn(Wire):
    """The next version of the house, as read at `base_version`."""

    base_version: int = Field(ge=0, le=MOST_VERSIONS)
    house: dict[str, Any]


class ModelOut(Wire):
    """A model of the shop."""

    id: UUID
    maker: str
    name: str
    properties: dict[str, float]
    features: dict[str, bool]


class PlaceOut(Wire):
    """A shoe's place in the pull list."""

    pair: PairOut
    score: float
    fit: float
    hope: Hope
    doubt: str
    chance: float
    spec: float | None
    known: float
    unknown: list[str]
    asks: list[str]
    helps: list[Point]
    costs: list[Point]
    lift: str | None
    like: Like | None = None
    """How like the pair they like it is, where one was named."""
    over_budget: bool


class RuledOut(Wire):
    """A shoe ruled out."""

    maker: str
    name: str
    text: str
    rule: str
    mark: str


class PullOut(Wire):
    """The stock ranked."""

    places: list[PlaceOut]
    of: int
    """How many shoes come into question."""
    vetoed: list[RuledOut]
    vetoed_of: int
    """How many are ruled out; the first of them are told."""
    foot_notes: list[str]
    surer: Surer | None
    """The one measurement not yet taken that would make the choice surer."""


class SubstituteOut(Wire):
    """A pair of another sport that may serve: what may be hoped of its size, and what it gives up."""

    pair: PairOut
    sport: str
    hope: Hope
    doubt: str
    score: float
    gives_up: list[str]
    unknown: list[str]


class SizeLine(Wire):
    """A size of the run: its stock line, how many, and inner length."""

    id: UUID
    label: float
    on_hand: int
    length_mm: float
    ball_girth_mm: float
    instep_girth_mm: float
    heel_width_mm: float


class ShoeFit(Wire):
    """One model in one width on these feet: every size."""

    pair: PairOut
    lines: list[SizeLine]
    fit: SizeRecommendOut
    foot_mm: dict[Literal["left", "right"], dict[str, float]]


class SettlePreview(Wire):
    """What settling on a pair would mean."""

    pair: PairOut
    size: SizeFit
    tau_h: float
    gives_up: list[Point]
    in_a_word: str
    """What it gives up, in one sentence for the athlete."""
    plan: BreakInOut
    by_zone: list[ZoneReady]
    """When each zone that is too tight when new comes right."""
    asked: AskedOut | None
    """What it is asked for; none where nobody knows a price, or it is sold already."""
    tax: TaxOn | None
    older: list[OlderModel]
    """Cheaper models on the same last that are on hand in this size."""
    old_pair: str
    """What is known of the pair that would play instead; empty where this one is ready in time."""


class PairCost(Wire):
    """What one pair of the tray costs, with tax, in whole units of the currency."""

    line_id: UUID
    name: str
    eu_label: float
    total_minor: int
    cost: CostOut


class CostsOut(Wire):
    """What the pairs of the tray cost by the hour, side by side; and the dearest against the cheapest in a row."""

    hours_per_week: float
    currency: str
    pairs: list[PairCost]
    against: str
    """A sentence; empty where the prices lie near each other."""


class TakeIn(Wire):
    """A pair that is promised to another is taken anyway, for a reason that is told to them."""

    anyway: str = Field("", max_length=200)


class SaleIn(TakeIn):
    """Settle on a pair; the id makes sending it twice harmless."""

    sale_id: UUID
    line_id: UUID


class KeepIn(Wire):
    """Keep a pair back for a customer so many days; the id makes sending it twice harmless."""

    id: UUID
    name: Written = Field(max_length=120)
    athlete_id: UUID | None = None
    days: int = Field(2, ge=1, le=60)


class HeldOut(Wire):
    """Who holds a pair of a size, until when, and who wrote it down."""

    id: UUID
    kind: Literal["tray", "sister", "customer"]
    says: str
    fitting_id: UUID | None
    until: datetime
    by: str | None


class FollowUpBook(Wire):
    """When the athlete is to be seen again."""

    due_on: Day


class PersonOut(Wire):
    """Somebody of the shop."""

    id: UUID
    login: str
    name: str
    role: str
    active: bool
    invited_until: datetime | None
    """Until when they may set a password by the invitation they were given."""


class PersonIn(Wire):
    """A new person."""

    login: Written = Field(max_length=100)
    name: Written = Field(max_length=120)
    role: Literal["manager", "fitter", "trainee"]
    change_id: UUID


class InvitationOut(Wire):
    """A way to set one's own password, once: told this once, and not again."""

    path: str
    until: datetime


class PersonChange(Wire):
    """What somebody may do from now on; their sessions all end."""

    change_id: UUID
    active: bool | None = None
    role: Literal["manager", "fitter", "trainee"] | None = None


class MoveIn(Wire):
    """So many pairs more or fewer on the shelf; the id makes sending it twice harmless."""

    id: UUID
    by: int = Field(ge=-999, le=999)
    kind: Literal["counted", "received", "returned", "lent", "written_off"] = "counted"
    why: str = Field("", max_length=300)

    @model_validator(mode="after")
    def _that_way(self) -> MoveIn:
        if self.kind == "received" and self.by < 0:
            raise AtField("by", "What comes in is more, not fewer")
        if self.kind in ("returned", "written_off") and self.by > 0:
            raise AtField("by", "What is sent back or written off is fewer, not more")
        return self


class MovementOut(Wire):
    """Pairs that came or went: what it was, how many, who booked it and when; what was there before has no day."""

    id: int
    kind: Literal[
        "there_before",
        "received",
        "counted",
        "sold",
        "undone",
        "brought_back",
        "returned",
        "lent",
        "transferred",
        "written_off",
    ]
    pairs: int
    why: str
    by: str | None
    at: datetime | None


class RackSize(Wire):
    """One size of a model as this shop keeps it."""

    id: UUID
    variant_id: UUID
    width: str
    system: System
    label: float
    eu_label: float
    colour: str
    gtin: str | None
    length_mm: float
    ball_girth_mm: float
    instep_girth_mm: float
    heel_width_mm: float
    length_sigma_mm: float
    known_from: str
    on_hand: int
    reserved: int
    """How many of them are in trays, held for sister shops or kept for customers."""


class RackModel(Wire):
    """A model on the rack, with its sizes by width and label."""

    id: UUID
    maker: str
    name: str
    sport: str
    upper: str | None
    build: str
    price_minor: int | None
    now_minor: int | None
    """What is asked today, in a sale or not."""
    currency: str
    choices: dict[str, str]
    properties: dict[str, float]
    features: dict[str, bool]
    meant_for: list[str]
    retired: bool
    sizes: list[RackSize]


class ModelIn(Wire):
    """A model as it is to be kept; the change id makes sending it twice harmless."""

    change_id: UUID
    model: Made
    was: Made | None = None
    """As it was read before it was changed: what somebody else changed meanwhile isn't written over."""
    retired: bool = False


class ModelMade(Wire):
    """A model as the catalogue keeps it."""

    id: UUID
    model: Made
    retired: bool


class SizesIn(Wire):
    """Sizes to keep of a model: as printed on the boxes ("42", "UK 8½"), of one width and colour."""

    change_id: UUID
    width: str = Field("regular", max_length=20)
    colour: str = Field("", max_length=60)
    system: System = "eu"
    runs_ahead: float | None = Field(None, ge=0, le=3)
    """The maker's own step in that system, where it isn't as most have it."""
    sizes: list[Annotated[str, Field(max_length=20)]] = Field(min_length=1, max_length=80)
    gtin: str | None = Field(None, max_length=20)
    """A bar code, where it is of one size."""


class RackOut(Wire):
    """Some models of the rack, and whether there are more."""

    models: list[RackModel]
    more: bool


class RackTotals(Wire):
    """What the rack holds."""

    models: int
    sizes: int
    pairs: int


class ReadingIn(Wire):
    """A measure read inside a shoe, mm; its spread where it isn't the usual one of its source."""

    id: UUID
    zone: Literal["length", "ball_girth", "instep_girth", "heel_width"]
    mm: float = Field(gt=0, le=450)
    sigma_mm: float | None = Field(None, gt=0, le=50)
    source: Literal["sheet", "stick", "insole", "measured"] = "stick"

    @model_validator(mode="after")
    def _of_a_shoe(self) -> ReadingIn:
        low, high = LIMITS_MM[FIT_ZONES.index(self.zone)]
        if not low <= self.mm <= high:
            raise AtField("mm", f"No shoe is {self.mm:g} mm inside there: {low:g} to {high:g}")
        return self


class ReadingOut(Wire):
    """A measure read inside a shoe: by whom and when; what was there before has neither."""

    id: UUID
    zone: Literal["length", "ball_girth", "instep_girth", "heel_width"]
    mm: float
    sigma_mm: float | None
    source: str
    by: str | None
    at: datetime | None


class InsideOut(Wire):
    """The inside of a size as everything that counts says it, what each zone rests on in words, and what was read."""

    zones: InnerOut
    rests_on: dict[str, str]
    readings: list[ReadingOut]


class Failure(Wire):
    """Something failed in the interface: where, never what was typed."""

    kind: str = Field(max_length=60, pattern=r"^[A-Za-z]*$")
    where: list[Annotated[str, Field(max_length=160, pattern=r"^[A-Za-z0-9_./:@ <>$-]*$")]] = Field(max_length=8)


class CalcListed(Wire):
    """A computation."""

    name: str
    summary: str


class FieldOut(Wire):
    """Something a column of a list can hold."""

    slug: str
    name: str


class SheetColumn(Wire):
    """A column of a list: its heading, what it is taken to hold, and the first cells in it."""

    heading: str
    field: str
    system: System | None
    samples: list[str]


class SheetAsk(Wire):
    """A word of a list that nobody knows: what is asked, how many lines hang on it, and a guess ("" for none)."""

    field: AskedField
    word: str
    said: str
    guess: str
    lines: int


class SheetReason(Wire):
    """Why lines can't be used, and how many."""

    said: str
    lines: int


class SheetAgain(Wire):
    """By which list the very same file was brought in before."""

    name: str
    by: str
    done_at: datetime


class SheetOut(Wire):
    """A list brought in: how it is read, how many of its lines are new, changed, the same, odd or refused."""

    id: UUID
    name: str
    columns: list[SheetColumn]
    settings: Settings
    counts: dict[Verdict, int]
    notes: list[str]
    rows: int
    grid: str
    """"size" or "colour" where it is read as a grid of those."""
    sheets: list[str]
    """The sheets of its workbook."""
    asks: list[SheetAsk]
    reasons: list[SheetReason]
    again: SheetAgain | None
    by: str
    began_at: datetime
    done_at: datetime | None
    undone_at: datetime | None
    stayed: list[str]
    """When it was taken back: models that keep a value somebody has changed since."""


class SheetRow(Wire):
    """A line of a list: its row in the file, its verdict, what it is, and the sentence."""

    row: int
    place: str
    """Where it stands in the file: its row, and of a grid its column."""
    verdict: Verdict
    text: str
    said: str


class SheetRows(Wire):
    """Some lines of a list, and whether there are more."""

    rows: list[SheetRow]
    more: bool


class Elsewhere(Wire):
    """A sister shop that has a size."""

    shop_id: UUID
    shop: str
    free: int


class OrderPlace(Wire):
    """A size of the range that isn't here: what may be hoped of it, and which sister shops have it."""

    variant_id: UUID
    model_id: UUID
    maker: str
    name: str
    width: str
    system: System
    label: float
    eu_label: float
    colour: str
    hope: Hope
    doubt: str
    score: float
    elsewhere: list[Elsewhere]


OrderState = Literal[
    "wanted", "ordered", "arrived", "asked", "held", "sent", "received", "refused", "cancelled", "sent_back", "back",
    "credited", "lost",
]  # fmt: skip


class OrderIn(Wire):
    """A pair wanted: of its supplier, or of a sister shop, for a fitting or for the shelf; without a size, one made to
    measure for a fitting."""

    id: UUID
    variant_id: UUID | None
    from_shop: UUID | None = None
    fitting_id: UUID | None = None
    note: str = Field("", max_length=300)


class StepIn(Wire):
    """The next step of an order; the change id makes sending it twice harmless."""

    change_id: UUID
    to: OrderState


class ArrivalIn(Arrival):
    """What was found of an ordered pair when it came; the change id makes sending it twice harmless."""

    change_id: UUID


class OrderOut(Wire):
    """An order: the pair, from where, how far it is, and what may be done next from here. One made to measure has no
    model and no size."""

    id: UUID
    variant_id: UUID | None
    model_id: UUID | None
    fitting_id: UUID | None
    athlete: str | None
    maker: str
    name: str
    sport: str
    width: str
    system: System | None
    label: float | None
    eu_label: float | None
    colour: str
    made: bool
    state: OrderState
    says: str
    ours: bool
    """It is this shop that wants it; else this shop was asked."""
    other: str | None
    """The sister shop at the other end; none where it is ordered from its supplier."""
    note: str
    sheet: dict[str, Any]
    arrival: Arrival
    arrival_says: ArrivalSays | None
    """What follows from what was found; none before it is here."""
    asked_at: datetime
    held_until: datetime | None
    told: str
    """What the giving shop says of it."""
    steps: list[OrderState]
    left_minor: int | None = None
    """What was left for it and is neither used nor given back."""
    left_currency: str | None = None


class NeedOut(Wire):
    """So many pairs of a size were wanted in a month and not here; how many of them came."""

    month: str
    sport: str
    width: str
    eu_label: float
    wanted: int
    came: int


class NextOut(Wire):
    """A pair to try next, in words; what it is worth now, and what it was before anything was tried."""

    pair: PairOut
    hope: Hope
    doubt: str
    quality: float
    before: float
    text: str


class RunOut(Wire):
    """A size of a model that was tried, judged again."""

    line_id: UUID
    model_id: UUID
    label: float
    width: str
    hope: Hope
    quality: float
    tried: bool
    on_hand: int


class TrialNextView(Wire):
    """What to try next, best first; the sizes and widths of what was tried; what the trials say of the foot; and of
    every pair in the tray, by its line, what the trade does about what was found."""

    advice: dict[str, list[Advice]]
    places: list[NextOut]
    runs: list[RunOut]
    best_tried: UUID | None
    """A pair that passed and that nothing on the shelf outdoes."""
    foot: list[str]
    questions: list[str]
    """What was said of the pair asked about that contradicts itself: it tells nothing until one of both goes."""
    helps: list[Help]
    """What may help the pair asked about, short of another."""
    odd: OddFeet | None


class LearnedSay(Wire):
    """What is known of a maker in a zone now, against what was when this fitting began."""

    maker: str
    zone: str
    now: Learned
    before: Learned | None
    text: str


class LedgerZone(Wire):
    """What is known of a maker in one zone, mm, and on how much it rests."""

    zone: str
    mean_mm: float
    sd_mm: float
    seen: int


class LedgerThen(Wire):
    """What was known of a maker's length at a moment."""

    version: int
    at: datetime
    mean_mm: float
    sd_mm: float


class LedgerModel(Wire):
    """What a model departs from its label by in length, its maker's habit included, mm."""

    model_id: UUID
    name: str
    sport: str
    mean_mm: float
    sd_mm: float
    seen: int


class LedgerMaker(Wire):
    """A maker in the ledger."""

    maker: str
    zones: list[LedgerZone]
    then: list[LedgerThen]
    models: list[LedgerModel]
    text: str


class GivePoint(Wire):
    """A follow-up: the new gap, the one seen, mm, after so many hours, and what the table says could give."""

    new_mm: float
    seen_mm: float
    hours: float
    c_mm: float
    zone: str


class LedgerGive(Wire):
    """How much a kind of upper gives against the table, with the 90 % interval, and the follow-ups it rests on."""

    kind: str
    factor: float
    low: float
    high: float
    seen: int
    tau_h: float
    points: list[GivePoint]


class WrongOut(Wire):
    """A prediction that was far off."""

    id: int
    fitting_id: UUID
    athlete: str
    pair: str
    zone: str
    text: str
    off_by: float
    """In spreads."""


class TeachOut(Wire):
    """The one measurement that would teach most next."""

    text: str
    maker: str
    line_id: UUID


class LedgerFitter(Wire):
    """A fitter of this shop: where their band lies, and what their verdicts are worth, in sentences; whether so much
    says nothing that they are named."""

    staff_id: UUID
    name: str
    verdicts: int
    careless: bool
    says: list[str]


class FitterAside(Wire):
    """All a fitter found between two days, set aside, and why."""

    id: UUID
    staff_id: UUID
    fitter: str
    from_day: date | None
    to_day: date | None
    reason: str
    by: str
    at: datetime


class FitterAsideIn(Wire):
    """Set aside all a fitter found between two days (open where none is named); the id makes sending it twice
    harmless."""

    id: UUID
    from_day: date | None = None
    to_day: date | None = None
    reason: Written = Field(max_length=300)

    @model_validator(mode="after")
    def _in_order(self) -> FitterAsideIn:
        if self.from_day and self.to_day and self.from_day > self.to_day:
            raise AtField("to_day", "The last day lies before the first")
        return self


class LedgerOut(Wire):
    """What the chain has learned."""

    version: int
    makers: list[LedgerMaker]
    gives: list[LedgerGive]
    calibration: Calibration
    wrong: list[WrongOut]
    teach: TeachOut | None
    fitters: list[LedgerFitter]
    asides: list[FitterAside]
    changed: list[str]
    """Models that seem to have changed without a word, and what would settle it."""
    parked: list[str]
    """What couldn't be learned from, and why."""


class EvidenceOut(Wire):
    """A piece of this shop's evidence, in words; why it was set aside, if it was."""

    id: int
    fitting_id: UUID
    athlete: str
    pair: str
    zone: str
    kind: str
    text: str
    at: datetime
    aside: str | None
    aside_by: str | None
    aside_alone: bool
    """Set aside by itself, not with all of its fitter and time."""


class AsideIn(Wire):
    """Set a piece of evidence aside; the id makes sending it twice harmless."""

    id: UUID
    reason: Written = Field(max_length=300)


class LinkIn(Wire):
    """Make a link; the id makes sending it twice harmless."""

    id: UUID


class LinkOut(Wire):
    """A fitting's link: how long it holds, what the athlete answered, and the foot that follows."""

    made_at: datetime
    made_by: str
    expires_at: datetime
    over: bool
    agreed_at: datetime | None
    answers: Answers | None
    answered_at: datetime | None
    pictures: int
    foot: FootFromWornOut | None
    size: str
    """How sure a size is, in words."""


class LinkMade(Wire):
    """A link just made: its secret is shown this once."""

    token: str
    expires_at: datetime


class AwayPicture(Wire):
    """A picture of a foot as it was read."""

    id: UUID
    side: Side
    length_mm: float | None


class AwayOrder(Wire):
    """A pair that came for them: what to check, and what they found."""

    id: UUID
    name: str
    size: str
    check: list[str]
    made: bool
    arrival: Arrival
    says: ArrivalSays


class AwayPage(Wire):
    """All that a link shows: nothing but what concerns whoever holds it."""

    shop: str
    athlete: str
    """The first name."""
    expires_at: datetime
    agreed: bool
    would_say: str
    open: bool
    """Answers and pictures are still of use: the fitting isn't settled."""
    answers: Answers
    pictures: list[AwayPicture]
    orders: list[AwayOrder]


class AwayAnswers(Wire):
    """What was answered, the newest whole; the change id makes sending it twice harmless."""

    change_id: UUID
    answers: Answers


class ErasedOut(Wire):
    """An athlete's data was taken out."""

    erased: Literal[True] = True
