"""Whom to tell, and how: a minor's guardian, only who agreed, by the way they prefer where it is known."""

from __future__ import annotations

from datetime import date

import pytest
from pydantic import ValidationError

from kalon.core.care.reach import Reach, age, arrival_text, whom

TODAY = date(2026, 11, 30)
OWN = Reach(phone="+44 20 7946 0958", email="a@example.org")
BOTH = Reach(phone="123456", guardian="Mira Ostley", guardian_phone="020 7946 0001")


@pytest.mark.parametrize(
    ("reach", "born", "agreed", "name", "how", "to"),
    [
        (OWN, None, True, "Ann Lee", "call", OWN.phone),
        (OWN, date(1990, 1, 1), True, "Ann Lee", "call", OWN.phone),
        (OWN.model_copy(update={"way": "email"}), None, True, "Ann Lee", "write an e-mail", "a@example.org"),
        (OWN.model_copy(update={"way": "message"}), None, True, "Ann Lee", "write a message", OWN.phone),
        (Reach(email="a@example.org"), None, True, "Ann Lee", "write an e-mail", "a@example.org"),
        (Reach(phone="123456", way="email"), None, True, "Ann Lee", "call", "123456"),
        (BOTH, date(2008, 12, 1), True, "Mira Ostley", "call", "020 7946 0001"),  # eighteen tomorrow
        (BOTH, date(2008, 11, 30), True, "Ann Lee", "call", "123456"),  # eighteen today
        (
            BOTH.model_copy(update={"guardian": ""}),
            date(2015, 5, 5),
            True,
            "Ann Lee's guardian",
            "call",
            "020 7946 0001",
        ),
    ],
)
def test_whom_to_tell_and_how(reach: Reach, born: date | None, agreed: bool, name: str, how: str, to: str) -> None:
    found = whom(reach, "Ann Lee", born, TODAY, agreed=agreed)
    assert (found.name, found.how, found.to, found.not_yet) == (name, how, to, "")


@pytest.mark.parametrize(
    ("reach", "born", "agreed", "says"),
    [
        (None, None, True, "hasn't agreed"),
        (OWN, None, False, "hasn't agreed"),
        (Reach(), None, True, "Ann Lee can't be reached"),
        (OWN, date(2015, 5, 5), True, "A guardian of Ann Lee can't be reached"),
    ],
)
def test_nobody_is_told_who_didnt_agree_or_cant_be(
    reach: Reach | None, born: date | None, agreed: bool, says: str
) -> None:
    found = whom(reach, "Ann Lee", born, TODAY, agreed=agreed)
    assert (found.name, found.to) == ("", "")
    assert says in found.not_yet


@pytest.mark.parametrize("phone", ["12", "call me", "+", "0123456789" * 5, "12345;x"])
def test_what_is_no_number_is_refused(phone: str) -> None:
    with pytest.raises(ValidationError):
        Reach(phone=phone)


@pytest.mark.parametrize("email", ["a", "a@b", "a b@c.de", "a@b.c d"])
def test_what_is_no_address_is_refused(email: str) -> None:
    with pytest.raises(ValidationError):
        Reach(email=email)


def test_the_text_names_the_pair_the_shop_and_what_was_left() -> None:
    own = whom(OWN, "Ann Lee", None, TODAY, agreed=True)
    text = arrival_text(own, "Ann Lee", "Velmire Tern, EU 42", "Harbour", "25.00 EUR")
    assert text.startswith(
        "Hello Ann Lee, your pair, Velmire Tern, EU 42, is here at Harbour. 25.00 EUR was left for it."
    )
    guardian = whom(BOTH, "Ann Lee", date(2015, 5, 5), TODAY, agreed=True)
    assert "the pair for Ann Lee" in arrival_text(guardian, "Ann Lee", "x", "y", "")
    assert [age(date(2008, 2, 29), d) for d in (date(2026, 2, 28), date(2026, 3, 1))] == [17, 18]
