"""Where the learner stood in each zone of what it learned last: kept to begin from, and worth nothing else."""

from __future__ import annotations

import io
from collections.abc import Sequence
from uuid import UUID

import numpy as np

from ..core.learn.offsets import STAGES, Stood
from ..core.learn.zone import Kept
from ..core.shoes.inner import Zone
from .database import Cx
from .parked import CODE

BY_NAME = ("tau", "nu", "nothing", "given")
BY_FITTER = ("empty", "likely")


def read(cx: Cx, chain: UUID, maker: str, zones: Sequence[Zone]) -> dict[Zone, Stood]:
    """Where a maker's zones stood; nothing of what other code kept."""
    with cx.cursor(binary=True) as cursor:
        rows = cursor.execute(
            "SELECT zone, body FROM learn_start WHERE chain_id = %s AND maker = %s AND zone = ANY(%s) AND code = %s",
            [chain, maker, list(zones), CODE],
        ).fetchall()
    return {r["zone"]: unpacked(r["body"]) for r in rows}


def write(cx: Cx, chain: UUID, maker: str, zone: Zone, stood: Stood) -> None:
    """Keep where a maker's zone stands."""
    cx.execute(
        "INSERT INTO learn_start (chain_id, maker, zone, body, code) VALUES (%s, %s, %s, %s, %s) "
        "ON CONFLICT (chain_id, maker, zone) DO UPDATE SET body = EXCLUDED.body, code = EXCLUDED.code",
        [chain, maker, zone, packed(stood), CODE],
    )


def packed(stood: Stood) -> bytes:
    """As bytes; halved in width, which is plenty to begin from."""
    into = io.BytesIO()
    arrays = {}
    for stage, kept in stood.items():
        arrays[f"{stage} names"] = np.array(kept.names, dtype=np.bytes_)
        arrays[f"{stage} fitters"] = np.array(kept.fitters, dtype=np.str_)
        arrays |= {f"{stage} {n}": getattr(kept, n).astype(np.float32) for n in (*BY_NAME, *BY_FITTER)}
    np.savez(into, **arrays)  # type: ignore[arg-type]
    return into.getvalue()


def unpacked(body: bytes) -> Stood:
    """The same read again."""
    with np.load(io.BytesIO(body), allow_pickle=False) as arrays:
        return {
            stage: Kept(
                names=[n.decode() for n in arrays[f"{stage} names"].tolist()],
                fitters=arrays[f"{stage} fitters"].tolist(),
                **{n: arrays[f"{stage} {n}"].astype(float) for n in (*BY_NAME, *BY_FITTER)},
            )
            for stage in STAGES
            if f"{stage} names" in arrays
        }
