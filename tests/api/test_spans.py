"""How long things last that nobody watches: a session, a link before the sale, a shop's norms. House defaults."""

from __future__ import annotations

import uuid

import psycopg

from tests import plainly
from tests.api.calls import PASSWORDS, new_fitting, signed_in
from tests.running import Web


def test_a_session_lasts_a_long_day_and_a_link_before_the_sale_two_weeks(shop: tuple[Web, str]) -> None:
    running, url = shop
    client = signed_in(running)
    fitting = new_fitting(client)
    assert client.post(f"/api/fittings/{fitting}/link", json={"id": str(uuid.uuid4())}).status_code == 201
    fresh = {"login": "ilse", "password": PASSWORDS["ilse"]}
    assert plainly.post(f"{running.url}/api/session", json=fresh).status_code == 200
    with psycopg.connect(url) as cx:
        hours = cx.execute("SELECT extract(epoch FROM max(expires_at) - now()) / 3600 FROM session").fetchone()
        days = cx.execute("SELECT extract(epoch FROM max(expires_at) - now()) / 86400 FROM athlete_link").fetchone()
    assert hours is not None
    assert days is not None
    assert 13.9 < hours[0] <= 14
    assert 13.9 < days[0] <= 14


def test_a_shops_norms_are_counted_again_after_six_hours(shop: tuple[Web, str]) -> None:
    running, url = shop
    client = signed_in(running)

    def counted(ago: str) -> bool:
        """Whether a new fitting counts anew what was counted so long ago."""
        with psycopg.connect(url) as cx:
            cx.execute(f"UPDATE shop_norm SET counted_at = now() - interval '{ago}'")
        new_fitting(client)
        with psycopg.connect(url) as cx:
            row = cx.execute("SELECT max(counted_at) > now() - interval '1 minute' FROM shop_norm").fetchone()
        return bool(row and row[0])

    assert not counted("5 hours 30 minutes")
    assert counted("6 hours 30 minutes")
