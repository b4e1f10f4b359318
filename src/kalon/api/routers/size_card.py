"""A card of sizes to carry: the feet, the sizes worn of each maker here, what to ask for elsewhere, their own page."""

from __future__ import annotations

from typing import Any, Literal
from uuid import UUID

from fastapi import APIRouter, Response

from ...core.care.size_card import Fits, ask_for, by_maker, feet_lines
from ...core.errors import BadInput
from ...core.feet.gauge import volume_class
from ...core.match.rank import rank
from ...core.rules.words import SPORTS
from ...core.sizes import on_the_box
from ...store import stock
from ...store.bench import Loaded, load, shelf_for
from ...store.database import Cx
from ..desk import Anyone, Desk
from ..schemas import CardIn

router = APIRouter(prefix="/api/fittings/{fitting_id}", tags=["settle"])
Form = Literal["pdf", "png"]
MEDIA = {"pdf": "application/pdf", "png": "image/png"}
SHOES = 60
"""So many of the best shoes say which size is worn of their makers."""
RESPONSES: dict[int | str, dict[str, Any]] = {200: {"content": {media: {} for media in MEDIA.values()}}}


@router.get("/size-card.{form}", response_class=Response, responses=RESPONSES)
def size_card(
    desk: Anyone, fitting_id: UUID, form: Form, paper: Literal["card", "a4", "letter", "roll"] = "card"
) -> Response:
    """The card as a bank's, or, as a PDF, its words on labels of some paper."""
    if paper == "card":
        return _written(_card(desk, fitting_id, ""), form)
    from ..printed_labels import pages, size_card

    card = _card(desk, fitting_id, "")
    worn = [f"{maker} {size}" for maker, size in card["sizes"]]
    label = card | {"feet": "; ".join(card["feet"]), "lines": [*card["settled"], *worn]}
    return _sent(pages([size_card(label)], paper), "pdf")


@router.post("/size-card.{form}", response_class=Response, responses=RESPONSES)
def size_card_with_link(desk: Anyone, fitting_id: UUID, form: Form, given: CardIn) -> Response:
    """The card with the athlete's page on it, for a camera: the link is shown once, to whoever makes it, and is told
    here by them, in a body, so that no log holds it."""
    return _written(_card(desk, fitting_id, given.link), form)


def _written(card: dict[str, Any], form: Form) -> Response:
    from ..printed_labels import as_png, wallet_card

    pdf = wallet_card(card)
    return _sent(as_png(pdf) if form == "png" else pdf, form)


def _sent(data: bytes, form: Form) -> Response:
    headers = {"content-disposition": f'inline; filename="size-card.{form}"'}
    return Response(data, media_type=MEDIA[form], headers=headers)


def _card(desk: Desk, fitting_id: UUID, link: str) -> dict[str, Any]:
    with desk.open() as cx:
        on = load(cx, fitting_id)
        sizes, asks = _by_spec(cx, on)
    first, *rest = on.row["name"].split()
    settled = []
    if on.sale:
        pair = on.sale["pair"]
        settled = [f"{pair['maker']} {pair['name']}", f"{on_the_box(pair)}, {pair['width']}"]
        own = (pair["maker"], on_the_box(pair))
        sizes = [own, *(s for s in sizes if s[0] != own[0])]
    return {
        "name": f"{first} {rest[-1][0]}." if rest else first,
        "shop": desk.who.shop_name,
        "day": f"{on.day_of(on.row['opened_at']):%-d %B %Y}",
        "feet": feet_lines(on.found),
        "settled": settled,
        "sizes": sizes,
        "asks": asks,
        "link": link,
    }


def _by_spec(cx: Cx, on: Loaded) -> tuple[list[tuple[str, str]], list[str]]:
    """The sizes worn of each maker here, and what to ask for elsewhere; what a fitting that has no brief or feet yet
    doesn't say is left out."""
    volume = volume_class(on.feet.right if on.feet.right.length_mm else on.feet.left, on.norms)[0]
    try:
        spec, foot, sport = on.spec, on.foot, on.case.brief.sport
    except BadInput:
        return [], ask_for(on.found, None, volume, "")
    shoes, shelf = shelf_for(cx, on, sport)
    ranking = rank(shoes, shelf, spec, foot, on.keeps["rank.fit_power"], most=SHOES)
    rows = stock.lines(cx, [p.line_id for p in ranking.places], on.id)
    found = [Fits(rows[p.line_id]["maker"], on_the_box(rows[p.line_id]), p.chance)
             for p in ranking.places if p.line_id in rows]  # fmt: skip
    room = spec.fit.get("toe_room_mm")
    return by_maker(found), ask_for(on.found, (room.low, room.high) if room else None, volume, SPORTS[sport].name)
