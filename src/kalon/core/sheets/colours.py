"""Colours of a list beside those known here: one colour is one word, whatever language or letters a list writes it in.

A colour is never changed on a guess: written alike but for capitals and signs it is the one known, meant alike it is
asked about once, else it stays as the list has it. Words in six languages and short forms: common practice, from
memory."""

from __future__ import annotations

from collections.abc import Iterable

from .asked import LEFT_OUT, Asked
from .plain import plain, short
from .words import Answers, key_of

MEANT: dict[str, tuple[str, ...]] = {
    "black": ("blk", "bk", "schwarz", "noir", "nero", "negro", "zwart"),
    "white": ("wht", "wh", "weiss", "weis", "blanc", "bianco", "blanco", "wit"),
    "red": ("rot", "rouge", "rosso", "rojo", "rood"),
    "blue": ("blu", "blau", "bleu", "azzurro", "azul", "blauw"),
    "navy": ("nvy", "nav", "marine", "marineblau", "dunkelblau"),
    "green": ("grn", "grun", "vert", "verde", "groen"),
    "yellow": ("ylw", "yel", "gelb", "jaune", "giallo", "amarillo", "geel"),
    "orange": ("org", "orng", "arancione", "naranja", "oranje"),
    "grey": ("gry", "gray", "gra", "grau", "gris", "grigio", "grijs"),
    "brown": ("brn", "bwn", "braun", "brun", "marrone", "marron", "bruin"),
    "pink": ("pnk", "rosa", "rose"),
    "purple": ("prp", "lila", "violet", "viola", "morado", "paars"),
    "silver": ("slv", "silber", "argent", "argento", "plata", "zilver"),
    "gold": ("gld", "oro"),
    "beige": ("bge",), "teal": (), "olive": ("oliv",), "lime": (), "slate": (), "rust": (), "moss": (), "chalk": (),
    "sand": (), "stone": (), "coal": (), "bone": (),
}  # fmt: skip
"""What words and short forms mean one colour."""
ONE = {word: colour for colour, words in MEANT.items() for word in (colour, *words)}


def meaning(text: str) -> str:
    """A colour's words in their order, each as the one that means it: "SCHWARZ/Rot", "blk-red" and "black red" are
    one. The letters of a word nobody knows stay."""
    return " ".join(ONE.get(word, word) for word in key_of(text).split())


class Colours:
    """The colours known here, those most used first, and the list's own as they come."""

    def __init__(self, here: Iterable[str] = ()) -> None:
        self._written: dict[str, str] = {}
        self._meant: dict[str, str] = {}
        self._known: set[str] = set()
        for colour in here:
            self._known.add(colour)
            self._written.setdefault(key_of(colour), colour)
            self._meant.setdefault(meaning(colour), colour)

    def read(self, text: str, said: Answers) -> str:
        """A colour as it is kept. Raises `Asked` where it may be one that is known here by another word."""
        written = plain(text)[:60]
        key = key_of(written)
        if answer := said.get(key):
            return written if answer == LEFT_OUT else answer
        if written in self._known:
            return written
        if key in self._written:
            return self._written[key]
        if (known := self._meant.get(meaning(written))) and any(word in ONE for word in key.split()):
            raise Asked("colour", key, f"“{short(written)}”: is that the “{short(known)}” known here", known)
        return self._written.setdefault(key, written)
