"""Another version of Kalon for a machine that serves: built beside, tried on a copy of the data, then on the data
themselves before anybody works on them; and back again by itself where that fails.
"""

from __future__ import annotations

import json
import os
import re
import secrets
import shutil
import signal
import subprocess
import tempfile
import time
import urllib.request
from collections.abc import Callable, Iterator
from contextlib import ExitStack, contextmanager
from dataclasses import asdict, dataclass, replace
from datetime import datetime
from pathlib import Path

import psycopg

from . import archive, backup, goback, service, versions
from .postgres import COMING_BACK, HostTrouble, LocalServer, Say, free_port
from .status import note_backup
from .supervise import answers, only_one, who_holds
from .tablets import WITH_US
from .versions import Version

BACKUP = "before-{}.backup"
MARKER, KEPT, TRYING = "upgrading.json", "pgdata.before-upgrade", "KALON_TRYING"
"""The note that data are being tried, what they were before, and what tells the try itself that it is one."""
LONGEST_S = 3600
"""How long a version may take to bring the data up to date."""
BUILD_BYTES = 2_000_000_000
"""What a version takes on the disk, with what its building needs. House default."""
TIMES = 2.5
"""So many times the data's size is needed for two copies. House default."""
NEVER_LESS = (
    "shop",
    "staff",
    "change",
    "shop_change",
    "movement",
    "journal_line",
    "sale",
    "athlete",
    "fitting",
    "fitting_part",
)
"""Tables no step of the database takes rows from."""
A_SCRIPT = re.compile(r'<script[^>]+src="(/[^"]+)"')


@dataclass(frozen=True)
class Trying:
    """That the data are being tried by a version. Format 1."""

    to: str
    token: str
    tried: bool = False
    """It went well, and nobody has worked on them yet."""
    format: int = 1

    def noted(self, home: Path) -> None:
        """Written where every start looks."""
        half = home / f"{MARKER}.new"
        half.write_text(json.dumps(asdict(self)))
        half.chmod(0o644)  # the service's user looks for it too
        half.rename(home / MARKER)
        os.sync()


def upgrade(root: Path, server: LocalServer, source: str, to: str, say: Say, sure: Callable[[str], None]) -> None:
    """Bring this machine to the version a bundle or a clone holds. Raises `HostTrouble`, with everything as it was."""
    entry, own = versions.entry_of(root), versions.told(root)
    was = service.installed()
    if was and was.data != server.home:
        raise HostTrouble(f"The service of this machine has its data in {was.data}: say KALON_DATA={was.data} too.")
    if (by := who_holds(server.home)) and not (was and service.SYSTEMD.is_dir()):
        at = f" at {by['at']}" if by.get("at") else ""
        raise HostTrouble(f"Kalon is served by hand{at}: stop it there (Ctrl-C), and say the same again.")
    new = versions.fetched(entry, source, to, say)
    if new.commit == own.commit:
        say(f"it is that version already: {own.text}")
        return
    sure(f"From {own.text} to {new.text}.")
    _room_for(server)
    versions.built(new, say)
    file = _rehearsed(server, new, say)
    trying = Trying(str(new.root), secrets.token_hex(8))
    begun = False
    try:
        if was:
            service.rest(say)
        if file:
            _copied(server, root, trying, say)
            begun = True
            say("trying it on the data, out of everybody's reach")
            with _served(new, {"KALON_DATA": str(server.home), TRYING: trying.token}, was.user if was else None):
                pass
            replace(trying, tried=True).noted(server.home)
        versions.point(entry, new.root)
        if was:
            _installed(new.root, was, say)
    except BaseException as error:
        say(f"back to {own.text}")
        versions.point(entry, root)
        if begun:
            trying.noted(server.home)  # should this be cut off too, the next start goes on with it
            service.rest(say)
            with only_one(server.home):
                _put_back(server, say)
        if was:
            _installed(root, was, say)
        if not isinstance(error, HostTrouble):
            raise
        raise HostTrouble(f"Back at {own.text}, and nothing is lost: {error}") from error
    shutil.rmtree(server.home / KEPT, ignore_errors=True)
    (server.home / MARKER).unlink(missing_ok=True)
    versions.sweep(entry, new.root, root)
    for old in server.home.glob(BACKUP.format("*")) if file else ():
        if old != file:
            old.unlink()
    say(f"this machine is at {new.text} now{'' if was else '; ./kalon serve as ever begins it'}")


def put_right(server: LocalServer, root: Path, say: Say) -> None:
    """Where an upgrade was cut off: the data as they were before, unless it is the new version that starts and had
    tried them well. Nobody has worked on them in between. The data are held by whoever calls."""
    try:
        found = Trying(**json.loads((server.home / MARKER).read_text()))
    except FileNotFoundError:
        return
    if os.environ.get(TRYING) == found.token:
        return
    if found.tried and Path(found.to) == root:
        (server.home / MARKER).unlink()
        return
    say("an upgrade was cut off; the data are put back as they were before it")
    _put_back(server, say)


def _room_for(server: LocalServer) -> None:
    size = sum(f.stat().st_size for f in server.data.rglob("*") if f.is_file()) if server.data.exists() else 0
    needed = TIMES * size + BUILD_BYTES
    if (free := shutil.disk_usage(server.home).free) < needed:
        raise HostTrouble(f"There is no room for it: {needed / 1e9:.1f} GB are needed and {free / 1e9:.1f} GB free.")


def _rehearsed(server: LocalServer, new: Version, say: Say) -> Path | None:
    """Write a backup, and let the new version loose on a copy; the backup, or none where there is nothing to lose.
    Raises `HostTrouble`."""
    file = server.home / BACKUP.format(new.commit[:12])
    if not _backed_up(server, file, new, say):
        return None
    beside = LocalServer(server.home / "rehearsal", settings=("fsync=off", "full_page_writes=off"))
    shutil.rmtree(beside.home, ignore_errors=True)
    try:
        say("trying it on a copy")
        beside.data.mkdir(parents=True)
        server.give(beside.data)
        beside.start()
        backup.restore(beside.url(), file)
        before = _counted(beside.url())
        to = beside.addresses()
        begun = time.monotonic()
        env = {"KALON_DATA": str(beside.home), "KALON_DATABASE_URL": to.owner, "KALON_APP_URL": to.app,
               "KALON_GATE_URL": to.gate}  # fmt: skip
        with _served(new, env, None):
            say(f"the copy is up to date, and served, after {time.monotonic() - begun:.0f} s")
        lost = {t: n for t, n in before.items() if _counted(beside.url()).get(t, 0) < n}
        if lost:
            raise HostTrouble(f"of {', '.join(lost)} there are fewer than before.")
    except (HostTrouble, psycopg.Error) as error:
        raise HostTrouble(f"Nothing was changed; on a copy of the data it failed: {error}") from error
    finally:
        beside.stop()
        shutil.rmtree(beside.home, ignore_errors=True)
    return file


def _backed_up(server: LocalServer, file: Path, new: Version, say: Say) -> bool:
    if not (server.data / "PG_VERSION").exists():
        return False
    with ExitStack() as ending:
        if not server.running():
            ending.enter_context(only_one(server.home))
            server.start()
            ending.callback(server.stop)
        with psycopg.connect(server.url()) as cx:
            if cx.execute("SELECT to_regclass('shop')").fetchone() == (None,):
                return False
            if not cx.execute("SELECT 1 FROM shop LIMIT 1").fetchone():
                return False
            known = {str(r[0]) for r in cx.execute("SELECT migration_id FROM _yoyo_migration").fetchall()}
        if more := known - new.migrations:
            raise HostTrouble(f"Nothing was changed: {new.text} is older than the data ({min(more)} is unknown to it).")
        say(f"backup into {file}")
        backup.backup(server.url(), file)
        note_backup(server.home, file, datetime.now().astimezone())
    return True


def _counted(url: str) -> dict[str, int]:
    counts = {}
    with psycopg.connect(url) as cx:
        for table in NEVER_LESS:
            if cx.execute("SELECT to_regclass(%s)", [table]).fetchone() != (None,):
                row = cx.execute(f"SELECT count(*) FROM {table}").fetchone()
                counts[table] = int(row[0]) if row else 0
    return counts


def _copied(server: LocalServer, root: Path, trying: Trying, say: Say) -> None:
    """What the data are before it is tried on them, kept beside them, and the note that it is tried."""
    kept, half = server.home / KEPT, server.home / f"{KEPT}.new"
    with only_one(server.home):
        put_right(server, root, say)
        server.stop()
        for old in (kept, half):
            shutil.rmtree(old, ignore_errors=True)
        say("the data are copied")
        copied = subprocess.run(["cp", "-a", "--reflink=auto", str(server.data), str(half)], check=False)
        if copied.returncode:
            shutil.rmtree(half, ignore_errors=True)  # a disk that is full stays no fuller than it was
            raise HostTrouble("The data could not be copied; see the line above.")
        half.rename(kept)
        trying.noted(server.home)


@contextmanager
def _served(new: Version, more: dict[str, str], user: str | None) -> Iterator[None]:
    """A version that serves on a port nobody knows, once it answers and its page is there. Raises `HostTrouble`."""
    port = free_port()
    env = {k: v for k, v in os.environ.items() if not k.startswith("KALON_")} | more | {"OPENBLAS_NUM_THREADS": "1"}
    as_user = ["runuser", "-u", user, "--"] if user else []
    command = [*WITH_US, str(new.python), "-m", "kalon.cli", "serve", "--host", "127.0.0.1", "--port", str(port)]
    with tempfile.TemporaryFile("w+") as said:
        process = subprocess.Popen(
            [*as_user, *command, "--workers", "1"], cwd=new.root, env=env, stdout=subprocess.DEVNULL, stderr=said,
            stdin=subprocess.DEVNULL, start_new_session=True,
        )  # fmt: skip
        try:
            until = time.monotonic() + LONGEST_S
            while not answers("127.0.0.1", port):
                if process.poll() is not None or time.monotonic() > until:
                    said.seek(0)
                    raise HostTrouble(_reason(said.read()))
                time.sleep(0.2)
            _shows(port)
            yield
        finally:
            _ended(process)


def _reason(said: str) -> str:
    """Why a command of Kalon's failed: its own sentence, else what Python calls it, else its last line."""
    lines = said.strip().splitlines() or ["it said nothing"]
    for begins in (r"kalon: ", r"[\w.]+: "):
        if found := [line for line in lines if re.match(begins, line)]:
            return found[-1].removeprefix("kalon: ")
    return lines[-1]


def _ended(process: subprocess.Popen[bytes]) -> None:
    process.send_signal(signal.SIGTERM)
    try:
        process.wait(timeout=120)
    except subprocess.TimeoutExpired:
        os.killpg(process.pid, signal.SIGKILL)
        process.wait()


def _shows(port: int) -> None:
    """Raises `HostTrouble` where its page, or the script of it, isn't there."""
    try:
        with urllib.request.urlopen(f"http://127.0.0.1:{port}/", timeout=30) as page:
            script = A_SCRIPT.search(page.read().decode())
        if not script:
            raise HostTrouble("Its page has no script.")
        with urllib.request.urlopen(f"http://127.0.0.1:{port}{script[1]}", timeout=30) as found:
            found.read()
    except OSError as error:
        raise HostTrouble(f"Its page can't be had: {error}") from None


def _put_back(server: LocalServer, say: Say) -> None:
    """The data as they were, from what was kept; done once more where that was cut off."""
    kept = server.home / KEPT
    server.stop()
    if kept.exists():
        shutil.rmtree(server.data, ignore_errors=True)
        kept.rename(server.data)
    _on_a_line_of_its_own(server, say)
    (server.home / MARKER).unlink(missing_ok=True)


def _on_a_line_of_its_own(server: LocalServer, say: Say) -> None:
    """What was written while it was tried is in the archive; what comes now mustn't be taken for it."""
    if archive.where(server.home) is None:
        return
    say("the archive goes on from where the data are")
    signal_file = server.data / COMING_BACK
    signal_file.touch()
    server.give(signal_file)
    coming = replace(server, settings=(*archive.server_settings(server.home), "restore_command=/bin/false"))
    coming.start()
    try:
        goback.note(server, archive.timeline(coming) - 1)
    finally:
        coming.stop()


def _installed(root: Path, was: service.Installed, say: Say) -> None:
    """The service anew, of a version's folder. Raises `HostTrouble`."""
    say(f"the service is put in from {root}")
    done = subprocess.run(
        [str(root / ".venv/bin/python"), "-m", "kalon.cli", "install", *was.flags], cwd=root, capture_output=True,
        text=True, errors="replace", check=False, stdin=subprocess.DEVNULL,
        env=os.environ | {"KALON_DATA": str(was.data)},
    )  # fmt: skip
    if done.returncode:
        raise HostTrouble(_reason(done.stderr))
