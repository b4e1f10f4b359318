"""Models and stock lines, and the tray of a fitting."""

from __future__ import annotations

from typing import Any
from uuid import UUID

import numpy as np
from psycopg.types.json import Jsonb

from ..core.errors import Conflict, NotFound
from ..core.match.rank import Shelf, Shoe
from .database import Cx, Row

TRAY_HOLDS = 4
LINE = """
    SELECT l.id, l.model_id, l.width, l.eu_label, l.length_mm, l.ball_girth_mm, l.instep_girth_mm, l.heel_width_mm,
           l.on_hand, m.maker, m.name, m.sport, m.upper, m.build, m.reinforced, m.properties, m.choices,
           m.price_cents
    FROM stock_line l JOIN shoe_model m ON m.id = l.model_id
"""


def shoe_of(row: Row, key: str = "model_id") -> Shoe:
    """A model's row as the core ranks it."""
    return Shoe(
        id=str(row[key]),
        sport=row["sport"],
        upper=row["upper"],
        build=row["build"],
        reinforced=row["reinforced"],
        properties=row["properties"],
        choices=row["choices"] | {"upper": row["upper"]},
        price_cents=row["price_cents"],
    )


def shelf(cx: Cx, sport: str) -> tuple[list[Shoe], Shelf, list[Row]]:
    """All pairs on hand for a sport: the shoes, their lines as arrays, and the lines' rows."""
    rows = cx.execute(
        LINE + " WHERE m.sport = %s AND l.on_hand > 0 ORDER BY l.model_id, l.width, l.eu_label", [sport]
    ).fetchall()
    models: dict[str, Row] = {}
    for row in rows:
        models.setdefault(str(row["model_id"]), row)
    place = {model_id: i for i, model_id in enumerate(models)}
    inner = np.array([[r["length_mm"], r["ball_girth_mm"], r["instep_girth_mm"], r["heel_width_mm"]] for r in rows])
    lines = Shelf(
        shoe=np.array([place[str(r["model_id"])] for r in rows], dtype=np.intp),
        label=np.array([r["eu_label"] for r in rows], dtype=float),
        inner=inner.reshape(-1, 4).astype(float),
        line_ids=[str(r["id"]) for r in rows],
    )
    return [shoe_of(r) for r in models.values()], lines, rows


def run_of(cx: Cx, model_id: UUID, width: str) -> list[Row]:
    """Every size of a model in one width, sold out or not. Raises `NotFound`."""
    rows = cx.execute(
        LINE + " WHERE l.model_id = %s AND l.width = %s ORDER BY l.eu_label", [model_id, width]
    ).fetchall()
    if not rows:
        raise NotFound("There is no such model in that width here.")
    return rows


def line(cx: Cx, line_id: UUID) -> Row:
    """One stock line with its model. Raises `NotFound`."""
    row = cx.execute(LINE + " WHERE l.id = %s", [line_id]).fetchone()
    if not row:
        raise NotFound("There is no such pair in stock here.")
    return row


def listing(cx: Cx, text: str) -> list[Row]:
    """The stockroom, narrowed by a text in maker, name, sport or size."""
    like = f"%{text.replace('%', '').replace('_', '')}%"
    return cx.execute(
        LINE + " WHERE m.maker || ' ' || m.name || ' ' || m.sport || ' ' || l.eu_label || ' ' || l.width ILIKE %s "
        "ORDER BY m.sport, m.maker, m.name, l.width, l.eu_label",
        [like],
    ).fetchall()


def models_of(cx: Cx, sport: str) -> list[Row]:
    """The shop's models of a sport, whether or not any is on the shelf."""
    return cx.execute(
        "SELECT id, maker, name, properties FROM shoe_model WHERE sport = %s ORDER BY maker, name", [sport]
    ).fetchall()


def count(cx: Cx, line_id: UUID, on_hand: int) -> Row:
    """Set how many pairs there are, as counted on the shelf."""
    line(cx, line_id)
    cx.execute("UPDATE stock_line SET on_hand = %s WHERE id = %s", [on_hand, line_id])
    return line(cx, line_id)


def tray(cx: Cx, fitting_id: UUID) -> list[Row]:
    """The pairs pulled for a fitting, in the order pulled, and who else has the same line out."""
    return cx.execute(
        LINE.replace("m.price_cents", "m.price_cents, others.n AS also_pulled", 1)
        + """
        JOIN tray_pair t ON t.stock_line_id = l.id
        LEFT JOIN LATERAL (SELECT count(*) AS n FROM tray_pair o JOIN fitting f ON f.id = o.fitting_id
                           WHERE o.stock_line_id = l.id AND o.fitting_id <> t.fitting_id AND f.state = 'open') others
        ON true WHERE t.fitting_id = %s ORDER BY t.pulled_at
        """,
        [fitting_id],
    ).fetchall()


def pull(cx: Cx, shop_id: UUID, fitting_id: UUID, line_id: UUID) -> None:
    """Put a pair in the tray; again is no change. Raises `Conflict` when the tray is full or the pair is gone."""
    if line(cx, line_id)["on_hand"] < 1:
        raise Conflict("That pair is sold out.", code="sold-out")
    have = [r["id"] for r in tray(cx, fitting_id)]
    if line_id in have:
        return
    if len(have) >= TRAY_HOLDS:
        raise Conflict(f"The tray holds {TRAY_HOLDS} pairs: put one back first.", code="tray-full")
    cx.execute(
        "INSERT INTO tray_pair (shop_id, fitting_id, stock_line_id) VALUES (%s, %s, %s)",
        [shop_id, fitting_id, line_id],
    )


def put_back(cx: Cx, fitting_id: UUID, line_id: UUID) -> None:
    """Take a pair out of the tray."""
    cx.execute("DELETE FROM tray_pair WHERE fitting_id = %s AND stock_line_id = %s", [fitting_id, line_id])


def add_model(cx: Cx, shop_id: UUID, model_id: UUID, values: dict[str, Any]) -> None:
    """A new model."""
    cx.execute(
        "INSERT INTO shoe_model (id, shop_id, maker, name, sport, upper, build, reinforced, properties, choices, "
        "price_cents) VALUES (%s, %s, %s, %s, %s, %s, %s, %s, %s, %s, %s)",
        [model_id, shop_id, values["maker"], values["name"], values["sport"], values["upper"], values["build"],
         values["reinforced"], Jsonb(values["properties"]), Jsonb(values["choices"]), values["price_cents"]],
    )  # fmt: skip


def add_line(cx: Cx, shop_id: UUID, line_id: UUID, model_id: UUID, values: dict[str, Any]) -> None:
    """A new stock line."""
    cx.execute(
        "INSERT INTO stock_line (id, shop_id, model_id, width, eu_label, length_mm, ball_girth_mm, instep_girth_mm, "
        "heel_width_mm, on_hand) VALUES (%s, %s, %s, %s, %s, %s, %s, %s, %s, %s)",
        [line_id, shop_id, model_id, values["width"], values["eu_label"], values["length_mm"],
         values["ball_girth_mm"], values["instep_girth_mm"], values["heel_width_mm"], values["on_hand"]],
    )  # fmt: skip
