"""What a day, a month or a year comes to: by rate of tax and by person. Amounts are whole minor units."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable
from datetime import date

from ..contract import Contract, Day
from ..house import Rounding, tax_within
from .journal import DEPOSITS, Kind


class Taken(Contract):
    """Lines of one day that are alike in kind, rate, person and currency, put together; a line by itself is one too.
    `rate_pct` is none where no tax was reckoned. Pairs out are sold, pairs back came back, whatever became of them.
    `rounding` is the one its day was closed by, none while it is open."""

    day: Day
    kind: Kind
    rate_pct: float | None
    by: str
    currency: str
    lines: int = 1
    out: int = 0
    back: int = 0
    discount_minor: int = 0
    tax_minor: int = 0
    total_minor: int = 0
    rounding: Rounding | None = None


class AtRate(Contract):
    """What one rate of tax took in: without tax, the tax, and both."""

    rate_pct: float | None
    net_minor: int
    tax_minor: int
    total_minor: int


class OfPerson(Contract):
    """What one person took in."""

    by: str
    lines: int
    out: int
    back: int
    total_minor: int


class OfKind(Contract):
    """What lines of one kind come to."""

    kind: Kind
    lines: int
    total_minor: int


class Sums(Contract):
    """A time's takings in one currency. `total_minor` is all money, with deposits; rates hold what was sold alone."""

    currency: str
    lines: int
    out: int
    back: int
    discount_minor: int
    net_minor: int
    tax_minor: int
    sold_minor: int
    deposits_minor: int
    total_minor: int
    rates: list[AtRate]
    people: list[OfPerson]
    kinds: list[OfKind]


def sums(taken: Iterable[Taken], rounding: Rounding) -> list[Sums]:
    """What it all comes to, a currency each, in the order of their names.

    With `line` the tax is the sum of the lines'. With `total` it is reckoned once a day and rate from what that rate
    took in, and a month is the sum of its days, since a day is what was handed over; one that is closed by what it was
    closed by."""
    by_currency: dict[str, list[Taken]] = defaultdict(list)
    for t in taken:
        by_currency[t.currency].append(t)
    return [_of_currency(currency, rows, rounding) for currency, rows in sorted(by_currency.items())]


def _of_currency(currency: str, rows: list[Taken], rounding: Rounding) -> Sums:
    sold = [t for t in rows if t.kind not in DEPOSITS]
    rates = _rates(sold, rounding)
    people: dict[str, list[Taken]] = defaultdict(list)
    kinds: dict[Kind, list[Taken]] = defaultdict(list)
    for t in rows:
        people[t.by].append(t)
        kinds[t.kind].append(t)
    tax, whole = sum(r.tax_minor for r in rates), sum(t.total_minor for t in rows)
    sold_minor = sum(t.total_minor for t in sold)
    return Sums(
        currency=currency,
        lines=sum(t.lines for t in rows),
        out=sum(t.out for t in rows),
        back=sum(t.back for t in rows),
        discount_minor=sum(t.discount_minor for t in rows),
        net_minor=sold_minor - tax,
        tax_minor=tax,
        sold_minor=sold_minor,
        deposits_minor=whole - sold_minor,
        total_minor=whole,
        rates=rates,
        people=[
            OfPerson(
                by=by,
                lines=sum(t.lines for t in own),
                out=sum(t.out for t in own),
                back=sum(t.back for t in own),
                total_minor=sum(t.total_minor for t in own),
            )
            for by, own in sorted(people.items())
        ],
        kinds=[
            OfKind(kind=kind, lines=sum(t.lines for t in own), total_minor=sum(t.total_minor for t in own))
            for kind, own in sorted(kinds.items())
        ],
    )


def _rates(sold: list[Taken], rounding: Rounding) -> list[AtRate]:
    daily: dict[tuple[float | None, date, Rounding], list[int]] = defaultdict(lambda: [0, 0])
    for t in sold:
        entry = daily[t.rate_pct, t.day, t.rounding or rounding]
        entry[0] += t.total_minor
        entry[1] += t.tax_minor
    found: dict[float | None, list[int]] = defaultdict(lambda: [0, 0])
    for (rate, _, by), (total, by_line) in daily.items():
        found[rate][0] += total
        found[rate][1] += by_line if by == "line" else tax_within(total, rate)
    return [
        AtRate(rate_pct=rate, net_minor=total - tax, tax_minor=tax, total_minor=total)
        for rate, (total, tax) in sorted(found.items(), key=lambda f: (f[0] is None, f[0] or 0))
    ]


class Bar(Contract):
    """What came in and what went back on one day, or in one month (its first day), in one currency."""

    on: Day
    in_minor: int
    back_minor: int


def bars(taken: Iterable[Taken], currency: str, *, monthly: bool) -> list[Bar]:
    """Money in and money back by day, or by month, in order; days with nothing have none."""
    found: dict[date, list[int]] = defaultdict(lambda: [0, 0])
    for t in taken:
        if t.currency == currency:
            entry = found[t.day.replace(day=1) if monthly else t.day]
            entry[t.total_minor < 0] += abs(t.total_minor)
    return [Bar(on=on, in_minor=came, back_minor=went) for on, (came, went) in sorted(found.items())]
