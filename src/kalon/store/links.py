"""Links by which an athlete who isn't here answers: made and ended by the shop, opened by whoever holds one.

A link is a secret of 256 bits, of which only the hash is kept: it can't be guessed, forged or read from a backup. It is
of one athlete and one fitting, and ends by itself. What comes through it is kept as answers beside the fitting; a
fitter takes it over. Everything is done through functions of the database that check the secret themselves.
"""

from __future__ import annotations

import secrets
from dataclasses import dataclass
from datetime import date, timedelta
from typing import Any
from uuid import UUID

from psycopg.types.json import Jsonb

from ..core.errors import Conflict, KalonError, NotFound
from ..core.formats import newest
from ..core.learn.answers import Answers, KnownMakers
from ..core.match.ordering import Arrival
from ..core.shoes.inner import Offset
from ..core.systems import SIZE_SYSTEMS, System
from ..files.captures import Measured
from . import fittings
from .audit import once, record, used_elsewhere
from .database import Cx, Pool, Row, Who, transaction
from .ids import new_id
from .learned import NOW
from .sales import read_up
from .staff import digest

LASTS = timedelta(days=14)
"""How long a link may be used. House default."""
LASTS_AFTER_SALE = timedelta(days=180)
"""How long a link made after the sale may be used, to log what is worn. House default."""
SAID = (
    "The shop keeps what I answer here, how long I wear my shoes, the pictures of my feet and what is measured in "
    "them, to find my size and to learn how its shoes run and last. It is seen by the shop's fitters alone. I can have "
    "it all sent to me, or erased, at any time."
)
"""What whoever opens a link agrees to before anything is kept."""


class Over(NotFound):
    """A link that isn't one, or is over."""

    code = "link-over"


class TooOften(KalonError):
    """Too much asked through a link, or too many links tried."""

    code = "too-often"
    status = 429
    wait_s = 60


@dataclass(frozen=True)
class Opened:
    """A link that holds."""

    link_id: UUID
    shop_id: UUID
    fitting_id: UUID
    athlete_id: UUID


def make(cx: Cx, who: Who, fitting_id: UUID, link_id: UUID) -> str:
    """A new link of a fitting; those made before end. Gives the secret, which can't be had again.

    Raises `Conflict` for an id sent before. Of a settled fitting it shows how the pair is worn in, and takes what was
    worn."""
    once(cx, link_id)
    fitting = fittings.get(cx, fitting_id, lock=True)
    if cx.execute("SELECT 1 FROM athlete_link WHERE id = %s", [link_id]).fetchone():
        raise used_elsewhere()
    end(cx, fitting_id)
    token = secrets.token_urlsafe(32)
    cx.execute(
        "INSERT INTO athlete_link (id, shop_id, fitting_id, athlete_id, token_hash, made_by, expires_at) "
        "VALUES (%s, %s, %s, %s, %s, %s, now() + %s)",
        [
            link_id,
            who.shop_id,
            fitting_id,
            fitting["athlete_id"],
            digest(token),
            who.staff_id,
            LASTS if fitting["state"] == "open" else LASTS_AFTER_SALE,
        ],
    )
    record(cx, who, fitting["athlete_id"], fitting_id, "link", 1, new_id(), {}, {"link": "made"})
    return token


def end(cx: Cx, fitting_id: UUID) -> None:
    """End a fitting's links now. Again is no change."""
    fittings.get(cx, fitting_id)
    cx.execute("UPDATE athlete_link SET ended_at = now() WHERE fitting_id = %s AND ended_at IS NULL", [fitting_id])


def of_fitting(cx: Cx, fitting_id: UUID) -> Row | None:
    """The newest link of a fitting with the newest answers; none where none was made."""
    return cx.execute(
        "SELECT l.id, l.made_at, l.expires_at, l.ended_at, l.agreed_at, l.agreed_to, "
        "CASE WHEN p.active THEN p.name ELSE 'the shop' END AS made_by, w.body, w.at "
        "FROM athlete_link l JOIN staff p ON p.id = l.made_by "
        "LEFT JOIN LATERAL (SELECT body, at FROM link_answer WHERE link_id = l.id ORDER BY id DESC LIMIT 1) w ON true "
        "WHERE l.fitting_id = %s ORDER BY l.made_at DESC LIMIT 1",
        [fitting_id],
    ).fetchone()


def known_makers(cx: Cx, answers: Answers) -> KnownMakers:
    """What the chain knows of the makers somebody wears shoes of."""
    named = sorted({s.maker.strip().casefold() for s in answers.worn} - {""})
    if not named:
        return KnownMakers()
    rows = cx.execute(
        f"SELECT lower(l.maker) AS maker, lower(coalesce(m.name, '')) AS model, l.mean_mm, l.sd_mm FROM ({NOW}) l "
        "LEFT JOIN shoe_model m ON m.id = l.model_id WHERE l.variant_id IS NULL AND l.zone = 'length' "
        "AND lower(l.maker) = ANY(%s) ORDER BY l.sd_mm DESC",
        [named],
    ).fetchall()
    return KnownMakers(
        lengths={(r["maker"], r["model"]): Offset(mean_mm=r["mean_mm"], sd_mm=r["sd_mm"]) for r in rows},
        ahead=_own_steps(cx, named, {s.system for s in answers.worn}),
    )


def _own_steps(cx: Cx, makers: list[str], systems: set[System]) -> dict[tuple[str, System], float]:
    """How far makers' sizes run ahead where they have a step of their own, as most of their sizes here do."""
    stepped = [s for s in systems if SIZE_SYSTEMS[s].own_step]
    if not stepped:
        return {}
    rows = cx.execute(
        "SELECT DISTINCT ON (1, 2) lower(m.maker) AS maker, v.system, v.runs_ahead FROM shoe_model m "
        "JOIN variant v ON v.model_id = m.id WHERE lower(m.maker) = ANY(%s) AND v.system = ANY(%s) "
        "GROUP BY 1, 2, 3 ORDER BY 1, 2, count(*) DESC",
        [makers, stepped],
    ).fetchall()
    return {(r["maker"], r["system"]): r["runs_ahead"] for r in rows if r["runs_ahead"] is not None}


# --- through the link


def opened(pool: Pool, token: str, address: str, *, writes: bool = False) -> Opened:
    """Who a secret is of. Raises `Over` for one that doesn't hold, `TooOften` when it is asked too often."""
    with transaction(pool) as cx:
        row = cx.execute("SELECT * FROM link_open(%s, %s, %s)", [token, address, writes]).fetchone()
    if not row:
        raise Over("This link is over, or isn't one. Ask the shop for a new one.")
    if row["wait"]:
        raise TooOften("That was very often just now. Wait a minute and try again; nothing is lost.")
    return Opened(row["link_id"], row["shop_id"], row["fitting_id"], row["athlete_id"])


def page(pool: Pool, token: str) -> Row:
    """What the page of a link shows. Raises `Over`."""
    with transaction(pool) as cx:
        row = cx.execute("SELECT * FROM link_page(%s)", [token]).fetchone()
    if not row:
        raise Over("This link is over, or isn't one. Ask the shop for a new one.")
    return row


def _done(pool: Pool, query: str, given: list[Any], refused: str) -> None:
    with transaction(pool) as cx:
        row = cx.execute(f"SELECT {query} AS done", given).fetchone()
    if not row or not row["done"]:
        raise Conflict(refused, code="link-refused")


NOT_AGREED = "Nothing is kept before you agree to it."


def agree(pool: Pool, token: str) -> None:
    """The athlete agrees that what they answer is kept. Again is no change."""
    _done(pool, "link_agree(%s, %s)", [token, SAID], "This link is over.")


def answer(pool: Pool, token: str, change_id: UUID, answers: Answers) -> None:
    """Keep what was answered, the newest whole. The same change again changes nothing."""
    body = Jsonb(answers.model_dump(mode="json"))
    _done(pool, "link_answered(%s, %s, %s, %s)", [token, change_id, body, 1], NOT_AGREED)


def pictured(pool: Pool, token: str, capture_id: UUID, name: str, found: Measured) -> None:
    """Keep a picture of a foot as it was measured, as a tracing of the fitting."""
    given = [
        token, capture_id, found.reading.side, name, Jsonb(found.said), Jsonb(found.reading.model_dump(mode="json")),
        Jsonb(found.shape), found.copy, found.view, newest("reading"),
    ]  # fmt: skip
    _done(
        pool, "link_pictured(%s, %s, %s, %s, %s, %s, %s, %s, %s, %s)", given,
        f"{NOT_AGREED} Or twelve pictures are there already: the shop can make a new link.",
    )  # fmt: skip


def arrived(pool: Pool, token: str, order_id: UUID, found: Arrival) -> None:
    """Keep what the athlete found of a pair that came."""
    body = Jsonb(found.model_dump(mode="json", exclude={"inner_mm"} if found.inner_mm is None else set()))
    _done(pool, "link_arrived(%s, %s, %s)", [token, order_id, body], "That pair isn't waiting to be checked.")


# --- after the sale


def pairs_of(pool: Pool, token: str) -> list[Row]:
    """The athlete's pairs as a link shows them: life, plan of wearing in, what was logged."""
    with transaction(pool) as cx:
        return cx.execute("SELECT * FROM link_pairs(%s)", [token]).fetchall()


def sale_of(pool: Pool, token: str) -> Row:
    """The sale of a link's fitting, for its sheet. Raises `Over` where there is none."""
    with transaction(pool) as cx:
        row = cx.execute("SELECT * FROM link_sale(%s)", [token]).fetchone()
    if not row:
        raise Over("There is no sheet under this link.")
    return read_up(row) | {n: row[n] for n in ("shop", "athlete", "follow_up")}


def worn(pool: Pool, token: str, entry_id: UUID, pair_id: UUID, on: date, minutes: int, surface: str | None) -> None:
    """Log a wear through a link. The same id again changes nothing."""
    _done(
        pool, "link_worn(%s, %s, %s, %s, %s, %s)", [token, entry_id, pair_id, on, minutes, surface],
        f"{NOT_AGREED} Or that day isn't one on which this pair can have been worn.",
    )  # fmt: skip


def unworn(pool: Pool, token: str, entry_id: UUID) -> None:
    """A wear logged through this link no longer counts. Again is no change."""
    _done(pool, "link_unworn(%s, %s)", [token, entry_id], "That entry isn't one of yours.")
