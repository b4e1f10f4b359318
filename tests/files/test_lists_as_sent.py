"""Lists as suppliers send them, read as a manager would: what the list asks is answered, and then all of it is right."""

from __future__ import annotations

from collections.abc import Mapping
from pathlib import Path
from typing import Any

import pytest

from kalon.core.errors import BadInput
from kalon.files import sheets
from kalon.files.lists import Listed, lines_at, read_list
from tests.made_lists import Held, codes, german, grid

NOBODY: Any = lambda _share, _step: None  # noqa: E731
MOST_ANSWERS = 6


def listed(path: Path, data: bytes, **settings: Any) -> Listed:
    path.write_bytes(data)
    return read_list(path, NOBODY, settings)


def body_of(path: Path) -> list[dict[str, Any]]:
    import json

    return [json.loads(text) for _, verdict, _, text in lines_at(path) if verdict != "refused"]


def found(path: Path) -> set[tuple[Any, ...]]:
    return {
        (b["maker"], b["model"], b["eu_label"], b["colour"], b.get("pairs"), b.get("price_minor"))
        for b in body_of(path)
    }


def wanted(held: list[Held]) -> set[tuple[Any, ...]]:
    return {(h.maker, h.model, h.eu, h.colour, h.pairs, h.price) for h in held}


def answered(first: Listed, answers: Mapping[str, Any], **settings: Any) -> dict[str, Any]:
    """The settings after so many answers; more than six are too many."""
    count = len(settings) + len(answers)
    assert count <= MOST_ANSWERS
    for ask in first.asks:
        assert (ask["field"], ask["word"]) in {(f, w) for f, of in answers.items() for w in of} or ask[
            "field"
        ] != "sport"
    return settings | {"words": {f: dict(of) for f, of in answers.items()}}


def test_a_grid_with_two_heading_rows_and_merged_sizes(tmp_path: Path) -> None:
    data, held = grid()
    first = listed(tmp_path / "a", data)
    assert (first.grid, first.sheets) == ("size", ["Read me", "Order"])
    assert [c.field for c in first.columns] == ["maker", "model", "colour", "price", "size", "pairs"]
    assert any("grid (24 sizes across, EU 36 to EU 47.5)" in n for n in first.notes)
    listed(tmp_path / "b", data, sport="climbing", pairs="received")
    assert found(tmp_path / "b") == wanted(held)


def test_a_grid_may_be_read_as_it_stands(tmp_path: Path) -> None:
    first = listed(tmp_path / "a", grid()[0], grids=False)
    assert first.grid == ""


def test_a_german_list_with_thirds_euro_signs_and_words(tmp_path: Path) -> None:
    data, held = german()
    first = listed(tmp_path / "a", data, pairs="counted")
    assert [c.field for c in first.columns] == ["maker", "model", "sport", "size", "width", "price", "pairs"]
    assert {(a["field"], a["word"], a["guess"]) for a in first.asks} == {
        ("pairs", "> 5", "5"),
        ("pairs", "auf lager", ""),
    }
    assert first.verdicts["refused"] == 20
    listed(tmp_path / "b", data, pairs="counted", words={"pairs": {"> 5": "6", "auf lager": "-"}})
    stock = [6, 3, 0, None]
    assert found(tmp_path / "b") == wanted(
        [Held(h.maker, h.model, h.eu, h.colour, stock[n % 4], h.price) for n, h in enumerate(held)]
    )
    widths = {(b["model"], b["width"]) for b in body_of(tmp_path / "b")}
    assert {(f"Möwe {m}", ["wide", "narrow", "regular"][m % 3]) for m in range(96)} <= widths
    sports = {b["model"]: b["sport"] for b in body_of(tmp_path / "b")}
    assert [sports[f"Möwe {m}"] for m in range(6)] == ["football", "climbing", "cycling", "ice", "lifting", "court"]
    left = [said for _, verdict, said, _ in lines_at(tmp_path / "b") if verdict == "refused"]
    assert set(left) == {"Left out: “Bekleidung” isn't fitted here."}


def test_a_bar_code_list_with_bracketed_sizes(tmp_path: Path) -> None:
    data, held = codes()
    first = listed(tmp_path / "a", data)
    assert [c.field for c in first.columns] == ["code", "model", "gtin", "size", "pairs", "price"]
    listed(tmp_path / "b", data, sport="court", maker="Harrier Works", pairs="received",
           words={"pairs": {"10+": "10", "2 weeks": "0"}})  # fmt: skip
    stock = [6, 10, 0, 0]
    assert found(tmp_path / "b") == wanted(
        [Held(h.maker, h.model, h.eu, h.colour, stock[n % 4], h.price) for n, h in enumerate(held)]
    )
    assert len({b["gtin"] for b in body_of(tmp_path / "b")}) == 1024


@pytest.mark.parametrize(("words", "guess"), [
    ("Football FG", "football"), ("Rock climbing", "climbing"), ("Ice hockey", "ice"), ("Road cycling", "cycling"),
    ("Powerlifting", "lifting"), ("Escalade", "climbing"), ("Hockey sur glace", "ice"), ("Fútbol sala", "football"),
    ("Calcio a 5", "football"), ("Arrampicata", "climbing"), ("Voetbal", "football"), ("Wielrennen", "cycling"),
    ("Field hockey", "field"), ("Patinaje", "ice"), ("Halterofilia", "lifting"), ("Tischtennis", "court"),
])  # fmt: skip
def test_a_sport_by_its_word_in_six_languages(tmp_path: Path, words: str, guess: str) -> None:
    listed(tmp_path / "a", f"Brand,Model,Sport,EU\nA,One,{words},42\nA,Two,{words},43\n".encode())
    assert [b["sport"] for b in body_of(tmp_path / "a")] == [guess, guess]


@pytest.mark.parametrize("words", ["Football socks", "Cycling shorts", "Tennis balls", "Gym bags", "Walking boots",
                                   "Ski boots", "Track and field", "American football", "Trail running"])  # fmt: skip
def test_what_is_no_shoe_for_a_sport_here_is_left_out(tmp_path: Path, words: str) -> None:
    first = listed(tmp_path / "a", f"Brand,Model,Sport,EU\nA,One,{words},42\nA,Two,{words},43\n".encode())
    assert (body_of(tmp_path / "a"), first.asks) == ([], [])
    assert {said for _, _, said, _ in lines_at(tmp_path / "a")} == {f"Left out: “{words}” isn't fitted here."}


@pytest.mark.parametrize(("words", "guess"), [
    ("Hockey", "field"), ("Street football", "football"), ("Boots", "football"), ("Football and cycling", ""),
    ("サッカー", ""),
])  # fmt: skip
def test_what_may_be_meant_waits_for_somebody(tmp_path: Path, words: str, guess: str) -> None:
    data = f"Brand,Model,Sport,EU\nA,One,{words},42\nA,Two,登山,43\n".encode()
    first = listed(tmp_path / "a", data)
    assert body_of(tmp_path / "a") == []
    assert {(a["said"], a["guess"]) for a in first.asks} == {
        (f"“{words}”: which sport is that", guess), ("“登山”: which sport is that", ""),
    }  # fmt: skip
    said = {a["word"]: "climbing" for a in first.asks}
    listed(tmp_path / "b", data, words={"sport": said})
    assert len(body_of(tmp_path / "b")) == 2


@pytest.mark.parametrize(("cell", "guess"), [("≥ 5", "5"), (">=5", "5"), ("10 pcs", "10"), ("x", ""), ("KW 12", "0")])
def test_pairs_in_words_are_asked_about_and_hold_no_line_up(tmp_path: Path, cell: str, guess: str) -> None:
    first = listed(tmp_path / "a", f"Brand,Model,Sport,EU,Qty\nA,One,football,42,{cell}\n".encode(), pairs="counted")
    assert [(a["field"], a["guess"]) for a in first.asks] == [("pairs", guess)]
    (body,) = body_of(tmp_path / "a")
    assert "pairs" not in body
    listed(
        tmp_path / "b", (tmp_path / "a").read_bytes(), pairs="counted", words={"pairs": {first.asks[0]["word"]: "7"}}
    )
    assert [b["pairs"] for b in body_of(tmp_path / "b")] == [7]


@pytest.mark.parametrize(("field", "answer"), [
    ("sport", "chess"), ("width", "huge"), ("upper", "tin"), ("pairs", "99999"), ("pairs", "many"), ("child", "-"),
])  # fmt: skip
def test_what_is_no_answer_is_refused_in_a_sentence(tmp_path: Path, field: str, answer: str) -> None:
    with pytest.raises(BadInput, match="is no answer"):
        listed(tmp_path / "a", b"Brand,Model,Sport,EU\nA,One,football,42\n", words={field: {"x": answer}})


def test_an_unknown_word_is_asked_about_once_and_blocks_only_its_lines(tmp_path: Path) -> None:
    rows = [f"A,M{n},{['Studio', 'Climbing', 'Zumbo'][n % 3]},42,G" for n in range(90)]
    data = "\n".join(["Brand,Model,Sport,EU,Width", *rows]).encode()
    first = listed(tmp_path / "a", data)
    told = {(a["field"], a["word"]): (a["lines"], a["guess"]) for a in first.asks}
    assert told == {("sport", "studio"): (30, "lifting"), ("sport", "zumbo"): (30, ""), ("width", "g"): (90, "wide")}
    words = {"sport": {"studio": "lifting", "zumbo": "-"}, "width": {"g": "wide"}}
    second = listed(tmp_path / "b", data, words=words)
    assert second.asks == []
    assert {(b["sport"], b["width"]) for b in body_of(tmp_path / "b")} == {("lifting", "wide"), ("climbing", "wide")}
    assert second.verdicts["refused"] == 30


@pytest.mark.parametrize(("child", "eu"), [("uk", 31.5), ("us", 30.5)])
def test_a_childs_letter_is_asked_about(tmp_path: Path, child: str, eu: float) -> None:
    data = b"Brand,Model,Sport,Size\nA,One,football,13C\nA,One,football,EU 34\n"
    first = listed(tmp_path / "a", data)
    assert [(a["field"], a["word"], a["lines"]) for a in first.asks] == [("child", "C", 1)]
    listed(tmp_path / "b", data, child=child)
    assert {b["eu_label"] for b in body_of(tmp_path / "b")} == {eu, 34}


@pytest.mark.parametrize(("cell", "said", "kept"), [
    ("$129.50", None, None), ("129.50", "USD", None), ("129.50", None, 12950), ("€129.50", "USD", 12950),
    ("POA", None, None), ("sur demande", None, None), ("-", None, None),
])  # fmt: skip
def test_another_currencys_number_is_never_the_shops(
    tmp_path: Path, cell: str, said: str | None, kept: int | None
) -> None:
    data = f"Brand,Model,Sport,EU,Price\nA,One,football,42,{cell}\nA,Two,football,42,{cell}\n".encode()
    listed(tmp_path / "a", data, currency="EUR", list_currency=said)
    assert [b.get("price_minor") for b in body_of(tmp_path / "a")] == [kept, kept]


def test_sizes_down_and_colours_across(tmp_path: Path) -> None:
    data = b"Model,Size,Black,White,Total\nOne,42,3,,3\nOne,42.5,0,2,2\nTotal,,3,2,5\n"
    first = listed(tmp_path / "a", data, maker="A", sport="football", pairs="received")
    assert first.grid == "colour"
    assert {(b["eu_label"], b["colour"], b["pairs"]) for b in body_of(tmp_path / "a")} == {
        (42, "Black", 3), (42.5, "Black", 0), (42.5, "White", 2),
    }  # fmt: skip


def test_a_model_may_be_called_total_and_a_title_is_no_system(tmp_path: Path) -> None:
    data = (
        b"US order form;;;;;\nModel;Col;38;39;40;41\nTotal 90;black;1;;;\nOne;white;;2 weeks;;3\n" + b"Total;;1;;;3\n"
    )
    listed(tmp_path / "a", data, maker="A", sport="football", pairs="received", words={"pairs": {"2 weeks": "0"}})
    assert {(b["model"], b["system"], b["eu_label"], b["pairs"]) for b in body_of(tmp_path / "a")} == {
        ("Total 90", "eu", 38, 1), ("One", "eu", 39, 0), ("One", "eu", 41, 3),
    }  # fmt: skip


def test_a_word_among_the_cells_of_a_size_keeps_the_size(tmp_path: Path) -> None:
    rows = "".join(f"M{n};{n};{'auf Lager' if n == 3 else n};1;2\n" for n in range(9))
    first = listed(tmp_path / "a", f"Model;38;39;40;41\n{rows}".encode(), maker="A", sport="football", pairs="received")
    assert [(a["word"], a["lines"]) for a in first.asks] == [("auf lager", 1)]
    assert sum(b["eu_label"] == 39 for b in body_of(tmp_path / "a")) == 9


def test_a_grid_of_too_many_cells_is_refused(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(sheets, "MOST_ROWS", 20)
    rows = "".join(f"M{n};1;1;1;1\n" for n in range(6))
    with pytest.raises(BadInput, match="more than 20 cells"):
        listed(tmp_path / "a", f"Model;38;39;40;41\n{rows}".encode(), maker="A", sport="football")


def test_what_is_written_once_holds_for_its_model_and_no_further(tmp_path: Path) -> None:
    data = b"Brand;Model;Col;RRP;40;41;42;43\nA;One;black;90;1;;;\n;;white;;;2;;\n;Two;black;;;;3;\n"
    listed(tmp_path / "a", data, sport="football", pairs="received")
    assert found(tmp_path / "a") == {
        ("A", "One", 40, "black", 1, 9000), ("A", "One", 41, "white", 2, 9000), ("A", "Two", 42, "black", 3, None),
    }  # fmt: skip


def test_blocks_of_men_women_and_children(tmp_path: Path) -> None:
    head = "Model;Men US;;;;;Women US;;;;;Kids US;;;;\n;7;7.5;8;8.5;;6;6.5;7;7.5;;11;12;13;1Y;2Y\n"
    first = listed(
        tmp_path / "a", (head + "One;1;;2;;;3;;;;;4;;;5;\n").encode(), maker="A", sport="court", pairs="received"
    )
    assert first.grid == "size"
    got = {(b["system"], b["label"], b["pairs"]) for b in body_of(tmp_path / "a")}
    assert got == {("us_men", 7, 1), ("us_men", 8, 2), ("us_women", 6, 3), ("us_child", 11, 4), ("us_men", 1, 5)}


@pytest.mark.parametrize("data", [
    "Brand,Model,Sport,EU,Drop,Stack,Weight\n" + "".join(f"A,M{n},football,{38 + n},4,8,{200 + n}\n" for n in range(9)),
    "A,One,football,42,3\nA,Two,football,43,4\nA,Three,football,44,5\n",
])  # fmt: skip
def test_a_plain_list_is_no_grid(tmp_path: Path, data: str) -> None:
    assert listed(tmp_path / "a", data.encode()).grid == ""
