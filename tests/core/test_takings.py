"""Takings to the minor unit: sums of a hundred thousand random lines against exact fractions, and what is taken off."""

from __future__ import annotations

from collections import defaultdict
from datetime import date, timedelta
from fractions import Fraction
from random import Random

import pytest

from kalon.core.errors import BadInput, Conflict
from kalon.core.house import Tax, TaxBand, tax_on, tax_within
from kalon.core.money import Money, nearest
from kalon.core.takings.asked import Lowered, SaidPrice, asked
from kalon.core.takings.journal import check_back, moved, number_text
from kalon.core.takings.period import period
from kalon.core.takings.sums import Taken, sums

RATES = (5.5, 7.0, 8.1, 13.5, 19.0, 19.6, 20.0, 25.5)
DAY = date(2026, 3, 2)


def half_up(amount: Fraction) -> int:
    """Halves away from nothing, by the books: written anew, sharing nothing with what is tested."""
    doubled = abs(amount) * 2
    units = (doubled.numerator // doubled.denominator + 1) // 2
    return units if amount >= 0 else -units


def policy(rate: float, *, includes: bool = True) -> Tax:
    return Tax(system="eu", bands=[TaxBand(rate_pct=rate)], price_includes=includes)


def test_half_a_unit_goes_away_from_nothing() -> None:
    assert [nearest(Fraction(n, 2)) for n in (1, 3, -1, -3, 2, 0)] == [1, 2, -1, -2, 1, 0]


@pytest.mark.parametrize("includes", [True, False])
def test_sums_of_a_hundred_thousand_lines_are_those_of_exact_fractions(includes: bool) -> None:
    random = Random(11)
    lines: list[Taken] = []
    exact: dict[float, int] = defaultdict(int)
    exact_tax: dict[float, int] = defaultdict(int)
    by_day: dict[tuple[date, float], int] = defaultdict(int)
    cash = 0
    standing: list[tuple[date, float, int]] = []
    while len(lines) < 100_000:
        day = DAY + timedelta(days=len(lines) // 1_000)
        by = random.choice(("Ilse", "Bram"))
        if standing and random.random() < 0.25:
            place = random.randrange(len(standing))
            _, rate, there = standing[place]
            amount = there if random.random() < 0.6 else random.randint(0, there)
            total, tax = moved(there, -amount, rate)
            r = Fraction(str(rate)) / 100
            expected = half_up((there - amount) * r / (1 + r)) - half_up(there * r / (1 + r))
            assert (total, tax) == (-amount, expected)
            standing[place] = (day, rate, there - amount)
            kind, out, back = "refund", 0, 1
        else:
            rate = random.choice(RATES)
            price = random.choice((random.randint(0, 60_000), random.randint(100, 900) * 100, random.randint(1, 10**8)))
            found = tax_on(policy(rate, includes=includes), Money(price, "EUR"), "eu", 42)
            assert found
            r = Fraction(str(rate)) / 100
            assert found.tax_minor == half_up(price * r / (1 + r) if includes else price * r)
            total, tax = found.total_minor, found.tax_minor
            standing.append((day, rate, total))
            kind, out, back = "sale", 1, 0
        lines.append(
            Taken(
                day=day,
                kind=kind,
                rate_pct=rate,
                by=by,
                currency="EUR",
                out=out,
                back=back,
                tax_minor=tax,
                total_minor=total,
            )
        )
        exact[rate] += total
        exact_tax[rate] += tax
        by_day[day, rate] += total
        cash += total
    for rounding in ("line", "total"):
        (found_sums,) = sums(lines, rounding)
        assert found_sums.total_minor == found_sums.sold_minor == cash
        assert {r.rate_pct: r.total_minor for r in found_sums.rates} == dict(exact)
        taxes = {r.rate_pct: r.tax_minor for r in found_sums.rates}
        if rounding == "line":
            assert taxes == dict(exact_tax)
        else:
            wanted: dict[float, int] = defaultdict(int)
            for (_, rate), total in by_day.items():
                wanted[rate] += half_up(total * (r := Fraction(str(rate)) / 100) / (1 + r))
            assert taxes == dict(wanted)
        assert found_sums.net_minor + found_sums.tax_minor == found_sums.sold_minor
        assert sum(p.total_minor for p in found_sums.people) == cash
        assert (found_sums.out, found_sums.back) == (sum(x.out for x in lines), sum(x.back for x in lines))


@pytest.mark.parametrize("rate", RATES)
def test_what_is_given_back_in_parts_takes_all_the_tax_back(rate: float) -> None:
    random = Random(round(rate * 10))
    for _ in range(400):
        total = random.randint(1, 40_000)
        there, tax = total, tax_within(total, rate)
        while there:
            amount = random.randint(1, there)
            by, moved_tax = moved(there, -amount, rate)
            there, tax = there + by, tax + moved_tax
        assert tax == 0


def test_a_hundredth_more_than_stands_is_not_given_back() -> None:
    check_back(Money(100, "EUR"), Money(100, "EUR"))
    with pytest.raises(Conflict, match=r"1\.00 EUR of this sale stands"):
        check_back(Money(100, "EUR"), Money(101, "EUR"))


def test_a_price_is_lowered_by_a_share_or_an_amount() -> None:
    price = Money(12_999, "EUR")
    by_share = asked(price, None, Lowered(pct=10, why="last season"), policy(20), "eu", 42)
    assert by_share and (by_share.discount.minor, by_share.total.minor) == (1_300, 11_699)
    assert by_share.tax and by_share.tax.tax_minor == half_up(Fraction(11_699, 6))
    by_amount = asked(price, None, Lowered(minor=2_999, why="scratched"), policy(20, includes=False), "eu", 42)
    assert by_amount and (by_amount.total.minor, by_amount.tax and by_amount.tax.tax_minor) == (12_000, 2_000)
    with pytest.raises(Conflict, match="more than the pair costs"):
        asked(price, None, Lowered(minor=13_000, why="?"), Tax(), "eu", 42)
    with pytest.raises(ValueError, match="not by both"):
        Lowered(pct=10, minor=100)


def test_a_price_said_counts_only_where_the_shelf_has_none() -> None:
    said = SaidPrice(minor=9_000, currency="EUR")
    assert asked(None, None, Lowered(), Tax(), "eu", 42) is None
    alone = asked(None, said, Lowered(), Tax(), "eu", 42)
    assert alone and (alone.price.minor, alone.said) == (9_000, True)
    shelf = asked(Money(10_000, "EUR"), said, Lowered(), Tax(), "eu", 42)
    assert shelf and (shelf.price.minor, shelf.said) == (10_000, False)


def test_two_currencies_are_never_put_together_and_deposits_are_no_sales() -> None:
    lines = [
        Taken(day=DAY, kind="sale", rate_pct=20, by="A", currency="EUR", out=1, tax_minor=2_000, total_minor=12_000),
        Taken(day=DAY, kind="deposit", rate_pct=None, by="A", currency="EUR", total_minor=3_000),
        Taken(day=DAY, kind="deposit_used", rate_pct=None, by="A", currency="EUR", total_minor=-1_000),
        Taken(day=DAY, kind="sale", rate_pct=None, by="B", currency="JPY", out=1, total_minor=9_800),
    ]
    eur, jpy = sums(lines, "line")
    assert (eur.currency, eur.sold_minor, eur.deposits_minor, eur.total_minor) == ("EUR", 12_000, 2_000, 14_000)
    assert [(r.rate_pct, r.net_minor) for r in eur.rates] == [(20, 10_000)]
    assert (jpy.currency, jpy.total_minor, jpy.tax_minor) == ("JPY", 9_800, 0)


def test_a_month_goes_by_what_its_closed_days_were_closed_by() -> None:
    """Three prices of 0.03 at 20 %: half a hundredth each, 0.03 by line; one and a half of their total, 0.02."""
    line = Taken(day=DAY, kind="sale", rate_pct=20, by="A", currency="EUR", out=1, tax_minor=1, total_minor=3)
    closed = [line.model_copy(update={"rounding": "line"})] * 3
    later = [line.model_copy(update={"day": DAY + timedelta(days=1)})] * 3
    (found,) = sums([*closed, *later], "total")
    assert found.tax_minor == 3 + 2
    (by_line,) = sums([*closed, *later], "line")
    assert by_line.tax_minor == 3 + 3


def test_days_months_and_years_are_read() -> None:
    assert [(p.first, p.last) for p in map(period, ("2028-02", "2026", "2026-11-30"))] == [
        (date(2028, 2, 1), date(2028, 2, 29)), (date(2026, 1, 1), date(2026, 12, 31)), (date(2026, 11, 30), date(2026, 11, 30)),
    ]  # fmt: skip
    for text in ("2026-13", "2026-02-30", "26", "yesterday", "2026-1"):
        with pytest.raises(BadInput, match="no day, month or year"):
            period(text)
    assert number_text(2026, 7) == "2026-0007"


@pytest.mark.parametrize(("rate", "minor", "tax"), [(20.5, 100, 21), (8.1, 500, 41), (19.6, 125, 25), (2.3, 500, 12)])
def test_a_rate_is_what_is_written_and_not_what_a_computer_makes_of_it(rate: float, minor: int, tax: int) -> None:
    """Halves of a unit: 20.5 % of 1.00 are 20.5 cents, which are 21; in binary 0.205 is a little less."""
    found = tax_on(policy(rate, includes=False), Money(minor, "EUR"), "eu", 42)
    assert found is not None
    assert found.tax_minor == tax
