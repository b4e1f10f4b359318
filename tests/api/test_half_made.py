"""Every command on a machine where nothing is yet, or where what is there is broken: a sentence, and nothing left."""

from __future__ import annotations

import os
import shutil
import subprocess
import sys
from collections.abc import Callable, Iterator
from pathlib import Path

import pytest

from kalon.host.postgres import LocalServer
from tests.running import own_home

COMMANDS = {
    "status": 1, "user list": 2, "user add --shop Harbour --login ada --role fitter": 2,
    "user set --shop Harbour --login ada --let out": 2, "shop list": 2, "shop set --shop Harbour --rename Quay": 2,
    "backup {file}": 2, "restore {file}": 2, "import --shop Harbour {file}": 2, "export stock --shop Harbour": 2,
    "serve --port 0": 2,
}  # fmt: skip
"""With what each ends where it can't be done."""


@pytest.fixture(scope="module")
def made() -> Iterator[Path]:
    """A cluster as a first command makes it."""
    home = own_home()
    server = LocalServer(home)
    server.start()
    server.stop()
    yield home
    shutil.rmtree(home)


def said(home: Path, command: str, file: Path) -> tuple[int, str]:
    env = {**os.environ, "KALON_DATA": str(home), "KALON_PASSWORD": "last-and-sock-4"}
    words = [w.format(file=file) for w in command.split()]
    done = subprocess.run([sys.executable, "-m", "kalon.cli", *words], env=env, capture_output=True, text=True,
                          check=False, stdin=subprocess.DEVNULL, timeout=120)  # fmt: skip
    assert "Traceback" not in done.stderr, done.stderr
    return done.returncode, done.stdout + done.stderr


def _no_secret(home: Path) -> None:
    (home / "secret").unlink()


def _other_secret(home: Path) -> None:
    (home / "secret").write_text("of another cluster")


def _half_a_cluster(home: Path) -> None:
    shutil.rmtree(home / "pgdata" / "global")


@pytest.mark.parametrize(
    ("spoil", "words"),
    [(_no_secret, "The database's password is missing: "), (_other_secret, "can't be used: password authentication"),
     (_half_a_cluster, "PostgreSQL did not start; its log ")],
)  # fmt: skip
def test_a_broken_cluster_is_a_sentence_and_nothing_runs_on(
    made: Path, tmp_path: Path, spoil: Callable[[Path], None], words: str
) -> None:
    home = own_home()
    subprocess.run(["cp", "-a", made, home], check=True)
    file = tmp_path / "list.csv"
    file.write_text("Brand,Model\n")
    try:
        spoil(home)
        for command, ends in COMMANDS.items():
            code, told = said(home, command, file)
            assert code == ends, (command, told)
            assert (words if command != "status" else "Database  stopped") in told, command
        assert not LocalServer(home).running()
    finally:
        LocalServer(home).stop()
        shutil.rmtree(home)


def test_a_machine_with_nothing_says_what_comes_first(made: Path, tmp_path: Path) -> None:
    file = tmp_path / "list.csv"
    told = {command: said(made, command, file) for command in ("user list", "shop list", "backup {file}",
                                                               "user set --shop Harbour --login ada --let out")}  # fmt: skip
    assert {command: code for command, (code, _) in told.items() if code} == {
        "backup {file}": 2, "user set --shop Harbour --login ada --let out": 2,
    }  # fmt: skip
    assert "./kalon shop add makes one" in told["user list"][1]
    assert "./kalon shop add makes one" in told["shop list"][1]
    assert "nothing to write" in told["backup {file}"][1]
    assert "Nobody signs in as ada at Harbour." in told["user set --shop Harbour --login ada --let out"][1]
    assert not file.exists()
