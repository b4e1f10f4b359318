"""Backups of this and every earlier schema, taken while the shop serves, restored all or not at all."""

from __future__ import annotations

import argparse
import errno
import os
import stat
import subprocess
import sys
import time
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import Any

import psycopg
import pytest

from kalon.commands import common
from kalon.host import backup as backups
from kalon.host.postgres import HostTrouble, LocalServer, free_port
from kalon.store import migrate as migrations
from tests import plainly
from tests.api.calls import new_athlete, patch, pulled, sell, signed_in
from tests.much import much
from tests.running import demo_database, web

FORGOTTEN = {*backups.OF_THE_MOMENT}
MIGRATIONS = list(migrations.shipped())


def content(url: str) -> dict[str, list[Any]]:
    """Every row of every table that a backup keeps."""
    with psycopg.connect(url) as cx:
        tables = [
            r[0]
            for r in cx.execute(
                "SELECT tablename FROM pg_tables WHERE schemaname = 'public' AND tablename NOT LIKE '%yoyo%' ORDER BY 1"
            ).fetchall()
        ]
        return {
            t: sorted(str(r) for r in cx.execute(f'SELECT t::text FROM "{t}" t').fetchall())
            for t in tables
            if t not in FORGOTTEN
        }


def rights(url: str) -> list[Any]:
    """Who may do what with which table, and every policy."""
    with psycopg.connect(url) as cx:
        grants = cx.execute(
            "SELECT table_name, column_name, grantee, privilege_type FROM information_schema.role_column_grants "
            "WHERE grantee IN ('kalon_app', 'kalon_gate') ORDER BY 1, 2, 3, 4"
        ).fetchall()
        policies = cx.execute("SELECT tablename, policyname, qual FROM pg_policies ORDER BY 1, 2").fetchall()
        functions = cx.execute(
            "SELECT p.oid::regprocedure::text, has_function_privilege('kalon_app', p.oid, 'EXECUTE'), "
            "has_function_privilege('kalon_gate', p.oid, 'EXECUTE'), prosecdef FROM pg_proc p "
            "JOIN pg_namespace n ON n.oid = p.pronamespace LEFT JOIN pg_depend d ON d.objid = p.oid AND d.deptype = 'e' "
            "WHERE n.nspname = 'public' AND d.objid IS NULL ORDER BY 1"
        ).fetchall()
    return [grants, policies, functions]


SHOP, STAFF, ATHLETE, MODEL, LINE, FITTING, SALE = (f"0199a000-0000-7000-8000-00000000000{i}" for i in range(1, 8))
OLD_ROWS = f"""
INSERT INTO shop VALUES ('{SHOP}', 'Old Shop');
INSERT INTO staff (id, shop_id, login, name, role, password_hash) VALUES ('{STAFF}', '{SHOP}', 'old', 'Old', 'manager', 'x');
INSERT INTO session VALUES ('\\x01', '{SHOP}', '{STAFF}', now(), now() + interval '1 day');
INSERT INTO athlete (id, shop_id, name) VALUES ('{ATHLETE}', '{SHOP}', 'Old Friend');
INSERT INTO shoe_model VALUES ('{MODEL}', '{SHOP}', 'Brindle', 'Keel', 'football', 'synthetic', 'plate', 0, '{{}}', '{{}}', 9900);
INSERT INTO stock_line VALUES ('{LINE}', '{SHOP}', '{MODEL}', 'regular', 42, 280, 262, 270, 70, 2);
INSERT INTO fitting (id, shop_id, athlete_id, state, opened_by) VALUES ('{FITTING}', '{SHOP}', '{ATHLETE}', 'settled', '{STAFF}');
INSERT INTO fitting_part VALUES ('{SHOP}', '{FITTING}', 'feet', 1, '{{"sock": "thick"}}');
INSERT INTO tray_pair (shop_id, fitting_id, stock_line_id) VALUES ('{SHOP}', '{FITTING}', '{LINE}');
INSERT INTO sale (id, shop_id, fitting_id, stock_line_id, sold_by, price_cents, rules_version, snapshot)
    VALUES ('{SALE}', '{SHOP}', '{FITTING}', '{LINE}', '{STAFF}', 9900, 'r', '{{"settled": {{}}}}');
"""


def old_database(server: LocalServer, up_to: str, name: str) -> str:
    """A database as an earlier version left it, with a little in it."""
    url = server.ensure_database(name, fresh=True)
    filled = min(up_to, "0006_anatomy")
    assert migrations.migrate(url, up_to=filled)[-1] == filled
    with psycopg.connect(url) as cx:
        rows = OLD_ROWS
        if up_to >= "0004":
            rows = rows.replace("price_cents, rules_version, snapshot", "price_minor, rules_version, pair, snapshot")
            rows = rows.replace("9900, 'r',", "9900, 'r', '{\"name\": \"Keel\"}',")
        cx.execute(rows)
    migrations.migrate(url, up_to=up_to)
    return url


def test_stock_of_old_becomes_a_catalogue_with_readings_and_a_ledger(server: LocalServer) -> None:
    """What was measured stays as measured and as sure as it was taken to be."""
    url = old_database(server, "0006_anatomy", "before_catalogue")
    migrations.migrate(url)
    with psycopg.connect(url) as cx:
        line = cx.execute(
            "SELECT l.id::text, l.on_hand, v.eu_label, v.width, v.length_read_mm, v.heel_width_read_sigma_mm, m.name, "
            "m.chain_id = s.chain_id FROM stock_line l JOIN variant v ON v.id = l.variant_id "
            "JOIN shoe_model m ON m.id = v.model_id JOIN shop s ON s.id = l.shop_id"
        ).fetchall()
        assert line == [(LINE, 2, 42, "regular", 280, 1, "Keel", True)]
        read = cx.execute("SELECT zone, mm, source FROM shoe_reading ORDER BY mm").fetchall()
        assert read == [("heel_width", 70, "measured"), ("ball_girth", 262, "measured"),
                        ("instep_girth", 270, "measured"), ("length", 280, "measured")]  # fmt: skip
        assert cx.execute("SELECT kind, pairs, at FROM movement").fetchall() == [("there_before", 2, None)]


FULL = much({MIGRATIONS[0], MIGRATIONS[len(MIGRATIONS) // 2], MIGRATIONS[-1]}, set(MIGRATIONS))
"""What is in the way is thrown out whatever the backup's version: a few versions show it."""


@dataclass(frozen=True)
class Old:
    """A backup of an earlier version, and what its database is now, brought up to date where it stood."""

    file: Path
    content: dict[str, list[Any]]
    rights: list[Any]


@pytest.fixture(scope="module")
def olds(server: LocalServer, tmp_path_factory: pytest.TempPathFactory) -> dict[str, Old]:
    """One of every schema: up to the last that is filled by hand each from a database of its own, then from that one
    as it was brought up, step by step."""
    folder = tmp_path_factory.mktemp("olds")
    found: dict[str, tuple[Path, str]] = {}
    url = ""
    for version in MIGRATIONS:
        if version <= "0006_anatomy":
            url = old_database(server, version, f"old_{version[:4]}")
        else:
            assert migrations.migrate(url, up_to=version) == [version]
        backups.backup(url, folder / version)
        found[version] = folder / version, url
    now = {}
    for url in {url for _, url in found.values()}:
        migrations.migrate(url)
        with psycopg.connect(url) as cx:
            cx.execute("TRUNCATE session")
        now[url] = content(url), rights(url)
    return {version: Old(file, *now[url]) for version, (file, url) in found.items()}


@pytest.mark.parametrize(
    ("version", "into"), [(v, into) for v in MIGRATIONS for into in ("fresh", "full") if into == "fresh" or v in FULL]
)
def test_a_backup_of_every_schema_is_restored(
    server: LocalServer, olds: dict[str, Old], version: str, into: str
) -> None:
    name = f"into_{version[:4]}_{into}"
    target = demo_database(server, name) if into == "full" else server.ensure_database(name, fresh=True)
    backups.restore(target, olds[version].file)
    assert content(target) == olds[version].content
    assert rights(target) == olds[version].rights
    assert migrations.migrate(target) == []
    with psycopg.connect(target) as cx:
        assert cx.execute("SELECT count(*) FROM session").fetchone() == (0,)
        pair = cx.execute("SELECT pair ->> 'name', price_minor, format FROM sale").fetchone()
        assert pair == ("Keel", 9900, 1)
        if version < "0005":
            assert cx.execute("SELECT count(*) FROM reservation").fetchone() == (0,)


def test_backup_and_restore_while_the_shop_serves(server: LocalServer, tmp_path: Path) -> None:
    url = demo_database(server, "backed_up")
    file = tmp_path / "kalon.backup"
    with web(url) as running:
        client = signed_in(running)
        fitting, (line,) = pulled(client, 1)
        sell(client, fitting, line)
        before = content(url)
        backups.backup(url, file)
        assert content(url) == before
        new_athlete(client, "After The Backup")
        assert content(url) != before
        backups.restore(url, file)
        assert content(url) == before
        assert client.get("/api/today").status_code == 401
        again = signed_in(running)
        assert again.get(f"/api/fittings/{fitting}").json()["state"] == "settled"
        assert new_athlete(again, "After The Restore")
    fresh = server.ensure_database("elsewhere", fresh=True)
    backups.restore(fresh, file)
    assert content(fresh) == before
    second = tmp_path / "second.backup"
    backups.backup(fresh, second)
    backups.restore(url, second)
    assert content(url) == before


def test_a_spoilt_backup_is_refused_and_nothing_changed(server: LocalServer, tmp_path: Path) -> None:
    url = demo_database(server, "spoilt")
    good = tmp_path / "good"
    backups.backup(url, good)
    before = content(url)
    whole = good.read_bytes()
    files = []
    for name, data in (
        ("half", whole[: len(whole) // 2]), ("nearly", whole[:-40]), ("none", b""), ("other", b"not a backup"),
        ("headed", whole[:5] + bytes(b ^ 0x55 for b in whole[5:60]) + whole[60:]),
        ("turned", whole[: len(whole) // 3] + bytes(400) + whole[len(whole) // 3 + 400 :]),
    ):  # fmt: skip
        files.append(tmp_path / name)
        files[-1].write_bytes(data)
    for file in (*files, tmp_path / "missing"):
        with pytest.raises(HostTrouble):
            backups.restore(url, file)
        assert content(url) == before


def test_a_backup_with_an_altered_head_is_refused_in_words_or_put_back_whole(
    server: LocalServer, tmp_path: Path
) -> None:
    """Each of its first bytes turned: some say nothing of what is in it (when it was made, how it was packed)."""
    url = demo_database(server, "headed")
    good = tmp_path / "good"
    backups.backup(url, good)
    before, whole = content(url), good.read_bytes()
    refused = 0
    for place in range(5, 45, 4):
        file = tmp_path / f"byte {place}"
        file.write_bytes(whole[:place] + bytes([whole[place] ^ 0xFF]) + whole[place + 1 :])
        try:
            backups.restore(url, file)
        except HostTrouble:
            refused += 1
        assert content(url) == before
    assert refused


def test_a_backup_of_a_newer_kalon_is_refused_and_nothing_changed(server: LocalServer, tmp_path: Path) -> None:
    url = demo_database(server, "newer")
    with psycopg.connect(url) as cx:
        cx.execute(migrations.marked("9999_later"))
    file = tmp_path / "newer"
    backups.backup(url, file)
    target = demo_database(server, "not_newer")
    before = content(target)
    with pytest.raises(HostTrouble, match="newer Kalon"):
        backups.restore(target, file)
    assert content(target) == before


def test_a_backup_is_for_its_owner_only_and_holds_no_session(server: LocalServer, tmp_path: Path) -> None:
    url = demo_database(server, "private")
    with web(url) as running:
        signed_in(running)
        file = tmp_path / "kalon.backup"
        os.umask(0o022)
        backups.backup(url, file)
    assert file.stat().st_mode & 0o777 == 0o600
    listed = subprocess.run(
        [str(backups.programs() / "pg_restore"), "--list", str(file)], capture_output=True, text=True, check=True
    ).stdout
    assert "TABLE DATA public staff" in listed
    assert not any(f"TABLE DATA public {t} " in listed for t in FORGOTTEN)


def test_what_was_ended_since_a_backup_stays_ended(server: LocalServer, tmp_path: Path) -> None:
    """A link and a calendar ended after the backup was written, and a device remembered then: none comes back. What
    stands still stands, also where it is put into an empty place."""
    url = demo_database(server, "ended")
    link = (
        "INSERT INTO athlete_link (id, shop_id, fitting_id, athlete_id, token_hash, made_by, expires_at) "
        "SELECT gen_random_uuid(), f.shop_id, f.id, f.athlete_id, %s, f.opened_by, now() + interval '9 days' "
        "FROM fitting f LIMIT 1"
    )
    feed = (
        "INSERT INTO day_feed (id, shop_id, staff_id, whole, token_hash) "
        "SELECT gen_random_uuid(), shop_id, id, true, %s FROM staff LIMIT 1"
    )
    tablet = (
        "INSERT INTO tablet (id, shop_id, name, added_by, token_hash) "
        "SELECT gen_random_uuid(), shop_id, 'By the door', id, %s FROM staff LIMIT 1"
    )
    with psycopg.connect(url) as cx:
        for secret in (b"goes", b"stays"):
            for one in (link, feed, tablet):
                cx.execute(one, [secret])
        cx.execute("INSERT INTO sign_in_device SELECT 'known', shop_id, id FROM staff LIMIT 1")
    file = tmp_path / "before"
    backups.backup(url, file)
    with psycopg.connect(url) as cx:
        for table in backups.SECRETS:
            cx.execute(f"UPDATE {table} SET ended_at = now() WHERE token_hash = 'goes'")
    backups.restore(url, file)

    def standing(of: str) -> list[set[bytes]]:
        with psycopg.connect(of) as cx:
            return [
                {r[0] for r in cx.execute(f"SELECT token_hash FROM {t} WHERE ended_at IS NULL").fetchall()}
                for t in backups.SECRETS
            ]

    assert all(b"goes" not in found and b"stays" in found for found in standing(url))
    with psycopg.connect(url) as cx:
        assert cx.execute("SELECT count(*) FROM sign_in_device").fetchone() == (0,)
    empty = server.ensure_database("ended_elsewhere", fresh=True)
    backups.restore(empty, file)
    assert all({b"goes", b"stays"} <= found for found in standing(empty))


def test_who_was_erased_since_is_erased_in_what_is_restored(server: LocalServer, tmp_path: Path) -> None:
    url, file = demo_database(server, "erased_since"), tmp_path / "before"
    word = "Zwetschgenblau"
    with web(url) as running:
        manager = signed_in(running, "marrow")
        athlete = new_athlete(manager, f"{word} Gone")
        new_athlete(manager, f"{word} Here")
        fitting, (line,) = pulled(manager, 1, athlete=athlete)
        patch(manager, fitting, "brief", {"note": f"{word} likes them tight"}).raise_for_status()
        sell(manager, fitting, line)
        backups.backup(url, file)
        manager.post(f"/api/athletes/{athlete}/erase").raise_for_status()
        backups.restore(url, file)
        again = signed_in(running, "marrow")
        assert [a["name"] for a in again.get("/api/athletes", params={"text": word}).json()] == [f"{word} Here"]
    held = {t for t, rows in words(url).items() if any(f"{word} Gone" in r or f"{word} likes" in r for r in rows)}
    assert held == set()
    empty = server.ensure_database("erased_elsewhere", fresh=True)
    backups.restore(empty, file)  # where nobody knows of it, it is what it was
    assert any(f"{word} Gone" in r for r in words(empty)["athlete"])


def words(url: str) -> dict[str, list[str]]:
    """Every row of every table as text."""
    with psycopg.connect(url) as cx:
        names = cx.execute("SELECT tablename FROM pg_tables WHERE schemaname = 'public'").fetchall()
        return {n: [r[0] for r in cx.execute(f"SELECT t::text FROM {n} t").fetchall()] for (n,) in names}


def test_what_a_restore_would_take_away_is_said_first(
    server: LocalServer, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    url, file = demo_database(server, "would_lose"), tmp_path / "before"
    began = datetime.now(UTC).replace(microsecond=0)
    backups.backup(url, file)
    time.sleep(1.1)  # a backup says when it was to the second
    with web(url) as running:
        client = signed_in(running)
        fitting, (line,) = pulled(client, 1, athlete=new_athlete(client, "Since Then"))
        sell(client, fitting, line)
    lost = backups.lost(url, file)
    assert lost
    assert lost.written
    assert timedelta(0) <= lost.written - began < timedelta(minutes=2)
    assert (lost.sales, lost.athletes) == (1, 1)
    assert lost.changes >= 3  # feet, brief, trial
    assert "“Games fitting room, Harbour”" in lost.text
    assert "1 sales and 1 new athletes would be lost" in lost.text
    assert backups.lost(server.ensure_database("has_nothing", fresh=True), file) is None
    said: list[str] = []
    unsure, sure = argparse.Namespace(yes=False), argparse.Namespace(yes=True)
    with pytest.raises(HostTrouble, match="say --yes"):
        common.sure(lost.text, unsure)
    common.sure(lost.text, sure)
    monkeypatch.setattr(sys.stdin, "isatty", lambda: True)
    for typed, goes_on in (("", False), ("y", False), (" Yes ", True)):
        monkeypatch.setattr("builtins.input", lambda text, typed=typed: said.append(text) or typed)
        if goes_on:
            common.sure(lost.text, unsure)
        else:
            with pytest.raises(HostTrouble, match="Nothing was changed"):
                common.sure(lost.text, unsure)
    assert all(lost.text in text for text in said)


def test_a_failed_backup_leaves_no_file(tmp_path: Path) -> None:
    file = tmp_path / "none"
    with pytest.raises(HostTrouble, match="not written"):
        backups.backup(f"postgresql://nobody@127.0.0.1:{free_port()}/none", file)
    assert list(tmp_path.iterdir()) == []
    with pytest.raises(HostTrouble, match="can't be written"):
        backups.backup("postgresql://x", tmp_path / "no" / "such" / "folder")


def test_a_backup_that_is_killed_leaves_nothing(server: LocalServer, tmp_path: Path) -> None:
    """The one before stays as it was, and nothing half stands beside it."""
    url = demo_database(server, "killed")
    file = tmp_path / "nightly"
    file.write_bytes(b"the one before")
    code = f"from pathlib import Path; from kalon.host.backup import backup; backup({url!r}, Path({str(file)!r}))"
    for wait in (0.05, 0.2, 0.4):
        process = subprocess.Popen([sys.executable, "-c", "print('up', flush=True); " + code], stdout=subprocess.PIPE)
        assert process.stdout
        assert process.stdout.readline() == b"up\n"
        time.sleep(wait)
        process.kill()
        process.wait()
        assert [p.name for p in tmp_path.iterdir()] == ["nightly"]
    backups.backup(url, file)
    assert [p.name for p in tmp_path.iterdir()] == ["nightly"]
    assert file.read_bytes().startswith(b"PGDMP")
    assert stat.S_IMODE(file.stat().st_mode) == 0o600


def test_where_a_file_must_have_a_name_a_backup_is_written_too(
    server: LocalServer, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    """A stick's file system knows no nameless files."""
    opened = os.open

    def named_alone(path: Any, flags: int, *more: Any) -> int:
        if flags & os.O_TMPFILE == os.O_TMPFILE:
            raise OSError(errno.EOPNOTSUPP, "Operation not supported")
        return opened(path, flags, *more)

    monkeypatch.setattr("kalon.host.backup.os.open", named_alone)
    url = demo_database(server, "named")
    backups.backup(url, tmp_path / "stick")
    assert [p.name for p in tmp_path.iterdir()] == ["stick"]
    assert (tmp_path / "stick").read_bytes().startswith(b"PGDMP")


def test_the_command_line_backs_up_and_shuts_a_leaver_out_while_serving(
    serving: tuple[Path, int], tmp_path: Path
) -> None:
    home, port = serving

    def kalon(*words: str, **more: str) -> subprocess.CompletedProcess[str]:
        env = {**os.environ, "KALON_DATA": str(home), **more}
        command = [sys.executable, "-m", "kalon.cli", *words]
        return subprocess.run(command, env=env, capture_output=True, text=True, timeout=60, check=False)

    made = kalon(
        "user", "add", "--login", "leaver", "--role", "fitter", "--shop", "A Shop", KALON_PASSWORD="hinge-and-last-3"
    )
    assert made.returncode == 0, made.stderr
    with plainly.Client(base_url=f"http://127.0.0.1:{port}") as bench:
        assert bench.post("/api/session", json={"login": "leaver", "password": "hinge-and-last-3"}).status_code == 200
        assert "leaver" in kalon("user", "list").stdout
        out = kalon("user", "set", "--login", "leaver", "--shop", "A Shop", "--let", "out")
        assert (out.returncode, "1 session ended" in out.stderr) == (0, True), out.stderr
        assert bench.get("/api/today").status_code == 401
        refused = bench.post("/api/session", json={"login": "leaver", "password": "hinge-and-last-3"})
        assert refused.status_code == 401
        kalon(
            "user",
            "set",
            "--login",
            "leaver",
            "--shop",
            "A Shop",
            "--let",
            "in",
            "--password",
            KALON_PASSWORD="quite-new-word-2",
        )
        assert bench.post("/api/session", json={"login": "leaver", "password": "quite-new-word-2"}).status_code == 200
    last = kalon("user", "set", "--login", "first", "--shop", "A Shop", "--let", "out")
    assert (last.returncode, "at least one manager" in last.stderr) == (2, True)
    file = tmp_path / "served.backup"
    done = kalon("backup", str(file))
    assert (done.returncode, file.exists()) == (0, True), done.stderr
    over = kalon("backup", str(file))
    assert (over.returncode, "is there already" in over.stderr, "--yes" in over.stderr) == (2, True, True)
    assert kalon("backup", str(file), "--yes").returncode == 0
    restored = kalon("restore", str(file))
    assert (restored.returncode, "Another Kalon" in restored.stderr) == (2, True)
    assert plainly.get(f"http://127.0.0.1:{port}/ready").status_code == 200
