"""Athletes known in the chain's other shops: only those who agreed, only as long as they do."""

from __future__ import annotations

import uuid
from concurrent.futures import ThreadPoolExecutor
from typing import Any

import httpx
import psycopg
import pytest

from kalon.store.staff import digest
from tests.api.calls import new_athlete, ready_to_pull, signed_in
from tests.running import Web, addresses_of


def agreed(client: httpx.Client, name: str) -> str:
    """An athlete of the client's shop with measured feet, who agreed to be known elsewhere."""
    athlete = new_athlete(client, name)
    ready_to_pull(client, athlete)
    page = consent(client, athlete, agrees=True)
    assert page["consent"]["by"]
    assert page["consent"]["said"] == page["would_say"]
    return athlete


def consent(client: httpx.Client, athlete: str, *, agrees: bool) -> dict[str, Any]:
    answer = client.put(f"/api/athletes/{athlete}/consent", json={"id": str(uuid.uuid4()), "agrees": agrees})
    assert answer.status_code == 200, answer.text
    found: dict[str, Any] = answer.json()
    return found


def found(client: httpx.Client, text: str) -> list[str]:
    return [k["name"] for k in client.get("/api/known", params={"text": text}).json()]


def take_up(client: httpx.Client, known: str) -> httpx.Response:
    return client.post(f"/api/known/{known}/athlete", json={"change_id": str(uuid.uuid4())})


def test_only_who_agreed_is_known_and_only_as_long(shop: tuple[Web, str]) -> None:
    here, there = signed_in(shop[0]), signed_in(shop[0], "sorrel")
    new_athlete(here, "Quill Unasked")
    athlete = agreed(here, "Quill Asked")
    assert found(there, "quill") == ["Quill Asked"]
    assert found(there, "qu") == []
    assert found(there, "%il") == []
    assert found(here, "quill") == []
    page = there.get(f"/api/known/{athlete}").json()
    assert (page["name"], page["shop"]) == ("Quill Asked", "Games fitting room, Harbour")
    assert there.get(f"/api/athletes/{athlete}").status_code == 404
    assert consent(here, athlete, agrees=False)["consent"] is None
    assert found(there, "quill") == []
    assert there.get(f"/api/known/{athlete}").status_code == 404
    assert take_up(there, athlete).status_code == 404
    changes = [c for c in here.get(f"/api/athletes/{athlete}/changes").json()["changes"] if c["part"] == "consent"]
    assert [c["after"]["known_elsewhere"] for c in changes] == [False, True]
    assert consent(here, athlete, agrees=True)["consent"]
    assert found(there, "quill") == ["Quill Asked"]


def test_a_fitting_elsewhere_begins_from_what_was_measured(shop: tuple[Web, str]) -> None:
    """Feet as a record of their day with the shop's name, the brief as last answered; nothing once it is taken back."""
    here, there = signed_in(shop[0]), signed_in(shop[0], "sorrel")
    athlete = agreed(here, "Rook Traveller")
    taken = take_up(there, athlete).json()
    assert take_up(there, athlete).json() == taken
    assert there.get(f"/api/athletes/{taken['id']}").json()["from_shop"] == "Games fitting room, Harbour"

    def begun() -> dict[str, Any]:
        body = {"id": str(uuid.uuid4()), "athlete_id": taken["id"]}
        answer = there.post("/api/fittings", json=body)
        assert answer.status_code == 201, answer.text
        fitting: dict[str, Any] = answer.json()
        return fitting

    consent(here, athlete, agrees=False)
    assert begun()["captures"] == []
    other = take_up(there, agreed(here, "Rook Stayer")).json()
    taken = other
    first = begun()
    names = {c["name"] for c in first["captures"]}
    assert len(names) == 1
    assert names.pop().endswith(", Games fitting room, Harbour")
    assert {c["side"] for c in first["captures"]} == {"left", "right"}
    assert first["parts"]["brief"]["body"]["discipline"] == "match"
    assert first["parts"]["feet"]["body"]["left"]["length_mm"] is None  # a record of its day, not a number of today


def test_taken_up_at_once_by_several_hands_there_is_one(shop: tuple[Web, str]) -> None:
    running, url = shop
    athlete = agreed(signed_in(running), "Teal Double")
    with ThreadPoolExecutor(6) as pool:
        answers = list(pool.map(lambda _: take_up(signed_in(running, "sorrel"), athlete), range(6)))
    assert {a.status_code for a in answers} == {201}
    assert len({a.json()["id"] for a in answers}) == 1
    with psycopg.connect(url) as cx:
        assert cx.execute("SELECT count(*) FROM athlete WHERE name = 'Teal Double'").fetchone() == (2,)


def test_a_stranger_to_the_chain_knows_nobody(shop: tuple[Web, str]) -> None:
    """Under the application's own role, with a session of a shop of another chain, and with none."""
    running, url = shop
    athlete = agreed(signed_in(running), "Wren Guarded")
    shop, person = uuid.uuid4(), uuid.uuid4()
    with psycopg.connect(url) as cx:
        cx.execute("INSERT INTO chain VALUES (%s, 'Strangers')", [shop])
        cx.execute("INSERT INTO shop (id, name, chain_id) VALUES (%s, 'Strangers', %s)", [shop, shop])
        cx.execute(
            "INSERT INTO staff (id, shop_id, login, name, role, password_hash) "
            "VALUES (%s, %s, 'str', 'S', 'manager', 'x')",
            [person, shop],
        )
        cx.execute(
            "INSERT INTO session (token_hash, shop_id, staff_id, expires_at) "
            "VALUES (%s, %s, %s, now() + interval '1 hour')",
            [digest("strange"), shop, person],
        )
    for token in ("strange", "", "made-up"):
        with psycopg.connect(addresses_of(url).app) as cx:
            cx.execute("SELECT set_config('kalon.token', %s, true)", [token])
            assert cx.execute("SELECT count(*) FROM athletes_elsewhere('wren')").fetchone() == (0,)
            assert cx.execute("SELECT count(*) FROM athlete_elsewhere(%s)", [athlete]).fetchone() == (0,)
            assert cx.execute("SELECT count(*) FROM athlete_consent").fetchone() == (0,)


def test_a_consent_is_neither_rewritten_nor_thrown_away(shop: tuple[Web, str]) -> None:
    running, url = shop
    agreed(signed_in(running), "Ivy Kept")
    for statement in ("UPDATE athlete_consent SET said = 'anything'", "UPDATE athlete_consent SET given_at = now()",
                      "DELETE FROM athlete_consent"):  # fmt: skip
        with psycopg.connect(addresses_of(url).app) as cx, pytest.raises(psycopg.errors.InsufficientPrivilege):
            cx.execute(statement)
