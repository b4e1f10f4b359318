"""One inside per size: every room says the same of it, readings and habits together, and a last that changed begins anew."""

from __future__ import annotations

import itertools
import uuid
from typing import Any

import httpx
import psycopg
import pytest
from psycopg.rows import dict_row

from kalon.core.fit.foot import FIT_ZONES
from kalon.core.shoes.inner import SPREADS, facts
from kalon.host.postgres import LocalServer
from kalon.store import migrate as migrations
from kalon.store.catalogue import FACTS, inside_of
from tests.api.calls import pulled, signed_in
from tests.api.test_learning import learn_now
from tests.running import Web

MEASURES = tuple(f"{zone}_mm" for zone in FIT_ZONES)


def inside(client: httpx.Client, line: str) -> dict[str, Any]:
    answer = client.get(f"/api/stock/{line}/inside")
    assert answer.status_code == 200, answer.text
    return dict(answer.json())


def read(client: httpx.Client, line: str, mm: float, source: str = "stick") -> None:
    body = {"id": str(uuid.uuid4()), "zone": "length", "mm": mm, "source": source}
    assert client.post(f"/api/stock/{line}/readings", json=body).status_code == 201


def lengths(client: httpx.Client, fitting: str, line: str) -> dict[str, float]:
    """The inner length of a size as every room has it."""
    pair = next(p for p in client.get(f"/api/fittings/{fitting}").json()["tray"] if p["id"] == line)
    fit = client.get(f"/api/fittings/{fitting}/pull/{pair['model_id']}/{pair['width']}").json()
    places = client.get(f"/api/fittings/{fitting}/pull", params={"limit": 200}).json()["places"]
    place = next(p for p in places if p["pair"]["id"] == line)
    rack = client.get("/api/rack", params={"text": pair["name"]}).json()["models"]
    settled = client.get(f"/api/fittings/{fitting}/settle/{line}").json()
    return {
        "tray": pair["length_mm"],
        "pull": place["pair"]["length_mm"],
        "settle": settled["pair"]["length_mm"],
        "fit": next(s["length_mm"] for s in fit["lines"] if s["id"] == line),
        "rack": next(s["length_mm"] for m in rack for s in m["sizes"] if s["id"] == line),
        "stock": client.get(f"/api/stock/{line}").json()["length_mm"],
        "inside": inside(client, line)["zones"]["length"]["mm"],
    }


def test_every_room_has_one_inside_of_a_size(shop: tuple[Web, str]) -> None:
    running, url = shop
    client = signed_in(running)
    learn_now(url)
    fitting, (line, other) = pulled(client, 2)

    def same(apart: float = 0.0) -> float:
        """The fitting's rooms agree, the shop's do; `apart` when something was learned since the fitting began."""
        found = lengths(client, fitting, line)
        for rooms in (("tray", "pull", "settle", "fit"), ("rack", "stock", "inside")):
            assert len({found[room] for room in rooms}) == 1, found
        assert abs(found["tray"] - found["rack"]) <= apart, found
        return found["inside"]

    first, unread = same(), inside(client, other)["zones"]["length"]
    read(client, line, first - 3)  # less than half a size: it is still the one Pull shows
    surer = same()
    assert first - 3 < surer < first - 0.5, "a reading counts at once, in a fitting under way too"
    learn_now(url)
    assert same(0.2) == pytest.approx(surer, abs=0.2), "and once, whoever learns from it since"
    tray = client.get(f"/api/fittings/{fitting}").json()["tray"]
    if tray[0]["model_id"] != tray[1]["model_id"]:
        assert inside(client, other)["zones"]["length"]["mm"] == pytest.approx(unread["mm"], abs=1.5)


def test_a_suppliers_number_is_a_reading_and_does_not_switch_learning_off(shop: tuple[Web, str]) -> None:
    """What trials told of a model moves its sizes, those a sheet has a number for too."""
    running, url = shop
    client = signed_in(running)
    learn_now(url)
    rack = client.get("/api/rack", params={"limit": 100}).json()["models"]
    size, by_habit = next(
        (size, f"label, what is learned of the {model['name']}")
        for model in rack
        for size in model["sizes"]
        if size["known_from"] == "learned"
        and inside(client, size["id"])["rests_on"]["length"] == f"label, what is learned of the {model['name']}"
    )
    before = inside(client, size["id"])
    label = size["eu_label"] * 20 / 3
    departs = before["zones"]["length"]["mm"] - label
    read(client, size["id"], label, "sheet")
    after = inside(client, size["id"])
    assert after["rests_on"]["length"] == f"{by_habit}, the maker's sheet"
    left = after["zones"]["length"]["mm"] - label
    sigma, then = after["zones"]["length"]["sigma_mm"], before["zones"]["length"]["sigma_mm"]
    assert left == pytest.approx(departs * 1.5**2 / (1.5**2 + then**2), abs=0.01)
    assert sigma == pytest.approx((then**-2 + 1.5**-2) ** -0.5, abs=0.002)
    assert then < SPREADS.whole(0)


def test_what_was_read_on_another_last_says_nothing_of_this_one(shop: tuple[Web, str]) -> None:
    running, url = shop
    client, manager = signed_in(running), signed_in(running, "marrow")
    _, (line,) = pulled(client, 1)
    pair = client.get(f"/api/stock/{line}").json()
    path = f"/api/models/{pair['model_id']}"

    def on_last(name: str) -> None:
        model = manager.get(path).json()["model"]
        body = {"change_id": str(uuid.uuid4()), "model": model | {"last": name}}
        assert manager.put(path, json=body).status_code == 200
        learn_now(url)

    on_last("First last")
    read(client, line, pair["length_mm"] + 9)
    known = inside(client, line)
    assert "one stick reading" in known["rests_on"]["length"]
    on_last("Second last")
    anew = inside(client, line)
    assert "stick" not in anew["rests_on"]["length"]
    assert len(anew["readings"]) == len(known["readings"]), "it is kept, and seen"
    assert anew["zones"]["length"]["mm"] < known["zones"]["length"]["mm"] - 3
    on_last("First last")
    assert inside(client, line)["rests_on"]["length"] == known["rests_on"]["length"]
    on_last("Second last")
    client.delete(f"/api/stock/{line}/readings/{known['readings'][-1]['id']}")
    learn_now(url)
    again = inside(client, line)["zones"]
    for zone in FIT_ZONES:  # as if it had never been read
        assert (again[zone]["mm"], again[zone]["sigma_mm"]) == pytest.approx(
            (anew["zones"][zone]["mm"], anew["zones"][zone]["sigma_mm"]), abs=0.03
        )


WIDTHS = ("narrow", "regular", "wide", "low", "classic", "AA", "B", "D", "2E", "EEE", "6E")
LABEL = {
    "eu": 42.0,
    "uk": 8.0,
    "us_men": 9.0,
    "us_women": 10.5,
    "uk_child": 11.0,
    "jp_cm": 26.5,
    "mondopoint_mm": 265.0,
}


def test_sizes_of_before_keep_what_their_labels_and_readings_say(server: LocalServer) -> None:
    """The step to this format says of every system, width and sport what the code says."""
    url = server.ensure_database("before_insides", fresh=True)
    assert migrations.migrate(url, up_to="0014_ordinary_hands")[-1] == "0014_ordinary_hands"
    chain = uuid.uuid4()
    old = ", ".join(f"{n}{part}" for part in ("_mm", "_sigma_mm") for n in FIT_ZONES)
    with psycopg.connect(url, row_factory=dict_row) as cx:
        cx.execute("INSERT INTO chain (id, name) VALUES (%s, 'Old')", [chain])
        for sport, system, width in itertools.product(
            ("climbing", "football", "lifting", "cycling", "court", "field", "ice"), LABEL, WIDTHS
        ):
            model, size = uuid.uuid4(), uuid.uuid4()
            cx.execute(
                "INSERT INTO shoe_model (id, chain_id, maker, name, sport, build, properties, choices) "
                "VALUES (%s, %s, 'M', %s, %s, 'board', '{}', '{}')",
                [model, chain, str(model), sport],
            )
            cx.execute(
                f"INSERT INTO variant (id, chain_id, model_id, width, system, label, eu_label, {old}) "
                "VALUES (%s, %s, %s, %s, %s, %s, 42, 1, 1, 1, 1, 1, 1, 1, 1)",
                [size, chain, model, width, system, LABEL[system]],
            )
            if width in ("regular", "2E"):
                cx.cursor().executemany(
                    "INSERT INTO shoe_reading (id, chain_id, variant_id, zone, mm, sigma_mm, source, set_aside_at) "
                    "VALUES (gen_random_uuid(), %s, %s, %s, %s, %s, %s, %s)",
                    [
                        (chain, size, "length", 271, None, "stick", None),
                        (chain, size, "length", 274, None, "sheet", None),
                        (chain, size, "length", 290, None, "stick", "2026-01-01"),
                        (chain, size, "ball_girth", 250, 2.0, "insole", None),
                        (chain, size, "instep_girth", 255, None, "insole", None),
                        (chain, size, "heel_width", 66, None, "measured", None),
                    ],
                )
    migrations.migrate(url)
    with psycopg.connect(url, row_factory=dict_row) as cx:
        rows = cx.execute(
            "SELECT v.*, m.sport, m.build FROM variant v JOIN shoe_model m ON m.id = v.model_id"
        ).fetchall()
        for row in rows:
            kept = cx.execute(
                "SELECT zone, mm, sigma_mm, source FROM shoe_reading WHERE variant_id = %s AND set_aside_at IS NULL",
                [row["id"]],
            ).fetchall()
            expected = facts(inside_of(row, kept))
            assert [row[n] for n in FACTS] == pytest.approx(expected, abs=1e-9), (
                row["sport"],
                row["system"],
                row["width"],
            )
    assert len(rows) == 7 * len(LABEL) * len(WIDTHS)


@pytest.mark.parametrize(("zone", "mm"), [("heel_width", 450), ("heel_width", 5), ("length", 60), ("ball_girth", 440)])
def test_a_reading_no_shoe_has_is_refused_at_its_field(shop: tuple[Web, str], zone: str, mm: float) -> None:
    client = signed_in(shop[0])
    line = client.get("/api/stock").json()[0]["id"]
    body = {"id": str(uuid.uuid4()), "zone": zone, "mm": mm, "sigma_mm": 0.5, "source": "measured"}
    answer = client.post(f"/api/stock/{line}/readings", json=body)
    assert answer.status_code == 422
    (field,) = answer.json()["fields"]
    assert field["field"] == "mm"
    assert "No shoe is" in field["text"]


def test_a_reading_no_shoe_has_that_was_kept_before_counts_nowhere(shop: tuple[Web, str]) -> None:
    """It once made a heel of 400 mm, and settling on the pair failed."""
    client = signed_in(shop[0])
    fitting, (line,) = pulled(client, 1)
    before = inside(client, line)["zones"]["heel_width"]["mm"]
    with psycopg.connect(shop[1]) as cx:
        cx.execute(
            "INSERT INTO shoe_reading (id, chain_id, variant_id, zone, mm, sigma_mm, source) SELECT gen_random_uuid(), "
            "h.chain_id, l.variant_id, 'heel_width', 450, 0.5, 'measured' FROM stock_line l JOIN shop h ON h.id = l.shop_id "
            "WHERE l.id = %s",
            [line],
        )
    good = {"id": str(uuid.uuid4()), "zone": "length", "mm": 280, "source": "insole"}
    assert (
        client.post(f"/api/stock/{line}/readings", json=good).status_code == 201
    )  # all that is known is reckoned anew
    assert inside(client, line)["zones"]["heel_width"]["mm"] == before
    assert client.get(f"/api/fittings/{fitting}/settle/{line}").status_code == 200
