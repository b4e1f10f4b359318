"""The archive: any moment had back while a shop writes, on the same machine and on a new one; its key; what is said when
something is in the way."""

from __future__ import annotations

import json
import os
import shutil
import signal
import subprocess
import sys
import threading
import time
from collections.abc import Iterator
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import Any

import psycopg
import pytest

from kalon.host import archive, drill, goback, keeper, status
from kalon.host.archive import Archived, Backed
from kalon.host.postgres import HostTrouble, LocalServer, free_port
from kalon.host.supervise import answers
from tests import plainly
from tests.api.calls import eventually
from tests.running import own_home

KEY = "ABCDE-23456"
NOW = datetime(2026, 11, 30, 12, 0, tzinfo=UTC)


@pytest.fixture(scope="module")
def second_disk() -> Iterator[Path]:
    """A folder the database's user may write, which stands for another disk."""
    found = own_home()
    yield found / "archive"
    shutil.rmtree(found, ignore_errors=True)


def cli(home: Path, *arguments: str, **env: str) -> subprocess.CompletedProcess[str]:
    told = {**os.environ, "KALON_DATA": str(home), "KALON_PASSWORD": "last-and-sock-4"} | env
    command = [sys.executable, "-m", "kalon.cli", *arguments]
    return subprocess.run(command, env=told, capture_output=True, text=True, check=False, stdin=subprocess.DEVNULL)


class Writer:
    """A shop that writes: numbers in a row, each in a transaction of its own with the moment it was written."""

    def __init__(self, url: str) -> None:
        self.url, self.over = url, threading.Event()
        self.thread = threading.Thread(target=self._write)
        with psycopg.connect(url) as cx:
            cx.execute("CREATE TABLE written (n bigserial PRIMARY KEY, at timestamptz DEFAULT clock_timestamp())")
        self.thread.start()

    def _write(self) -> None:
        with psycopg.connect(self.url, autocommit=True) as cx:
            while not self.over.is_set():
                cx.execute("INSERT INTO written DEFAULT VALUES")
                time.sleep(0.004)

    def end(self) -> None:
        self.over.set()
        self.thread.join()


def rows(url: str) -> list[tuple[int, datetime]]:
    with psycopg.connect(url) as cx:
        return cx.execute("SELECT n, at FROM written ORDER BY n").fetchall()


@pytest.fixture(scope="module")
def worked(second_disk: Path) -> Iterator[tuple[Path, datetime, list[tuple[int, datetime]]]]:
    """A machine whose archive was begun while it worked, a moment in the midst of the work, and all that was written."""
    home = own_home()
    made = cli(home, "shop", "add", "--shop", "A Shop", "--name", "First", "--login", "first", "--yes")
    assert made.returncode == 0, made.stderr
    refused = cli(home, "archive", str(second_disk))
    assert (refused.returncode, "is on the disk the data are on" in refused.stderr) == (2, True)
    begun = cli(home, "archive", str(second_disk), "--yes", KALON_ARCHIVE_KEY=KEY)
    assert (begun.returncode, KEY in begun.stdout) == (0, True), begun.stderr
    server = LocalServer(home, settings=archive.server_settings(home))
    server.start()
    writer = Writer(server.url())
    time.sleep(2)
    archive.back_up(server, "incr")  # beside a shop that works
    time.sleep(2)
    when = datetime.now(UTC)
    time.sleep(3)
    writer.end()
    written = rows(server.url())
    server.stop()
    yield home, when, written
    LocalServer(home).stop()
    shutil.rmtree(home, ignore_errors=True)


def test_a_moment_is_had_back_to_the_transaction_and_what_was_given_up_by_it_again(
    worked: tuple[Path, datetime, list[tuple[int, datetime]]],
) -> None:
    home, when, written = worked
    for moment, end in ((when, None), (written[-1][1] + timedelta(seconds=0.5), len(written))):
        done = cli(home, "restore", "--at", f"{moment.astimezone():%Y-%m-%d %H:%M:%S.%f}", "--yes")
        assert done.returncode == 0, done.stderr
        server = LocalServer(home, settings=archive.server_settings(home))
        server.start()
        back = rows(server.url())
        assert back == written[: len(back)]  # a beginning of what was written, without a hole
        after = written[len(back) :]
        assert all(at <= moment for _, at in back)
        # a row's moment is a little before its transaction's end, which is what counts
        assert not after or after[0][1] > moment - timedelta(seconds=0.05)
        assert end is None or len(back) == end
        server.stop()
    kept = sorted(p.name for p in home.glob("pgdata.before-*"))
    assert len(kept) == 2
    assert "what was there before is in" in done.stderr


def test_what_was_ended_and_who_was_erased_stays_so(worked: tuple[Path, datetime, list[tuple[int, datetime]]]) -> None:
    home, _, _ = worked
    server = LocalServer(home, settings=archive.server_settings(home))
    server.start()
    with psycopg.connect(server.url(), autocommit=True) as cx:
        shop, person = cx.execute("SELECT shop_id, id FROM staff").fetchone()  # type: ignore[misc]
        athlete, other = (
            cx.execute("INSERT INTO athlete (id, shop_id, name) VALUES (gen_random_uuid(), %s, %s) RETURNING id", [shop, name])
            .fetchone()[0]  # type: ignore[index]
            for name in ("Goes Again", "Stays Here")
        )  # fmt: skip
        for secret in (b"goes", b"stays"):
            cx.execute("INSERT INTO tablet (id, shop_id, name, added_by, token_hash) VALUES (gen_random_uuid(), %s, 'x', %s, %s)",
                       [shop, person, secret])  # fmt: skip
        cx.execute(
            "INSERT INTO session (token_hash, shop_id, staff_id, expires_at) VALUES ('s', %s, %s, now() + interval '1 hour')",
            [shop, person],
        )
    time.sleep(0.2)
    when = datetime.now(UTC)
    time.sleep(0.2)
    with psycopg.connect(server.url(), autocommit=True) as cx:
        cx.execute("UPDATE tablet SET ended_at = now() WHERE token_hash = 'goes'")
        cx.execute("UPDATE athlete SET name = 'Erased', erased_at = now() WHERE id = %s", [athlete])
    server.stop()
    goback.go_back(server, when, print)
    with psycopg.connect(server.url()) as cx:
        assert cx.execute("SELECT name FROM athlete WHERE erased_at IS NULL").fetchall() == [("Stays Here",)]
        assert cx.execute("SELECT name <> 'Goes Again' FROM athlete WHERE id = %s", [athlete]).fetchone() == (True,)
        assert cx.execute("SELECT id FROM athlete WHERE name = 'Stays Here'").fetchone() == (other,)
        assert cx.execute("SELECT token_hash FROM tablet WHERE ended_at IS NULL").fetchall() == [(b"stays",)]
        assert cx.execute("SELECT count(*) FROM session").fetchone() == (0,)
    server.stop()


def test_a_moment_that_cannot_be_is_said_and_nothing_changed(
    worked: tuple[Path, datetime, list[tuple[int, datetime]]],
) -> None:
    home, _, _ = worked
    for moment, said in (
        ("2001-01-01 00:00", "The archive begins"),
        (f"{datetime.now() + timedelta(days=1):%Y-%m-%d %H:%M}", "yet to come"),
        ("half past two", "is no moment"),
    ):
        done = cli(home, "restore", "--at", moment, "--yes")
        assert (done.returncode, said in done.stderr) == (2, True), done.stderr
    done = cli(home, "restore", "--at", "00:00")
    assert (done.returncode, "would be gone from the shop" in done.stderr) == (2, True), done.stderr
    assert "Say what to restore" in cli(home, "restore").stderr
    assert "There is no archive of this machine" in cli(home / "nothing", "restore", "--at", "00:00", "--yes").stderr
    server = LocalServer(home, settings=archive.server_settings(home))
    server.start()
    assert rows(server.url())
    server.stop()


@pytest.mark.parametrize("cut", ["before", "between", "after"])
def test_a_going_back_that_is_cut_off_leaves_what_was_there(
    worked: tuple[Path, datetime, list[tuple[int, datetime]]], cut: str
) -> None:
    """As a power cut leaves it: before what was there has gone aside, after that, and with the other in its place."""
    home, when, written = worked
    server = LocalServer(home, settings=archive.server_settings(home))
    server.start()
    now = rows(server.url())
    server.stop()
    half, kept = home / "pgdata.back", home / "pgdata.before-cut"
    half.mkdir()
    (home / "going-back").write_text(kept.name)
    if cut != "before":
        server.data.rename(kept)
    if cut == "after":
        half.rename(server.data)
        (server.data / "rubbish").write_text("half of another")
    with pytest.raises(HostTrouble, match="was cut off"):
        server.start()
    assert "was cut off" in cli(home, "shop", "list").stderr
    with pytest.raises(HostTrouble, match="The archive begins"):
        goback.go_back(server, NOW - timedelta(days=9000), print)
    server.start()  # what was there is in its place again
    assert rows(server.url()) == now
    server.stop()
    assert not kept.exists()
    goback.go_back(server, when, print)
    assert rows(server.url()) == written[: len(rows(server.url()))]
    server.stop()


def test_a_new_machine_has_it_back_with_the_key_and_not_without(
    worked: tuple[Path, datetime, list[tuple[int, datetime]]], second_disk: Path, home: Path
) -> None:
    _, when, written = worked
    asked = ["restore", "--at", f"{when.astimezone():%Y-%m-%d %H:%M:%S.%f}", "--from", str(second_disk)]
    without = cli(home, *asked)
    assert (without.returncode, "nobody to ask for the archive's key" in without.stderr) == (2, True)
    none = cli(home, *asked, KALON_ARCHIVE_KEY="x\nrepo1-path=/")
    assert (none.returncode, "An archive's key is" in none.stderr) == (2, True), none.stderr
    wrong = cli(home, *asked, KALON_ARCHIVE_KEY="WRONG-WRONG")
    assert (wrong.returncode, "The archive:" in wrong.stderr) == (2, True), wrong.stderr
    assert archive.where(home) is None
    done = cli(home, *asked, KALON_ARCHIVE_KEY=KEY)
    assert done.returncode == 0, done.stderr
    assert "what was there before" not in done.stderr
    assert "A Shop" in cli(home, "shop", "list").stdout
    server = LocalServer(home, settings=archive.server_settings(home))
    server.start()
    assert rows(server.url()) == [(n, at) for n, at in written if at <= when][: len(rows(server.url()))]
    server.stop()
    late = own_home()  # a moment after all there is: on a new machine as much as there is
    moment = datetime.now().astimezone()
    done = cli(
        late, "restore", "--at", f"{moment:%Y-%m-%d %H:%M:%S.%f}", "--from", str(second_disk), KALON_ARCHIVE_KEY=KEY
    )
    assert (done.returncode, "the archive ends before that moment" in done.stderr) == (0, True), done.stderr
    assert "A Shop" in cli(late, "shop", "list").stdout
    shutil.rmtree(late)
    raw = b"".join(p.read_bytes()[:4096] for p in second_disk.rglob("*") if p.is_file())
    assert b"A Shop" not in raw
    assert b"PG_VERSION" not in raw


def test_an_archive_that_is_away_is_told(
    worked: tuple[Path, datetime, list[tuple[int, datetime]]], second_disk: Path
) -> None:
    home, _, _ = worked
    server = LocalServer(home, settings=archive.server_settings(home))
    server.start()
    told = keeper.look(server, datetime.now(UTC))
    assert told["trouble"] is None
    assert (told["tried"]["trouble"], told["tried"]["pages"] > 1000) == (None, True)
    now = datetime.now().astimezone()
    lines = list(status.lines(status.found(home, now), now))
    assert any(f"{second_disk}, " in line and "back to" in line and "pages whole" in line for line in lines), lines
    assert not (home / "drill").exists()
    away = second_disk.with_name("unplugged")
    second_disk.rename(away)
    try:
        assert keeper.look(server, datetime.now(UTC))["trouble"]
        found = status.found(home, now)
        assert not found.well
        assert any("nothing is written there now" in line for line in status.lines(found, now))
    finally:
        away.rename(second_disk) if not second_disk.exists() else shutil.rmtree(away)
        server.stop()


def test_a_drill_finds_what_is_not_as_it_should_be(
    worked: tuple[Path, datetime, list[tuple[int, datetime]]], monkeypatch: pytest.MonkeyPatch
) -> None:
    home, _, _ = worked
    server = LocalServer(home, settings=archive.server_settings(home))
    server.start()
    with psycopg.connect(server.url(), autocommit=True) as cx:
        cx.execute("INSERT INTO shop_change (shop_id, about, about_id, change_id, before, after, staff_id) "
                   "SELECT shop_id, 'person', id, gen_random_uuid(), '{}', '{}', id FROM staff")  # fmt: skip
        now = datetime.now(UTC)
    archive.back_up(server, "incr")
    fine = drill.tried(server, now, timedelta(seconds=-1))
    assert (fine.trouble, fine.records >= 1) == (None, True)
    with psycopg.connect(server.url(), autocommit=True) as cx:
        cx.execute("UPDATE shop_change SET after = '{\"by\": \"nobody\"}' WHERE about = 'person'")
    other = drill.tried(server, now, timedelta(seconds=-1))
    assert "1 records of shop_change are others in the archive" in (other.trouble or "")

    def spoilt(of: LocalServer) -> None:
        pages = max(of.data.glob("base/*/[0-9]*"), key=lambda p: p.stat().st_size)
        whole = bytearray(pages.read_bytes())
        whole[9000] ^= 0xFF
        pages.write_bytes(whole)

    plain = LocalServer.pages_looked_at
    monkeypatch.setattr(shutil, "disk_usage", lambda path: shutil._ntuple_diskusage(10**12, 10**12 - 10**6, 10**6))
    assert "no room to try it" in (drill.tried(server, now, timedelta(days=1)).trouble or "")
    monkeypatch.undo()
    monkeypatch.setattr(LocalServer, "pages_looked_at", lambda of: (spoilt(of), plain(of))[1])
    archive.back_up(server, "incr")
    assert "1 pages are spoilt" in (drill.tried(server, now, timedelta(days=1)).trouble or "")
    server.stop()


@pytest.mark.parametrize(
    ("days_ago", "trouble", "due"), [(1, None, False), (7, None, True), (0.5, "x", False), (1, "x", True)]
)
def test_when_it_is_tried_again(days_ago: float, trouble: str | None, due: bool) -> None:
    last = {"at": (NOW - timedelta(days=days_ago)).isoformat(), "trouble": trouble}
    assert drill.is_due(last, NOW) is due
    assert drill.is_due(None, NOW)


def backed(kind: str, hours_ago: float) -> Backed:
    at = NOW - timedelta(hours=hours_ago)
    return Backed(kind, kind, at, at, 1)


@pytest.mark.parametrize(
    ("there", "kind"),
    [
        ((), "full"),
        ((backed("full", 0.5),), None),
        ((backed("full", 1),), "incr"),
        ((backed("full", 20), backed("incr", 0.2)), None),
        ((backed("full", 20), backed("incr", 1.5)), "incr"),
        ((backed("full", 7 * 24), backed("incr", 0.2)), "full"),
        ((backed("incr", 0.2),), "full"),
    ],
)
def test_what_is_due(there: tuple[Backed, ...], kind: str | None) -> None:
    assert archive.due(Archived(there, 0), NOW) == kind


def test_what_the_archive_says_of_itself() -> None:
    one: dict[str, Any] = {
        "label": "20261130-100000F", "type": "full", "error": False, "timestamp": {"start": 1796032800, "stop": 1796032860},
        "info": {"size": 5_000_000, "delta": 5_000_000, "repository": {"size": 900_000, "delta": 900_000}},
    }  # fmt: skip
    spoilt = one | {"label": "20261130-110000F", "error": True}
    there = archive.of_info([{"name": "kalon", "backup": [spoilt, one]}])
    assert [b.label for b in there.backups] == ["20261130-100000F"]
    assert (there.bytes, there.since, there.newest) == (900_000, *[datetime(2026, 11, 30, 10, 1, tzinfo=UTC)] * 2)
    assert archive.of_info([{"name": "kalon", "backup": []}]).since is None


def test_a_moment_given_up_by_going_back_is_found_on_the_line_it_was_on() -> None:
    at = [NOW + timedelta(hours=h) for h in range(6)]
    went = [(at[2], 1), (at[4], 2)]  # at 14:00 back to 12:30 from the first line, at 16:00 from the second
    found = [goback.timeline_of(went, moment + timedelta(minutes=1)) for moment in at]
    assert found == [1, 1, 2, 2, None, None]
    assert goback.timeline_of([], NOW) is None


def test_a_bench_that_serves_keeps_its_archive(worked: tuple[Path, datetime, list[tuple[int, datetime]]]) -> None:
    home, _, _ = worked
    archive.state_file(home).unlink(missing_ok=True)
    port = free_port()
    env = {**os.environ, "KALON_DATA": str(home), "KALON_LOG": "ERROR"}
    process = subprocess.Popen(
        [sys.executable, "-m", "kalon.cli", "serve", "--port", str(port), "--workers", "1"], env=env
    )
    try:
        told = eventually(lambda: s if (s := keeper.state(home) or {}).get("tried") else None, seconds=120)
        assert (told["trouble"], told["tried"]["trouble"]) == (None, None)
        eventually(lambda: answers("127.0.0.1", port) or None, seconds=240)
        with plainly.Client(base_url=f"http://127.0.0.1:{port}") as manager:
            manager.post("/api/session", json={"login": "first", "password": "last-and-sock-4"}).raise_for_status()
            shown = manager.get("/api/archive").json()
        assert (shown["to"], shown["tried"]["pages"]) == (str(archive.where(home)), told["tried"]["pages"])
        said = cli(home, "status")
        assert "pages whole" in said.stdout, said.stdout
    finally:
        process.send_signal(signal.SIGINT)
        process.wait(timeout=40)


@pytest.mark.parametrize("to", ["/mnt/our disk", "/mnt/a;b", "relative"])
def test_a_folder_that_cannot_be_one_is_said(tmp_path: Path, to: str) -> None:
    with pytest.raises(HostTrouble, match="can't be an archive's folder"):
        archive.check(tmp_path, Path(to))


def test_an_archive_is_not_with_the_data(tmp_path: Path) -> None:
    for to in (tmp_path, tmp_path / "archive", tmp_path.parent):
        with pytest.raises(HostTrouble, match="is with the data themselves"):
            archive.check(tmp_path, to)
    assert archive.where(tmp_path) is None
    assert archive.server_settings(tmp_path) == ()
    (tmp_path / archive.SETTINGS).write_text(json.dumps({"format": 1, "to": "/mnt/second"}))
    assert archive.where(tmp_path) == Path("/mnt/second")
    for home in (Path("/var/lib/our data"), Path("/var/lib/" + "long/" * 20)):
        with pytest.raises(HostTrouble, match="can't have an archive"):
            archive.check(home, Path("/mnt/second"))
    keys = {archive.new_key() for _ in range(50)}
    assert len(keys) == 50
    assert all(len(k) == 47 for k in keys)
