"""The fit sheet printed, and what every printed sheet shares. Fetched when first asked for: it brings a library."""

from __future__ import annotations

from functools import cache
from io import BytesIO
from pathlib import Path
from typing import Any, Literal

from reportlab.lib.colors import HexColor
from reportlab.lib.pagesizes import A4, LETTER
from reportlab.lib.styles import ParagraphStyle
from reportlab.lib.units import mm
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont
from reportlab.platypus import Flowable, Paragraph, SimpleDocTemplate, Spacer, Table, TableStyle

from ..core.care.breakin import BreakInOut
from ..core.fit.size import WORDS, ZONE_NAMES
from ..core.money import Money
from ..core.rules.words import SPORTS
from ..core.systems import KEPT, SIZE_SYSTEMS
from ..core.units import signed

FONTS = Path(__file__).parent / "fonts"
GRAPHITE, MADDER, FAINT = HexColor("#2b2a27"), HexColor("#8f2436"), HexColor("#8a8375")
Paper = Literal["a4", "letter"]
PAPERS = {"a4": A4, "letter": LETTER}
SIDE_MM = 18
MARKS = {"CP": "common practice", "PUB": "published", "MEM": "from memory", "HD": "house default"}


@cache
def fonts() -> bool:
    """Make our own typefaces known to the library, once."""
    for name, file in (("Sans", "sans-regular"), ("Sans-Bold", "sans-bold"), ("Mono", "mono-regular")):
        pdfmetrics.registerFont(TTFont(name, str(FONTS / f"{file}.ttf")))
    pdfmetrics.registerFontFamily("Sans", normal="Sans", bold="Sans-Bold")
    return True


class GapBars(Flowable):
    """Room by zone on one millimetre scale: the wanted band, a hollow mark for new, a full one for settled."""

    ROW = 11 * mm

    def __init__(self, zones: list[dict[str, Any]], width: float) -> None:
        super().__init__()
        self.zones = zones
        self.width = width
        self.height = self.ROW * len(zones) + 8 * mm

    def draw(self) -> None:
        """Draw onto the page."""
        low = min(min(z["low_mm"], z["new_mm"], z["settled_mm"]) for z in self.zones) - 3
        high = max(max(z["high_mm"], z["new_mm"], z["settled_mm"]) for z in self.zones) + 3
        left, right = 22 * mm, self.width - 62 * mm
        c = self.canv

        def x(value: float) -> float:
            return float(left + (value - low) / (high - low) * (right - left))

        c.setStrokeColor(FAINT)
        c.setFont("Mono", 6.5)
        for tick in range(int(low // 5) * 5 + 5, int(high) + 1, 5):
            c.setFillColor(FAINT)
            c.line(x(tick), 7 * mm, x(tick), 8.5 * mm)
            c.drawCentredString(x(tick), 4 * mm, f"{tick} mm" if tick == 0 else f"{tick}")
        for i, z in enumerate(self.zones):
            y = self.height - self.ROW * (i + 0.6)
            c.setFillColor(GRAPHITE)
            c.setFont("Sans-Bold", 9)
            c.drawString(0, y - 3, ZONE_NAMES[z["zone"]].capitalize())
            c.setStrokeColor(GRAPHITE)
            c.setLineWidth(0.6)
            c.rect(x(z["low_mm"]), y - 3 * mm, x(z["high_mm"]) - x(z["low_mm"]), 6 * mm)
            c.line(x(z["new_mm"]), y, x(z["settled_mm"]), y)
            c.setFillColor(HexColor("#ffffff"))
            c.circle(x(z["new_mm"]), y, 1.6 * mm, fill=1)
            c.setFillColor(MADDER)
            c.circle(x(z["settled_mm"]), y, 1.6 * mm, fill=1)
            c.setFillColor(GRAPHITE)
            c.setFont("Mono", 7.5)
            words = f"{WORDS[z['new']]} {signed(z['new_mm'])} → {WORDS[z['settled']]} {signed(z['settled_mm'])}"
            c.drawString(right + 4 * mm, y - 3, words.replace("→", "to"))


def style(size: float, *, bold: bool = False, before: float = 0) -> ParagraphStyle:
    """A paragraph's style by its size in points."""
    return ParagraphStyle(
        f"s{size}{bold}{before}",
        fontName="Sans-Bold" if bold else "Sans",
        fontSize=size,
        leading=size * 1.35,
        textColor=GRAPHITE,
        spaceBefore=before,
    )


def plain(text: object) -> str:
    """Text as our typefaces have it: they have no signs for thirds."""
    return str(text).replace("⅓", " 1/3").replace("⅔", " 2/3")


def safe(text: object) -> str:
    """Text that is no markup."""
    return plain(text).replace("&", "&amp;").replace("<", "&lt;").replace(">", "&gt;")


def _price_line(sheet: dict[str, Any]) -> str:
    tax, currency = sheet["tax"], sheet["currency"]
    words = [str(Money(sheet["total_minor"], currency))]
    if sheet["discount_minor"]:
        words.append(f", {Money(sheet['discount_minor'], currency)} taken off")
    if tax:
        words.append(f", of which {Money(tax['tax_minor'], currency)} is sales tax: {tax['why']}")
    if sheet["number"]:
        words.append(f" Sale {sheet['number']}" + (f", till {sheet['till_number']}." if sheet["till_number"] else "."))
    return "".join(words)


def inner_width(paper: Paper) -> float:
    """Width between the margins, points."""
    return float(PAPERS[paper][0] - 2 * SIDE_MM * mm)


def table(rows: list[list[Any]], widths_mm: list[float], paper: Paper, figures: tuple[int, ...] = ()) -> Table:
    """A table over the sheet's whole width, its columns in proportion; `figures` are set in the measuring face."""
    share = inner_width(paper) / (sum(widths_mm) * mm)
    made = Table(rows, colWidths=[w * mm * share for w in widths_mm], repeatRows=1)
    made.setStyle(
        TableStyle(
            [
                ("FONT", (0, 0), (-1, 0), "Sans-Bold", 8.5),
                ("FONT", (0, 1), (-1, -1), "Sans", 8.5),
                *[("FONT", (c, 1), (c, -1), "Mono", 8.5) for c in figures],
                ("TEXTCOLOR", (0, 0), (-1, -1), GRAPHITE),
                ("LINEBELOW", (0, 0), (-1, -1), 0.3, FAINT),
                ("VALIGN", (0, 0), (-1, -1), "TOP"),
                ("TOPPADDING", (0, 0), (-1, -1), 2),
                ("BOTTOMPADDING", (0, 0), (-1, -1), 2),
            ]
        )
    )
    return made


def document(story: list[Flowable], title: str, author: str, paper: Paper) -> bytes:
    """The pages of a sheet as PDF."""
    out = BytesIO()
    SimpleDocTemplate(
        out, pagesize=PAPERS[paper], leftMargin=SIDE_MM * mm, rightMargin=SIDE_MM * mm, topMargin=16 * mm,
        bottomMargin=14 * mm, title=title, author=author,
    ).build(story)  # fmt: skip
    return out.getvalue()


def fit_sheet_pdf(sheet: dict[str, Any], paper: Paper = "a4") -> bytes:
    """The sheet as a PDF."""
    fonts()
    body, head, title = style(9.5), style(11, bold=True, before=8), style(18, bold=True)
    plan = BreakInOut.model_validate(sheet["break_in"])
    size = sheet["size"]
    near = size["nearest"]
    also = " · ".join(f"{of.card} {near[s]:g}" for s, of in SIZE_SYSTEMS.items() if of.card and s in near and s != KEPT)
    words = SPORTS[sheet["brief"]["sport"]]
    what = next(d.text for d in words.disciplines if d.value == sheet["brief"]["discipline"])
    story: list[Flowable] = [
        Paragraph(safe(f"Fit sheet: {sheet['athlete']}"), title),
        Paragraph(
            safe(f"{sheet['shop']} · fitted by {sheet['fitted_by']} · {sheet['settled_on']} · {words.name}: {what}"),
            body,
        ),
        Paragraph("The pair", head),
        Paragraph(
            f"<b>{safe(sheet['pair'])}</b>, {safe(size['box'])} ({safe(also)}), {safe(size['width'])} width. "
            + safe(sheet["fit"]["verdict"]),
            body,
        ),
        Paragraph(safe(f"Wanted: {sheet['wanted'][:1].lower()}{sheet['wanted'][1:]}"), body),
        Paragraph(safe(_price_line(sheet)), body),
        Paragraph("Room by zone, new (hollow) and settled (full); the box is what is wanted", head),
        GapBars(sheet["fit"]["zones"], inner_width(paper)),
        Paragraph("What it gives up", head),
        *([Paragraph(safe(sheet["in_a_word"]), body)] if sheet.get("in_a_word") else []),
        *[Paragraph("– " + safe(t), body) for t in [*sheet["gives_up"], *([sheet["note"]] if sheet["note"] else [])]],
        Paragraph("Breaking in", head),
        Paragraph(safe(plan.verdict), body),
        *([Paragraph(safe(plan.old_pair), body)] if plan.old_pair else []),
        *[Paragraph("– " + safe(t), body) for t in sheet.get("by_zone", [])],
        Spacer(1, 2 * mm),
    ]
    rows = [["Day", "Minutes", "How", "Hours so far"]]
    rows += [[f"{w.on:%a %d %b %Y}", str(w.minutes), w.how, f"{w.hours_so_far:.1f}"] for w in plan.wears]
    wears = table(rows, [36, 20, 92, 26], paper, (1, 3))
    story += [wears, *[Paragraph("– " + safe(r), body) for r in plan.rules]]
    cautions = sheet["spec"]["cautions"]
    if cautions:
        story.append(Paragraph("Cautions", head))
        story += [Paragraph(f"– {safe(c['text'])} ({MARKS[c['mark']]})", body) for c in cautions]
    if sheet["follow_up_on"]:
        story += [Paragraph("See you again", head), Paragraph(safe(f"On {sheet['follow_up_on']}, in the pair."), body)]
    story.append(
        Paragraph(safe(f"Rules {sheet['rules_version']}, house {sheet['house_version']}."), style(7.5, before=8))
    )
    return document(story, "Fit sheet", sheet["shop"], paper)
