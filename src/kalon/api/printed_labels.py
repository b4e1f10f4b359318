"""Labels to stick: a box's, with its size in every system, price and bar code; a size card to carry. On label sheets of
A4 and Letter, or a small roll. Fetched when first asked for."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from io import BytesIO
from typing import Any, Literal

from reportlab.graphics import renderPDF
from reportlab.graphics.barcode.code128 import Code128
from reportlab.graphics.barcode.eanbc import Ean8BarcodeWidget, Ean13BarcodeWidget
from reportlab.graphics.shapes import Drawing
from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas

from ..store.exports import shortest
from .printed import GRAPHITE, fonts, plain
from .qr import squares

LabelPaper = Literal["a4", "letter", "roll"]


@dataclass(frozen=True)
class Sheet:
    """A sheet of labels, mm: the page, where the first label begins from the top left, and labels across and down."""

    page: tuple[float, float]
    left: float
    top: float
    label: tuple[float, float]
    step: tuple[float, float]
    across: int
    down: int


SHEETS: dict[LabelPaper, Sheet] = {
    "a4": Sheet((210, 297), 0, 0.5, (70, 37), (70, 37), 3, 8),
    "letter": Sheet((215.9, 279.4), 4.8, 12.7, (66.7, 25.4), (69.9, 25.4), 3, 10),
    "roll": Sheet((57, 32), 0, 0, (57, 32), (57, 32), 1, 1),
}
"""Labels three across and eight or ten down, and a roll of 57 × 32 mm: common practice, no source."""
EDGE = 2.5
Draw = Callable[[Canvas, float, float], None]


def pages(draws: Sequence[Draw], paper: LabelPaper, skip: int = 0) -> bytes:
    """So many labels on as many pages as they need; `skip` labels of the first sheet are used already."""
    fonts()
    sheet, out = SHEETS[paper], BytesIO()
    canvas = Canvas(out, pagesize=(sheet.page[0] * mm, sheet.page[1] * mm))
    canvas.setTitle("Labels")
    each = sheet.across * sheet.down
    for place, draw in enumerate(draws, skip % each):
        if place and place % each == 0 and place > skip % each:
            canvas.showPage()
        at = place % each
        canvas.saveState()
        canvas.translate(
            (sheet.left + (at % sheet.across) * sheet.step[0]) * mm,
            (sheet.page[1] - sheet.top - (at // sheet.across) * sheet.step[1] - sheet.label[1]) * mm,
        )
        draw(canvas, *sheet.label)
        canvas.restoreState()
    canvas.save()
    return out.getvalue()


def box_label(pair: dict[str, Any]) -> Draw:
    """A box's label: `maker`, `name`, `size` as the box has it, `also` in other systems, `width`, `colour`, `price` (a
    text, may be empty), `code` (a bar code's digits, or the shop's own sign)."""

    def draw(c: Canvas, wide: float, high: float) -> None:
        inner, right = (wide - 2 * EDGE) * mm, (wide - EDGE) * mm
        c.setFillColor(GRAPHITE)
        c.setFont("Mono", 13)
        c.drawRightString(right, (high - 6.5) * mm, plain(pair["size"]))
        room = inner - c.stringWidth(plain(pair["size"]), "Mono", 13) - 2 * mm
        c.setFont("Sans-Bold", 9.5)
        c.drawString(EDGE * mm, (high - 6) * mm, _fits(c, pair["name"], "Sans-Bold", 9.5, room))
        c.setFont("Sans-Bold", 9)
        c.drawRightString(right, (high - 10.5) * mm, pair["price"])
        room = inner - c.stringWidth(pair["price"], "Sans-Bold", 9) - 2 * mm
        c.setFont("Sans", 7)
        words = " · ".join(w for w in (pair["maker"], pair["width"], pair["colour"]) if w)
        c.drawString(EDGE * mm, (high - 9.5) * mm, _fits(c, words, "Sans", 7, room))
        c.setFont("Mono", 6.5)
        c.drawString(EDGE * mm, (high - 12.8) * mm, _fits(c, plain(pair["also"]), "Mono", 6.5, room))
        tall = high - 14 - EDGE
        _bars(c, pair["code"], EDGE * mm, EDGE * mm, inner - 14 * mm, tall * mm)
        side = min(11.0, tall)
        _qr(c, pair["code"], right - side * mm, EDGE * mm, side * mm)

    return draw


def _bars(c: Canvas, code: str, x: float, y: float, wide: float, tall: float) -> None:
    if code.isdecimal() and len(code) in (8, 13):
        widget = (Ean13BarcodeWidget if len(code) == 13 else Ean8BarcodeWidget)(code)
        widget.barHeight = tall
        low, _, high, _ = widget.getBounds()
        drawing = Drawing(wide, tall)
        drawing.add(widget)
        c.saveState()
        c.translate(x, y)
        c.scale(min(wide / (high - low), 1.0), 1.0)
        renderPDF.draw(drawing, c, 0, 0)
        c.restoreState()
        return
    # As wide as there is room for, in bars no reader is too coarse for.
    thin = Code128(code, barWidth=1, quiet=False).width
    kept = Code128(code, barHeight=tall - 8, barWidth=min(max(wide / thin, 0.15 * mm), 0.4 * mm), humanReadable=True,
                   fontSize=6, quiet=False)  # fmt: skip
    kept.drawOn(c, x, y + 8)


def _qr(c: Canvas, text: str, x: float, y: float, side: float) -> None:
    rows = squares(text)
    dot = side / len(rows)
    c.setFillColor(GRAPHITE)
    for line, row in enumerate(rows):
        for place, dark in enumerate(row):
            if dark:
                c.rect(x + place * dot, y + side - (line + 1) * dot, dot, dot, stroke=0, fill=1)


def _fits(c: Canvas, text: str, font: str, size: float, wide: float) -> str:
    if c.stringWidth(text, font, size) <= wide:
        return text
    while text and c.stringWidth(text + "…", font, size) > wide:
        text = text[:-1]
    return text + "…"


def size_card(card: dict[str, Any]) -> Draw:
    """What somebody carries: `name` (a first name and an initial), `shop`, `day`, `feet` and `lines` of words, and the
    pair's bar code, where it has one."""

    def draw(c: Canvas, wide: float, high: float) -> None:
        inner = (wide - 2 * EDGE) * mm
        c.setFillColor(GRAPHITE)
        c.setFont("Sans-Bold", 9.5)
        c.drawString(EDGE * mm, (high - 6) * mm, _fits(c, card["name"], "Sans-Bold", 9.5, inner * 0.6))
        c.setFont("Sans", 6.5)
        c.drawRightString((wide - EDGE) * mm, (high - 5.5) * mm, card["day"])
        c.setFont("Mono", 7.5)
        c.drawString(EDGE * mm, (high - 10.5) * mm, _fits(c, card["feet"], "Mono", 7.5, inner))
        c.setFont("Sans", 7)
        for place, line in enumerate(card["lines"][: int((high - 16) // 3.6)]):
            c.drawString(EDGE * mm, (high - 14.5 - 3.6 * place) * mm, _fits(c, plain(line), "Sans", 7, inner))
        c.setFont("Sans", 6)
        c.drawString(EDGE * mm, EDGE * mm, _fits(c, card["shop"], "Sans", 6, inner))

    return draw


CARD = (85.6, 54.0)
"""A card as a bank's, mm (ISO/IEC 7810 ID-1)."""
QR_SIDE, CARD_EDGE = 21.0, 4.0
CARD_DPI = 300


def wallet_card(card: dict[str, Any]) -> bytes:
    """A PDF of one card to carry: `name`, `day`, `shop`; `feet` and `asks`, lines of words; `sizes`, pairs of a maker
    and a size; `link`, an address a camera reads from it, where there is one."""
    fonts()
    out = BytesIO()
    c = Canvas(out, pagesize=(CARD[0] * mm, CARD[1] * mm))
    c.setTitle(f"Sizes of {card['name']}")
    wide, right = (CARD[0] - 2 * CARD_EDGE) * mm, (CARD[0] - CARD_EDGE) * mm
    beside = wide - (QR_SIDE + 2) * mm if card["link"] else wide
    c.setFillColor(GRAPHITE)

    def line(text: str, y: float, font: str, size: float, room: float, x: float = CARD_EDGE * mm) -> None:
        c.setFont(font, size)
        c.drawString(x, y * mm, _fits(c, plain(text), font, size, room))

    line(card["name"], 46.8, "Sans-Bold", 11, wide * 0.65)
    c.setFont("Sans", 6.5)
    c.drawRightString(right, 47.2 * mm, card["day"])
    y = 42.4
    for text in card["feet"]:
        line(text, y, "Sans", 7.2, wide)
        y -= 3.5
    y -= 0.8
    if card["sizes"]:
        line("Worn here", y, "Sans-Bold", 6.8, beside)
        y -= 3.5
    for place, (maker, size) in enumerate(card["sizes"]):
        x = CARD_EDGE * mm + (place % 2) * beside / 2
        line(f"{maker} {size}", y, "Sans", 7.2, beside / 2 - 1.5 * mm, x)
        y -= 3.5 if place % 2 or place == len(card["sizes"]) - 1 else 0
    y -= 0.8
    if card["asks"]:
        line("Elsewhere", y, "Sans-Bold", 6.8, beside)
        y -= 3.5
    for text in card["asks"]:
        if y > 7:
            line(text, y, "Sans", 7.2, beside)
            y -= 3.5
    line(card["shop"], 3.6, "Sans", 6, beside)
    if card["link"]:
        _qr(c, card["link"], right - QR_SIDE * mm, CARD_EDGE * mm, QR_SIDE * mm)
    c.save()
    return out.getvalue()


def as_png(pdf: bytes) -> bytes:
    """The first page of a PDF as a picture of 300 dots an inch."""
    import pypdfium2

    out = BytesIO()
    pypdfium2.PdfDocument(pdf)[0].render(scale=CARD_DPI / 72).to_pil().save(out, "PNG", dpi=(CARD_DPI, CARD_DPI))
    return out.getvalue()


def label_code(row: dict[str, Any]) -> str:
    """What a box's bars say: its bar code as it is printed, else the shop's own code, else the first of its id."""
    if row.get("gtin"):
        return shortest(row["gtin"])
    return row.get("code") or str(row["variant_id"]).split("-")[0].upper()
