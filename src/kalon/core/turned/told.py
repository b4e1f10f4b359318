"""What they said, as it was understood: the brief's questions that were answered, in its own words."""

from __future__ import annotations

import re
from typing import Any

from ..contract import Contract
from ..rules.brief import BriefDraft
from ..rules.words import SPORTS, Ask, Option


class TheySaid(Contract):
    """A question in a word or two, and the answer."""

    what: str
    text: str


NOTED = re.compile(r"\s*\((?:noted|said|told|heard|ticked)[^)]*\)")
"""Where a fitter reads how something is known."""


def told(caution: str) -> str:
    """A caution as it was told to them, without how the fitter knows."""
    return NOTED.sub("", caution)


def _worded(options: tuple[Option, ...], value: Any) -> str:
    return next((o.text for o in options if o.value == value), str(value).replace("_", " "))


def _answer(ask: Ask, value: Any) -> str:
    if value is None or value == "":
        return ""
    if ask.kind == "choice":
        return _worded(ask.options, value)
    if ask.kind == "yes":
        return "yes" if value else "no"
    if ask.kind == "many":
        return ", ".join(_worded(ask.options, v) for v in value) or "nothing"
    if ask.kind == "date":
        return f"{value:%-d %B %Y}"
    said = f"{value:g}" if isinstance(value, float) else str(value)
    return f"{said} {ask.unit}".strip()


def they_said(brief: BriefDraft) -> list[TheySaid]:
    """What was answered, in the order of asking; what nobody asked isn't there."""
    if brief.sport is None:
        return []
    words = SPORTS[brief.sport]
    found = [TheySaid(what="Sport", text=words.name)]
    if brief.discipline:
        found.append(TheySaid(what="Mostly", text=_worded(words.disciplines, brief.discipline)))
    also = ", ".join(f"{_worded(words.disciplines, o.discipline)} {o.share_pct:g} %" for o in brief.also)
    if also:
        found.append(TheySaid(what="Also", text=also))
    for ask in words.asks:
        asked = not ask.disciplines or brief.discipline in ask.disciplines
        if asked and ask.field in brief.model_fields_set and (text := _answer(ask, getattr(brief, ask.field))):
            found.append(TheySaid(what=ask.short or ask.text, text=text))
    if brief.wears_now:
        found.append(TheySaid(what="Wear now", text=brief.wears_now))
    return found
