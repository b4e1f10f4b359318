"""Shops from the command line: a new one with its first manager and what it counts in, and changes of that.

What isn't given is asked for where somebody sits at a terminal, each answer checked before the next question.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

from ..core.errors import BadInput, Conflict, KalonError, NotFound
from ..core.house import House
from ..core.sheets.cells import CURRENCIES
from ..core.systems import SYSTEMS
from ..store import house, staff
from ..store.database import Cx, Row, Who
from ..store.shop import known_zones
from ..store.staff import act_as, digest

Ask = Callable[[str], str]
Tell = Callable[[str], None]


def machine_zone() -> str:
    """The machine's own time zone; UTC where it says none."""
    try:
        told = Path("/etc/timezone").read_text(encoding="ascii").strip()
    except (OSError, UnicodeDecodeError):
        told = str(Path("/etc/localtime").resolve()).partition("zoneinfo/")[2]
    return told if told in known_zones() else "UTC"


def _zone(text: str) -> str:
    near = {z.lower(): z for z in known_zones()}
    if text.lower() not in near:
        raise BadInput(f"There is no time zone called {text}. They are written like Europe/Berlin.")
    return near[text.lower()]


def _currency(text: str) -> str:
    code = text.upper()
    if code not in CURRENCIES:
        raise BadInput(f"{text} isn't a currency's code (EUR, GBP, CHF, USD, …).")
    return code


def _system(text: str) -> str:
    slug = text.lower().replace(" ", "_")
    if slug not in SYSTEMS:
        raise BadInput(f"{text} isn't a size system: {', '.join(SYSTEMS)}.")
    return slug


def _tax(text: str) -> str:
    try:
        rate = float(text.replace(",", ".").removesuffix("%"))
    except ValueError:
        raise BadInput(f"{text} is no number of percent.") from None
    if not 0 <= rate <= 50:
        raise BadInput("A sales tax is 0 to 50 %.")
    return f"{rate:g}"


def _yes(text: str) -> str:
    word = text.strip().lower()
    if word not in ("yes", "y", "no", "n"):
        raise BadInput("Say yes or no.")
    return "yes" if word.startswith("y") else "no"


def _named(text: str) -> str:
    if not text.strip():
        raise BadInput("It needs a name.")
    return text.strip()


@dataclass(frozen=True)
class Question:
    """What has to be known of a shop: its slug, the question, what is taken where nobody says, and what checks it."""

    slug: str
    text: str
    usual: Callable[[], str] = field(default=str)
    check: Callable[[str], str] = field(default=_named)


HOUSE = (
    Question("zone", "Its time zone", machine_zone, _zone),
    Question("currency", "What its prices are in", lambda: "EUR", _currency),
    Question("sizes", f"The size system it speaks in ({', '.join(SYSTEMS)})", lambda: "eu", _system),
    Question(
        "tax", "Its sales tax in percent, 0 where there is none (bands by size are set in House)", lambda: "0", _tax
    ),
    Question("tax_within", "Whether its prices hold the tax", lambda: "yes", _yes),
)
NEW = (
    Question("shop", "What is the shop called"),
    *HOUSE,
    Question("name", "Who is its first manager, by name"),
    Question("login", "What they sign in as"),
)
"""What has to be known of a new shop, in the order it is asked."""


def answers(
    questions: tuple[Question, ...], given: Mapping[str, str | None], ask: Ask | None, tell: Tell
) -> dict[str, str]:
    """An answer to every question: as given, else asked for until it is one, else as usual. Raises `BadInput` where
    nobody can be asked and nothing is usual, or what was given is no answer."""
    found: dict[str, str] = {}
    for question in questions:
        said = given.get(question.slug)
        if said is not None:
            found[question.slug] = question.check(said)
            continue
        usual = question.usual()
        if ask is None:
            if not usual:
                raise BadInput(f"{question.text}? Say it with --{question.slug.replace('_', '-')}.")
            found[question.slug] = usual
            continue
        while question.slug not in found:
            text = ask(f"{question.text}{f' [{usual}]' if usual else ''}: ").strip()
            try:
                found[question.slug] = question.check(text or usual)
            except KalonError as error:
                tell(error.text)
    return found


def body_of(said: Mapping[str, str], before: House) -> dict[str, Any]:
    """The house with what was said of it."""
    body = before.model_dump(mode="json", exclude={"version"})
    for slug, name in (("zone", "time_zone"), ("currency", "currency"), ("sizes", "size_system")):
        if slug in said:
            body[name] = said[slug]
    if "tax" in said:
        rate = float(said["tax"])
        body["tax"]["bands"] = [{"up_to": None, "rate_pct": rate}] if rate else []
    if "tax_within" in said:
        body["tax"]["price_includes"] = said["tax_within"] == "yes"
    return body


def listing(cx: Cx) -> list[Row]:
    """Every shop with its chain and how many sign in; the connection must own the tables."""
    return cx.execute(
        "SELECT h.id, h.name, c.name AS chain, h.chain_id, count(s.id) FILTER (WHERE s.active) AS people "
        "FROM shop h JOIN chain c ON c.id = h.chain_id LEFT JOIN staff s ON s.shop_id = h.id "
        "GROUP BY h.id, c.id ORDER BY c.name, h.name"
    ).fetchall()


def named(cx: Cx, name: str) -> Row:
    """A shop by its name. Raises `NotFound` with those there are."""
    there = listing(cx)
    found = [r for r in there if r["name"].casefold() == name.strip().casefold()]
    if not found:
        known = ", ".join(f"“{r['name']}”" for r in there) or "none yet"
        raise NotFound(f"There is no shop called “{name}” here ({known}). ./kalon shop add makes one.")
    return found[0]


def add(cx: Cx, said: Mapping[str, str], password: str, chain: str | None) -> Who:
    """A new shop with its first manager, in a chain that is there or in one of its own; all of it or nothing.

    Raises `Conflict` for a name that is taken, `NotFound` for a chain that isn't there, `BadInput`."""
    there = listing(cx)
    if any(r["name"].casefold() == said["shop"].casefold() for r in there):
        raise Conflict(f"There is a shop called “{said['shop']}” already.", code="shop-there")
    chain_id = None
    if chain:
        of = {r["chain_id"]: r["chain"] for r in there if r["chain"].casefold() == chain.strip().casefold()}
        if not of:
            known = ", ".join(sorted({f"“{r['chain']}”" for r in there})) or "none yet"
            raise NotFound(f"There is no chain called “{chain}” here ({known}); without --chain it is one of its own.")
        chain_id = next(iter(of))
    shop_id = staff.add_shop(cx, said["shop"], chain_id)
    person = staff.add_staff(cx, shop_id, said["login"], said["name"], "manager", password)
    who = Who(person, shop_id, said["shop"], said["login"], said["name"], "manager")
    _save(cx, who, said)
    return who


def change(cx: Cx, name: str, said: Mapping[str, str], new_name: str | None) -> None:
    """What a shop is called and counts in from now on, as one of its managers would set it."""
    shop = named(cx, name)
    if said:
        _save(cx, staff.a_manager(cx, shop["name"]), said)
    if new_name:
        if any(r["name"].casefold() == new_name.casefold() and r["id"] != shop["id"] for r in listing(cx)):
            raise Conflict(f"There is a shop called “{new_name}” already.", code="shop-there")
        cx.execute("UPDATE shop SET name = %s WHERE id = %s", [_named(new_name), shop["id"]])


def _save(cx: Cx, who: Who, said: Mapping[str, str]) -> None:
    token = act_as(cx, who)
    before = house.current(cx)
    house.save(cx, who, before.version, body_of(said, before))
    cx.execute("RESET ROLE")
    cx.execute("DELETE FROM session WHERE token_hash = %s", [digest(token)])
