"""Sheets brought in: staged line by line, held against the catalogue, then written all or not at all; and taken back.

Everything is done by whole statements over the staged rows, in one transaction, however long the list is.
"""

from __future__ import annotations

import json
from collections.abc import Iterable
from hashlib import sha256
from typing import Any, Literal
from uuid import UUID

from psycopg.errors import CheckViolation
from psycopg.types.json import Jsonb

from ..core.errors import Conflict, NotFound
from ..core.fit.foot import FIT_ZONES
from ..core.money import minor_digits
from ..core.sheets.place import EVERY_SHEET
from ..core.sizes import on_the_box
from . import sheet_words
from .audit import once
from .catalogue import FACTS, IN_THAT_SALE, chain_of, know
from .database import Cx, Row, Who

AT_ONCE = 5_000
KEPT_FOR = "90 days"
"""How long the lines of a sheet are kept, and with them the way back."""
COUNT_ANEW = 2_000
"""After a sheet of more lines the planner's counts are taken anew."""
LONG = "SET LOCAL statement_timeout = '110s'; SET LOCAL work_mem = '64MB'"
"""What the statements of a whole list may take: sorted in memory, as one of a hundred thousand lines needs."""
Verdict = Literal["new", "changed", "same", "odd", "refused"]


KEYS = {
    "maker": "text GENERATED ALWAYS AS (lower(body ->> 'maker')) STORED",
    "name": "text GENERATED ALWAYS AS (lower(body ->> 'model')) STORED",
    "width": "text GENERATED ALWAYS AS (body ->> 'width') STORED",
    "eu_label": "double precision GENERATED ALWAYS AS ((body ->> 'eu_label')::double precision) STORED",
    "colour": "text GENERATED ALWAYS AS (body ->> 'colour') STORED",
    "gtin": "text GENERATED ALWAYS AS (body ->> 'gtin') STORED",
    "pairs": "integer GENERATED ALWAYS AS ((body ->> 'pairs')::integer) STORED",
}
"""What a line is found by in the catalogue, and its pairs."""
NOW = f"""
    CREATE TEMP TABLE sheet_now (
        row integer, verdict text, said text, body jsonb, {", ".join(f"{n} {of}" for n, of in KEYS.items())}
    ) ON COMMIT DROP
"""
"""The lines of the sheet in hand, with what they are found by; gone with the transaction."""


def stage(
    cx: Cx, who: Who, import_id: UUID, name: str, file: bytes, columns: dict[str, Any],
    settings: dict[str, Any], lines: Iterable[tuple[int, str, str, str]],
) -> None:  # fmt: skip
    """Put a sheet's lines beside the catalogue and judge them. The same id again judges them anew.

    Raises `Conflict` when it was written already."""
    once(cx, import_id)
    cx.execute(LONG)
    known = cx.execute("SELECT done_at FROM sheet_import WHERE id = %s", [import_id]).fetchone()
    if known and known["done_at"]:
        raise Conflict("This sheet was brought in already. Bring it in again as a new one.", code="sheet-done")
    old = f"import_id IN (SELECT id FROM sheet_import WHERE began_at < now() - interval '{KEPT_FOR}')"
    cx.execute(f"DELETE FROM sheet_row WHERE import_id = %s OR {old}", [import_id])
    for table in ("sheet_model", "sheet_size"):
        cx.execute(f"DELETE FROM {table} WHERE {old}")
    cx.execute(
        "INSERT INTO sheet_import (id, shop_id, staff_id, name, file, digest, columns, settings) "
        "VALUES (%s, %s, %s, %s, %s, %s, %s, %s) ON CONFLICT (id) DO UPDATE "
        "SET columns = excluded.columns, settings = excluded.settings",
        [import_id, who.shop_id, who.staff_id, name, file, sha256(file).digest(), Jsonb(columns), Jsonb(settings)],
    )
    cx.execute(NOW)
    with cx.cursor().copy("COPY sheet_now (row, verdict, said, body) FROM STDIN") as copy:
        for row, verdict, said, text in lines:
            copy.write_row((row, verdict, said, text))
    cx.execute("ANALYZE sheet_now")
    digits = minor_digits(settings["currency"])
    money = f"round({{}} / 10::numeric ^ {digits}, {digits})"
    old, new, cost = (
        money.format(n) for n in ("m.price_minor", "(r.body ->> 'price_minor')::int", "(r.body ->> 'cost_minor')::int")
    )
    changes = CHANGES.format(leaps=LEAPS, old=old, new=new, cost=cost)
    by_code = not any(c["field"] == "model" for c in columns["list"])
    cx.execute(
        JUDGED.format(changes=changes, leaps=LEAPS, found=BY_CODE if by_code else BY_NAME),
        {"id": import_id, "shop": who.shop_id, "pairs": settings["pairs"]},
    )
    cx.execute("DROP TABLE sheet_now")
    cx.execute(COUNTED, {"id": import_id, "most": MOST_REASONS})


MOST_REASONS = 40
COUNTED = r"""
    UPDATE sheet_import SET
        counts = (SELECT coalesce(jsonb_object_agg(verdict, n), '{}') FROM
            (SELECT verdict, count(*) AS n FROM sheet_row WHERE import_id = %(id)s GROUP BY 1) x),
        reasons = (SELECT coalesce(jsonb_agg(jsonb_build_object('said', said, 'lines', n) ORDER BY n DESC, said), '[]')
            FROM
            (SELECT replace(min(said), coalesce(substring(min(said), '“[^”]*”'), ''),
                            concat_ws(', ', VARIADIC (array_agg(DISTINCT word))[1:3])
                    || CASE WHEN count(DISTINCT word) > 3 THEN ' …' ELSE '' END) AS said, count(*) AS n
             FROM (SELECT said, substring(said, '“[^”]*”') AS word FROM sheet_row
                   WHERE import_id = %(id)s AND verdict = 'refused') r
             GROUP BY regexp_replace(said, '“[^”]*”|row \d+(, [A-Z]+)?', '…', 'g') ORDER BY 2 DESC LIMIT %(most)s) y)
    WHERE id = %(id)s
"""
"""How many lines are what, and why some can't be used: each reason once, with the first words it is said of."""
LEAPS = "abs((r.body ->> 'price_minor')::int - m.price_minor) * 2 > m.price_minor"
"""Whether a price goes so far from the one known that it is asked about."""
CHANGES = """
    concat_ws(' ',
        CASE WHEN m.price_minor IS DISTINCT FROM (r.body ->> 'price_minor')::int AND r.body ? 'price_minor'
             THEN CASE WHEN m.price_minor IS NULL THEN format('Its price is now known: %%s.', {new})
                       WHEN {leaps}
                       THEN format('The price goes from %%s to %%s: is that meant?', {old}, {new})
                       ELSE format('The price goes from %%s to %%s.', {old}, {new}) END END,
        CASE WHEN r.body ? 'cost_minor' AND m.cost_minor IS DISTINCT FROM (r.body ->> 'cost_minor')::int
             THEN format('It costs the shop %%s.', {cost}) END,
        CASE WHEN r.body ? 'upper' AND m.upper IS DISTINCT FROM r.body ->> 'upper'
             THEN format('Its upper is %%s.', replace(r.body ->> 'upper', '_', ' ')) END,
        CASE WHEN r.body ->> 'build_said' = 'true' AND m.build <> r.body ->> 'build'
             THEN format('Its build is %%s.', r.body ->> 'build') END,
        CASE WHEN r.body ? 'last' AND m.last <> r.body ->> 'last'
             THEN CASE m.last WHEN '' THEN format('It is built on %%s.', r.body ->> 'last')
                              ELSE format('It was built on %%s, now on %%s.', m.last, r.body ->> 'last') END END,
        CASE WHEN NOT m.properties @> coalesce(r.body -> 'properties', '{{}}')
                  OR NOT m.choices @> coalesce(r.body -> 'choices', '{{}}')
                  OR NOT m.features @> coalesce(r.body -> 'features', '{{}}')
                  OR (r.body ? 'meant_for' AND m.meant_for <> r.body -> 'meant_for')
                  OR (r.body ? 'reinforced' AND m.reinforced <> (r.body ->> 'reinforced')::float)
             THEN 'More is told of how it is made and what for.' END,
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


NAMED = "(SELECT DISTINCT ON (lower(maker), lower(name)) * FROM model_here ORDER BY lower(maker), lower(name), id) m"
"""Models by their names, however they are spelt."""
BY_NAME = f"""
    LEFT JOIN {NAMED} ON lower(m.maker) = r.maker AND lower(m.name) = r.name
    LEFT JOIN variant v ON v.model_id = m.id AND v.width = r.width AND v.eu_label = r.eu_label AND v.colour = r.colour
"""
BY_CODE = """
    LEFT JOIN model_here m ON m.id = g.model_id
    LEFT JOIN variant v ON v.id = g.id
"""
"""How the lines of a sheet find their model and size: by their names, or by the bar code `g` alone."""
JUDGED = """
    INSERT INTO sheet_row (shop_id, import_id, row, verdict, said, body)
    SELECT %(shop)s, %(id)s, f.row,
        CASE WHEN f.refused <> '' THEN 'refused' WHEN f.verdict = 'odd' OR f.also <> ''
                  OR f.leaps THEN 'odd'
             WHEN f.fresh <> '' THEN 'new' WHEN f.says <> '' THEN 'changed' ELSE 'same' END,
        CASE WHEN f.refused <> '' THEN f.refused
             ELSE concat_ws(' ', nullif(f.said, ''), nullif(f.also, ''), nullif(f.fresh, ''), nullif(f.says, '')) END,
        f.body
    FROM (
        SELECT r.row, r.verdict, r.said, r.body,
            CASE WHEN r.verdict = 'refused' THEN r.said
                 WHEN r.name IS NOT NULL AND m.id IS NULL AND NOT r.body ? 'sport'
                     THEN 'It is not known here, and the list names no sport: say which sport this list is for.'
                 WHEN r.name IS NULL AND g.id IS NULL THEN 'No size here has the bar code ' || ltrim(r.gtin, '0')
                     || ': bring in its supplier''s list first.'
                 WHEN r.name IS NOT NULL AND g.id IS NOT NULL AND g.id IS DISTINCT FROM v.id
                     THEN format('Its bar code is that of %%s %%s %%s already.', h.maker, h.name, g.label)
                 ELSE '' END AS refused,
            CASE WHEN m.id IS NOT NULL AND r.body ? 'sport' AND m.sport <> r.body ->> 'sport'
                 THEN format('It is known as a shoe for %%s here; that stays.', m.sport) ELSE '' END AS also,
            CASE WHEN m.id IS NULL THEN 'A new model.' WHEN v.id IS NULL AND r.eu_label IS NOT NULL
                 THEN 'A new size of a known model.' ELSE '' END AS fresh,
            CASE WHEN m.id IS NULL OR (v.id IS NULL AND r.eu_label IS NOT NULL) THEN '' ELSE {changes} END AS says,
            r.body ? 'price_minor' AND {leaps} AND (v.id IS NOT NULL OR r.eu_label IS NULL) AS leaps
        FROM sheet_now r
        LEFT JOIN variant g ON g.gtin = r.gtin
        LEFT JOIN shoe_model h ON h.id = g.model_id
        {found}
        LEFT JOIN stock_line l ON l.variant_id = v.id AND l.shop_id = %(shop)s
        OFFSET 0 -- each sentence is made once, wherever it is asked for above
    ) f
"""
"""Every line held against the catalogue at once: refused, odd, new, changed or the same, and the sentence."""

IN_HAND = """
    INSERT INTO sheet_now (row, body) SELECT row, body FROM sheet_row WHERE import_id = %(id)s AND verdict <> 'refused'
"""
DELIVERY = """
    SELECT sha256(convert_to(string_agg(concat_ws('|', gtin, maker, name, width, eu_label, colour, pairs), E'\\n'
           ORDER BY gtin, maker, name, width, eu_label, colour, pairs), 'UTF8')) AS delivery
    FROM sheet_now WHERE pairs > 0
"""
DELIVERED = """
    SELECT i.name, i.done_at, p.name AS by FROM sheet_import i JOIN staff p ON p.id = i.staff_id
    WHERE i.delivery = %s AND i.undone_at IS NULL AND i.id <> %s ORDER BY i.done_at DESC LIMIT 1
"""
"""The newest list by which the very same pairs came in."""
TAKEN = """
    SELECT r.row FROM sheet_now r JOIN variant g ON g.gtin = r.gtin {found} WHERE g.id IS DISTINCT FROM v.id LIMIT 1
"""
"""A line whose bar code has become another size's since the sheet was read."""
MODELS = f"""
    CREATE TEMP TABLE sheet_models ON COMMIT DROP AS
    SELECT f.maker, f.name, f.row, coalesce(m.id, id_in_order(f.row)) AS id, m.id IS NULL AS fresh
    FROM (SELECT r.maker, r.name, min(r.row) AS row FROM sheet_now r WHERE r.name IS NOT NULL GROUP BY 1, 2) f
    LEFT JOIN {NAMED} ON lower(m.maker) = f.maker AND lower(m.name) = f.name
"""
NEW_MODELS = """
    INSERT INTO shoe_model (id, chain_id, maker, name, sport, build, properties, choices)
    SELECT f.id, %(chain)s, r.body ->> 'maker', r.body ->> 'model', r.body ->> 'sport', r.body ->> 'build', '{}', '{}'
    FROM sheet_models f JOIN sheet_now r ON r.row = f.row WHERE f.fresh
"""
TOLD = """
    CREATE TEMP TABLE sheet_told ON COMMIT DROP AS
    SELECT f.id, f.fresh, (array_agg(r.body ->> 'price_minor' ORDER BY r.row)
               FILTER (WHERE r.body ? 'price_minor'))[1]::int AS price_minor,
           (array_agg(r.body ->> 'cost_minor' ORDER BY r.row)
               FILTER (WHERE r.body ? 'cost_minor'))[1]::int AS cost_minor,
           (array_agg(r.body ->> 'upper' ORDER BY r.row) FILTER (WHERE r.body ? 'upper'))[1] AS upper,
           (array_agg(r.body ->> 'build' ORDER BY r.row) FILTER (WHERE r.body ->> 'build_said' = 'true'))[1] AS build,
           (array_agg(r.body ->> 'reinforced' ORDER BY r.row) FILTER (WHERE r.body ? 'reinforced'))[1]::float
               AS reinforced,
           (array_agg(r.body ->> 'last' ORDER BY r.row) FILTER (WHERE r.body ? 'last'))[1] AS last,
           (array_agg(r.body -> 'meant_for' ORDER BY r.row) FILTER (WHERE r.body ? 'meant_for'))[1] AS meant_for,
           (array_agg(r.body -> 'properties' ORDER BY r.row) FILTER (WHERE r.body ? 'properties'))[1] AS properties,
           (array_agg(r.body -> 'choices' ORDER BY r.row) FILTER (WHERE r.body ? 'choices'))[1] AS choices,
           (array_agg(r.body -> 'features' ORDER BY r.row) FILTER (WHERE r.body ? 'features'))[1] AS features
    FROM sheet_now r JOIN {models} GROUP BY 1, 2
"""
"""What the sheet tells of each model, the first line that tells a thing."""
KEEP_MODELS = """
    INSERT INTO sheet_model (shop_id, import_id, model_id, fresh, was, set)
    SELECT %(shop)s, %(id)s, m.id, t.fresh, to_jsonb(m), jsonb_build_object(
        'price_minor', coalesce(t.price_minor, m.price_minor),
        'cost_minor', coalesce(t.cost_minor, m.cost_minor), 'upper', coalesce(t.upper, m.upper),
        'build', coalesce(t.build, m.build), 'reinforced', coalesce(t.reinforced, m.reinforced),
        'last', coalesce(t.last, m.last), 'meant_for', coalesce(t.meant_for, m.meant_for),
        'properties', m.properties || coalesce(t.properties, '{}'),
        'choices', m.choices || coalesce(t.choices, '{}'), 'features', m.features || coalesce(t.features, '{}'))
    FROM sheet_told t JOIN model_here m ON m.id = t.id
"""
KNOW_MODELS = """
    UPDATE shoe_model m SET upper = s.set ->> 'upper',
        build = s.set ->> 'build', reinforced = (s.set ->> 'reinforced')::float,
        last = s.set ->> 'last', meant_for = s.set -> 'meant_for', properties = s.set -> 'properties',
        choices = s.set -> 'choices', features = s.set -> 'features', retired_at = NULL
    FROM sheet_model s WHERE s.import_id = %(id)s AND s.model_id = m.id
"""
PRICES = f"""
    INSERT INTO model_price (shop_id, chain_id, model_id, price_minor, cost_minor, currency)
    SELECT %(shop)s, %(chain)s, s.model_id, (s.set ->> 'price_minor')::int, (s.set ->> 'cost_minor')::int,
           shop_currency() FROM sheet_model s
    WHERE s.import_id = %(id)s AND (s.set -> 'price_minor' IS DISTINCT FROM s.was -> 'price_minor'
        OR s.set -> 'cost_minor' IS DISTINCT FROM s.was -> 'cost_minor')
    ON CONFLICT (shop_id, model_id, colour) DO UPDATE SET price_minor = excluded.price_minor,
        cost_minor = excluded.cost_minor, currency = excluded.currency, {IN_THAT_SALE}
"""
"""Prices are this shop's; a sister shop keeps its own."""
MOVED = """
    SELECT v.id FROM sheet_model s JOIN variant v ON v.model_id = s.model_id
    WHERE s.import_id = %(id)s AND NOT s.fresh AND s.was ->> 'last' IS DISTINCT FROM s.set ->> 'last'
      AND EXISTS (SELECT 1 FROM shoe_reading r WHERE r.variant_id = v.id)
"""
"""Read sizes of models that are made on another last from this sheet on, or were until it is taken back."""
SIZES = """
    CREATE TEMP TABLE sheet_sizes ON COMMIT DROP AS
    SELECT f.*, coalesce(v.id, id_in_order(row_number() OVER ())) AS id, v.id IS NULL AS fresh, v.gtin AS was_gtin
    FROM (SELECT m.id AS model_id, r.width, r.eu_label, r.colour, min(r.row) AS row, sum(r.pairs) AS pairs,
                 (array_agg(r.gtin ORDER BY r.row) FILTER (WHERE r.gtin IS NOT NULL))[1] AS gtin
          FROM sheet_now r JOIN sheet_models m ON m.maker = r.maker AND m.name = r.name
          WHERE r.eu_label IS NOT NULL GROUP BY 1, 2, 3, 4 ORDER BY 1, 2, 3, 4) f
    LEFT JOIN variant v ON v.model_id = f.model_id AND v.width = f.width AND v.eu_label = f.eu_label
        AND v.colour = f.colour
"""
READ_BEFORE = "SELECT 1 FROM sheet_now WHERE body ? 'model' AND body ? 'label' AND NOT body ? 'facts' LIMIT 1"
"""Lines as an earlier version read them, and nobody wrote them since."""
SIZES_BY_CODE = """
    CREATE TEMP TABLE sheet_sizes ON COMMIT DROP AS
    SELECT v.model_id, v.width, v.eu_label, v.colour, f.row, f.pairs, f.gtin, v.id, false AS fresh, v.gtin AS was_gtin
    FROM (SELECT r.gtin, min(r.row) AS row, sum(r.pairs) AS pairs FROM sheet_now r GROUP BY 1) f
    JOIN variant v ON v.gtin = f.gtin
"""
NEW_SIZES = f"""
    INSERT INTO variant (id, chain_id, model_id, width, system, label, runs_ahead, eu_label, colour, known_from, gtin,
        code, extra, {", ".join(FACTS)})
    SELECT f.id, %(chain)s, f.model_id, f.width, r.body ->> 'system', (r.body ->> 'label')::float,
           (r.body ->> 'runs_ahead')::float, f.eu_label, f.colour, r.body ->> 'known_from', f.gtin,
           r.body ->> 'code', coalesce(r.body -> 'extra', '{{}}'),
           {", ".join(f"(r.body -> 'facts' ->> {i})::float" for i in range(len(FACTS)))}
    FROM sheet_sizes f JOIN sheet_now r ON r.row = f.row WHERE f.fresh ORDER BY f.id
"""
KNOW_SIZES = """
    UPDATE variant v SET gtin = coalesce(f.gtin, v.gtin), code = coalesce(nullif(r.body ->> 'code', ''), v.code),
        extra = v.extra || coalesce(r.body -> 'extra', '{}'), retired_at = NULL
    FROM sheet_sizes f JOIN sheet_now r ON r.row = f.row WHERE v.id = f.id AND NOT f.fresh AND r.body ? 'model'
"""
KEEP_SIZES = """
    INSERT INTO sheet_size (shop_id, import_id, variant_id, fresh, was_gtin)
    SELECT %(shop)s, %(id)s, id, fresh, was_gtin FROM sheet_sizes
"""
READINGS = """
    INSERT INTO shoe_reading (id, chain_id, variant_id, zone, mm, source, shop_id, staff_id, last)
    SELECT gen_random_uuid(), %(chain)s, f.id, z.zone, (r.body -> 'read' ->> (z.zone || '_mm'))::float, 'sheet',
           %(shop)s, %(staff)s, m.last
    FROM sheet_sizes f JOIN sheet_now r ON r.row = f.row JOIN shoe_model m ON m.id = f.model_id,
         unnest(%(zones)s::text[]) AS z (zone)
    WHERE r.body ? 'read' AND r.body -> 'read' ? (z.zone || '_mm') AND NOT EXISTS (
        SELECT 1 FROM shoe_reading s WHERE s.variant_id = f.id AND s.zone = z.zone AND s.source = 'sheet'
        AND s.set_aside_at IS NULL AND s.mm = (r.body -> 'read' ->> (z.zone || '_mm'))::float)
    RETURNING variant_id
"""
STOCKED = """
    INSERT INTO stock_line (id, shop_id, chain_id, variant_id)
    SELECT id_in_order(row_number() OVER (ORDER BY f.id)), %(shop)s, %(chain)s, f.id FROM sheet_sizes f
    WHERE NOT EXISTS (SELECT 1 FROM stock_line l WHERE l.variant_id = f.id AND l.shop_id = %(shop)s) ORDER BY 1
"""
PAIRS = """
    INSERT INTO movement (shop_id, stock_line_id, kind, pairs, why, change_id, import_id, staff_id)
    SELECT %(shop)s, l.id, %(kind)s, f.pairs - CASE %(kind)s WHEN 'counted' THEN l.on_hand ELSE 0 END, %(why)s, %(id)s,
           %(id)s, %(staff)s
    FROM sheet_sizes f JOIN stock_line l ON l.variant_id = f.id AND l.shop_id = %(shop)s
    WHERE f.pairs <> CASE %(kind)s WHEN 'counted' THEN l.on_hand ELSE 0 END
    ORDER BY l.id
"""
CHANGED = {
    "upper": "r.was ->> 'upper'", "build": "r.was ->> 'build'",
    "reinforced": "(r.was ->> 'reinforced')::float", "last": "r.was ->> 'last'",
    "meant_for": "coalesce(r.was -> 'meant_for', m.meant_for)", "properties": "r.was -> 'properties'",
    "choices": "r.was -> 'choices'", "features": "r.was -> 'features'",
}  # fmt: skip
"""What a sheet may change of a model, and how its earlier value is read from what was kept."""
TAKE_BACK = (
    "UPDATE shoe_model m SET "
    + ", ".join(
        f"{name} = CASE WHEN coalesce(to_jsonb(m.{name}), 'null') = r.set -> '{name}' THEN {was} ELSE m.{name} END"
        for name, was in CHANGED.items()
    )
    + ", retired_at = CASE WHEN r.fresh THEN now() ELSE (r.was ->> 'retired_at')::timestamptz END "
    "FROM sheet_model r WHERE r.import_id = %(id)s AND m.id = r.model_id"
)
"""Every value as it was before the sheet, where nobody has changed it since."""
PRICES_BACK = """
    UPDATE model_price p SET {name} = (r.was ->> '{name}')::int FROM sheet_model r
    WHERE r.import_id = %(id)s AND p.model_id = r.model_id AND p.shop_id = %(shop)s AND p.colour = ''
      AND p.currency = shop_currency()
      AND to_jsonb(p.{name}) = r.set -> '{name}' AND r.set -> '{name}' IS DISTINCT FROM r.was -> '{name}'
"""


def write(cx: Cx, who: Who, import_id: UUID, *, anyway: bool = False) -> None:
    """Write every line that isn't refused, or none. The same id again changes nothing.

    Raises `Conflict` when no line can be used, what the sheet was held against has changed, or the very same pairs
    were received by another list and nobody said `anyway`."""
    once(cx, import_id)
    cx.execute(LONG)
    sheet = get(cx, import_id)
    if sheet["done_at"]:
        return
    chain = chain_of(cx, who.shop_id)
    cx.execute("SELECT pg_advisory_xact_lock(hashtextextended(%s, 9))", [str(chain)])
    settings = sheet["settings"]
    # Of pairs that come in, the delivery itself is asked about below, whatever file it stands in.
    if not anyway and sheet["settings"]["pairs"] != "received" and (before := sheet_words.same_file(cx, import_id)):
        raise Conflict(
            f"This very file was brought in already, on {before['done_at']:%-d %B %Y} as “{before['name']}” "
            f"({before['by']}). Bring it in again only if that is meant.",
            code="file-before",
        )
    given = {"id": import_id, "chain": chain, "shop": who.shop_id, "staff": who.staff_id, "zones": list(FIT_ZONES),
             "kind": settings["pairs"], "why": f"sheet {sheet['name']}"[:300]}  # fmt: skip
    cx.execute(NOW)
    cx.execute(IN_HAND, given)
    if cx.execute(READ_BEFORE).fetchone():
        raise Conflict("Kalon was renewed since this sheet was read. Read it again.", code="sheet-stale")
    cx.execute("ANALYZE sheet_now")
    if not cx.execute("SELECT 1 FROM sheet_now LIMIT 1").fetchone():
        raise Conflict("No line of this sheet can be used.", code="sheet-empty")
    by_code = not any(c["field"] == "model" for c in sheet["columns"]["list"])
    taken = None if by_code else cx.execute(TAKEN.format(found=BY_NAME)).fetchone()
    if taken:
        raise Conflict(
            f"The range was changed since this sheet was read (row {taken['row']}: its bar code is another's now). "
            "Read it again.",
            code="sheet-stale",
        )
    if settings["pairs"] == "received":
        _delivered(cx, import_id, anyway=anyway)
    cx.execute(MODELS)
    cx.execute("ANALYZE sheet_models")
    cx.execute(NEW_MODELS, given)
    cx.execute(SIZES_BY_CODE if by_code else SIZES)
    cx.execute("ANALYZE sheet_sizes")
    cx.execute(TOLD.format(models="(SELECT DISTINCT s.gtin, s.model_id AS id, false AS fresh FROM sheet_sizes s) f "
                           "ON f.gtin = r.gtin" if by_code else
                           "sheet_models f ON f.maker = r.maker AND f.name = r.name"))  # fmt: skip
    cx.execute(KEEP_MODELS, given)
    cx.execute(KNOW_MODELS, given)
    cx.execute(PRICES, given)
    cx.execute(NEW_SIZES, given)
    cx.execute(KNOW_SIZES, given)
    cx.execute(KEEP_SIZES, given)
    read = {r["variant_id"] for r in cx.execute(READINGS, given).fetchall()}
    if read:
        fresh = cx.execute("SELECT id FROM sheet_sizes WHERE fresh").fetchall()
        know(cx, read - {r["id"] for r in fresh})
    moved = cx.execute(MOVED, given).fetchall()
    know(cx, {r["id"] for r in moved})
    cx.execute(STOCKED, given)
    if settings["pairs"] != "ignored":
        try:
            cx.execute(PAIRS, given)
        except CheckViolation:
            raise Conflict(
                "With this sheet more than 9999 pairs of one size would be on hand. Nothing was changed.",
                code="too-many",
            ) from None
    cx.execute("UPDATE sheet_import SET done_at = now(), file = '' WHERE id = %s", [import_id])
    habits = {heading_of([c["heading"] for c in sheet["columns"]["list"]]): _habit(settings)}
    if settings.get("sheet") == EVERY_SHEET:
        habits[heading_of(of_book(sheet["columns"].get("sheets", [])))] = {"sheet": EVERY_SHEET}
    for heading, habit in habits.items():
        cx.execute(
            "INSERT INTO sheet_habit (shop_id, heading, settings) VALUES (%s, %s, %s) "
            "ON CONFLICT (shop_id, heading) DO UPDATE SET settings = excluded.settings",
            [who.shop_id, heading, Jsonb(habit)],
        )
    supplier = sheet["columns"].get("supplier") or settings.get("maker") or ""
    said = dict(settings.get("words") or {})
    if child := settings.get("child"):
        said["child"] = {"child": child}
    sheet_words.remember(cx, who, supplier, said)
    for name in ("sheet_now", "sheet_models", "sheet_sizes", "sheet_told"):
        cx.execute(f"DROP TABLE {name}")
    if sum(sheet["counts"].values()) > COUNT_ANEW:
        cx.execute("SELECT count_anew()")


def _delivered(cx: Cx, import_id: UUID, *, anyway: bool) -> None:
    """Note what a delivery brings. Raises `Conflict` where the same came in before."""
    row = cx.execute(DELIVERY).fetchone()
    delivery = row["delivery"] if row else None
    before = None if anyway else cx.execute(DELIVERED, [delivery, import_id]).fetchone()
    if before:
        raise Conflict(
            f"These very pairs came in already, on {before['done_at']:%-d %B %Y} with the list “{before['name']}” "
            f"({before['by']}). Bring it in again only if they came a second time.",
            code="delivered-before",
        )
    cx.execute("UPDATE sheet_import SET delivery = %s WHERE id = %s", [delivery, import_id])


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
    why = f"sheet {sheet['name']} taken back"[:300]
    given = {"id": import_id, "shop": who.shop_id, "staff": who.staff_id, "why": why}
    if not cx.execute("SELECT 1 FROM sheet_model WHERE import_id = %(id)s LIMIT 1", given).fetchone():
        raise Conflict(f"It was brought in more than {KEPT_FOR} ago: it can't be taken back whole.", code="sheet-old")
    try:
        with cx.transaction():
            cx.execute(
                "INSERT INTO movement (shop_id, stock_line_id, kind, pairs, why, change_id, staff_id) "
                "SELECT shop_id, stock_line_id, 'undone', -pairs, %(why)s, gen_random_uuid(), %(staff)s "
                "FROM movement WHERE import_id = %(id)s ORDER BY stock_line_id",
                given,
            )
    except CheckViolation:
        short = cx.execute(
            "SELECT m.maker || ' ' || m.name AS model, v.system, v.label, v.eu_label FROM movement t "
            "JOIN stock_line l ON l.id = t.stock_line_id JOIN variant v ON v.id = l.variant_id "
            "JOIN shoe_model m ON m.id = v.model_id WHERE t.import_id = %(id)s AND l.on_hand < t.pairs "
            "ORDER BY 1, v.eu_label LIMIT 3",
            given,
        ).fetchall()
        named = ", ".join(f"{r['model']} {on_the_box(r)}" for r in short)
        raise Conflict(
            f"Pairs of this sheet have left since ({named}): it can't be taken back whole. Count those by hand.",
            code="sheet-used",
        ) from None
    stayed = cx.execute(
        "SELECT m.maker || ' ' || m.name AS model FROM sheet_model r JOIN model_here m ON m.id = r.model_id "
        "WHERE r.import_id = %(id)s AND NOT to_jsonb(m) @> r.set ORDER BY 1 LIMIT 20",
        given,
    ).fetchall()
    cx.execute(TAKE_BACK, given)
    for name in ("price_minor", "cost_minor"):
        cx.execute(PRICES_BACK.format(name=name), given)
    cx.execute(
        "UPDATE variant v SET retired_at = CASE WHEN r.fresh THEN now() ELSE v.retired_at END, "
        "gtin = CASE WHEN r.fresh THEN NULL ELSE coalesce(r.was_gtin, v.gtin) END FROM sheet_size r "
        "WHERE r.import_id = %(id)s AND v.id = r.variant_id AND (r.fresh OR v.gtin IS DISTINCT FROM r.was_gtin)",
        given,
    )
    read = cx.execute(
        "UPDATE shoe_reading s SET set_aside_at = now() FROM sheet_size r JOIN sheet_import i ON i.id = r.import_id "
        "WHERE i.id = %(id)s AND s.variant_id = r.variant_id AND s.source = 'sheet' AND s.at = i.done_at "
        "AND s.set_aside_at IS NULL RETURNING s.variant_id",
        given,
    ).fetchall()
    moved = cx.execute(MOVED, given).fetchall()
    know(cx, {r["variant_id"] for r in read} | {r["id"] for r in moved})
    cx.execute("UPDATE sheet_import SET undone_at = now() WHERE id = %s", [import_id])
    return [str(r["model"]) for r in stayed]


SHEET = "i.id, i.name, i.columns, i.settings, i.counts, i.reasons, i.began_at, i.done_at, i.undone_at"


def get(cx: Cx, import_id: UUID) -> Row:
    """A sheet without its file and lines. Raises `NotFound`."""
    row = cx.execute(
        f"SELECT {SHEET}, p.name AS by FROM sheet_import i JOIN staff p ON p.id = i.staff_id WHERE i.id = %s",
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
        f"SELECT {SHEET}, p.name AS by "
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


def _habit(settings: dict[str, Any]) -> dict[str, Any]:
    """What of a sheet's settings is of its headings; what was said of words is of its supplier (`sheet_words`)."""
    return {n: v for n, v in settings.items() if n not in ("words", "child")}


def of_book(names: list[str]) -> list[str]:
    """What a workbook is known by that is read whole: its sheets' names."""
    return [EVERY_SHEET, *names]


def heading_of(headings: list[str]) -> str:
    """What a supplier's lists are known by: their headings."""
    return json.dumps(headings, ensure_ascii=False)[:4000]


def habit(cx: Cx, headings: list[str]) -> dict[str, Any] | None:
    """The settings a list with these headings was last brought in with; none where it is new here."""
    row = cx.execute("SELECT settings FROM sheet_habit WHERE heading = %s", [heading_of(headings)]).fetchone()
    return dict(row["settings"]) if row else None
