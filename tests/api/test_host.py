"""The shop's machine: starts that recover, sentences instead of tracebacks, backups, people, and the demo."""

from __future__ import annotations

import json
import os
import signal
import socket
import subprocess
import sys
from pathlib import Path
from typing import Any

import psycopg
import pytest

from kalon.core.errors import KalonError
from kalon.demo.load import load
from kalon.demo.people import ATHLETES, DATABASE, SIGN_INS
from kalon.demo.shoes import MAKERS
from kalon.host.postgres import OWNER, HostTrouble, LocalServer, free_port
from kalon.host.supervise import answers, listen, only_one
from kalon.store.migrate import LOCK_MS, migrate, yoyo_url
from tests import plainly
from tests.api.calls import eventually
from tests.running import database_server, demo_database


def cli(*words: str, home: Path | None = None, **more: str) -> subprocess.Popen[str]:
    env = {**os.environ, **({"KALON_DATA": str(home)} if home else {}), **more}
    return subprocess.Popen(
        [sys.executable, "-m", "kalon.cli", *words], env=env, text=True, stdout=subprocess.PIPE, stderr=subprocess.PIPE
    )


def a_shop(home: Path) -> subprocess.Popen[str]:
    words = ("--shop", "A Shop", "--name", "First", "--login", "first")
    return cli("shop", "add", *words, home=home, KALON_PASSWORD="a long password")


def test_a_port_in_use_is_a_sentence() -> None:
    with socket.socket() as taken:
        taken.bind(("127.0.0.1", 0))
        taken.listen()
        port = taken.getsockname()[1]
        with pytest.raises(HostTrouble, match=f"--port {port + 1}"):
            listen("127.0.0.1", port, lambda _: None)
        done = cli("demo", "--port", str(port))
        _, told = done.communicate(timeout=240)
    assert done.returncode == 2
    assert told.startswith("kalon: Port")
    assert "Traceback" not in told


def test_a_list_is_brought_in_and_taken_out_by_the_command_line(home: Path, tmp_path: Path) -> None:
    """Said first, written when told to; an unreadable list is a sentence; what goes out comes in as the same."""
    made = a_shop(home)
    made.communicate(timeout=300)
    with only_one(home):  # as beside a bench that serves
        LocalServer(home).start()
        _in_and_out(home, tmp_path)


def _in_and_out(home: Path, tmp_path: Path) -> None:
    bare = tmp_path / "bare.csv"
    bare.write_text("Brand;Style;Size;Qty;RRP\nBrindle;Keel;8,5;3;89,90\nBrindle;Keel;ninety;1;89,90\n")
    words = ("import", str(bare), "--sport", "football", "--system", "uk", "--pairs", "received")
    said, _ = cli(*words, home=home).communicate(timeout=300)
    assert "row 3: refused: “ninety” isn't a size." in said
    assert "1 new, 1 refused" in said or "1 refused, 1 new" in said
    assert "nothing was written" in said
    out = tmp_path / "stock.csv"
    cli("export", "stock", "--into", str(out), home=home).communicate(timeout=300)
    assert len(out.read_text().splitlines()) == 1
    said, told = cli(*words, "--write", home=home).communicate(timeout=300)
    assert "written" in said, told
    again = cli(*words, "--write", home=home)
    _, told = again.communicate(timeout=300)
    assert (again.returncode, "These very pairs came in already" in told) == (2, True), told
    cli("export", "stock", "--into", str(out), home=home).communicate(timeout=300)
    assert "Brindle,Keel,football,,plate,0,,,89.90,,EUR,uk,8.5,regular" in out.read_text()
    said, _ = cli("import", str(out), "--pairs", "counted", home=home).communicate(timeout=300)
    assert said.startswith("1 same")
    asks = tmp_path / "asks.csv"
    asks.write_text("Brand,Model,Sport,EU\nBrindle,Fin,Studio,42\nBrindle,Fin,Studio,43\n")
    said, _ = cli("import", str(asks), home=home).communicate(timeout=300)
    assert "2 lines: “Studio”: which sport is that?; likely lifting (--mean sport:studio=…)" in said
    said, _ = cli("import", str(asks), "--mean", "sport:Studio=lifting", home=home).communicate(timeout=300)
    assert "2 new" in said
    spoilt = tmp_path / "old.xls"
    spoilt.write_bytes(b"\xd0\xcf\x11\xe0")
    done = cli("import", str(spoilt), home=home)
    _, told = done.communicate(timeout=300)
    assert done.returncode == 2
    assert "kalon: This is an old Excel file" in told
    nobody = cli("export", "stock", "--shop", "No Such", home=home)
    _, told = nobody.communicate(timeout=300)
    assert (nobody.returncode, "There is no such shop" in told) == (2, True)


def test_a_half_made_cluster_is_made_anew(home: Path) -> None:
    half = home / "pgdata.new"
    half.mkdir(parents=True)
    (half / "rubbish").write_text("left by a power cut")
    said: list[str] = []
    server = LocalServer(home, said.append)
    server.start()
    assert server.running()
    assert any("half-way" in s for s in said)


def test_a_stale_lock_is_cleared_and_nothing_lost(home: Path) -> None:
    server = LocalServer(home)
    server.start()
    with psycopg.connect(server.url(), autocommit=True) as cx:
        cx.execute("CREATE TABLE kept (x int)")
        cx.execute("INSERT INTO kept VALUES (41)")
    server.kill()
    lock = home / "pgdata" / "postmaster.pid"
    lines = lock.read_text().splitlines()
    lock.write_text("\n".join([str(os.getpid()), *lines[1:]]) + "\n")
    said: list[str] = []
    again = LocalServer(home, said.append)
    again.start()
    assert any("power cut" in s for s in said)
    with psycopg.connect(again.url()) as cx:
        assert cx.execute("SELECT x FROM kept").fetchone() == (41,)


def test_a_server_left_running_is_taken_over(home: Path) -> None:
    LocalServer(home).start()
    said: list[str] = []
    second = LocalServer(home, said.append)
    second.start()
    assert any("still running" in s for s in said)
    with psycopg.connect(second.url()) as cx:
        assert cx.execute("SELECT 1").fetchone() == (1,)
    second.stop()
    assert not second.running()


def test_the_owner_is_no_superuser(home: Path) -> None:
    server = LocalServer(home)
    server.start()
    with psycopg.connect(server.url()) as cx:
        row = cx.execute("SELECT rolsuper, rolbypassrls FROM pg_roles WHERE rolname = current_user").fetchone()
        listens = cx.execute("SHOW listen_addresses").fetchone()
    assert row == (False, False)
    assert listens == ("127.0.0.1",)
    files = sorted(home.glob("secret*"))
    assert len(files) == 4
    assert len({f.read_text() for f in files}) == 4
    assert all(f.stat().st_mode & 0o077 == 0 for f in files)


MIGRATIONS = [
    "0001_foundation", "0002_captures", "0003_house", "0004_trust", "0005_tray", "0006_anatomy", "0007_catalogue", "0008_orders",
    "0009_known",
    "0010_learning",
    "0011_links",
    "0012_pairs",
    "0013_pictures",
    "0014_ordinary_hands",
    "0015_one_inside",
    "0016_reservations",
    "0017_prices",
    "0018_erased",
    "0019_roles",
    "0020_lists",
    "0021_takings",
    "0022_purchases",
    "0023_reach",
    "0024_meant_for",
    "0025_merging",
    "0026_room_on_the_page",
    "0027_colour_words",
    "0028_the_box",
    "0029_ids_in_order",
    "0030_tablets",
    "0031_widths_of_japan",
    "0032_plans_kept",
    "0033_learning_grows",
    "0034_shelf_kept",
    "0035_core_says",
    "0036_came_true",
    "0037_walk_in",
    "0038_queue",
]  # fmt: skip


def test_migrating_twice_changes_nothing(server: LocalServer) -> None:
    url = server.ensure_database("twice", fresh=True)
    assert migrate(url) == MIGRATIONS
    assert migrate(url) == []


def test_yoyo_gets_its_own_name_for_the_driver() -> None:
    assert yoyo_url("postgresql://u:p@h/d?sslmode=require").count("?") == 1
    assert (
        yoyo_url("postgresql://u:p@h/d")
        == yoyo_url("postgres://u:p@h/d")
        == f"postgresql+psycopg://u:p@h/d?options=-c%20lock_timeout%3D{LOCK_MS}"
    )


def rows(url: str) -> dict[str, int]:
    tables = ("athlete", "fitting", "fitting_part", "change", "sale", "follow_up", "stock_line", "staff")
    with psycopg.connect(url) as cx:
        return {t: cx.execute(f"SELECT count(*) FROM {t}").fetchone()[0] for t in tables}  # type: ignore[index]


def test_the_first_manager_and_a_bench_with_several_workers(home: Path) -> None:
    made = a_shop(home)
    assert made.wait(timeout=240) == 0, made.stderr.read() if made.stderr else ""
    twice = cli("user", "add", "--login", "first", "--role", "manager", "--shop", "a shop", home=home,
                KALON_PASSWORD="a long password")  # fmt: skip
    _, told = twice.communicate(timeout=240)
    assert twice.returncode == 2
    assert "already signs in" in told
    port = free_port()
    served = cli("serve", "--port", str(port), "--workers", "2", home=home)
    try:
        eventually(lambda: answers("127.0.0.1", port) or None, seconds=240)
        with plainly.Client(base_url=f"http://127.0.0.1:{port}") as client:
            body = {"login": "first", "password": "a long password"}
            assert client.post("/api/session", json=body).json()["role"] == "manager"
            assert client.get("/api/athletes").json() == []
        second = cli("serve", "--port", str(free_port()), home=home)
        _, told = second.communicate(timeout=240)
        assert second.returncode == 2
        assert "Another Kalon" in told
        server = LocalServer(home)
        assert server.running()
        server.kill()
        eventually(lambda: answers("127.0.0.1", port) or None, seconds=240)
    finally:
        served.send_signal(signal.SIGINT)
        assert served.wait(timeout=240) == 0
    assert not LocalServer(home).running()
    assert not answers("127.0.0.1", port)


def test_an_operators_database_that_is_away_is_a_sentence() -> None:
    url = f"postgresql://u:p@127.0.0.1:{free_port()}/d"
    done = cli("serve", "--port", str(free_port()), KALON_DATABASE_URL=url, KALON_APP_URL=url, KALON_GATE_URL=url)
    _, told = done.communicate(timeout=240)
    assert done.returncode == 2
    assert told.startswith("kalon: The database doesn't answer")
    assert "Traceback" not in told


def scene(url: str) -> dict[str, Any]:
    """The demo without its identifiers and clocks."""
    with psycopg.connect(url) as cx:
        return {
            "athletes": cx.execute("SELECT name, born_on, squad, note FROM athlete ORDER BY name").fetchall(),
            "models": cx.execute("SELECT maker, name, properties, choices FROM shoe_model ORDER BY 1, 2").fetchall(),
            "stock": cx.execute(
                "SELECT v.eu_label, v.length_label_mm, v.heel_width_read_sigma_mm, l.on_hand FROM stock_line l "
                "JOIN variant v ON v.id = l.variant_id ORDER BY 1, 2, 3, 4"
            ).fetchall(),
            "parts": cx.execute(
                "SELECT a.name, p.part, p.body FROM fitting_part p JOIN fitting f ON f.id = p.fitting_id "
                "JOIN athlete a ON a.id = f.athlete_id WHERE p.part IN ('feet', 'brief') ORDER BY 1, 2, f.id"
            ).fetchall(),
            "states": cx.execute("SELECT state, count(*) FROM fitting GROUP BY 1 ORDER BY 1").fetchall(),
            "due": cx.execute("SELECT due_on FROM follow_up ORDER BY 1").fetchall(),
        }


def test_loading_the_demo_again_adds_nothing(server: LocalServer) -> None:
    url = demo_database(server, "once")
    before = rows(url)
    load(url, lambda _: None)
    assert rows(url) == before
    assert before["staff"] == len(SIGN_INS)


def test_every_sport_of_the_demo_has_stock(demo_url: str) -> None:
    with psycopg.connect(demo_url) as cx:
        found = dict(
            cx.execute(
                "SELECT m.sport, count(*) FROM stock_line l JOIN variant v ON v.id = l.variant_id "
                "JOIN shoe_model m ON m.id = v.model_id GROUP BY 1"
            ).fetchall()
        )
    assert set(found) == {"football", "climbing", "lifting", "cycling", "court", "field", "ice"}


def test_the_demo_starts_whole_says_where_and_stops_cleanly(home: Path, demo_url: str) -> None:
    port = free_port()
    demo = cli("demo", "--port", str(port), home=home)
    try:
        eventually(lambda: answers("127.0.0.1", port) or None, seconds=400)
        with plainly.Client(base_url=f"http://127.0.0.1:{port}") as client:
            for person in SIGN_INS:
                body = {"login": person.login, "password": person.password}
                assert client.post("/api/session", json=body).json()["role"] == person.role
        server = LocalServer(home)
        assert server.running()
        one = scene(server.url(OWNER, DATABASE))
    finally:
        demo.send_signal(signal.SIGINT)
    _, told = demo.communicate(timeout=240)
    assert demo.returncode == 0
    assert f"http://127.0.0.1:{port}" in told
    assert all(p.login in told for p in SIGN_INS)
    assert not LocalServer(home).running()
    assert one == scene(demo_url), "the demo is the same each time"
    assert len(ATHLETES) >= 24
    assert len(MAKERS) >= 8
    assert {p.sport for p in ATHLETES} == {"football", "climbing", "lifting", "cycling", "court", "field", "ice"}
    assert len({(m[0], m[1]) for m in one["models"]}) >= 60
    assert len(one["stock"]) >= 600
    assert {s for s, _ in one["states"]} == {"open", "settled", "returned"}


def test_a_data_folder_nobody_can_use_is_a_sentence(tmp_path: Path) -> None:
    file = tmp_path / "a-file"
    file.write_text("")
    with pytest.raises(KalonError, match="data folder"):
        LocalServer(file / "below").start()


def test_the_database_server_helper_cleans_up_after_itself() -> None:
    with database_server() as server:
        home = server.home
        assert home.exists()
    assert not home.exists()


def run_kalon(*arguments: str, **more: object) -> subprocess.CompletedProcess[str]:
    command = [sys.executable, "-m", "kalon.cli", *arguments]
    return subprocess.run(command, capture_output=True, text=True, check=False, timeout=120, **more)  # type: ignore[call-overload,no-any-return]


@pytest.mark.parametrize("form", ["stl", "png", "csv"])
def test_practice_files_are_written_and_measured_by_the_command_line(tmp_path: Path, form: str) -> None:
    made = run_kalon("simulate", "foot", "--seed", "2", "--as", form, "--into", str(tmp_path))
    assert made.returncode == 0, made.stderr
    assert len(made.stdout.split()) == 2
    file = tmp_path / f"foot-2-left.{form}"
    truth = json.loads(file.with_suffix(".truth.json").read_text())
    told = run_kalon("measure", str(file))
    assert told.returncode == 0, told.stderr
    found = json.loads(told.stdout)
    assert found["side"] == "left"
    name = "arch_index" if form == "csv" else "length_mm"
    assert abs(found[name] - truth[name]) <= max(found["uncertainty"][name] * 1.5, 0.01)
    again = run_kalon("simulate", "foot", "--seed", "2", "--as", form, "--side", "left", "--into", str(tmp_path / "b"))
    assert again.returncode == 0
    assert (tmp_path / "b" / file.name).read_bytes() == file.read_bytes()


def test_measure_takes_gauge_numbers_and_names_what_is_wrong(tmp_path: Path) -> None:
    file = tmp_path / "gauge.json"
    file.write_text(json.dumps({"side": "left", "foot": {"length_mm": 262, "ball_girth_mm": 246}, "stance": "sitting"}))
    found = json.loads(run_kalon("measure", str(file)).stdout)
    assert found["length_mm"] == pytest.approx(262 * 1.012)
    assert found["uncertainty"]["length_mm"] > 1.96
    spoilt_ = tmp_path / "half.stl"
    spoilt_.write_bytes(b"solid nothing")
    refused = run_kalon("measure", str(spoilt_))
    assert refused.returncode == 2
    problem = json.loads(refused.stderr)
    assert (problem["status"], problem["code"].startswith("file-")) == (422, True)
    assert run_kalon("measure", str(tmp_path / "nowhere.stl")).returncode == 2
