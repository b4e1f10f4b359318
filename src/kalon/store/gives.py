"""How much uppers give, as follow-ups show: kept summed by model, so that one more costs one more."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any
from uuid import UUID

import numpy as np

from ..core.learn.give import GRID, Floats, Gives, Worn, curve, kind_and_models, of_kind
from ..core.rules.spec import VERSION
from .database import Cx, Row
from .evidence import body_of
from .stands import standing

CODE = f"{VERSION} {len(GRID)} 1"
"""Curves summed by other code are summed anew."""
STILL = 1e-7
"""What moved less is as it was: nothing is written."""
Returns = Mapping[tuple[UUID, str], set[int]]
"""Which pieces of evidence stand, by model and kind."""
NAMES = ("kind", "c_mm", "tau_h", "new_mm", "new_sigma_mm", "hours", "seen_mm", "seen_sigma_mm")
NEWEST = """
    SELECT DISTINCT ON (model_id) model_id, log_mean, log_sd, seen FROM learned_give
    WHERE chain_id = %s AND kind = %s ORDER BY model_id, version DESC
"""
PRUNE = """
    DELETE FROM learned_give g WHERE g.chain_id = %(chain)s AND g.kind = ANY(%(kinds)s) AND EXISTS (
        SELECT 1 FROM learned_give n WHERE n.chain_id = g.chain_id AND n.kind = g.kind
        AND n.model_id IS NOT DISTINCT FROM g.model_id AND n.version > g.version AND n.version <= (
            SELECT coalesce(min(f.learned_version), %(version)s) FROM fitting f JOIN shop h ON h.id = f.shop_id
            WHERE h.chain_id = %(chain)s AND f.state = 'open' AND f.touched_at > now() - interval '60 days'
              AND f.learned_version > 0))
"""
"""What no fitting under way is computed with any more."""


def learn_gives(cx: Cx, chain: UUID, version: int, models: set[UUID], stands: Returns) -> None:
    """Learn anew what some models' follow-ups changed; kinds are shared by all models of the chain. `stands` is all
    that stands of them."""
    touched = _sum_anew(cx, chain) | _sum_all(cx, chain, models, stands)
    for kind in sorted(touched):
        _write(cx, chain, version, kind)
    if touched:
        cx.execute(PRUNE, {"chain": chain, "version": version, "kinds": sorted(touched)})


def _sum_anew(cx: Cx, chain: UUID) -> set[str]:
    """Sum all of a chain's curves, model by model, where they were summed by other code; the kinds there are."""
    row = cx.execute("SELECT gives_summed_by FROM chain WHERE id = %s FOR NO KEY UPDATE", [chain]).fetchone()
    if row and row["gives_summed_by"] == CODE:
        return set()
    kinds = {r["kind"] for r in cx.execute("DELETE FROM give_curve WHERE chain_id = %s RETURNING kind", [chain])}
    kinds |= {r["kind"] for r in cx.execute("SELECT DISTINCT kind FROM learned_give WHERE chain_id = %s", [chain])}
    for model in cx.execute(
        "SELECT DISTINCT v.model_id FROM evidence e JOIN variant v ON v.id = e.variant_id "
        "WHERE e.chain_id = %s AND e.kind = 'return'",
        [chain],
    ).fetchall():
        own = model["model_id"]
        sizes = [r["id"] for r in cx.execute("SELECT id FROM variant WHERE model_id = %s", [own]).fetchall()]
        kinds |= _sum_all(cx, chain, {own}, standing(cx, sizes).returns([own] * len(sizes)))
    cx.execute("UPDATE chain SET gives_summed_by = %s WHERE id = %s", [CODE, chain])
    return kinds


def _sum_all(cx: Cx, chain: UUID, models: set[UUID], now: Returns) -> set[str]:
    """Bring the curves of some models to what stands; the kinds of those that changed."""
    kept = {
        (r["model_id"], r["kind"]): r
        for r in cx.execute(
            "SELECT model_id, kind, pieces, likely FROM give_curve WHERE chain_id = %s AND model_id = ANY(%s)",
            [chain, list(models)],
        ).fetchall()
    }
    touched: set[str] = set()
    for key in now.keys() | kept.keys():
        if _sum(cx, chain, key, now.get(key, set()), kept.get(key)):
            touched.add(key[1])
    return touched


def _sum(cx: Cx, chain: UUID, key: tuple[UUID, str], now: set[int], kept: Row | None) -> bool:
    """Add to a model's curve what came, take out what went; whether anything did."""
    model, kind = key
    was = set(kept["pieces"]) if kept else set()
    came, went = now - was, was - now
    if not came and not went:
        return False
    if not now:
        cx.execute("DELETE FROM give_curve WHERE chain_id = %s AND model_id = %s AND kind = %s", [chain, model, kind])
        return True
    if went or not kept:  # as from nothing: what is subtracted again and again wears away
        likely = curve(_worn(cx, model, now))
    else:
        likely = _floats(kept["likely"]) + curve(_worn(cx, model, came))
    cx.execute(
        "INSERT INTO give_curve (chain_id, kind, model_id, pieces, likely, share) "
        "VALUES (%s, %s, %s, %s, %s, %s) ON CONFLICT (chain_id, kind, model_id) DO UPDATE SET "
        "pieces = EXCLUDED.pieces, likely = EXCLUDED.likely, share = EXCLUDED.share",
        [chain, kind, model, sorted(now), likely.tobytes(), of_kind(likely).tobytes()],
    )
    return True


def _worn(cx: Cx, model: UUID, pieces: set[int]) -> list[Worn]:
    rows = cx.execute("SELECT body, format FROM evidence WHERE id = ANY(%s) ORDER BY id", [sorted(pieces)]).fetchall()
    bodies = [body_of(r) for r in rows]
    return [Worn(model=str(model), **{n: body[n] for n in NAMES}) for body in bodies]


def _floats(kept: bytes) -> Floats:
    return np.frombuffer(kept, dtype=np.float64)


def _write(cx: Cx, chain: UUID, version: int, kind: str) -> None:
    """A kind and its models as all their curves make them; only what moved."""
    with cx.cursor(binary=True) as cursor:
        curves = cursor.execute(
            "SELECT model_id, likely, share, cardinality(pieces) AS seen FROM give_curve "
            "WHERE chain_id = %s AND kind = %s ORDER BY model_id",
            [chain, kind],
        ).fetchall()
    stood = {r["model_id"]: r for r in cx.execute(NEWEST, [chain, kind]).fetchall()}
    now: dict[UUID | None, tuple[float, float, int]] = {}
    if curves:
        likely, shares = (np.array([_floats(r[n]) for r in curves]) for n in ("likely", "share"))
        of_kind_, of_models = kind_and_models(likely, shares)
        now[None] = (*_told(of_kind_), sum(r["seen"] for r in curves))
        now |= {r["model_id"]: (*_told(g), r["seen"]) for r, g in zip(curves, of_models, strict=True)}
    now |= dict.fromkeys(stood.keys() - now.keys(), (0.0, 1.0, 0))  # nothing is seen of it any more
    rows: list[tuple[Any, ...]] = [
        (chain, version, kind, model, *new)
        for model, new in now.items()
        if not (was := stood.get(model)) or _moved((was["log_mean"], was["log_sd"], was["seen"]), new)
    ]
    with cx.cursor() as cursor:
        cursor.executemany(
            "INSERT INTO learned_give (chain_id, version, kind, model_id, log_mean, log_sd, seen) "
            "VALUES (%s, %s, %s, %s, %s, %s, %s)",
            rows,
        )


def _told(found: Gives) -> tuple[float, float]:
    return found.log_mean, found.log_sd


def _moved(was: tuple[float, float, int], new: tuple[float, float, int]) -> bool:
    return was[2] != new[2] or max(abs(was[0] - new[0]), abs(was[1] - new[1])) > STILL
