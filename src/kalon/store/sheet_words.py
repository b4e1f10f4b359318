"""What a supplier's lists mean by a word, as it was said once; and how often a file came before."""

from __future__ import annotations

from collections.abc import Mapping
from uuid import UUID

from .database import Cx, Row, Who

Words = dict[str, dict[str, str]]
"""Answers by what was asked about and the word."""


def known(cx: Cx, supplier: str) -> Words:
    """What was said of a supplier's words before."""
    found: Words = {}
    rows = cx.execute("SELECT field, word, answer FROM sheet_word WHERE supplier = %s", [supplier.lower()])
    for row in rows:
        found.setdefault(row["field"], {})[row["word"]] = row["answer"]
    return found


def remember(cx: Cx, who: Who, supplier: str, said: Mapping[str, Mapping[str, str]]) -> None:
    """Keep what was said; the newest answer stands."""
    rows = [
        (who.shop_id, supplier.lower(), field, word, answer, who.staff_id)
        for field, answers in sorted(said.items())
        for word, answer in sorted(answers.items())
        if word and answer
    ]
    cx.cursor().executemany(
        "INSERT INTO sheet_word (shop_id, supplier, field, word, answer, staff_id) VALUES (%s, %s, %s, %s, %s, %s) "
        "ON CONFLICT (shop_id, supplier, field, word) DO UPDATE "
        "SET answer = excluded.answer, staff_id = excluded.staff_id, said_at = now()",
        rows,
    )


MOST_COLOURS = 2_000


def colours(cx: Cx) -> list[str]:
    """The colours known in the chain, those of most sizes first."""
    rows = cx.execute(
        "SELECT colour FROM variant WHERE colour <> '' GROUP BY colour ORDER BY count(*) DESC, colour LIMIT %s",
        [MOST_COLOURS],
    )
    return [row["colour"] for row in rows]


SAME_FILE = """
    SELECT i.name, i.done_at, p.name AS by FROM sheet_import i JOIN staff p ON p.id = i.staff_id
    WHERE i.digest = (SELECT digest FROM sheet_import WHERE id = %(id)s) AND i.id <> %(id)s
      AND i.done_at IS NOT NULL AND i.undone_at IS NULL
    ORDER BY i.done_at DESC LIMIT 1
"""


def same_file(cx: Cx, import_id: UUID) -> Row | None:
    """The newest list that was written from the very same file, and not taken back; none where it is new here."""
    return cx.execute(SAME_FILE, {"id": import_id}).fetchone()
