"""The feet station: files in, corrections, practice devices, what is drawn, feet over time, and out again."""

from __future__ import annotations

from functools import partial
from pathlib import Path
from typing import Annotated, Literal
from uuid import UUID

from fastapi import APIRouter, Query, Request, Response
from pydantic import ValidationError
from starlette.concurrency import run_in_threadpool

from ...core.contract import Side
from ...core.errors import BadInput, Conflict, from_validation
from ...core.feet.over_time import growing
from ...core.feet.said import Said
from ...core.fit.foot import swelling
from ...devices.practice import make
from ...files import records, workers
from ...files.captures import Measured
from ...files.reading import MESH_BYTES
from ...store import bench, captures, fittings
from ...store.database import Row
from ..bodies import check_json
from ..desk import Anyone, Desk
from ..schemas import (
    CaptureChange,
    CaptureDone,
    FeetOverTime,
    FittingOut,
    PracticeIn,
    ProgressOut,
    ShapeOut,
    VisitOut,
)
from ..spool import lay_down
from ..telling import telling
from ..view import fitting_out
from .fittings import FROZEN

router = APIRouter(prefix="/api", tags=["feet"])
TYPES = {"json": "application/json", "csv": "text/csv; charset=utf-8", "svg": "image/svg+xml"}
DEVICES: dict[str, Literal["stl", "png", "csv"]] = {"scanner": "stl", "camera": "png", "mat": "csv"}


def _unsettled(state: str) -> None:
    if "feet" in FROZEN.get(state, ()):
        raise Conflict("This fitting is settled: begin a new one, or undo the sale first.", code="settled")


async def _measure(desk: Desk, path: Path, name: str, said: Said, capture_id: UUID) -> list[Measured]:
    """Measure in a worker, saying in the store how far it is."""
    async with telling(desk, capture_id) as tell:
        return await workers.measured(path, name, said, tell)


def _keep(
    desk: Desk, fitting_id: UUID, capture_id: UUID, name: str, found: list[Measured], practice: bool
) -> CaptureDone:
    with desk.open() as cx:
        _unsettled(fittings.get(cx, fitting_id, lock=True)["state"])
        kept = captures.kept(cx, fitting_id, capture_id) or [
            captures.add(cx, desk.who, fitting_id, captures.follower(capture_id, i), name, one, practice)
            for i, one in enumerate(found)
        ]
        return CaptureDone(captures=kept, fitting=fitting_out(cx, fitting_id))


def _kept_before(desk: Desk, fitting_id: UUID, capture_id: UUID) -> CaptureDone | None:
    """What was made of this file when it was sent before; none if it is new."""
    with desk.open() as cx:
        _unsettled(fittings.get(cx, fitting_id)["state"])
        kept = captures.kept(cx, fitting_id, capture_id)
        return CaptureDone(captures=kept, fitting=fitting_out(cx, fitting_id)) if kept else None


@router.post(
    "/fittings/{fitting_id}/captures",
    status_code=201,
    openapi_extra={
        "requestBody": {
            "required": True,
            "content": {"application/octet-stream": {"schema": {"type": "string", "format": "binary"}}},
        }
    },
)
async def bring(
    request: Request,
    desk: Anyone,
    fitting_id: UUID,
    id: UUID,
    name: Annotated[str, Query(max_length=200)] = "",
    said: Annotated[str, Query(max_length=4000)] = "{}",
) -> CaptureDone:
    """Measure a file sent as the body: a scan, a picture, a mat's CSV or a record. `said` is JSON of `Said`."""
    given = await run_in_threadpool(_said, said)
    if before := await run_in_threadpool(_kept_before, desk, fitting_id, id):
        return before
    with workers.place(), workers.spooled() as path:
        await lay_down(request, path, MESH_BYTES)
        found = await _measure(desk, path, name, given, id)
    return await run_in_threadpool(_keep, desk, fitting_id, id, name, found, False)


def _said(text: str) -> Said:
    check_json(text.encode())
    try:
        return Said.model_validate_json(text)
    except ValidationError as error:
        raise from_validation(error, "said") from None


@router.post("/fittings/{fitting_id}/practice", status_code=201)
async def practise(desk: Anyone, fitting_id: UUID, given: PracticeIn) -> CaptureDone:
    """Use a practice device: it makes a file of a made-up foot, which is measured like any other."""
    if before := await run_in_threadpool(_kept_before, desk, fitting_id, given.id):
        return before
    what = DEVICES[given.device]
    name = f"practice {given.device}, foot {given.seed}.{what}"
    with workers.place():
        data, _ = await run_in_threadpool(make, what, given.seed, given.side)
        with workers.spooled(data) as path:
            found = await _measure(desk, path, name, Said(side=given.side), given.id)
    return await run_in_threadpool(partial(_keep, desk, fitting_id, given.id, name, found, practice=True))


@router.get("/captures/{capture_id}/progress")
def progress(desk: Anyone, capture_id: UUID) -> ProgressOut | None:
    """How far a measuring is; null when it isn't under way."""
    with desk.open() as cx:
        row = captures.progress_of(cx, capture_id)
    return ProgressOut(**row) if row else None


@router.get("/captures/{capture_id}/shape")
def shape(desk: Anyone, capture_id: UUID) -> ShapeOut:
    """What is drawn of a capture."""
    with desk.open() as cx:
        return ShapeOut.model_validate(captures.get(cx, capture_id)["shape"])


@router.get(
    "/captures/{capture_id}/surface",
    response_class=Response,
    responses={200: {"content": {"application/octet-stream": {}}}},
)
def surface(desk: Anyone, capture_id: UUID) -> Response:
    """A scan's surface thinned for showing: corner count (uint32), corners (float32 × 3), faces (uint32 × 3)."""
    with desk.open() as cx:
        if captures.get(cx, capture_id)["kind"] != "scan":
            raise BadInput("Only a scan has a surface.", code="not-a-scan")
        return Response(captures.bytes_of(cx, capture_id, "view"), media_type="application/octet-stream")


@router.get("/captures/{capture_id}/picture", response_class=Response, responses={200: {"content": {"image/jpeg": {}}}})
def picture(desk: Anyone, capture_id: UUID, flat: bool = False) -> Response:
    """A tracing's photograph, or (`flat`) its paper seen from straight above at 2 pixels a millimetre."""
    with desk.open() as cx:
        if captures.get(cx, capture_id)["kind"] != "tracing":
            raise BadInput("Only a tracing has a picture.", code="not-a-tracing")
        return Response(captures.bytes_of(cx, capture_id, "view" if flat else "copy"), media_type="image/jpeg")


@router.patch("/captures/{capture_id}")
async def correct(desk: Anyone, capture_id: UUID, given: CaptureChange) -> FittingOut:
    """Measure a capture again with what the fitter now says of it. 409 when somebody else did so meanwhile."""

    def ask() -> tuple[Row, bytes]:
        with desk.open() as cx:
            row = captures.get(cx, capture_id)
            _unsettled(fittings.get(cx, row["fitting_id"])["state"])
            return row, captures.bytes_of(cx, capture_id, "copy")

    def keep(found: Measured) -> FittingOut:
        with desk.open() as cx:
            _unsettled(fittings.get(cx, row["fitting_id"], lock=True)["state"])
            captures.correct(cx, desk.who, capture_id, given.version, found)
            return fitting_out(cx, row["fitting_id"])

    row, copy = await run_in_threadpool(ask)
    with workers.place(), workers.spooled(copy) as path:
        found = await workers.measured(path, row["name"], given.said, kind=row["kind"])
    return await run_in_threadpool(keep, found[0])


@router.delete("/captures/{capture_id}")
def remove(desk: Anyone, capture_id: UUID) -> FittingOut:
    """Take a capture out of the fitting; it can be put back."""
    return _marked(desk, capture_id, back=False)


@router.post("/captures/{capture_id}/back")
def put_back(desk: Anyone, capture_id: UUID) -> FittingOut:
    """Put a removed capture back."""
    return _marked(desk, capture_id, back=True)


def _marked(desk: Desk, capture_id: UUID, *, back: bool) -> FittingOut:
    with desk.open() as cx:
        row = captures.get(cx, capture_id, removed=True)
        _unsettled(fittings.get(cx, row["fitting_id"], lock=True)["state"])
        captures.remove(cx, desk.who, capture_id, back=back)
        return fitting_out(cx, row["fitting_id"])


@router.get("/fittings/{fitting_id}/feet/over-time")
def over_time(desk: Anyone, fitting_id: UUID) -> FeetOverTime:
    """Swelling over the day, growth from visit to visit, and earlier visits."""
    with desk.open() as cx:
        on = bench.load(cx, fitting_id)
        feet, born = on.feet, on.row["born_on"]
        seen = captures.visits(cx, on.row["athlete_id"], fitting_id)
    return FeetOverTime(
        swelling=swelling(feet),
        growth=growing(born, [(on.day_of(row["opened_at"]), found) for row, found, _ in seen]),
        visits=[
            VisitOut(
                fitting_id=row["id"],
                on=on.day_of(row["opened_at"]),
                left={n: f.value for n, f in found.left.numbers.items()},
                right={n: f.value for n, f in found.right.numbers.items()},
                outlines=outlines,
            )
            for row, found, outlines in seen
        ],
    )


@router.get(
    "/fittings/{fitting_id}/feet.{form}",
    response_class=Response,
    responses={200: {"content": {t: {"schema": {"type": "string"}} for t in TYPES.values()}}},
)
def written(desk: Anyone, fitting_id: UUID, form: Literal["json", "csv", "svg"]) -> Response:
    """The feet as a file: every number with its uncertainty (JSON, CSV), or the outlines (SVG)."""
    with desk.open() as cx:
        on = bench.load(cx, fitting_id)
    shapes = [(r["side"], r["shape"].get("outline")) for r in on.captures]
    outlines: dict[Side, list[tuple[float, float]]] = {
        side: [(float(x), float(y)) for x, y in points] for side, points in shapes if points
    }
    record = records.record_of(on.found, outlines, on.day_of(on.row["opened_at"]).isoformat())
    text = {"json": records.as_json, "csv": records.as_csv, "svg": records.as_svg}[form](record)
    headers = {"content-disposition": f'attachment; filename="feet.{form}"'}
    return Response(text, media_type=TYPES[form], headers=headers)
