"""Sheets brought in: staged line by line, held against the catalogue, then written all or not at all; and taken back.

Everything is done by whole statements over the staged rows, in one transaction, however long the list is.
"""

from __future__ import annotations

import json
from collections.abc import Iterable, Iterator
from itertools import islice
from typing import Any, Literal
from uuid import UUID

from psycopg.errors import CheckViolation
from psycopg.types.json import Jsonb

from ..core.errors import Conflict, NotFound
from ..core.fit.foot import FIT_ZONES, MEASURES
from ..core.money import minor_digits
from ..core.shoes.inner import inner
from .audit import once
from .catalogue import SIGMAS, chain_of, inside_of, surest_of
from .database import Cx, Row, Who

AT_ONCE = 5_000
KEPT_FOR = "90 days"
"""How long the lines of a sheet are kept, and with them the way back."""
LONG = "SET LOCAL statement_timeout = '110s'"
Verdict = Literal["new", "changed", "same", "odd", "refused"]


def stage(
    cx: Cx, who: Who, import_id: UUID, name: str, file: bytes, columns: dict[str, Any],
    settings: dict[str, Any], lines: Iterable[list[Any]],
) -> None:  # fmt: skip
    """Put a sheet's lines beside the catalogue and judge them. The same id again judges them anew.

    Raises `Conflict` when it was written already."""
    once(cx, import_id)
    cx.execute(LONG)
    known = cx.execute("SELECT done_at FROM sheet_import WHERE id = %s", [import_id]).fetchone()
    if known and known["done_at"]:
        raise Conflict("This sheet was brought in already. Bring it in again as a new one.", code="sheet-done")
    cx.execute(
        f"DELETE FROM sheet_row WHERE import_id IN (SELECT id FROM sheet_import WHERE id = %s "
        f"OR began_at < now() - interval '{KEPT_FOR}')",
        [import_id],
    )
    cx.execute(
        "INSERT INTO sheet_import (id, shop_id, staff_id, name, file, columns, settings) "
        "VALUES (%s, %s, %s, %s, %s, %s, %s) ON CONFLICT (id) DO UPDATE "
        "SET columns = excluded.columns, settings = excluded.settings",
        [import_id, who.shop_id, who.staff_id, name, file, Jsonb(columns), Jsonb(settings)],
    )
    for part in _parts(lines):
        cx.execute(
            "INSERT INTO sheet_row (shop_id, import_id, row, verdict, said, body) "
            "SELECT %s, %s, r, CASE v WHEN 'fine' THEN 'same' ELSE v END, s, b::jsonb "
            "FROM unnest(%s::int[], %s::text[], %s::text[], %s::text[]) AS t (r, v, s, b)",
            [who.shop_id, import_id, *map(list, zip(*part, strict=True))],
        )
    _judge(cx, import_id, settings)


def _parts(lines: Iterable[list[Any]]) -> Iterator[list[list[Any]]]:
    every = iter(lines)
    while part := list(islice(every, AT_ONCE)):
        yield part


CHANGES = """
    concat_ws(' ',
        CASE WHEN m.price_minor IS DISTINCT FROM (r.body ->> 'price_minor')::int AND r.body ? 'price_minor'
             THEN CASE WHEN m.price_minor IS NULL THEN format('Its price is now known: %%s.', {new})
                       WHEN abs((r.body ->> 'price_minor')::int - m.price_minor) * 2 > m.price_minor
                       THEN format('The price goes from %%s to %%s: is that meant?', {old}, {new})
                       ELSE format('The price goes from %%s to %%s.', {old}, {new}) END END,
        CASE WHEN r.body ? 'upper' AND m.upper IS DISTINCT FROM r.body ->> 'upper'
             THEN format('Its upper is %%s.', replace(r.body ->> 'upper', '_', ' ')) END,
        CASE WHEN r.body ->> 'build_said' = 'true' AND m.build <> r.body ->> 'build'
             THEN format('Its build is %%s.', r.body ->> 'build') END,
        CASE WHEN NOT m.properties @> coalesce(r.body -> 'properties', '{{}}')
                  OR NOT m.choices @> coalesce(r.body -> 'choices', '{{}}')
                  OR NOT m.features @> coalesce(r.body -> 'features', '{{}}')
                  OR (r.body ? 'reinforced' AND m.reinforced <> (r.body ->> 'reinforced')::float)
             THEN 'More is told of how it is made.' END,
        CASE WHEN m.retired_at IS NOT NULL THEN 'It was out of the range and comes back.' END,
        CASE WHEN v.id IS NOT NULL AND v.retired_at IS NOT NULL THEN 'The size was taken out and comes back.' END,
        CASE WHEN v.id IS NOT NULL AND r.body ? 'gtin' AND v.gtin IS DISTINCT FROM r.body ->> 'gtin'
             THEN 'Its bar code is new.' END,
        CASE WHEN v.id IS NOT NULL AND r.body ->> 'code' <> '' AND v.code <> r.body ->> 'code'
             THEN 'Its own code is new.' END,
        CASE WHEN v.id IS NOT NULL AND r.body ? 'read' AND NOT EXISTS (
                  SELECT 1 FROM shoe_reading s WHERE s.variant_id = v.id AND s.source = 'sheet'
                  AND s.set_aside_at IS NULL AND s.mm = (r.body -> 'read' ->> (s.zone || '_mm'))::float)
             THEN 'Its inside is told.' END,
        CASE WHEN r.body ? 'extra' AND v.id IS NOT NULL AND NOT v.extra @> (r.body -> 'extra')
             THEN 'Other columns are kept with it.' END,
        CASE WHEN v.id IS NOT NULL AND l.id IS NULL THEN 'This shop keeps the size from now on.' END,
        CASE WHEN r.body ? 'pairs' AND %(pairs)s = 'received' AND (r.body ->> 'pairs')::int > 0
             THEN format('%%s %%s in.', r.body ->> 'pairs',
                         CASE r.body ->> 'pairs' WHEN '1' THEN 'pair comes' ELSE 'pairs come' END) END,
        CASE WHEN r.body ? 'pairs' AND %(pairs)s = 'counted' AND (r.body ->> 'pairs')::int <> coalesce(l.on_hand, 0)
             THEN format('%%s counted, %%s thought to be here.', r.body ->> 'pairs', coalesce(l.on_hand, 0)) END)
"""
"""What a line changes, in sentences; nothing where it changes nothing."""


def _judge(cx: Cx, import_id: UUID, settings: dict[str, Any]) -> None:
    """Find each line's model, size and stock line, and say what the line would change."""
    given = {"id": import_id, "pairs": settings["pairs"]}
    cx.execute(
        "UPDATE sheet_row r SET variant_id = v.id, model_id = v.model_id FROM variant v "
        "WHERE r.import_id = %(id)s AND r.verdict <> 'refused' AND NOT r.body ? 'model' AND v.gtin = r.body ->> 'gtin'",
        given,
    )
    cx.execute(
        "UPDATE sheet_row SET verdict = 'refused', said = 'No size here has the bar code ' "
        "|| ltrim(body ->> 'gtin', '0') || ': bring in its supplier''s list first.' "
        "WHERE import_id = %(id)s AND verdict <> 'refused' AND NOT body ? 'model' AND variant_id IS NULL",
        given,
    )
    cx.execute(
        "UPDATE sheet_row r SET model_id = m.id FROM shoe_model m WHERE r.import_id = %(id)s "
        "AND r.verdict <> 'refused' AND lower(m.maker) = lower(r.body ->> 'maker') "
        "AND lower(m.name) = lower(r.body ->> 'model')",
        given,
    )
    cx.execute(
        "UPDATE sheet_row r SET variant_id = v.id FROM variant v WHERE r.import_id = %(id)s "
        "AND r.verdict <> 'refused' AND v.model_id = r.model_id AND v.width = r.body ->> 'width' "
        "AND v.eu_label = (r.body ->> 'eu_label')::float AND v.colour = r.body ->> 'colour'",
        given,
    )
    cx.execute(
        "UPDATE sheet_row r SET verdict = 'refused', said = format('Its bar code is that of %%s %%s %%s already.', "
        "m.maker, m.name, v.label) FROM variant v JOIN shoe_model m ON m.id = v.model_id "
        "WHERE r.import_id = %(id)s AND r.verdict <> 'refused' AND v.gtin = r.body ->> 'gtin' "
        "AND v.id IS DISTINCT FROM r.variant_id",
        given,
    )
    cx.execute(
        "UPDATE sheet_row r SET line_id = l.id FROM stock_line l WHERE r.import_id = %(id)s "
        "AND l.variant_id = r.variant_id",
        given,
    )
    cx.execute(
        "UPDATE sheet_row r SET verdict = 'odd', said = concat_ws(' ', nullif(r.said, ''), "
        "format('It is known as a shoe for %%s here; that stays.', m.sport)) FROM shoe_model m "
        "WHERE r.import_id = %(id)s AND r.verdict <> 'refused' AND m.id = r.model_id AND r.body ? 'sport' "
        "AND m.sport <> r.body ->> 'sport'",
        given,
    )
    digits = minor_digits(settings["currency"])
    money = f"round({{}} / 10::numeric ^ {digits}, {digits})"
    changes = CHANGES.format(old=money.format("m.price_minor"), new=money.format("(r.body ->> 'price_minor')::int"))
    cx.execute(
        "UPDATE sheet_row r SET verdict = CASE WHEN r.verdict = 'odd' OR c.says LIKE '%%is that meant?%%' THEN 'odd' "
        "WHEN c.says <> '' THEN 'changed' ELSE 'same' END, "
        "said = concat_ws(' ', nullif(r.said, ''), nullif(c.says, '')) FROM (SELECT r.row, " + changes + " AS says "
        "FROM sheet_row r JOIN shoe_model m ON m.id = r.model_id LEFT JOIN variant v ON v.id = r.variant_id "
        "LEFT JOIN stock_line l ON l.id = r.line_id WHERE r.import_id = %(id)s AND r.verdict <> 'refused' "
        "AND (r.variant_id IS NOT NULL OR NOT r.body ? 'eu_label')) c "
        "WHERE r.import_id = %(id)s AND r.row = c.row",
        given,
    )
    cx.execute(
        "UPDATE sheet_row SET verdict = CASE verdict WHEN 'same' THEN 'new' ELSE verdict END, said = concat_ws(' ', "
        "nullif(said, ''), CASE WHEN model_id IS NULL THEN 'A new model.' ELSE 'A new size of a known model.' END) "
        "WHERE import_id = %(id)s AND verdict <> 'refused' AND "
        "(model_id IS NULL OR (variant_id IS NULL AND body ? 'eu_label'))",
        given,
    )
    cx.execute(
        "UPDATE sheet_import SET counts = (SELECT coalesce(jsonb_object_agg(verdict, n), '{}') FROM "
        "(SELECT verdict, count(*) AS n FROM sheet_row WHERE import_id = %(id)s GROUP BY 1) x) WHERE id = %(id)s",
        given,
    )


LIVE = "r.import_id = %(id)s AND r.verdict <> 'refused'"
NEW_MODELS = f"""
    INSERT INTO shoe_model (id, chain_id, maker, name, sport, build, properties, choices)
    SELECT gen_random_uuid(), %(chain)s, f.body ->> 'maker', f.body ->> 'model', f.body ->> 'sport', f.body ->> 'build',
           '{{}}', '{{}}'
    FROM (SELECT DISTINCT ON (lower(r.body ->> 'maker'), lower(r.body ->> 'model')) r.body FROM sheet_row r
          WHERE {LIVE} AND r.model_id IS NULL
          ORDER BY lower(r.body ->> 'maker'), lower(r.body ->> 'model'), r.row) f
"""
KNOW_MODELS = f"""
    WITH told AS (
        SELECT r.model_id, min(r.row) AS row, (array_agg(r.body ->> 'price_minor' ORDER BY r.row)
                   FILTER (WHERE r.body ? 'price_minor'))[1]::int AS price_minor,
               (array_agg(r.body ->> 'upper' ORDER BY r.row) FILTER (WHERE r.body ? 'upper'))[1] AS upper,
               (array_agg(r.body ->> 'build' ORDER BY r.row)
                   FILTER (WHERE r.body ->> 'build_said' = 'true'))[1] AS build,
               (array_agg(r.body ->> 'reinforced' ORDER BY r.row)
                   FILTER (WHERE r.body ? 'reinforced'))[1]::float AS reinforced,
               (array_agg(r.body -> 'properties' ORDER BY r.row) FILTER (WHERE r.body ? 'properties'))[1] AS properties,
               (array_agg(r.body -> 'choices' ORDER BY r.row) FILTER (WHERE r.body ? 'choices'))[1] AS choices,
               (array_agg(r.body -> 'features' ORDER BY r.row) FILTER (WHERE r.body ? 'features'))[1] AS features
        FROM sheet_row r WHERE {LIVE} GROUP BY 1
    ), was AS (
        UPDATE sheet_row r SET was = r.was || jsonb_build_object('model', to_jsonb(m), 'set', jsonb_build_object(
               'price_minor', coalesce(t.price_minor, m.price_minor), 'upper', coalesce(t.upper, m.upper),
               'build', coalesce(t.build, m.build), 'reinforced', coalesce(t.reinforced, m.reinforced),
               'properties', m.properties || coalesce(t.properties, '{{}}'),
               'choices', m.choices || coalesce(t.choices, '{{}}'),
               'features', m.features || coalesce(t.features, '{{}}')))
        FROM told t JOIN shoe_model m ON m.id = t.model_id WHERE r.import_id = %(id)s AND r.row = t.row
    )
    UPDATE shoe_model m SET price_minor = coalesce(t.price_minor, m.price_minor), upper = coalesce(t.upper, m.upper),
        build = coalesce(t.build, m.build), reinforced = coalesce(t.reinforced, m.reinforced),
        properties = m.properties || coalesce(t.properties, '{{}}'), choices = m.choices || coalesce(t.choices, '{{}}'),
        features = m.features || coalesce(t.features, '{{}}'), retired_at = NULL
    FROM told t WHERE t.model_id = m.id
"""
NEW_SIZES = f"""
    INSERT INTO variant (id, chain_id, model_id, width, system, label, eu_label, colour, known_from,
        {", ".join(MEASURES)}, {", ".join(SIGMAS)})
    SELECT gen_random_uuid(), %(chain)s, f.model_id, f.body ->> 'width', f.body ->> 'system',
           (f.body ->> 'label')::float, (f.body ->> 'eu_label')::float, f.body ->> 'colour', f.body ->> 'known_from',
           {", ".join(f"(f.body -> 'inside' ->> {i})::float" for i in range(4))},
           {", ".join(f"(f.body -> 'inside_sigma' ->> {i})::float" for i in range(4))}
    FROM (SELECT DISTINCT ON (r.model_id, r.body ->> 'width', r.body ->> 'eu_label', r.body ->> 'colour')
                 r.model_id, r.body FROM sheet_row r WHERE {LIVE} AND r.variant_id IS NULL AND r.body ? 'eu_label'
          ORDER BY r.model_id, r.body ->> 'width', r.body ->> 'eu_label', r.body ->> 'colour', r.row) f
"""
KNOW_SIZES = f"""
    UPDATE variant v SET gtin = coalesce(t.gtin, v.gtin), code = coalesce(nullif(t.code, ''), v.code),
        extra = v.extra || coalesce(t.extra, '{{}}'), retired_at = NULL
    FROM (SELECT DISTINCT ON (r.variant_id) r.variant_id, r.body ->> 'gtin' AS gtin, r.body ->> 'code' AS code,
                 r.body -> 'extra' AS extra FROM sheet_row r WHERE {LIVE} AND r.variant_id IS NOT NULL
          ORDER BY r.variant_id, r.row) t WHERE v.id = t.variant_id
"""
READINGS = f"""
    INSERT INTO shoe_reading (id, chain_id, variant_id, zone, mm, source, shop_id, staff_id)
    SELECT gen_random_uuid(), %(chain)s, f.variant_id, z.zone, (f.read ->> (z.zone || '_mm'))::float, 'sheet', %(shop)s,
           %(staff)s
    FROM (SELECT DISTINCT ON (r.variant_id) r.variant_id, r.body -> 'read' AS read FROM sheet_row r
          WHERE {LIVE} AND r.body ? 'read' ORDER BY r.variant_id, r.row) f,
         unnest(%(zones)s::text[]) AS z (zone)
    WHERE f.read ? (z.zone || '_mm') AND NOT EXISTS (
        SELECT 1 FROM shoe_reading s WHERE s.variant_id = f.variant_id AND s.zone = z.zone AND s.source = 'sheet'
        AND s.set_aside_at IS NULL AND s.mm = (f.read ->> (z.zone || '_mm'))::float)
    RETURNING variant_id
"""
STOCKED = f"""
    INSERT INTO stock_line (id, shop_id, chain_id, variant_id)
    SELECT gen_random_uuid(), %(shop)s, %(chain)s, f.variant_id
    FROM (SELECT DISTINCT r.variant_id FROM sheet_row r WHERE {LIVE} AND r.line_id IS NULL
          AND r.variant_id IS NOT NULL) f
"""
PAIRS = f"""
    INSERT INTO movement (shop_id, stock_line_id, kind, pairs, why, change_id, import_id, staff_id)
    SELECT %(shop)s, l.id, %(kind)s, f.pairs - CASE %(kind)s WHEN 'counted' THEN l.on_hand ELSE 0 END, %(why)s, %(id)s,
           %(id)s, %(staff)s
    FROM (SELECT r.line_id, sum((r.body ->> 'pairs')::int) AS pairs FROM sheet_row r
          WHERE {LIVE} AND r.body ? 'pairs' AND r.line_id IS NOT NULL GROUP BY 1) f
    JOIN stock_line l ON l.id = f.line_id
    WHERE f.pairs <> CASE %(kind)s WHEN 'counted' THEN l.on_hand ELSE 0 END
    ORDER BY l.id
"""


CHANGED = {
    "price_minor": "(r.was -> 'model' ->> 'price_minor')::int", "upper": "r.was -> 'model' ->> 'upper'",
    "build": "r.was -> 'model' ->> 'build'", "reinforced": "(r.was -> 'model' ->> 'reinforced')::float",
    "properties": "r.was -> 'model' -> 'properties'", "choices": "r.was -> 'model' -> 'choices'",
    "features": "r.was -> 'model' -> 'features'",
}  # fmt: skip
"""What a sheet may change of a model, and how its earlier value is read from what was kept."""
TAKE_BACK = (
    "UPDATE shoe_model m SET "
    + ", ".join(
        f"{name} = CASE WHEN to_jsonb(m.{name}) = r.was -> 'set' -> '{name}' "
        f"OR (m.{name} IS NULL AND r.was -> 'set' ->> '{name}' IS NULL) THEN {was} ELSE m.{name} END"
        for name, was in CHANGED.items()
    )
    + ", retired_at = CASE WHEN r.was ? 'fresh' THEN now() ELSE (r.was -> 'model' ->> 'retired_at')::timestamptz END "
    "FROM sheet_row r WHERE r.import_id = %(id)s AND r.was ? 'set' AND m.id = r.model_id"
)
"""Every value as it was before the sheet, where nobody has changed it since."""


def write(cx: Cx, who: Who, import_id: UUID) -> None:
    """Write every line that isn't refused, or none. The same id again changes nothing.

    Raises `Conflict` when a sheet is written for this catalogue already, or what it was held against has changed."""
    once(cx, import_id)
    cx.execute(LONG)
    sheet = get(cx, import_id)
    if sheet["done_at"]:
        return
    chain = chain_of(cx, who.shop_id)
    cx.execute("SELECT pg_advisory_xact_lock(hashtextextended(%s, 9))", [str(chain)])
    settings = sheet["settings"]
    again = cx.execute("SELECT row, said FROM sheet_row WHERE import_id = %s AND verdict <> 'refused' LIMIT 1",
                       [import_id]).fetchone()  # fmt: skip
    if not again:
        raise Conflict("No line of this sheet can be used.", code="sheet-empty")
    given = {"id": import_id, "chain": chain, "shop": who.shop_id, "staff": who.staff_id, "zones": list(FIT_ZONES),
             "kind": settings["pairs"], "why": f"sheet {sheet['name']}"[:300]}  # fmt: skip
    _find(cx, given)
    taken = cx.execute(
        f"SELECT r.row FROM sheet_row r JOIN variant v ON v.gtin = r.body ->> 'gtin' WHERE {LIVE} "
        "AND v.id IS DISTINCT FROM r.variant_id LIMIT 1",
        given,
    ).fetchone()
    if taken:
        raise Conflict(
            f"The range was changed since this sheet was read (row {taken['row']}: its bar code is another's now). "
            "Read it again.",
            code="sheet-stale",
        )
    cx.execute(f"UPDATE sheet_row r SET was = '{{\"fresh\": true}}' WHERE {LIVE} AND r.model_id IS NULL", given)
    cx.execute(
        f"UPDATE sheet_row r SET was = r.was || '{{\"size\": true}}' WHERE {LIVE} AND r.variant_id IS NULL", given
    )
    cx.execute(NEW_MODELS, given)
    _find(cx, given)
    cx.execute(KNOW_MODELS, given)
    cx.execute(NEW_SIZES, given)
    _find(cx, given)
    cx.execute(KNOW_SIZES, given)
    read = {r["variant_id"] for r in cx.execute(READINGS, given).fetchall()}
    fresh = cx.execute(f"SELECT DISTINCT r.variant_id FROM sheet_row r WHERE {LIVE} AND r.was ? 'size'", given)
    know_many(cx, read - {r["variant_id"] for r in fresh.fetchall()})
    cx.execute(STOCKED, given)
    _find(cx, given)
    if settings["pairs"] != "ignored":
        try:
            cx.execute(PAIRS, given)
        except CheckViolation:
            raise Conflict(
                "With this sheet more than 9999 pairs of one size would be on hand. Nothing was changed.",
                code="too-many",
            ) from None
    cx.execute("UPDATE sheet_import SET done_at = now(), file = '' WHERE id = %s", [import_id])
    cx.execute(
        "INSERT INTO sheet_habit (shop_id, heading, settings) VALUES (%s, %s, %s) "
        "ON CONFLICT (shop_id, heading) DO UPDATE SET settings = excluded.settings",
        [who.shop_id, heading_of([c["heading"] for c in sheet["columns"]["list"]]), Jsonb(settings)],
    )


def _find(cx: Cx, given: dict[str, Any]) -> None:
    """Name each line's model, size and stock line, as far as they are there by now."""
    cx.execute(
        f"UPDATE sheet_row r SET model_id = m.id FROM shoe_model m WHERE {LIVE} AND r.model_id IS NULL "
        "AND lower(m.maker) = lower(r.body ->> 'maker') AND lower(m.name) = lower(r.body ->> 'model')",
        given,
    )
    cx.execute(
        f"UPDATE sheet_row r SET variant_id = v.id FROM variant v WHERE {LIVE} AND r.variant_id IS NULL "
        "AND v.model_id = r.model_id AND v.width = r.body ->> 'width' "
        "AND v.eu_label = (r.body ->> 'eu_label')::float AND v.colour = r.body ->> 'colour'",
        given,
    )
    cx.execute(
        f"UPDATE sheet_row r SET line_id = l.id FROM stock_line l WHERE {LIVE} AND r.line_id IS NULL "
        "AND l.variant_id = r.variant_id",
        given,
    )


def know_many(cx: Cx, variants: set[UUID]) -> None:
    """Work out the inside of many sizes anew from everything that counts of each."""
    every = sorted(variants)
    for start in range(0, len(every), AT_ONCE):
        ids = every[start : start + AT_ONCE]
        rows = cx.execute(
            "SELECT v.id, v.system, v.label, v.width, m.sport, m.build FROM variant v "
            "JOIN shoe_model m ON m.id = v.model_id WHERE v.id = ANY(%s)", [ids]
        ).fetchall()  # fmt: skip
        read: dict[UUID, list[Row]] = {}
        for r in cx.execute(
            "SELECT variant_id, zone, mm, sigma_mm, source FROM shoe_reading "
            "WHERE variant_id = ANY(%s) AND set_aside_at IS NULL ORDER BY at, id", [ids]
        ).fetchall():  # fmt: skip
            read.setdefault(r["variant_id"], []).append(r)
        found = [(row["id"], inner(inside_of(row, read.get(row["id"], [])))) for row in rows]
        zones = [[getattr(f, z) for z in FIT_ZONES] for _, f in found]
        columns = [[z[i].mm for z in zones] for i in range(4)] + [[z[i].sigma_mm for z in zones] for i in range(4)]
        names = (*MEASURES, *SIGMAS)
        cx.execute(
            f"UPDATE variant v SET {', '.join(f'{n} = t.{n}' for n in names)}, known_from = t.known_from "
            f"FROM unnest(%s::uuid[], %s::text[], {', '.join(['%s::float[]'] * 8)}) AS t "
            f"(id, known_from, {', '.join(names)}) WHERE v.id = t.id",
            [[i for i, _ in found], [surest_of(f) for _, f in found], *columns],
        )


def undo(cx: Cx, who: Who, import_id: UUID) -> list[str]:
    """Take a sheet back: its pairs, prices and readings, and what it brought in leaves the range. Again is no change.

    Says what stayed, because somebody changed it since. Raises `Conflict` when its pairs are no longer all there."""
    once(cx, import_id)
    cx.execute(LONG)
    sheet = get(cx, import_id)
    if not sheet["done_at"]:
        raise Conflict("This sheet was never brought in.", code="sheet-not-done")
    if sheet["undone_at"]:
        return []
    given = {
        "id": import_id,
        "shop": who.shop_id,
        "staff": who.staff_id,
        "why": f"sheet {sheet['name']} taken back"[:300],
    }
    there = cx.execute("SELECT count(*) AS n FROM sheet_row WHERE import_id = %(id)s", given).fetchone()
    if not there or not there["n"]:
        raise Conflict(f"It was brought in more than {KEPT_FOR} ago: it can't be taken back whole.", code="sheet-old")
    try:
        with cx.transaction():
            cx.execute(
                "INSERT INTO movement (shop_id, stock_line_id, kind, pairs, why, change_id, import_id, staff_id) "
                "SELECT shop_id, stock_line_id, 'undone', -pairs, %(why)s, gen_random_uuid(), NULL, %(staff)s "
                "FROM movement WHERE import_id = %(id)s ORDER BY stock_line_id",
                given,
            )
    except CheckViolation:
        short = cx.execute(
            "SELECT m.maker || ' ' || m.name || ' EU ' || v.eu_label AS pair FROM movement t "
            "JOIN stock_line l ON l.id = t.stock_line_id JOIN variant v ON v.id = l.variant_id "
            "JOIN shoe_model m ON m.id = v.model_id WHERE t.import_id = %(id)s AND l.on_hand < t.pairs "
            "ORDER BY 1 LIMIT 3",
            given,
        ).fetchall()
        named = ", ".join(r["pair"] for r in short)
        raise Conflict(
            f"Pairs of this sheet have left since ({named}): it can't be taken back whole. Count those by hand.",
            code="sheet-used",
        ) from None
    stayed = cx.execute(
        "SELECT m.maker || ' ' || m.name AS model FROM sheet_row r JOIN shoe_model m ON m.id = r.model_id "
        "WHERE r.import_id = %(id)s AND r.was ? 'set' AND NOT to_jsonb(m) @> (r.was -> 'set') ORDER BY 1 LIMIT 20",
        given,
    ).fetchall()
    cx.execute(TAKE_BACK, given)
    cx.execute(
        "UPDATE variant v SET retired_at = now(), gtin = NULL FROM sheet_row r WHERE r.import_id = %(id)s "
        "AND r.was ? 'size' AND v.id = r.variant_id",
        given,
    )
    read = cx.execute(
        "UPDATE shoe_reading s SET set_aside_at = now() FROM sheet_row r, sheet_import i "
        "WHERE i.id = %(id)s AND r.import_id = i.id AND r.body ? 'read' AND s.variant_id = r.variant_id "
        "AND s.source = 'sheet' AND s.at = i.done_at AND s.set_aside_at IS NULL RETURNING s.variant_id",
        given,
    ).fetchall()
    know_many(cx, {r["variant_id"] for r in read})
    cx.execute("UPDATE sheet_import SET undone_at = now() WHERE id = %s", [import_id])
    return [str(r["model"]) for r in stayed]


def get(cx: Cx, import_id: UUID) -> Row:
    """A sheet without its file and lines. Raises `NotFound`."""
    row = cx.execute(
        "SELECT i.id, i.name, i.columns, i.settings, i.counts, i.began_at, i.done_at, i.undone_at, p.name AS by "
        "FROM sheet_import i JOIN staff p ON p.id = i.staff_id WHERE i.id = %s",
        [import_id],
    ).fetchone()
    if not row:
        raise NotFound("There is no such sheet here.")
    return row


def file_of(cx: Cx, import_id: UUID) -> bytes:
    """The file of a sheet that isn't written yet. Raises `NotFound`, `Conflict`."""
    row = cx.execute("SELECT file, done_at FROM sheet_import WHERE id = %s", [import_id]).fetchone()
    if not row:
        raise NotFound("There is no such sheet here.")
    if row["done_at"]:
        raise Conflict("This sheet was brought in already. Bring it in again as a new one.", code="sheet-done")
    return bytes(row["file"])


def recent(cx: Cx, limit: int = 20) -> list[Row]:
    """The sheets last brought, newest first."""
    return cx.execute(
        "SELECT i.id, i.name, i.columns, i.settings, i.counts, i.began_at, i.done_at, i.undone_at, p.name AS by "
        "FROM sheet_import i JOIN staff p ON p.id = i.staff_id ORDER BY i.began_at DESC LIMIT %s",
        [limit],
    ).fetchall()


def rows(cx: Cx, import_id: UUID, verdict: Verdict | None, after: int, limit: int) -> list[Row]:
    """Lines of a sheet in the file's order, from the one after row `after`, of one verdict or of all."""
    only = " AND verdict = %(verdict)s" if verdict else ""
    return cx.execute(
        "SELECT row, verdict, said, body FROM sheet_row WHERE import_id = %(id)s AND row > %(after)s"
        + only
        + " ORDER BY row LIMIT %(limit)s",
        {"id": import_id, "verdict": verdict, "after": after, "limit": limit},
    ).fetchall()


def heading_of(headings: list[str]) -> str:
    """What a supplier's lists are known by: their headings."""
    return json.dumps(headings, ensure_ascii=False)[:4000]


def habit(cx: Cx, headings: list[str]) -> dict[str, Any] | None:
    """The settings a list with these headings was last brought in with; none where it is new here."""
    row = cx.execute("SELECT settings FROM sheet_habit WHERE heading = %s", [heading_of(headings)]).fetchone()
    return dict(row["settings"]) if row else None
