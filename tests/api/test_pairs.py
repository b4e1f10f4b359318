"""Pairs owned: from a sale and by hand, logged and looked at once, put away, bought again; lives learned; plans; squads."""

from __future__ import annotations

import csv
import io
import json
import uuid
from datetime import timedelta
from typing import Any

import httpx
import psycopg
import pytest
from psycopg.rows import dict_row
from pypdf import PdfReader

from kalon.files import sheets as files
from kalon.store import lives
from tests.api.calls import new_athlete, new_fitting, patch, pulled, ready_to_pull, sell, signed_in, take_back, today
from tests.running import Web


def old() -> dict[str, Any]:
    """What is said of a pair bought elsewhere ten weeks ago."""
    since = (today() - timedelta(days=70)).isoformat()
    return {
        "name": "An old boot", "sport": "football", "discipline": "match", "surface": "firm_natural", "size": "EU 42",
        "bought_on": since, "begun_on": since, "hours_per_week": 4,
    }  # fmt: skip


@pytest.fixture
def fitter(shop: tuple[Web, str]) -> httpx.Client:
    return signed_in(shop[0])


def kept(client: httpx.Client, athlete: str, pair: str | None = None, version: int = 0, **more: Any) -> httpx.Response:
    body = {"change_id": str(uuid.uuid4()), "version": version, "pair": old() | more}
    return client.put(f"/api/athletes/{athlete}/pairs/{pair or uuid.uuid4()}", json=body)


def an_old_pair(client: httpx.Client, name: str = "Owns Boots", **more: Any) -> tuple[str, dict[str, Any]]:
    athlete = new_athlete(client, name)
    answer = kept(client, athlete, **more)
    assert answer.status_code == 200, answer.text
    return athlete, answer.json()["pair"]


def learn_lives(url: str) -> int:
    """What the learner does when it is woken."""
    with psycopg.connect(url, row_factory=dict_row, autocommit=True) as cx:
        return lives.run_due(cx)


def test_a_sale_is_a_pair_owned_until_it_is_taken_back(fitter: httpx.Client) -> None:
    fitting, (line,) = pulled(fitter, 1)
    whole = fitter.get(f"/api/fittings/{fitting}").json()
    athlete = whole["athlete"]["id"]
    assert fitter.get(f"/api/athletes/{athlete}/pairs").json() == []
    sale = str(uuid.uuid4())
    for _ in range(2):
        assert sell(fitter, fitting, line, sale).status_code == 201
    (pair,) = fitter.get(f"/api/athletes/{athlete}/pairs").json()
    sold = whole["tray"][0]
    assert (pair["sold_here"], pair["maker"], pair["name"]) == (True, sold["maker"], sold["name"])
    assert (pair["sport"], pair["discipline"], pair["hours_per_week"]) == ("football", "match", 3.0)
    assert pair["wear"]["word"] == "fresh"
    assert pair["ready_on"] is not None
    take_back(fitter, fitting)
    assert fitter.get(f"/api/athletes/{athlete}/pairs").json() == []
    assert fitter.get(f"/api/pairs/{pair['id']}").status_code == 404


def test_a_pair_bought_elsewhere_is_kept_once_and_changed_by_one_hand_at_a_time(fitter: httpx.Client) -> None:
    athlete = new_athlete(fitter, "Two Hands")
    pair, change = str(uuid.uuid4()), str(uuid.uuid4())
    body = {"change_id": change, "version": 0, "pair": old()}
    url = f"/api/athletes/{athlete}/pairs/{pair}"
    first = fitter.put(url, json=body).json()
    assert fitter.put(url, json=body).json() == first
    assert len(fitter.get(f"/api/athletes/{athlete}/pairs").json()) == 1
    assert first["pair"]["reckoned_h"] == pytest.approx(40)
    assert kept(fitter, athlete, pair, first["pair"]["version"], note="heel worn").json()["pair"]["note"] == "heel worn"
    stale = kept(fitter, athlete, pair, first["pair"]["version"], note="other")
    assert (stale.status_code, stale.json()["code"]) == (409, "changed-elsewhere")
    assert kept(fitter, new_athlete(fitter, "Somebody Else"), pair, 2).json()["code"] == "id-used"
    assert fitter.put(url, json=body | {"change_id": str(uuid.uuid4()), "version": 9}).status_code == 409


@pytest.mark.parametrize("bad", [
    {"discipline": "chess"}, {"begun_on": "2020-01-01"}, {"hours_per_week": 200}, {"name": ""}, {"sport": "golf"},
    {"price_minor": -1}, {"surface": "lava"},
])  # fmt: skip
def test_what_cant_be_a_pair_is_refused(fitter: httpx.Client, bad: dict[str, Any]) -> None:
    assert kept(fitter, new_athlete(fitter, "Bad Pair"), **bad).status_code == 422


def test_a_wear_is_logged_once_and_can_be_taken_out(fitter: httpx.Client) -> None:
    _, pair = an_old_pair(fitter)
    path, entry = f"/api/pairs/{pair['id']}", str(uuid.uuid4())
    body = {"id": entry, "on": today().isoformat(), "minutes": 90}
    before = fitter.get(path).json()["pair"]
    for _ in range(2):
        now = fitter.post(f"{path}/worn", json=body).json()
    assert [w["minutes"] for w in now["worn"]] == [90]
    assert now["pair"]["logged_h"] == 1.5
    assert now["pair"]["reckoned_h"] == pytest.approx(before["reckoned_h"])
    _, other = an_old_pair(fitter)
    assert fitter.post(f"/api/pairs/{other['id']}/worn", json=body).json()["code"] == "id-used"
    for _ in range(2):
        after = fitter.delete(f"{path}/worn/{entry}").json()
    assert after["worn"] == []
    assert after["pair"]["logged_h"] == 0
    assert fitter.delete(f"{path}/worn/{uuid.uuid4()}").status_code == 404
    for day in (today() + timedelta(days=2), today() - timedelta(days=100)):
        refused = fitter.post(f"{path}/worn", json=body | {"id": str(uuid.uuid4()), "on": day.isoformat()})
        assert refused.status_code == 422


def test_looking_at_a_pair_moves_what_is_left_of_it(fitter: httpx.Client) -> None:
    _, pair = an_old_pair(fitter)
    path = f"/api/pairs/{pair['id']}"
    seen = {"sole": "bald", "midsole": "pressed", "studs": "nubs"}
    tried = fitter.post(f"{path}/seen/try", json={"seen": seen}).json()
    assert fitter.get(path).json()["seen"] == []
    body = {"id": str(uuid.uuid4()), "on": today().isoformat(), "seen": seen}
    for _ in range(2):
        now = fitter.post(f"{path}/seen", json=body).json()
    assert len(now["seen"]) == 1
    assert now["pair"]["wear"]["median_h"] == pytest.approx(tried["wear"]["median_h"])
    assert now["pair"]["wear"]["median_h"] < pair["wear"]["median_h"]
    assert any("Replace the studs" in s for s in now["pair"]["says"])
    assert now["pair"]["last_seen"] == today().isoformat()
    assert now["pair"]["look_on"] > today().isoformat()
    back = fitter.delete(f"{path}/seen/{body['id']}").json()
    assert back["pair"]["wear"]["median_h"] == pytest.approx(pair["wear"]["median_h"])
    unknown = fitter.post(f"{path}/seen", json=body | {"id": str(uuid.uuid4()), "seen": {"downturn": "flat"}})
    assert unknown.status_code == 422
    fresh = fitter.post(f"{path}/seen/try", json={"seen": {"sole": "bald", "midsole": "pressed", "quarter": "soft"}})
    assert fresh.status_code == 200


def test_hours_that_cant_be_are_asked_about(fitter: httpx.Client) -> None:
    day = (today() - timedelta(days=3)).isoformat()
    _, pair = an_old_pair(fitter, bought_on=day, begun_on=day)
    tried = fitter.post(f"/api/pairs/{pair['id']}/seen/try", json={"seen": {"sole": "bald", "midsole": "pressed"}})
    assert any("are its hours right?" in a for a in tried.json()["says"]["advice"])


def test_a_pair_is_put_away_and_taken_up_again(fitter: httpx.Client) -> None:
    athlete, pair = an_old_pair(fitter)
    path, change = f"/api/pairs/{pair['id']}", str(uuid.uuid4())
    for _ in range(2):
        ended = fitter.post(f"{path}/end", json={"change_id": change, "why": "lost"}).json()
    assert ended["pair"]["ended_on"] == today().isoformat()
    assert fitter.get(f"/api/athletes/{athlete}/pairs").json()[-1]["ended_why"] == "lost"
    again = fitter.post(f"{path}/end", json={"change_id": str(uuid.uuid4()), "why": None}).json()
    assert again["pair"]["ended_on"] is None
    for _ in range(2):
        assert fitter.delete(path).status_code == 204
    assert fitter.get(path).status_code == 404
    fitting, (line,) = pulled(fitter, 1)
    sell(fitter, fitting, line)
    here = fitter.get(f"/api/fittings/{fitting}").json()
    (sold,) = fitter.get(f"/api/athletes/{here['athlete']['id']}/pairs").json()
    assert fitter.delete(f"/api/pairs/{sold['id']}").json()["code"] == "sold-here"
    renamed = kept(
        fitter, here["athlete"]["id"], sold["id"], sold["version"], name="Another name", begun_on=sold["begun_on"]
    ).json()["pair"]
    assert renamed["name"] == sold["name"]


def test_lives_are_learned_from_what_was_seen(shop: tuple[Web, str], fitter: httpx.Client) -> None:
    learn_lives(shop[1])
    before = fitter.get("/api/lives").json()
    for i in range(6):
        _, pair = an_old_pair(fitter, f"Wears Fast {i}", hours_per_week=3)
        body = {"change_id": str(uuid.uuid4()), "why": "worn_out"}
        assert fitter.post(f"/api/pairs/{pair['id']}/end", json=body).status_code == 200
    _, watched = an_old_pair(fitter, "Watched")
    assert learn_lives(shop[1]) > 0
    assert learn_lives(shop[1]) == 0
    after = fitter.get("/api/lives").json()
    assert after["seen"] == before["seen"] + 6
    assert after["learned"]["ground:natural"]["mean"] < before["learned"]["ground:natural"]["mean"]
    now = fitter.get(f"/api/pairs/{watched['id']}").json()
    assert now["usual"]["median_h"] < watched["wear"]["median_h"]
    assert fitter.delete(f"/api/pairs/{pair['id']}").status_code in (200, 204)
    with psycopg.connect(shop[1]) as cx:
        cx.execute("INSERT INTO life_due (chain_id) SELECT chain_id FROM shop LIMIT 1")
    learn_lives(shop[1])
    assert fitter.get("/api/lives").json()["seen"] == after["seen"] - 1  # a pair taken out of the records tells nothing


def test_one_pair_that_cant_be_read_keeps_no_other_from_being_learned_from(
    shop: tuple[Web, str], fitter: httpx.Client
) -> None:
    """A record spoilt by whatever: it keeps what was known of it, is in the log, and the chain's lives go on."""
    learn_lives(shop[1])
    before = fitter.get("/api/lives").json()
    _, spoilt = an_old_pair(fitter, "Spoilt")
    _, good = an_old_pair(fitter, "Good")
    look = {"seen": {"sole": "bald", "midsole": "pressed"}, "on": today().isoformat()}
    for pair in (spoilt, good):
        answer = fitter.post(f"/api/pairs/{pair['id']}/seen", json=look | {"id": str(uuid.uuid4())})
        assert answer.status_code == 200, answer.text
    with psycopg.connect(shop[1]) as cx:
        cx.execute('UPDATE pair_seen SET seen = \'{"sole": "of cheese"}\' WHERE pair_id = %s', [spoilt["id"]])
        cx.execute("UPDATE pair SET median_h = 1 WHERE id = ANY(%s)", [[spoilt["id"], good["id"]]])
        cx.execute("INSERT INTO life_due (chain_id) SELECT chain_id FROM shop WHERE id = "
                   "(SELECT shop_id FROM pair WHERE id = %s)", [good["id"]])  # fmt: skip
    assert learn_lives(shop[1]) > 0
    assert fitter.get("/api/lives").json()["seen"] == before["seen"] + 1
    with psycopg.connect(shop[1]) as cx:
        kept = dict(cx.execute("SELECT id::text, median_h FROM pair WHERE id = ANY(%s)",
                               [[spoilt["id"], good["id"]]]).fetchall())  # fmt: skip
        assert cx.execute("SELECT count(*) FROM learn_parked WHERE kind = 'lives'").fetchone() == (0,)
        cx.execute("UPDATE pair_seen SET undone_at = now() WHERE pair_id = %s", [spoilt["id"]])
    assert kept[spoilt["id"]] == 1
    assert kept[good["id"]] > 1


def test_hours_told_at_the_follow_up_are_the_pairs(shop: tuple[Web, str], fitter: httpx.Client) -> None:
    """Nine hours typed at Return, and the pair's page said none."""
    fitting, (line,) = pulled(fitter, 1)
    assert sell(fitter, fitting, line).status_code == 201
    assert patch(fitter, fitting, "return", {"hours": 9}).status_code == 200
    athlete = fitter.get(f"/api/fittings/{fitting}").json()["athlete"]["id"]
    (pair,) = fitter.get(f"/api/athletes/{athlete}/pairs").json()
    assert pair["logged_h"] == 9
    learn_lives(shop[1])
    with psycopg.connect(shop[1]) as cx:
        assert cx.execute("SELECT worn_h FROM pair WHERE id = %s", [pair["id"]]).fetchone() == (9.0,)
    assert patch(fitter, fitting, "return", {"hours": None}).status_code == 200
    (pair,) = fitter.get(f"/api/athletes/{athlete}/pairs").json()
    assert pair["logged_h"] == 0


def test_nobody_who_logs_waits_for_what_is_learned_of_a_chain(shop: tuple[Web, str], fitter: httpx.Client) -> None:
    """While what is kept of a chain's pairs is brought up, one pair that somebody holds makes only itself wait."""
    learn_lives(shop[1])
    _, held = an_old_pair(fitter, "Held Fast")
    _, other = an_old_pair(fitter, "Logs Now")
    with psycopg.connect(shop[1], row_factory=dict_row) as one:
        one.execute("SELECT 1 FROM pair WHERE id = %s FOR UPDATE", [other["id"]])
        with psycopg.connect(shop[1], row_factory=dict_row, autocommit=True) as learner:
            learner.execute("SET lock_timeout = '2s'")
            chain = learner.execute("SELECT chain_id FROM shop WHERE id = (SELECT shop_id FROM pair WHERE id = %s)",
                                    [held["id"]]).fetchone()  # fmt: skip
            assert chain is not None
            learner.execute("INSERT INTO life_due (chain_id) VALUES (%s)", [chain["chain_id"]])
            with pytest.raises(psycopg.errors.LockNotAvailable):
                lives.run_due(learner)  # it waits for that pair itself, and is tried again
        body = {"id": str(uuid.uuid4()), "on": held["begun_on"], "minutes": 30}
        assert fitter.post(f"/api/pairs/{held['id']}/worn", json=body).status_code == 200


def test_a_price_counts_against_the_shops_own(shop: tuple[Web, str], fitter: httpx.Client) -> None:
    """The median of ten models or more of its own shelf; a pair twice as dear lasts longer than one at half of it, and
    at a hundred and fifty thousand a sale succeeds."""
    learn_lives(shop[1])
    with psycopg.connect(shop[1], row_factory=dict_row) as cx:
        usual = {r["sport"]: r for r in cx.execute("SELECT * FROM shop_price WHERE models >= 10").fetchall()}
    assert "football" in usual
    minor = usual["football"]["price_minor"]
    _, dear = an_old_pair(fitter, "Buys Dear", price_minor=round(2 * minor))
    _, cheap = an_old_pair(fitter, "Buys Cheap", price_minor=round(minor / 2))
    _, unknown = an_old_pair(fitter, "Nobody Knows", price_minor=None)
    assert dear["wear"]["median_h"] > unknown["wear"]["median_h"] > cheap["wear"]["median_h"]
    fitting, (line,) = pulled(fitter, 1)
    with psycopg.connect(shop[1]) as cx:
        of = ("SELECT p.shop_id, p.model_id, p.price_minor FROM stock_line l JOIN variant v ON v.id = l.variant_id "
              "JOIN model_price p ON p.model_id = v.model_id AND p.shop_id = l.shop_id WHERE l.id = %s")  # fmt: skip
        (priced,) = cx.execute(of, [line]).fetchall()
        give = "UPDATE model_price SET price_minor = %s WHERE shop_id = %s AND model_id = %s"
        cx.execute(give, [15_000_000, *priced[:2]])
    assert fitter.get(f"/api/fittings/{fitting}/costs").status_code == 200
    assert sell(fitter, fitting, line).status_code == 201
    with psycopg.connect(shop[1]) as cx:
        cx.execute(give, [priced[2], *priced[:2]])


def test_what_stands_on_the_box_is_what_every_page_says(shop: tuple[Web, str], fitter: httpx.Client) -> None:
    fitting, (line,) = pulled(fitter, 1)
    with psycopg.connect(shop[1]) as cx:
        cx.execute(
            "UPDATE variant v SET system = 'eu', label = floor(eu_label) + 0.333 FROM stock_line l "
            "WHERE l.id = %s AND v.id = l.variant_id",
            [line],
        )
    assert sell(fitter, fitting, line).status_code == 201
    person = fitter.get(f"/api/fittings/{fitting}").json()["athlete"]["id"]
    page = fitter.get(f"/api/athletes/{person}").json()
    (sold,) = [f for f in page["fittings"] if f["pair"]]
    assert sold["size"].endswith("⅓")
    (pair,) = fitter.get(f"/api/athletes/{person}/pairs").json()
    again = fitter.get(f"/api/pairs/{pair['id']}/again").json()["again"]
    assert sold["size"] in next(p["text"] for p in again["points"] if p["about"] == "size")
    fitter.put(f"/api/fittings/{fitting}/follow-up", json={"due_on": (today() + timedelta(days=1)).isoformat()})
    said = [
        i["text"]
        for i in fitter.get("/api/today").json()["items"]
        if i["athlete_id"] == person and i["kind"] == "follow_up"
    ]
    assert said == [f"{sold['pair']} {sold['size']}: how has it settled?"]


def test_the_same_again(fitter: httpx.Client) -> None:
    fitting, (line,) = pulled(fitter, 1)
    athlete = fitter.get(f"/api/fittings/{fitting}").json()["athlete"]["id"]
    sell(fitter, fitting, line)
    (pair,) = fitter.get(f"/api/athletes/{athlete}/pairs").json()
    found = fitter.get(f"/api/pairs/{pair['id']}/again").json()
    assert found["again"]["verdict"] in ("same", "other_size", "like_it")
    assert {p["about"] for p in found["again"]["points"]} == {"feet", "felt", "sold", "last", "size"}
    assert found["nearest"]
    assert all(n["differs"] for n in found["nearest"] if n["like"] < 0.95)
    likes = [n["like"] for n in found["nearest"]]
    assert max(likes) == likes[0]
    grown = new_fitting(fitter, athlete)
    values = {f"{s}/length_mm": 271 for s in ("left", "right")} | {f"{s}/ball_girth_mm": 250 for s in ("left", "right")}
    assert patch(fitter, grown, "feet", values).status_code == 200
    later = fitter.get(f"/api/pairs/{pair['id']}/again").json()["again"]
    assert later["verdict"] != "same"
    assert "longer at the toe" in later["points"][0]["text"]
    other = new_fitting(fitter, athlete)
    assert patch(fitter, other, "feet", {k: 281 if "length" in k else 252 for k in values}).status_code == 200
    assert patch(fitter, other, "brief", {"sport": "court", "discipline": "squash", "body_kg": 70}).status_code == 200
    newest = fitter.get(f"/api/pairs/{pair['id']}/again").json()["again"]["points"][0]["text"]
    assert newest != later["points"][0]["text"], "feet measured for another sport count too"
    _, elsewhere = an_old_pair(fitter)
    assert fitter.get(f"/api/pairs/{elsewhere['id']}/again").json()["again"]["verdict"] == "measure_first"


def test_settle_names_the_pair_that_plays_instead(fitter: httpx.Client) -> None:
    athlete, pair = an_old_pair(fitter, "Plays Soon")
    soon = (today() + timedelta(days=1)).isoformat()
    fitting, (line,) = pulled(fitter, 1, athlete=athlete, event_on=soon)
    found = fitter.get(f"/api/fittings/{fitting}/settle/{line}").json()
    assert not found["plan"]["in_time"]
    assert (
        "play the event in the old one" in found["plan"]["old_pair"] or "Leave this pair" in found["plan"]["old_pair"]
    )
    assert found["old_pair"].startswith(pair["name"])
    assert found["in_a_word"].startswith("It ")
    lost = {"change_id": str(uuid.uuid4()), "why": "lost"}
    assert fitter.post(f"/api/pairs/{pair['id']}/end", json=lost).status_code == 200
    found = fitter.get(f"/api/fittings/{fitting}/settle/{line}").json()
    assert pair["name"] not in found["old_pair"]  # what is lost plays no more


# --- plans


def test_a_plan_is_kept_and_tried_out(fitter: httpx.Client) -> None:
    athlete, pair = an_old_pair(fitter, "Plans Ahead")
    query = {"athlete": athlete}
    refused = fitter.get("/api/plan", params=query)
    assert (refused.status_code, refused.json()["code"]) == (422, "nothing-to-plan")
    pulled(fitter, 1, athlete=athlete)
    page = fitter.get("/api/plan", params=query).json()
    assert [n["sport"] for n in page["needs"]] == ["football"]
    assert page["needs"][0]["share"] == pytest.approx(1)
    assert page["owned"][0]["id"] == pair["id"]
    assert page["out"]["spent"] <= 300
    hall = {"athlete_id": athlete, "sport": "court", "discipline": "squash", "floor": "sprung_wood"}
    body = page["body"] | {"budget": 250, "more": [hall], "drop": [pair["id"]]}
    tried = fitter.post("/api/plan/try", params=query, json={"body": body}).json()
    assert [n["sport"] for n in tried["needs"]] == ["football", "court"]
    assert sum(n["share"] for n in tried["needs"]) == pytest.approx(1)
    assert tried["out"]["value_now"] == 0
    assert fitter.get("/api/plan", params=query).json()["version"] == 0
    kept_ = fitter.put("/api/plan", params=query, json={"version": 0, "body": body}).json()
    assert kept_["version"] == 1
    assert kept_["out"]["curve"]
    assert fitter.put("/api/plan", params=query, json={"version": 0, "body": body}).json()["version"] == 1
    other = fitter.put("/api/plan", params=query, json={"version": 0, "body": body | {"budget": 99}})
    assert (other.status_code, other.json()["code"]) == (409, "changed-elsewhere")
    shares = {n["id"]: s for n, s in zip(kept_["needs"], (0.25, 0.75), strict=True)}
    now = fitter.post("/api/plan/try", params=query, json={"body": body | {"shares": shares}}).json()
    assert [n["share"] for n in now["needs"]] == pytest.approx([0.25, 0.75])
    bought = [b["id"] for b in now["out"]["buy"][:1]]
    if bought:
        as_if = fitter.post("/api/plan/try", params=query, json={"body": body | {"bought": bought}}).json()
        assert bought[0] not in [b["id"] for b in as_if["out"]["buy"]]
    gap = body | {"more": [hall | {"sport": "football", "discipline": "match", "floor": None}]}
    missing = fitter.post("/api/plan/try", params=query, json={"body": gap | {"more": [hall | {"discipline": "x"}]}})
    assert missing.status_code == 422
    for bad in ({}, {"athlete": athlete, "squad": "x"}):
        assert fitter.get("/api/plan", params=bad).status_code == 422


def test_a_plan_names_the_last_of_a_pair_that_was_bought_here(shop: tuple[Web, str], fitter: httpx.Client) -> None:
    """Every boot on one last: whatever a second ground asks for stands on the sold pair's."""
    with psycopg.connect(shop[1]) as cx:
        was = cx.execute("SELECT id, maker, name, last FROM shoe_model WHERE sport = 'football'").fetchall()
        cx.execute(
            "UPDATE shoe_model SET maker = 'Lastmaker', name = name || ' ' || left(id::text, 8), last = 'Low heel' "
            "WHERE sport = 'football'"
        )
    try:
        fitting, (line,) = pulled(fitter, 1)
        assert sell(fitter, fitting, line).status_code == 201
        athlete = fitter.get(f"/api/fittings/{fitting}").json()["athlete"]["id"]
        soft = {"athlete_id": athlete, "sport": "football", "discipline": "match", "surface": "soft_natural"}
        page = fitter.get("/api/plan", params={"athlete": athlete}).json()
        body = page["body"] | {"budget": 400, "more": [soft]}
        found = fitter.post("/api/plan/try", params={"athlete": athlete}, json={"body": body}).json()["out"]
        assert found["buy"]
        assert any("stands on the same last as Lastmaker" in s for s in found["says"])
    finally:
        with psycopg.connect(shop[1]) as cx:
            for model, maker, name, last in was:
                cx.execute(
                    "UPDATE shoe_model SET maker = %s, name = %s, last = %s WHERE id = %s", [maker, name, last, model]
                )


@pytest.mark.parametrize(("paper", "size"), [("a4", (595.3, 841.9)), ("letter", (612.0, 792.0))])
def test_sheets_come_on_both_papers(fitter: httpx.Client, paper: str, size: tuple[float, float]) -> None:
    fitting, (line,) = pulled(fitter, 1)
    athlete = fitter.get(f"/api/fittings/{fitting}").json()["athlete"]["id"]
    sell(fitter, fitting, line)
    paths = {
        f"/api/fittings/{fitting}/fit-sheet.pdf": {}, "/api/plan/sheet.pdf": {"athlete": athlete},
        "/api/squad/sheet.pdf": {"name": "Football, Gull Bay"},
    }  # fmt: skip
    for path, query in paths.items():
        answer = fitter.get(path, params=query | {"paper": paper})
        assert answer.headers["content-type"] == "application/pdf"
        page = PdfReader(io.BytesIO(answer.content)).pages[0]
        assert (float(page.mediabox.width), float(page.mediabox.height)) == pytest.approx(size, abs=0.1)
        assert page.extract_text()


# --- squads


def listed(
    client: httpx.Client, data: bytes, squad: str, list_id: str | None = None, *, write: bool = False, **more: str
) -> Any:
    params = {"name": squad, "id": list_id or str(uuid.uuid4()), "write": str(write).lower()} | more
    return client.post("/api/squad/list", params=params, content=data)


NAMES = [["Name", "Born", "Note"], ["Ada Quillon", "2011-05-30", "left foot"], ["Bo Tarnside", "", ""],
         ["Ada Quillon", "", ""], ["Cy Valehurst", "someday", ""]]  # fmt: skip


@pytest.mark.parametrize("form", ["csv", "xlsx", "json"])
def test_a_list_of_names_is_read_first_and_written_once(fitter: httpx.Client, form: Any) -> None:
    squad = f"Under 15 {form}"
    rows = [[f"{r[0]} {form}", *r[1:]] for r in NAMES[1:]]
    data = b"".join(files.write(form, NAMES[0], rows))
    read = listed(fitter, data, squad).json()
    assert (read["written"], read["new"], read["here"], read["refused"]) == (False, 2, 0, 2)
    assert fitter.get("/api/squad", params={"name": squad}).status_code == 404
    list_id = str(uuid.uuid4())
    for _ in range(2):
        assert listed(fitter, data, squad, list_id, write=True).json()["written"]
    page = fitter.get("/api/squad", params={"name": squad}).json()
    assert [m["name"] for m in page["members"]] == [f"Ada Quillon {form}", f"Bo Tarnside {form}"]
    assert page["members"][0]["born_on"] == "2011-05-30"
    assert page["next"] == page["members"][0]["id"]
    moved = listed(fitter, data, f"{squad} B", write=True).json()
    assert (moved["new"], moved["here"]) == (0, 2)
    assert fitter.get("/api/squad", params={"name": squad}).status_code == 404
    assert f"{squad} B" in [s["name"] for s in fitter.get("/api/squads").json()]


def test_a_date_that_can_be_read_two_ways_is_asked_about_unless_the_house_said(running: Web) -> None:
    fitter, manager = signed_in(running), signed_in(running, "marrow")
    data = b"Name,Born\nGil Twoways,12/03/2004\n"
    asked = listed(fitter, data, "Two ways", write=True).json()
    assert (asked["two_ways"], asked["date_order"], asked["written"]) == ("12/03/2004", None, False)
    told = listed(fitter, data, "Two ways", date_order="mdy").json()
    assert (told["two_ways"], told["lines"][0]["born_on"]) == (None, "2004-12-03")
    shown = listed(fitter, data + b"Hal Clear,25/12/2004\n", "Two ways").json()
    assert (shown["date_order"], shown["lines"][0]["born_on"]) == ("dmy", "2004-03-12")
    house = manager.get("/api/house").json()["house"]
    set_ = manager.put("/api/house", json={"base_version": house["version"], "house": house | {"date_order": "mdy"}})
    assert set_.status_code == 200, set_.text
    assert listed(fitter, data, "Two ways", write=True).json()["lines"][0]["born_on"] == "2004-12-03"
    back = set_.json()["house"]
    manager.put("/api/house", json={"base_version": back["version"], "house": back | {"date_order": None}})


@pytest.mark.parametrize("data", [b"", b"\x00\x01\x02", b"PK\x03\x04broken", b'{"a": [1]}', b"name\n"])
def test_a_spoilt_list_is_told_in_a_sentence(fitter: httpx.Client, data: bytes) -> None:
    answer = listed(fitter, data, "Spoilt")
    assert answer.status_code == 422
    assert answer.json()["title"].endswith(".")


def test_a_bare_list_and_one_far_too_long(fitter: httpx.Client) -> None:
    bare = listed(fitter, b"Dee Marlow\nEd Norwick\n", "Bare").json()
    assert [p["name"] for p in bare["lines"]] == ["Dee Marlow", "Ed Norwick"]
    long = "name\n" + "\n".join(f"Person {i}" for i in range(400))
    assert "at most 200" in listed(fitter, long.encode(), "Long").json()["title"]


def test_nothing_medical_stands_on_the_coachs_sheet(fitter: httpx.Client) -> None:
    athlete = new_athlete(fitter, "Sore Knees")
    row = fitter.get(f"/api/athletes/{athlete}").json()["athlete"]
    body = {
        "change_id": str(uuid.uuid4()),
        "version": 1,
        "name": row["name"],
        "squad": "Sore Squad",
        "note": "diabetes",
    }
    assert fitter.put(f"/api/athletes/{athlete}", json=body).status_code == 200
    fitting = ready_to_pull(fitter, athlete, history=["knee"], event_on=(today() + timedelta(days=40)).isoformat())
    cautions = fitter.get(f"/api/fittings/{fitting}/spec").json()["spec"]["cautions"]
    assert any("athlete's page" in c["text"] for c in cautions)
    for caution in cautions:
        if caution["must_acknowledge"]:
            patch(fitter, fitting, "spec", {f"acknowledged/{caution['rule']}": True})
    line = fitter.get(f"/api/fittings/{fitting}/pull").json()["places"][0]["pair"]["id"]
    assert fitter.put(f"/api/fittings/{fitting}/tray/{line}").status_code == 200
    assert sell(fitter, fitting, line).status_code == 201
    page = fitter.get("/api/squad", params={"name": "Sore Squad"}).json()
    table = fitter.get("/api/squad/sheet.csv", params={"name": "Sore Squad"}).text
    sheet = fitter.get("/api/squad/sheet.pdf", params={"name": "Sore Squad"}).content
    text = "".join(p.extract_text() for p in PdfReader(io.BytesIO(sheet)).pages)
    for told in (json.dumps(page), table, text):
        assert "Sore Knees" in told
        assert not any(word in told.lower() for word in ("diabetes", "ligament", '"knee', "history", "caution"))
    (only,) = list(csv.DictReader(io.StringIO(table.lstrip("\ufeff"))))
    assert only["pair"]
    assert only["event_on"] == (today() + timedelta(days=40)).isoformat()
