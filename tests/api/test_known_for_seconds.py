"""Two web processes on one database: each takes somebody for signed in for seconds, and reads and writes nothing on the
word of that."""

from __future__ import annotations

import uuid
from collections.abc import Iterator

import httpx
import psycopg
import pytest

from tests import plainly
from tests.api.calls import new_fitting, pulled, sell, signed_in
from tests.running import Web, addresses_of, superuser_of


@pytest.fixture(scope="module")
def other(shop: tuple[Web, str]) -> Iterator[Web]:
    """A second process on the same database."""
    found = Web(addresses_of(shop[1]))
    found.start()
    yield found
    found.stop()


@pytest.fixture
def both(shop: tuple[Web, str], other: Web) -> tuple[httpx.Client, httpx.Client, str]:
    """A fitter of their own at the first process, the manager at the second; the fitter's id."""
    manager = signed_in(other, "marrow")
    login, password = f"keen{uuid.uuid4().hex[:6]}", "welt-and-awl-31"
    said = manager.post(
        "/api/people", json={"login": login, "name": "Keen One", "role": "fitter", "change_id": str(uuid.uuid4())}
    )
    assert said.status_code in (200, 201), said.text
    with psycopg.connect(superuser_of(shop[1])) as cx:
        row = cx.execute("SELECT id FROM staff WHERE login = %s", [login]).fetchone()
        assert row
        token = f"of-{login}".ljust(43, "-")
        cx.execute(
            "INSERT INTO session (token_hash, shop_id, staff_id, expires_at) "
            "SELECT sha256(convert_to(%s, 'UTF8')), shop_id, id, now() + interval '1 hour' FROM staff WHERE id = %s",
            [token, row[0]],
        )
        cx.execute("UPDATE staff SET password_hash = %s WHERE id = %s", [password, row[0]])
    fitter = plainly.Client(base_url=shop[0].url, timeout=30)
    fitter.cookies.set("kalon_session", token)
    assert fitter.get("/api/session").json()["login"] == login
    return fitter, manager, str(row[0])


def test_a_leaver_is_out_at_once_whichever_process_let_them_go(both: tuple[httpx.Client, httpx.Client, str]) -> None:
    fitter, manager, who = both
    fitting = new_fitting(fitter)
    assert fitter.get("/api/today").status_code == 200
    gone = manager.patch(f"/api/people/{who}", json={"active": False, "change_id": str(uuid.uuid4())})
    assert gone.status_code == 200, gone.text
    assert fitter.get("/api/today").status_code == 401
    assert fitter.get("/api/session").status_code == 401
    body = {"base_version": 0, "change_id": str(uuid.uuid4()), "set": {"body_kg": 70}}
    assert fitter.patch(f"/api/fittings/{fitting}/parts/brief", json=body).status_code == 401


def test_another_role_ends_the_session_in_every_process(both: tuple[httpx.Client, httpx.Client, str]) -> None:
    fitter, manager, who = both
    fitting, (line,) = pulled(fitter, 1)
    changed = manager.patch(f"/api/people/{who}", json={"role": "trainee", "change_id": str(uuid.uuid4())})
    assert changed.status_code == 200, changed.text
    assert sell(fitter, fitting, line).status_code == 401
    assert fitter.put(f"/api/fittings/{fitting}/tray/{line}").status_code == 401


def test_a_session_ended_elsewhere_is_over_here(
    shop: tuple[Web, str], other: Web, both: tuple[httpx.Client, httpx.Client, str]
) -> None:
    fitter, _, _ = both
    there = plainly.Client(base_url=other.url, timeout=30, cookies=fitter.cookies)
    assert there.get("/api/today").status_code == 200
    assert there.delete("/api/session").status_code == 204
    assert fitter.get("/api/today").status_code == 401


def test_a_token_that_could_not_be_one_proves_nothing(shop: tuple[Web, str]) -> None:
    for token in ("x'); DROP TABLE session; --", "a b", "ü" * 43, "y" * 300):
        stranger = plainly.Client(base_url=shop[0].url, timeout=30)
        stranger.headers["cookie"] = f"kalon_session={token}".encode().decode("latin-1")
        assert stranger.get("/api/today").status_code == 401


def test_who_refers_to_a_fitting_doesnt_wait_for_whoever_types_in_it(shop: tuple[Web, str]) -> None:
    """The learner writes rows that refer to fittings and fitters; a fitter who is in the midst of a change locks only
    what is changed, never the key others refer to."""
    fitting = new_fitting(signed_in(shop[0]))
    with psycopg.connect(superuser_of(shop[1])) as one, psycopg.connect(superuser_of(shop[1])) as two:
        one.execute("SELECT 1 FROM fitting WHERE id = %s FOR NO KEY UPDATE", [fitting])
        two.execute("SET lock_timeout = '500ms'")
        two.execute("SELECT 1 FROM fitting WHERE id = %s FOR KEY SHARE", [fitting])
