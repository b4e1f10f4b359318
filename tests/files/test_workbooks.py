"""A workbook of several sheets read as one list. What each holds was written down by hand beside it."""

from __future__ import annotations

import io
from pathlib import Path
from typing import Any

import pytest
from openpyxl import Workbook

from kalon.core.errors import BadInput
from kalon.core.sheets.place import Part, Places
from kalon.files import sheets
from kalon.files.lists import lines_at, places_of, read_list
from tests.files.test_lists_as_sent import NOBODY, body_of, listed

ADDRESS = [["Torvald & daughters"], ["Spring order"], ["Please reply by the 4th"]]
BOOTS = [
    ["Torvald & daughters, spring"], [],
    ["Brand", "Model", "EU", "Colour", "RRP", "Qty", "Sole", "Season"],
    ["Torv", "Fieldfare", 42, "red", 90, 2, "TPU", "spring"],
    ["Torv", "Fieldfare", "42 2/3", "red", 90, 3, "TPU", "spring"],
    ["Torv", "Lapwing", 44, "black", 120, 1, "TPU", "spring"],
]  # fmt: skip
ROCK = [
    ["Label name", "Style", "Col", "UK", "", "", "", ""],
    ["", "", "", 6, 6.5, 7, 7.5, 8],
    ["Torv", "Scarp", "slate", 1, "", 2, "", ""],
    ["Torv", "Cornice", "moss", "", 4, "", "", ">5"],
]
TOTALS = [["All", 13]]


def book(**pages: list[list[Any]]) -> bytes:
    """A workbook of these sheets, written as an office program does."""
    made = Workbook()
    made.remove(made.worksheets[0])
    for name, rows in pages.items():
        page = made.create_sheet(name)
        for row in rows:
            page.append(row)
    out = io.BytesIO()
    made.save(out)
    return out.getvalue()


def sizes(path: Path) -> set[tuple[Any, ...]]:
    return {(b["model"], b["sport"], b["system"], b["label"], b["colour"], b.get("pairs"), b.get("price_minor"))
            for b in body_of(path)}  # fmt: skip


WHOLE = book(**{"Read me": ADDRESS, "Fussball": BOOTS, "Rock climbing": ROCK, "Totals": TOTALS})


def test_every_sheet_that_holds_a_list_is_read_as_one(tmp_path: Path) -> None:
    words = {"pairs": {">5": "6"}}
    whole = listed(tmp_path / "a", WHOLE, sheet="*", pairs="received", words=words)
    assert sizes(tmp_path / "a") == {
        ("Fieldfare", "football", "eu", 42, "red", 2, 9000),
        ("Fieldfare", "football", "eu", 42.667, "red", 3, 9000),
        ("Lapwing", "football", "eu", 44, "black", 1, 12000),
        ("Scarp", "climbing", "uk", 6, "slate", 1, None), ("Scarp", "climbing", "uk", 7, "slate", 2, None),
        ("Cornice", "climbing", "uk", 6.5, "moss", 4, None), ("Cornice", "climbing", "uk", 8, "moss", 6, None),
    }  # fmt: skip
    assert whole.sheets == ["Read me", "Fussball", "Rock climbing", "Totals"]
    assert "2 sheets are read as one list: Fussball, Rock climbing." in whole.notes
    assert "No list was found on Read me, Totals." in whole.notes
    # A word nobody knows of how they are made holds no line up.
    assert sum(v == "odd" and "“TPU” isn't a sole" in s for _, v, s, _ in lines_at(tmp_path / "a")) == 3
    assert {b["extra"]["Season"] for b in body_of(tmp_path / "a") if "extra" in b} == {"spring"}
    # Kept with the sheet, and told from there: the row in its own sheet, and of a grid the column.
    places = places_of(whole.as_columns())
    assert [places.told(row) for row, *_ in lines_at(tmp_path / "a")] == [
        "row 4 of “Fussball”", "row 5 of “Fussball”", "row 6 of “Fussball”",
        "row 3, D of “Rock climbing”", "row 3, F of “Rock climbing”",
        "row 4, E of “Rock climbing”", "row 4, H of “Rock climbing”",
    ]  # fmt: skip


def test_where_nobody_says_so_the_first_list_is_read_and_one_can_be_chosen(tmp_path: Path) -> None:
    said = {"sport": "climbing", "pairs": "received", "words": {"pairs": {">5": "6"}}}
    first = listed(tmp_path / "a", book(Boots=BOOTS, Rock=ROCK), **said)
    assert {b["model"] for b in body_of(tmp_path / "a")} == {"Fieldfare", "Lapwing"}
    assert "The workbook has 2 sheets; “Boots” is read." in first.notes
    listed(tmp_path / "b", book(Boots=BOOTS, Rock=ROCK), sheet="Rock", **said)
    assert {b["model"] for b in body_of(tmp_path / "b")} == {"Scarp", "Cornice"}


def test_a_name_that_is_no_sport_makes_none_of_the_others(tmp_path: Path) -> None:
    whole = listed(tmp_path / "a", book(Football=BOOTS, Spring=ROCK), sheet="*", sport="court")
    assert whole.columns[0].heading == "Sheet"
    assert {b["sport"] for b in body_of(tmp_path / "a")} == {"court"}


def test_each_sheet_counts_in_its_own_system(tmp_path: Path) -> None:
    hall = [["Model", "UK"], ["Lapwing", 8]]
    women = [["Model", "US women"], ["Lapwing", 8.5]]
    listed(tmp_path / "a", book(Hall=hall, Women=women), sheet="*", maker="Torv", sport="court")
    assert [(b["system"], b["label"]) for b in body_of(tmp_path / "a")] == [("uk", 8), ("us_women", 8.5)]


def test_a_heading_that_stands_twice_keeps_what_is_written_under_either(tmp_path: Path) -> None:
    boots = [["Model", "EU", "Note", "Note"], ["Lapwing", 44, "studs apart", ""], ["Wren", 42, "", "last pair"]]
    listed(tmp_path / "a", book(Boots=boots, More=[["Model", "EU"], ["Rail", 41]]), sheet="*", maker="T", sport="court")
    assert [b["extra"].get("Note") for b in body_of(tmp_path / "a")] == ["studs apart", "last pair", None]


def test_what_two_sheets_say_of_one_size_is_told_with_both_places(tmp_path: Path) -> None:
    twice = book(Boots=BOOTS, More=[["Brand", "Model", "Size EU", "Colour"], ["Torv", "Fieldfare", 42, "red"]])
    read_list_at = tmp_path / "a"
    read_list_at.write_bytes(twice)
    read_list(read_list_at, NOBODY, {"sheet": "*", "sport": "football", "pairs": "received"})
    odd = [said for _, verdict, said, _ in lines_at(read_list_at) if verdict == "odd"]
    assert odd[-1:] == ["The same size stands in row 4 of “Boots” already; it says nothing more."]


def test_a_list_of_one_line_is_a_list(tmp_path: Path) -> None:
    listed(tmp_path / "a", book(Note=[["Spring"]], Boots=[["Model", "EU"], ["Lapwing", 44]]), maker="Torv", sport="ice")
    assert [b["eu_label"] for b in body_of(tmp_path / "a")] == [44]


def test_a_workbook_of_one_list_is_read_as_ever(tmp_path: Path) -> None:
    one = listed(tmp_path / "a", book(Boots=BOOTS), sheet="*", sport="football")
    plain = listed(tmp_path / "b", book(Boots=BOOTS), sport="football")
    assert [c.heading for c in one.columns] == [c.heading for c in plain.columns]
    assert list(lines_at(tmp_path / "a")) == list(lines_at(tmp_path / "b"))


@pytest.mark.parametrize(("places", "number", "said"), [
    (Places(), 7, "row 7"),
    (Places(columns=True), 7028, "row 7, AB"),
    (Places(columns=True), 7000, "row 7"),
    (Places(parts=[Part("A", 0), Part("B", 12)]), 12, "row 12 of “A”"),
    (Places(parts=[Part("A", 0), Part("B", 12)]), 13, "row 1 of “B”"),
    (Places(columns=True, parts=[Part("A", 0), Part("B", 12)]), 13_001, "row 1, A of “B”"),
])  # fmt: skip
def test_where_a_line_stands(places: Places, number: int, said: str) -> None:
    assert places.told(number) == said


def test_more_than_a_workbook_holds_is_said_and_no_row_left_out(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(sheets, "WORKBOOK_ROWS", 4)  # the headings and three
    rows = [["Tern", 42], ["Gannet", 43], ["Skiff", 44], ["Marl", 45]]
    whole = b"".join(sheets.write("xlsx", ["model", "size"], rows[:3]))
    assert [[c for c in cells if c] for _, cells in sheets.read_table(whole).rows] == [
        ["Tern", "42"],
        ["Gannet", "43"],
        ["Skiff", "44"],
    ]
    with pytest.raises(BadInput, match="as CSV or JSON"):
        b"".join(sheets.write("xlsx", ["model", "size"], rows))
