"""Lists in and out: looked at before anything is written, written whole or not at all, taken back, and round again."""

from __future__ import annotations

import csv
import io
import json
import re
import time
import uuid
from concurrent.futures import ThreadPoolExecutor
from typing import Any

import httpx
import psycopg
import pytest

from kalon.core.sheets.cells import check_digit
from kalon.files.sheets import read_table
from kalon.host.postgres import LocalServer
from tests import made_lists
from tests.api.calls import pulled, ready_to_pull, sell, signed_in, take_back
from tests.files.test_workbooks import book
from tests.running import Web, demo_database, web

HEADINGS = ["Brand", "Model", "Sport", "EU size", "Width", "Qty", "RRP", "EAN"]


def code(n: int) -> str:
    digits = f"{200_000_000_000 + n}"
    return digits + str(check_digit(digits.zfill(13)))


def a_list(maker: str, models: int = 2, sizes: int = 4, price: float = 90, pairs: int = 3, first: int = 0) -> str:
    out = io.StringIO()
    pen = csv.writer(out)
    pen.writerow(HEADINGS)
    for m in range(models):
        for s in range(sizes):
            number = first + m * sizes + s
            pen.writerow(
                [maker, f"Model {m}", "football", 40 + s / 2, "regular", pairs, f"{price + m:.2f}", code(number)]
            )
    return out.getvalue()


def bring(client: httpx.Client, data: bytes | str, name: str = "list.csv", sheet: str | None = None) -> httpx.Response:
    params = {"id": sheet or str(uuid.uuid4()), "name": name}
    return client.post("/api/sheets", params=params, content=data)


def settle(client: httpx.Client, sheet: dict[str, Any], /, **more: Any) -> dict[str, Any]:
    answer = client.put(f"/api/sheets/{sheet['id']}/settings", json=sheet["settings"] | more)
    assert answer.status_code == 200, answer.text
    return dict(answer.json())


def write(client: httpx.Client, sheet: dict[str, Any]) -> httpx.Response:
    return client.post(f"/api/sheets/{sheet['id']}/write")


def rows(client: httpx.Client, sheet: dict[str, Any], **more: Any) -> list[dict[str, Any]]:
    return list(client.get(f"/api/sheets/{sheet['id']}/rows", params=more).json()["rows"])


def export(client: httpx.Client, kind: str, form: str = "csv") -> bytes:
    answer = client.get(f"/api/export/{kind}.{form}")
    assert answer.status_code == 200, answer.text
    return answer.content


def contents(url: str) -> dict[str, list[Any]]:
    """Everything a sheet can change, by what it says and not by its ids."""
    with psycopg.connect(url) as cx:
        return {
            "models": cx.execute("SELECT maker, name, sport, upper, build, properties::text, choices::text, "
                                 "features::text, last, meant_for::text FROM shoe_model WHERE retired_at IS NULL ORDER BY 1, 2").fetchall(),
            "prices": cx.execute("SELECT shop_id, maker, name, price_minor, currency FROM model_price JOIN shoe_model m "
                                 "ON m.id = model_id WHERE price_minor IS NOT NULL ORDER BY 1, 2, 3").fetchall(),
            "sizes": cx.execute("SELECT m.maker, m.name, v.width, v.eu_label, v.gtin, v.length_label_mm, v.length_read_mm FROM "
                                "variant v JOIN shoe_model m ON m.id = v.model_id WHERE v.retired_at IS NULL "
                                "ORDER BY 1, 2, 3, 4").fetchall(),
            "stock": cx.execute("SELECT m.maker, m.name, v.eu_label, l.on_hand FROM stock_line l JOIN variant v "
                                "ON v.id = l.variant_id JOIN shoe_model m ON m.id = v.model_id WHERE l.on_hand > 0 "
                                "ORDER BY 1, 2, 3, v.width, v.colour, l.shop_id").fetchall(),
            "readings": cx.execute("SELECT count(*) FROM shoe_reading WHERE set_aside_at IS NULL").fetchall(),
        }  # fmt: skip


def ledger_holds(url: str) -> bool:
    with psycopg.connect(url) as cx:
        row = cx.execute("SELECT count(*) FROM (SELECT l.id FROM stock_line l LEFT JOIN movement m ON m.stock_line_id = l.id "
                         "GROUP BY l.id HAVING l.on_hand <> coalesce(sum(m.pairs), 0)) x").fetchone()  # fmt: skip
    return row == (0,)


def test_a_list_is_looked_at_then_written_and_a_fitting_pulls_from_it(shop: tuple[Web, str]) -> None:
    running, url = shop
    manager = signed_in(running, "marrow")
    before = contents(url)
    sheet = bring(manager, a_list("Lowmarch", sizes=12)).json()
    assert sheet["counts"] == {"new": 24}
    assert [c["field"] for c in sheet["columns"]] == [
        "maker",
        "model",
        "sport",
        "size",
        "width",
        "pairs",
        "price",
        "gtin",
    ]
    assert contents(url) == before
    sheet = settle(manager, sheet, pairs="received")
    assert rows(manager, sheet)[0] == {
        "row": 2, "place": "row 2", "verdict": "new", "text": "Lowmarch Model 0 EU 40", "said": "A new model.",
    }  # fmt: skip
    done = write(manager, sheet).json()
    assert done["done_at"]
    fitter = signed_in(running)
    line = fitter.get("/api/stock", params={"text": "Lowmarch Model 1"}).json()[0]
    assert (line["on_hand"], line["price_minor"], line["known_from"], line["upper"]) == (3, 9100, "label", None)
    fitting = ready_to_pull(fitter)
    found = fitter.get(f"/api/fittings/{fitting}/pull", params={"limit": 200}).json()
    place = next(p for p in found["places"] if p["pair"]["maker"] == "Lowmarch")
    assert place["hope"] in ("should_fit", "worth_trying", "gamble")
    assert "Upper" in place["unknown"]
    assert any("Plate not known" in a for a in place["asks"])
    assert fitter.put(f"/api/fittings/{fitting}/tray/{place['pair']['id']}").status_code == 200
    assert sell(fitter, fitting, place["pair"]["id"]).status_code == 201
    assert ledger_holds(url)


def test_ids_of_what_is_written_together_are_in_its_order(shop: tuple[Web, str]) -> None:
    with psycopg.connect(shop[1]) as cx:
        found = [
            r[0] for r in cx.execute("SELECT id_in_order(n) FROM generate_series(1, 20000) n ORDER BY n").fetchall()
        ]
    assert found == sorted(found)
    assert len(set(found)) == len(found)
    assert {(i.version, i.variant) for i in found} == {(7, uuid.RFC_4122)}
    made = int.from_bytes(found[0].bytes[:6]) / 1000  # RFC 9562, 5.7: the first 48 bits are milliseconds since 1970
    assert abs(made - time.time()) < 60


def test_the_same_sheet_sent_many_times_is_one(shop: tuple[Web, str]) -> None:
    running, url = shop
    manager = signed_in(running, "marrow")
    sheet = str(uuid.uuid4())
    data = a_list("Many", first=500)
    with ThreadPoolExecutor(4) as pool:
        answers = list(pool.map(lambda _: bring(signed_in(running, "marrow"), data, sheet=sheet), range(4)))
    assert {a.status_code for a in answers} <= {201, 503}
    whole = settle(manager, manager.get(f"/api/sheets/{sheet}").json(), pairs="received")
    with ThreadPoolExecutor(6) as pool:
        done = list(pool.map(lambda _: write(signed_in(running, "marrow"), whole), range(6)))
    assert {d.status_code for d in done} == {200}
    assert sum(line["on_hand"] for line in manager.get("/api/stock", params={"text": "Many Model"}).json()) == 24
    assert ledger_holds(url)
    late = manager.put(f"/api/sheets/{sheet}/settings", json=whole["settings"])
    assert (late.status_code, late.json()["code"]) == (409, "sheet-done")


def test_a_second_list_changes_prices_counts_and_says_so(shop: tuple[Web, str]) -> None:
    running, _ = shop
    manager = signed_in(running, "marrow")
    write(manager, settle(manager, bring(manager, a_list("Second", first=600)).json(), pairs="received"))
    again = bring(manager, a_list("Second", price=99, pairs=5, first=600)).json()
    assert again["settings"]["pairs"] == "received"  # as these headings were read before
    counted = settle(manager, again, pairs="counted")
    assert counted["counts"] == {"changed": 8}
    said = rows(manager, counted)[0]["said"]
    assert "The price goes from 90.00 to 99.00." in said
    assert "5 counted, 3 thought to be here." in said
    write(manager, counted)
    assert settle(manager, bring(manager, a_list("Second", price=99, pairs=5, first=600)).json(), pairs="counted")[
        "counts"
    ] == {"same": 8}
    far = bring(manager, a_list("Second", price=9, first=600)).json()
    assert far["counts"]["odd"] == 8
    assert "is that meant?" in rows(manager, far, verdict="odd")[0]["said"]


def test_refused_and_odd_lines_stay_out_or_are_told_and_pages_follow(shop: tuple[Web, str]) -> None:
    running, _ = shop
    manager = signed_in(running, "marrow")
    text = a_list("Third", first=700) + "Third,Model 9,football,99,regular,1,90,\r\nThird,,football,42,,1,90,\r\n"
    sheet = bring(manager, text).json()
    assert sheet["counts"] == {"new": 8, "refused": 2}
    refused = rows(manager, sheet, verdict="refused")
    assert [r["row"] for r in refused] == [10, 11]
    assert "isn't a size in EU" in refused[0]["said"]
    paged: list[int] = []
    while True:
        part = rows(manager, sheet, after=paged[-1] if paged else 0, limit=3)
        paged += [r["row"] for r in part]
        if len(part) < 3:
            break
    assert paged == list(range(2, 12))
    taken = bring(manager, f"{','.join(HEADINGS)}\r\nFourth,Far,football,42,,1,90,{code(0)}\r\n").json()
    assert taken["counts"] == {"refused": 1}
    assert "Its bar code is that of Lowmarch Model 0" in rows(manager, taken)[0]["said"]
    assert write(manager, taken).json()["code"] == "sheet-empty"


def test_a_sheet_is_taken_back_whole(shop: tuple[Web, str]) -> None:
    running, url = shop
    manager = signed_in(running, "marrow")
    write(manager, settle(manager, bring(manager, a_list("Fifth", first=800)).json(), pairs="received"))
    before = contents(url)
    more = a_list("Fifth", models=4, price=80, first=800).replace("RRP", "length_mm,RRP").replace(",3,", ",3,275,")
    sheet = settle(manager, bring(manager, more).json(), pairs="received")
    write(manager, sheet)
    assert contents(url) != before
    for _ in range(2):
        back = manager.post(f"/api/sheets/{sheet['id']}/undo")
        assert back.status_code == 200, back.text
        assert back.json()["undone_at"]
        assert contents(url) == before
    assert ledger_holds(url)
    again = settle(manager, bring(manager, more).json(), pairs="received")
    assert "comes back" in rows(manager, again)[-1]["said"]
    assert write(manager, again).status_code == 200


def test_the_same_delivery_is_counted_once_whatever_file_it_comes_in(shop: tuple[Web, str]) -> None:
    running, url = shop
    manager = signed_in(running, "marrow")
    whole = a_list("Twice", first=2600)
    write(manager, settle(manager, bring(manager, whole).json(), pairs="received"))
    held = manager.get("/api/stock").json()
    # The supplier's next mail has it again, sorted otherwise and as a workbook of its own name.
    head, *lines = whole.splitlines()
    turned = "\n".join([head, *reversed(lines)])
    again = settle(manager, bring(manager, turned, "mail of monday.csv").json(), pairs="received")
    refused = write(manager, again)
    assert (refused.status_code, refused.json()["code"]) == (409, "delivered-before")
    assert "list.csv" in refused.json()["title"]
    assert "Marrow Tesk" in refused.json()["title"]
    assert manager.get("/api/stock").json() == held
    more = settle(manager, bring(manager, whole.replace(",3,", ",4,", 1)).json(), pairs="received")
    assert write(manager, more).status_code == 200, "one pair more is another delivery"
    sister = signed_in(running, "sorrel")
    theirs = settle(sister, bring(sister, whole).json(), pairs="received")
    assert sister.post(f"/api/sheets/{theirs['id']}/write").status_code == 200, "what came to another shop is theirs"
    twice = manager.post(f"/api/sheets/{again['id']}/write", params={"anyway": True})
    assert twice.status_code == 200
    assert ledger_holds(url)


def test_two_who_bring_the_same_delivery_at_once_count_it_once(shop: tuple[Web, str]) -> None:
    running, _ = shop
    manager = signed_in(running, "marrow")
    sheets = [settle(manager, bring(manager, a_list("Both", first=2700)).json(), pairs="received") for _ in range(3)]
    with ThreadPoolExecutor(3) as pool:
        codes = list(pool.map(lambda s: write(manager, s).status_code, sheets))
    assert sorted(codes) == [200, 409, 409]
    (first,) = [s for s, c in zip(sheets, codes, strict=True) if c == 200]
    assert manager.post(f"/api/sheets/{first['id']}/undo").status_code == 200
    late = next(s for s, c in zip(sheets, codes, strict=True) if c == 409)
    assert write(manager, late).status_code == 200, "what was taken back may come again"


def test_a_list_may_say_what_a_model_is_built_on(shop: tuple[Web, str]) -> None:
    running, url = shop
    manager = signed_in(running, "marrow")
    write(manager, bring(manager, a_list("Lasting", first=2300)).json())
    before = contents(url)

    def with_last(last: str) -> str:
        head, *lines = a_list("Lasting", first=2300).splitlines()
        return "\n".join([f"{head},Last", *(f"{row},{last}" for row in lines)])

    sheet = bring(manager, with_last("Swift 2")).json()
    assert sheet["columns"][-1]["field"] == "last"
    assert {r["said"] for r in rows(manager, sheet)} == {"It is built on Swift 2."}
    write(manager, sheet)
    assert bring(manager, with_last("Swift 2")).json()["counts"] == {"same": 8}
    moved = bring(manager, with_last("Broad 1")).json()
    assert {r["said"] for r in rows(manager, moved)} == {"It was built on Swift 2, now on Broad 1."}
    told = [
        r for r in csv.DictReader(io.StringIO(export(manager, "models").decode("utf-8-sig"))) if r["maker"] == "Lasting"
    ]
    assert {r["last"] for r in told} == {"Swift 2"}
    assert manager.post(f"/api/sheets/{sheet['id']}/undo").status_code == 200
    assert contents(url) == before


def test_what_a_list_says_shoes_are_meant_for_rules_them_out_and_is_taken_back(shop: tuple[Web, str]) -> None:
    """A figure skate and a hockey skate in one list, in the words of a French and a German supplier."""
    running, url = shop
    manager, fitter = signed_in(running, "marrow"), signed_in(running)
    before = contents(url)
    text = "Marque;Modèle;Sport;Pointure;Qté\n" + "".join(
        f"Glissard;{model};{sport};{size};2\n"
        for model, sport in (("Arabesque", "Patinage artistique"), ("Cavalier", "Eishockey"), ("Promenade", "Patinage"))
        for size in (41, 42, 43, 44)
    )
    sheet = settle(manager, bring(manager, text).json(), pairs="received")
    assert sheet["counts"] == {"new": 12}
    write(manager, sheet)
    fitting = ready_to_pull(fitter, sport="ice", discipline="hockey")
    found = fitter.get(f"/api/fittings/{fitting}/pull", params={"limit": 200}).json()
    ruled = {v["name"]: v["text"] for v in found["vetoed"] if v["maker"] == "Glissard"}
    assert ruled == {"Arabesque": "It is meant for figure skating: never for ice hockey."}
    places = {p["pair"]["name"]: p for p in found["places"] if p["pair"]["maker"] == "Glissard"}
    assert set(places) == {"Cavalier", "Promenade"}
    assert "Meant for ice hockey, as wanted." in [h["text"] for h in places["Cavalier"]["helps"]]
    assert not [h for h in places["Promenade"]["helps"] + places["Promenade"]["costs"] if "eant for" in h["text"]]
    told = csv.DictReader(io.StringIO(export(manager, "models").decode("utf-8-sig")))
    said = {r["model"]: r["meant_for"] for r in told if r["maker"] == "Glissard"}
    assert said == {"Arabesque": "figure_skating", "Cavalier": "ice_hockey", "Promenade": ""}
    leisure = bring(manager, text.replace(";Patinage;", ";Patinage loisir;")).json()
    changed = [r for r in rows(manager, settle(manager, leisure, pairs="ignored")) if r["verdict"] == "changed"]
    assert [r["said"] for r in changed] == ["More is told of how it is made and what for."] * 4
    assert manager.post(f"/api/sheets/{sheet['id']}/undo").status_code == 200
    assert contents(url) == before


def test_a_sheet_whose_pairs_were_sold_stays(shop: tuple[Web, str]) -> None:
    running, url = shop
    manager = signed_in(running, "marrow")
    sheet = settle(manager, bring(manager, a_list("Sixth", sizes=14, pairs=1, first=900)).json(), pairs="received")
    write(manager, sheet)
    fitter = signed_in(running)
    fitting = ready_to_pull(fitter)
    places = fitter.get(f"/api/fittings/{fitting}/pull", params={"limit": 200}).json()["places"]
    line = next(p["pair"]["id"] for p in places if p["pair"]["maker"] == "Sixth")
    fitter.put(f"/api/fittings/{fitting}/tray/{line}")
    sell(fitter, fitting, line)
    before = contents(url)
    answer = manager.post(f"/api/sheets/{sheet['id']}/undo")
    assert (answer.status_code, answer.json()["code"]) == (409, "sheet-used")
    assert "Sixth Model" in answer.json()["title"]
    assert contents(url) == before
    take_back(fitter, fitting)
    assert manager.post(f"/api/sheets/{sheet['id']}/undo").status_code == 200
    assert ledger_holds(url)


def test_what_was_changed_since_is_left_and_told(shop: tuple[Web, str]) -> None:
    running, url = shop
    manager = signed_in(running, "marrow")
    write(manager, bring(manager, a_list("Seventh", first=1000)).json())
    dearer = settle(manager, bring(manager, a_list("Seventh", price=95, first=1000)).json(), pairs="ignored")
    write(manager, dearer)
    with psycopg.connect(url) as cx:
        cx.execute(
            "UPDATE model_price p SET price_minor = 7777 FROM shoe_model m WHERE m.id = p.model_id "
            "AND m.maker = 'Seventh' AND m.name = 'Model 0'"
        )
    back = manager.post(f"/api/sheets/{dearer['id']}/undo").json()
    assert back["stayed"] == ["Seventh Model 0"]
    prices = {r["name"]: r["price_minor"] for r in manager.get("/api/stock", params={"text": "Seventh"}).json()}
    assert prices == {"Model 0": 7777, "Model 1": 9100}


def test_a_count_by_bar_code_alone(shop: tuple[Web, str]) -> None:
    running, _ = shop
    manager = signed_in(running, "marrow")
    write(manager, settle(manager, bring(manager, a_list("Eighth", first=1100)).json(), pairs="received"))
    count = f"EAN,Counted\r\n{code(1100)},7\r\n{code(1101)},3\r\n{code(99_999)},1\r\n"
    sheet = settle(manager, bring(manager, count).json(), pairs="counted")
    assert sheet["counts"] == {"changed": 1, "same": 1, "refused": 1}
    assert "bring in its supplier's list first" in rows(manager, sheet, verdict="refused")[0]["said"]
    write(manager, sheet)
    on_hand = [r["on_hand"] for r in manager.get("/api/stock", params={"text": "Eighth Model 0"}).json()]
    assert on_hand == [7, 3, 3, 3]


def cells(data: bytes) -> list[dict[str, str]]:
    """A table's rows as they are read, whatever it is written in: by heading, empty cells left out."""
    table = read_table(data)
    found = [{h: c for h, c in zip(table.headings, row, strict=False) if c} for _, row in table.rows]
    for row in found:
        row.update({h: f"{float(c):g}" for h, c in row.items() if re.fullmatch(r"-?\d+(\.\d+)?", c)})
    return found


@pytest.mark.parametrize("form", ["csv", "xlsx", "json"])
def test_out_in_out_is_the_same(shop: tuple[Web, str], server: LocalServer, form: str) -> None:
    running, _ = shop
    manager = signed_in(running, "marrow")
    stock = export(manager, "stock", form)
    here = bring(manager, stock, f"stock.{form}").json()
    here = settle(manager, here, pairs="counted")
    assert [r for v in ("new", "changed", "odd", "refused") for r in rows(manager, here, verdict=v)] == []
    assert export(manager, "stock", "csv") == export(manager, "stock", "csv")
    if form != "csv":  # what comes of the same rows far away is the plain one's to show
        for kind in ("stock", "models"):
            assert cells(export(manager, kind, form)) == cells(export(manager, kind, "csv"))
        return
    far = demo_database(server, f"far_{form}")
    with psycopg.connect(far) as cx:  # a shop without a shoe
        for table in (
            "journal_line",
            "movement",
            "reservation",
            "shoe_order",
            "evidence_aside",
            "evidence",
            "shoe_reading",
            "tray_pair",
            "follow_up",
            "pair_worn",
            "pair_seen",
            "pair",
            "sale",
            "stock_line",
            "variant",
            "model_price",
            "shoe_model",
        ):
            cx.execute(f"DELETE FROM {table}")
    with web(far) as other:
        there = signed_in(other, "marrow")
        sheet = settle(there, bring(there, stock, f"stock.{form}").json(), pairs="counted")
        assert set(sheet["counts"]) == {"new"}
        assert write(there, sheet).status_code == 200
        assert read_table(export(there, "stock", form)).rows == read_table(stock).rows
        models = export(manager, "models", form)
        assert read_table(export(there, "models", form)).rows == read_table(models).rows
        again = bring(there, models, f"models.{form}").json()
        assert set(again["counts"]) == {"same"}


def test_a_makers_own_step_of_us_womens_sizes_is_said_once_and_kept(shop: tuple[Web, str]) -> None:
    """A list of women's sizes that run one ahead of the men's. A US woman's 8 is then a UK 6: a last of 31 barleycorns."""
    running, url = shop
    manager = signed_in(running, "marrow")
    sizes = [("7.5", 2), ("8", 1)]
    text = "Brand,Model,Sport,Size,Qty\n" + "".join(f"Fernhollow,Sedge,court,{s},{n}\n" for s, n in sizes)
    sheet = settle(manager, bring(manager, text).json(), system="us_women", pairs="received")
    sheet = settle(manager, sheet, runs_ahead=1.0)
    assert [r["text"] for r in rows(manager, sheet)] == ["Fernhollow Sedge US women 7.5", "Fernhollow Sedge US women 8"]
    assert write(manager, sheet).status_code == 200
    lines = manager.get("/api/stock", params={"text": "Fernhollow"}).json()
    found = {line["label"]: line for line in lines}
    assert set(found) == {7.5, 8.0}
    assert found[8.0]["eu_label"] == 39.5  # 31 barleycorns are 262.5 mm, 39.4 Paris points
    with psycopg.connect(url) as cx:
        kept = "SELECT v.id, v.length_label_mm FROM variant v JOIN stock_line l ON l.variant_id = v.id WHERE l.id = %s"
        size, before = cx.execute(kept, [found[8.0]["id"]]).fetchone() or (None, None)
        assert before == pytest.approx(31 * 25.4 / 3)
    read = {"id": str(uuid.uuid4()), "zone": "heel_width", "mm": 62.0, "source": "measured"}
    answer = manager.post(f"/api/stock/{found[8.0]['id']}/readings", json=read)
    assert answer.status_code < 300, answer.text
    with psycopg.connect(url) as cx:  # what its label says is put together anew with each reading
        assert cx.execute(kept, [found[8.0]["id"]]).fetchone() == (size, pytest.approx(before))
    out = [r for r in cells(export(manager, "stock")) if r["maker"] == "Fernhollow"]
    assert [(r["size"], r["runs_ahead"]) for r in out] == [("7.5", "1"), ("8", "1")]
    again = settle(manager, bring(manager, export(manager, "stock")).json(), pairs="counted")
    assert set(again["counts"]) == {"same"}


@pytest.mark.parametrize("kind", ["movements", "athletes", "fittings", "follow-ups"])
@pytest.mark.parametrize("form", ["csv", "json", "xlsx"])
def test_every_export_can_be_read(shop: tuple[Web, str], kind: str, form: str) -> None:
    running, url = shop
    whole = signed_in(running, "marrow").get(f"/api/export/{kind}.{form}")
    data = whole.content
    table = read_table(data) if form != "json" else None
    bare = table is not None and any("No row of headings" in n for n in table.notes)
    count = len(table.rows) - bare if table else len(json.loads(data))
    with psycopg.connect(url) as cx:
        who = "(SELECT shop_id FROM staff WHERE login = 'marrow')"
        name = {"movements": "movement", "athletes": "athlete", "fittings": "fitting", "follow-ups": "follow_up"}[kind]
        live = " AND withdrawn_at IS NULL" if kind == "follow-ups" else ""
        row = cx.execute(f"SELECT count(*) FROM {name} WHERE shop_id = {who}{live}").fetchone()
    assert row
    assert count == row[0]
    assert int(whole.headers["x-kalon-rows"]) == count


def test_a_name_that_looks_like_a_formula_is_written_as_a_name(shop: tuple[Web, str]) -> None:
    running, _ = shop
    manager = signed_in(running, "marrow")
    manager.post("/api/athletes", json={"change_id": str(uuid.uuid4()), "name": "=cmd|' /C calc'!A0"})
    assert b"'=cmd" in export(manager, "athletes", "csv")


@pytest.mark.parametrize("who", ["ilse", "pip"])
def test_only_a_manager_brings_in_and_takes_out(shop: tuple[Web, str], who: str) -> None:
    running, _ = shop
    client = signed_in(running, who)
    assert bring(client, a_list("Nobody")).status_code == 403
    assert client.get("/api/export/athletes.csv").status_code == 403
    assert client.get("/api/sheets").status_code == 403


def test_another_shops_sheet_is_not_here(shop: tuple[Web, str]) -> None:
    running, _ = shop
    sheet = bring(signed_in(running, "marrow"), a_list("Ninth", first=1300)).json()
    sorrel = signed_in(running, "sorrel")
    for path, method in (("", "GET"), ("/rows", "GET"), ("/write", "POST"), ("/undo", "POST")):
        assert sorrel.request(method, f"/api/sheets/{sheet['id']}{path}").status_code == 404


def test_selling_and_counting_at_once_lose_nothing(shop: tuple[Web, str]) -> None:
    running, url = shop
    manager = signed_in(running, "marrow")
    fitter = signed_in(running)
    fitting, (line,) = pulled(fitter, 1)
    moves = [{"id": str(uuid.uuid4()), "by": by} for by in (1, 2, -1, 1) * 5]
    # Enough of them that none of the moves takes the last one from under the sale.
    assert manager.post(f"/api/stock/{line}/moves", json={"id": str(uuid.uuid4()), "by": 6}).status_code == 200

    def move(body: dict[str, Any]) -> int:
        return signed_in(running, "marrow").post(f"/api/stock/{line}/moves", json=body).status_code

    before = manager.get(f"/api/stock/{line}").json()["on_hand"]
    with ThreadPoolExecutor(6) as pool:
        sold = pool.submit(sell, fitter, fitting, line)
        answers = list(pool.map(move, moves))
    taken = sum(m["by"] for m, a in zip(moves, answers, strict=True) if a == 200)
    assert sold.result().status_code == 201, (sold.result().text, before)
    assert manager.get(f"/api/stock/{line}").json()["on_hand"] == before + taken - 1
    assert ledger_holds(url)


def a_model(**more: Any) -> dict[str, Any]:
    """A model by hand, with a change of its own."""
    made = {"maker": "Handiwork", "name": "Awl", "sport": "court", "build": "board"} | more
    return {"change_id": str(uuid.uuid4()), "model": made}


def test_a_model_by_hand_its_sizes_its_price_and_its_end(shop: tuple[Web, str]) -> None:
    running, _ = shop
    manager = signed_in(running, "marrow")
    path = f"/api/models/{uuid.uuid4()}"
    body = a_model(features={"shank": True}, properties={"mass_g": 310})
    first, again = manager.put(path, json=body), manager.put(path, json=body)
    assert first.status_code == 200, first.text
    assert again.json() == first.json()
    assert first.json()["model"]["price_minor"] is None
    run = {"change_id": str(uuid.uuid4()), "system": "uk", "sizes": ["8", "8½", "9"], "width": "2E", "colour": "slate"}
    kept = manager.post(f"{path}/sizes", json=run)
    assert kept.status_code == 201, kept.text
    assert [(s["label"], s["eu_label"], s["width"], s["on_hand"]) for s in kept.json()] == [
        (8, 42, "2E", 0), (8.5, 42.5, "2E", 0), (9, 43, "2E", 0)]  # fmt: skip
    assert manager.post(f"{path}/sizes", json=run).json() == kept.json()
    line = kept.json()[0]["id"]
    manager.post(f"/api/stock/{line}/moves", json={"id": str(uuid.uuid4()), "by": 2, "kind": "received", "why": "van"})
    fitter = signed_in(running)
    fitting = ready_to_pull(fitter, sport="court", discipline="squash")
    assert fitter.put(f"/api/fittings/{fitting}/tray/{line}").status_code == 200
    refused = sell(fitter, fitting, line)
    assert (refused.status_code, refused.json()["code"]) == (409, "no-price")
    manager.put(path, json=a_model(price_minor=9950, features={"shank": True}))
    assert sell(fitter, fitting, line).status_code == 201
    moves = fitter.get(f"/api/stock/{line}/moves").json()
    assert [(m["kind"], m["pairs"]) for m in moves] == [("sold", -1), ("received", 2)]
    assert moves[1]["why"] == "van"
    gone = manager.put(path, json=a_model(price_minor=9950) | {"retired": True}).json()
    assert gone["retired"]
    assert "Awl" not in {m["name"] for m in fitter.get("/api/stock/models", params={"sport": "court"}).json()}


def test_two_managers_on_one_model_write_nothing_over(shop: tuple[Web, str]) -> None:
    running, _ = shop
    manager = signed_in(running, "marrow")
    path, other = (f"/api/models/{uuid.uuid4()}" for _ in range(2))
    read = manager.put(path, json=a_model(name="Burin")).json()["model"]
    theirs = a_model(name="Burin", price_minor=5000)
    assert manager.put(path, json=theirs | {"was": read}).status_code == 200
    mine = manager.put(path, json=a_model(name="Burin", code="B7") | {"was": read})
    assert (mine.status_code, mine.json()["code"]) == (409, "changed")
    assert manager.get(path).json()["model"]["price_minor"] == 5000
    reused = manager.put(other, json=a_model(name="Scribe") | {"change_id": theirs["change_id"]})
    assert (reused.status_code, reused.json()["code"]) == (409, "id-used")
    assert manager.get(other).status_code == 404


@pytest.mark.parametrize(("kind", "by"), [("received", -1), ("returned", 1), ("written_off", 2)])
def test_a_movement_goes_the_way_its_name_says(shop: tuple[Web, str], kind: str, by: int) -> None:
    running, _ = shop
    manager = signed_in(running, "marrow")
    line = manager.get("/api/stock", params={"limit": 1}).json()[0]
    body = {"id": str(uuid.uuid4()), "by": by, "kind": kind}
    answer = manager.post(f"/api/stock/{line['id']}/moves", json=body)
    assert answer.status_code == 422
    assert manager.get(f"/api/stock/{line['id']}").json()["on_hand"] == line["on_hand"]


@pytest.mark.parametrize(
    ("more", "field"),
    [({"name": ""}, "model.name"), ({"upper": "tin"}, "model.upper"), ({"choices": {"plate": "moon"}}, "model.choices.plate"),
     ({"properties": {"mass_g": 9999}}, "model.properties.mass_g"), ({"features": {"wings": True}}, "model.features.wings"),
     ({"price_minor": -1}, "model.price_minor"), ({"sport": "chess"}, "model.sport")],
)  # fmt: skip
def test_a_model_that_cannot_be_is_refused_at_its_field(
    shop: tuple[Web, str], more: dict[str, Any], field: str
) -> None:
    running, _ = shop
    answer = signed_in(running, "marrow").put(f"/api/models/{uuid.uuid4()}", json=a_model(**more))
    assert answer.status_code == 422
    assert [f["field"] for f in answer.json()["fields"]] == [field]


def test_a_name_or_bar_code_taken_is_said_whose(shop: tuple[Web, str]) -> None:
    running, _ = shop
    manager = signed_in(running, "marrow")
    one, other = (f"/api/models/{uuid.uuid4()}" for _ in range(2))
    manager.put(one, json=a_model(name="Bodkin"))
    taken = manager.put(other, json=a_model(maker="HANDIWORK", name="bodkin"))
    assert (taken.status_code, taken.json()["code"]) == (409, "name-taken")
    manager.put(other, json=a_model(name="Gimlet"))
    size = {"system": "eu", "sizes": ["42"], "gtin": code(77_777)}
    assert manager.post(f"{one}/sizes", json=size | {"change_id": str(uuid.uuid4())}).status_code == 201
    held = manager.post(f"{other}/sizes", json=size | {"change_id": str(uuid.uuid4())})
    assert (held.status_code, held.json()["code"]) == (409, "gtin-taken")
    assert "Handiwork Bodkin" in held.json()["title"]
    found = manager.get("/api/rack", params={"text": code(77_777)}).json()["models"]
    assert [m["name"] for m in found] == ["Bodkin"]
    for wrong in ({"sizes": ["999"]}, {"width": "huge"}, {"gtin": "123"}, {"sizes": ["42", "43"]}):
        answer = manager.post(f"{one}/sizes", json=size | {"change_id": str(uuid.uuid4())} | wrong)
        assert answer.status_code == 422, wrong


def test_reading_the_inside_makes_a_size_surer_and_setting_aside_takes_it_back(shop: tuple[Web, str]) -> None:
    running, url = shop
    client = signed_in(running)
    line = client.get("/api/stock", params={"text": "Orvane"}).json()[4]
    path = f"/api/stock/{line['id']}"
    before = client.get(f"{path}/inside").json()
    assert before["rests_on"]["length"].startswith("label, ")
    assert "stick" not in before["rests_on"]["length"]
    reading = {"id": str(uuid.uuid4()), "zone": "length", "mm": line["length_mm"] + 3, "source": "stick"}
    for _ in range(2):
        after = client.post(f"{path}/readings", json=reading).json()
    assert len(after["readings"]) == 1
    assert after["readings"][0]["by"] == "Ilse Varn"
    length = after["zones"]["length"]
    assert after["rests_on"]["length"] == before["rests_on"]["length"] + ", one stick reading"
    assert length["sigma_mm"] < 1 < before["zones"]["length"]["sigma_mm"]
    assert line["length_mm"] < length["mm"] < line["length_mm"] + 3
    assert client.get(path).json()["length_mm"] == length["mm"]
    other = client.get("/api/stock", params={"text": "Orvane"}).json()[5]
    clash = client.post(f"/api/stock/{other['id']}/readings", json=reading)
    assert (clash.status_code, clash.json()["code"]) == (409, "id-used")
    back = client.delete(f"{path}/readings/{reading['id']}").json()
    assert back == before
    with psycopg.connect(url) as cx:
        kept = cx.execute("SELECT set_aside_at IS NOT NULL FROM shoe_reading WHERE id = %s", [reading["id"]]).fetchone()
    assert kept == (True,)
    far = client.post(f"{path}/readings", json={**reading, "id": str(uuid.uuid4()), "mm": 251})
    far = client.post(f"{path}/readings", json={**reading, "id": str(uuid.uuid4()), "mm": 261})
    assert "Read it again?" in far.json()["zones"]["conflicts"][0]


# --- as suppliers send them


def test_a_grid_comes_in_by_two_answers_and_its_words_are_remembered(running: Web) -> None:
    manager = signed_in(running, "marrow")
    data, held = made_lists.grid()
    sheet = bring(manager, data, "grid.xlsx").json()
    assert (sheet["grid"], sheet["sheets"]) == ("size", ["Read me", "Order"])
    assert [(r["lines"], r["said"]) for r in sheet["reasons"]] == [
        (len(held), "It names no sport: say which sport this list is for.")
    ]
    sheet = settle(manager, sheet, sport="climbing", pairs="received")
    assert sheet["counts"] == {"new": len(held)}
    found = rows(manager, sheet, limit=500)
    assert found[0]["place"].startswith("row 5, ")
    assert len({r["place"] for r in found}) == len(held)
    after = found[4]["row"]
    assert rows(manager, sheet, limit=3, after=after) == found[5:8]
    assert rows(manager, sheet, after=300_000 * 1000) == []  # as far as rows of a grid are numbered
    assert write(manager, sheet).status_code == 200
    shelf = manager.get("/api/stock", params={"text": "Lorne Fell"}).json()
    assert sum(line["on_hand"] for line in shelf) == sum(h.pairs or 0 for h in held)


def test_the_same_file_is_said_and_takes_a_second_press(running: Web) -> None:
    manager = signed_in(running, "marrow")
    data = a_list("Same Again", pairs=2, first=7000).encode()
    first = settle(manager, bring(manager, data, "spring.csv").json(), pairs="ignored")
    assert first["again"] is None
    assert write(manager, first).status_code == 200
    second = settle(manager, bring(manager, data, "renamed.csv").json(), pairs="ignored")
    assert (second["again"]["name"], second["again"]["by"]) == ("spring.csv", first["by"])
    refused = write(manager, second)
    assert (refused.status_code, refused.json()["code"]) == (409, "file-before")
    assert "“spring.csv”" in refused.json()["title"]
    assert manager.post(f"/api/sheets/{second['id']}/write", params={"anyway": True}).status_code == 200
    undone = bring(manager, data, "third.csv").json()
    assert undone["again"]["name"] == "renamed.csv"


def test_what_was_said_of_a_suppliers_word_holds_for_its_next_list(running: Web) -> None:
    manager = signed_in(running, "marrow")
    lines = "\n".join(f"Wordy Works,Gull {n},{'Studio' if n % 2 else 'Zumbo'},{40 + n / 2},G" for n in range(8))
    sheet = bring(manager, f"Brand,Model,Sport,EU,Width\n{lines}\n", "autumn.csv").json()
    assert [(a["field"], a["word"], a["lines"], a["guess"]) for a in sheet["asks"]] == [
        ("width", "g", 8, "wide"), ("sport", "zumbo", 4, ""), ("sport", "studio", 4, "lifting"),
    ]  # fmt: skip
    assert [(r["lines"], r["said"]) for r in sheet["reasons"]] == [(8, "“Studio”, “Zumbo”: which sport is that?")]
    said = {"sport": {"studio": "lifting", "zumbo": "-"}, "width": {"g": "wide"}}
    sheet = settle(manager, sheet, words=said)
    assert (sheet["asks"], sheet["counts"]) == ([], {"new": 4, "refused": 4})
    assert sheet["reasons"] == [{"said": "Left out: “Zumbo” isn't fitted here.", "lines": 4}]
    assert write(manager, sheet).status_code == 200
    # Other headings, another season: the supplier's words are known.
    more = "Maker,Style,Category,Size EU,Fitting\nWordy Works,Tern,Studio,41,G\nWordy Works,Tern,Studio,42,G\n"
    later = bring(manager, more, "winter.csv").json()
    assert (later["asks"], later["counts"]) == ([], {"new": 2})
    assert later["settings"]["words"]["sport"]["studio"] == "lifting"
    # Said otherwise later, that holds for lists with the first headings too.
    later = settle(manager, later, words=later["settings"]["words"] | {"sport": {"studio": "court", "zumbo": "-"}})
    assert write(manager, later).status_code == 200
    third = bring(manager, f"Brand,Model,Sport,EU,Width\n{lines.replace('Gull', 'Rook')}\n", "spring.csv").json()
    assert third["settings"]["words"]["sport"]["studio"] == "court"


LONG, DUTCH = "Noir/Blanc/Rouge/Vert/Jaune/Marron/Orange/Argent", "Zwart/Wit/Rood/Groen/Geel/Bruin/Oranje/Zilver"


def test_a_suppliers_word_for_a_colour_is_said_once_and_the_size_is_not_doubled(running: Web) -> None:
    manager = signed_in(running, "marrow")

    def brought(lines: str, name: str) -> dict[str, Any]:
        sheet = bring(manager, f"Brand,Model,Sport,EU,Colour,Qty\n{lines}", name).json()
        return settle(manager, sheet, pairs="received")

    first = brought("Hue Works,Wren,court,41,Bramble,2\nHue Works,Wren,court,42,Bramble,2\n", "one.csv")
    assert write(manager, first).status_code == 200
    # In capitals it is the same size; by the word of another language it is asked about.
    capitals = brought("Hue Works,Wren,court,41,BRAMBLE,1\n", "two.csv")
    assert (capitals["asks"], capitals["counts"]) == ([], {"changed": 1})
    assert write(manager, brought(f"Hue Works,Finch,court,41,{LONG},2\n", "three.csv")).status_code == 200
    asked = brought(f"Hue Works,Finch,court,41,{DUTCH},1\n", "four.csv")
    (ask,) = asked["asks"]
    word = DUTCH.lower().replace("/", " ")
    assert (ask["field"], ask["word"], ask["lines"]) == ("colour", word, 1)
    said = settle(manager, asked, words={"colour": {word: LONG}})
    assert (said["asks"], said["counts"]) == ([], {"changed": 1})
    assert write(manager, said).status_code == 200
    # Its next list is read so.
    later = brought(f"Hue Works,Finch,court,42,{DUTCH.upper()},3\n", "five.csv")
    assert (later["asks"], later["counts"]) == ([], {"new": 1})
    assert write(manager, later).status_code == 200
    stock = manager.get("/api/stock", params={"text": "Finch"}).json()
    assert {(line["eu_label"], line["colour"], line["on_hand"]) for line in stock} == {
        (41, LONG, 3), (42, LONG, 3),
    }  # fmt: skip


def test_all_sheets_of_a_workbook_come_in_as_one_list(running: Web) -> None:
    manager = signed_in(running, "marrow")
    data = book(Note=[["Spring order"]], Football=[["Brand", "Model", "EU", "Qty"], ["Page Works", "Stoat", 42, 2]],
                Climbing=[["Style", "Label name", 40, 41, 42, 43], ["Vole", "Page Works", 1, "", "", 4]])  # fmt: skip
    first = bring(manager, data, "pages.xlsx").json()
    assert first["sheets"] == ["Note", "Football", "Climbing"]
    whole = settle(manager, first, **{"sheet": "*", "columns": [], "pairs": "received"})
    assert whole["counts"] == {"new": 3}
    assert [(r["place"], r["text"]) for r in rows(manager, whole)] == [
        ("row 2 of “Football”", "Page Works Stoat EU 42"),
        ("row 2, C of “Climbing”", "Page Works Vole EU 40"), ("row 2, F of “Climbing”", "Page Works Vole EU 43"),
    ]  # fmt: skip
    assert write(manager, whole).status_code == 200
    stock = manager.get("/api/stock", params={"text": "Page Works"}).json()
    assert {(line["eu_label"], line["on_hand"]) for line in stock} == {(42, 2), (40, 1), (43, 4)}
    # A workbook with these sheets is read whole the next time.
    data = book(Note=[["Autumn order"]], Football=[["Brand", "Model", "EU", "Qty"], ["Page Works", "Stoat", 43, 1]],
                Climbing=[["Style", "Label name", 40, 41, 42, 43], ["Vole", "Page Works", "", 2, "", ""]])  # fmt: skip
    again = bring(manager, data, "autumn.xlsx").json()
    assert (again["counts"], again["settings"]["sheet"]) == ({"new": 2}, "*")


def test_what_the_shop_pays_comes_in_goes_out_and_is_taken_back(running: Web) -> None:
    manager = signed_in(running, "marrow")
    known = bring(manager, "Brand,Model,Sport,EU,RRP\nPay Works,Wren,court,41,90.00\n", "spring.csv").json()
    assert write(manager, known).status_code == 200
    costs = "Marke;Modell;EK netto;UVP\nPay Works;Wren;41,50;90,00\nPay Works;Wren;43,00;90,00\n"
    sheet = bring(manager, costs, "ek.csv").json()
    assert [c["field"] for c in sheet["columns"]] == ["maker", "model", "cost", "price"]
    first, second = rows(manager, sheet)
    assert (first["verdict"], first["said"]) == ("changed", "It costs the shop 41.50.")
    assert (second["verdict"], "Row 2 says this model costs 41.50 EUR; that one counts." in second["said"]) == (
        "odd", True,
    )  # fmt: skip
    assert write(manager, sheet).status_code == 200

    def taken_out() -> dict[str, str]:
        (line,) = [r for r in csv.DictReader(io.StringIO(export(manager, "models", "csv").decode("utf-8-sig")))
                   if r["maker"] == "Pay Works"]  # fmt: skip
        return {n: line[n] for n in ("price", "cost", "currency")}

    assert taken_out() == {"price": "90.00", "cost": "41.50", "currency": "EUR"}
    again = bring(manager, export(manager, "models", "csv"), "again.csv").json()
    assert set(again["counts"]) == {"same"}
    assert manager.post(f"/api/sheets/{sheet['id']}/undo").status_code == 200
    assert taken_out() == {"price": "90.00", "cost": "", "currency": "EUR"}
    # A model that has a cost and no price; and a cost in another money is no cost here.
    bare = bring(
        manager, "Brand,Model,Sport,EU,Cost\nPay Works,Crake,court,41,30\nPay Works,Rail,court,41,$20\n", "c.csv"
    )
    assert bare.json()["counts"] == {"new": 1, "odd": 1}
    assert "Its cost is in USD" in rows(manager, bare.json(), verdict="odd")[0]["said"]


def test_a_price_list_of_what_is_known_needs_no_sport(running: Web) -> None:
    manager = signed_in(running, "marrow")
    assert write(manager, bring(manager, a_list("Price Works", models=2, first=8000)).json()).status_code == 200
    prices = "Brand,Model,RRP\nPrice Works,Model 0,95.00\nPrice Works,Model 1,on request\nPrice Works,Nobody's,1.00\n"
    sheet = bring(manager, prices, "prices.csv").json()
    assert sheet["counts"] == {"changed": 1, "odd": 1, "refused": 1}
    assert "names no sport" in sheet["reasons"][0]["said"]
    assert write(manager, sheet).status_code == 200
    shelf = manager.get("/api/stock", params={"text": "Price Works"}).json()
    assert {(s["name"], s["price_minor"]) for s in shelf} == {("Model 0", 9500), ("Model 1", 9100)}


def test_us_childrens_sizes_are_kept_as_printed(running: Web) -> None:
    manager = signed_in(running, "marrow")
    sheet = bring(
        manager, "Brand,Model,Sport,Size\nSmall Steps,Wren,football,13C\nSmall Steps,Wren,football,2Y\n"
    ).json()
    assert [(a["field"], a["word"]) for a in sheet["asks"]] == [("child", "C")]
    sheet = settle(manager, sheet, child="us")
    assert sheet["counts"] == {"new": 2}
    assert write(manager, sheet).status_code == 200
    shelf = manager.get("/api/stock", params={"text": "Small Steps"}).json()
    assert sorted((s["system"], s["label"], s["eu_label"]) for s in shelf) == [
        ("us_child", 13, 30.5),
        ("us_men", 2, 33.0),
    ]
