"""Calling the running application as a person of the demo."""

from __future__ import annotations

import time
import uuid
from datetime import UTC, date, datetime, timedelta, tzinfo
from typing import Any

import httpx

from kalon.demo.people import SIGN_INS
from tests import plainly
from tests.made import gauge_paths
from tests.running import TOKENS, Web

LONGEST_S = 90
"""How long an answer is waited for: a worker is given a minute to measure."""
NEAR_S = 60
"""No test that counts days takes longer."""
PASSWORDS = {p.login: p.password for p in SIGN_INS}
_tokens: dict[tuple[str, str], str] = {}
FOOTBALL = {"sport": "football", "discipline": "match", "surface": "firm_natural", "body_kg": 74}


def signed_in(web: Web, login: str = "ilse") -> httpx.Client:
    """A client with that person's session: one opened before, where it still holds."""
    client = plainly.Client(base_url=web.url, timeout=LONGEST_S)
    for token in filter(None, (_tokens.get((web.url, login)), TOKENS.get(login))):
        client.cookies.set("kalon_session", token)
        if client.get("/api/session").status_code == 200:
            return client
        client.cookies.clear()
    answer = client.post("/api/session", json={"login": login, "password": PASSWORDS[login]})
    assert answer.status_code == 200, answer.text
    _tokens[web.url, login] = client.cookies["kalon_session"]
    return client


def new_athlete(client: httpx.Client, name: str = "Test Person") -> str:
    body = {"change_id": str(uuid.uuid4()), "name": name}
    return str(client.post("/api/athletes", json=body).json()["id"])


def new_fitting(client: httpx.Client, athlete: str | None = None) -> str:
    body = {"id": str(uuid.uuid4()), "athlete_id": athlete or new_athlete(client)}
    answer = client.post("/api/fittings", json=body)
    assert answer.status_code == 201, answer.text
    return str(answer.json()["id"])


def patch(
    client: httpx.Client, fitting: str, part: str, values: dict[str, Any], base: int | None = None
) -> httpx.Response:
    """Set fields of a part, based on the newest version unless told otherwise."""
    if base is None:
        base = client.get(f"/api/fittings/{fitting}").json()["parts"][part]["version"]
    body = {"base_version": base, "change_id": str(uuid.uuid4()), "set": values}
    return client.patch(f"/api/fittings/{fitting}/parts/{part}", json=body)


def ready_to_pull(client: httpx.Client, athlete: str | None = None, **brief: Any) -> str:
    """A fitting with feet and a brief."""
    fitting = new_fitting(client, athlete)
    assert patch(client, fitting, "feet", gauge_paths() | {"time_of_day": "17:30"}).status_code == 200
    assert patch(client, fitting, "brief", FOOTBALL | brief).status_code == 200
    return fitting


def pulled(client: httpx.Client, count: int = 2, athlete: str | None = None, **brief: Any) -> tuple[str, list[str]]:
    """A fitting with the best pairs in the tray."""
    fitting = ready_to_pull(client, athlete, **brief)
    places = client.get(f"/api/fittings/{fitting}/pull").json()["places"][:count]
    lines = [p["pair"]["id"] for p in places]
    for line in lines:
        assert client.put(f"/api/fittings/{fitting}/tray/{line}").status_code == 200
    return fitting, lines


def sell(client: httpx.Client, fitting: str, line: str, sale: str | None = None) -> httpx.Response:
    body = {"sale_id": sale or str(uuid.uuid4()), "line_id": line}
    return client.post(f"/api/fittings/{fitting}/sale", json=body)


def take_back(client: httpx.Client, fitting: str, sale: str | None = None) -> httpx.Response:
    """Undo the sale that stands, or the one named."""
    named = sale or client.get(f"/api/fittings/{fitting}").json()["sale"]["id"]
    return client.delete(f"/api/fittings/{fitting}/sale/{named}")


def today(zone: tzinfo = UTC) -> date:
    """The day now, the demo's shops' or that of a zone. A midnight that is near is waited for: a test sees one day."""
    now = datetime.now(zone)
    if now.date() != (now + timedelta(seconds=NEAR_S)).date():
        time.sleep(NEAR_S)
    return datetime.now(zone).date()


def eventually(ask: Any, seconds: float = 120) -> Any:
    """The first answer that isn't None."""
    deadline = time.monotonic() + seconds
    while time.monotonic() < deadline:
        found = ask()
        if found is not None:
            return found
        time.sleep(0.2)
    raise TimeoutError("it did not come about")
