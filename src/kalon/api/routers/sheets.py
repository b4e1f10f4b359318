"""Sheets in and out of the stockroom: a list is read, looked at line by line, written whole, taken back; exports."""

from __future__ import annotations

import contextlib
import os
from contextlib import ExitStack
from pathlib import Path as FilePath
from typing import Annotated, Any, Literal
from uuid import UUID

from fastapi import APIRouter, Query, Request
from starlette.background import BackgroundTask
from starlette.concurrency import run_in_threadpool
from starlette.responses import FileResponse

from ...core.errors import NotFound
from ...core.sheets.columns import FIELD_NAMES, FIELDS
from ...core.sheets.lines import Settings, Verdict
from ...core.sheets.place import EVERY_SHEET
from ...core.sizes import label_words
from ...files import sheets as files
from ...files import workers
from ...files.lists import Listed, lines_at, places_of, read_list
from ...store import captures, exports, house, sheet_words, sheets
from ...store.database import Cx, Row, StoreAway
from ..desk import Anyone, Desk, Manager
from ..schemas import (
    FieldOut,
    ProgressOut,
    SheetAgain,
    SheetAsk,
    SheetColumn,
    SheetOut,
    SheetReason,
    SheetRow,
    SheetRows,
)
from ..spool import lay_down

router = APIRouter(prefix="/api", tags=["sheets"])
EXPORT_S = 300.0
"""Of a processor's time, for the largest shop as a workbook."""
MEDIA = {
    "csv": "text/csv; charset=utf-8",
    "json": "application/json",
    "xlsx": "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet",
}


def sheet_out(row: Row, stayed: list[str] | None = None, again: Row | None = None) -> SheetOut:
    """A sheet for the interface."""
    kept = row["columns"]
    return SheetOut(
        **{n: row[n] for n in ("id", "name", "counts", "began_at", "done_at", "undone_at", "by")},
        settings=Settings.model_validate(row["settings"]),
        columns=[SheetColumn(**c) for c in kept.get("list", [])],
        notes=kept.get("notes", []),
        rows=kept.get("rows", 0),
        grid=kept.get("grid", ""),
        sheets=kept.get("sheets", []),
        asks=[SheetAsk(**a) for a in kept.get("asks", [])],
        reasons=[SheetReason(**r) for r in row["reasons"]],
        again=SheetAgain(**again) if again else None,
        stayed=stayed or [],
    )


def _colours(desk: Desk) -> list[str]:
    with desk.open() as cx:
        return sheet_words.colours(cx)


async def _read(desk: Desk, path: FilePath, import_id: UUID, settings: dict[str, Any]) -> Listed:
    """Read the list in a worker, saying in the store how far it is."""

    def told(share: float, step: str) -> None:
        with contextlib.suppress(StoreAway), desk.open() as cx:
            captures.progress(cx, desk.who, import_id, share, step)

    async def tell(share: float, step: str) -> None:
        await run_in_threadpool(told, share, step)

    colours = await run_in_threadpool(_colours, desk)
    found: Listed = await workers.done(read_list, path, settings, colours, progress=tell)
    return found


def _stage(
    desk: Desk, path: FilePath, import_id: UUID, name: str, found: Listed, settings: dict[str, Any], file: bytes
) -> SheetOut:
    kept = settings | {"columns": [c.field for c in found.columns]}
    with desk.open() as cx:
        captures.progress(cx, desk.who, import_id, 0.92, "beside the range")
    try:
        with desk.open() as cx:
            sheets.stage(cx, desk.who, import_id, name, file, found.as_columns(), kept, lines_at(path))
            return _shown(cx, import_id)
    finally:
        with contextlib.suppress(StoreAway), desk.open() as cx:
            captures.done(cx, import_id)


def _known(desk: Desk, import_id: UUID) -> SheetOut | None:
    with desk.open() as cx, contextlib.suppress(NotFound):
        return _shown(cx, import_id)
    return None


def _shown(cx: Cx, import_id: UUID) -> SheetOut:
    row = sheets.get(cx, import_id)
    return sheet_out(row, again=None if row["done_at"] else sheet_words.same_file(cx, import_id))


def _usual(desk: Desk) -> dict[str, Any]:
    with desk.open() as cx:
        return Settings(currency=house.current(cx).currency).model_dump()


def _whole(desk: Desk, found: Listed) -> bool:
    """Whether a workbook with these sheets was read whole before."""
    with desk.open() as cx:
        return len(found.sheets) > 1 and sheets.habit(cx, sheets.of_book(found.sheets)) is not None


def _known_of(desk: Desk, found: Listed) -> tuple[dict[str, Any], bool]:
    """How a list with these headings was read last and what its supplier's words mean; and whether that changes
    anything here."""
    with desk.open() as cx:
        habit = sheets.habit(cx, [c.heading for c in found.columns]) or {}
        said = sheet_words.known(cx, found.supplier)
    child = said.pop("child", {}).get("child")
    asked = any(a["word"] in said.get(str(a["field"]), {}) or (a["field"] == "child" and child) for a in found.asks)
    return habit | {"words": said, "child": child}, bool(habit) or asked


@router.post(
    "/sheets",
    status_code=201,
    openapi_extra={
        "requestBody": {
            "required": True,
            "content": {"application/octet-stream": {"schema": {"type": "string", "format": "binary"}}},
        }
    },
)
async def bring(
    request: Request, desk: Manager, id: UUID, name: Annotated[str, Query(max_length=200)] = ""
) -> SheetOut:
    """Read a list sent as the body (CSV, XLSX, JSON) and hold it against the range; nothing is written yet.

    A list with headings that came before is read as it was then. The same id again gives the same sheet."""
    if before := await run_in_threadpool(_known, desk, id):
        return before
    with workers.place(), workers.spooled() as path:
        await lay_down(request, path, files.SHEET_BYTES)
        settings = await run_in_threadpool(_usual, desk)
        found = await _read(desk, path, id, settings)
        if await run_in_threadpool(_whole, desk, found):
            settings |= {"sheet": EVERY_SHEET}
            found = await _read(desk, path, id, settings)
        known, changes = await run_in_threadpool(_known_of, desk, found)
        settings |= known | {"currency": settings["currency"]}
        if changes:
            found = await _read(desk, path, id, settings)
        file = await run_in_threadpool(path.read_bytes)
        return await run_in_threadpool(_stage, desk, path, id, name[:200] or "a list", found, settings, file)


@router.put("/sheets/{sheet_id}/settings")
async def read_again(desk: Manager, sheet_id: UUID, given: Settings) -> SheetOut:
    """Read the sheet anew: other columns, another sport or size system, another meaning of its pairs."""

    def kept() -> tuple[bytes, str]:
        with desk.open() as cx:
            return sheets.file_of(cx, sheet_id), sheets.get(cx, sheet_id)["name"]

    file, name = await run_in_threadpool(kept)
    with workers.place(), workers.spooled(file) as path:
        found = await _read(desk, path, sheet_id, given.model_dump())
        return await run_in_threadpool(_stage, desk, path, sheet_id, name, found, given.model_dump(), file)


@router.get("/sheets")
def recent(desk: Manager) -> list[SheetOut]:
    """The sheets last brought, newest first."""
    with desk.open() as cx:
        return [sheet_out(r) for r in sheets.recent(cx)]


@router.get("/sheets/fields")
def fields(desk: Anyone) -> list[FieldOut]:
    """What a column can hold."""
    del desk
    return [FieldOut(slug=f, name=FIELD_NAMES[f]) for f in FIELDS]


@router.get("/sheets/{sheet_id}")
def one(desk: Manager, sheet_id: UUID) -> SheetOut:
    """One sheet: its columns, settings, and how many lines are new, changed, the same, odd or refused."""
    with desk.open() as cx:
        return _shown(cx, sheet_id)


@router.get("/sheets/{sheet_id}/progress")
def progress(desk: Manager, sheet_id: UUID) -> ProgressOut | None:
    """How far reading a sheet is; nothing when it isn't under way."""
    with desk.open() as cx:
        row = captures.progress_of(cx, sheet_id)
    return ProgressOut(**row) if row else None


@router.get("/sheets/{sheet_id}/rows")
def lines(
    desk: Manager,
    sheet_id: UUID,
    verdict: Verdict | None = None,
    after: Annotated[int, Query(ge=0, le=2**31 - 1)] = 0,
    limit: Annotated[int, Query(ge=1, le=500)] = 100,
) -> SheetRows:
    """Lines of a sheet, each with its row in the file, its verdict, and the sentence."""
    with desk.open() as cx:
        sheet = sheets.get(cx, sheet_id)
        found = sheets.rows(cx, sheet_id, verdict, after, limit)
        places = places_of(sheet["columns"])
    shown = [
        SheetRow(
            **{n: r[n] for n in ("row", "verdict", "said")},
            place=places.told(r["row"]),
            text=text_of(r["body"]),
        )
        for r in found
    ]
    return SheetRows(rows=shown, more=len(found) == limit)


def text_of(body: dict[str, Any]) -> str:
    """A line as its sheet has it, in one line."""
    if "given" in body:
        return " · ".join(c for c in body["given"] if c)
    if "model" not in body:
        return f"bar code {body['gtin'].lstrip('0')}"
    size = f" {label_words(body['system'], body['label'])}" if "label" in body else ""
    width = f" {body['width']}" if body.get("width", "regular") != "regular" else ""
    return f"{body['maker']} {body['model']}{size}{width}{' ' + body['colour'] if body.get('colour') else ''}"


@router.post("/sheets/{sheet_id}/write")
def write(desk: Manager, sheet_id: UUID, *, anyway: bool = False) -> SheetOut:
    """Write every line that isn't refused, all or none. Again is no change. `anyway` where the very same pairs were
    received before."""
    with desk.open() as cx:
        sheets.write(cx, desk.who, sheet_id, anyway=anyway)
        return sheet_out(sheets.get(cx, sheet_id))


@router.post("/sheets/{sheet_id}/undo")
def undo(desk: Manager, sheet_id: UUID) -> SheetOut:
    """Take a sheet back whole. Again is no change."""
    with desk.open() as cx:
        stayed = sheets.undo(cx, desk.who, sheet_id)
        return sheet_out(sheets.get(cx, sheet_id), stayed)


@router.get("/export/{kind}.{form}", response_class=FileResponse)
async def export(desk: Manager, kind: exports.Kind, form: Literal["csv", "xlsx", "json"]) -> FileResponse:
    """Everything of a kind as a file, in the columns docs/formats.md describes: written by a worker, then sent, however
    slowly it is fetched. `X-Kalon-Rows` tells how many rows it has."""
    with workers.place(), ExitStack() as kept:
        path = kept.enter_context(workers.spooled())
        whose = (os.environ["KALON_DATABASE_URL"], desk.token)
        rows = await workers.done(exports.into_file, path, *whose, kind, form, seconds=EXPORT_S)
        until_sent = kept.pop_all()
    return FileResponse(
        path,
        media_type=MEDIA[form],
        filename=f"kalon-{kind}.{form}",
        headers={"x-kalon-rows": str(rows)},
        background=BackgroundTask(until_sent.close),
    )
