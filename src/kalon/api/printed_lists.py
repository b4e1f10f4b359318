"""The plan of pairs and the coach's sheet, printed. Fetched when first asked for."""

from __future__ import annotations

from typing import Any

from reportlab.lib.units import mm
from reportlab.platypus import Flowable, Paragraph, Spacer

from ..core.rules.changes import value_word
from .printed import FAINT, GRAPHITE, MADDER, Paper, document, fonts, inner_width, safe, style, table
from .schemas_pairs import PlanPage, SquadOut


class BudgetCurve(Flowable):
    """What a budget brings: share of the time in a pair that suits, against money; the plan's own budget marked."""

    def __init__(self, points: list[tuple[float, float]], budget: float, currency: str, width: float) -> None:
        super().__init__()
        self.points = points
        self.budget = budget
        self.currency = currency
        self.width = width
        self.height = 46 * mm

    def draw(self) -> None:
        """Draw onto the page."""
        c = self.canv
        left, right, low, high = 14 * mm, self.width - 6 * mm, 8 * mm, self.height - 4 * mm
        top = max(p[0] for p in self.points) or 1.0

        def at(budget: float, value: float) -> tuple[float, float]:
            return float(left + (right - left) * budget / top), float(low + (high - low) * value)

        c.setStrokeColor(FAINT)
        c.setFillColor(FAINT)
        c.setFont("Mono", 6.5)
        for tick in (0, 0.25, 0.5, 0.75, 1):
            y = at(0, tick)[1]
            c.setLineWidth(0.3)
            c.line(left, y, right, y)
            c.drawRightString(left - 2 * mm, y - 2, f"{tick:.0%}")
        for i in range(5):
            money = top * i / 4
            c.drawCentredString(at(money, 0)[0], 3 * mm, f"{money:.0f}")
        c.drawRightString(right, 0.2 * mm, f"budget, {self.currency}")
        c.setStrokeColor(GRAPHITE)
        c.setLineWidth(1)
        for (b0, v0), (b1, v1) in zip(self.points, self.points[1:], strict=False):
            c.line(*at(b0, v0), *at(b1, v0))
            c.line(*at(b1, v0), *at(b1, v1))
        c.setStrokeColor(MADDER)
        x = at(min(self.budget, top), 0)[0]
        c.line(x, low, x, high)


def plan_pdf(page: PlanPage, shop: str, paper: Paper) -> bytes:
    """A plan of pairs as a PDF."""
    fonts()
    body, head, title = style(9.5), style(11, bold=True, before=8), style(18, bold=True)
    small = style(8.5)
    out = page.out
    money = f"{page.body.budget:.0f} {page.currency}"
    story: list[Flowable] = [
        Paragraph(safe(f"Plan of pairs: {page.name}"), title),
        Paragraph(safe(f"{shop} · budget {money}, of which {out.spent:.0f} is spent"), body),
        Paragraph(
            safe(f"In a pair that suits {out.value_now:.0%} of the time now, {out.value:.0%} with this plan."), body
        ),
        Paragraph("To buy, in this order", head),
    ]
    if out.buy:
        rows: list[list[Any]] = [["", "Pair", "For", "Price"]]
        rows += [
            [str(i), Paragraph(safe(b.name), small), Paragraph(safe(b.why), small), f"{b.price:.2f}"]
            for i, b in enumerate(out.buy, 1)
        ]
        story.append(table(rows, [8, 60, 84, 22], paper, (0, 3)))
    else:
        story.append(Paragraph("Nothing: what they have serves, or nothing on the shelf does better.", body))
    story.append(Paragraph("What serves what", head))
    covers: list[list[Any]] = [["Use", "Time", "Pair"]]
    covers += [
        [Paragraph(safe(c.name), small), f"{c.share:.0%}",
         Paragraph(safe(f"{c.pair_name}{' (to buy)' if c.kind == 'buy' else ''}" if c.pair else "nothing yet"), small)]
        for c in out.covers
    ]  # fmt: skip
    story.append(table(covers, [80, 16, 78], paper, (1,)))
    if out.curve:
        story += [
            Paragraph("What more or less money brings", head),
            BudgetCurve([(p.budget, p.value) for p in out.curve], page.body.budget, page.currency, inner_width(paper)),
        ]
    if out.next_step:
        text = f"The next step: {out.next_step.budget:.0f} {page.currency} would bring {out.next_step.value:.0%}."
        story.append(Paragraph(safe(text), body))
    if out.says:
        story.append(Paragraph("What the trade says", head))
        story += [Paragraph("– " + safe(s), body) for s in out.says]
    if page.owned:
        story.append(Paragraph("Pairs they have", head))
        rows = [["Pair", "Size", "Whose", "Hours left"]]
        rows += [[Paragraph(safe(p.name), small), safe(p.size), safe(p.athlete), f"{p.left_h:.0f}"] for p in page.owned]
        story.append(table(rows, [74, 24, 52, 24], paper, (3,)))
    return document(story, "Plan of pairs", shop, paper)


def coach_pdf(squad: SquadOut, shop: str, paper: Paper) -> bytes:
    """The coach's sheet: who wears what, and the days that matter; nothing of anybody's body."""
    fonts()
    small = style(8.5)
    story: list[Flowable] = [
        Paragraph(safe(f"Squad: {squad.name}"), style(18, bold=True)),
        Paragraph(safe(f"{shop} · {squad.today:%-d %B %Y} · {len(squad.members)} athletes"), style(9.5)),
        Spacer(1, 4 * mm),
    ]
    rows: list[list[Any]] = [["Name", "Pair", "Size", "Plate or sole", "Broken in", "Event", "Seen again"]]
    for m in squad.members:
        days = [f"{d:%-d %b}" if d else "" for d in (m.ready_on, m.event_on, m.due_on)]
        rows.append(
            [Paragraph(safe(m.name), small), Paragraph(safe(m.pair or "none yet"), small),
             Paragraph(safe(m.size or ""), small), Paragraph(safe(value_word(m.plate) if m.plate else ""), small),
             *days]
        )  # fmt: skip
    story.append(table(rows, [38, 42, 18, 28, 17, 15, 18], paper, (2,)))
    story += [
        Spacer(1, 3 * mm),
        Paragraph("Never a full match or session first: until the day it is broken in, the old pair plays.", small),
    ]
    return document(story, "Squad", shop, paper)
