"""Somebody without a name: begun once, known by how they look, named any time, or forgotten when the days are over."""

from __future__ import annotations

import re
import time
import uuid
from concurrent.futures import ThreadPoolExecutor
from datetime import UTC, datetime, timedelta
from typing import Any

import httpx
import psycopg
import pytest
from psycopg.rows import dict_row

from kalon.store.unnamed import forget_due
from tests.api.calls import new_athlete, new_fitting, patch, pulled, sell, signed_in, today
from tests.api.test_learning import rows
from tests.api.test_orders import ask
from tests.running import Web

Shop = tuple[Web, str]


def comes_in(client: httpx.Client, called: str = "", **ids: str) -> dict[str, Any]:
    body = {"change_id": str(uuid.uuid4()), "fitting_id": str(uuid.uuid4()), "called": called} | ids
    answer = client.post("/api/walk-ins", json=body)
    assert answer.status_code == 201, answer.text
    found: dict[str, Any] = answer.json()
    return found


def named(client: httpx.Client, athlete: dict[str, Any], name: str, **more: Any) -> dict[str, Any]:
    body = {n: athlete[n] for n in ("name", "born_on", "squad", "note", "version")}
    answer = client.put(
        f"/api/athletes/{athlete['id']}", json=body | {"change_id": str(uuid.uuid4()), "name": name} | more
    )
    assert answer.status_code == 200, answer.text
    found: dict[str, Any] = answer.json()
    return found


def days_pass(url: str, athlete: str, days: int) -> None:
    """They were last worked with so many days ago."""
    then = datetime.now(UTC) - timedelta(days=days)
    with psycopg.connect(url) as cx:
        cx.execute("UPDATE athlete SET unnamed_since = %s WHERE id = %s AND unnamed_since IS NOT NULL", [then, athlete])
        cx.execute("UPDATE fitting SET touched_at = %s, opened_at = %s WHERE athlete_id = %s", [then, then, athlete])


def forget(url: str) -> int:
    """What the learner's process does."""
    with psycopg.connect(url, row_factory=dict_row, autocommit=True) as cx:
        return forget_due(cx)


def kept(client: httpx.Client, athlete: str) -> bool:
    return str(client.get(f"/api/athletes/{athlete}").json()["athlete"]["name"]) != "Erased"


def test_a_fitting_begins_with_no_name_and_once(shop: Shop) -> None:
    running, _ = shop
    client = signed_in(running)
    first = comes_in(client)
    assert re.fullmatch(r"Walk-in, \d\d:\d\d", first["athlete"]["name"])
    assert first["athlete"]["unnamed_since"]
    ids = {"change_id": str(uuid.uuid4()), "fitting_id": str(uuid.uuid4())}
    twice = [comes_in(client, " Blue jacket ", **ids) for _ in range(2)]
    assert twice[0]["athlete"]["id"] == twice[1]["athlete"]["id"] != first["athlete"]["id"]
    assert re.fullmatch(r"Blue jacket, \d\d:\d\d", twice[0]["athlete"]["name"])
    found = client.get("/api/athletes", params={"text": "blue jack"}).json()
    assert [(a["fitting_id"], bool(a["unnamed_since"])) for a in found] == [(ids["fitting_id"], True)]
    assert patch(client, ids["fitting_id"], "brief", {"sport": "football"}).status_code == 200


def test_a_name_can_come_any_time(shop: Shop) -> None:
    running, url = shop
    client = signed_in(running)
    athlete = comes_in(client)["athlete"]
    page = client.get(f"/api/athletes/{athlete['id']}").json()
    assert page["forgotten_on"]
    known = named(client, athlete, "Red cap", unnamed=True)
    assert known["unnamed_since"] == athlete["unnamed_since"]
    known = named(client, known, known["name"], squad="Harbour climbers")  # something else was put right
    assert known["unnamed_since"]
    known = named(client, known, "Sanna Perl")
    assert known["unnamed_since"] is None
    assert client.get(f"/api/athletes/{athlete['id']}").json()["forgotten_on"] is None
    again = named(client, known, "Sanna Perl-Oake", unnamed=True)
    assert again["unnamed_since"] is None  # who has a name doesn't lose it
    days_pass(url, athlete["id"], 400)
    forget(url)
    assert kept(client, athlete["id"])


def test_who_never_said_one_is_forgotten_when_the_days_are_over(shop: Shop) -> None:
    """Thirty days after they were last worked with, unless the house says otherwise; what was sold stays sold."""
    running, url = shop
    client = signed_in(running)
    came = comes_in(client, "Green scarf")
    athlete, fitting = came["athlete"]["id"], came["id"]
    patch(client, fitting, "feet", {"note": "tall, came with a friend"})
    other = comes_in(client, "Grey coat")["athlete"]["id"]
    forget(url)
    assert kept(client, athlete)
    days_pass(url, athlete, 29)
    forget(url)
    assert kept(client, athlete)
    days_pass(url, athlete, 32)
    assert forget(url) == 1
    assert not kept(client, athlete)
    assert kept(client, other)
    assert client.get("/api/athletes", params={"text": "green scarf"}).json() == []
    left = rows(url, "SELECT to_jsonb(a) || jsonb_build_object('parts', (SELECT jsonb_agg(p.body) FROM fitting_part p "
                     "JOIN fitting f ON f.id = p.fitting_id WHERE f.athlete_id = a.id)) AS left_of FROM athlete a "
                     "WHERE a.id = %s", athlete)  # fmt: skip
    assert "scarf" not in str(left).lower()
    assert "friend" not in str(left)
    assert forget(url) == 0


@pytest.mark.parametrize("why", ["an order", "a follow-up"])
def test_who_waits_for_something_is_kept_for_it(shop: Shop, why: str) -> None:
    running, url = shop
    client = signed_in(running)
    came = comes_in(client)
    athlete, fitting = came["athlete"]["id"], came["id"]
    if why == "an order":
        variant = rows(url, "SELECT variant_id FROM stock_line LIMIT 1")[0]["variant_id"]
        assert ask(client, str(variant), fitting_id=fitting).status_code == 201
    else:
        fitting, (line,) = pulled(client, 1, athlete)
        assert sell(client, fitting, line).is_success
        due = (today() + timedelta(days=3)).isoformat()
        assert client.put(f"/api/fittings/{fitting}/follow-up", json={"due_on": due}).is_success
    days_pass(url, athlete, 40)
    forget(url)
    assert kept(client, athlete)
    with psycopg.connect(url) as cx:
        cx.execute("UPDATE follow_up SET due_on = current_date - 35 WHERE fitting_id = %s", [fitting])
        cx.execute("UPDATE shoe_order SET state = 'arrived' WHERE fitting_id = %s", [fitting])
    if why == "an order":
        forget(url)
        assert kept(client, athlete)  # it came just now
        with psycopg.connect(url) as cx:
            cx.execute("UPDATE shoe_order SET changed_at = now() - interval '40 days' WHERE fitting_id = %s", [fitting])
    assert forget(url) == 1
    assert not kept(client, athlete)


def test_who_is_named_in_that_very_moment_is_kept(shop: Shop) -> None:
    """Their name is being written while the days' end is looked at: it is waited for, and they stay."""
    running, url = shop
    client = signed_in(running)
    came = comes_in(client)["athlete"]["id"]
    days_pass(url, came, 60)
    with ThreadPoolExecutor(1) as beside, psycopg.connect(url) as cx:
        cx.execute("UPDATE athlete SET name = 'Sanna Perl', unnamed_since = NULL WHERE id = %s", [came])
        forgot = beside.submit(forget, url)
        waits = "SELECT 1 FROM pg_locks WHERE NOT granted"
        while not rows(url, waits) and not forgot.done():
            time.sleep(0.02)
        cx.commit()
        assert forgot.result() == 0
    assert kept(client, came)


def test_one_that_cannot_be_forgotten_keeps_no_other(shop: Shop) -> None:
    """A record without anybody who made it: it can't be entered by whom, and stays."""
    running, url = shop
    client = signed_in(running)
    came = comes_in(client)["athlete"]["id"]
    with psycopg.connect(url) as cx:
        cx.execute(
            "INSERT INTO athlete (id, shop_id, name, unnamed_since) SELECT %s, shop_id, 'Nobody''s', "
            "now() - interval '90 days' FROM athlete WHERE id = %s",
            [uuid.uuid4(), came],
        )
    days_pass(url, came, 60)
    assert forget(url) == 1
    assert not kept(client, came)


def test_with_a_name_nobody_is_forgotten(shop: Shop) -> None:
    running, url = shop
    client = signed_in(running)
    athlete = new_athlete(client)
    new_fitting(client, athlete)
    days_pass(url, athlete, 900)
    forget(url)
    assert kept(client, athlete)
