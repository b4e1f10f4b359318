"""The machine: how a tablet comes to trust it, which the shop has, codes for other devices' cameras; its archive."""

from __future__ import annotations

from uuid import UUID

from fastapi import APIRouter, Request, Response

from ...core.errors import NotFound
from ...store import tablets
from ..desk import Anyone, Manager
from ..machine import archive_told, tablets_told, trusted
from ..qr import as_path, squares
from ..schemas_tablets import ArchiveOut, QrIn, QrOut, TabletChange, TabletIn, TabletOut, TrustOut
from .session import TABLET, keep_cookie

router = APIRouter(prefix="/api", tags=["tablets"])


@router.get("/trust")
def trust() -> TrustOut:
    """Where this machine is for tablets, and by what a tablet knows that it is this one. Asks nobody who they are."""
    return tablets_told()


@router.get("/trust/authority.crt")
def authority() -> Response:
    """The certificate of this machine's authority, for a tablet to trust. Asks nobody who they are."""
    certificate = trusted()
    if certificate is None:
        raise NotFound("This machine has no authority of its own: nothing has to be trusted.")
    return Response(
        certificate,
        media_type="application/x-x509-ca-cert",
        headers={"content-disposition": 'attachment; filename="kalon-authority.crt"'},
    )


@router.get("/archive")
def archive(desk: Manager) -> ArchiveOut:
    """How this machine's archive stands."""
    del desk
    return archive_told()


@router.get("/tablets")
def listed(desk: Manager) -> list[TabletOut]:
    """The tablets of the shop."""
    with desk.open() as cx:
        return [TabletOut(**r) for r in tablets.listed(cx)]


@router.post("/tablets", status_code=201)
def add(desk: Manager, given: TabletIn, request: Request, response: Response) -> list[TabletOut]:
    """The browser that asks is a tablet of the shop's from now on."""
    with desk.open() as cx:
        token = tablets.made(cx, desk.who, given.id, given.name)
        now = [TabletOut(**r) for r in tablets.listed(cx)]
    keep_cookie(request, response, TABLET, token, tablets.TABLET_LASTS)
    return now


@router.patch("/tablets/{tablet_id}")
def rename(desk: Manager, tablet_id: UUID, given: TabletChange) -> list[TabletOut]:
    """Call it something else."""
    with desk.open() as cx:
        tablets.renamed(cx, tablet_id, given.name)
        return [TabletOut(**r) for r in tablets.listed(cx)]


@router.delete("/tablets/{tablet_id}")
def take_out(desk: Manager, tablet_id: UUID) -> list[TabletOut]:
    """It is no tablet of the shop's any more: nobody's PIN counts on it."""
    with desk.open() as cx:
        tablets.taken_out(cx, desk.who, tablet_id)
        return [TabletOut(**r) for r in tablets.listed(cx)]


@router.post("/qr")
def drawn(desk: Anyone, given: QrIn) -> QrOut:
    """A text as a pattern that another device's camera reads."""
    del desk
    rows = squares(given.text)
    return QrOut(size=len(rows), path=as_path(rows))
