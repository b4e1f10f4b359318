"""The trial station: what to try next, from what was found."""

from __future__ import annotations

from uuid import UUID

import numpy as np
from fastapi import APIRouter

from ...core.errors import read
from ...core.fit.foot import MEASURES
from ...core.fit.helps import helps_for, odd_feet
from ...core.fit.trial import PairTrial, advise, contradictions, verdicts_of
from ...core.match.after import next_said, trial_next
from ...core.match.shelf import GIVES_AS, Shelf, Shoe
from ...core.parts import TrialPart
from ...core.sizes import on_the_box
from ...store import bench, catalogue, stock
from ...store.catalogue import SIGMAS
from ...store.database import Row
from ..desk import Anyone
from ..schemas import NextOut, RunOut, TrialNextView
from ..view import pair_out

router = APIRouter(prefix="/api/fittings/{fitting_id}/trial", tags=["trial"])


def _as_shelf(shoes: list[Shoe], rows: list[Row]) -> Shelf:
    """The tried lines as arrays; a shoe that isn't among `shoes` yet (of another sport, or sold out) is added."""
    at = {s.id: i for i, s in enumerate(shoes)}
    for row in rows:
        if str(row["model_id"]) not in at:
            at[str(row["model_id"])] = len(shoes)
            shoes.append(catalogue.shoe_of(row))
    return Shelf(
        shoe=np.array([at[str(r["model_id"])] for r in rows], dtype=np.intp),
        label=np.array([r["eu_label"] for r in rows], dtype=float),
        inner=np.array([[r[m] for m in MEASURES] for r in rows], dtype=float).reshape(-1, 4),
        line_ids=[str(r["id"]) for r in rows],
        sigma=np.array([[r[s] for s in SIGMAS] for r in rows], dtype=float).reshape(-1, 4),
    )


def _short(row: Row) -> str:
    """A size as its box has it; an EU one by its number alone."""
    return on_the_box(row).removeprefix("EU ")


@router.get("/next")
def after(desk: Anyone, fitting_id: UUID, pair: UUID | None = None) -> TrialNextView:
    """Every pair on the shelf judged again by what was found so far, and the ones to try next, told against `pair`;
    of a settled fitting only what was found."""
    with desk.open() as cx:
        on = bench.load(cx, fitting_id)
        trials = read(TrialPart, on.parts["trial"].body).pairs
        every = [r for r in stock.tray(cx, fitting_id) if str(r["id"]) in trials]
        advice = {
            str(r["id"]): advise(trials[str(r["id"])], r["upper"] or GIVES_AS, unfelt=on.spec.unfelt) for r in every
        }
        asked = [r for r in every if r["id"] == pair]
        questions = list(contradictions(trials[str(asked[0]["id"])]).values()) if asked else []
        tray = [r for r in every if verdicts_of(trials[str(r["id"])])]
        if not tray or on.row["state"] != "open":
            odd = odd_feet(on.foot, None, on.case.brief.sport) if on.row["state"] == "open" else None
            return TrialNextView(
                advice=advice, places=[], runs=[], best_tried=None, foot=[], questions=questions, helps=[], odd=odd
            )
        shoes, shelf = bench.shelf_for(cx, on, on.case.brief.sport)
        tried: list[PairTrial] = [trials[str(r["id"])] for r in tray]
        found = trial_next(shoes, shelf, on.spec, on.foot, _as_shelf(shoes, tray), tried, on.keeps["rank.fit_power"])
        last = next((i for i, r in enumerate(tray) if r["id"] == pair), len(tray) - 1)
        size = bench.sizes_of(on, [tray[last]]).sizes[0]
        ids = [p.line_id for p in found.places] + [r.line_id for r in found.runs]
        lines = stock.lines(cx, ids, fitting_id)
    instep = size.zones[2]
    closure = tray[last]["choices"].get("closure", "laces")
    helps = helps_for(tried[last], on.case.brief.sport, closure.startswith("laces"), instep.settled_mm - instep.high_mm)
    told = (tray[last]["name"], _short(tray[last]), tray[last]["width"], tried[last])
    return TrialNextView(
        advice=advice,
        places=[
            NextOut(
                pair=pair_out(row, on.now.currency),
                hope=p.hope,
                doubt=p.doubt,
                quality=p.quality,
                before=p.before,
                text=next_said(p, row["name"], _short(row), row["width"], told),
            )
            for p in found.places
            if (row := lines.get(p.line_id))
        ],
        runs=[
            RunOut(
                line_id=UUID(r.line_id),
                model_id=UUID(r.shoe_id),
                label=r.label,
                width=row["width"],
                hope=r.hope,
                quality=r.quality,
                tried=r.tried,
                on_hand=row["on_hand"],
            )
            for r in found.runs
            if (row := lines.get(r.line_id))
        ],
        best_tried=UUID(found.best_tried) if found.best_tried else None,
        foot=found.foot,
        questions=questions,
        helps=helps,
        odd=odd_feet(on.foot, catalogue.price_of(tray[last]), on.case.brief.sport),
    )
