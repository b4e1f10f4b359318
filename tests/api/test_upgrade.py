"""Another version for a machine that works: the real command, bundles with a step more, data of a shop. What is built is
not what a network brings, but a folder that begins this run's Python."""

from __future__ import annotations

import contextlib
import os
import re
import shutil
import signal
import subprocess
import sys
import threading
import time
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import LiteralString

import psycopg
import pytest

from kalon.core.errors import KalonError
from kalon.host import archive, service, upgrade, versions
from kalon.host.postgres import HostTrouble, LocalServer
from kalon.store import migrate as steps
from tests.api.calls import eventually
from tests.running import database_server, own_home

HERE = Path(__file__).parents[2]
STEP = "src/kalon/store/migrations/9000_a_step_more.sql"
TABLE = "CREATE TABLE a_step_more (n integer);\n"
BUILT = f"""
python_ready() {{ mkdir -p .venv/bin; [ -x .venv/bin/python ] || {{ printf '#!/bin/sh\\nPYTHONPATH=%s/src exec {sys.executable} "$@"\\n' "$here" >.venv/bin/python; chmod +x .venv/bin/python; }}; }}
postgres_ready() {{ :; }}
web_ready() {{ :; }}
"""


def _run(*command: str, at: Path, **more: str) -> subprocess.CompletedProcess[str]:
    return subprocess.run(command, cwd=at, capture_output=True, text=True, check=False, stdin=subprocess.DEVNULL,
                          env={**os.environ, **more})  # fmt: skip


def _of(home: Path) -> list[int]:
    """The processes that work on these data."""
    found = []
    for entry in Path("/proc").glob("[0-9]*"):
        with contextlib.suppress(OSError):
            if f"KALON_DATA={home}\0".encode() in (entry / "environ").read_bytes():
                found.append(int(entry.name))
    return found


WEB = "src/kalon/host/webprocess.py"


def on_real_data(does: str) -> str:
    """A web process that does this where it isn't a copy it works on."""
    rest = (HERE / WEB).read_text().split("from __future__ import annotations\n")[1]
    return f'import os\nif "rehearsal" not in os.environ["KALON_DATA"]:\n    {does}\n{rest}'


class Machine:
    """A machine with a shop and a folder of Kalon, and whoever makes other versions of it."""

    def __init__(self, folder: Path) -> None:
        self.home, self.entry, self.maker = own_home(), folder / "kalon", folder / "maker"
        self.maker.mkdir()
        shutil.copytree(HERE / "src", self.maker / "src", ignore=shutil.ignore_patterns("__pycache__", "*.egg-info"))
        script = (HERE / "kalon").read_text()
        assert script.count("\nmkdir -p var\nexec 9>") == 1
        made = script.replace("\nmkdir -p var\nexec 9>", f"{BUILT}\nmkdir -p var\nexec 9>")
        (self.maker / "kalon").write_text(made)
        (self.maker / "kalon").chmod(0o755)
        (self.maker / "web").mkdir()
        (self.maker / "web" / "dist").symlink_to(HERE / "web" / "dist")
        (self.maker / ".gitignore").write_text(".venv\nvar\n__pycache__\n")
        self.git("init", "--quiet", "--initial-branch=main")
        self.made("the first")
        assert _run("git", "clone", "--quiet", str(self.maker), str(self.entry), at=folder).returncode == 0

    def git(self, *command: str) -> str:
        who = ("-c", "user.name=Maker", "-c", "user.email=maker@example.invalid")
        done = _run("git", *who, *command, at=self.maker)
        assert done.returncode == 0, done.stderr
        return done.stdout.strip()

    def made(self, subject: str) -> str:
        """What stands there as a version; its commit."""
        self.git("add", "--all")
        self.git("commit", "--quiet", "--message", subject)
        return self.git("rev-parse", "HEAD")

    def bundle(self, subject: str, **files: str) -> tuple[Path, str]:
        """A version whose files say this, as a bundle, and its commit; the next one begins at the first again."""
        self.git("checkout", "--quiet", "-B", "next", "main")
        for name, text in files.items():
            (self.maker / name).write_text(text)
        commit = self.made(subject)
        file = self.maker.parent / f"{subject.replace(' ', '-')}.bundle"
        self.git("bundle", "create", "--quiet", str(file), "HEAD", "next")
        self.git("checkout", "--quiet", "main")
        return file, commit

    def kalon(self, *arguments: str, at: Path | None = None) -> subprocess.CompletedProcess[str]:
        return _run(
            "./kalon", *arguments, at=at or self.entry, KALON_DATA=str(self.home), KALON_PASSWORD="last-and-sock-4"
        )

    def tables(self) -> set[str]:
        """What is there, looked at without Kalon."""
        server = LocalServer(self.home, settings=archive.server_settings(self.home))
        server.start()
        try:
            with psycopg.connect(server.url()) as cx:
                return {r[0] for r in cx.execute("SELECT tablename FROM pg_tables WHERE schemaname = 'public'")}
        finally:
            server.stop()

    def left(self) -> set[str]:
        """What an upgrade may leave in the data folder."""
        ours = re.compile(r"upgrading|rehearsal|pgdata\.|before-")
        return {p.name for p in self.home.iterdir() if ours.match(p.name)}


@pytest.fixture(scope="module")
def shop() -> Iterator[Path]:
    """The data of a machine with a shop, stopped."""
    home = own_home()
    begun = _run(
        sys.executable,
        "-m",
        "kalon.cli",
        "shop",
        "add",
        "--shop",
        "A Shop",
        "--name",
        "First",
        "--login",
        "first",
        "--yes",
        at=HERE,
        KALON_DATA=str(home),
        KALON_PASSWORD="last-and-sock-4",
    )
    assert begun.returncode == 0, begun.stderr
    yield home
    shutil.rmtree(home, ignore_errors=True)


@pytest.fixture
def machine(tmp_path: Path, shop: Path) -> Iterator[Machine]:
    made = Machine(tmp_path)
    subprocess.run(["cp", "-a", str(shop), str(made.home)], check=True)
    try:
        yield made
    finally:
        LocalServer(made.home).stop()
        shutil.rmtree(made.home, ignore_errors=True)


def test_a_version_is_tried_on_a_copy_and_put_in_place(machine: Machine) -> None:
    file, commit = machine.bundle("a step more", **{STEP: TABLE})
    asked = machine.kalon("upgrade", str(file))
    assert (asked.returncode, "say --yes" in asked.stderr) == (2, True)
    assert f"to {commit[:12]} of" in asked.stderr
    done = machine.kalon("upgrade", str(file), "--yes")
    assert done.returncode == 0, done.stderr
    order = ["fetching", "building it", "backup into", "trying it on a copy", "the copy is up to date", "on the data",
             "this machine is at"]  # fmt: skip
    assert [o for o in order if o in done.stderr] == order
    assert "a_step_more" in machine.tables()
    assert machine.left() == {f"before-{commit[:12]}.backup"}
    # The same folder is the new version now, and knows it.
    assert (machine.entry / "var" / "now").resolve().name == commit[:12]
    assert "first" in machine.kalon("user", "list").stdout
    again = machine.kalon("upgrade", str(file), "--yes")
    assert (again.returncode, "it is that version already" in again.stderr) == (0, True)
    # What stood there before doesn't serve data it doesn't know.
    older = _run(".venv/bin/python", "-m", "kalon.cli", "user", "list", at=machine.entry, KALON_DATA=str(machine.home))
    assert (older.returncode, "of a newer Kalon (9000_a_step_more" in older.stderr) == (2, True)
    back = machine.kalon("upgrade", str(machine.maker), "--yes")
    assert (back.returncode, "is older than the data" in back.stderr) == (2, True)
    # The next one comes beside it, and the last but one goes.
    other, third = machine.bundle("two steps more", **{STEP: TABLE, STEP.replace("9000", "9001"): "SELECT 1;\n"})
    assert machine.kalon("upgrade", str(other), "--yes").returncode == 0
    assert {p.name for p in (machine.entry / "var" / "versions").iterdir()} == {commit[:12], third[:12]}
    assert machine.left() == {f"before-{third[:12]}.backup"}


BAD: dict[str, dict[str, str]] = {
    "nowhere": {STEP: "SELECT nobody FROM nowhere;\n"},
    "of staff there are fewer than before": {STEP: "TRUNCATE staff CASCADE;\n"},
    "keeps ending right after its start": {WEB: "raise SystemExit(3)\n"},
    "no network here": {"kalon": "#!/bin/sh\necho 'kalon: no network here' >&2\nexit 1\n"},
}


def test_a_version_that_fails_beforehand_changes_nothing(machine: Machine) -> None:
    before = machine.tables()
    for said, files in BAD.items():
        file, _ = machine.bundle(said, **files)
        done = machine.kalon("upgrade", str(file), "--yes")
        assert (done.returncode, "Traceback" in done.stderr) == (2, False)
        assert "kalon: Nothing was changed" in done.stderr.splitlines()[-1]
        assert said in done.stderr.splitlines()[-1]
        assert machine.left() <= {p.name for p in machine.home.glob("before-*")}
        assert not (machine.entry / "var" / "now").exists()
    nothing = machine.maker.parent / "nothing"
    nothing.write_text("not a bundle")
    done = machine.kalon("upgrade", str(nothing), "--yes")
    assert (done.returncode, "kalon: It could not be fetched" in done.stderr) == (2, True)
    assert machine.tables() == before
    assert "first" in machine.kalon("user", "list").stdout


def test_a_version_that_fails_on_the_data_is_taken_back_and_the_archive_goes_on(machine: Machine) -> None:
    disk = own_home()
    try:
        begun = machine.kalon("archive", str(disk), "--yes")
        assert begun.returncode == 0, begun.stderr
        before = machine.tables()
        file, _ = machine.bundle("a late one", **{STEP: TABLE, WEB: on_real_data("raise SystemExit(3)")})
        done = machine.kalon("upgrade", str(file), "--yes")
        assert (done.returncode, "and nothing is lost: The application keeps" in done.stderr) == (2, True), done.stderr
        assert "the copy is up to date" in done.stderr
        assert machine.tables() == before
        assert {n for n in machine.left() if not n.startswith("before-")} == set()
        added = machine.kalon("user", "add", "--shop", "A Shop", "--login", "after", "--role", "fitter")
        assert added.returncode == 0, added.stderr
        server = LocalServer(machine.home, settings=archive.server_settings(machine.home))
        server.start()
        try:
            archive.back_up(server, "incr")  # what was written while it was tried isn't in its way
            assert archive.timeline(server) == 2
        finally:
            server.stop()
        back = machine.kalon("restore", "--at", time.strftime("%Y-%m-%d %H:%M:%S"), "--yes")
        assert back.returncode == 0, back.stderr
        assert "after" in machine.kalon("user", "list").stdout
    finally:
        shutil.rmtree(disk, ignore_errors=True)


def test_a_power_cut_while_it_is_tried_on_the_data_leaves_them_as_they_were(machine: Machine) -> None:
    before = machine.tables()
    file, _ = machine.bundle("a slow one", **{STEP: TABLE, WEB: on_real_data("import time; time.sleep(600)")})
    tried = subprocess.Popen(
        ["./kalon", "upgrade", str(file), "--yes"], cwd=machine.entry, start_new_session=True, stderr=subprocess.DEVNULL,
        env={**os.environ, "KALON_DATA": str(machine.home)},
    )  # fmt: skip
    server = LocalServer(machine.home)

    def migrated() -> bool | None:
        if not (machine.home / upgrade.MARKER).exists() or not server.running():
            return None
        try:
            with psycopg.connect(server.url()) as cx:
                return cx.execute("SELECT to_regclass('a_step_more')").fetchone() != (None,) or None
        except psycopg.OperationalError:
            return None

    try:
        eventually(migrated, seconds=240)
    finally:
        os.killpg(tried.pid, signal.SIGKILL)
        tried.wait()
        for process in _of(machine.home):
            with contextlib.suppress(ProcessLookupError):  # it went with the one that was killed before it
                os.kill(process, signal.SIGKILL)
        server.kill()
    eventually(lambda: None if _of(machine.home) else True)
    told = machine.kalon("user", "list")
    assert "an upgrade was cut off; the data are put back" in told.stderr, told.stderr
    assert "first" in told.stdout
    assert machine.tables() == before
    assert {n for n in machine.left() if not n.startswith("before-")} == set()


def test_what_was_tried_well_is_served_by_the_version_that_tried_it_and_by_no_other(tmp_path: Path) -> None:
    put: list[str] = []
    for root, tried, stays in (("new", True, True), ("old", True, False), ("new", False, False)):
        home = tmp_path / f"{root}-{tried}"
        (home / "pgdata").mkdir(parents=True)
        (home / upgrade.KEPT).mkdir()
        (home / upgrade.KEPT / "was").touch()
        upgrade.Trying("/new", "token", tried).noted(home)
        upgrade.put_right(LocalServer(home), Path("/") / root, put.append)
        assert (home / "pgdata" / "was").exists() is not stays
        assert not (home / upgrade.MARKER).exists()
    assert len(put) == 2


def test_what_tries_is_let_in(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    (tmp_path / "pgdata").mkdir()
    upgrade.Trying("/new", "token").noted(tmp_path)
    monkeypatch.setenv(upgrade.TRYING, "token")
    upgrade.put_right(LocalServer(tmp_path), Path("/new"), pytest.fail)
    assert (tmp_path / upgrade.MARKER).exists()


@pytest.fixture
def as_service(machine: Machine, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> tuple[Machine, list[str]]:
    """The machine's Kalon as a service, with what would be told systemd noted instead: none runs here."""
    done: list[str] = []
    unit = tmp_path / "kalon.service"
    unit.write_text(
        service.unit(service.Service(machine.entry, machine.home, port=8123)).replace("=kalon\n", "=root\n")
    )
    monkeypatch.setattr(service, "UNIT", unit)
    monkeypatch.setattr(service, "SYSTEMD", tmp_path)
    monkeypatch.setattr(service, "_do", lambda *command, trouble="": done.append(" ".join(command)))
    return machine, done


def _installs(done: list[str], fails: str = "") -> Callable[[Path, service.Installed, object], None]:
    def installed(root: Path, was: service.Installed, say: object) -> None:
        del say
        done.append(f"install {root.name} {' '.join(was.flags)}")
        if root.name == fails:
            raise HostTrouble("The service doesn't answer.")

    return installed


def test_a_service_is_put_in_anew_as_it_was(
    as_service: tuple[Machine, list[str]], monkeypatch: pytest.MonkeyPatch
) -> None:
    machine, done = as_service
    machine.kalon("ready")
    monkeypatch.setattr(upgrade, "_installed", _installs(done))
    file, commit = machine.bundle("a step more", **{STEP: TABLE})
    said: list[str] = []
    upgrade.upgrade(machine.entry, LocalServer(machine.home), str(file), "HEAD", said.append, said.append)
    flags = "--host 127.0.0.1 --port 8123 --workers 2"
    assert done == ["systemctl stop kalon.service", f"install {commit[:12]} {flags}"]
    assert "a_step_more" in machine.tables()


def test_a_service_that_doesnt_answer_is_taken_back_with_its_data(
    as_service: tuple[Machine, list[str]], monkeypatch: pytest.MonkeyPatch
) -> None:
    machine, done = as_service
    before = machine.tables()
    file, commit = machine.bundle("a step more", **{STEP: TABLE})
    monkeypatch.setattr(upgrade, "_installed", _installs(done, commit[:12]))
    with pytest.raises(HostTrouble, match=r"Back at .*nothing is lost: The service doesn't answer"):
        upgrade.upgrade(machine.entry, LocalServer(machine.home), str(file), "HEAD", lambda _: None, lambda _: None)
    assert [line.split()[:2] for line in done] == [
        ["systemctl", "stop"], ["install", commit[:12]], ["systemctl", "stop"], ["install", "kalon"],
    ]  # fmt: skip
    assert machine.tables() == before
    assert not (machine.entry / "var" / "now").exists()


def test_who_serves_by_hand_is_asked_to_stop_first(machine: Machine) -> None:
    (machine.home / "kalon.lock").touch()
    holds = subprocess.Popen(
        [sys.executable, "-c", "import sys, time; from pathlib import Path; from kalon.host.supervise import only_one\n"
         "with only_one(Path(sys.argv[1]), 'http://127.0.0.1:8000'): print('held', flush=True); time.sleep(600)",
         str(machine.home)], stdout=subprocess.PIPE,
    )  # fmt: skip
    try:
        assert holds.stdout and holds.stdout.readline() == b"held\n"
        done = machine.kalon("upgrade", str(machine.maker), "--yes")
        assert (done.returncode, "at http://127.0.0.1:8000: stop it there" in done.stderr) == (2, True)
    finally:
        holds.kill()
        holds.wait()


def test_a_unit_changed_by_hand_is_said(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(service, "UNIT", tmp_path / "kalon.service")
    assert service.installed() is None
    service.UNIT.write_text("[Service]\nExecStart=/opt/mine\n")
    with pytest.raises(HostTrouble, match="changed by hand"):
        service.installed()


def test_a_folder_in_somebody_elses_history_has_none_of_its_own() -> None:
    assert versions.told(HERE / "src").commit == ""
    assert versions.entry_of(Path("/opt/kalon/var/versions/abc")) == Path("/opt/kalon")
    assert versions.entry_of(Path("/opt/kalon")) == Path("/opt/kalon")


WAITS: LiteralString = """
SELECT EXISTS (SELECT 1 FROM pg_locks WHERE NOT granted AND mode = 'AccessExclusiveLock'
               AND relation = 'athlete'::regclass)
"""


def test_a_step_gives_way_to_who_works_and_comes_again(monkeypatch: pytest.MonkeyPatch) -> None:
    """Somebody reads an athlete for long; a step wants the table for itself; others go on reading meanwhile."""
    monkeypatch.setattr(steps, "LOCK_MS", 200)
    monkeypatch.setattr(steps, "PAUSE_S", 0.3)
    with database_server() as server:
        url = server.ensure_database("steps", fresh=True)
        steps.migrate(url, up_to="0017_prices")
        applied: list[str] = []
        calm = f"{url}?options=-c%20statement_timeout%3D20s"
        with psycopg.connect(url) as reader, psycopg.connect(calm, autocommit=True) as other:
            reader.execute("SELECT count(*) FROM athlete")  # holds it until it commits
            worker = threading.Thread(target=lambda: applied.extend(steps.migrate(url)))
            worker.start()
            waiting = [False]
            until = time.monotonic() + 120
            while waiting.count(True) < 3:  # it came, gave way, and came again
                assert worker.is_alive()
                assert time.monotonic() < until
                row = other.execute(WAITS).fetchone()
                if row and row[0] != waiting[-1]:
                    waiting.append(row[0])
                other.execute("SELECT count(*) FROM athlete")  # nobody stands behind it for long
            assert not applied
            reader.commit()
        worker.join(120)
        assert applied[-1] == max(steps.shipped())
        with psycopg.connect(url) as cx:
            cx.execute("INSERT INTO _yoyo_migration (migration_hash, migration_id) VALUES ('x', '9999_of_others')")
        with pytest.raises(KalonError, match="newer Kalon \\(9999_of_others"):
            steps.migrate(url)
