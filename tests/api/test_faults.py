"""Killed servers: what was acknowledged is there, what was not can be sent again."""

from __future__ import annotations

import contextlib
import threading
import uuid
from collections.abc import Iterator
from typing import Any

import httpx
import pytest

from kalon.host.postgres import LocalServer
from kalon.host.supervise import answers
from tests import plainly
from tests.api.calls import eventually, new_fitting, pulled, sell, signed_in
from tests.running import Web, database_server, demo_database, web


@pytest.fixture(scope="module")
def own_server() -> Iterator[LocalServer]:
    """A database server these tests may kill."""
    with database_server() as running:
        yield running


@pytest.fixture(scope="module")
def own_web(own_server: LocalServer) -> Iterator[Web]:
    with web(demo_database(own_server, "faults")) as running:
        yield running


class Writer(threading.Thread):
    """Types a new number again and again, remembering the last one acknowledged."""

    def __init__(self, client: httpx.Client, fitting: str) -> None:
        super().__init__(daemon=True)
        self.client, self.fitting = client, fitting
        self.acknowledged = 0.0
        self.sent = 0.0
        self.stopped = threading.Event()
        self.version = 0

    def run(self) -> None:
        value = 200.0
        while not self.stopped.is_set():
            value += 0.1
            self.sent = round(value, 1)
            body = {"base_version": self.version, "change_id": str(uuid.uuid4()), "set": {"left/length_mm": self.sent}}
            try:
                answer = self.client.patch(f"/api/fittings/{self.fitting}/parts/feet", json=body)
            except httpx.TransportError:
                return
            if answer.status_code != 200:
                return
            self.acknowledged, self.version = self.sent, answer.json()["version"]


def typed_into(web_: Web, kill: Any) -> tuple[Writer, str]:
    """Write until `kill` has happened in the middle of it."""
    client = signed_in(web_)
    fitting = new_fitting(client)
    writer = Writer(client, fitting)
    writer.start()
    eventually(lambda: True if writer.version > 20 else None)
    kill()
    writer.join(timeout=15)
    writer.stopped.set()
    assert not writer.is_alive()
    return writer, fitting


def kept(web_: Web, fitting: str) -> dict[str, Any]:
    def look() -> Any:
        try:
            answer = signed_in(web_).get(f"/api/fittings/{fitting}")
        except (httpx.TransportError, AssertionError):
            return None
        return answer.json()["parts"]["feet"] if answer.status_code == 200 else None

    return dict(eventually(look))


def test_kill_minus_nine_of_the_application_loses_nothing_acknowledged(own_web: Web) -> None:
    writer, fitting = typed_into(own_web, own_web.kill)
    own_web.start()
    found = kept(own_web, fitting)
    assert found["body"]["left"]["length_mm"] in (writer.acknowledged, writer.sent)
    assert found["version"] >= writer.version


def test_kill_minus_nine_of_postgresql_loses_nothing_acknowledged(own_web: Web, own_server: LocalServer) -> None:
    writer, fitting = typed_into(own_web, own_server.kill)
    away = plainly.get(f"{own_web.url}/api/session", cookies={"kalon_session": "x"}, timeout=20)
    assert (away.status_code, away.json()["code"]) == (503, "store-away")
    assert "kept here" in away.json()["title"]
    assert not answers("127.0.0.1", own_web.port)
    assert plainly.get(f"{own_web.url}/health").status_code == 200
    own_server.start()
    found = kept(own_web, fitting)
    assert found["body"]["left"]["length_mm"] in (writer.acknowledged, writer.sent)
    assert found["version"] >= writer.version


def test_a_sale_whose_answer_was_lost_is_sold_once(own_web: Web) -> None:
    client = signed_in(own_web)
    fitting, lines = pulled(client, 1)
    before = client.get(f"/api/stock/{lines[0]}").json()["on_hand"]
    sale = str(uuid.uuid4())
    threading.Timer(0.02, own_web.kill).start()
    with contextlib.suppress(httpx.TransportError):
        sell(client, fitting, lines[0], sale)
    eventually(lambda: True if own_web.process and own_web.process.poll() is not None else None)
    own_web.start()
    again = signed_in(own_web)
    assert sell(again, fitting, lines[0], sale).status_code == 201
    after = again.get(f"/api/stock/{lines[0]}").json()["on_hand"]
    assert after == before - 1
