"""Models and stock lines, and the tray of a fitting."""

from __future__ import annotations

from typing import Any
from uuid import UUID

import numpy as np
from psycopg.types.json import Jsonb

from ..core.errors import Conflict, NotFound
from ..core.match.rank import Shelf, Shoe
from .audit import once, record, record_shop, used_elsewhere
from .database import Cx, Row, Who
from .ids import new_id

TRAY_HOLDS = 4
LINE = """
    SELECT l.id, l.model_id, l.width, l.eu_label, l.length_mm, l.ball_girth_mm, l.instep_girth_mm, l.heel_width_mm,
           l.on_hand, m.maker, m.name, m.sport, m.upper, m.build, m.reinforced, m.properties, m.choices,
           m.features, m.price_minor
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
        price_minor=row["price_minor"],
        features=row["features"],
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
    like = "%" + text.replace("\\", "\\\\").replace("%", "\\%").replace("_", "\\_") + "%"
    return cx.execute(
        LINE + " WHERE m.maker || ' ' || m.name || ' ' || m.sport || ' ' || l.eu_label || ' ' || l.width ILIKE %s "
        "ORDER BY m.sport, m.maker, m.name, l.width, l.eu_label",
        [like],
    ).fetchall()


def model(cx: Cx, model_id: UUID) -> Shoe:
    """One model as the core ranks it. Raises `NotFound`."""
    row = cx.execute("SELECT * FROM shoe_model WHERE id = %s", [model_id]).fetchone()
    if not row:
        raise NotFound("There is no such model here.")
    return shoe_of(row, "id")


def models_of(cx: Cx, sport: str) -> list[Row]:
    """The shop's models of a sport, whether or not any is on the shelf."""
    return cx.execute(
        "SELECT id, maker, name, properties, features FROM shoe_model WHERE sport = %s ORDER BY maker, name", [sport]
    ).fetchall()


def move(cx: Cx, who: Who, line_id: UUID, move_id: UUID, by: int) -> Row:
    """So many pairs more or fewer, as counted on the shelf. The same `move_id` again moves nothing.

    Raises `Conflict` when there are not so many to take away."""
    once(cx, move_id)
    line(cx, line_id)
    done = cx.execute("SELECT about, about_id, after FROM shop_change WHERE change_id = %s", [move_id]).fetchone()
    if done:
        if (done["about"], done["about_id"], done["after"].get("by")) != ("stock", line_id, by):
            raise used_elsewhere()
        return line(cx, line_id)
    moved = cx.execute(
        "UPDATE stock_line SET on_hand = on_hand + %(by)s "
        "WHERE id = %(id)s AND on_hand + %(by)s BETWEEN 0 AND 9999 RETURNING on_hand",
        {"by": by, "id": line_id},
    ).fetchone()
    if not moved:
        raise Conflict(f"There are {line(cx, line_id)['on_hand']} on hand: not so many to move.", code="too-few")
    before = {"on_hand": moved["on_hand"] - by}
    record_shop(cx, who, "stock", line_id, move_id, before, {"on_hand": moved["on_hand"], "by": by})
    return line(cx, line_id)


def tray(cx: Cx, fitting_id: UUID) -> list[Row]:
    """The pairs pulled for a fitting, in the order pulled, and who else has the same line out."""
    return cx.execute(
        LINE.replace("m.price_minor", "m.price_minor, others.n AS also_pulled", 1)
        + """
        JOIN tray_pair t ON t.stock_line_id = l.id
        LEFT JOIN LATERAL (SELECT count(*) AS n FROM tray_pair o
                           WHERE o.stock_line_id = l.id AND o.fitting_id <> t.fitting_id AND o.held) others
        ON true WHERE t.fitting_id = %s ORDER BY t.pulled_at
        """,
        [fitting_id],
    ).fetchall()


def hold_tray(cx: Cx, fitting_id: UUID, *, held: bool) -> None:
    """Whether a fitting's tray keeps its pairs off the shelf: as long as it is open."""
    cx.execute("UPDATE tray_pair SET held = %s WHERE fitting_id = %s", [held, fitting_id])


def pull(cx: Cx, who: Who, fitting: Row, line_id: UUID) -> None:
    """Put a pair in a locked fitting's tray; again is no change.

    Raises `Conflict` when the tray is full or the pair is gone."""
    have = [
        r["stock_line_id"]
        for r in cx.execute("SELECT stock_line_id FROM tray_pair WHERE fitting_id = %s", [fitting["id"]]).fetchall()
    ]
    if line_id in have:
        return
    pair = line(cx, line_id)
    if pair["on_hand"] < 1:
        raise Conflict("That pair is sold out.", code="sold-out")
    if len(have) >= TRAY_HOLDS:
        raise Conflict(f"The tray holds {TRAY_HOLDS} pairs: put one back first.", code="tray-full")
    cx.execute(
        "INSERT INTO tray_pair (shop_id, fitting_id, stock_line_id) VALUES (%s, %s, %s)",
        [who.shop_id, fitting["id"], line_id],
    )
    _note(cx, who, fitting, {}, _named(pair))


def put_back(cx: Cx, who: Who, fitting: Row, line_id: UUID) -> None:
    """Take a pair out of a locked fitting's tray; again is no change."""
    gone = cx.execute(
        "DELETE FROM tray_pair WHERE fitting_id = %s AND stock_line_id = %s", [fitting["id"], line_id]
    ).rowcount
    if gone:
        _note(cx, who, fitting, _named(line(cx, line_id)), {})


def _named(pair: Row) -> dict[str, Any]:
    return {"pair": f"{pair['maker']} {pair['name']} EU {pair['eu_label']:g}", "stock_line_id": str(pair["id"])}


def _note(cx: Cx, who: Who, fitting: Row, before: dict[str, Any], after: dict[str, Any]) -> None:
    record(cx, who, fitting["athlete_id"], fitting["id"], "tray", 1, new_id(), before, after)
    cx.execute("UPDATE fitting SET touched_at = now() WHERE id = %s", [fitting["id"]])


def add_model(cx: Cx, shop_id: UUID, model_id: UUID, values: dict[str, Any]) -> None:
    """A new model."""
    cx.execute(
        "INSERT INTO shoe_model (id, shop_id, maker, name, sport, upper, build, reinforced, properties, choices, "
        "features, price_minor) VALUES (%s, %s, %s, %s, %s, %s, %s, %s, %s, %s, %s, %s)",
        [model_id, shop_id, values["maker"], values["name"], values["sport"], values["upper"], values["build"],
         values["reinforced"], Jsonb(values["properties"]), Jsonb(values["choices"]),
         Jsonb(values.get("features", {})), values["price_minor"]],
    )  # fmt: skip


def add_line(cx: Cx, shop_id: UUID, line_id: UUID, model_id: UUID, values: dict[str, Any]) -> None:
    """A new stock line."""
    cx.execute(
        "INSERT INTO stock_line (id, shop_id, model_id, width, eu_label, length_mm, ball_girth_mm, instep_girth_mm, "
        "heel_width_mm, on_hand) VALUES (%s, %s, %s, %s, %s, %s, %s, %s, %s, %s)",
        [line_id, shop_id, model_id, values["width"], values["eu_label"], values["length_mm"],
         values["ball_girth_mm"], values["instep_girth_mm"], values["heel_width_mm"], values["on_hand"]],
    )  # fmt: skip
