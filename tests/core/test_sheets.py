"""Lists as suppliers send them: cells, columns, lines; and files that are spoilt, each with its sentence."""

from __future__ import annotations

import io
import json
import zipfile
from collections.abc import Iterator
from typing import Any

import pytest
from hypothesis import example, given
from hypothesis import strategies as st
from openpyxl import Workbook

from kalon.core.errors import BadInput
from kalon.core.money import Money
from kalon.core.sheets import cells, labels, words
from kalon.core.sheets.asked import Asked
from kalon.core.sheets.columns import FIELD_NAMES, FIELDS, by_heading, guess, heading_row
from kalon.core.sheets.lines import Read, Settings, read_lines
from kalon.core.sizes import label_text, last_of
from kalon.core.systems import SIZE_SYSTEMS
from kalon.files.sheets import RISKY, plain_cell, read_table, safe_cell, write

HEADINGS = ["Brand", "Model", "Sport", "EU size", "Qty", "RRP", "EAN"]
ROW = ["Brindle", "Keel", "football", "42", "3", "89,90 €", "4006381333931"]


def lines(*rows: list[str], headings: list[str] | None = None, **settings: Any) -> list[Read]:
    columns = guess(headings or HEADINGS, list(rows))
    return list(read_lines(enumerate(rows, 2), columns, Settings(**settings)))


def one(row: list[str] | None = None, **settings: Any) -> Read:
    return lines(row or ROW, **settings)[0]


def changed(**cell: str) -> list[str]:
    return [cell.get(h.split()[0].lower(), c) for h, c in zip(HEADINGS, ROW, strict=True)]


@pytest.mark.parametrize(
    ("text", "system", "label", "eu"),
    [
        ("42", None, 42, 42), ("42,5", None, 42.5, 42.5), ("42 2/3", None, 42.667, 42.5), ("42⅔", None, 42.667, 42.5),
        ("8½", "uk", 8.5, 42.5), ("UK 8.5", None, 8.5, 42.5), ("8.5 UK", None, 8.5, 42.5), ("US 9", None, 9, 42),
        ("US W 9", None, 9, 40), ("US M 9.5", None, 9.5, 42.5), ("13C", "uk", 13, 31.5), ("13 K", "us_men", 13, 30.5),
        ("265", None, 265, 42), ("26.5", "jp_cm", 26.5, 42), ("EU 36", None, 36, 36), ("eur 36.5", "uk", 36.5, 36.5),
        ("UK 8 (US 9)", None, 8, 42), ("UK 8 (US 9)", "us_men", 9, 42), ("US 9 [UK 8]", "eu", 9, 42),
        ("8 / 42 / 26.5", None, 42, 42), ("8 / 42 / 26.5", "uk", 8, 42), ("8/42/26,5", "eu", 42, 42),
        ("UK 8 / EU 42", None, 8, 42), ("EU 42 2/3", None, 42.667, 42.5), ("42.66", None, 42.667, 42.5),
        ("42,67", None, 42.667, 42.5), ("45 1/3", None, 45.333, 45.5), ("45.33", "eu", 45.333, 45.5),
        ("UK 8 1/2 (US 9 1/2)", None, 8.5, 42.5), ("42 (EU)", None, 42, 42), ("42=27", None, 42, 42),
        ("10.5K", "us_men", 10.5, 27.5), ("US 13C", None, 13, 30.5), ("3Y", None, 3, 34.5), ("5.5 Y", "eu", 5.5, 37.5),
        ("1Y", "us_men", 1, 31.5), ("13½C", "uk_child", 13.5, 32.5), ("39-40", None, 39.5, 39.5), ("'42", None, 42, 42),
        ("2026-05-10T00:00:00", "uk", 10.5, 45), ("10. Mai", "us_men", 10.5, 44), ("8-May", "uk", 8.5, 42.5),
        ("2026-05-08", "uk", 8.5, 42.5), ("9.mag", "uk", 9.5, 44), ("11 mai", "us_women", 11.5, 43),
    ],
)  # fmt: skip
def test_sizes_as_they_are_written(text: str, system: Any, label: float, eu: float) -> None:
    found = labels.size(text, system)
    assert (found.label, found.eu_label) == (label, eu)


@pytest.mark.parametrize(
    ("text", "system"), [("8.5", None), ("48,7x", None), ("", None), ("99", "eu"), ("8/0", "uk"),
                         ("-42", None), ("42-45", None), ("1e3", "eu"), ("UK 8 (US 13)", None),
                         ("2026-03-10", "uk"), ("10-Oct", "us_men"), ("UK 3Y", None), ("8", None), ("nan", None)],
)  # fmt: skip
def test_what_is_no_size_is_said_to_be_none(text: str, system: Any) -> None:
    with pytest.raises(ValueError, match="size"):
        labels.size(text, system)


@given(st.sampled_from(sorted(SIZE_SYSTEMS)), st.integers(0, 200))
def test_neighbouring_labels_never_share_an_eu_label(system: Any, step: int) -> None:
    """So a size is known by its EU label, whichever system its box uses."""
    of = SIZE_SYSTEMS[system]
    label = of.low + step * of.step
    if label + of.step > of.high:
        return
    names = {"eu": "EU", "uk": "UK", "us_men": "US", "us_women": "US W", "uk_child": "UK child", "us_child": "US child", "jp_cm": "JP",
             "mondopoint_mm": "Mondopoint"}  # fmt: skip
    first, second = (labels.size(f"{names[system]} {v:g}", None) for v in (label, label + of.step))
    assert first.eu_label < second.eu_label
    assert abs(first.eu_label * 20 / 3 - last_of(system, label)) <= 20 / 3 / 4 + 1e-6


@pytest.mark.parametrize(
    ("label", "text"), [(42, "42"), (42.5, "42.5"), (45.333, "45⅓"), (42.667, "42⅔"), (265, "265")]
)
def test_a_label_is_written_as_on_the_box(label: float, text: str) -> None:
    assert label_text(label) == text


@pytest.mark.parametrize("text", ["13C", "10.5 K", "12 jr.", "2 kids"])
def test_a_childs_letter_is_asked_about_and_never_guessed(text: str) -> None:
    with pytest.raises(Asked, match="UK or US") as asked:
        labels.size(text, None)
    assert asked.value.field == "child"


def test_what_a_spreadsheet_made_of_a_size_is_to_be_looked_at() -> None:
    assert "was a day" in labels.size("10. Mai", "uk").odd
    assert "two sizes in one" in labels.size("39-40", None).odd
    assert not labels.size("39", None).odd


def test_bar_codes_by_their_check_digit() -> None:
    """GS1's published example 629104150021-3, and 4006381333931; from memory."""
    assert cells.gtin("6291041500213") == "06291041500213"
    assert cells.gtin("4006381333931.0") == "04006381333931"
    assert cells.gtin("73513537") == "00000073513537"
    for wrong in ("4006381333932", "123", "4.00638E+12", "40063813339x1"):
        with pytest.raises(ValueError, match="bar code"):
            cells.gtin(wrong)


@given(st.text("0123456789", min_size=12, max_size=12), st.integers(0, 11), st.integers(1, 9))
def test_one_wrong_digit_is_always_seen(digits: str, place: int, by: int) -> None:
    whole = digits + str(cells.check_digit(digits.zfill(13)))
    assert cells.gtin(whole).endswith(whole)
    wrong = whole[:place] + str((int(whole[place]) + by) % 10) + whole[place + 1 :]
    with pytest.raises(ValueError, match="mistyped"):
        cells.gtin(wrong)


@pytest.mark.parametrize(
    ("text", "minor", "currency"),
    [("129,50", 12950, "EUR"), ("€ 1.299,00", 129900, "EUR"), ("129.50 GBP", 12950, "GBP"), ("1,299.00", 129900, "EUR"),
     ("£89", 8900, "GBP"), ("1 299,5", 129950, "EUR"), ("0", 0, "EUR"), ("1'299.00", 129900, "EUR")],
)  # fmt: skip
def test_prices_as_they_are_written(text: str, minor: int, currency: str) -> None:
    assert cells.money(text, "EUR") == Money(minor, currency)


@pytest.mark.parametrize("text", ["free", "-3", "12.345", "1e99", "12,5,5", "99999999999", "12 QQQ"])
def test_what_is_no_price_is_said_to_be_none(text: str) -> None:
    with pytest.raises(ValueError, match=r"price|currency|decimals"):
        cells.money(text, "EUR")


@pytest.mark.parametrize(
    ("text", "kept"), [("", "regular"), ("W", "wide"), ("2E", "2E"), ("ee", "2E"), ("D", "D"), ("Standard", "regular"),
                       ("AA", "2A"), ("wide", "wide"), ("classic", "classic")],
)  # fmt: skip
def test_widths_as_they_are_written(text: str, kept: str) -> None:
    assert words.width(text, "uk", {}) == kept


def test_columns_are_known_by_heading_and_by_what_is_in_them() -> None:
    assert [c.field for c in guess(HEADINGS, [ROW])] == ["maker", "model", "sport", "size", "pairs", "price", "gtin"]
    told = guess(["UK", "EU", "Marke", "Modell", "Größe"], [])
    assert [(c.field, c.system) for c in told] == [("keep", None), ("size", "eu"), ("maker", None), ("model", None),
                                                  ("keep", None)]  # fmt: skip
    blind = guess(["a", "b", "c"], [["4006381333931", "42", "x"], ["6291041500213", "43", "y"]])
    assert [c.field for c in blind] == ["gtin", "size", "keep"]
    for field in FIELDS:
        assert by_heading(field) == (field, None) or field == "size"
        assert by_heading(FIELD_NAMES[field])


def test_headings_may_stand_below_a_title() -> None:
    assert heading_row([["Price list 2026"], [], HEADINGS, ROW]) == 2
    assert heading_row([ROW, ROW]) is None


def test_a_line_is_read_whole() -> None:
    found = one(pairs="counted")
    assert found.verdict == "fine"
    body = found.body
    assert (body["maker"], body["model"], body["eu_label"], body["width"]) == ("Brindle", "Keel", 42, "regular")
    assert (body["price_minor"], body["pairs"], body["gtin"]) == (8990, 3, "04006381333931")
    assert body["facts"][0] == pytest.approx(280)
    assert body["facts"][4:] == [None] * 8
    assert body["known_from"] == "label"
    assert body["build"] == "plate"
    assert "pairs" not in one().body


@pytest.mark.parametrize(
    ("row", "said"),
    [
        (changed(model=""), "no model"), (changed(brand=""), "no maker"), (changed(sport="chess"), "which sport is that?"),
        (changed(sport=""), "no sport"), (changed(eu=""), "no size"), (changed(eu="12"), "isn't a size in EU"),
        (changed(qty="-1"), "number of pairs"), (changed(qty="2.5"), "number of pairs"),
        (changed(rrp="cheap"), "isn't a price"), (changed(model="x" * 130), "longer"), ([*ROW, "and", "more"], "more cells"),
    ],
)  # fmt: skip
def test_a_line_that_cannot_be_used_says_why(row: list[str], said: str) -> None:
    found = one(row, pairs="counted")
    assert found.verdict == "refused"
    assert said in found.said
    assert found.said[0] == "“" or found.said[0].isupper()
    assert found.said.endswith((".", "?"))


@pytest.mark.parametrize(
    ("row", "said", "lost"),
    [(changed(ean="4006381333932"), "check digit", "gtin"), (changed(rrp="£89"), "in GBP", "price_minor"),
     (changed(qty="900"), "is that meant", None)],
)  # fmt: skip
def test_a_line_to_be_looked_at_still_comes_in(row: list[str], said: str, lost: str | None) -> None:
    found = one(row, pairs="received")
    assert found.verdict == "odd"
    assert said in found.said
    assert lost is None or lost not in found.body


def test_rows_that_contradict_each_other_are_told() -> None:
    first, again, dearer, other = lines(
        ROW, ROW, changed(eu="43", rrp="99", ean=""), changed(eu="44"), pairs="received"
    )
    assert first.verdict == "fine"
    assert "row 2 already; its pairs are added" in again.said
    assert "Row 2 gives this model 89.90 EUR" in dearer.said
    assert "price_minor" not in dearer.body
    assert other.verdict == "refused"
    assert "row 2 already, another size" in other.said


def test_a_line_says_the_same_alone_and_among_others_of_its_model() -> None:
    headings = [*HEADINGS[:6], "Upper", "Sole", "Last", "Colour", "Season"]
    kinds = [
        ["89,90 €", "suede", "flat", "L7"], ["on request", "mesh", "nobody's word", ""],
        ["79 USD", "a word nobody knows", "", "L8"], ["", "", "", ""],
    ]  # fmt: skip
    rows = [
        ["Brindle", f"Keel {kind}", "football", str(40 + size), str(size + 1), *made, f"shade {size}", f"autumn {size}"]
        for size in range(3)
        for kind, made in enumerate(kinds)
    ]
    rows += [
        ["Brindle", "Twin", "football", size, "1", "89", upper, "flat", "", "", ""]
        for size, upper in (("40", "suede"), ("41", "mesh"))
    ]
    columns = guess(headings, rows)
    together = list(read_lines(enumerate(rows, 2), columns, Settings(pairs="received")))
    for number, (row, found) in enumerate(zip(rows, together, strict=True), 2):
        alone = next(read_lines([(number, row)], columns, Settings(pairs="received")))
        assert (alone.verdict, alone.said, alone.body) == (found.verdict, found.said, found.body)
        assert [(a.field, a.word) for a in alone.asks] == [(a.field, a.word) for a in found.asks]
    assert {r.verdict for r in together} == {"fine", "odd"}
    assert {len(r.asks) for r in together} == {0, 1}


def test_a_count_by_bar_codes_alone() -> None:
    (found,) = lines(["4006381333931", "2"], headings=["EAN", "Counted"], pairs="counted")
    assert found.body == {"gtin": "04006381333931", "pairs": 2}


def test_how_a_shoe_is_made_and_its_inside_come_along() -> None:
    headings = [*HEADINGS, "plate", "mass_g", "shank", "length_mm", "Season"]
    row = [*ROW, "artificial grass", "215", "yes", "281", "autumn"]
    found = lines(row, headings=headings)[0]
    assert found.verdict == "fine", found.said
    assert found.body["choices"] == {"plate": "artificial_grass"}
    assert found.body["properties"] == {"mass_g": 215}
    assert found.body["features"] == {"shank": True}
    assert found.body["extra"] == {"Season": "autumn"}
    assert found.body["known_from"] == "sheet"
    assert found.body["facts"][0] == pytest.approx(280)
    assert found.body["facts"][4:] == [281, None, None, None, 1.5, None, None, None]
    far = lines([*ROW, "turf", "215", "no", "240", ""], headings=headings)[0]
    assert "40 mm less than its size says" in far.said
    for cell, name in ((8, "9999"), (10, "7")):
        wrong = [*row]
        wrong[cell] = name
        assert lines(wrong, headings=headings)[0].verdict == "refused"
    for cell, name, kind in ((7, "grass of my own", "choices"), (9, "perhaps", "features")):
        unknown = [*row]
        unknown[cell] = name
        read = lines(unknown, headings=headings)[0]
        assert (read.verdict, kind in read.body) == ("odd", False), read.said
        assert read.said.endswith("none is kept.")


def _texts(held: object) -> Iterator[str]:
    """Every text in a body, its keys included."""
    if isinstance(held, str):
        yield held
    elif isinstance(held, dict):
        for key, value in held.items():
            yield from _texts(key)
            yield from _texts(value)
    elif isinstance(held, list | tuple):
        for value in held:
            yield from _texts(value)


@given(st.lists(st.lists(st.text(max_size=12), max_size=9), min_size=1, max_size=5))
@example([["\\u0000"]])
@example([["a\0b"]])
def test_whatever_a_sheet_holds_every_row_gets_a_verdict(rows: list[list[str]]) -> None:
    found = lines(*rows, pairs="counted")
    assert [r.row for r in found] == list(range(2, 2 + len(rows)))
    for line in found:
        assert line.verdict == "fine" or line.said
        # Looked for as a character: a cell that spells one out as its escape is six plain letters.
        assert json.loads(json.dumps(line.body).encode()) == line.body
        assert not any("\0" in text for text in _texts(line.body))


@given(st.text(max_size=20))
def test_no_cell_written_out_is_a_formula_and_all_come_back(text: str) -> None:
    if text.startswith("'") and text[1:].startswith(RISKY):
        return
    assert plain_cell(safe_cell(text)) == text
    assert not safe_cell(text).startswith(("=", "@", "\t", "\r"))


def workbook(rows: list[list[Any]], merge: str = "") -> bytes:
    book = Workbook()
    for row in rows:
        book.active.append(row)
    if merge:
        book.active.merge_cells(merge)
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


def csv_of(*rows: list[str], sign: str = ",") -> str:
    return "\r\n".join(sign.join(f'"{c}"' if sign in c else c for c in r) for r in rows) + "\r\n"


PLAIN = csv_of(HEADINGS, ROW, changed(eu="43", ean=""))


@pytest.mark.parametrize(
    "data",
    [
        PLAIN.encode(), b"\xef\xbb\xbf" + PLAIN.encode(), PLAIN.encode("utf-16"), PLAIN.encode("cp1252"),
        csv_of(HEADINGS, ROW, changed(eu="43", ean=""), sign=";").encode(),
        csv_of(HEADINGS, ROW, changed(eu="43", ean=""), sign="\t").encode(),
        ("sep=|\r\n" + csv_of(HEADINGS, ROW, changed(eu="43", ean=""), sign="|")).encode(),
        ("Autumn list\r\n\r\n" + PLAIN).encode(),
        json.dumps([dict(zip(HEADINGS, r, strict=True)) for r in (ROW, changed(eu="43", ean=""))]).encode(),
        json.dumps({"lines": [dict(zip(HEADINGS, r, strict=True)) for r in (ROW, changed(eu="43", ean=""))]}).encode(),
        workbook([HEADINGS, [*ROW[:3], 42, 3, 89.9, 4006381333931], [*ROW[:3], 43, 3, "89,90 €", None]]),
        workbook([HEADINGS, ROW, [None, None, *changed(eu="43", ean="")[2:]]], merge="A2:A3"),
    ],
)  # fmt: skip
def test_one_list_in_twelve_dresses(data: bytes) -> None:
    table = read_table(data)
    columns = guess(table.headings, [r for _, r in table.rows])
    found = list(read_lines(table.rows, columns, Settings(pairs="counted")))
    assert [(r.body.get("model", "Keel"), r.body.get("eu_label")) for r in found if r.verdict == "fine"][:1] == [
        ("Keel", 42)
    ]
    assert len(found) == 2
    assert found[0].body["price_minor"] == 8990
    assert found[0].body["gtin"] == "04006381333931"


def test_formulas_are_read_as_saved_and_macros_are_not_looked_at() -> None:
    book = workbook([HEADINGS, [*ROW[:4], "=1+2", *ROW[5:]]])
    assert any("formulas" in n for n in read_table(book).notes)
    packed = io.BytesIO(workbook([HEADINGS, ROW]))
    with zipfile.ZipFile(packed, "a") as file:
        file.writestr("xl/vbaProject.bin", b"\x00")
    assert any("macros" in n for n in read_table(packed.getvalue()).notes)


def bomb() -> bytes:
    packed = io.BytesIO()
    with zipfile.ZipFile(packed, "w", zipfile.ZIP_DEFLATED) as file:
        file.writestr("xl/workbook.xml", "<x/>")
        file.writestr("xl/worksheets/sheet1.xml", b"0" * 50_000_000)
    return packed.getvalue()


@pytest.mark.parametrize(
    ("data", "code"),
    [
        (b"", "file-empty"), (b"   \n", "file-empty"), (b"\xd0\xcf\x11\xe0rest", "file-old-excel"),
        (b"PK\x03\x04broken", "file-damaged"), (bomb(), "file-bomb"), (b"one\ntwo\nthree\n", "file-columns"),
        (b'a,b\n"never closed,1\n', "file-quotes"), (b'maker,model\nx"y"z,"a"b\n', "file-quotes"),
        (b"[1, 2]", "file-json"), (b"{", "file-json"), (b"[" * 200_000, "file-json"), (b'[{"a": {"b": 1}}]', "file-json"),
        (b"{}", "file-json"), (b"\x00\x01\x02", "file-damaged"), (bytes(range(1, 32)) * 40 + b"\xff", "file-damaged"),
        (b"\xff\xfe\x00", "file-encoding"), (b"model,size\n", "file-empty"), (b"model,size\n" + b"x" * 6000 + b",42\n", "file-cell"),
        (b"model,size\n" + b"x" * 200_000 + b",42\n", "file-quotes"), (b"x," * 300 + b"x\n" + b"1," * 300 + b"2\n", "file-columns"),
        (b"%PDF-1.4\n%\xe2\xe3\xcf\xd3\n\x00", "file-damaged"),
    ],
)  # fmt: skip
def test_a_spoilt_file_says_what_is_wrong_with_it(data: bytes, code: str) -> None:
    with pytest.raises(BadInput) as caught:
        read_table(data)
    assert caught.value.code == code
    assert caught.value.text.endswith((".", "?"))


def spoilt() -> list[bytes]:
    """Two hundred sheets, each spoilt in a way of its own: cut short, bytes changed, cells exchanged."""
    import random

    random.seed(7)
    good = [
        PLAIN.encode(),
        workbook([HEADINGS, ROW, ROW]),
        json.dumps([dict(zip(HEADINGS, ROW, strict=True))]).encode(),
    ]
    found = []
    for number in range(200):
        data = bytearray(good[number % 3])
        match number // 3 % 4:
            case 0:
                del data[random.randrange(1, len(data)) :]
            case 1:
                for _ in range(1 + number % 9):
                    data[random.randrange(len(data))] = random.randrange(256)
            case 2:
                at = random.randrange(len(data))
                data[at:at] = bytes(random.randrange(256) for _ in range(number % 40 + 1))
            case 3:
                at = random.randrange(len(data) - 10)
                data[at : at + 9] = random.choice([b'"', b"=cmd()", b";;;;;;;", b"\n\n\n\n", b"999999999", b"\xff\xfe"])
        found.append(bytes(data))
    return found


def test_two_hundred_spoilt_sheets_each_with_a_sentence() -> None:
    said: list[tuple[str, str]] = []
    for data in spoilt():
        try:
            table = read_table(data)
        except BadInput as problem:
            said.append((problem.code[:5], problem.text[-1]))
            continue
        columns = guess(table.headings, [r for _, r in table.rows])
        for line in read_lines(table.rows, columns, Settings(pairs="counted", sport="football", maker="Brindle")):
            assert line.verdict == "fine" or line.said.endswith((".", "?")), line
    assert set(said) <= {("file-", "."), ("file-", "?")}
    assert 40 < len(said) < 160


@pytest.mark.parametrize("kind", ["csv", "xlsx", "json"])
def test_what_is_written_is_read_again(kind: Any) -> None:
    rows = [["Brindle", "=Keel", 42.5, None, "−3"], ["Brindle", 'Tern, "wide"', 43, "x\ny", "@you"]]
    headings = ["maker", "model", "size", "colour", "code"]
    table = read_table(b"".join(write(kind, headings, rows)))
    assert table.headings[:3] == headings[:3]
    back = [[plain_cell(c) for c in r] for _, r in table.rows]
    assert back[0][:2] == ["Brindle", "=Keel"]
    assert back[1][1] == 'Tern, "wide"'
    assert [r[2] for r in back] == ["42.5", "43"]


RISKY_HEADINGS = ["Maker", "=1+1", "+cmd", "@SUM(A1)", "-2"]


def test_headings_are_no_formulas_either() -> None:
    """A list's own headings come out again with what was odd in it."""
    import openpyxl

    rows = [["Orvane", "x", "x", "x", "x"]]
    written = b"".join(write("csv", RISKY_HEADINGS, rows)).decode("utf-8-sig").splitlines()[0].split(",")
    assert written == ["Maker", "'=1+1", "'+cmd", "'@SUM(A1)", "-2"]
    book = openpyxl.load_workbook(io.BytesIO(b"".join(write("xlsx", RISKY_HEADINGS, rows))))
    cells = [c for row in book.worksheets[0].iter_rows() for c in row]
    assert {c.data_type for c in cells} == {"s"}
    assert [c.value for c in cells[:5]] == RISKY_HEADINGS


LINES = ["Maker;Model;EU;Preis", "Müller;Größe;42;12,50", "Søren;Låst;43;9,00", "Orvane;Plain;44;8,00"]


def read_back(data: bytes) -> tuple[set[str], list[str]]:
    """The makers a list has, and what was noticed."""
    table = read_table(data)
    return {cells[0] for _, cells in table.rows}, table.notes


MAKERS = {"Müller", "Søren", "Orvane"}


def test_lines_of_two_encodings_in_one_file_make_no_new_maker() -> None:
    """Two lists were put under each other with an editor that didn't care: each line is what it is."""
    mixed = b"\r\n".join(line.encode("cp1252" if n % 2 else "utf-8") for n, line in enumerate(LINES))
    makers, notes = read_back(mixed)
    assert makers == MAKERS
    assert any("Lines of two files" in n for n in notes)
    assert read_back("\n".join(LINES).encode("cp1252"))[0] == MAKERS
    assert read_back("\n".join(LINES).encode())[0] == MAKERS


@pytest.mark.parametrize("times", [1, 2])
def test_letters_written_twice_over_are_mended(times: int) -> None:
    """UTF-8 that some program on the way took for Western European and wrote as UTF-8 again (common practice)."""
    spoilt = "\n".join(LINES)
    for _ in range(times):
        spoilt = spoilt.encode().decode("latin-1")
    assert "MÃ" in spoilt
    makers, notes = read_back(spoilt.encode())
    assert makers == MAKERS
    assert any("read as “" in n for n in notes)


def test_letters_that_are_meant_stay() -> None:
    odd = ["Maker;Model;EU", "Ãngel;São Tomé;42", "Ł & Łuk;Ærø;43", "Ünal;Ça va…;44", "5 €;“Ο”;45"]
    table = read_table("\n".join(odd).encode())
    assert [cells for _, cells in table.rows] == [line.split(";") for line in odd[1:]]
    assert not table.notes
