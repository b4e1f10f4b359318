"""The shoe bench: pictures measured in a worker, corrected and kept, hand tests, and what a shoe is good for."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated
from uuid import UUID

from fastapi import APIRouter, Query, Request, Response
from pydantic import ValidationError
from starlette.concurrency import run_in_threadpool

from ...core.errors import BadInput, bad_field, from_validation
from ...core.match.good_for import GoodFor, good_elsewhere, good_for
from ...core.mechanics.studs import Stud
from ...core.rules.bench import own_mechanics
from ...core.rules.scales import scale
from ...core.shoes.hand_tests import HandTest, tests_for
from ...core.shoes.lost import lost
from ...core.shoes.made import Made
from ...core.shoes.pictured import Way
from ...devices.shoe_pictures import practice_picture
from ...files import workers
from ...files.shoes import PICTURE_BYTES, ShoePicture, ShoeSaid
from ...store import bench, catalogue, house, pairs, pictures, stock
from ...store.database import Cx, Row
from ..bodies import check_json
from ..desk import Anyone, Desk
from ..schemas_pictures import (
    FindingSaid,
    HandFound,
    HandTestOut,
    LostOut,
    OwnMechanics,
    PairPictures,
    PictureChange,
    PictureKeep,
    PictureOut,
    PictureShape,
    PlateOut,
    PracticeShoe,
    PropertyOut,
    ShoeBench,
)
from ..spool import lay_down
from ..telling import telling

router = APIRouter(prefix="/api", tags=["shoe bench"])
FILE = {
    "requestBody": {
        "required": True,
        "content": {"application/octet-stream": {"schema": {"type": "string", "format": "binary"}}},
    }
}
WAYS: tuple[Way, ...] = ("side", "sole")


def _out(row: Row) -> PictureOut:
    named = {n: row[n] for n in ("id", "way", "name", "said", "version", "practice", "taken_at", "taken_by")}
    return PictureOut(
        **named,
        reading=pictures.reading_of(row),
        shape=PictureShape.model_validate(row["shape"]),
        kept=row["kept_at"] is not None,
    )


def _said(text: str) -> ShoeSaid:
    check_json(text.encode())
    try:
        return ShoeSaid.model_validate_json(text)
    except ValidationError as error:
        raise from_validation(error, "said") from None


async def _measure(desk: Desk, path: Path, way: Way, said: ShoeSaid, picture_id: UUID) -> ShoePicture:
    """Measure in a worker, saying in the store how far it is."""
    async with telling(desk, picture_id) as tell:
        return await workers.measured_shoe(path, way, said, tell)


def _about(cx: Cx, line_id: UUID | None, pair_id: UUID | None) -> tuple[UUID | None, UUID | None]:
    """The size or the pair a picture is of. Raises `NotFound`."""
    if line_id:
        return stock.size_of(cx, line_id), None
    return None, pairs.get(cx, pair_id)["id"] if pair_id else None


async def _bring(
    request: Request, desk: Desk, way: Way, picture_id: UUID, name: str, said: str, line: UUID | None, pair: UUID | None
) -> PictureOut:
    given = await run_in_threadpool(_said, said)

    def before() -> PictureOut | None:
        with desk.open() as cx:
            row = pictures.sent_before(cx, picture_id, *_about(cx, line, pair))
            return _out(row) if row else None

    def keep(found: ShoePicture) -> PictureOut:
        with desk.open() as cx:
            variant_id, pair_id = _about(cx, line, pair)
            return _out(pictures.add(cx, desk.who, picture_id, found, name, variant_id=variant_id, pair_id=pair_id))

    if known := await run_in_threadpool(before):
        return known
    with workers.place(), workers.spooled() as path:
        await lay_down(request, path, PICTURE_BYTES)
        found = await _measure(desk, path, way, given, picture_id)
    return await run_in_threadpool(keep, found)


Name = Annotated[str, Query(max_length=200)]
Text = Annotated[str, Query(max_length=4000)]


@router.post("/stock/{line_id}/pictures", status_code=201, openapi_extra=FILE)
async def of_size(
    request: Request, desk: Anyone, line_id: UUID, id: UUID, way: Way, name: Name = "", said: Text = "{}"
) -> PictureOut:
    """Measure a picture of a size in stock, sent as the body. `said` is JSON of `ShoeSaid`; again is no change."""
    return await _bring(request, desk, way, id, name, said, line_id, None)


@router.get("/stock/{line_id}/pictures")
def pictures_of_size(desk: Anyone, line_id: UUID) -> list[PictureOut]:
    """This shop's pictures of one size, the newest first."""
    with desk.open() as cx:
        return [_out(r) for r in pictures.of_variant(cx, stock.size_of(cx, line_id))]


@router.post("/stock/{line_id}/practice-shoe", status_code=201)
async def practise(desk: Anyone, line_id: UUID, given: PracticeShoe) -> PictureOut:
    """A practice camera's picture of a made-up shoe, measured like any other; it never counts for the catalogue."""

    def before() -> PictureOut | None:
        with desk.open() as cx:
            row = pictures.sent_before(cx, given.id, stock.size_of(cx, line_id), None)
            return _out(row) if row else None

    def keep(found: ShoePicture) -> PictureOut:
        with desk.open() as cx:
            variant_id = stock.size_of(cx, line_id)
            name = f"practice {given.way} {given.seed}"
            return _out(pictures.add(cx, desk.who, given.id, found, name, variant_id=variant_id, practice=True))

    if known := await run_in_threadpool(before):
        return known
    with workers.place():
        data, _ = await run_in_threadpool(practice_picture, given.way, given.seed)
        with workers.spooled(data) as path:
            found = await _measure(desk, path, given.way, ShoeSaid(), given.id)
    return await run_in_threadpool(keep, found)


@router.post("/pairs/{pair_id}/pictures", status_code=201, openapi_extra=FILE)
async def of_own_pair(
    request: Request, desk: Anyone, pair_id: UUID, id: UUID, way: Way, name: Name = "", said: Text = "{}"
) -> PictureOut:
    """Measure a picture of a pair somebody owns: its first day, or what became of it."""
    return await _bring(request, desk, way, id, name, said, None, pair_id)


@router.get("/pairs/{pair_id}/pictures")
def pictures_of_pair(desk: Anyone, pair_id: UUID) -> PairPictures:
    """Pictures of a pair somebody owns, and what they say it lost since the first."""
    with desk.open() as cx:
        pairs.get(cx, pair_id)
        seen, found = pictures.of_pair(cx, pair_id), []
        for way in WAYS:
            then, now = pictures.first_and_now(cx, pair_id, way)
            if not now:
                continue
            gone = lost(pictures.reading_of(then), pictures.reading_of(now)) if then else []
            found.append(
                LostOut(
                    way=way,
                    then=_out(then) if then else None,
                    now=_out(now),
                    lost=gone,
                    of_model=bool(then and then["pair_id"] is None),
                )
            )
    return PairPictures(pictures=[_out(r) for r in seen], lost=found)


@router.get(
    "/shoe-pictures/{picture_id}/image", response_class=Response, responses={200: {"content": {"image/jpeg": {}}}}
)
def image(desk: Anyone, picture_id: UUID, flat: bool = False) -> Response:
    """A picture's photograph, or (`flat`) what was seen squarely at 2 pixels a millimetre."""
    with desk.open() as cx:
        return Response(pictures.bytes_of(cx, picture_id, "view" if flat else "copy"), media_type="image/jpeg")


@router.get("/shoe-pictures/{picture_id}")
def picture(desk: Anyone, picture_id: UUID) -> PictureOut:
    """One picture as it stands."""
    with desk.open() as cx:
        return _out(pictures.get(cx, picture_id))


@router.patch("/shoe-pictures/{picture_id}")
async def correct(desk: Anyone, picture_id: UUID, given: PictureChange) -> PictureOut:
    """Measure a picture again with what the fitter now says of it. 409 when somebody else did so meanwhile."""

    def ask() -> tuple[Row, bytes]:
        with desk.open() as cx:
            return pictures.get(cx, picture_id), pictures.bytes_of(cx, picture_id, "copy")

    def keep(found: ShoePicture) -> PictureOut:
        with desk.open() as cx:
            return _out(pictures.correct(cx, picture_id, given.version, found))

    row, copy = await run_in_threadpool(ask)
    with workers.place(), workers.spooled(copy) as path:
        found = await workers.measured_shoe(path, row["way"], given.said, again=True)
    return await run_in_threadpool(keep, found)


@router.post("/shoe-pictures/{picture_id}/keep")
def keep(desk: Anyone, picture_id: UUID, given: PictureKeep) -> PictureOut:
    """Keep for the catalogue what a picture tells: readings of the size, numbers and the plate of the model."""
    with desk.open() as cx:
        return _out(pictures.keep(cx, desk.who, picture_id, given.version))


@router.delete("/shoe-pictures/{picture_id}")
def remove(desk: Anyone, picture_id: UUID) -> None:
    """Take a picture out; what was kept of it stays."""
    with desk.open() as cx:
        pictures.remove(cx, picture_id)


@router.get("/models/{model_id}/bench")
def on_the_bench(desk: Anyone, model_id: UUID) -> ShoeBench:
    """A model on the bench."""
    with desk.open() as cx:
        return _bench(cx, model_id)


@router.get("/models/{model_id}/elsewhere")
def serves_elsewhere(desk: Anyone, model_id: UUID) -> list[GoodFor]:
    """Disciplines of other sports the model suits or serves."""
    with desk.open() as cx:
        return good_elsewhere(catalogue.model(cx, model_id), house.current(cx))


def _bench(cx: Cx, model_id: UUID) -> ShoeBench:
    row = catalogue.made(cx, model_id)
    plate = pictures.plate_of(cx, model_id)
    scales = {n: scale(n, row["sport"]) for n in row["properties"]}
    return ShoeBench(
        model_id=model_id,
        maker=row["maker"],
        name=row["name"],
        sport=row["sport"],
        properties=[
            PropertyOut(slug=n, name=s.name, value=row["properties"][n], unit=s.unit, low=s.low, high=s.high)
            for n, s in scales.items()
        ],
        plate=PlateOut(studs=[Stud(**s) for s in plate["studs"]], for_mm=plate["for_mm"]) if plate else None,
        tests=[_test(t, row) for t in tests_for(row["sport"])],
        good_for=good_for(catalogue.model(cx, model_id), house.current(cx)),
        pictures=[_out(r) for r in pictures.of_model(cx, model_id)],
    )


def _test(test: HandTest, row: Row) -> HandTestOut:
    known = row["features"].get(test.tells, row["properties"].get(test.tells))
    near = None
    if known is not None and test.findings:
        near = min(test.findings, key=lambda f: abs(float(f.value) - float(known)))
    return HandTestOut(
        slug=test.slug,
        name=test.name,
        how=test.how,
        tells=test.tells,
        unit=test.unit,
        findings=[FindingSaid(slug=f.slug, text=f.text, means=f.means) for f in test.findings],
        found=near.slug if near else None if known is None else f"{float(known):g}",
        means=near.means if near else "",
    )


@router.post("/models/{model_id}/tests/{slug}")
def found_by_hand(desk: Anyone, model_id: UUID, slug: str, given: HandFound) -> ShoeBench:
    """What a hand found: kept for the model as the number or feature it stands for."""
    with desk.open() as cx:
        row = catalogue.made(cx, model_id)
        test = next((t for t in tests_for(row["sport"]) if t.slug == slug), None)
        if test is None:
            raise BadInput("There is no such hand test for this sport.", code="no-test")
        if test.findings:
            finding = next((f for f in test.findings if f.slug == given.finding), None)
            if finding is None:
                raise bad_field("finding", "unknown", f"{test.name}: that is nothing this test finds.")
            value: float | bool = finding.value
        elif given.value is None:
            raise bad_field("value", "missing", f"{test.name}: a number in {test.unit} is needed.")
        else:
            value = given.value
        known = Made(**{n: row[n] for n in Made.model_fields})
        part = "features" if isinstance(value, bool) else "properties"
        now = getattr(known, part) | {test.tells: value}
        try:
            model = Made.model_validate(known.model_dump() | {part: now})
        except ValidationError as error:
            raise from_validation(error, "found") from None
        catalogue.save_model(cx, desk.who, model_id, given.id, model, None, house.current(cx).currency,
                               retired=row["retired_at"] is not None)  # fmt: skip
        return _bench(cx, model_id)


@router.get("/fittings/{fitting_id}/own/{model_id}")
def own(desk: Anyone, fitting_id: UUID, model_id: UUID) -> OwnMechanics:
    """The mechanics of one model under this athlete: its own studs on this ground, its own drop in the squat."""
    with desk.open() as cx:
        on = bench.load(cx, fitting_id)
        row, plate = catalogue.made(cx, model_id), pictures.plate_of(cx, model_id)
        if on.case is None or on.spec is None:
            return OwnMechanics(name=row["name"])
        studs = [Stud(**s) for s in plate["studs"]] if plate else []
        found = own_mechanics(
            on.case, on.spec, studs, plate["for_mm"] if plate else 0.0, row["properties"].get("drop_mm")
        )
    return OwnMechanics(name=f"{row['maker']} {row['name']}", on_ground=found.on_ground, lifter=found.lifter)
