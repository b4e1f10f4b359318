"""Whom to tell that something is here, how, and in which words. Nothing is sent by itself."""

from __future__ import annotations

from datetime import date
from typing import Literal

from pydantic import Field

from ..contract import Contract

OF_AGE = 18
"""From this age on they are told themselves. House default: from which age is the law's matter."""
PHONE = r"^(|\+?[0-9][0-9 ()/.-]{3,38})$"
EMAIL = r"^(|[^@\s]+@[^@\s]+\.[^@\s]+)$"
Way = Literal["", "call", "message", "email"]
WAY_WORDS: dict[Way, str] = {"": "", "call": "call", "message": "write a message", "email": "write an e-mail"}


class Reach(Contract):
    """How somebody is reached, and a guardian of a minor. `way` is what they prefer."""

    phone: str = Field("", max_length=40, pattern=PHONE)
    email: str = Field("", max_length=200, pattern=EMAIL)
    guardian: str = Field("", max_length=120)
    guardian_phone: str = Field("", max_length=40, pattern=PHONE)
    guardian_email: str = Field("", max_length=200, pattern=EMAIL)
    way: Way = ""


class Whom(Contract):
    """Whom to tell and how; or, where nobody can be told, why (`not_yet`) and an empty name."""

    name: str
    how: str
    to: str
    not_yet: str


def whom(reach: Reach | None, name: str, born_on: date | None, today: date, *, agreed: bool) -> Whom:
    """Whom to tell of a matter of theirs: a minor's guardian, else themselves; only who agreed to it."""
    minor = born_on is not None and age(born_on, today) < OF_AGE
    if not reach or not agreed:
        return Whom(name="", how="", to="", not_yet=f"{name} hasn't agreed to be reached: they see it when they come.")
    phone, email = (reach.guardian_phone, reach.guardian_email) if minor else (reach.phone, reach.email)
    if not phone and not email:
        who = f"A guardian of {name}" if minor else name
        return Whom(name="", how="", to="", not_yet=f"{who} can't be reached: ask for a telephone number.")
    by_mail = bool(email) and (reach.way == "email" or not phone)
    way: Way = "email" if by_mail else ("message" if reach.way == "message" else "call")
    told = (reach.guardian or f"{name}'s guardian") if minor else name
    return Whom(name=told, how=WAY_WORDS[way], to=email if by_mail else phone, not_yet="")


def age(born_on: date, today: date) -> int:
    """Whole years."""
    return today.year - born_on.year - ((today.month, today.day) < (born_on.month, born_on.day))


def arrival_text(of: Whom, athlete: str, pair: str, shop: str, left: str) -> str:
    """What to say or send when a pair is here; `left` is what was left for it, empty for nothing."""
    whose = "your pair" if of.name == athlete else f"the pair for {athlete}"
    paid = f" {left} was left for it." if left else ""
    return (
        f"Hello {of.name}, {whose}, {pair}, is here at {shop}.{paid} Come by when it suits, with the socks it is for."
    )
