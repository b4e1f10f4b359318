"""The machine over the wire: where it is for tablets, which there are, who works on one; its archive."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Literal
from uuid import UUID

from pydantic import Field, StringConstraints

from .schemas import Wire, Written

TabletName = Annotated[Written, StringConstraints(max_length=60)]


class TrustOut(Wire):
    """How a tablet comes to this machine: securely at `secure`, best first, once it trusts what it gets at `trust`."""

    secure: list[str]
    trust: str | None
    """Where it is told how, in the clear; none where a certificate is used that browsers trust already."""
    fingerprint: str | None
    """SHA-256 of the authority's certificate, hexadecimal."""


class TriedOut(Wire):
    """When it was tried whether the archive can be had back, and what was found."""

    at: datetime
    pages: int
    records: int
    trouble: str | None


class ArchiveOut(Wire):
    """The machine's archive: where it is, how far it goes back, when it was last written and tried; none at all where
    `to` is none."""

    to: str | None
    since: datetime | None
    newest: datetime | None
    bytes: int | None
    trouble: str | None
    tried: TriedOut | None


class TabletOut(Wire):
    """A tablet of the shop."""

    id: UUID
    name: str
    added_at: datetime
    added_by: str
    seen_at: datetime
    seen_by: str | None


class TabletIn(Wire):
    """The browser that asks is a tablet of the shop's from now on. The same id again is the same tablet."""

    id: UUID
    name: TabletName


class TabletChange(Wire):
    """What a tablet is called from now on."""

    name: TabletName


class PersonHere(Wire):
    """Somebody who works where a tablet is, and whether a PIN of theirs counts on it now."""

    id: UUID
    login: str
    name: str
    role: Literal["manager", "fitter", "trainee"]
    pin: bool


class HereOut(Wire):
    """The tablet this browser is, and who works there; no name and nobody where it is none."""

    tablet: str | None
    shop_name: str
    people: list[PersonHere]


class PinIn(Wire):
    """Somebody on a tablet by their PIN."""

    person: UUID
    pin: Annotated[str, Field(max_length=20)]


class OwnPin(Wire):
    """One's own PIN, by one's password; without one there is none any more."""

    password: Annotated[str, Field(max_length=200)]
    pin: Annotated[str, Field(max_length=20)] | None


class ProofIn(Wire):
    """That it is still who is signed in: their PIN on a tablet of the shop's, or their password."""

    pin: Annotated[str, Field(max_length=20)] | None = None
    password: Annotated[str, Field(max_length=200)] | None = None


class QrIn(Wire):
    """What is to be read from a screen by another device's camera."""

    text: Annotated[str, Field(min_length=1, max_length=500)]


class QrOut(Wire):
    """It drawn: dark squares of a grid `size` wide and high, as one path; the quiet rim of four is to be added."""

    size: int
    path: str
