"""Links for athletes who aren't here: forged, over, sent again, of somebody else; and a person's data out of the records."""

from __future__ import annotations

import io
import json
import uuid
from collections.abc import Iterator
from typing import Any

import httpx
import psycopg
import pytest
from PIL import Image
from pillow_heif import from_pillow

from kalon.core.feet.measures import Reading
from kalon.devices.practice import make_of
from tests import plainly
from tests.api.calls import new_athlete, new_fitting, patch, pulled, ready_to_pull, sell, signed_in
from tests.api.test_learning import learn_now, standing
from tests.made import QUICKLY
from tests.running import Web, addresses_of
from tests.spoilt import good

WORN = {"maker": "Velmire", "model": "", "system": "eu", "label": 42, "says": "right", "sport": "football"}


@pytest.fixture
def phone(shop: tuple[Web, str]) -> Iterator[httpx.Client]:
    """A phone without a session."""
    with plainly.Client(base_url=shop[0].url) as client:
        yield client


def linked(client: httpx.Client, name: str = "Farah Distant") -> tuple[str, str]:
    """A fitting of a new athlete, and its link's secret."""
    fitting = new_fitting(client, new_athlete(client, name))
    answer = client.post(f"/api/fittings/{fitting}/link", json={"id": str(uuid.uuid4())})
    assert answer.status_code == 201, answer.text
    return fitting, answer.json()["token"]


def answers(phone: httpx.Client, token: str, change: str | None = None, **given: Any) -> httpx.Response:
    body = {"change_id": change or str(uuid.uuid4()), "answers": given}
    return phone.put(f"/api/away/{token}/answers", json=body)


def picture(side: str = "left", seed: int = 3) -> bytes:
    """A practice picture of a foot on a sheet of paper."""
    from kalon.devices.practice import dims_of

    return make_of("png", dims_of(seed, side), seed)  # type: ignore[arg-type]


def test_an_athlete_answers_from_afar(shop: tuple[Web, str], phone: httpx.Client) -> None:
    running, _ = shop
    fitter = signed_in(running)
    fitting, token = linked(fitter)
    page = phone.get(f"/api/away/{token}").json()
    assert (page["athlete"], page["shop"], page["agreed"]) == ("Farah", "Games fitting room, Harbour", False)
    assert "Distant" not in json.dumps(page)
    refused = answers(phone, token, words="I play on Sundays.")
    assert (refused.status_code, refused.json()["code"]) == (409, "link-refused")
    assert phone.post(f"/api/away/{token}/agree").json()["agreed"]
    assert fitter.get(f"/api/fittings/{fitting}/link").json()["foot"] is None
    told = answers(phone, token, words="I play on Sundays.", stature_cm=178).json()
    assert told["answers"]["words"] == "I play on Sundays."
    first = fitter.get(f"/api/fittings/{fitting}/link").json()
    assert first["foot"]["length"]["mm"] == pytest.approx(0.152 * 1780)
    assert first["foot"]["length"]["sd_mm"] == 9
    assert "paper" in first["foot"]["next"]
    answers(phone, token, words="I play on Sundays.", stature_cm=178, worn=[WORN])
    second = fitter.get(f"/api/fittings/{fitting}/link").json()
    assert second["foot"]["length"]["sd_mm"] < 4
    assert second["size"].startswith("A street size between EU ")
    assert second["agreed_at"]
    strange = answers(phone, token, worn=[WORN | {"label": 140}])
    assert strange.status_code == 200
    odd = fitter.get(f"/api/fittings/{fitting}/link").json()["foot"]
    assert odd is None or "is that its size?" in odd["conflicts"][0]


def test_what_the_chain_learned_makes_a_worn_shoe_surer(shop: tuple[Web, str], phone: httpx.Client) -> None:
    """The demo's Velmires run 2 mm long, and the ledger knows it: one that is right means a longer foot."""
    running, _ = shop
    fitter = signed_in(running)
    fitting, token = linked(fitter)
    phone.post(f"/api/away/{token}/agree")
    answers(phone, token, worn=[WORN | {"maker": "Nobody Knows"}])
    unknown = fitter.get(f"/api/fittings/{fitting}/link").json()["foot"]["length"]
    answers(phone, token, worn=[WORN | {"maker": "velmire "}])
    known = fitter.get(f"/api/fittings/{fitting}/link").json()["foot"]["length"]
    assert known["sd_mm"] < unknown["sd_mm"]
    assert known["mm"] > unknown["mm"] + 0.5


def test_a_worn_shoe_is_read_by_its_makers_own_step(shop: tuple[Web, str], phone: httpx.Client) -> None:
    """A maker whose women's sizes here run one ahead of its men's: an 8 stands for a longer foot than most makers' do."""
    running, _ = shop
    fitter, manager = signed_in(running), signed_in(running, "marrow")
    fitting, token = linked(fitter)
    phone.post(f"/api/away/{token}/agree")
    lengths = []
    for _ in range(2):
        answers(phone, token, worn=[WORN | {"maker": "Velmire", "system": "us_women", "label": 8}])
        lengths.append(fitter.get(f"/api/fittings/{fitting}/link").json()["foot"]["length"]["mm"])
        model = next(r for r in manager.get("/api/stock", params={"text": "velmire"}).json())["model_id"]
        body = {"change_id": str(uuid.uuid4()), "width": "regular", "system": "us_women", "runs_ahead": 1.0,
                "sizes": ["7", "8"]}  # fmt: skip
        assert manager.post(f"/api/models/{model}/sizes", json=body).status_code == 201
    assert lengths[1] > lengths[0] + 1.0


def test_a_picture_of_a_foot_is_measured_once(shop: tuple[Web, str], phone: httpx.Client) -> None:
    running, _ = shop
    fitter = signed_in(running)
    fitting, token = linked(fitter)
    path, data = f"/api/away/{token}/pictures", picture()
    params = {"id": str(uuid.uuid4()), "side": "left"}
    early = phone.post(path, params=params, content=data)
    assert (early.status_code, early.json()["code"]) == (422, "link-refused")
    phone.post(f"/api/away/{token}/agree")
    for _ in range(2):
        sent = phone.post(path, params=params, content=data)
        assert sent.status_code == 201, sent.text
    assert [p["side"] for p in sent.json()["pictures"]] == ["left"]
    length = sent.json()["pictures"][0]["length_mm"]
    assert 200 < length < 320
    captures = fitter.get(f"/api/fittings/{fitting}").json()["captures"]
    assert [(c["kind"], c["side"], c["practice"]) for c in captures] == [("tracing", "left", False)]
    assert Reading.model_validate(captures[0]["reading"]).numbers["length_mm"].value == pytest.approx(length)
    foot = fitter.get(f"/api/fittings/{fitting}/link").json()["foot"]
    assert foot["length"]["sd_mm"] < 3
    own = io.BytesIO()  # a telephone's own format
    from_pillow(Image.open(io.BytesIO(picture("right")))).save(own, quality=90, enc_params=QUICKLY)
    other = phone.post(path, params={"id": str(uuid.uuid4()), "side": "right"}, content=own.getvalue())
    assert other.status_code == 201, other.text
    assert other.json()["pictures"][-1]["length_mm"] == pytest.approx(length, abs=12)
    spoilt = phone.post(path, params={"id": str(uuid.uuid4()), "side": "left"}, content=b"no picture at all")
    assert spoilt.status_code == 422
    assert spoilt.json()["title"]


def test_a_forged_ended_or_expired_link_opens_nothing(shop: tuple[Web, str], phone: httpx.Client) -> None:
    running, url = shop
    fitter = signed_in(running)
    fitting, token = linked(fitter)
    other, other_token = linked(fitter, "Other Person")
    forged = token[:-1] + ("A" if token[-1] != "A" else "B")
    for wrong in (forged, "x" * 43, "short"):
        assert phone.get(f"/api/away/{wrong}").status_code in (404, 422)
    newer = fitter.post(f"/api/fittings/{fitting}/link", json={"id": str(uuid.uuid4())}).json()["token"]
    over = phone.get(f"/api/away/{token}")
    assert (over.status_code, over.json()["code"]) == (404, "link-over")
    assert phone.get(f"/api/away/{newer}").status_code == 200
    assert fitter.delete(f"/api/fittings/{fitting}/link").status_code == 204
    assert phone.get(f"/api/away/{newer}").status_code == 404
    phone.post(f"/api/away/{other_token}/agree")
    with psycopg.connect(url) as cx:
        cx.execute("UPDATE athlete_link SET expires_at = now() - interval '1 second' WHERE fitting_id = %s", [other])
    assert answers(phone, other_token, words="late").status_code == 404
    assert fitter.get(f"/api/fittings/{other}/link").json()["over"]
    with psycopg.connect(url) as cx:  # the secret is nowhere in the records
        kept = cx.execute("SELECT token_hash FROM athlete_link").fetchall()
    assert all(token.encode() not in bytes(r[0]) for r in kept)


def test_the_same_answer_sent_again_is_one(shop: tuple[Web, str], phone: httpx.Client) -> None:
    running, url = shop
    fitter = signed_in(running)
    _, token = linked(fitter)
    phone.post(f"/api/away/{token}/agree")
    change = str(uuid.uuid4())
    for _ in range(3):
        assert answers(phone, token, change, words="once").status_code == 200
    answers(phone, token, words="twice")
    again = answers(phone, token, change, words="once")  # a late copy of the first
    assert again.json()["answers"]["words"] == "twice"
    with psycopg.connect(url) as cx:
        rows = cx.execute("SELECT count(*) FROM link_answer WHERE change_id = %s", [change]).fetchone()
    assert rows == (1,)


def test_a_link_shows_and_changes_nobody_elses(shop: tuple[Web, str], phone: httpx.Client) -> None:
    """An order, a picture, a session's door: with a link only its own; another athlete's order stays as it is."""
    running, url = shop
    fitter = signed_in(running)
    _, token = linked(fitter, "Mine Alone")
    phone.post(f"/api/away/{token}/agree")
    order, _ = order_here(fitter, running)
    answer = phone.put(f"/api/away/{token}/orders/{order}/arrival", json={"toes": "jam"})
    assert (answer.status_code, answer.json()["code"]) == (409, "link-refused")
    for path in ("/api/athletes", "/api/today", "/api/ledger", "/api/orders", "/api/session"):
        assert phone.get(path).status_code == 401
    page = phone.get(f"/api/away/{token}").json()
    assert page["orders"] == []
    with psycopg.connect(addresses_of(url).app) as cx:  # the application's own role, without a session
        for table in ("athlete_link", "link_answer"):
            assert cx.execute(f"SELECT count(*) FROM {table}").fetchone() == (0,)
        with pytest.raises(psycopg.errors.InsufficientPrivilege):
            cx.execute("SELECT count(*) FROM link_knock")


def order_here(client: httpx.Client, running: Web) -> tuple[str, str]:
    """An order of a fitting whose pair is here, and the fitting."""
    fitting = ready_to_pull(client)
    place = client.get(f"/api/fittings/{fitting}/to-order").json()[0]
    body = {"id": str(uuid.uuid4()), "variant_id": place["variant_id"], "fitting_id": fitting}
    order = client.post("/api/orders", json=body).json()["id"]
    for to in ("ordered", "arrived"):
        step = client.post(f"/api/orders/{order}/steps", json={"change_id": str(uuid.uuid4()), "to": to})
        assert step.status_code == 200
    return order, fitting


def test_the_arrival_check_comes_by_the_link_and_is_evidence(shop: tuple[Web, str], phone: httpx.Client) -> None:
    running, url = shop
    fitter = signed_in(running)
    order, fitting = order_here(fitter, running)
    token = fitter.post(f"/api/fittings/{fitting}/link", json={"id": str(uuid.uuid4())}).json()["token"]
    phone.post(f"/api/away/{token}/agree")
    (mine,) = phone.get(f"/api/away/{token}").json()["orders"]
    assert mine["check"]
    told = phone.put(f"/api/away/{token}/orders/{order}/arrival", json={"toes": "slack", "heel_slip": True}).json()
    assert told["orders"][0]["says"]["text"].startswith("It is slack in length")
    assert fitter.get(f"/api/fittings/{fitting}/orders").json()[0]["arrival"]["toes"] == "slack"
    learn_now(url)
    kept = {(zone, kind): body["verdict"] for (_, zone, kind), body in standing(url, fitting).items()}
    assert kept == {("length", "arrival"): "slack", ("heel_width", "arrival"): "slack"}


def test_what_is_no_picture_is_turned_away_before_anything_is_measured(
    shop: tuple[Web, str], phone: httpx.Client
) -> None:
    """A scan is measured at the shop; a link is for pictures, told by their first bytes whatever the name says."""
    running, url = shop
    fitting, token = linked(signed_in(running), "Odd Files")
    phone.post(f"/api/away/{token}/agree").raise_for_status()
    scan = good()["scan.stl"]
    for data in (scan, b"", b"short", b"PK\x03\x04" + bytes(50_000), b"\xff\xd8" + bytes(50_000)):
        query = {"id": str(uuid.uuid4()), "side": "left", "name": "foot.jpg"}
        refused = phone.post(f"/api/away/{token}/pictures", params=query, content=data)
        assert (refused.status_code, refused.json()["code"]) == (422, "unknown-format"), data[:8]
    with psycopg.connect(url) as cx:
        assert cx.execute("SELECT count(*) FROM foot_capture WHERE fitting_id = %s", [fitting]).fetchone() == (0,)


def test_a_leavers_link_is_the_shops(shop: tuple[Web, str], phone: httpx.Client) -> None:
    """The athlete has it, not the fitter: it goes on, and whoever is there ends it."""
    running, _ = shop
    manager, fitter = signed_in(running, "marrow"), signed_in(running)
    fitting, token = linked(signed_in(running, "bram"), "Left Behind")
    key = next(p["id"] for p in manager.get("/api/people").json() if p["login"] == "bram")
    path = f"/api/fittings/{fitting}/link"

    def change(*, active: bool) -> None:
        body = {"active": active, "change_id": str(uuid.uuid4())}
        assert manager.patch(f"/api/people/{key}", json=body).status_code == 200

    assert fitter.get(path).json()["made_by"] == "Bram Ostley"
    change(active=False)
    try:
        assert fitter.get(path).json()["made_by"] == "the shop"
        assert phone.get(f"/api/away/{token}").status_code == 200
        assert fitter.delete(path).status_code == 204
        assert phone.get(f"/api/away/{token}").status_code == 404
    finally:
        change(active=True)


def test_knocking_often_is_told_to_wait(shop: tuple[Web, str], phone: httpx.Client) -> None:
    """Twenty wrong secrets from one address, and the next waits; a link that holds goes on."""
    running, url = shop
    fitter = signed_in(running)
    _, token = linked(fitter)
    found = [phone.get(f"/api/away/{'y' * 40}{n:03d}") for n in range(30)]
    assert {f.status_code for f in found} == {404, 429}
    late = next(f for f in found if f.status_code == 429)
    assert late.headers["retry-after"] == "60"
    assert phone.get(f"/api/away/{token}").status_code == 200
    with psycopg.connect(url) as cx:
        cx.execute("DELETE FROM link_knock")


def test_a_picture_to_a_wrong_secret_is_a_knock_like_any_other(shop: tuple[Web, str], phone: httpx.Client) -> None:
    _, url = shop
    query = {"id": str(uuid.uuid4()), "side": "left"}
    found = [phone.post(f"/api/away/{'z' * 40}{n:03d}/pictures", params=query, content=b"no") for n in range(24)]
    assert [f.status_code for f in found] == [404] * 20 + [429] * 4
    with psycopg.connect(url) as cx:
        cx.execute("DELETE FROM link_knock")


def test_a_persons_data_is_taken_along_and_taken_out(shop: tuple[Web, str], phone: httpx.Client) -> None:
    """Everything kept is in the file; after erasing, the name and feet are nowhere; that it was done stays."""
    running, url = shop
    fitter, manager = signed_in(running), signed_in(running, "marrow")
    athlete = new_athlete(fitter, "Oona Quellworth")
    fitting, lines = pulled(fitter, 1, athlete)
    patch(fitter, fitting, "brief", {"note": "Oona dislikes laces"})
    patch(fitter, fitting, "trial", {f"pairs/{lines[0]}/toes": "fine", f"pairs/{lines[0]}/verdict": "pass"})
    assert sell(fitter, fitting, lines[0]).status_code == 201
    second = new_fitting(fitter, athlete)
    token = fitter.post(f"/api/fittings/{second}/link", json={"id": str(uuid.uuid4())}).json()["token"]
    phone.post(f"/api/away/{token}/agree")
    answers(phone, token, words="Oona Quellworth plays")
    learn_now(url)
    assert fitter.get(f"/api/athletes/{athlete}/data.json").status_code == 403
    file = manager.get(f"/api/athletes/{athlete}/data.json")
    assert "attachment" in file.headers["content-disposition"]
    data = file.json()
    assert data["athlete"]["name"] == "Oona Quellworth"
    assert len(data["fittings"]) == 2
    assert data["pairs"][0]["price_minor"] > 0
    assert data["answers"][0]["body"]["words"] == "Oona Quellworth plays"
    assert data["found"]
    assert fitter.post(f"/api/athletes/{athlete}/erase").status_code == 403
    with psycopg.connect(url) as cx:
        before = cx.execute("SELECT count(*) FROM evidence WHERE fitting_id = %s AND counts", [fitting]).fetchone()
    for _ in range(2):
        assert manager.post(f"/api/athletes/{athlete}/erase").json() == {"erased": True}
    with psycopg.connect(url) as cx:  # a learner that had it on its list already
        cx.execute("INSERT INTO learn_due (fitting_id) VALUES (%s)", [fitting])
    learn_now(url)
    page = manager.get(f"/api/athletes/{athlete}").json()
    assert page["athlete"]["name"] == "Erased"
    changes = manager.get(f"/api/athletes/{athlete}/changes").json()["changes"]
    assert next(c["after"] for c in changes if c["part"] == "athlete") == {"erased": True}
    gone = manager.get(f"/api/fittings/{fitting}")
    assert (gone.status_code, gone.json()["code"]) == (404, "erased")
    assert phone.get(f"/api/away/{token}").status_code == 404
    with psycopg.connect(url) as cx:
        tables = [r[0] for r in cx.execute(
            "SELECT tablename FROM pg_tables WHERE schemaname = 'public' AND tablename NOT LIKE '%yoyo%'").fetchall()]  # fmt: skip
        for table in tables:
            found = cx.execute(f"SELECT count(*) FROM {table} t WHERE t::text ILIKE '%oona%'").fetchone()
            assert found == (0,), table
        sold = cx.execute("SELECT price_minor FROM sale WHERE fitting_id = %s", [fitting]).fetchone()
        after = cx.execute("SELECT count(*) FROM evidence WHERE fitting_id = %s AND counts", [fitting]).fetchone()
    assert sold is not None
    assert sold[0] > 0
    assert after == before  # what was found of the shoe stays, without a name
    assert manager.get("/api/today").status_code == 200
    assert manager.get("/api/export/fittings.csv").status_code == 200
