"""What the web's own role may do is what the person may do whose session it shows: tried in SQL, as a hole in a page
would let somebody try it."""

from __future__ import annotations

import secrets
from collections.abc import Iterator
from typing import Any, LiteralString

import psycopg
import pytest

from kalon.store.staff import digest
from tests.running import addresses_of

Cx = psycopg.Connection[Any]


@pytest.fixture
def tokens(demo_url: str) -> Iterator[dict[str, str]]:
    """A session of everybody in the scenario, by their sign-in name."""
    with psycopg.connect(demo_url) as cx:
        found = {
            login: secrets.token_urlsafe(16) for (login,) in cx.execute("SELECT DISTINCT login FROM staff").fetchall()
        }
        for login, token in found.items():
            cx.execute(
                "INSERT INTO session (token_hash, shop_id, staff_id, expires_at) "
                "SELECT %s, shop_id, id, now() + interval '1 hour' FROM staff WHERE login = %s LIMIT 1",
                [digest(token), login],
            )
    yield found
    with psycopg.connect(demo_url) as cx:
        cx.execute("DELETE FROM session WHERE token_hash = ANY(%s)", [[digest(t) for t in found.values()]])


@pytest.fixture
def as_app(demo_url: str, tokens: dict[str, str]) -> Iterator[Cx]:
    """The application's own connection, let go of before the sessions are."""
    with psycopg.connect(addresses_of(demo_url).app) as cx:
        yield cx
        cx.rollback()


def enter(cx: Cx, token: str) -> None:
    cx.execute("SELECT set_config('kalon.token', %s, true)", [token])


def came_of(cx: Cx, statement: LiteralString) -> str:
    """What became of a statement: refused, nothing (no row), or done."""
    try:
        with cx.transaction():
            done = cx.execute(statement)
            return "done" if done.rowcount > 0 else "nothing"
    except psycopg.errors.InsufficientPrivilege:
        return "refused"
    except psycopg.DatabaseError as error:
        if error.sqlstate == "KA403":
            return "refused"
        raise


NEVER: dict[str, LiteralString] = {
    "passwords read": "SELECT password_hash FROM staff",
    "what unsent words are sealed with read": "SELECT seal FROM staff",
    "a password set": "UPDATE staff SET password_hash = 'x'",
    "made a manager": "UPDATE staff SET role = 'manager'",
    "somebody added": "INSERT INTO staff (id, shop_id, login, name, role, password_hash) "
    "VALUES (gen_random_uuid(), shop_now(), 'me2', 'Me', 'manager', 'x')",
    "a price rewritten": "UPDATE sale SET price_minor = 1",
    "a snapshot rewritten": "UPDATE sale SET snapshot = '{}'",
    "a sale's fitter rewritten": "UPDATE sale SET sold_by = staff_now()",
    "a fitting moved to another athlete": "UPDATE fitting SET athlete_id = (SELECT id FROM athlete LIMIT 1)",
    "a fitting's fitter rewritten": "UPDATE fitting SET opened_by = staff_now()",
    "audit in another's name": "INSERT INTO change (shop_id, athlete_id, part, version, change_id, before, after, staff_id) "
    "SELECT shop_now(), (SELECT id FROM athlete LIMIT 1), 'feet', 1, gen_random_uuid(), '{}', '{}', id "
    "FROM staff WHERE id <> staff_now() LIMIT 1",
    "the shop's audit in another's name": "INSERT INTO shop_change (shop_id, about, about_id, change_id, before, after, "
    "staff_id) SELECT shop_now(), 'stock', NULL, gen_random_uuid(), '{}', '{}', id FROM staff WHERE id <> staff_now() LIMIT 1",
    "a fitting in another's name": "INSERT INTO fitting (id, shop_id, athlete_id, opened_by) "
    "SELECT gen_random_uuid(), shop_now(), (SELECT id FROM athlete LIMIT 1), id FROM staff WHERE id <> staff_now() LIMIT 1",
    "pairs moved in another's name": "INSERT INTO movement (shop_id, stock_line_id, kind, pairs, change_id, staff_id) "
    "SELECT shop_now(), (SELECT id FROM stock_line LIMIT 1), 'received', 1, gen_random_uuid(), id "
    "FROM staff WHERE id <> staff_now() LIMIT 1",
    "pairs moved in nobody's name": "INSERT INTO movement (shop_id, stock_line_id, kind, pairs, change_id) "
    "SELECT shop_now(), (SELECT id FROM stock_line LIMIT 1), 'received', 1, gen_random_uuid()",
    "another shop's day": "SELECT * FROM day_items((SELECT id FROM sister_shops() LIMIT 1), current_date, current_date + 90)",
    "devices read": "SELECT * FROM sign_in_device",
    "an invitation's secret read": "SELECT token_hash FROM invitation",
    "an invitation forged": "INSERT INTO invitation (token_hash, shop_id, staff_id) "
    "SELECT '\\x00', shop_now(), id FROM staff LIMIT 1",
}
"""What no session makes possible, whoever's it is."""
MANAGERS: dict[str, LiteralString] = {
    "a person added": "SELECT staff_add(gen_random_uuid(), 'me2', 'Me', 'manager')",
    "a role given": "SELECT staff_alter(staff_now(), 'manager', true)",
    "people locked": "SELECT staff_hold(staff_now())",
    "an invitation made": "SELECT staff_invite(id, '\\x01') FROM staff WHERE login = 'ilse'",
    "the house set": "INSERT INTO house_version (shop_id, version, body, set_by, format) "
    "SELECT shop_now(), 999, '{}', staff_now(), 1",
    "a model added": "INSERT INTO shoe_model (id, chain_id, maker, name, sport, build, properties, choices) "
    "VALUES (gen_random_uuid(), chain_now(), 'In', 'Truder', 'court', 'board', '{}', '{}')",
    "a price of a model that has none": "INSERT INTO model_price (shop_id, chain_id, model_id, price_minor, currency) "
    "SELECT shop_now(), chain_id, id, 1, 'XTS' FROM shoe_model LIMIT 1 ON CONFLICT (shop_id, model_id, colour) DO UPDATE SET price_minor = 2",
    "prices rewritten": "UPDATE model_price SET price_minor = 1",
    "a list brought in": "INSERT INTO sheet_import (id, shop_id, staff_id, name, file, columns, settings) "
    "VALUES (gen_random_uuid(), shop_now(), staff_now(), 'x', '', '[]', '{}')",
    "a fitter's evidence set aside": "INSERT INTO fitter_aside (id, shop_id, fitter_id, from_day, to_day, reason, staff_id) "
    "SELECT gen_random_uuid(), shop_now(), id, '2001-01-01', '2001-01-02', 'x', staff_now() FROM staff LIMIT 1",
    "somebody else signed out": "DELETE FROM session WHERE staff_id <> staff_now()",
}
SELLERS: dict[str, LiteralString] = {
    "a sale undone": "UPDATE sale SET undone_at = now()",
    "pairs received": "INSERT INTO movement (shop_id, stock_line_id, kind, pairs, change_id, staff_id) "
    "SELECT shop_now(), (SELECT id FROM stock_line LIMIT 1), 'received', 1, gen_random_uuid(), staff_now()",
    "a consent noted": "INSERT INTO athlete_consent (id, shop_id, chain_id, athlete_id, said, given_by) "
    "SELECT gen_random_uuid(), shop_now(), chain_now(), id, 'x', staff_now() FROM athlete ORDER BY id DESC LIMIT 1",
    "a pair kept back": "INSERT INTO reservation (id, chain_id, shop_id, stock_line_id, kind, name, until, staff_id) "
    "SELECT gen_random_uuid(), chain_id, shop_id, id, 'customer', 'x', now() + interval '1 day', staff_now() "
    "FROM stock_line LIMIT 1",
    "a calendar of the whole shop": "INSERT INTO day_feed (id, shop_id, staff_id, whole, token_hash) "
    "VALUES (gen_random_uuid(), shop_now(), staff_now(), true, '\\x02')",
    "an order moved on": "UPDATE shoe_order SET state = 'cancelled' WHERE shop_id = shop_now()",
}
EVERYBODY: dict[str, LiteralString] = {
    "a fitting begun": "INSERT INTO fitting (id, shop_id, athlete_id, opened_by) "
    "SELECT gen_random_uuid(), shop_now(), (SELECT id FROM athlete LIMIT 1), staff_now()",
    "a calendar of one's own": "INSERT INTO day_feed (id, shop_id, staff_id, whole, token_hash) "
    "VALUES (gen_random_uuid(), shop_now(), staff_now(), false, '\\x03')",
    "people's names": "SELECT login, name, role FROM staff",
    "what came noted": "UPDATE shoe_order SET arrival = '{}' WHERE shop_id = shop_now()",
    "the shop's own day": "SELECT * FROM day_now(current_date, current_date + 90)",
}
WHO = {"pip": (), "ilse": ("sells",), "marrow": ("sells", "manages")}
"""A trainee, a fitter, a manager."""


@pytest.mark.parametrize("what", NEVER)
@pytest.mark.parametrize("login", WHO)
def test_what_no_session_makes_possible(as_app: Cx, tokens: dict[str, str], login: str, what: str) -> None:
    enter(as_app, tokens[login])
    assert came_of(as_app, NEVER[what]) == "refused"


@pytest.mark.parametrize(
    ("what", "statement", "right"),
    [
        *((k, v, "manages") for k, v in MANAGERS.items()),
        *((k, v, "sells") for k, v in SELLERS.items()),
        *((k, v, "") for k, v in EVERYBODY.items()),
    ],
)
@pytest.mark.parametrize("login", WHO)
def test_who_may_what_in_the_database_too(
    as_app: Cx, tokens: dict[str, str], login: str, what: str, statement: LiteralString, right: str
) -> None:
    enter(as_app, tokens[login])
    may = not right or right in WHO[login]
    assert (came_of(as_app, statement) == "done") is may, what


def test_the_day_is_of_the_shop_that_asks(as_app: Cx, tokens: dict[str, str]) -> None:
    seen = []
    for login in ("ilse", "sorrel"):
        enter(as_app, tokens[login])
        seen.append(
            {r[0] for r in as_app.execute("SELECT athlete_id FROM day_now(current_date, current_date + 90)") if r[0]}
        )
        mine = {r[0] for r in as_app.execute("SELECT id FROM athlete").fetchall()}
        assert seen[-1] <= mine
    assert seen[0]
    enter(as_app, "")
    assert as_app.execute("SELECT count(*) FROM day_now(current_date, current_date + 90)").fetchone() == (0,)


def test_without_a_session_nothing_is_changed(as_app: Cx) -> None:
    for token in ("", "made-up"):
        enter(as_app, token)
        for statement in (*MANAGERS.values(), *SELLERS.values()):
            assert came_of(as_app, statement) != "done", statement


def test_whoever_may_no_longer_is_out_at_once(as_app: Cx, tokens: dict[str, str], demo_url: str) -> None:
    """A role taken away holds from the next statement on, whatever the session was opened as."""
    with psycopg.connect(demo_url) as cx:
        cx.execute("UPDATE staff SET role = 'trainee' WHERE login = 'bram'")
    try:
        enter(as_app, tokens["bram"])
        assert came_of(as_app, SELLERS["pairs received"]) == "refused"
    finally:
        with psycopg.connect(demo_url) as cx:
            cx.execute("UPDATE staff SET role = 'fitter' WHERE login = 'bram'")
