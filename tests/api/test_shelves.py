"""The shelf each process keeps: whatever changes it is on the next Pull, whoever did it and in whichever order."""

from __future__ import annotations

import uuid
from collections.abc import Iterator
from threading import Event, Thread
from typing import Any

import psycopg
import pytest
from psycopg.rows import dict_row

from kalon.core.remembered import forget_all
from kalon.store import shelves
from tests.api.calls import pulled, sell, signed_in
from tests.api.test_learning import rows, said
from tests.running import TOKENS, Web, addresses_of

Cx = psycopg.Connection[dict[str, Any]]


def seen(running: Web, client: Any, fitting: str) -> set[str]:
    """The lines a Pull has places for, of many."""
    found = client.get(f"/api/fittings/{fitting}/pull", params={"limit": 200}).json()
    return {p["pair"]["id"] for p in found["places"]}


def change(url: str, statement: str, *given: Any) -> None:
    with psycopg.connect(url) as cx:
        cx.execute(statement, given)  # type: ignore[arg-type]


def test_what_is_sold_out_is_not_pulled_and_what_came_is(shop: tuple[Web, str]) -> None:
    running, url = shop
    client = signed_in(running)
    fitting, lines = pulled(client, 1)
    assert seen(running, client, fitting) == seen(running, client, fitting)
    (line,) = lines
    assert line in seen(running, client, fitting)
    change(url, "UPDATE stock_line SET on_hand = 0 WHERE id = %s", line)
    assert line not in seen(running, client, fitting)
    change(url, "UPDATE stock_line SET on_hand = 2 WHERE id = %s", line)
    assert line in seen(running, client, fitting)
    change(url, "UPDATE stock_line SET on_hand = 1 WHERE id = %s", line)
    assert line in seen(running, client, fitting)


def test_the_last_pair_sold_goes_from_the_shelf(shop: tuple[Web, str]) -> None:
    running, url = shop
    client = signed_in(running)
    first, (line,) = pulled(client, 1)
    other, _ = pulled(client, 1)
    change(url, "UPDATE stock_line SET on_hand = 1 WHERE id = %s", line)
    assert line in seen(running, client, other)
    said(client, first, line, verdict="pass", toes="fine")
    assert sell(client, first, line, str(uuid.uuid4())).status_code == 201
    assert line not in seen(running, client, other)


def test_a_size_read_anew_is_weighed_anew(shop: tuple[Web, str]) -> None:
    """A stick in the shoe says it is four centimetres longer: it is no longer anywhere near the foot."""
    running, url = shop
    client = signed_in(running)
    fitting, (line,) = pulled(client, 1)
    assert line in seen(running, client, fitting)
    (size,) = rows(url, "SELECT v.* FROM variant v JOIN stock_line l ON l.variant_id = v.id WHERE l.id = %s", line)
    change(url, "UPDATE variant SET length_read_mm = coalesce(length_read_mm, length_label_mm) + 40, "
                "length_read_sigma_mm = 0.5 WHERE id = %s", size["id"])  # fmt: skip
    assert line not in seen(running, client, fitting)
    change(url, "UPDATE variant SET length_read_mm = %s, length_read_sigma_mm = %s WHERE id = %s",
           size["length_read_mm"], size["length_read_sigma_mm"], size["id"])  # fmt: skip
    assert line in seen(running, client, fitting)


def shelf_of(cx: Cx, sport: str = "football", **here: bool) -> list[tuple[Any, ...]]:
    """A shelf with everything in it, in its order."""
    shoes, lines = shelves.shelf(cx, sport, **here)
    ids = [lines.line_ids[n] for n in range(len(lines.shoe))]
    return list(
        zip((shoes[n].id for n in lines.shoe), lines.label.tolist(), ids, map(str, lines.read.mm.tolist()), strict=True)
    )


def enter(cx: Cx) -> None:
    cx.execute("SELECT set_config('kalon.token', %s, false)", [TOKENS["ilse"]])


@pytest.fixture
def signed(shop: tuple[Web, str]) -> Iterator[tuple[Cx, str]]:
    """A connection that reads as a signed-in fitter does, each question in a transaction of its own."""
    _, url = shop
    with psycopg.connect(addresses_of(url).app, row_factory=dict_row, autocommit=True) as cx:
        enter(cx)
        yield cx, url


def test_a_kept_shelf_is_the_one_there_is_after_many_changes(signed: tuple[Cx, str]) -> None:
    """Forty changes of every kind, a few at a time; after each lot what is kept is what is read from nothing."""
    cx, url = signed
    shelf_of(cx)
    changes = (
        "UPDATE stock_line SET on_hand = 0 WHERE id IN (SELECT id FROM stock_line WHERE on_hand > 0 ORDER BY md5(id::text || %(n)s) LIMIT 3)",
        "UPDATE stock_line SET on_hand = 2 WHERE id IN (SELECT id FROM stock_line WHERE on_hand = 0 ORDER BY md5(id::text || %(n)s) LIMIT 2)",
        "UPDATE variant SET length_read_mm = 270, length_read_sigma_mm = 1 WHERE id IN (SELECT id FROM variant ORDER BY md5(id::text || %(n)s) LIMIT 3)",
        "UPDATE variant SET retired_at = now() WHERE id IN (SELECT id FROM variant ORDER BY md5(id::text || %(n)s) LIMIT 2)",
        "INSERT INTO variant SELECT (jsonb_populate_record(v, jsonb_build_object('id', gen_random_uuid(), 'gtin', NULL, 'colour', 'made up ' || %(n)s))).* FROM variant v WHERE id = (SELECT id FROM variant ORDER BY md5(id::text || %(n)s) LIMIT 1)",
        "UPDATE shoe_model SET sport = 'court' WHERE id = (SELECT id FROM shoe_model WHERE sport = 'football' ORDER BY md5(id::text || %(n)s) LIMIT 1)",
    )
    for n in range(12):
        with psycopg.connect(url) as other:
            for k, statement in enumerate(changes):
                if (n + k) % 3 < 2:
                    other.execute(statement, {"n": str(n)})  # type: ignore[arg-type]
        for here in (True, False):
            kept = shelf_of(cx, here=here)
            forget_all()
            assert kept == shelf_of(cx, here=here)
            assert len(kept) > 30


def test_a_change_that_was_begun_before_a_shelf_was_read_and_ended_after_is_seen(signed: tuple[Cx, str]) -> None:
    """The classic of counters: a row with a lower number that is committed after a higher one was read."""
    cx, url = signed
    before = shelf_of(cx)
    slow, quick = before[0][2], before[1][2]
    begun, go, done = Event(), Event(), Event()

    def slowly() -> None:
        with psycopg.connect(url) as other:
            other.execute("UPDATE stock_line SET on_hand = 0 WHERE id = %s", [slow])
            begun.set()
            go.wait(20)
        done.set()

    work = Thread(target=slowly)
    work.start()
    assert begun.wait(20)
    change(url, "UPDATE stock_line SET on_hand = 0 WHERE id = %s", quick)
    between = {row[2] for row in shelf_of(cx)}
    assert slow in between
    assert quick not in between
    go.set()
    assert done.wait(20)
    work.join()
    assert slow not in {row[2] for row in shelf_of(cx)}
    change(url, "UPDATE stock_line SET on_hand = 1 WHERE id = ANY(%s)", [slow, quick])
    assert shelf_of(cx) == before


def test_what_one_changed_oneself_and_took_back_was_never_on_the_shelf(signed: tuple[Cx, str]) -> None:
    """Within a transaction that changes something nothing is kept: it may be undone."""
    cx, url = signed
    before = shelf_of(cx)
    with psycopg.connect(url, row_factory=dict_row) as own:
        enter(own)
        own.execute("UPDATE stock_line SET on_hand = 0 WHERE id = %s", [before[0][2]])
        assert before[0][2] not in {row[2] for row in shelf_of(own)}
        own.rollback()
    assert shelf_of(cx) == before


def test_more_than_is_worth_naming_is_one_row(signed: tuple[Cx, str]) -> None:
    cx, url = signed
    shelf_of(cx)
    change(url, "INSERT INTO variant SELECT (jsonb_populate_record(v, jsonb_build_object('id', gen_random_uuid(), "
                "'gtin', NULL, 'colour', 'colour ' || n))).* FROM variant v, generate_series(1, 2001) n "
                "WHERE v.id = (SELECT id FROM variant ORDER BY id LIMIT 1)")  # fmt: skip
    assert rows(url, "SELECT count(*) AS n FROM shelf_change WHERE variant_id IS NULL")[0]["n"] == 1
    kept = shelf_of(cx, here=False)
    forget_all()
    assert kept == shelf_of(cx, here=False)
    change(url, "DELETE FROM variant WHERE starts_with(colour, 'colour ')")


def test_changes_are_kept_for_a_day_and_a_shelf_for_less(
    signed: tuple[Cx, str], monkeypatch: pytest.MonkeyPatch
) -> None:
    """What changed goes after a day; a shelf that nobody asked for since is read from nothing then."""
    cx, url = signed
    before = shelf_of(cx)
    change(url, "UPDATE stock_line SET on_hand = 0 WHERE id = %s", before[0][2])
    change(url, "UPDATE shelf_change SET at = now() - interval '25 hours'")
    with psycopg.connect(url, row_factory=dict_row) as own:
        shelves.forget_old(own)
    assert rows(url, "SELECT 1 FROM shelf_change") == []
    monkeypatch.setattr(shelves, "KEPT_FOR_S", 0.0)
    assert before[0][2] not in {row[2] for row in shelf_of(cx)}
    change(url, "UPDATE stock_line SET on_hand = 1 WHERE id = %s", before[0][2])
    with psycopg.connect(url, row_factory=dict_row) as own:
        shelves.forget_old(own)
    assert rows(url, "SELECT 1 FROM shelf_change")


def test_a_shoe_with_nothing_near_keeps_all_its_lines(signed: tuple[Cx, str]) -> None:
    """So that it is ranked, and said not to fit, and not passed over in silence."""
    cx, _ = signed
    _, every = shelves.shelf(cx, "football")
    _, far = shelves.shelf(cx, "football", (5000.0, 5001.0))
    assert far.shoe.tolist() == every.shoe.tolist()
    length = float(every.box[0, 0])
    shoes, near = shelves.shelf(cx, "football", (length - 0.5, length + 0.5))
    assert set(near.shoe.tolist()) == set(every.shoe.tolist())
    own = near.box[near.shoe == every.shoe[0], 0]
    assert abs(own - length).max() <= 0.5
    assert len(own) < (every.shoe == every.shoe[0]).sum()
    assert len(shoes) >= len(set(near.shoe.tolist()))
