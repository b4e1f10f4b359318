"""Signing in, what every answer carries, and what is turned away at the door."""

from __future__ import annotations

import psycopg
import pytest

from tests import plainly
from tests.api.calls import PASSWORDS, signed_in
from tests.running import Web


def test_a_session_lives_in_a_cookie_no_script_can_read(running: Web) -> None:
    with plainly.Client(base_url=running.url) as client:
        answer = client.post("/api/session", json={"login": " ILSE ", "password": PASSWORDS["ilse"]})
        cookie = answer.headers["set-cookie"].lower()
        assert "httponly" in cookie
        assert "samesite=strict" in cookie
        assert client.get("/api/session").json()["name"] == "Ilse Varn"
        assert client.delete("/api/session").status_code == 204
        assert client.get("/api/session").status_code == 401


def test_an_ended_session_stays_ended_even_with_its_cookie(running: Web) -> None:
    client = signed_in(running)
    token = client.cookies["kalon_session"]
    client.delete("/api/session")
    again = plainly.get(f"{running.url}/api/session", cookies={"kalon_session": token})
    assert again.status_code == 401


@pytest.mark.parametrize(("login", "password"), [("ilse", "wrong password"), ("nobody", "chalk-and-tape-7")])
def test_wrong_name_and_wrong_password_sound_alike(running: Web, login: str, password: str) -> None:
    answer = plainly.post(f"{running.url}/api/session", json={"login": login, "password": password})
    assert answer.status_code == 401
    assert answer.json()["title"] == "That name and password don't go together."
    assert answer.headers["content-type"] == "application/problem+json"


def test_neither_passwords_nor_tokens_are_stored(running: Web, demo_url: str) -> None:
    client = signed_in(running)
    with psycopg.connect(demo_url) as cx:
        hashes = [r[0] for r in cx.execute("SELECT password_hash FROM staff").fetchall()]
        tokens = [bytes(r[0]) for r in cx.execute("SELECT token_hash FROM session").fetchall()]
    assert all(h.startswith("$argon2id$") for h in hashes)
    assert client.cookies["kalon_session"].encode() not in tokens


@pytest.mark.parametrize("path", ["/", "/api/session", "/api/today", "/nowhere", "/health"])
def test_every_answer_carries_the_safety_headers(running: Web, path: str) -> None:
    headers = plainly.get(running.url + path).headers
    policy = headers["content-security-policy"]
    assert "default-src 'none'" in policy
    assert "script-src 'self';" in policy
    assert "unsafe" not in policy
    assert headers["x-content-type-options"] == "nosniff"
    assert headers["referrer-policy"] == "no-referrer"


def test_the_page_and_its_policy_share_a_fresh_nonce(running: Web) -> None:
    one, two = plainly.get(running.url), plainly.get(running.url)
    nonce = one.headers["content-security-policy"].split("'nonce-")[1].split("'")[0]
    assert nonce in one.text
    assert nonce not in two.text


def test_changes_from_another_site_are_turned_away(running: Web) -> None:
    client = signed_in(running)
    answer = client.post("/api/calc/stretch", json={}, headers={"origin": "http://evil.example"})
    assert answer.status_code == 403
    own = client.post("/api/calc/stretch", json={}, headers={"origin": running.url})
    assert own.status_code == 422


def test_a_huge_body_is_turned_away(running: Web) -> None:
    answer = plainly.post(f"{running.url}/api/session", content=b"x" * 1_100_000)
    assert answer.status_code == 413
    assert answer.json()["title"].endswith(".")


@pytest.mark.parametrize("body", [b"", b"{", b"[]", b"\xff\xfe", b"null"])
def test_a_body_that_is_not_as_agreed_gets_a_sentence(running: Web, body: bytes) -> None:
    answer = plainly.post(f"{running.url}/api/session", content=body, headers={"content-type": "application/json"})
    assert answer.status_code in (400, 422)
    assert answer.json()["title"]


def test_health_and_readiness(running: Web) -> None:
    assert plainly.get(f"{running.url}/health").json()["status"] == "ok"
    assert plainly.get(f"{running.url}/ready").json() == {"status": "ready"}


def test_unknown_api_paths_are_problems_and_other_paths_the_page(running: Web) -> None:
    assert plainly.get(f"{running.url}/api/nothing").status_code == 404
    assert "<title>Kalon" in plainly.get(f"{running.url}/fittings/some/where").text


def test_no_page_names_another_host(running: Web) -> None:
    assert "//" not in plainly.get(running.url).text.replace("<!doctype html>", "")
