"""Made-up suppliers' lists of known content, in every dialect they come in; and somebody who answers what they ask.

What is written and what it means is told here alone: no word, size or rule is taken from the code that reads lists.
"""

from __future__ import annotations

import csv
import io
from dataclasses import dataclass, field
from random import Random
from typing import Any

from openpyxl import Workbook

SPORTS = {
    "football": ["Football", "Football FG", "Fußball", "Calcio", "Fútbol", "Voetbal", "Soccer boots"],
    "climbing": ["Climbing", "Rock climbing", "Klettern", "Escalade", "Arrampicata", "Escalada"],
    "cycling": ["Road cycling", "Radsport", "Cyclisme", "Ciclismo", "Wielrennen", "Bike"],
    "court": ["Tennis", "Badminton", "Squash", "Hallenschuhe", "Volleyball", "Pallavolo"],
    "lifting": ["Powerlifting", "Weightlifting", "Gewichtheben", "Haltérophilie"],
    "ice": ["Ice hockey", "Eishockey", "Hockey sur glace", "Schaatsen", "Figure skating"],
}
ODD_SPORTS = {"Studio": "lifting", "Halle": "court", "Zumbo 4": "-", "Wand": "climbing"}
"""Words nobody could know for sure, with what they mean here."""
NOT_OURS = ["Running", "Textil", "Casual", "Socken", "Trail running"]
HEADS = {
    "maker": ["Brand", "Maker", "Marke", "Hersteller", "Marque", "Merk", "Fabricante"],
    "model": ["Model", "Style name", "Bezeichnung", "Désignation", "Modello", "Omschrijving", "Modell"],
    "sport": ["Sport", "Category", "Sportart", "Kategorie", "Categoría", "Activité"],
    "size": ["Size", "Größe", "Pointure", "Taglia", "Talla", "Maat", "Gr."],
    "width": ["Width", "Wdth", "Weite", "Largeur", "Breedte"],
    "colour": ["Colour", "Col", "Farbe", "Couleur", "Kleur"],
    "price": ["RRP", "UVP", "PVP", "Prix public", "Prezzo", "Adviesprijs"],
    "pairs": ["Qty", "Stock", "Bestand", "Quantité", "Voorraad", "Anzahl"],
}
WIDTHS = {"narrow": ["narrow", "schmal", "étroit", "smal", "N"], "regular": ["M", "normal", "regular", ""],
          "wide": ["wide", "breit", "W", "ancho", "breed"]}  # fmt: skip
COLOURS = ["black", "moss", "rust", "blau", "rouge", "gris"]
POINT_MM = 20 / 3


@dataclass
class Made:
    """A list: its bytes, what it truly holds, and the answers somebody who knows it would give."""

    data: bytes
    held: set[tuple[Any, ...]]
    """Maker, model, sport, EU label to the nearest half, width, colour, pairs, price in cents."""
    settings: dict[str, Any]
    words: dict[str, dict[str, str]] = field(default_factory=dict)
    told: str = ""
    """The dialects in it, for whoever has to find a fault."""


def size_in(rng: Random, way: str) -> tuple[str, float]:
    """A size as it is written, and its EU label to the nearest half."""
    if way in ("eu", "comma", "half", "named"):
        eu = rng.randrange(72, 96) / 2
        text = {"eu": f"{eu:g}", "comma": f"{eu:g}".replace(".", ","), "half": f"{int(eu)}{'½' if eu % 1 else ''}",
                "named": f"EU {eu:g}"}[way]  # fmt: skip
        return text, eu
    if way in ("thirds", "decimals"):
        whole, third = rng.randrange(36, 48), rng.choice([0, 1, 2])
        sign = {0: "", 1: " 1/3", 2: " 2/3"}[third] if way == "thirds" else {0: "", 1: ".33", 2: ".66"}[third]
        return f"{whole}{sign}", whole + (0.5 if third else 0)
    uk = rng.randrange(6, 24) / 2
    eu = round((uk + 25) / 3 * 25.4 / POINT_MM * 2) / 2
    return {"uk": f"{uk:g}", "uk named": f"UK {uk:g}", "twin": f"UK {uk:g} (US {uk + 1:g})",
            "triple": f"{uk:g} / {eu:g} / {(uk + 25) / 3 * 2.54 - 1.5:.1f}"}[way], eu  # fmt: skip


def money_in(rng: Random, cents: int, way: str) -> tuple[str, int | None]:
    whole, part = divmod(cents, 100)
    dotted = f"{whole:,}".replace(",", ".")
    text = {
        "point": f"{whole}.{part:02}", "comma": f"{whole},{part:02}", "euro after": f"{whole},{part:02} €",
        "euro before": f"€{whole}.{part:02}", "thousands": f"{dotted},{part:02} €", "coded": f"{whole}.{part:02} EUR",
    }[way]  # fmt: skip
    if rng.random() < 0.04:
        return rng.choice(["on request", "auf Anfrage", "POA", "sur demande"]), None
    return text, cents


def stock_in(rng: Random, words: dict[str, dict[str, str]]) -> tuple[int | None, str]:
    """How many pairs a cell means, and what is written in it."""
    pairs = rng.randrange(0, 9)
    if rng.random() > 0.1:
        return pairs, str(pairs)
    text, meant = rng.choice([("-", "0"), ("sold out", "0"), ("> 5", "6"), ("auf Lager", "-"), ("2 Wochen", "0")])
    if text not in ("-", "sold out"):
        words.setdefault("pairs", {})[text.lower()] = meant
    return (None if meant == "-" else int(meant)), text


def made(rng: Random) -> Made:
    """A list of some models, in dialects of its own."""
    grid = rng.random() < 0.35
    has = {h: rng.random() < 0.7 for h in ("maker", "sport", "width", "colour", "price")}
    has["pairs"] = grid or rng.random() < 0.7
    if grid:
        has["width"] = False
    way = rng.choice(["eu", "comma", "half"] if grid else
                     ["eu", "comma", "half", "named", "thirds", "decimals", "uk", "uk named", "twin", "triple"])  # fmt: skip
    money = rng.choice(["point", "comma", "euro after", "euro before", "thousands", "coded"])
    maker = f"Maker{rng.randrange(99)} {rng.choice(['Works', 'Ø', 'Söhne', '& Co'])}"
    only = rng.choice(list(SPORTS))
    settings: dict[str, Any] = {"currency": "EUR", "pairs": "received" if has["pairs"] else "ignored"}
    settings |= {} if has["maker"] else {"maker": maker}
    settings |= {} if has["sport"] else {"sport": only}
    settings |= {"system": "uk"} if way == "uk" else {}
    words: dict[str, dict[str, str]] = {}
    held: set[tuple[Any, ...]] = set()
    body: list[dict[str, str]] = []
    across = [f"{eu / 2:g}" for eu in range(72, 96)]
    for m in range(rng.randrange(2, 9)):
        model = f"{rng.choice(['Tern', 'Gull', 'Wren', 'Rook'])} {m}{rng.choice(['', ' Low', ' II', ' ß'])}"
        sport, said = only, ""
        if has["sport"]:
            sport = rng.choice(list(SPORTS))
            said = rng.choice(SPORTS[sport])
            if rng.random() < 0.08:
                said, sport = rng.choice(list(ODD_SPORTS.items()))
                words.setdefault("sport", {})[said.lower()] = sport
            elif rng.random() < 0.06:
                said, sport = rng.choice(NOT_OURS), "-"
        text, cents = money_in(rng, rng.randrange(4900, 29900), money)
        width = rng.choice(list(WIDTHS)) if has["width"] else "regular"
        for colour in rng.sample(COLOURS, rng.randrange(1, 3)) if has["colour"] else [""]:
            row = {"maker": maker, "model": model, "sport": said, "colour": colour, "price": text}
            seen: set[float] = set()
            if grid:
                for at in rng.sample(range(len(across)), rng.randrange(3, 12)):
                    pairs = rng.randrange(0, 9)
                    row[f"#{at}"] = str(pairs)
                    held.add((maker, model, sport, 36 + at / 2, width, colour, pairs, cents if has["price"] else None))
                body.append(row)
                continue
            for _ in range(rng.randrange(2, 9)):
                written, eu = size_in(rng, way)
                if eu in seen:
                    continue
                seen.add(eu)
                pairs, stock = stock_in(rng, words if has["pairs"] else {})
                body.append(row | {"size": written, "width": rng.choice(WIDTHS[width]), "pairs": stock})
                held.add((maker, model, sport, eu, width, colour, pairs if has["pairs"] else None,
                          cents if has["price"] else None))  # fmt: skip
    columns = [c for c in ("maker", "model", "sport", "colour", "price") if has.get(c, True)]
    columns += [f"#{i}" for i in range(len(across))] if grid else ["size", *(c for c in ("width", "pairs") if has[c])]
    if not grid:
        rng.shuffle(columns)
    table = written_out(rng, columns, body, [size_text(a, way) for a in across], grid=grid)
    data, form = packed(rng, table)
    kept = {h for h in held if h[2] != "-"}
    return Made(data, kept, settings, words, f"{form}, {'grid' if grid else 'lines'}, size {way}, money {money}, {has}")


def size_text(text: str, way: str) -> str:
    return text.replace(".", ",") if way == "comma" else text.replace(".5", "½") if way == "half" else text


def written_out(
    rng: Random, columns: list[str], body: list[dict[str, str]], across: list[str], *, grid: bool
) -> list[list[str]]:
    """Rows with their headings, and what stands round them: titles, totals, a blank row."""
    head = [across[int(c[1:])] if c.startswith("#") else rng.choice(HEADS[c]) for c in columns]
    rows: list[list[str]] = []
    if not grid and rng.random() < 0.2:  # a column somebody left blank
        columns, head = [*columns[:1], "blank", *columns[1:]], [*head[:1], "", *head[1:]]
    if rng.random() < 0.4:
        rows += [[rng.choice(["Price list", "Order form spring", "Preisliste Herbst"])], []]
    two_rows = grid and rng.random() < 0.5
    first = columns.index("#0") if grid else 0
    if two_rows:
        rows.append([*head[:first], rng.choice(["Size EU", "EU", "Größe EU"]), *[""] * (len(across) - 1)])
        rows.append([*[""] * first, *head[first:]])
    else:
        rows.append(head)
    last: dict[str, str] = {}
    for row in body:
        cells = [row.get(c, "") for c in columns]
        if grid and last.get("model") == row["model"] and rng.random() < 0.5:
            cells = [
                "" if c in ("maker", "model", "sport", "price") else t for c, t in zip(columns, cells, strict=True)
            ]
        last = row
        rows.append(cells)
    if grid and rng.random() < 0.6:
        rows.append(
            ["Total", *[""] * (first - 1), *[str(sum(int(r.get(c) or 0) for r in body)) for c in columns[first:]]]
        )
    return rows


def packed(rng: Random, table: list[list[str]]) -> tuple[bytes, str]:
    """The table as a file of some kind."""
    kind = rng.choice(["comma", "semicolon", "tab", "western", "marked", "xlsx"])
    if kind == "xlsx":
        book = Workbook()
        sheet = book.active
        assert sheet is not None
        for row in table:
            plain = [float(t) if t.replace(".", "", 1).isdigit() and rng.random() < 0.9 else t or None for t in row]
            sheet.append(plain)
        out = io.BytesIO()
        book.save(out)
        return out.getvalue(), kind
    text = io.StringIO()
    sign = {"comma": ",", "tab": "\t"}.get(kind, ";")
    csv.writer(text, delimiter=sign, lineterminator=rng.choice(["\n", "\r\n"])).writerows(table)
    encoding = {"western": "cp1252", "marked": "utf-8-sig"}.get(kind, "utf-8")
    return text.getvalue().encode(encoding), kind


def answers_to(made_list: Made, asks: list[dict[str, Any]], most: int) -> dict[str, dict[str, str]]:
    """What somebody who knows the list says of the words it asks about, so many at most, those with most lines first."""
    found: dict[str, dict[str, str]] = {}
    for ask in sorted(asks, key=lambda a: -int(a["lines"])):
        if sum(map(len, found.values())) == most:
            break
        meant = made_list.words.get(ask["field"], {}).get(ask["word"])
        if meant is not None:
            found.setdefault(ask["field"], {})[ask["word"]] = meant
    return found
