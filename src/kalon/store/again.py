"""Buying again: a pair with today's feet, what was seen of it, and what there is of it, put before `again`."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from typing import Any, Literal, cast
from uuid import UUID

from ..core.care.again import AgainIn, AgainOut, FootThen, again
from ..core.errors import KalonError
from ..core.feet.gauge import Feet
from ..core.fit.foot import FIT_ZONES, MEASURES, FootToFit, foot_to_fit
from ..core.match.nearest import alike, nearness
from ..core.match.rank import Ranked, rank
from ..core.sizes import on_the_box
from . import bench, catalogue, learned, orders, pairs, stock
from .bench import Loaded
from .catalogue import SIGMAS
from .database import Cx, Row

NEAREST = 4
CHANGED = 2.5
"""An inside is another when it differs by so many spreads of both. House default."""


@dataclass(frozen=True)
class Again:
    """Whether the same again holds, the line to pull for it, and what is nearest to it, each with its line."""

    says: AgainOut
    line_id: UUID | None
    fitting_id: UUID | None
    """The fitting whose brief and feet this rests on."""
    nearest: list[tuple[Ranked, list[str], float]]


def _then(foot: FootToFit, on: date) -> FootThen:
    return FootThen(
        on=on,
        mm=dict(zip(FIT_ZONES, map(float, foot.larger), strict=True)),
        sigma_mm=dict(zip(FIT_ZONES, map(float, foot.sigma), strict=True)),
    )


def _newest(cx: Cx, athlete_id: UUID, sport: str) -> Loaded | None:
    """The athlete's newest fitting for a sport, with feet and a brief that can be computed with."""
    rows = cx.execute(
        "SELECT f.id FROM (SELECT id, opened_at FROM fitting WHERE athlete_id = %s AND state <> 'erased' "
        "ORDER BY opened_at DESC, id DESC LIMIT 40) f JOIN fitting_part b ON b.fitting_id = f.id "
        "AND b.part = 'brief' AND b.body ->> 'sport' = %s ORDER BY f.opened_at DESC, f.id DESC LIMIT 5",
        [athlete_id, sport],
    ).fetchall()
    for row in rows:
        on = bench.load(cx, row["id"])
        try:
            _ = on.foot, on.spec
        except KalonError:
            continue
        return on
    return None


def _feet_now(cx: Cx, athlete_id: UUID, on: Loaded) -> tuple[FootToFit, date]:
    """The feet last measured, whichever sport they were measured for, as the shoes of this one would hold them."""
    row = cx.execute(
        "SELECT f.id FROM fitting f JOIN fitting_part p ON p.fitting_id = f.id AND p.part = 'feet' "
        "WHERE f.athlete_id = %s AND f.state <> 'erased' AND f.opened_at > %s "
        "AND (p.body ? 'left' OR p.body ? 'right') ORDER BY f.opened_at DESC, f.id DESC LIMIT 1",
        [athlete_id, on.row["opened_at"]],
    ).fetchone()
    if row:
        later = bench.load(cx, row["id"])
        try:
            return foot_to_fit(later.feet, norms=on.norms), later.day_of(later.row["opened_at"])
        except KalonError:
            pass  # not enough of them yet
    return on.foot, on.day_of(on.row["opened_at"])


def _felt(cx: Cx, row: Row) -> dict[str, Any]:
    """What the follow-up of a pair said, and in which zones."""
    if not row["fitting_id"]:
        return {"felt": "unknown"}
    try:
        found = bench.outcome(bench.load(cx, row["fitting_id"]))
    except KalonError:
        return {"felt": "unknown"}
    if not found or not found.zones:
        return {"felt": "unknown"}
    for felt, words in (("tight", {"tight", "too_tight"}), ("slack", {"slack"})):
        if at := [z.zone for z in found.zones if z.word in words]:
            return {"felt": felt, "felt_at": at}
    return {"felt": "as_wanted"}


def _sold(cx: Cx, variant: Row | None) -> tuple[Literal["here", "sister", "ordered", "no"], UUID | None]:
    """Where a size is to be had, and its line here."""
    if not variant:
        return "no", None
    line = cx.execute("SELECT id, on_hand FROM stock_line WHERE variant_id = %s", [variant["id"]]).fetchone()
    if line and line["on_hand"] > 0:
        return "here", line["id"]
    if orders.elsewhere(cx, [variant["id"]]).get(variant["id"]):
        return "sister", None
    return ("no" if variant["retired_at"] or variant["model_retired"] else "ordered"), None


def _run(cx: Cx, on: Loaded, row: Row) -> list[Row]:
    return stock.run_of(cx, row["model_id"], row["width"], on.row["learned_version"])


def _variant(cx: Cx, row: Row, label: float) -> Row | None:
    found = cx.execute(
        "SELECT v.*, m.retired_at AS model_retired, m.last, m.maker "
        "FROM variant v JOIN shoe_model m ON m.id = v.model_id WHERE v.model_id = %s AND v.width = %s "
        "AND v.eu_label = %s ORDER BY v.retired_at NULLS FIRST, v.id LIMIT 1",
        [row["model_id"], row["width"], label],
    ).fetchone()
    return learned.on_row(cx, None, found) if found else None


def _last_changed(sold: dict[str, Any], variant: Row | None) -> str:
    """What says that the inside isn't what it was when the pair was sold."""
    if not variant:
        return ""
    was = sold.get("last")
    if was and variant["last"] and was != variant["last"]:
        return f"It was built on {was}, now on {variant['last']}: another last."
    for zone, mm, sigma in zip(FIT_ZONES, MEASURES, SIGMAS, strict=True):
        if mm not in sold or sigma not in sold:
            continue
        off = variant[mm] - sold[mm]
        if abs(off) > CHANGED * (variant[sigma] ** 2 + sold[sigma] ** 2) ** 0.5:
            word = "longer" if zone == "length" else "wider"
            less = "shorter" if zone == "length" else "narrower"
            return f"It measures {abs(off):.0f} mm {word if off > 0 else less} inside than when it was sold."
    return ""


def of_pair(cx: Cx, pair_id: UUID) -> Again:
    """Whether a pair can be bought again, and what else."""
    row = pairs.get(cx, pair_id)
    today = pairs.today_of(cx)
    on = _newest(cx, row["athlete_id"], row["sport"])
    sale = cx.execute("SELECT snapshot, pair, sold_at FROM sale WHERE id = %s", [row["sale_id"]]).fetchone()
    sold: dict[str, Any] = sale["pair"] if sale else {}
    label = float(row["eu_label"] or 0.0)
    variant = _variant(cx, row, label) if row["model_id"] and label else None
    recommended = None
    if on and row["model_id"]:
        found = bench.sizes_of(on, _run(cx, on, row)) if _kept(cx, row) else None
        recommended = found.recommended if found else None
    other = _variant(cx, row, recommended) if recommended and recommended != label else variant
    where, line = _sold(cx, other)
    then = None
    if sale and sale["snapshot"].get("feet"):
        then = _then(foot_to_fit(Feet.model_validate(sale["snapshot"]["feet"])), row["bought_on"])
    says = again(
        AgainIn(
            name=f"{row['maker']} {row['name']}".strip(),
            label=label,
            box=row["size"] or (on_the_box(variant) if variant else ""),
            bought_feet=then,
            feet_now=_then(*_feet_now(cx, row["athlete_id"], on)) if on else None,
            today=today,
            growing=bool(on and on.growing),
            **_felt(cx, row),
            sold=where,
            last_changed=_last_changed(sold, variant),
            recommended=recommended,
            recommended_box=on_the_box(other) if other else "",
        )
    )
    return Again(says, line, on.id if on else None, _nearest(cx, on, row, sold) if on and sold else [])


def _kept(cx: Cx, row: Row) -> bool:
    """Whether this shop keeps the model in that width."""
    return bool(
        cx.execute(
            "SELECT 1 FROM stock_line l JOIN variant v ON v.id = l.variant_id WHERE v.model_id = %s AND v.width = %s "
            "LIMIT 1",
            [row["model_id"], row["width"]],
        ).fetchone()
    )


def _nearest(cx: Cx, on: Loaded, row: Row, sold: dict[str, Any]) -> list[tuple[Ranked, list[str], float]]:
    """The models on hand nearest to a pair sold, each in the size that fits, with what differs."""
    unsaid = {"reinforced": 0.0, "features": {}, "meant_for": [], "model_id": row["model_id"]}
    liked = catalogue.shoe_of(cast(Row, unsaid | sold))
    shoes, shelf = bench.shelf_for(cx, on, row["sport"])
    alikes = {s.id: alike(s, liked) for s in shoes if s.id != str(row["model_id"])}
    near = {slug: nearness(a) for slug, a in alikes.items()} | {str(row["model_id"]): -1.0}
    found = rank(shoes, shelf, on.spec, on.foot, on.keeps["rank.fit_power"], most=NEAREST + 1, nearness=near)
    return [
        (p, [d.text for d in alikes[p.shoe_id].differs[:3]], alikes[p.shoe_id].like)
        for p in found.places
        if p.shoe_id in alikes
    ][:NEAREST]
