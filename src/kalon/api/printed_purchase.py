"""An order to a supplier, printed. Fetched when first asked for."""

from __future__ import annotations

from typing import Any

from reportlab.platypus import Flowable, Paragraph

from ..core.sizes import label_words
from .printed import Paper, document, fonts, plain, safe, style, table
from .schemas_purchases import PurchaseOut


def purchase_pdf(order: PurchaseOut, shop: str, paper: Paper) -> bytes:
    """An order as a PDF; of one that was sent, what is missing of it."""
    fonts()
    body, small = style(9.5), style(8.5)
    chasing = order.state == "sent" and any(x.received for x in order.lines)
    day = f"{order.expected_on:%-d %B %Y}" if order.expected_on else "as soon as can be"
    story: list[Flowable] = [
        Paragraph(safe(f"Order {order.number} to {order.supplier}"), style(18, bold=True)),
        Paragraph(safe(f"{shop} · {order.made_at:%-d %B %Y} · {order.by} · wanted for {day}"), body),
    ]
    if order.note:
        story.append(Paragraph(safe(order.note), body))
    heads = ["Model", "Size", "Width", "Colour", "Pairs", *(["Missing"] if chasing else [])]
    rows: list[list[Any]] = [heads]
    for x in order.lines:
        row = [Paragraph(safe(f"{x.maker} {x.name}"), small), plain(label_words(x.system, x.label)), x.width,
               Paragraph(safe(x.colour), small), x.pairs]  # fmt: skip
        rows.append([*row, *([x.missing] if chasing else [])])
    widths: list[float] = [72, 28, 24, 28, 18, *([18] if chasing else [])]
    story.append(table(rows, widths, paper, (1, 4, 5)[: 3 if chasing else 2]))
    total = sum(x.pairs for x in order.lines)
    story.append(Paragraph(safe(f"{total} pairs" + (f", {order.missing} missing." if chasing else ".")), body))
    return document(story, f"Order {order.number}", shop, paper)
