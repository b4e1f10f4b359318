"""The ledger: what was learned, what it rests on, and how often it came true; and a fitting's own part in it."""

from __future__ import annotations

import math
from typing import Annotated, Any
from uuid import UUID

from fastapi import APIRouter, Path, Query

from ...core.errors import Conflict
from ...core.fit.size import ZONE_NAMES
from ...core.fit.stretch import TABLE
from ...core.learn.given import Learned, LearnedFitter
from ...core.learn.never import Verdicts, never_finds, never_told, total
from ...core.learn.said import LIKELY, SaidSo, calibration, changed_told, fitter_told, is_careless, learned_said
from ...core.sizes import on_the_box
from ...core.units import signed
from ...store import bench, fittings, learned, ledger
from ...store.database import Row
from ..desk import Anyone, Manager
from ..schemas import (
    AsideIn,
    EvidenceOut,
    FitterAside,
    FitterAsideIn,
    FittingOut,
    GivePoint,
    LearnedSay,
    LedgerFitter,
    LedgerGive,
    LedgerMaker,
    LedgerModel,
    LedgerOut,
    LedgerThen,
    LedgerZone,
    TeachOut,
    WrongOut,
)
from ..view import fitting_out

router = APIRouter(prefix="/api", tags=["ledger"])
POINTS = 60
VERDICTS = {"jam": "jammed", "fine": "was fine", "slack": "was slack"}
EvidenceId = Annotated[int, Path(ge=1, le=2**62)]


def _pair(row: Row) -> str:
    return f"{row['maker']} {row['name']} {on_the_box(row)}"


def evidence_said(row: Row) -> str:
    """A piece of evidence in words, with what was expected of it."""
    body, where = row["body"], ZONE_NAMES[row["zone"]]
    if row["kind"] == "return":
        return (
            f"{signed(body['seen_mm'])} mm of room at the {where} after {body['hours']:g} h; "
            f"{signed(body['predicted_mm'])} ± {2 * body['predicted_sigma_mm']:.1f} was predicted."
        ).replace("-", "−")
    came = "on arrival it" if row["kind"] == "arrival" else "it"
    return (
        f"At the {where} {came} {VERDICTS[body['verdict']]}; fine was said with {100 * body['fine_chance']:.0f} in 100."
    )


@router.get("/ledger")
def whole(desk: Anyone) -> LedgerOut:
    """What the chain has learned of makers, models and uppers, and how often what was said came true."""
    with desk.open() as cx:
        version = learned.newest(cx)
        zones, then, models = ledger.makers(cx), ledger.history(cx), ledger.models(cx)
        gives, points = ledger.gives(cx), ledger.points(cx, POINTS)
        said, seen = ledger.said(cx), ledger.seen(cx)
        wrong, teach = ledger.most_wrong(cx), ledger.next_reading(cx)
        fitters, asides = ledger.fitters(cx), ledger.fitters_aside(cx)
        changes, parked = ledger.changes(cx), ledger.parked(cx)
    makers = sorted({r["maker"] for r in zones})
    return LedgerOut(
        version=version,
        makers=[_maker(m, zones, then, models) for m in makers],
        gives=[_give(g, points) for g in gives],
        calibration=calibration(said, seen),
        wrong=[
            WrongOut(
                id=r["id"], fitting_id=r["fitting_id"], athlete=r["athlete"], pair=_pair(r), zone=r["zone"],
                text=evidence_said(r), off_by=r["off_by"],
            )
            for r in wrong
        ],
        teach=_teach(teach) if teach else None,
        fitters=_fitters(fitters, said),
        asides=[FitterAside(staff_id=r["fitter_id"], **{n: r[n] for n in ASIDE}) for r in asides],
        changed=[t for r in changes
                 if (t := changed_told(r["maker"], r["name"], r["zone"], r["on_day"], r["probability"]))],
        parked=[_parked(r) for r in parked],
    )  # fmt: skip


ASIDE = ("id", "fitter", "from_day", "to_day", "reason", "by", "at")


def _fitters(known: dict[tuple[UUID, str], dict[str, LearnedFitter]], said: list[SaidSo]) -> list[LedgerFitter]:
    """This shop's fitters, each beside the others of it."""
    by = {name: total(Verdicts(s.count, s.fine) for s in said if s.by == name) for _, name in known}
    return [
        _fitter(staff_id, name, zones, by[name], total(v for other, v in by.items() if other != name))
        for (staff_id, name), zones in known.items()
    ]


def _fitter(
    staff_id: UUID, name: str, zones: dict[str, LearnedFitter], own: Verdicts, others: Verdicts
) -> LedgerFitter:
    never = never_finds(own, others)
    return LedgerFitter(
        staff_id=staff_id,
        name=name,
        verdicts=sum(z.verdicts for z in zones.values()),
        careless=never or any(is_careless(z) for z in zones.values()),
        says=[*([never_told(name, own, others)] if never else []), *fitter_told(name, zones)],
    )


def _parked(row: Row) -> str:
    """What couldn't be learned from, in a sentence."""
    reason = str(row["reason"]).rstrip(".")
    match row["kind"]:
        case "fitting":
            many = "One fitting" if row["count"] == 1 else f"{row['count']} fittings"
            return f"{many} can't be learned from ({reason}). What was kept of before stands."
        case "maker":
            return (
                f"{row['maker']} can't be learned anew at the {ZONE_NAMES[row['zone']]} ({reason}). "
                "What was known stands."
            )
        case "gives":
            return f"How much uppers give can't be learned anew ({reason}). What was known stands."
        case _:
            return f"How long pairs last can't be learned anew ({reason}). What was known stands."


def _maker(maker: str, zones: list[Row], then: list[Row], models: list[Row]) -> LedgerMaker:
    of = [r for r in zones if r["maker"] == maker]
    length = next((r for r in of if r["zone"] == "length"), of[0])
    known = Learned(mean_mm=length["mean_mm"], sd_mm=length["sd_mm"])
    return LedgerMaker(
        maker=maker,
        zones=[LedgerZone(**{n: r[n] for n in LedgerZone.model_fields}) for r in of],
        then=[LedgerThen(**{n: r[n] for n in LedgerThen.model_fields}) for r in then if r["maker"] == maker],
        models=[LedgerModel(**{n: r[n] for n in LedgerModel.model_fields}) for r in models if r["maker"] == maker],
        text=learned_said(maker, length["zone"], known),
    )


def _give(row: Row, points: list[Row]) -> LedgerGive:
    mean, sd = row["log_mean"], row["log_sd"]
    upper, build = row["kind"].split("/")
    return LedgerGive(
        kind=row["kind"],
        factor=math.exp(mean),
        low=math.exp(mean - LIKELY * sd),
        high=math.exp(mean + LIKELY * sd),
        seen=row["seen"],
        tau_h=TABLE[(upper, build)].tau_h,
        points=[GivePoint(**{n: p[n] for n in GivePoint.model_fields}) for p in points if p["kind"] == row["kind"]],
    )


def _teach(row: Row) -> TeachOut:
    return TeachOut(
        text=f"Read the inside of {row['maker']} {row['size']['name']} {on_the_box(row['size'])}: "
        f"{row['pairs']} pairs of {row['maker']} stand here, and "
        f"their length is known only to ± {row['sd_mm']:.1f} mm.",
        maker=row["maker"],
        line_id=row["line_id"],
    )


@router.get("/ledger/evidence")
def evidence(desk: Anyone, maker: Annotated[str, Query(max_length=120)]) -> list[EvidenceOut]:
    """This shop's evidence of a maker, newest first."""
    with desk.open() as cx:
        rows = ledger.evidence(cx, maker)
    names = ("id", "fitting_id", "athlete", "zone", "kind", "at", "aside", "aside_by", "aside_alone")
    return [EvidenceOut(**{n: r[n] for n in names}, pair=_pair(r), text=evidence_said(r)) for r in rows]


@router.put("/ledger/evidence/{evidence_id}/aside", status_code=204)
def set_aside(desk: Manager, evidence_id: EvidenceId, given: AsideIn) -> None:
    """A piece of evidence no longer counts, for a reason; both are kept."""
    with desk.open() as cx:
        ledger.set_aside(cx, desk.who, evidence_id, given.id, given.reason)


@router.delete("/ledger/evidence/{evidence_id}/aside", status_code=204)
def take_up_again(desk: Manager, evidence_id: EvidenceId) -> None:
    """A piece of evidence that was set aside counts again."""
    with desk.open() as cx:
        ledger.take_up_again(cx, evidence_id)


@router.put("/ledger/fitters/{staff_id}/aside", status_code=204)
def set_fitter_aside(desk: Manager, staff_id: UUID, given: FitterAsideIn) -> None:
    """All a fitter found between two days no longer counts, for a reason; it is kept."""
    with desk.open() as cx:
        ledger.set_fitter_aside(cx, desk.who, given.id, staff_id, (given.from_day, given.to_day), given.reason)


@router.delete("/ledger/fitters/asides/{aside_id}", status_code=204)
def fitter_counts_again(desk: Manager, aside_id: UUID) -> None:
    """What was set aside of a fitter counts again."""
    with desk.open() as cx:
        ledger.fitter_counts_again(cx, aside_id)


@router.get("/fittings/{fitting_id}/learned")
def of_fitting(desk: Anyone, fitting_id: UUID) -> list[LearnedSay]:
    """What is known now of the makers this fitting has taught something of, against when it began."""
    with desk.open() as cx:
        on = bench.load(cx, fitting_id)
        found: list[dict[str, Any]] = ledger.of_fitting(cx, fitting_id, on.row["learned_version"])
    return [LearnedSay(**f, text=learned_said(f["maker"], f["zone"], f["now"], f["before"])) for f in found]


@router.post("/fittings/{fitting_id}/learned/newest")
def take_newest(desk: Anyone, fitting_id: UUID) -> FittingOut:
    """Compute this fitting with what is known now; it keeps that from here on."""
    with desk.open() as cx:
        if fittings.get(cx, fitting_id, lock=True)["state"] != "open":
            raise Conflict("This fitting is settled: it keeps what it was settled by.", code="settled")
        ledger.take_newest(cx, fitting_id)
        return fitting_out(cx, fitting_id)
