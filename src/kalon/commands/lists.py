"""Lists in and out: `import`, `export`."""

from __future__ import annotations

import argparse
import sys
from collections.abc import Iterator
from contextlib import ExitStack, contextmanager
from pathlib import Path
from typing import Any

from ..core.systems import SYSTEMS
from .common import Add, database, say, up_to_date


@contextmanager
def at_shop(args: argparse.Namespace) -> Iterator[tuple[Any, Any]]:
    """A transaction in a shop as one of its managers, and who that is."""
    import psycopg
    from psycopg.rows import dict_row

    from ..demo.people import DATABASE
    from ..store.staff import a_manager, act_as, digest

    with database(alone=False) as (to, server):
        url = server.addresses(DATABASE).owner if args.demo and server else to.owner
        up_to_date(url)
        with psycopg.connect(url, row_factory=dict_row) as cx:
            who = a_manager(cx, args.shop)
            token = act_as(cx, who)
            yield cx, who
            cx.execute("RESET ROLE")
            cx.execute("DELETE FROM session WHERE token_hash = %s", [digest(token)])


def _meant(said: list[str]) -> dict[str, dict[str, str]]:
    """What words of a list mean, as `--mean sport:studio=lifting` says it."""
    found: dict[str, dict[str, str]] = {}
    for one in said:
        field, _, rest = one.partition(":")
        word, sign, answer = rest.rpartition("=")
        if not (sign and word and answer):
            raise SystemExit(f"kalon: “{one}” says nothing: write --mean sport:studio=lifting, or =- to leave it out.")
        found.setdefault(field, {})[word.lower()] = answer
    return found


def bring_in(args: argparse.Namespace) -> None:
    """Read a supplier's list and say what it would change; with --write, write it."""
    from ..files.lists import lines_at, read_list
    from ..files.workers import spooled
    from ..store import house, sheet_words, sheets
    from ..store.ids import new_id

    with at_shop(args) as (cx, who), spooled(args.file.read_bytes()) as path:
        told = {n: v for n in ("sport", "maker", "system", "pairs", "sheet", "list_currency", "child")
                if (v := getattr(args, n))}  # fmt: skip
        settings = {"currency": house.current(cx).currency, "pairs": "ignored", "words": _meant(args.mean)} | told
        found = read_list(path, lambda _, step: say(step), settings, sheet_words.colours(cx))
        sheet = new_id()
        columns = found.as_columns()
        kept = settings | {"columns": [c.field for c in found.columns]}
        sheets.stage(cx, who, sheet, args.file.name, args.file.read_bytes(), columns, kept, lines_at(path))
        for note in found.notes:
            say(note)
        for column in found.columns:
            say(f"{column.heading}: {column.field}")
        for ask in found.asks:
            guess = f"; likely {ask['guess']}" if ask["guess"] else ""
            print(f"{ask['lines']} lines: {ask['said']}?{guess} (--mean {ask['field']}:{ask['word']}=…)")
        staged = sheets.get(cx, sheet)
        for reason in staged["reasons"]:
            print(f"{reason['lines']} lines refused: {reason['said']}")
        for verdict in ("refused", "odd"):
            for row in sheets.rows(cx, sheet, verdict, 0, 40):
                print(f"{found.places.told(row['row'])}: {verdict}: {row['said']}")
        counts = staged["counts"]
        print(", ".join(f"{n} {verdict}" for verdict, n in counts.items()))
        if args.write:
            sheets.write(cx, who, sheet, anyway=args.anyway)
            print("written; it can be taken back in the stockroom")
        else:
            cx.rollback()
            print("nothing was written: --write writes every line that isn't refused")


def take_out(args: argparse.Namespace) -> None:
    """Write what a shop has as a file."""
    from ..files.sheets import write
    from ..store import exports

    with at_shop(args) as (cx, _), ExitStack() as closing:
        out = closing.enter_context(args.into.open("wb")) if args.into else sys.stdout.buffer
        columns = exports.columns_of(cx, args.kind)
        rows = exports.rows_of(cx, args.kind, columns)
        for piece in write(args.form, columns, rows):
            out.write(piece)


def add(add: Add) -> None:
    """What they take on the command line."""
    p = add("import", help="read a supplier's list, a count or a price list and say what it changes; --write writes it")
    p.add_argument("file", type=Path)
    p.add_argument("--sport", help="the sport of every line that names none")
    p.add_argument("--maker", help="the maker of every line that names none")
    p.add_argument("--system", help=f"the size system: {', '.join(SYSTEMS)}")
    p.add_argument("--pairs", choices=["received", "counted", "ignored"], help="what a number of pairs means")
    p.add_argument("--sheet", help="the sheet of a workbook; else the first that holds a list")
    p.add_argument("--currency", dest="list_currency", help="what its prices are in, where its cells don't say")
    p.add_argument("--child", choices=["uk", "us"], help="whose children's letters (13C) it has")
    p.add_argument("--mean", action="append", default=[], metavar="FIELD:WORD=ANSWER", help="what a word of it means")
    p.add_argument("--anyway", action="store_true", help="write it though the same file or delivery came before")
    p.add_argument("--write", action="store_true")
    p.set_defaults(run=bring_in)
    q = add(
        "export", help="write stock, models, movements, athletes, fittings, follow-ups or what was learned as a file"
    )
    q.add_argument("kind", choices=["stock", "models", "movements", "athletes", "fittings", "follow-ups", "learned"])
    q.add_argument("--as", dest="form", choices=["csv", "xlsx", "json"], default="csv")
    q.add_argument("--into", type=Path)
    q.set_defaults(run=take_out)
    for one in (p, q):
        one.add_argument("--shop", help="whose, where there is more than one")
        one.add_argument("--demo", action="store_true", help="of the made-up scenario")
