"""Days are the shop's days, wherever the server and the browser are; money keeps its currency."""

from __future__ import annotations

from datetime import UTC, date, datetime, timedelta
from zoneinfo import ZoneInfo

import httpx
import psycopg
import pytest

from kalon.core.house import House
from kalon.store.shop import day_of, known_zones, today, zone_of
from tests.api.calls import pulled, sell, signed_in
from tests.api.calls import today as day_in
from tests.running import Web

FAR = ["Pacific/Kiritimati", "Pacific/Pago_Pago", "Asia/Kathmandu", "America/St_Johns", "UTC"]
"""Fourteen hours ahead, eleven behind, and two at odd quarters."""


def house(web: Web, **more: object) -> httpx.Response:
    manager = signed_in(web, "marrow")
    now = manager.get("/api/house").json()["house"]
    return manager.put("/api/house", json={"base_version": now["version"], "house": {**now, **more, "version": 0}})


@pytest.mark.parametrize("zone", FAR)
def test_today_start_and_due_are_the_shops_days(running: Web, demo_url: str, zone: str) -> None:
    assert house(running, time_zone=zone).status_code == 200
    client = signed_in(running)
    here = day_in(ZoneInfo(zone))
    assert client.get("/api/today").json()["today"] == here.isoformat()
    fitting, (line,) = pulled(client, 1)
    whole = client.get(f"/api/fittings/{fitting}").json()
    assert (whole["today"], whole["begun_on"]) == (here.isoformat(), here.isoformat())
    plan = client.get(f"/api/fittings/{fitting}/settle/{line}").json()["plan"]
    assert date.fromisoformat(plan["wears"][0]["on"]) >= here
    sold = sell(client, fitting, line).json()
    assert sold["sale"]["sold_on"] == here.isoformat()
    assert sold["follow_up_proposed"] == (here + timedelta(days=21)).isoformat()
    sheet = client.get(f"/api/fittings/{fitting}/fit-sheet.json").json()
    assert sheet["settled_on"] == here.isoformat()
    moment = datetime(2026, 3, 1, 23, 30, tzinfo=UTC)
    with psycopg.connect(demo_url) as cx:
        cx.execute("UPDATE sale SET sold_at = %s WHERE fitting_id = %s", [moment, fitting])
    late = client.get(f"/api/fittings/{fitting}").json()
    assert late["sale"]["sold_on"] == moment.astimezone(ZoneInfo(zone)).date().isoformat()


def test_a_zone_nobody_knows_is_refused(running: Web) -> None:
    for wrong in ("Mars/Olympus", "../etc/passwd", "", "x" * 100):
        answer = house(running, time_zone=wrong)
        assert answer.status_code == 422, wrong
    assert house(running, currency="euro").status_code == 422


def test_every_zone_of_the_world_gives_a_day() -> None:
    moment = datetime(2026, 11, 26, 11, 0, tzinfo=UTC)
    days = {day_of(moment, zone_of(House(time_zone=z))) for z in known_zones() if "." not in z}
    assert days == {date(2026, 11, 26), date(2026, 11, 27)} or days == {date(2026, 11, d) for d in (25, 26, 27)}
    assert abs((today(zone_of(House())) - datetime.now(UTC).date()).days) <= 1
