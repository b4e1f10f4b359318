"""Versions of Kalon beside each other: each in a folder of its own below the one it was first put in, which leads to
the one in use (`var/now`).
"""

from __future__ import annotations

import os
import shutil
import subprocess
from dataclasses import dataclass
from datetime import datetime
from pathlib import Path

from .postgres import HostTrouble, Say

WHOLE = "built"
"""There once a version has everything it needs."""
LONGEST_S = 3600


@dataclass(frozen=True)
class Version:
    """A version in its folder."""

    root: Path
    commit: str
    at: datetime | None = None
    subject: str = ""

    @property
    def text(self) -> str:
        """It as a person would name it."""
        when = f" of {self.at:%-d %B %Y}" if self.at else ""
        return (
            f"{self.commit[:12] or 'a version without a history'}{when}{f' ({self.subject})' if self.subject else ''}"
        )

    @property
    def python(self) -> Path:
        """Its Python."""
        return self.root / ".venv" / "bin" / "python"

    @property
    def migrations(self) -> set[str]:
        """The steps of the database it knows."""
        return {f.stem for f in (self.root / "src/kalon/store/migrations").glob("*.sql")}


def entry_of(root: Path) -> Path:
    """The folder a version was put in by whoever set the machine up."""
    return root.parents[2] if root.parts[-3:-1] == ("var", "versions") else root


def point(entry: Path, root: Path) -> None:
    """From now on it is this version that is used."""
    now = entry / "var" / "now"
    if root == entry:
        now.unlink(missing_ok=True)
        return
    half = now.with_name("now.new")
    half.unlink(missing_ok=True)
    half.symlink_to(root)
    half.rename(now)


def told(root: Path) -> Version:
    """What a folder's own history says of it."""
    if not (root / ".git").exists():  # in somebody else's history, maybe
        return Version(root, "")
    try:
        said = _git("-C", str(root), "log", "-1", "--format=%H%n%cI%n%s")
    except HostTrouble:
        return Version(root, "")
    commit, at, subject = said.split("\n", 2)
    return Version(root, commit, datetime.fromisoformat(at), subject.strip())


def fetched(entry: Path, source: str, to: str, say: Say) -> Version:
    """A version out of a bundle or a clone, in its own folder; nothing of it is used yet. Raises `HostTrouble`."""
    folder = entry / "var" / "versions"
    folder.mkdir(parents=True, exist_ok=True)
    half = folder / ".new"
    shutil.rmtree(half, ignore_errors=True)
    say(f"fetching from {source}")
    _git("clone", "--quiet", "--no-checkout", "--no-hardlinks", source, str(half))
    try:
        _git("-C", str(half), "checkout", "--quiet", "--detach", to)
        new = told(half)
        if not (half / "kalon").is_file() or not new.migrations:
            raise HostTrouble(f"{source} holds no Kalon.")
        place = folder / new.commit[:12]
        if not (place / "var" / WHOLE).exists():
            shutil.rmtree(place, ignore_errors=True)
            half.rename(place)
    finally:
        shutil.rmtree(half, ignore_errors=True)
    return told(place)


def built(version: Version, say: Say) -> None:
    """Have everything it needs made ready, beside what serves. Raises `HostTrouble`."""
    whole = version.root / "var" / WHOLE
    if whole.exists():
        return
    say("building it")
    done = subprocess.run(
        ["nice", str(version.root / "kalon"), "ready"], cwd=version.root, capture_output=True, text=True,
        errors="replace", check=False, timeout=LONGEST_S, stdin=subprocess.DEVNULL,
    )  # fmt: skip
    if done.returncode:
        said = [line.removeprefix("kalon: ") for line in done.stderr.strip().splitlines()]
        raise HostTrouble(f"Nothing was changed; it could not be built: {said[-1] if said else 'it said nothing'}")
    # A service may not write there: what isn't compiled now would be at every start.
    subprocess.run([str(version.python), "-m", "compileall", "-q", str(version.root / "src")], check=False)
    whole.parent.mkdir(exist_ok=True)
    whole.touch()


def sweep(entry: Path, *keep: Path) -> None:
    """Throw away the versions nobody needs."""
    for place in (entry / "var" / "versions").iterdir():
        if place not in keep:
            shutil.rmtree(place, ignore_errors=True)


def _git(*command: str) -> str:
    """Git, of a folder that may be somebody else's: root upgrades what another put there."""
    program = shutil.which("git")
    if program is None:
        raise HostTrouble("git isn't on this machine: apt-get install git.")
    done = subprocess.run(
        [program, "-c", "safe.directory=*", *command], capture_output=True, text=True, errors="replace", check=False,
        cwd="/", env={k: v for k, v in os.environ.items() if not k.startswith("GIT_")}, stdin=subprocess.DEVNULL,
    )  # fmt: skip
    if done.returncode:
        said = done.stderr.strip().splitlines() or [f"it ended with {done.returncode}"]
        raise HostTrouble(f"It could not be fetched: {said[-1].removeprefix('fatal: ')}")
    return done.stdout.strip()
