"""The end of a day, a month or a year, printed. Fetched when first asked for."""

from __future__ import annotations

from datetime import tzinfo
from typing import Any

from reportlab.platypus import Flowable, Paragraph

from ..core.money import Money
from ..core.takings.journal import KIND_WORDS
from .printed import Paper, document, fonts, safe, style, table
from .schemas import JournalLine
from .schemas_takings import TakingsOut


def rate_words(rate_pct: float | None) -> str:
    """A rate of tax in words."""
    return "without tax" if rate_pct is None else f"{rate_pct:g} %"


def takings_pdf(of: TakingsOut, lines: list[JournalLine], shop: str, zone: tzinfo, paper: Paper) -> bytes:
    """Takings as a PDF: sums by rate, person and kind, then the lines. The hour is the shop's."""
    fonts()
    body, head, title = style(9.5), style(11, bold=True, before=8), style(18, bold=True)
    small = style(8)
    days = f"{of.first:%-d %B %Y}" if of.first == of.last else f"{of.first:%-d %B %Y} to {of.last:%-d %B %Y}"
    state = (
        f"closed by {of.closed_by}, {of.closed_at.astimezone(zone):%-d %B %Y %H:%M}" if of.closed_at else "not closed"
    )
    story: list[Flowable] = [
        Paragraph(safe(f"Takings: {days}"), title),
        Paragraph(safe(f"{shop} · {state if of.first == of.last else f'tax by {of.rounding}'}"), body),
    ]
    if not of.sums:
        story.append(Paragraph("Nothing was taken.", body))
    for s in of.sums:

        def money(minor: int, currency: str = s.currency) -> str:
            return Money(minor, currency).amount

        story.append(Paragraph(safe(f"In {s.currency}: {money(s.total_minor)}"), head))
        rows: list[list[Any]] = [["Tax", "Net", "Tax", "Total"]]
        rows += [[rate_words(r.rate_pct), *map(money, (r.net_minor, r.tax_minor, r.total_minor))] for r in s.rates]
        rows.append(["Sold", money(s.net_minor), money(s.tax_minor), money(s.sold_minor)])
        if s.deposits_minor:
            rows.append(["Deposits", "", "", money(s.deposits_minor)])
        story.append(table(rows, [60, 38, 38, 38], paper, (1, 2, 3)))
        text = f"{s.lines} lines, {s.out} pairs out, {s.back} back, {money(s.discount_minor)} taken off."
        story.append(Paragraph(safe(text), body))
        rows = [["Person", "Lines", "Out", "Back", "Total"]]
        rows += [[Paragraph(safe(p.by), small), p.lines, p.out, p.back, money(p.total_minor)] for p in s.people]
        story.append(table(rows, [74, 20, 20, 20, 40], paper, (1, 2, 3, 4)))
        rows = [["Kind", "Lines", "Total"]]
        rows += [[KIND_WORDS[k.kind], k.lines, money(k.total_minor)] for k in s.kinds]
        story.append(table(rows, [94, 40, 40], paper, (1, 2)))
    if lines:
        story.append(Paragraph("Lines", head))
        rows = [["Number", "What", "By", "Tax", "Total"]]
        rows += [
            [x.number, Paragraph(safe(_says(x)), small), Paragraph(safe(x.by), small),
             Money(x.tax_minor, x.currency).amount, Money(x.total_minor, x.currency).amount]
            for x in lines
        ]  # fmt: skip
        story.append(table(rows, [24, 80, 26, 22, 22], paper, (0, 3, 4)))
    return document(story, "Takings", shop, paper)


def _says(line: JournalLine) -> str:
    parts = [line.says, line.what, line.size, line.colour, f"upon {line.upon}" if line.upon else "", line.why,
             line.became_says, f"till {line.till_number}" if line.till_number else ""]  # fmt: skip
    return " · ".join(p for p in parts if p)
