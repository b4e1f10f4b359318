"""Kalon as a service of its machine, and what it says of itself when it is asked how it is."""

from __future__ import annotations

import json
import os
import pwd
import shutil
import subprocess
import sys
from collections.abc import Iterator
from datetime import UTC, datetime, timedelta
from pathlib import Path

import psycopg
import pytest
from psycopg.rows import dict_row

from kalon.host import service, status
from kalon.host.postgres import DATABASE, HostTrouble, LocalServer
from kalon.host.supervise import only_one, who_holds
from kalon.store import staff
from kalon.store.migrate import migrate, shipped
from tests.running import database_server, own_home, web

ROOT = Path(__file__).parents[2]
NOW = datetime(2026, 11, 30, 18, 0, tzinfo=UTC)
as_root = pytest.mark.skipif(os.geteuid() != 0, reason="giving data to another user needs root")


def test_the_unit_is_one_and_lets_it_do_little(tmp_path: Path) -> None:
    file = tmp_path / "kalon.service"
    file.write_text(service.unit(service.Service(ROOT, Path("/var/lib/kalon"), port=8443)))
    checked = subprocess.run(["systemd-analyze", "verify", file], capture_output=True, text=True, check=False)
    assert (checked.returncode, checked.stderr) == (0, "")
    # systemd's own measure of exposure, 0 to 100; its "OK" ends at 20 (systemd-analyze(1), version 252)
    scored = subprocess.run(["systemd-analyze", "security", "--offline=true", "--threshold=20", "--no-pager", file],
                            capture_output=True, text=True, check=False)  # fmt: skip
    assert scored.returncode == 0, scored.stdout[-200:]
    assert "--port 8443" in file.read_text()


@as_root
@pytest.mark.parametrize(
    ("of", "said"),
    [
        (
            service.Service(Path("/root/kalon"), Path("/var/lib/kalon")),
            "doesn't see /root. Move it to /opt/kalon",
        ),
        (service.Service(Path("/home/ada/kalon"), Path("/var/lib/kalon")), "doesn't see /home"),
        (
            service.Service(Path("/opt/kalon"), Path("/home/ada/data")),
            "The data are in /home/ada/data.*without KALON_DATA",
        ),
        (service.Service(Path("/opt/our kalon"), Path("/var/lib/kalon")), "“/opt/our kalon” can't stand in a service"),
        (service.Service(Path("/opt/50%"), Path("/var/lib/kalon")), "can't stand in a service"),
        (service.Service(Path("/opt/kalon"), Path("/var/lib/kalon"), host="0.0.0.0\nUser=root"), "can't stand"),
        (service.Service(Path("/opt/kalon"), Path("/var/lib/kalon"), port=443), "take one from 1024"),
    ],
)
def test_what_cannot_be_a_service_is_said_before_anything_is_done(of: service.Service, said: str) -> None:
    with pytest.raises(HostTrouble, match=said):
        service.check(of)


@as_root
def test_an_operators_own_database_is_no_part_of_it(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setenv("KALON_DATABASE_URL", "postgresql://elsewhere/kalon")
    with pytest.raises(HostTrouble, match="KALON_DATABASE_URL is set"):
        service.check(service.Service(Path("/opt/kalon"), Path("/var/lib/kalon")))


def test_only_root_puts_one_in(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(os, "geteuid", lambda: 1000)
    with pytest.raises(HostTrouble, match="is root's"):
        service.check(service.Service(Path("/opt/kalon"), Path("/var/lib/kalon")))
    with pytest.raises(HostTrouble, match="is root's"):
        service.uninstall(Path("/var/lib/kalon"), print)


@pytest.fixture
def machine(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Iterator[tuple[service.Service, list[str]]]:
    """A machine that systemd doesn't run, with a program anybody can run and somebody to serve as."""
    program = tmp_path / "root" / ".venv" / "bin" / "python"
    program.parent.mkdir(parents=True)
    program.symlink_to("/bin/true")
    home = own_home()
    home.mkdir(parents=True)
    (home / "pgdata").mkdir()
    (home / "pgdata" / "elsewhere").symlink_to(tmp_path / "root")
    monkeypatch.setattr(service, "UNIT", tmp_path / "system" / "kalon.service")
    monkeypatch.setattr(service, "USER", "nobody")
    monkeypatch.setattr(service, "SYSTEMD", tmp_path / "no systemd")
    monkeypatch.setattr(service, "HIDDEN", ("/root",))
    monkeypatch.setattr(service.Service, "python", Path("/bin/true"))
    yield service.Service(tmp_path / "root", home), []
    shutil.rmtree(home)


@as_root
def test_it_is_put_in_twice_and_taken_out_once_and_the_data_stay(machine: tuple[service.Service, list[str]]) -> None:
    of, said = machine
    for _ in range(2):
        service.install(of, said.append)
    nobody = pwd.getpwnam("nobody").pw_uid
    assert {p.lstat().st_uid for p in (of.data, of.data / "pgdata", of.data / "pgdata" / "elsewhere")} == {nobody}
    assert of.root.stat().st_uid == 0  # what a link points to stays whose it was
    assert "User=nobody\n" in service.UNIT.read_text()
    assert list(service.UNIT.parent.iterdir()) == [service.UNIT]
    assert "systemctl enable --now kalon" in said[-1]
    with only_one(of.data), pytest.raises(HostTrouble, match="Another Kalon already runs"):
        service.install(of, said.append)
    service.uninstall(of.data, said.append)
    assert not service.UNIT.exists()
    assert (of.data / "pgdata").is_dir()
    with pytest.raises(HostTrouble, match="nothing to take out"):
        service.uninstall(of.data, said.append)


@as_root
def test_a_cluster_given_to_a_user_is_served_by_that_user() -> None:
    with database_server() as server:
        server.stop()
        for path in (server.home, *server.home.rglob("*")):
            shutil.chown(path, "nobody")
        again = LocalServer(server.home)  # as a command of root's finds it
        again.start()
        process = (server.data / "postmaster.pid").read_text().splitlines()[0]
        assert Path(f"/proc/{process}").stat().st_uid == pwd.getpwnam("nobody").pw_uid
        again.stop()
        assert not again.running()


def of_cli(home: Path, *args: str) -> subprocess.CompletedProcess[str]:
    env = {**os.environ, "KALON_DATA": str(home)}
    return subprocess.run(
        [sys.executable, "-m", "kalon.cli", *args], env=env, capture_output=True, text=True, check=False, timeout=60
    )


def told(of: status.Status, now: datetime) -> dict[str, str]:
    return {line.split()[0]: " ".join(line.split()[1:]) for line in status.lines(of, now)}


def test_how_it_is_while_it_serves_while_it_is_stopped_and_after_a_backup(tmp_path: Path) -> None:
    with database_server() as server:
        url = server.ensure_database(DATABASE, fresh=True)
        migrate(url, up_to=list(shipped())[-2])
        now = datetime.now(UTC)
        assert "brought up to date at the next start" in told(status.found(server.home, now), now)["Database"]
        migrate(url)
        with web(url) as running, only_one(server.home, running.url):
            later = datetime.now(UTC) + timedelta(days=2, hours=5, minutes=9)
            of = status.found(server.home, later)
            assert of.well
            words = told(of, later)
            assert words["Kalon"].endswith(f"serves at {running.url}, up 2 d 5 h")
            assert words["Database"].endswith("MB, up to date")
            assert words["Learner"] == "nothing waits"
            assert words["Backup"] == "none was written on this machine yet: ./kalon backup FILE"
            with psycopg.connect(url, row_factory=dict_row) as cx:
                staff.add_shop(cx, "Harbour")
                cx.execute("INSERT INTO learn_maker_due (chain_id, maker, at) SELECT chain_id, 'Brindle', now() - "
                           "interval '3 hours 1 second' FROM shop")  # fmt: skip
            assert told(status.found(server.home, later), later)["Learner"] == "1 to look at, the oldest for 3 h"
            file = tmp_path / "of today.kalon"
            assert of_cli(server.home, "backup", str(file)).returncode == 0
            asked = of_cli(server.home, "status", "--json")
            found = json.loads(asked.stdout)
            assert (asked.returncode, found["well"], found["backup"]["file"]) == (0, True, str(file))
            assert found["backup"]["bytes"] == file.stat().st_size
        assert "isn't served" in told(status.found(server.home, now), now)["Kalon"]
        file.unlink()
        aged = now + timedelta(days=8, minutes=5)
        assert told(status.found(server.home, aged), aged)["Backup"].endswith(
            f"{file}, which isn't there any more: write one soon (./kalon backup FILE)"
        )
        server.stop()
        asked = of_cli(server.home, "status")
        assert asked.returncode == 1
        assert "Database  stopped" in asked.stdout


def test_asking_how_it_is_needs_nothing_and_makes_nothing(tmp_path: Path) -> None:
    asked = of_cli(tmp_path / "nothing yet", "status")
    assert (asked.returncode, asked.stderr) == (1, "")
    assert "isn't served" in asked.stdout
    assert not (tmp_path / "nothing yet").exists()
    (tmp_path / status.BACKUPS).write_text("half a no")
    assert status.last_backup(tmp_path) is None


def test_who_looks_at_the_lock_takes_it_from_nobody(tmp_path: Path) -> None:
    assert who_holds(tmp_path) == {}
    with only_one(tmp_path, "http://127.0.0.1:8000", "kalon_demo"):
        assert {"at": "http://127.0.0.1:8000", "database": "kalon_demo"}.items() <= who_holds(tmp_path).items()
        with pytest.raises(HostTrouble), only_one(tmp_path, "http://127.0.0.1:9"):
            pass
        assert who_holds(tmp_path)["at"] == "http://127.0.0.1:8000"  # who was refused has written nothing
    assert who_holds(tmp_path) == {}


@pytest.mark.parametrize(
    ("seconds", "words"),
    [(0, "less than a minute"), (59, "less than a minute"), (60, "1 min"), (3_600, "1 h"), (3_660, "1 h 1 min"),
     (86_400, "1 d"), (90_000, "1 d 1 h"), (86_460, "1 d"), (-5, "less than a minute")],
)  # fmt: skip
def test_times_are_said_by_their_two_largest_units(seconds: float, words: str) -> None:
    assert status.span(seconds) == words
