"""Pairs athletes own: what was worn and seen of them, what is left, and buying again."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from typing import Any, Literal, cast
from uuid import UUID

from fastapi import APIRouter

from ...core.care.hours import HoursWorn
from ...core.care.lives import LivesOut, life, said
from ...core.care.seen import LOOKED, SeenPart, WearSeenIn, looked_at, wear_seen
from ...core.care.wear import WearOut, at_odds
from ...core.errors import read
from ...core.match.shelf import sized
from ...core.rules.words import Sport
from ...store import again, athletes, house, pairs, shop, stock
from ...store.database import Cx, Row
from ..desk import Anyone
from ..schemas_pairs import (
    AgainPage,
    EndIn,
    FindingOut,
    LivesPage,
    LookedOut,
    NearestOut,
    OwnedPair,
    PairIn,
    PairPage,
    SeenIn,
    SeenOut,
    SeenSays,
    SeenTried,
    WornIn,
    WornOut,
)

router = APIRouter(prefix="/api", tags=["pairs"])
TRAIN_IN = {
    "old_performance_pair": "Keep it for training while there is rubber left; the next one is for performance.",
    "same_shoe": "Train and perform in the same: replace it as a whole.",
    "separate_comfort": "Train in a comfortable pair of its own; this one is done.",
}
"""What becomes of an old performance pair, by the side of the school."""

PAST_ITS_HOURS = "By its hours it is at the end of its usual life, and nobody has looked at it: look first."


def says_of(row: Row, wear: WearOut, looked: list[Row], training: str) -> list[str]:
    """What to do about a pair, the weightiest first."""
    past = wear.word in ("near_its_end", "retire") and not looked
    out = [PAST_ITS_HOURS if past else wear.text]
    if looked:
        seen = {cast(SeenPart, k): v for k, v in looked[0]["seen"].items()}
        out += wear_seen(WearSeenIn(sport=row["sport"], seen=seen)).advice
    if looked and wear.word in ("near_its_end", "retire") and row["role"] == "main" and row["sport"] == "climbing":
        out.append(f"{TRAIN_IN[training]} Schools differ.")
    return out


@dataclass(frozen=True)
class Known:
    """What pairs are judged by: lives learned, the side of the school, the shop's day."""

    lives: LivesOut
    training: str
    today: date


def _known(cx: Cx) -> Known:
    keeps = house.current(cx)
    training = keeps.schools.get("training_pair", "old_performance_pair")
    return Known(pairs.lives(cx), training, shop.today(shop.zone_of(keeps)))


def owned(rows: list[Row], cx: Cx) -> list[OwnedPair]:
    """Pairs with what is left of each."""
    ids = [r["id"] for r in rows]
    logged, looked, known = pairs.worn(cx, ids), pairs.seen(cx, ids), _known(cx)
    return [_owned(r, logged[r["id"]], looked[r["id"]], known) for r in rows]


def _owned(row: Row, logged: list[Row], looked: list[Row], known: Known) -> OwnedPair:
    worn: HoursWorn = pairs.hours_of(row, logged, known.today)
    wear = pairs.wear_of(row, logged, looked, known.lives, known.today)
    own: dict[str, Any] = {
        "sold_here": row["sale_id"] is not None,
        "logged_h": worn.logged_h,
        "reckoned_h": worn.reckoned_h,
        "wear": wear,
        "last_seen": looked[0]["on_day"] if looked else None,
        "says": says_of(row, wear, looked, known.training),
    }
    return OwnedPair(**{n: row[n] for n in OwnedPair.model_fields if n in row} | own)


def _page(cx: Cx, pair_id: UUID) -> PairPage:
    row = pairs.get(cx, pair_id)
    logged, looked = pairs.worn(cx, [pair_id])[pair_id], pairs.seen(cx, [pair_id])[pair_id]
    known = _known(cx)
    return PairPage(
        pair=_owned(row, logged, looked, known),
        today=known.today,
        usual=life(pairs.kind_of(row), known.lives),
        worn=[WornOut(**{n: w[n] for n in WornOut.model_fields}) for w in logged],
        seen=[SeenOut(**{n: s[n] for n in SeenOut.model_fields}) for s in looked],
        looked=_looked(row["sport"]),
        shape=sized(row["properties"] or {}, row["eu_label"]) if row["eu_label"] else {},
    )


def _looked(sport: Sport) -> list[LookedOut]:
    return [
        LookedOut(
            part=part,
            name=LOOKED[part].name,
            how=LOOKED[part].how,
            replaced=LOOKED[part].replaced,
            findings=[FindingOut(value=f.value, text=f.text) for f in LOOKED[part].findings],
        )
        for part in looked_at(sport)
    ]


@router.get("/athletes/{athlete_id}/pairs")
def of_athlete(desk: Anyone, athlete_id: UUID) -> list[OwnedPair]:
    """The pairs of an athlete, in use first."""
    with desk.open() as cx:
        athletes.get(cx, athlete_id)
        return owned(pairs.of_athlete(cx, athlete_id), cx)


@router.put("/athletes/{athlete_id}/pairs/{pair_id}")
def keep(desk: Anyone, athlete_id: UUID, pair_id: UUID, given: PairIn) -> PairPage:
    """Keep a pair as it is given; one that isn't there yet begins."""
    with desk.open() as cx:
        pairs.keep(cx, desk.who, athlete_id, pair_id, given.change_id, given.version, given.pair.model_dump())
        return _page(cx, pair_id)


@router.get("/pairs/{pair_id}")
def one(desk: Anyone, pair_id: UUID) -> PairPage:
    """A pair: what was logged and seen of it, and what is left."""
    with desk.open() as cx:
        return _page(cx, pair_id)


@router.delete("/pairs/{pair_id}", status_code=204)
def remove(desk: Anyone, pair_id: UUID) -> None:
    """A pair entered by mistake goes. One sold here stays."""
    with desk.open() as cx:
        pairs.remove(cx, desk.who, pair_id)


@router.post("/pairs/{pair_id}/worn")
def log(desk: Anyone, pair_id: UUID, given: WornIn) -> PairPage:
    """Log one wear; the id makes sending it twice harmless."""
    with desk.open() as cx:
        pairs.log(cx, desk.who, pair_id, given.id, given.on, given.minutes, given.surface)
        return _page(cx, pair_id)


@router.post("/pairs/{pair_id}/seen")
def look(desk: Anyone, pair_id: UUID, given: SeenIn) -> PairPage:
    """Keep what was seen of a pair; the id makes sending it twice harmless."""
    with desk.open() as cx:
        pairs.look(cx, desk.who, pair_id, given.id, given.on, given.seen)
        return _page(cx, pair_id)


@router.post("/pairs/{pair_id}/seen/try")
def look_tried(desk: Anyone, pair_id: UUID, given: SeenTried) -> SeenSays:
    """What findings would say of a pair, before they are kept."""
    with desk.open() as cx:
        row = pairs.get(cx, pair_id)
        logged, looked = pairs.worn(cx, [pair_id])[pair_id], pairs.seen(cx, [pair_id])[pair_id]
        says = wear_seen(read(WearSeenIn, {"sport": row["sport"], "seen": given.seen}))
        today = pairs.today_of(cx)
        hours = max(pairs.hours_of(row, logged, today).total_h, pairs.LEAST_H)
        tried = {"seen": given.seen, "hours": hours, "on_day": today}
        known = pairs.lives(cx)
        if says.worn_share is not None and says.sigma is not None:
            odd = at_odds(says.worn_share, says.sigma, hours, life(pairs.kind_of(row), known))
            says = says.model_copy(update={"advice": [*says.advice, odd]}) if odd else says
        return SeenSays(says=says, wear=pairs.wear_of(row, logged, [tried, *looked], known, today))


@router.delete("/pairs/{pair_id}/{what}/{entry_id}")
def take_back(desk: Anyone, pair_id: UUID, what: Literal["worn", "seen"], entry_id: UUID) -> PairPage:
    """An entry no longer counts."""
    with desk.open() as cx:
        pairs.take_back(cx, pair_id, what, entry_id)
        return _page(cx, pair_id)


@router.post("/pairs/{pair_id}/end")
def end(desk: Anyone, pair_id: UUID, given: EndIn) -> PairPage:
    """Put a pair away, or take it up again."""
    with desk.open() as cx:
        pairs.end(cx, desk.who, pair_id, given.change_id, given.why, given.on)
        return _page(cx, pair_id)


@router.get("/pairs/{pair_id}/again")
def buy_again(desk: Anyone, pair_id: UUID) -> AgainPage:
    """Whether the same can be sold again: feet, what was learned, what is still made; and what is nearest to it."""
    with desk.open() as cx:
        found = again.of_pair(cx, pair_id)
        ids = [p.line_id for p, _, _ in found.nearest]
        rows = stock.lines(cx, ids, found.fitting_id) if found.fitting_id else {}
    return AgainPage(
        again=found.says,
        line_id=found.line_id,
        nearest=[
            NearestOut(
                line_id=UUID(p.line_id),
                name=f"{rows[p.line_id]['maker']} {rows[p.line_id]['name']}",
                label=p.label,
                hope=p.hope,
                like=like,
                differs=differs,
            )
            for p, differs, like in found.nearest
            if p.line_id in rows
        ],
    )


@router.get("/lives")
def learned(desk: Anyone) -> LivesPage:
    """What the chain has learned of how long pairs last."""
    with desk.open() as cx:
        row = cx.execute("SELECT version, seen FROM life_learned ORDER BY version DESC LIMIT 1").fetchone()
        known = pairs.lives(cx)
    return LivesPage(
        version=row["version"] if row else 0,
        seen=row["seen"] if row else 0,
        learned=known.learned,
        says=said(known),
    )
