"""A row of a list as a line of stock, read cell by cell, with a sentence for what is refused or to be looked at."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Sequence
from dataclasses import dataclass, field
from functools import lru_cache
from typing import Annotated, Any, Literal

from pydantic import Field, field_validator

from ..contract import Contract
from ..fit.foot import FIT_ZONES
from ..fit.stretch import BUILDS, Build
from ..money import Money
from ..rules.scales import CHOICES, PROPERTIES, scale
from ..rules.words import Sport
from ..shoes.anatomy import FEATURES
from ..shoes.inner import LIMITS_MM, SPREADS, InnerIn, ShoeReading, by_label, facts, surest
from ..sports.every import EVERY
from ..systems import System
from . import cells, labels, words
from .asked import Asked, AskedField, LeftOut
from .colours import Colours
from .columns import FIELDS, INNER, KIND_FIELDS, Column
from .meant_words import meant_for
from .place import Places
from .plain import plain, short

BUILD_OF: dict[str, Build] = {sport: facts.build for sport, facts in EVERY.items()}
"""How shoes of a sport are built where the list doesn't say. House default."""
Verdict = Literal["new", "changed", "same", "odd", "refused"]
Means = Literal["received", "counted", "ignored"]
MANY_PAIRS = 200
"""More pairs of one size than this is looked at. House default."""


IN_ROWS = Places()


Word = Annotated[str, Field(max_length=60)]
Answer = Annotated[str, Field(max_length=60)]


class Settings(Contract):
    """How a sheet is to be read: what each column holds, and what holds for all its lines."""

    columns: list[str] = Field([], max_length=400)
    sport: Sport | None = None
    maker: str = Field("", max_length=80)
    system: System | None = None
    currency: str = Field("EUR", pattern="^[A-Z]{3}$")
    """The shop's money."""
    list_currency: str | None = Field(None, pattern="^[A-Z]{3}$")
    """What the list's own prices are in, where its cells don't say; the shop's money where nobody said."""
    child: Literal["uk", "us"] | None = None
    """Whose children's letters (13C, 10.5K) the list has."""
    runs_ahead: float | None = Field(None, ge=0, le=3)
    """How far the maker's sizes run ahead where makers have a step of their own (US women's); as most where nobody
    said."""
    words: dict[AskedField, Annotated[dict[Word, Answer], Field(max_length=500)]] = {}
    """What was said of words nobody knew: a sport, a width, an upper, a number of pairs, or `-` to leave it out; the
    colour that is meant, or `-` for one of its own."""
    sheet: str = Field("", max_length=100)
    """The sheet of a workbook that is read, `*` all of them; the first that holds a list where nobody said."""
    grids: bool = True
    """Whether a size grid is read as one."""
    pairs: Means = "ignored"
    """What a number of pairs means: come in now, counted on the shelf, or the supplier's own."""

    @field_validator("words")
    @classmethod
    def _can_be(cls, said: dict[AskedField, dict[str, str]]) -> dict[AskedField, dict[str, str]]:
        for about, answers in said.items():
            if bad := next((a for a in answers.values() if not words.is_answer(about, a)), None):
                raise ValueError(f"“{bad}” is no answer to what a word means for {about}")
        return said


@dataclass(frozen=True)
class Read:
    """A row read: its number in the sheet, what is to be looked at or why it can't be used, and its values."""

    row: int
    verdict: Literal["fine", "odd", "refused"]
    said: str
    body: dict[str, Any]
    asks: tuple[Asked, ...] = ()
    """Words in it that have to be asked about."""


@dataclass
class _Seen:
    """What earlier rows of the sheet said."""

    places: Places
    sizes: dict[tuple[str, ...], int] = field(default_factory=dict)
    codes: dict[str, int] = field(default_factory=dict)
    prices: dict[tuple[str, str, str], tuple[int, int]] = field(default_factory=dict)


class _Refused(ValueError):
    """A line that can't be used, and why."""


def read_lines(
    rows: Iterable[tuple[int, Sequence[str]]],
    columns: Sequence[Column],
    settings: Settings,
    places: Places = IN_ROWS,
    colours: Iterable[str] = (),
) -> Iterator[Read]:
    """Every row as a line: `rows` are numbered as `places` says, `colours` are known here, the most used first."""
    seen, of_here, models = _Seen(places), Colours(colours), _Models(settings)
    at = {c.field: i for i, c in enumerate(columns) if c.field in FIELDS}
    kept = [(i, c.heading) for i, c in enumerate(columns) if c.field == "keep" and c.heading]
    told = next((c.system for c in columns if c.field == "size" and c.system), None)
    for row, given in rows:
        odd = _Odd()
        values: dict[str, str] = {}
        try:
            if len(given) > len(columns) and any(c.strip() for c in given[len(columns) :]):
                raise _Refused("It has more cells than there are headings: is a separator written inside a name?")
            values = {name: plain(given[i]) if i < len(given) else "" for name, i in at.items()}
            if "model" in at:
                body = _line(models.read(values, odd), values, settings, told, of_here, odd)
            else:
                body = _by_code(values, settings, odd)
            extra = {name: text[:200] for i, name in kept if i < len(given) and (text := plain(given[i]))}
            if extra:
                body["extra"] = extra
            _against_earlier(row, body, settings, seen, odd)
        except _Refused as refused:
            yield Read(row, "refused", str(refused), _as_given(given))
        except Asked as asked:
            others = _others(asked, values, settings, of_here)
            yield Read(row, "refused", f"{asked}?", _as_given(given), (asked, *others))
        except LeftOut as left:
            yield Read(row, "refused", f"Left out: {left}.", _as_given(given))
        except ValueError as error:
            text = str(error)
            said = text[0].upper() + text[1:].rstrip(".") + "."
            yield Read(row, "refused", said, _as_given(given))
        else:
            yield Read(row, "odd" if odd else "fine", " ".join(odd), body, tuple(odd.asks))


def _others(first: Asked, values: dict[str, str], settings: Settings, colours: Colours) -> Iterator[Asked]:
    """What else has to be asked of a line that waits for one word already, so that all is asked at once."""
    readers: tuple[tuple[str, Callable[[str, words.Answers], object]], ...] = (
        ("width", lambda text, said: words.width(text, settings.system or "eu", said)),
        ("upper", words.upper),
        ("colour", colours.read),
        ("pairs", words.stock if settings.pairs != "ignored" else lambda _text, _said: None),
    )
    for name, reader in readers:
        if values.get(name) and name != first.field:
            try:
                reader(values[name], settings.words.get(name, {}))  # type: ignore[call-overload]
            except Asked as asked:
                yield asked


class _Odd(list[str]):
    """What is to be looked at in a line, and words in it that could be asked about."""

    def __init__(self) -> None:
        super().__init__()
        self.asks: list[Asked] = []

    def ask(self, asked: Asked, meanwhile: str) -> None:
        """The line comes in all the same, without what the word says."""
        self.asks.append(asked)
        self.append(f"{asked}? {meanwhile}")


def _as_given(given: Sequence[str]) -> dict[str, Any]:
    return {"given": [plain(c)[:80] for c in given[:12]]}


def _by_code(values: dict[str, str], settings: Settings, odd: _Odd) -> dict[str, Any]:
    """A line that names its size by its bar code alone, as a count with a reader does."""
    if not values.get("gtin"):
        raise _Refused("It names neither a model nor a bar code.")
    body: dict[str, Any] = {"gtin": cells.gtin(values["gtin"])}
    _price(values, settings, body, odd)
    _pairs(values, settings, body, odd)
    return body


def _pairs(values: dict[str, str], settings: Settings, body: dict[str, Any], odd: _Odd) -> None:
    text, said = values.get("pairs"), settings.words.get("pairs", {})
    if not text or settings.pairs == "ignored":
        return
    try:
        some = words.stock(text, said)
    except Asked as asked:
        odd.ask(asked, "No pairs are counted for it.")
        return
    if some is None and words.key_of(text) in said:
        return
    body["pairs"] = cells.pairs(text) if some is None else some
    if body["pairs"] > MANY_PAIRS:
        odd.append(f"{body['pairs']} pairs of one size: is that meant?")


OF_A_SIZE = {"size", "system", "runs_ahead", "width", "colour", "code", "gtin", "pairs", *INNER}
"""What a line says of its size; all else is said of its model."""
MODELS_AT_ONCE = 10_000


class _Models:
    """What lines say of their models: the many lines of one say the same of it, and the same words are read once."""

    def __init__(self, settings: Settings) -> None:
        self._settings = settings
        self._read: dict[tuple[str, ...], tuple[dict[str, Any], _Odd]] = {}

    def read(self, values: dict[str, str], odd: _Odd) -> dict[str, Any]:
        """The model's part of a line, and what is odd about it. Raises like `_model`."""
        said = tuple([text for name, text in values.items() if name not in OF_A_SIZE])
        if (known := self._read.get(said)) is None:
            of_it = _Odd()
            known = _model(values, self._settings, of_it), of_it
            if len(self._read) >= MODELS_AT_ONCE:
                self._read.clear()
            self._read[said] = known
        body, of_it = known
        odd.extend(of_it)
        odd.asks.extend(of_it.asks)
        return dict(body)


def _model(values: dict[str, str], settings: Settings, odd: _Odd) -> dict[str, Any]:
    maker, model = values.get("maker") or settings.maker, values.get("model", "")
    if not model:
        raise _Refused("It names no model.")
    if not maker:
        raise _Refused("It names no maker: say whose list this is.")
    if len(maker) > 80 or len(model) > 120:
        raise _Refused("The name is longer than any shoe's: is this the right column?")
    body: dict[str, Any] = {"maker": maker, "model": model}
    if "size" in values or values.get("sport") or settings.sport:
        body["sport"] = _sport(values.get("sport", ""), settings)  # a price list of what is known needs none
    _price(values, settings, body, odd)
    _made(values, settings, body, odd)
    _meant(values, settings, body, odd)
    return body


def _line(
    body: dict[str, Any], values: dict[str, str], settings: Settings, told: System | None, colours: Colours, odd: _Odd
) -> dict[str, Any]:
    """The size's part of a line put to its model's; a line of a price list has none."""
    if "size" not in values:
        return body
    written_system = values.get("system", "")
    system = labels.system_of(written_system) if written_system else None
    if written_system and system is None:
        raise _Refused(f"“{written_system}” isn't a size system (EU, UK, US men, US women, UK child, JP, Mondopoint).")
    if not values.get("size"):
        raise _Refused("It has no size.")
    ahead = cells.number(values["runs_ahead"]) if values.get("runs_ahead") else settings.runs_ahead
    if ahead is not None and not 0 <= ahead <= MOST_AHEAD:
        raise _Refused(f"No maker's sizes run {ahead:g} ahead.")
    size = _size(values["size"], system or told or settings.system, settings, ahead)
    if size.odd:
        odd.append(size.odd)
    width = words.width(values.get("width", ""), size.system, settings.words.get("width", {}))
    body |= {
        "system": size.system, "label": size.label, "eu_label": size.eu_label, "width": width,
        "colour": _colour(values.get("colour", ""), settings, colours, odd), "code": values.get("code", "")[:60],
    }  # fmt: skip
    if size.runs_ahead is not None:
        body["runs_ahead"] = size.runs_ahead
    if values.get("gtin"):
        try:
            body["gtin"] = cells.gtin(values["gtin"])
        except ValueError as error:
            odd.append(f"Left out: {error}.")
    _pairs(values, settings, body, odd)
    _inside(values, body, odd)
    return body


def _sport(text: str, settings: Settings) -> Sport:
    if not text:
        if settings.sport is None:
            raise _Refused("It names no sport: say which sport this list is for.")
        return settings.sport
    return words.sport(text, settings.words.get("sport", {}))


MOST_AHEAD = 3.0


def _size(text: str, system: System | None, settings: Settings, ahead: float | None) -> labels.Size:
    """A size, its children's letter read as the list is said to mean it."""
    try:
        return labels.size(text, system, ahead)
    except Asked:
        if settings.child is None:
            raise
        return labels.size(text, labels.CHILDREN_OF[settings.child], ahead)


def _colour(text: str, settings: Settings, colours: Colours, odd: _Odd) -> str:
    if not text:
        return ""
    try:
        return colours.read(text, settings.words.get("colour", {}))
    except Asked as asked:
        odd.ask(asked, "Until then it is kept as written.")
        return text[:60]


def _price(values: dict[str, str], settings: Settings, body: dict[str, Any], odd: _Odd) -> None:
    """What the shop asks, and what it pays."""
    for name in ("price", "cost"):
        if not (text := values.get(name)):
            continue
        if words.is_no_price(text):
            if text.strip("-–— "):
                odd.append(f"Its {name} is “{short(text)}”: none is kept.")
            continue
        found = cells.money(text, settings.list_currency or settings.currency)
        currency = values.get("currency", "").upper() or found.currency
        if currency != settings.currency:
            other = f"Its {name} is in {currency[:12]}, the shop's money is {settings.currency}"
            odd.append(f"{other}: the {name} is left out.")
        else:
            body[f"{name}_minor"] = found.minor


def _meant(values: dict[str, str], settings: Settings, body: dict[str, Any], odd: _Odd) -> None:
    """What the shoe is meant for, as far as the list says."""
    if not (sport := body.get("sport")):
        return
    said, own = settings.words.get("meant_for", {}), values.get("meant_for", "")
    try:
        meant = meant_for(sport, values.get("sport", ""), own, body["model"], said)
    except Asked as asked:
        odd.ask(asked, "Nothing is kept of it.")
        meant = meant_for(sport, values.get("sport", ""), "", body["model"], said)
    if meant:
        body["meant_for"] = meant


def _made(values: dict[str, str], settings: Settings, body: dict[str, Any], odd: _Odd) -> None:
    """How the shoe is made, as far as the list says."""
    if values.get("upper"):
        try:
            upper = words.upper(values["upper"], settings.words.get("upper", {}))
        except Asked as asked:
            odd.ask(asked, "None is kept.")
        else:
            body |= {"upper": upper} if upper else {}
    sport = body.get("sport")
    built = _or_odd(cells.one_of, values.get("build", ""), odd, BUILDS, "a build")
    if built:
        body["build"] = built
    elif sport:
        body["build"] = BUILD_OF[sport]
    body["build_said"] = built is not None
    if values.get("reinforced"):
        body["reinforced"] = cells.number(values["reinforced"])
        if not 0 <= body["reinforced"] <= 1:
            raise _Refused("The share that is reinforced must be between 0 and 1.")
    if values.get("last"):
        body["last"] = values["last"][:60]
    told = [n for n, text in values.items() if text and n in HOW_MADE]
    if not told:
        return
    choices = {n: _or_odd(cells.one_of, values[n], odd, CHOICES[n], f"a {n}") for n in told if n in KIND_FIELDS}
    features = {n: _or_odd(cells.yes_no, values[n], odd) for n in told if n in FEATURES}
    properties: dict[str, float] = {}
    for name in told:
        if name not in PROPERTIES:
            continue
        if sport is None:
            raise _Refused("It names no sport: say which sport this list is for.")
        value, drawn = cells.number(values[name]), scale(name, sport)
        room = (drawn.high - drawn.low) / 2
        if not drawn.low - room <= value <= drawn.high + room:
            raise _Refused(f"{drawn.name} {value:g} {drawn.unit} can't be ({drawn.low:g} to {drawn.high:g}).")
        properties[name] = value
    for kind, found in (("choices", choices), ("features", features), ("properties", properties)):
        if kept := {n: value for n, value in found.items() if value is not None}:
            body[kind] = kept


HOW_MADE = {*KIND_FIELDS, *FEATURES, *PROPERTIES}


def _or_odd(reader: Callable[..., Any], text: str, odd: _Odd, *known: object) -> Any:
    """What a word says of how the shoe is made; a word nobody knows holds no line up, and none is kept."""
    if not text:
        return None
    try:
        return reader(text, *known)
    except ValueError as error:
        odd.append(f"{error}: none is kept.")
        return None


def _inside(values: dict[str, str], body: dict[str, Any], odd: _Odd) -> None:
    """The inside as the sheet tells it, and what is to be expected of it."""
    told = {n: cells.number(values[n]) for n in INNER if values.get(n)}
    size = {n: body.get(n) for n in ("sport", "build", "system", "label", "width", "runs_ahead")}
    expected = _expected(*size.values())
    if not told:
        body["facts"], body["known_from"] = [*expected[0], *[None] * 8], "label"
        return
    for name, value in told.items():
        zone = INNER.index(name)
        low, high = LIMITS_MM[zone]
        if not low <= value <= high:
            raise _Refused(f"An inner {name.removesuffix('_mm').replace('_', ' ')} of {value:g} mm can't be.")
        if abs(value - expected[0][zone]) > FAR * expected[1][zone]:
            odd.append(
                f"Its inner {name.removesuffix('_mm').replace('_', ' ')}, {value:g} mm, is "
                f"{abs(value - expected[0][zone]):.0f} mm {'more' if value > expected[0][zone] else 'less'} than its "
                "size says: look again."
            )
    readings = [
        ShoeReading(zone=zone, mm=told[name], source="sheet")
        for zone, name in zip(FIT_ZONES, INNER, strict=True)
        if name in told
    ]
    given = InnerIn(readings=readings, **size)
    body["read"], body["facts"], body["known_from"] = told, facts(given), surest(given)


FAR = 4.0
"""Spreads from what a label says at which a maker's number is looked at again. House default."""


@lru_cache(maxsize=20_000)
def _expected(
    sport: Sport, build: Build, system: System, label: float, width: str, runs_ahead: float | None
) -> tuple[tuple[float, ...], tuple[float, ...]]:
    """What a label says of the four zones, mm, and one standard deviation of each."""
    given = InnerIn(sport=sport, build=build, system=system, label=label, width=width, runs_ahead=runs_ahead)
    return by_label(given), tuple(SPREADS.whole(zone) for zone in range(len(FIT_ZONES)))


def _against_earlier(row: int, body: dict[str, Any], settings: Settings, seen: _Seen, odd: _Odd) -> None:
    """What two rows of one sheet say differently of one thing."""
    if "model" not in body:
        first = seen.codes.setdefault(body["gtin"], row)
        if first != row:
            odd.append(
                f"The same bar code stands in {seen.places.told(first)} already; its pairs are added to that one's."
            )
        return
    model = (body["maker"].lower(), body["model"].lower())
    key = (*model, body.get("width", ""), str(body.get("eu_label")), body.get("colour", ""))
    first = seen.sizes.setdefault(key, row)
    if first != row:
        added = "its pairs are added to that one's" if "pairs" in body else "it says nothing more"
        odd.append(f"The same size stands in {seen.places.told(first)} already; {added}.")
    if code := body.get("gtin"):
        held = seen.codes.setdefault(code, row)
        if held != row and first == row:
            raise _Refused(
                f"Its bar code {code.lstrip('0')} is that of {seen.places.told(held)} already, another size."
            )
    for kind, verb in (("price_minor", "gives this model"), ("cost_minor", "says this model costs")):
        if kind not in body:
            continue
        minor, where = seen.prices.setdefault((*model, kind), (body[kind], row))
        if minor != body[kind]:
            at = seen.places.told(where)
            odd.append(f"{at[0].upper()}{at[1:]} {verb} {Money(minor, settings.currency)}; that one counts.")
            del body[kind]


def amount(minor: int | None, currency: str) -> str:
    """A price as a column writes it: without its currency, which has a column of its own."""
    return "" if minor is None else Money(minor, currency).amount
