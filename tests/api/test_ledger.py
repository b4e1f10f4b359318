"""The ledger's figures against a count of every piece of evidence, made here by itself."""

from __future__ import annotations

import math
import statistics
import uuid
from collections import defaultdict
from datetime import UTC, datetime, timedelta
from typing import Any

import psycopg
import pytest

from tests.api.calls import pulled, signed_in
from tests.api.test_learning import learn_now, rows, said
from tests.running import Web

Shop = tuple[Web, str]
EVERY = """
    SELECT e.*, p.name AS fitter, h.name AS shop, EXISTS (
               SELECT 1 FROM evidence_aside a WHERE a.evidence_id = e.id AND a.lifted_at IS NULL) AS aside
    FROM evidence e JOIN staff p ON p.id = e.staff_id JOIN shop h ON h.id = e.shop_id
    WHERE e.chain_id = (SELECT h.chain_id FROM staff p JOIN shop h ON h.id = p.shop_id WHERE p.login = 'ilse')
    ORDER BY e.id
"""
NINE_IN_TEN = 1.6449
"""So many spreads from the mean hold nine in ten of a normal's values. NIST handbook, table of the normal."""
HERE = "Games fitting room, Harbour"


def counting(url: str) -> list[dict[str, Any]]:
    """What counts of the demo's chain: of each fitting, size, zone and kind the last word, if it wasn't taken back."""
    last = {(r["fitting_id"], r["variant_id"], r["zone"], r["kind"]): r for r in rows(url, EVERY)}
    return [r for r in last.values() if r["counts"] and not r["aside"]]


def by_fitter(pieces: list[dict[str, Any]]) -> dict[str, tuple[int, float]]:
    """Verdicts counted and the share that was fine, by fitter here and by shop elsewhere."""
    found: dict[str, list[bool]] = defaultdict(list)
    for r in pieces:
        if r["kind"] != "return":
            found[r["fitter"] if r["shop"] == HERE else r["shop"]].append(r["body"]["verdict"] == "fine")
    return {who: (len(of), sum(of) / len(of)) for who, of in found.items()}


def off_by(r: dict[str, Any]) -> float:
    """How far off a prediction was, in spreads."""
    body = r["body"]
    if r["kind"] == "return":
        spread = math.hypot(body["predicted_sigma_mm"], body["seen_sigma_mm"])
        return float(abs(body["seen_mm"] - body["predicted_mm"]) / spread)
    chance = body["fine_chance"] if body["verdict"] == "fine" else 1 - body["fine_chance"]
    return math.sqrt(-2 * math.log(max(chance, 1e-6)))


def test_what_is_counted_is_what_stands(shop: Shop) -> None:
    """Trials said twice count once, as they were said last; one set aside counts no more, and again when taken up."""
    running, url = shop
    client, manager = signed_in(running), signed_in(running, "marrow")
    fitting, (line,) = pulled(client, 1)
    said(client, fitting, line, toes="jam")
    learn_now(url)
    said(client, fitting, line, toes="fine")
    learn_now(url)

    def agrees() -> dict[str, tuple[int, float]]:
        found = client.get("/api/ledger").json()
        pieces = counting(url)
        told = {g["of"]: (g["verdicts"], pytest.approx(g["came"])) for g in found["calibration"]["groups"]
                if g["group"] == "fitter" and g["verdicts"]}  # fmt: skip
        counted = by_fitter(pieces)
        assert counted == told
        ours = sorted((r for r in pieces if r["shop"] == HERE), key=off_by, reverse=True)[: len(found["wrong"])]
        assert [w["off_by"] for w in found["wrong"]] == pytest.approx([off_by(r) for r in ours])
        returns = sorted((r for r in pieces if r["kind"] == "return"), key=lambda r: -r["id"])
        (every,) = (g for g in found["calibration"]["groups"] if g["group"] == "")
        assert every["gaps"] == len(returns)
        gaps = [r["body"]["seen_mm"] - r["body"]["predicted_mm"] for r in returns]
        assert every["off"]["mean"] == pytest.approx(statistics.mean(gaps))
        assert every["off"]["sd"] == pytest.approx(statistics.stdev(gaps))
        assert every["held"] == pytest.approx(statistics.mean(off_by(r) <= NINE_IN_TEN for r in returns))
        for give in found["gives"]:
            of = [r for r in returns if r["body"]["kind"] == give["kind"]][:60]
            drawn = [(p["zone"], p["seen_mm"], p["hours"]) for p in give["points"]]
            assert drawn == [(r["zone"], r["body"]["seen_mm"], r["body"]["hours"]) for r in of]
        return counted

    first = agrees()
    pair = client.get(f"/api/fittings/{fitting}").json()["tray"][0]
    listed = client.get("/api/ledger/evidence", params={"maker": pair["maker"]}).json()
    variants = {r["id"] for r in rows(url, "SELECT v.id FROM variant v JOIN shoe_model m ON m.id = v.model_id "
                                           "WHERE m.maker = %s", pair["maker"])}  # fmt: skip
    ours = [r["id"] for r in counting(url) if r["shop"] == HERE and r["variant_id"] in variants]
    assert [e["id"] for e in listed] == sorted(ours, reverse=True)
    piece = next(e for e in listed if e["fitting_id"] == fitting)
    assert [e["fitting_id"] for e in listed].count(fitting) == 1
    aside = f"/api/ledger/evidence/{piece['id']}/aside"
    assert manager.put(aside, json={"id": str(uuid.uuid4()), "reason": "The wrong socks."}).status_code == 204
    learn_now(url)
    fewer = agrees()
    assert fewer["Ilse Varn"][0] == first["Ilse Varn"][0] - 1
    assert manager.delete(aside).status_code == 204
    learn_now(url)
    assert agrees() == first


def test_a_makers_other_name_counts_nothing_twice(shop: Shop) -> None:
    """Every model of a maker put right: what was learned and counted of it goes with the name."""
    running, url = shop
    client, manager = signed_in(running), signed_in(running, "marrow")
    fitting, (line,) = pulled(client, 1)
    said(client, fitting, line, toes="jam")
    learn_now(url)
    maker = client.get(f"/api/fittings/{fitting}").json()["tray"][0]["maker"]
    before = {g["of"]: g["verdicts"] for g in client.get("/api/ledger").json()["calibration"]["groups"]}
    for row in rows(url, "SELECT id FROM shoe_model WHERE maker = %s", maker):
        path = f"/api/models/{row['id']}"
        model = manager.get(path).json()["model"]
        body = {"change_id": str(uuid.uuid4()), "model": model | {"maker": "Otherwise"}, "was": model}
        assert manager.put(path, json=body).status_code == 200
    learn_now(url)
    found = client.get("/api/ledger").json()
    assert {g["of"]: g["verdicts"] for g in found["calibration"]["groups"]} == before
    names = {m["maker"] for m in found["makers"]}
    assert "Otherwise" in names
    assert maker not in names


def test_what_is_long_past_is_counted_no_more(shop: Shop) -> None:
    """Two years, to the quarter a verdict was kept in."""
    running, url = shop
    client = signed_in(running)
    fitting, (line,) = pulled(client, 1)
    said(client, fitting, line, toes="jam")
    learn_now(url)
    maker = client.get(f"/api/fittings/{fitting}").json()["tray"][0]["maker"]

    def verdicts() -> int:
        (every,) = (g for g in client.get("/api/ledger").json()["calibration"]["groups"] if g["group"] == "")
        return int(every["verdicts"])

    first, now = verdicts(), datetime.now(UTC)
    for days, fewer in ((365 * 2 - 95, 0), (365 * 2 + 95, 1)):
        with psycopg.connect(url) as cx:
            cx.execute("UPDATE evidence SET at = %s WHERE fitting_id = %s", [now - timedelta(days=days), fitting])
            cx.execute("INSERT INTO learn_maker_due (chain_id, maker) SELECT DISTINCT chain_id, maker FROM shoe_model "
                       "WHERE maker = %s", [maker])  # fmt: skip
        learn_now(url)
        assert verdicts() == first - fewer


def test_who_never_finds_anything_is_told_beside_the_others(shop: Shop) -> None:
    """Two fitters of one shop, one of whom found nothing in two hundred: named, with the numbers; the other isn't."""
    client = signed_in(shop[0], "marrow")
    before = {f["name"]: f for f in client.get("/api/ledger").json()["fitters"]}
    assert len(before) > 1
    quiet, other = sorted(before)[:2]
    with psycopg.connect(shop[1]) as cx:
        cx.execute("CREATE TEMP TABLE came_true_then AS TABLE came_true")
        cx.execute("DELETE FROM came_true")
        for name, fine in ((quiet, 200), (other, 150)):
            cx.execute(
                "INSERT INTO came_true (chain_id, maker, staff_id, sport, kind, quarter, fifth, count, fine) "
                "SELECT h.chain_id, 'Orvane', p.id, 'football', 'trial', date_trunc('quarter', now()), 4, 200, %s "
                "FROM staff p JOIN shop h ON h.id = p.shop_id WHERE p.name = %s",
                [fine, name],
            )
        cx.commit()
        now = {f["name"]: f for f in client.get("/api/ledger").json()["fitters"]}
        cx.execute("DELETE FROM came_true")
        cx.execute("INSERT INTO came_true TABLE came_true_then")
    assert now[quiet]["careless"] is True
    assert now[quiet]["says"][0].startswith(f"{quiet} found everything fine in 200 verdicts; of the others' 200, 50")
    assert not any("found everything fine" in said for said in now[other]["says"])
