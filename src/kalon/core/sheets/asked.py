"""A word of a list that nobody here knows: asked about once, however many lines hang on it."""

from __future__ import annotations

from typing import Literal

AskedField = Literal["sport", "width", "upper", "pairs", "child", "meant_for", "colour"]
"""What is asked about: which sport a word means, which width or upper, how many pairs, whose children's letters, what
a shoe is meant for, whether a colour is one that is known by another word."""
LEFT_OUT = "-"
"""The answer that leaves a line out (a sport), or the value alone (a width, an upper, a number of pairs)."""


class Asked(ValueError):
    """A word that has to be asked about; `guess` is the likeliest answer, "" where nobody knows."""

    def __init__(self, field: AskedField, word: str, said: str, guess: str = "") -> None:
        super().__init__(said)
        self.field: AskedField = field
        self.word = word
        self.guess = guess


class LeftOut(ValueError):
    """A line that was said not to be wanted, or is no shoe for any sport here."""
