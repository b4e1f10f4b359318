"""What one more costs the learner in the database: follow-ups kept summed, a commit a maker, where it stood."""

from __future__ import annotations

import uuid
from typing import Any

import psycopg
import pytest
from psycopg.rows import dict_row
from psycopg.types.json import Jsonb

from kalon.core.learn.give import StretchLearnIn, Worn, stretch_learn
from kalon.store import gives, makers
from kalon.store.learning import try_again
from tests.api.calls import patch, pulled, sell, signed_in
from tests.api.test_learning import learn_now, rows, said
from tests.running import Web

KIND = "leather_lined/plate"
BODY: dict[str, Any] = {
    "foot_mm": 265.0, "foot_sigma_mm": 0.8, "measured": "", "seen_sigma_mm": 0.7, "predicted_mm": 1.0,
    "predicted_sigma_mm": 1.5, "new_mm": -4.0, "new_sigma_mm": 0.8, "hours": 25.0, "c_mm": 3.0, "tau_h": 12.0,
    "on": "2026-05-04", "last": "", "sport": "football", "kind": KIND,
}  # fmt: skip
SEEN = (-2.2, -1.4, -1.8, -0.9, -2.0)


def of_model(url: str) -> dict[str, Any]:
    """A model of which no follow-up is known: itself, a size, its maker and chain."""
    (row,) = rows(
        url,
        "SELECT m.id AS model, v.id AS size, m.maker, m.chain_id FROM shoe_model m JOIN variant v ON v.model_id = m.id "
        "WHERE NOT EXISTS (SELECT 1 FROM evidence e JOIN variant o ON o.id = e.variant_id WHERE o.model_id = m.id) "
        "ORDER BY m.id LIMIT 1",
    )
    return row


def follow_up(url: str, of: dict[str, Any], seen_mm: float) -> int:
    """One gap seen in a worn pair of the model, on a fitting of its own; the piece's id."""
    with psycopg.connect(url, row_factory=dict_row) as cx:
        cx.execute(
            "WITH f AS (INSERT INTO fitting (id, shop_id, athlete_id, state, opened_by) "
            "SELECT %(id)s, shop_id, athlete_id, 'returned', opened_by FROM fitting LIMIT 1 RETURNING *) "
            "INSERT INTO evidence (chain_id, shop_id, fitting_id, variant_id, zone, kind, counts, body, format, staff_id) "
            "SELECT %(chain)s, f.shop_id, f.id, %(size)s, 'ball_girth', 'return', true, %(body)s, 2, f.opened_by FROM f",
            {
                "id": uuid.uuid4(),
                "chain": of["chain_id"],
                "size": of["size"],
                "body": Jsonb(BODY | {"seen_mm": seen_mm}),
            },
        )
        row = cx.execute("SELECT max(id) AS id FROM evidence").fetchone()
        assert row
        cx.execute("INSERT INTO learn_maker_due (chain_id, maker) VALUES (%s, %s)", [of["chain_id"], of["maker"]])
        return int(row["id"])


def given(url: str, model: uuid.UUID) -> dict[str, Any]:
    found = rows(url, "SELECT * FROM learned_give WHERE model_id = %s ORDER BY version DESC LIMIT 1", model)
    return found[0] if found else {}


def from_every_follow_up(url: str, model: uuid.UUID) -> float:
    """What a model's uppers give, from all that stands of everybody's, at once."""
    stands = rows(
        url,
        "SELECT DISTINCT ON (e.fitting_id, e.variant_id, e.zone) e.body, e.counts, v.model_id FROM evidence e "
        "JOIN variant v ON v.id = e.variant_id WHERE e.kind = 'return' "
        "ORDER BY e.fitting_id, e.variant_id, e.zone, e.id DESC",
    )
    worn = [
        Worn(model=str(r["model_id"]), **{n: r["body"][n] for n in gives.NAMES}) for r in stands if r["counts"]
    ]  # fmt: skip
    return stretch_learn(StretchLearnIn(evidence=worn)).models[str(model)].log_mean


def test_one_follow_up_more_is_added_and_one_taken_back_goes(shop: tuple[Web, str]) -> None:
    """After each of five, and after the third is taken back, a model gives what all of them say, reckoned at once."""
    _, url = shop
    learn_now(url)
    of = of_model(url)
    pieces = []
    for seen in SEEN:
        pieces.append(follow_up(url, of, seen))
        learn_now(url)
        known = given(url, of["model"])
        assert known["log_mean"] == pytest.approx(from_every_follow_up(url, of["model"]), abs=1e-6)
        assert known["seen"] == len(pieces)
    five = known["log_mean"]
    with psycopg.connect(url) as cx:
        cx.execute(
            "INSERT INTO evidence (chain_id, shop_id, fitting_id, variant_id, zone, kind, counts, body, format, staff_id) "
            "SELECT chain_id, shop_id, fitting_id, variant_id, zone, kind, false, body, format, staff_id FROM evidence "
            "WHERE id = %s",
            [pieces[2]],
        )
        cx.execute("INSERT INTO learn_maker_due (chain_id, maker) VALUES (%s, %s)", [of["chain_id"], of["maker"]])
    learn_now(url)
    assert given(url, of["model"])["seen"] == 4
    assert given(url, of["model"])["log_mean"] == pytest.approx(from_every_follow_up(url, of["model"]), abs=1e-6)
    assert given(url, of["model"])["log_mean"] != pytest.approx(five, abs=1e-4)


def test_what_nobody_saw_of_a_model_any_more_is_not_known_of_it(shop: tuple[Web, str]) -> None:
    """All follow-ups of a model are set aside: it gives what the table says again, to new fittings; to one that was begun
    with them, what they said."""
    _, url = shop
    learn_now(url)
    of = of_model(url)
    pieces = [follow_up(url, of, seen) for seen in (-0.2, -0.3, -0.1)]
    learn_now(url)
    factor = rows(url, "SELECT exp(log_mean) AS f FROM learned_give WHERE model_id = %s", of["model"])[0]["f"]
    assert factor > 1.1
    begun = rows(url, "SELECT max(version) AS v FROM learned_version WHERE chain_id = %s", of["chain_id"])[0]["v"]
    with psycopg.connect(url) as cx:
        cx.execute("UPDATE fitting SET learned_version = %s, touched_at = now() WHERE id = (SELECT id FROM fitting "
                   "WHERE state = 'open' LIMIT 1)", [begun])  # fmt: skip
        for piece in pieces:
            cx.execute(
                "INSERT INTO evidence_aside (id, shop_id, evidence_id, reason, staff_id) "
                "SELECT gen_random_uuid(), shop_id, id, 'A test.', staff_id FROM evidence WHERE id = %s",
                [piece],
            )
    learn_now(url)
    from kalon.store.learned import book

    with psycopg.connect(url, row_factory=dict_row) as cx:
        assert book(cx, None, [str(of["model"])]).gives[str(of["model"])] == pytest.approx(1.0)
        assert book(cx, begun, [str(of["model"])]).gives[str(of["model"])] == pytest.approx(factor)


def test_curves_summed_by_other_code_are_summed_anew(shop: tuple[Web, str]) -> None:
    _, url = shop
    learn_now(url)
    of = of_model(url)
    for seen in SEEN[:3]:
        follow_up(url, of, seen)
    learn_now(url)
    known = given(url, of["model"])["log_mean"]
    with psycopg.connect(url) as cx:
        cx.execute("UPDATE give_curve SET likely = share, pieces = '{}'")
        cx.execute("UPDATE chain SET gives_summed_by = 'older'")
        cx.execute("INSERT INTO learn_maker_due (chain_id, maker) SELECT chain_id, maker FROM shoe_model LIMIT 1")
    learn_now(url)
    assert given(url, of["model"])["log_mean"] == pytest.approx(known, abs=1e-6)
    assert {r["n"] for r in rows(url, "SELECT cardinality(pieces) AS n FROM give_curve WHERE model_id = %s",
                                 of["model"])} == {3}  # fmt: skip


def test_each_maker_is_committed_by_itself(shop: tuple[Web, str], monkeypatch: pytest.MonkeyPatch) -> None:
    """The database goes away while the second of two makers is learned: the first stays learned, the second is due."""
    _, url = shop
    learn_now(url)
    monkeypatch.setattr(makers, "TOGETHER", 0)
    names = [r["maker"] for r in rows(url, "SELECT DISTINCT m.maker FROM evidence e JOIN variant v ON v.id = e.variant_id "
                                           "JOIN shoe_model m ON m.id = v.model_id ORDER BY 1 LIMIT 2")]  # fmt: skip
    chain = rows(url, "SELECT id FROM chain c WHERE EXISTS (SELECT 1 FROM evidence e WHERE e.chain_id = c.id)")[0]["id"]
    with psycopg.connect(url) as cx:  # the first time there is too much to learn in one, all are due
        cx.execute("INSERT INTO learn_maker_due (chain_id, maker) VALUES (%s, %s)", [chain, names[1]])
    learn_now(url)
    with psycopg.connect(url) as cx:
        for name in names:
            cx.execute("INSERT INTO learn_maker_due (chain_id, maker) VALUES (%s, %s)", [chain, name])
    (before,) = rows(url, "SELECT max(version) AS v FROM learned_version WHERE chain_id = %s", chain)
    real = makers.learn

    def away(cx: Any, of: uuid.UUID, group: list[str]) -> int:
        if group == [names[1]]:
            raise psycopg.OperationalError("away")
        return real(cx, of, group)

    monkeypatch.setattr(makers, "learn", away)
    with pytest.raises(psycopg.OperationalError):
        learn_now(url)
    found = rows(url, "SELECT maker FROM learned_maker WHERE chain_id = %s AND version > %s", chain, before["v"])
    assert [r["maker"] for r in found] == [names[0]]
    assert [r["maker"] for r in rows(url, "SELECT maker FROM learn_maker_due")] == [names[1]]
    monkeypatch.setattr(makers, "learn", real)
    learn_now(url)
    assert rows(url, "SELECT maker FROM learn_maker_due") == []


def test_where_it_stood_only_saves_rounds(shop: tuple[Web, str]) -> None:
    """A fitting's verdicts learned on from where it stood, and from nothing, also where what was kept can't be read."""
    running, url = shop
    client = signed_in(running)
    learn_now(url)
    fitting, lines = pulled(client, 2)
    said(client, fitting, lines[0], toes="jam", pinches={"left:ball": 2})
    said(client, fitting, lines[1], toes="fine", verdict="pass")
    assert sell(client, fitting, lines[1], str(uuid.uuid4())).status_code == 201
    patch(client, fitting, "return", {"hours": 20, "length_mm": 7.5, "ball_girth_mm": 1.0})
    maker = client.get(f"/api/fittings/{fitting}").json()["tray"][0]["maker"]

    def known() -> dict[Any, tuple[float, float]]:
        learn_now(url)
        found = rows(
            url,
            "SELECT zone, maker, model_id, variant_id, mean_mm, sd_mm FROM learned WHERE (chain_id, maker, version) IN "
            "(SELECT chain_id, maker, max(version) FROM learned_maker GROUP BY 1, 2)",
        )
        return {(r["zone"], r["maker"], r["model_id"], r["variant_id"]): (r["mean_mm"], r["sd_mm"]) for r in found}

    on = known()
    for spoil in ("DELETE FROM learn_start", "UPDATE learn_start SET code = 'older', body = ''"):
        with psycopg.connect(url) as cx:
            cx.execute(spoil)  # type: ignore[arg-type]
            cx.execute("INSERT INTO learn_maker_due (chain_id, maker) SELECT chain_id, maker FROM shoe_model "
                       "WHERE maker = %s LIMIT 1", [maker])  # fmt: skip
        anew = known()
        assert on.keys() == anew.keys()
        assert max(abs(a - b) for k in on for a, b in zip(on[k], anew[k], strict=True)) < 1e-6
    assert rows(url, "SELECT 1 FROM learn_start WHERE code <> 'older'")


def test_nothing_is_written_of_what_did_not_move(shop: tuple[Web, str]) -> None:
    """A verdict of one maker says nothing of how uppers give: no kind and no model is written anew."""
    running, url = shop
    client = signed_in(running)
    follow_up(url, of_model(url), -1.0)
    learn_now(url)
    (before,) = rows(url, "SELECT count(*) AS n, max(version) AS v FROM learned_give")
    fitting, lines = pulled(client, 1)
    said(client, fitting, lines[0], toes="slack")
    learn_now(url)
    assert rows(url, "SELECT count(*) AS n, max(version) AS v FROM learned_give") == [before]


def test_a_follow_up_that_cannot_be_summed_is_told_and_tried_again_by_other_code(shop: tuple[Web, str]) -> None:
    """A shoe that can give nothing by the table: how uppers give is parked, the maker is learned, and once what was wrong
    is right it is summed."""
    running, url = shop
    client = signed_in(running)
    learn_now(url)
    of = of_model(url)
    piece = follow_up(url, of, -1.2)
    with psycopg.connect(url) as cx:
        cx.execute("UPDATE evidence SET body = body || '{\"c_mm\": 0}' WHERE id = %s", [piece])
    learn_now(url)
    (told,) = client.get("/api/ledger").json()["parked"]
    assert "give" in told
    assert given(url, of["model"]) == {}
    assert rows(url, "SELECT 1 FROM learned WHERE variant_id = %s", of["size"]), "all else of it is learned"
    with psycopg.connect(url) as cx:
        cx.execute("UPDATE evidence SET body = body || '{\"c_mm\": 3}' WHERE id = %s", [piece])
        cx.execute("UPDATE learn_parked SET code = 'older'")
    with psycopg.connect(url, row_factory=dict_row, autocommit=True) as cx:
        assert try_again(cx) == 1
    learn_now(url)
    assert client.get("/api/ledger").json()["parked"] == []
    assert given(url, of["model"])["seen"] == 1
    assert rows(url, "SELECT 1 FROM learn_maker_due") == []
