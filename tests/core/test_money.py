"""Money in whole minor units, and tax by the label a pair is sold under."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from kalon.core.house import Tax, TaxBand, tax_on
from kalon.core.money import Money, minor_digits
from kalon.core.sizes import SizeConvertIn, size_convert

CHILDREN = Tax(system="uk", bands=[TaxBand(up_to=5.5, rate_pct=0), TaxBand(rate_pct=20)])


@pytest.mark.parametrize(
    ("minor", "currency", "text"),
    [(12950, "EUR", "129.50 EUR"), (5, "GBP", "0.05 GBP"), (12950, "JPY", "12950 JPY"), (12950, "KWD", "12.950 KWD"),
     (-1205, "CHF", "-12.05 CHF"), (0, "SEK", "0.00 SEK")],
)  # fmt: skip
def test_written_to_the_last_unit(minor: int, currency: str, text: str) -> None:
    """Digits by currency: ISO 4217, from memory."""
    assert str(Money(minor, currency)) == text
    assert Money(minor, currency).amount == text.split()[0]


@given(minor=st.integers(0, 10**9), currency=st.sampled_from(["EUR", "JPY", "BHD"]))
def test_nothing_is_rounded_away(minor: int, currency: str) -> None:
    money = Money(minor, currency)
    assert Money.of(float(money.amount), currency) == money == Money.of(money.whole, currency)
    assert minor_digits(currency) in (0, 2, 3)


@pytest.mark.parametrize(
    ("amount", "currency", "minor"), [(1.005, "EUR", 101), (2.5, "JPY", 3), (0.0005, "KWD", 1), (19.999, "GBP", 2000)]
)
def test_half_a_unit_goes_up(amount: float, currency: str, minor: int) -> None:
    """As tills round (common practice, no source)."""
    assert Money.of(amount, currency).minor == minor


def test_two_currencies_never_meet() -> None:
    """150 of one isn't more than 140 of another, nor the half of 300."""
    eur, more, yen = Money(15_000, "EUR"), Money(30_000, "EUR"), Money(14_000, "JPY")
    assert (eur + more, eur * 3, more.per(eur), eur < more) == (Money(45_000, "EUR"), Money(45_000, "EUR"), 2.0, True)
    assert max(eur, more) == more
    assert eur != Money(15_000, "JPY")
    for wrong in (
        lambda: eur + yen,
        lambda: eur < yen,
        lambda: eur >= yen,
        lambda: eur.per(yen),
        lambda: max(eur, yen),
    ):
        with pytest.raises(ValueError, match=r"^(EUR and JPY|JPY and EUR) can"):
            wrong()


def test_the_label_sold_counts_and_not_the_exact_size() -> None:
    """EU 39 is exactly UK 5.71 and sold as UK 5.5: a child's size where those go up to 5.5. Common practice, no source."""
    sizes = size_convert(SizeConvertIn(system="eu", label=39))
    assert sizes.labels["uk"] == pytest.approx(5.71, abs=0.01)
    assert sizes.nearest["uk"] == 5.5
    found = tax_on(CHILDREN, Money(6000, "GBP"), "eu", 39)
    assert found is not None
    assert (found.rate_pct, found.tax_minor, found.total_minor, found.currency) == (0, 0, 6000, "GBP")


@given(price=st.integers(0, 10**7), rate=st.floats(0, 50), included=st.booleans())
def test_tax_is_whole_units_and_never_more_than_its_share(price: int, rate: float, included: bool) -> None:
    policy = Tax(bands=[TaxBand(rate_pct=rate)], price_includes=included)
    found = tax_on(policy, Money(price, "EUR"), "uk", 8.0)
    assert found is not None
    exact = price * rate / (100 + rate) if included else price * rate / 100
    assert abs(found.tax_minor - exact) <= 0.5 + 1e-6
    assert found.total == Money(price if included else price + found.tax_minor, "EUR")


@pytest.mark.parametrize(
    ("system", "label", "rate"),
    [("eu", 20, 0), ("eu", 16, 0), ("uk_child", 3, 0), ("eu", 52, 20), ("us_men", 18, 20), ("mondopoint_mm", 340, 20),
     ("uk", 5.5, 0), ("uk", 6, 20), ("eu", 38.5, 0), ("eu", 39.5, 20)],
)  # fmt: skip
def test_every_size_has_a_band(system: str, label: float, rate: float) -> None:
    """Also those the bands' system has no print for: UK's grown-up labels begin at 1. Common practice, no source."""
    found = tax_on(CHILDREN, Money(6000, "GBP"), system, label)  # type: ignore[arg-type]
    assert found is not None
    assert found.rate_pct == rate
    assert tax_on(Tax(), Money(6000, "GBP"), "eu", 42) is None


def test_a_label_sold_in_the_bands_own_system_counts_as_it_is_printed() -> None:
    """UK 5.75 is sold by some makers; it isn't rounded down into the children's band."""
    found = tax_on(CHILDREN, Money(6000, "GBP"), "uk", 5.75)
    assert found is not None
    assert found.rate_pct == 20


# US women's 8 is the man's less the maker's step, and that one over UK's: UK 5.5, 6 or 5. Common practice, no source.
@pytest.mark.parametrize(("ahead", "rate"), [(None, 0), (1.5, 0), (1.0, 20), (2.0, 0)])
def test_a_band_of_another_system_goes_by_the_makers_own_step(ahead: float | None, rate: float) -> None:
    found = tax_on(CHILDREN, Money(6000, "GBP"), "us_women", 8, ahead)
    assert found is not None
    assert found.rate_pct == rate


@pytest.mark.parametrize(("price", "rate", "tax"), [(250, 1, 3), (150, 1, 2), (249, 1, 2), (10_050, 5, 503)])
def test_half_a_unit_of_tax_is_rounded_up(price: int, rate: float, tax: int) -> None:
    """2.5 is 3 and 1.5 is 2: half up, as tills do (common practice, no source), not to the even unit."""
    found = tax_on(Tax(bands=[TaxBand(rate_pct=rate)], price_includes=False), Money(price, "EUR"), "uk", 8.0)
    assert found is not None
    assert found.tax_minor == tax
