"""A shop's tablets: known by a secret of their own, on which a PIN signs in; how they come to trust the machine."""

from __future__ import annotations

import json
import uuid
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from typing import Any

import cv2
import httpx
import numpy as np
import psycopg
import pytest

from tests import plainly
from tests.api.calls import PASSWORDS, signed_in
from tests.running import Web, web

PIN = "2719"


@pytest.fixture
def tablet(shop: tuple[Web, str]) -> Iterator[httpx.Client]:
    """A browser that a manager said is the shop's, with nobody signed in."""
    running, url = shop
    with plainly.Client(base_url=running.url) as browser:
        browser.cookies.set("kalon_session", signed_in(running, "marrow").cookies["kalon_session"])
        made = browser.post("/api/tablets", json={"id": str(uuid.uuid4()), "name": "By the window"})
        assert made.status_code == 201
        del browser.cookies["kalon_session"]
        yield browser
    with psycopg.connect(url) as cx:
        cx.execute("DELETE FROM pin_tried")
        cx.execute("DELETE FROM staff_pin")
        cx.execute("DELETE FROM tablet")


def set_pin(running: Web, login: str, pin: str | None = PIN, password: str = "") -> httpx.Response:
    body = {"password": password or PASSWORDS[login], "pin": pin}
    return signed_in(running, login).put("/api/session/pin", json=body)


def person(tablet: httpx.Client, login: str) -> dict[str, Any]:
    return next(p for p in tablet.get("/api/session/here").json()["people"] if p["login"] == login)


def enter(tablet: httpx.Client, login: str, pin: str = PIN) -> httpx.Response:
    return tablet.post("/api/session/pin", json={"person": person(tablet, login)["id"], "pin": pin})


def test_a_tablet_names_its_people_and_a_pin_signs_in(shop: tuple[Web, str], tablet: httpx.Client) -> None:
    running, _ = shop
    here = tablet.get("/api/session/here").json()
    assert (here["tablet"], here["shop_name"]) == ("By the window", "Games fitting room, Harbour")
    assert {p["login"] for p in here["people"]} == {"marrow", "ilse", "bram", "pip"}  # and nobody of the sister shops
    assert not any(p["pin"] for p in here["people"])
    assert set_pin(running, "ilse").status_code == 204
    assert [p["login"] for p in tablet.get("/api/session/here").json()["people"] if p["pin"]] == ["ilse"]
    me = enter(tablet, "ilse")
    assert (me.status_code, me.json()["login"], me.json()["tablet"]) == (200, "ilse", "By the window")
    assert tablet.get("/api/session").json()["login"] == "ilse"
    seen = signed_in(running, "marrow").get("/api/tablets").json()
    assert [(t["name"], t["seen_by"]) for t in seen] == [("By the window", "Ilse Varn")]


def test_one_who_follows_signs_the_one_before_out(shop: tuple[Web, str], tablet: httpx.Client) -> None:
    running, _ = shop
    set_pin(running, "ilse")
    set_pin(running, "pip", "8350")
    assert enter(tablet, "ilse").status_code == 200
    before = tablet.cookies["kalon_session"]
    assert enter(tablet, "pip", "8350").json()["role"] == "trainee"
    with plainly.Client(base_url=running.url, cookies={"kalon_session": before}) as old:
        assert old.get("/api/session").status_code == 401


@pytest.mark.parametrize("pin", ["1234", "9876", "4444", "271", "27195", "٢٧١٩", "27 9", ""])
def test_a_pin_guessed_at_once_is_none(shop: tuple[Web, str], pin: str) -> None:
    told = set_pin(shop[0], "ilse", pin)
    assert told.status_code == 422
    assert told.json()["fields"][0]["field"] == "pin"


def test_a_pin_wants_the_password_and_goes_with_it(shop: tuple[Web, str], tablet: httpx.Client) -> None:
    running, url = shop
    assert set_pin(running, "ilse", PIN, "not the one").json()["fields"][0]["code"] == "wrong"
    assert not person(tablet, "ilse")["pin"]
    assert set_pin(running, "ilse").status_code == 204
    with psycopg.connect(url) as cx:
        kept = cx.execute("SELECT pin_hash FROM staff_pin").fetchall()
        assert [k.startswith("$argon2id$") for (k,) in kept] == [True]
        cx.execute("UPDATE staff SET password_hash = password_hash || ' ' WHERE login = 'ilse'")
        cx.execute("UPDATE staff SET password_hash = trim(password_hash) WHERE login = 'ilse'")
    assert not person(tablet, "ilse")["pin"]
    assert set_pin(running, "bram").status_code == 204
    assert set_pin(running, "bram", None).status_code == 204
    assert not person(tablet, "bram")["pin"]


def test_after_five_wrong_ones_only_the_password_helps(shop: tuple[Web, str], tablet: httpx.Client) -> None:
    running, _ = shop
    set_pin(running, "ilse")
    set_pin(running, "bram")
    told = [enter(tablet, "ilse", f"{n}813") for n in range(3)]
    assert enter(tablet, "ilse").status_code == 200  # right between wrong ones doesn't wipe them out
    told += [enter(tablet, "ilse", f"{n}814") for n in range(4)]
    assert [(t.status_code, t.json()["code"]) for t in told] == [(401, "sign-in-refused")] * 5 + [(401, "pin-over")] * 2
    assert enter(tablet, "ilse").json()["code"] == "pin-over"  # the right one neither
    assert (person(tablet, "ilse")["pin"], person(tablet, "bram")["pin"]) == (False, True)
    body = {"login": "ilse", "password": PASSWORDS["ilse"], "shop": ""}
    assert tablet.post("/api/session", json=body).json()["tablet"] == "By the window"
    assert enter(tablet, "ilse").status_code == 200


def test_many_guesses_at_once_are_still_five(shop: tuple[Web, str], tablet: httpx.Client) -> None:
    running, _ = shop
    set_pin(running, "ilse")
    whom, cookies = person(tablet, "ilse")["id"], dict(tablet.cookies)

    def guess(n: int) -> str:
        with plainly.Client(base_url=running.url, cookies=cookies) as other:
            return str(other.post("/api/session/pin", json={"person": whom, "pin": f"{n:04d}"}).json()["code"])

    with ThreadPoolExecutor(8) as pool:
        codes = list(pool.map(guess, range(16)))
    assert codes.count("sign-in-refused") == 5
    assert codes.count("pin-over") == 11


def test_a_pin_counts_nowhere_else(shop: tuple[Web, str], tablet: httpx.Client) -> None:
    running, _ = shop
    set_pin(running, "ilse")
    set_pin(running, "sorrel", "8350")  # of a sister shop
    whom = person(tablet, "ilse")["id"]
    sister = next(p["id"] for p in signed_in(running, "sorrel").get("/api/people").json() if p["login"] == "sorrel")
    assert tablet.post("/api/session/pin", json={"person": sister, "pin": "8350"}).json()["code"] == "pin-over"
    for secret in ({}, {"kalon_tablet": "made up"}):
        with plainly.Client(base_url=running.url, cookies=secret) as other:
            assert other.get("/api/session/here").json() == {"tablet": None, "shop_name": "", "people": []}
            assert other.post("/api/session/pin", json={"person": whom, "pin": PIN}).status_code == 401
    elsewhere = signed_in(running, "sorrel")
    elsewhere.cookies.set("kalon_tablet", tablet.cookies["kalon_tablet"])
    assert (
        elsewhere.get("/api/session").json()["tablet"] is None
    )  # a sister shop's person on it works as on any browser


def test_a_leaver_and_a_lost_tablet_are_out(shop: tuple[Web, str], tablet: httpx.Client) -> None:
    running, _ = shop
    manager = signed_in(running, "marrow")
    made = manager.post(
        "/api/people", json={"change_id": str(uuid.uuid4()), "login": "reed", "name": "Reed Sallow", "role": "fitter"}
    )
    reed = next(p["id"] for p in made.json() if p["login"] == "reed")
    link = manager.post(f"/api/people/{reed}/invitation").json()["path"]
    assert plainly.post(f"{running.url}/api{link}", json={"password": "willow-and-wax-3"}).status_code == 204
    assert (
        plainly.post(f"{running.url}/api/session", json={"login": "reed", "password": "willow-and-wax-3"}).status_code
        == 200
    )
    with plainly.Client(base_url=running.url) as own:
        own.post("/api/session", json={"login": "reed", "password": "willow-and-wax-3"})
        assert own.put("/api/session/pin", json={"password": "willow-and-wax-3", "pin": PIN}).status_code == 204
    assert enter(tablet, "reed").status_code == 200
    out = {"change_id": str(uuid.uuid4()), "active": False}
    assert manager.patch(f"/api/people/{reed}", json=out).status_code == 200
    assert tablet.get("/api/session").status_code == 401
    assert "reed" not in {p["login"] for p in tablet.get("/api/session/here").json()["people"]}
    back = {"change_id": str(uuid.uuid4()), "active": True}
    assert manager.patch(f"/api/people/{reed}", json=back).status_code == 200
    assert not person(tablet, "reed")["pin"]  # let in again, but not by the old PIN
    set_pin(running, "ilse")
    (one,) = manager.get("/api/tablets").json()
    assert manager.delete(f"/api/tablets/{one['id']}").json() == []
    assert manager.delete(f"/api/tablets/{one['id']}").json() == []
    assert tablet.get("/api/session/here").json()["people"] == []
    again = manager.post("/api/tablets", json={"id": one["id"], "name": "By the window"})
    assert again.status_code == 404  # an id that was taken out is no way back in


def test_the_same_tablet_twice_is_one_and_a_name_can_be_another(shop: tuple[Web, str], tablet: httpx.Client) -> None:
    running, _ = shop
    manager = signed_in(running, "marrow")
    body = {"id": str(uuid.uuid4()), "name": "At the wall"}
    for _ in range(2):
        assert manager.post("/api/tablets", json=body).status_code == 201
    assert [t["name"] for t in manager.get("/api/tablets").json()] == ["At the wall", "By the window"]
    assert manager.get("/api/session").json()["tablet"] == "At the wall"  # by the second secret it was given
    called = manager.patch(f"/api/tablets/{body['id']}", json={"name": "  At the mirror "}).json()
    assert [t["name"] for t in called] == ["At the mirror", "By the window"]
    del manager.cookies["kalon_tablet"]
    others = signed_in(running, "sorrel")
    assert others.get("/api/tablets").json() == []
    assert others.delete(f"/api/tablets/{body['id']}").status_code == 404


def test_what_a_tablet_has_to_know_is_what_the_host_wrote(demo_url: str, tmp_path: Path) -> None:
    told = {
        "format": 1,
        "secure": ["https://kalon.local"],
        "trust": "http://192.168.1.20/trust",
        "fingerprint": "ab" * 32,
    }
    with web(demo_url, KALON_TABLETS=str(tmp_path)) as one:
        nothing = {"secure": [], "trust": None, "fingerprint": None}
        assert plainly.get(f"{one.url}/api/trust").json() == nothing
        assert plainly.get(f"{one.url}/api/trust/authority.crt").status_code == 404
        (tmp_path / "where.json").write_text("{ half a")
        assert plainly.get(f"{one.url}/api/trust").json() == nothing
        (tmp_path / "where.json").write_text(json.dumps(told))
        (tmp_path / "authority.crt").write_bytes(b"DER")
        assert plainly.get(f"{one.url}/api/trust").json() == {k: told[k] for k in nothing}
        got = plainly.get(f"{one.url}/api/trust/authority.crt")
        assert (got.content, got.headers["content-type"]) == (b"DER", "application/x-x509-ca-cert")
        assert signed_in(one).get("/api/house").json()["link_address"] == "https://kalon.local"


@pytest.mark.parametrize(
    ("address", "status"),
    [("https://bench.example", 200), ("http://192.168.1.20:8080", 200), ("bench.example", 422),
     ("https://bench.example/page", 422), ("javascript:alert(1)", 422)],
)  # fmt: skip
def test_links_lead_where_the_house_says(shop: tuple[Web, str], address: str, status: int) -> None:
    manager = signed_in(shop[0], "marrow")
    house = manager.get("/api/house").json()["house"]
    given = {"base_version": house["version"], "house": {**house, "version": 0, "public_address": address}}
    answer = manager.put("/api/house", json=given)
    assert answer.status_code == status
    if status == 200:
        assert answer.json()["link_address"] == address
    else:
        assert "Write it as https://bench.example" in answer.json()["fields"][0]["text"]


@pytest.mark.parametrize("text", ["http://192.168.1.20/trust", "https://bench.example/away/" + "aB3-_" * 9])
def test_a_camera_reads_what_is_drawn(running: Web, text: str) -> None:
    drawn = signed_in(running).post("/api/qr", json={"text": text}).json()
    grid = np.full((drawn["size"] + 8, drawn["size"] + 8), 255, np.uint8)
    for bar in drawn["path"].strip("Mz").split("zM"):  # M x y h wide v1 h -wide
        at, wide = bar.split("v")[0].split("h")
        x, y = (int(n) for n in at.split())
        grid[y + 4, x + 4 : x + 4 + int(wide)] = 0
    read, _, _ = cv2.QRCodeDetector().detectAndDecode(np.kron(grid, np.ones((8, 8), np.uint8)))
    assert read == text
