"""The database itself keeps shops apart, under the very role the application works as."""

from __future__ import annotations

import uuid
from collections.abc import Iterator
from typing import Any

import psycopg
import pytest
from psycopg.types.json import Jsonb

from kalon.store.staff import digest
from tests.running import addresses_of

SHOP_TABLES = ("staff", "session", "athlete", "stock_line", "fitting", "fitting_part", "change",
               "tray_pair", "sale", "follow_up", "foot_capture", "capture_progress", "house_version", "shop_change",
               "shop_norm", "movement", "sheet_import", "sheet_row", "sheet_model", "sheet_size",
               "sheet_habit", "sheet_word", "athlete_consent", "evidence", "evidence_aside", "athlete_link",
               "link_answer", "pair", "pair_worn", "pair_seen", "pair_plan", "day_mark", "day_feed",
               "shoe_picture", "learned_fitter", "fitter_aside", "shop_price", "model_price",
               "journal_line", "journal_close", "purchase", "purchase_line", "athlete_reach",
               "athlete_merge", "tablet", "queue_place")  # fmt: skip
CHAIN_TABLES = ("shoe_model", "variant", "shoe_reading", "learned_version", "learned", "learned_give", "life_learned")
Cx = psycopg.Connection[Any]


@pytest.fixture
def as_app(demo_url: str) -> Iterator[Cx]:
    with psycopg.connect(addresses_of(demo_url).app) as cx:
        yield cx
        cx.rollback()


@pytest.fixture(scope="module")
def shops(demo_url: str) -> tuple[uuid.UUID, uuid.UUID]:
    """Both shops, with a session each, whose token is the shop's id."""
    with psycopg.connect(demo_url) as cx:
        rows = dict(cx.execute("SELECT name, id FROM shop").fetchall())
        for shop in rows.values():
            cx.execute(
                "INSERT INTO session (token_hash, shop_id, staff_id, expires_at) "
                "SELECT %s, shop_id, id, now() + interval '1 hour' FROM staff WHERE shop_id = %s AND role = 'manager'",
                [digest(str(shop)), shop],
            )
    return rows["Games fitting room, Harbour"], rows["Games fitting room, North Isle"]


def enter(cx: Cx, shop: uuid.UUID | str) -> None:
    cx.execute("SELECT set_config('kalon.token', %s, true)", [str(shop)])


def test_every_table_of_ours_is_under_row_security(demo_url: str) -> None:
    with psycopg.connect(demo_url) as cx:
        rows = cx.execute(
            "SELECT relname, relrowsecurity FROM pg_class c JOIN pg_namespace n ON n.oid = c.relnamespace "
            "WHERE n.nspname = 'public' AND relkind = 'r' AND relname NOT LIKE '%yoyo%'"
        ).fetchall()
    secured = dict(rows)
    assert set(secured) == {
        *SHOP_TABLES,
        *CHAIN_TABLES,
        "shoe_order",
        "reservation",
        "learn_due",
        "pair_due",
        "came_true",
        "gap_seen",
        "learned_change",
        "learn_parked",
        "link_knock",
        "learn_maker_due",
        "life_due",
        "chain",
        "shop",
        "sign_in_attempt",
        "sign_in_device",
        "invitation",
        "staff_pin",
        "pin_tried",
        "journal_year",
        "growth_step",
        "learned_maker",
        "give_curve",
        "learn_start",
        "shelf_change",
    }
    assert all(secured.values())


def test_every_shop_table_has_the_shop_in_each_row(demo_url: str) -> None:
    with psycopg.connect(demo_url) as cx:
        rows = cx.execute(
            "SELECT table_name FROM information_schema.columns WHERE column_name = 'shop_id' AND is_nullable = 'NO' "
            "AND table_schema = 'public'"
        ).fetchall()
    assert {r[0] for r in rows} >= set(SHOP_TABLES)


@pytest.mark.parametrize("table", [*SHOP_TABLES, *CHAIN_TABLES, "shoe_order", "reservation"])
def test_without_a_shop_there_is_nothing(as_app: Cx, table: str) -> None:
    assert as_app.execute(f"SELECT count(*) FROM {table}").fetchone() == (0,)
    enter(as_app, "")
    assert as_app.execute(f"SELECT count(*) FROM {table}").fetchone() == (0,)


@pytest.mark.parametrize("table", SHOP_TABLES)
def test_a_shop_sees_its_own_rows_only(as_app: Cx, shops: tuple[uuid.UUID, uuid.UUID], table: str) -> None:
    for shop in shops:
        enter(as_app, shop)
        found = as_app.execute(f"SELECT DISTINCT shop_id FROM {table}").fetchall()
        assert found in ([(shop,)], [])


@pytest.fixture
def stranger(demo_url: str) -> Iterator[uuid.UUID]:
    """A shop of no chain of ours, with a session whose token is its id, a model, a size of it and a pair."""
    shop, staff, model, variant = (uuid.uuid4() for _ in range(4))
    with psycopg.connect(demo_url) as cx:
        cx.execute("INSERT INTO chain VALUES (%s, 'Elsewhere')", [shop])
        cx.execute("INSERT INTO shop (id, name, chain_id) VALUES (%s, 'Elsewhere', %s)", [shop, shop])
        cx.execute(
            "INSERT INTO staff (id, shop_id, login, name, role, password_hash) VALUES (%s, %s, 's', 'S', 'manager', 'x')",
            [staff, shop],
        )
        cx.execute(
            "INSERT INTO session (token_hash, shop_id, staff_id, expires_at) VALUES (%s, %s, %s, now() + interval '1 h')",
            [digest(str(shop)), shop, staff],
        )
        cx.execute(
            "INSERT INTO shoe_model (id, chain_id, maker, name, sport, build, properties, choices) "
            "VALUES (%s, %s, 'Far', 'Off', 'court', 'board', '{}', '{}')",
            [model, shop],
        )
        cx.execute(
            "INSERT INTO variant (id, chain_id, model_id, width, system, label, eu_label, length_label_mm, "
            "ball_girth_label_mm, instep_girth_label_mm, heel_width_label_mm) "
            "VALUES (%s, %s, %s, 'regular', 'eu', 42, 42, 280, 252, 256, 67)",
            [variant, shop, model],
        )
        cx.execute("INSERT INTO stock_line (id, shop_id, chain_id, variant_id) VALUES (%s, %s, %s, %s)",
                   [variant, shop, shop, variant])  # fmt: skip
    yield shop
    with psycopg.connect(demo_url) as cx:
        cx.execute("DELETE FROM movement WHERE shop_id = %s", [shop])
        for table in ("stock_line", "session", "staff", "shop"):
            cx.execute(f"DELETE FROM {table} WHERE {'id' if table == 'shop' else 'shop_id'} = %s", [shop])
        for table in ("shoe_reading", "variant", "shoe_model", "chain"):
            cx.execute(f"DELETE FROM {table} WHERE {'id' if table == 'chain' else 'chain_id'} = %s", [shop])


@pytest.mark.parametrize("table", [*CHAIN_TABLES, "chain"])
def test_a_chain_sees_its_own_catalogue_only(
    as_app: Cx, shops: tuple[uuid.UUID, uuid.UUID], stranger: uuid.UUID, table: str
) -> None:
    key = "id" if table == "chain" else "chain_id"
    seen = []
    for shop in (*shops, stranger):
        enter(as_app, shop)
        seen.append({r[0] for r in as_app.execute(f"SELECT DISTINCT {key} FROM {table}").fetchall()})
    assert seen[0] == seen[1]
    assert len(seen[0]) == 1
    assert seen[2] <= {stranger}
    assert not seen[0] & seen[2]


def test_a_catalogue_of_another_chain_can_be_neither_written_nor_stocked(
    as_app: Cx, shops: tuple[uuid.UUID, uuid.UUID], stranger: uuid.UUID
) -> None:
    enter(as_app, shops[0])
    assert as_app.execute("UPDATE shoe_model SET name = 'seen' WHERE chain_id = %s", [stranger]).rowcount == 0
    row = as_app.execute("SELECT DISTINCT chain_id FROM variant").fetchone()
    assert row
    variant = uuid.uuid4()
    with pytest.raises(psycopg.errors.InsufficientPrivilege):
        as_app.execute(
            "INSERT INTO shoe_model (id, chain_id, maker, name, sport, build, properties, choices) "
            "VALUES (%s, %s, 'In', 'Truder', 'court', 'board', '{}', '{}')",
            [variant, stranger],
        )
    as_app.rollback()
    enter(as_app, shops[0])
    for chain in (row[0], stranger):
        with pytest.raises(psycopg.errors.ForeignKeyViolation), as_app.transaction():
            as_app.execute(
                "INSERT INTO stock_line (id, shop_id, chain_id, variant_id) "
                "SELECT %s, %s, %s, id FROM (VALUES (%s)) v (id)",
                [variant, shops[0], chain, variant],
            )


def test_sister_shops_stock_is_seen_and_a_strangers_is_not(
    as_app: Cx, shops: tuple[uuid.UUID, uuid.UUID], stranger: uuid.UUID, demo_url: str
) -> None:
    with psycopg.connect(demo_url) as cx:
        every = [r[0] for r in cx.execute("SELECT variant_id FROM stock_line WHERE on_hand > 0").fetchall()]
        cx.execute(
            "INSERT INTO movement (shop_id, stock_line_id, kind, pairs, change_id) "
            "SELECT shop_id, id, 'received', 2, gen_random_uuid() FROM stock_line WHERE shop_id = %s",
            [stranger],
        )
    for shop, others in ((shops[0], {"North Isle", "Skerry"}), (shops[1], {"Harbour", "Skerry"})):
        enter(as_app, shop)
        found = as_app.execute("SELECT DISTINCT shop FROM sister_stock(%s)", [every]).fetchall()
        assert {str(f[0]).split(", ")[1] for f in found} == others
    enter(as_app, stranger)
    assert as_app.execute("SELECT count(*) FROM sister_stock(%s)", [every]).fetchone() == (0,)


def test_another_shops_rows_can_be_neither_written_nor_changed(as_app: Cx, shops: tuple[uuid.UUID, uuid.UUID]) -> None:
    ours, theirs = shops
    enter(as_app, ours)
    changed = as_app.execute("UPDATE athlete SET note = 'seen' WHERE shop_id = %s", [theirs])
    assert changed.rowcount == 0
    with pytest.raises(psycopg.errors.InsufficientPrivilege):
        as_app.execute("INSERT INTO athlete (id, shop_id, name) VALUES (%s, %s, 'Intruder')", [uuid.uuid4(), theirs])


def test_a_row_cannot_be_moved_to_another_shop(as_app: Cx, shops: tuple[uuid.UUID, uuid.UUID]) -> None:
    ours, theirs = shops
    enter(as_app, ours)
    with pytest.raises(psycopg.errors.InsufficientPrivilege):
        as_app.execute("UPDATE athlete SET shop_id = %s", [theirs])


def test_a_fitting_cannot_name_another_shops_athlete(as_app: Cx, shops: tuple[uuid.UUID, uuid.UUID]) -> None:
    ours, theirs = shops
    enter(as_app, theirs)
    row = as_app.execute("SELECT id FROM athlete LIMIT 1").fetchone()
    assert row
    enter(as_app, ours)
    with pytest.raises(psycopg.errors.ForeignKeyViolation):
        as_app.execute(
            "INSERT INTO fitting (id, shop_id, athlete_id, opened_by) VALUES (%s, %s, %s, staff_now())",
            [uuid.uuid4(), ours, row[0]],
        )


@pytest.mark.parametrize(
    "statement",
    [
        "UPDATE change SET after = '{}'",
        "DELETE FROM change",
        "DELETE FROM athlete",
        "DELETE FROM sale",
        "UPDATE house_version SET body = '{}'",
        "DELETE FROM house_version",
        "TRUNCATE fitting",
        "DROP TABLE athlete",
        "ALTER TABLE athlete DISABLE ROW LEVEL SECURITY",
        "SELECT * FROM sign_in_attempt",
        "CREATE TABLE mine (x int)",
    ],
)
def test_the_app_may_not_rewrite_history_or_the_house(
    as_app: Cx, shops: tuple[uuid.UUID, uuid.UUID], statement: str
) -> None:
    enter(as_app, shops[0])
    with pytest.raises(psycopg.errors.InsufficientPrivilege):
        as_app.execute(statement)


def test_stock_never_goes_below_nought(as_app: Cx, shops: tuple[uuid.UUID, uuid.UUID]) -> None:
    enter(as_app, shops[0])
    line = as_app.execute("SELECT id FROM stock_line ORDER BY id LIMIT 1").fetchone()
    assert line
    with pytest.raises(psycopg.errors.CheckViolation):
        as_app.execute(
            "INSERT INTO movement (shop_id, stock_line_id, kind, pairs, change_id, staff_id) "
            "VALUES (%s, %s, 'counted', -50, %s, staff_now())",
            [shops[0], line[0], uuid.uuid4()],
        )


@pytest.mark.parametrize(
    "statement",
    [
        "UPDATE stock_line SET on_hand = 7",
        "INSERT INTO stock_line (id, shop_id, chain_id, variant_id, on_hand) "
        "SELECT gen_random_uuid(), shop_id, chain_id, variant_id, 7 FROM stock_line LIMIT 1",
        "UPDATE movement SET pairs = 7",
        "DELETE FROM movement",
        "UPDATE shoe_reading SET mm = 7",
        "DELETE FROM shoe_reading",
        "DELETE FROM variant",
    ],
)
def test_stock_changes_by_movements_alone_and_readings_stay(
    as_app: Cx, shops: tuple[uuid.UUID, uuid.UUID], statement: str
) -> None:
    enter(as_app, shops[0])
    with pytest.raises(psycopg.errors.InsufficientPrivilege):
        as_app.execute(statement)


def test_what_is_on_hand_is_the_sum_of_its_movements(demo_url: str) -> None:
    with psycopg.connect(demo_url) as cx:
        rows = cx.execute(
            "SELECT count(*), count(*) FILTER (WHERE on_hand > 0), count(*) FILTER (WHERE on_hand <> moved) FROM ("
            "SELECT l.on_hand, coalesce(sum(m.pairs), 0) AS moved FROM stock_line l "
            "LEFT JOIN movement m ON m.stock_line_id = l.id GROUP BY l.id) x"
        ).fetchone()
    assert rows
    assert rows[0] > rows[1] > 1000
    assert rows[2] == 0


def test_one_change_id_is_written_once(as_app: Cx, shops: tuple[uuid.UUID, uuid.UUID]) -> None:
    enter(as_app, shops[0])
    (athlete,) = as_app.execute("SELECT id FROM athlete LIMIT 1").fetchone() or (None,)
    values = [shops[0], athlete, uuid.uuid4(), Jsonb({}), Jsonb({})]
    insert = (
        "INSERT INTO change (shop_id, athlete_id, part, version, change_id, before, after, staff_id) "
        "VALUES (%s, %s, 'feet', 1, %s, %s, %s, staff_now())"
    )
    as_app.execute(insert, values)
    with pytest.raises(psycopg.errors.UniqueViolation):
        as_app.execute(insert, values)


@pytest.mark.parametrize("role", ["app", "gate"])
def test_the_webs_roles_own_nothing_and_are_members_of_nothing(demo_url: str, role: str) -> None:
    with psycopg.connect(getattr(addresses_of(demo_url), role)) as cx:
        rights = cx.execute(
            "SELECT rolsuper, rolcreaterole, rolcreatedb, rolbypassrls, rolreplication FROM pg_roles "
            "WHERE rolname = current_user"
        ).fetchone()
        memberships = cx.execute(
            "SELECT count(*) FROM pg_auth_members m JOIN pg_roles r ON r.oid = m.member WHERE r.rolname = current_user"
        ).fetchone()
        owned = cx.execute(
            "SELECT count(*) FROM pg_class c JOIN pg_roles r ON r.oid = c.relowner WHERE r.rolname = current_user"
        ).fetchone()
    assert rights == (False,) * 5
    assert (memberships, owned) == ((0,), (0,))


@pytest.mark.parametrize(
    "statement",
    [
        "SET ROLE kalon_owner", "SET ROLE kalon_super", "SET SESSION AUTHORIZATION kalon_owner", "CREATE ROLE mine",
        "CREATE DATABASE mine", "ALTER ROLE kalon_app SUPERUSER", "SELECT * FROM pg_authid",
        "SELECT sign_in_open(gen_random_uuid(), '', '1 h', '', '')", "SELECT * FROM sign_in_lookup('ilse', '', 4)",
        "SELECT * FROM invitation_open('x')", "SELECT password_own('x', 'y')", "SELECT invitation_take('x', 'y')",
        "INSERT INTO session VALUES ('', gen_random_uuid(), gen_random_uuid(), now(), now())",
        "COPY athlete TO PROGRAM 'true'",
    ],
)  # fmt: skip
def test_one_injected_statement_gets_no_further(as_app: Cx, statement: str) -> None:
    as_app.autocommit = True
    with pytest.raises((psycopg.errors.InsufficientPrivilege, psycopg.errors.InvalidParameterValue)):
        as_app.execute(statement)


def test_resetting_the_role_changes_nothing(as_app: Cx) -> None:
    as_app.execute("RESET ROLE")
    as_app.execute("RESET SESSION AUTHORIZATION")
    assert as_app.execute("SELECT current_user").fetchone() == ("kalon_app",)


def test_claiming_a_shop_without_its_session_shows_nothing(as_app: Cx, shops: tuple[uuid.UUID, uuid.UUID]) -> None:
    """Neither the shop's id, nor a setting of earlier versions, nor a session's stored hash opens it."""
    for setting, value in (("kalon.shop_id", str(shops[0])), ("kalon.token", digest(str(shops[0])).hex())):
        as_app.execute("SELECT set_config(%s, %s, true)", [setting, value])
        assert as_app.execute("SELECT count(*) FROM athlete").fetchone() == (0,)


def test_the_gate_reads_no_table(demo_url: str) -> None:
    with psycopg.connect(addresses_of(demo_url).gate, autocommit=True) as cx:
        for table in (*SHOP_TABLES, "shop", "sign_in_attempt", "sign_in_device"):
            with pytest.raises(psycopg.errors.InsufficientPrivilege):
                cx.execute(f"SELECT * FROM {table}")


def test_an_ended_session_and_a_leavers_prove_no_shop(as_app: Cx, demo_url: str) -> None:
    with psycopg.connect(demo_url, autocommit=True) as cx:
        for token, lasts, login in (("over", "-1 minute", "ilse"), ("left", "1 hour", "bram")):
            cx.execute(
                "INSERT INTO session (token_hash, shop_id, staff_id, expires_at) "
                "SELECT %s, shop_id, id, now() + %s::interval FROM staff WHERE login = %s",
                [digest(token), lasts, login],
            )
        cx.execute("UPDATE staff SET active = false WHERE login = 'bram'")
        for token in ("over", "left"):
            enter(as_app, token)
            assert as_app.execute("SELECT count(*) FROM athlete").fetchone() == (0,)
        cx.execute("UPDATE staff SET active = true WHERE login = 'bram'")
        as_app.rollback()
        enter(as_app, "left")
        assert as_app.execute("SELECT count(*) > 0 FROM athlete").fetchone() == (True,)
