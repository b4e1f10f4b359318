"""How often what was said came true, counted whenever a maker is learned from what stands of it."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import date
from typing import Any
from uuid import UUID

import numpy as np
from numpy.typing import NDArray

from ..core.learn.observe import VERDICTS, Ints
from ..core.learn.said import LIKELY
from .database import Cx
from .stands import CHANCE, PREDICTED, PREDICTED_SIGMA, SEEN, SEEN_SIGMA, Stands

FIFTHS = 5
EPOCH = date(1970, 1, 1).toordinal()
Counted = tuple[Any, ...]


def verdicts(maker_of_size: list[str], stands: Stands) -> list[Counted]:
    """Verdicts of which a chance of *fine* was said: maker, fitter, sport, what gives, the first day of a quarter, the
    chance in fifths, how many, how many came fine. `maker_of_size` has the maker of every size."""
    chance = stands.numbers[:, CHANCE]
    which = np.flatnonzero(~stands.is_return & (chance >= 0))
    fifth = np.minimum(np.floor(chance[which] * FIFTHS), FIFTHS).astype(int)
    fine = stands.verdict[which] == VERDICTS.index("fine")
    return [(*key, n, int(came)) for key, n, (came,) in _counted(maker_of_size, stands, which, [fifth], [fine])]


def gaps(maker_of_size: list[str], stands: Stands) -> list[Counted]:
    """Gaps seen at follow-ups: maker, fitter, sport, what gives, the first day of a quarter, how many, how many within
    what 90 in 100 should be within, the sum of seen less predicted, mm, and of its squares, mm²."""
    off = stands.numbers[:, SEEN] - stands.numbers[:, PREDICTED]
    spread = np.hypot(stands.numbers[:, PREDICTED_SIGMA], stands.numbers[:, SEEN_SIGMA])
    which = np.flatnonzero(stands.is_return & np.isfinite(off) & np.isfinite(spread))
    off, spread = off[which], spread[which]
    sums = [np.abs(off) <= LIKELY * spread, off, off**2]
    return [
        (*key, n, int(held), float(total), float(squares))
        for key, n, (held, total, squares) in _counted(maker_of_size, stands, which, [], sums)
    ]


def _counted(
    maker_of_size: list[str], stands: Stands, which: Ints, more: list[Ints], sums: list[NDArray[Any]]
) -> Iterator[tuple[Counted, int, list[float]]]:
    """By maker, fitter, sport, what gives, quarter and `more`: how many of some pieces there are, and their sums."""
    if not len(which):
        return
    months = (stands.kept_on[which] - EPOCH).astype("datetime64[D]").astype("datetime64[M]").astype(int)
    makers = np.array(maker_of_size, dtype=np.str_)[stands.size[which]]
    of = [makers, stands.fitter[which], stands.sport[which], stands.gives[which], months // 3 * 3, *more]
    values, places = zip(*(np.unique(column, return_inverse=True) for column in of), strict=True)
    sizes = [len(v) for v in values]
    codes, group, count = np.unique(np.ravel_multi_index(places, sizes), return_inverse=True, return_counts=True)
    added = np.stack([np.bincount(group, weights=s, minlength=len(codes)) for s in sums], axis=1)
    at = np.unravel_index(codes, sizes)
    named = zip(*(v[n].tolist() for v, n in zip(values, at, strict=True)), strict=True)
    for (maker, fitter, sport, gives, month, *rest), n, sum_of in zip(
        named, count.tolist(), added.tolist(), strict=True
    ):
        yield (maker, fitter, sport, gives, date(1970 + month // 12, month % 12 + 1, 1), *rest), n, sum_of


def write(cx: Cx, chain: UUID, makers: list[str], maker_of_size: list[str], stands: Stands) -> None:
    """What stands of some makers, counted anew."""
    cx.execute("DELETE FROM came_true WHERE chain_id = %s AND maker = ANY(%s)", [chain, makers])
    cx.execute("DELETE FROM gap_seen WHERE chain_id = %s AND maker = ANY(%s)", [chain, makers])
    said, seen = verdicts(maker_of_size, stands), gaps(maker_of_size, stands)
    if said:
        cx.execute(
            "INSERT INTO came_true (chain_id, maker, staff_id, sport, kind, quarter, fifth, count, fine) "
            "SELECT %s, r.* FROM unnest(%s::text[], %s::uuid[], %s::text[], %s::text[], %s::date[], %s::int[], "
            "%s::int[], %s::int[]) r",
            [chain, *map(list, zip(*said, strict=True))],
        )
    if seen:
        cx.execute(
            "INSERT INTO gap_seen (chain_id, maker, staff_id, sport, kind, quarter, count, held, off_mm, off_squared) "
            "SELECT %s, r.* FROM unnest(%s::text[], %s::uuid[], %s::text[], %s::text[], %s::date[], %s::int[], "
            "%s::int[], %s::float[], %s::float[]) r",
            [chain, *map(list, zip(*seen, strict=True))],
        )
