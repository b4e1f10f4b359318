"""A colour that is known by another word is asked about, never guessed; one that is written alike is the same."""

from __future__ import annotations

import pytest

from kalon.core.sheets.asked import Asked
from kalon.core.sheets.colours import Colours, meaning
from kalon.core.sheets.columns import Column
from kalon.core.sheets.lines import Settings, read_lines

HERE = ("Black", "slate/rust", "Dunkelrot", "blue")


@pytest.mark.parametrize(("written", "kept"), [
    ("Black", "Black"), ("BLACK", "Black"), (" black ", "Black"), ("SLATE / RUST", "slate/rust"),
    ("slate-rust", "slate/rust"), ("dunkelrot", "Dunkelrot"),
    ("Fjord", "Fjord"), ("black/blue", "black/blue"), ("rust/slate", "rust/slate"), ("", ""),
])  # fmt: skip
def test_what_is_written_alike_is_one_colour_and_what_is_new_stays_as_it_is(written: str, kept: str) -> None:
    assert Colours(HERE).read(written, {}) == kept


def test_two_that_are_known_apart_stay_apart() -> None:
    both = Colours(["Black", "BLACK"])
    assert [both.read(c, {}) for c in ("Black", "BLACK", "black")] == ["Black", "BLACK", "Black"]


@pytest.mark.parametrize(("written", "known"), [
    ("BLK", "Black"), ("schwarz", "Black"), ("noir", "Black"), ("Negro", "Black"), ("zwart", "Black"),
    ("Azul", "blue"), ("bleu", "blue"),
])  # fmt: skip
def test_what_may_be_known_by_another_word_is_asked_about_with_that_word(written: str, known: str) -> None:
    with pytest.raises(Asked, match=f"is that the “{known}” known here") as asked:
        Colours(HERE).read(written, {})
    assert (asked.value.field, asked.value.guess) == ("colour", known)
    assert Colours(HERE).read(written, {asked.value.word: known}) == known
    assert Colours(HERE).read(written, {asked.value.word: "-"}) == written


def test_a_list_that_writes_one_colour_in_two_ways_means_one() -> None:
    columns = [Column("Model", "model"), Column("EU", "size", "eu"), Column("Colour", "colour")]
    rows = [
        (2, ["Lapwing", "42", "Sea Green"]),
        (3, ["Lapwing", "43", "SEA GREEN"]),
        (4, ["Lapwing", "44", "sea-green"]),
    ]
    read = list(read_lines(rows, columns, Settings(maker="Torv", sport="football")))
    assert {line.body["colour"] for line in read} == {"Sea Green"}


def test_in_an_empty_shop_nothing_is_asked_of_colours() -> None:
    new = Colours()
    assert [new.read(c, {}) for c in ("BLK", "Schwarz", "noir")] == ["BLK", "Schwarz", "noir"]


def test_the_line_comes_in_meanwhile_and_is_asked_of_a_line_that_waits_too() -> None:
    columns = [Column("Model", "model"), Column("EU", "size", "eu"), Column("Colour", "colour"), Column("S", "sport")]
    rows = [(2, ["Lapwing", "42", "blk", "football"]), (3, ["Scarp", "40", "noir", "something"])]
    fine, waits = read_lines(rows, columns, Settings(maker="Torv"), colours=HERE)
    assert (fine.verdict, fine.body["colour"], [a.word for a in fine.asks]) == ("odd", "blk", ["blk"])
    assert (waits.verdict, [(a.field, a.word) for a in waits.asks]) == (
        "refused", [("sport", "something"), ("colour", "noir")],
    )  # fmt: skip


@pytest.mark.parametrize("same", [("SCHWARZ/Rot", "blk-red", "black red"), ("weiß", "white", "WHT")])
def test_words_that_mean_one_colour(same: tuple[str, ...]) -> None:
    assert len({meaning(text) for text in same}) == 1
