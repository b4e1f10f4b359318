"""Three lists as suppliers send them, built from their description: a grid with two heading rows, a German list with
thirds and euro signs, a list of bar codes with bracketed sizes. With what each of them truly holds."""

from __future__ import annotations

import io
from dataclasses import dataclass

from openpyxl import Workbook
from stdnum import ean


@dataclass(frozen=True)
class Held:
    """A size that is truly in a list: maker, model, EU label to the nearest half, colour, pairs, price in cents."""

    maker: str
    model: str
    eu: float
    colour: str
    pairs: int | None
    price: int | None


GRID_MODELS = [("Lorne Fell", "Tern", ["slate", "rust"], 129.0), ("Lorne Fell", "Tern Low", ["slate"], 109.5),
               ("Lorne Fell", "Cairn", ["moss", "chalk"], 149.0)]  # fmt: skip
GRID_SIZES = ["36", "36½", "37", "37½", "38", "38½", "39", "39½", "40", "40½", "41", "41½", "42", "42½", "43", "43½", "44",
              "44½", "45", "45½", "46", "46½", "47", "47½"]  # fmt: skip


def grid() -> tuple[bytes, list[Held]]:
    """An XLSX workbook: a title, two heading rows with "Size EU" merged over the sizes, a row a model and colour, a
    column and a row of totals, and a first sheet that says how to order."""
    book = Workbook()
    book.active.title = "Read me"  # type: ignore[union-attr]
    book.active.append(["How to order: fill in the grid."])  # type: ignore[union-attr]
    sheet = book.create_sheet("Order")
    sheet.append(["Spring order, Lorne Fell"])
    sheet.append([])
    last = 4 + len(GRID_SIZES)
    sheet.append(["Brand", "Désignation", "Col", "UVP", "Size EU", *[None] * (len(GRID_SIZES) - 1), "Total"])
    sheet.append([None, None, None, None, *(float(s.replace("½", ".5")) for s in GRID_SIZES), None])
    sheet.merge_cells(start_row=3, end_row=3, start_column=5, end_column=last)
    held = []
    sums = 0
    for m, (maker, model, colours, price) in enumerate(GRID_MODELS):
        for c, colour in enumerate(colours):
            pairs = {i: (i * 7 + m + c) % 4 for i in range(m, len(GRID_SIZES), 2)}
            cells: list[object] = [
                maker if not held else None,
                model if c == 0 else None,
                colour,
                price if c == 0 else None,
            ]
            cells += [pairs.get(i) for i in range(len(GRID_SIZES))]
            sheet.append([*cells, sum(pairs.values())])
            sums += sum(pairs.values())
            held += [Held(maker, model, float(GRID_SIZES[i].replace("½", ".5")), colour, n, round(price * 100))
                     for i, n in pairs.items()]  # fmt: skip
    sheet.append([])
    sheet.append(["Total", *[None] * (last - 1), sums])
    out = io.BytesIO()
    book.save(out)
    return out.getvalue(), held


THIRDS = [("42", 42.0), ("42 2/3", 42.5), ("43 1/3", 43.5), ("44", 44.0), ("44⅔", 44.5), ("45 1/3", 45.5)]


def german() -> tuple[bytes, list[Held]]:
    """A semicolon list in Western letters (cp1252, which its program calls Latin-1): 598 lines, German headings and words, thirds of a size, "169,95 €", "auf Anfrage",
    widths in words, stock as "> 5" and "auf Lager", and twenty lines of what is no shoe for a sport."""
    lines = ["Preisliste Herbst;;;;;;", "", "Hersteller;Modell;Sportart;Gr.;Weite;UVP;Lagerbestand"]
    held: list[Held] = []
    sports = ["Fußball FG", "Klettern", "Rennrad", "Eishockey", "Gewichtheben", "Hallenschuhe"]
    for n in range(578):
        model = f"Möwe {n // 6}"
        written, eu = THIRDS[n % 6]
        written = written.replace("⅔", " 2/3")  # these letters have no such sign
        price, cents = [("169,95 €", 16995), ("1.299,00 €", 129900), ("auf Anfrage", None)][n // 6 % 3]
        stock = ["> 5", "3", "-", "auf Lager"][n % 4]
        width = ["breit", "schmal", "normal"][n // 6 % 3]
        lines.append(f"Strömer;{model};{sports[n // 6 % 6]};{written};{width};{price};{stock}")
        held.append(Held("Strömer", model, eu, "", None, cents))
    lines += [f"Strömer;Trikot {n};Bekleidung;M;;39,95 €;> 5" for n in range(20)]
    return "\r\n".join(lines).encode("cp1252"), held


def codes() -> tuple[bytes, list[Held]]:
    """A comma list of 1,024 bar codes with bracketed sizes, no sport and no maker in it, prices with a sign before,
    stock in weeks and with a plus; the last line is a sum."""
    lines = ["Article,Model,EAN,Size,Qty,RRP"]
    held = []
    for n in range(1024):
        model, step = f"Harrier {n // 16}", n % 16
        uk = 4 + step / 2
        code = f"40{n:010d}"
        lines.append(f'HR{n // 16:04d},{model},{code}{ean.calc_check_digit(code)},UK {uk:g} (US {uk + 1:g}),'
                     f'{["6", "10+", "2 weeks", "0"][n % 4]},€{89 + n // 16}.50')  # fmt: skip
        last_mm = (uk + 25) / 3 * 25.4
        held.append(Held("Harrier Works", model, round(last_mm * 3 / 20 * 2) / 2, "", None, 8950 + 100 * (n // 16)))
    lines.append("Total,,,,2048,")
    return "\n".join(lines).encode(), held
