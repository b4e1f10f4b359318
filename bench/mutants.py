"""Faults made on purpose, one at a time, in a copy of the tree: which of them the tests notice.

A mutant counts as caught only where its tests pass on the code as it is: each set of tests is run on that first.
`./kalon bench mutants` prints a line a mutant and how many were caught; `--tree DIR` takes another checkout, whose own
tests then judge its own code; `--only TEXT …` takes the mutants whose file or change contains one. The copy is thrown
away. Nothing of the checkout is changed.
"""

from __future__ import annotations

import argparse
import os
import shutil
import subprocess
import sys
import tempfile
import time
import tomllib
from collections import Counter
from pathlib import Path
from typing import Any

sys.path.insert(0, str(Path(__file__).parents[1]))
from tests.running import SEED, forget_seed, own_home

ROOT = Path(__file__).parents[1]
TABLE = ROOT / "tests" / "mutants.toml"
COPIED = ("src", "tests", "web", "bench", "docs", "pyproject.toml", "requirements.lock", "README.md")
LEFT_OUT = shutil.ignore_patterns("node_modules", "__pycache__", ".pytest_cache")
LONGEST_S = 420


def mutants(only: list[str]) -> list[dict[str, Any]]:
    """The table, each mutant as `file`, `from`, `to` and `tests`; of those that hold one of some texts, where any."""
    found = tomllib.loads(TABLE.read_text(encoding="utf-8"))["mutant"]
    return [m for m in found if not only or any(text in f"{m['file']} {m['from']} {m['to']}" for text in only)]


def copy_of(tree: Path, into: Path) -> None:
    """A copy of a checkout that can be broken, with the same packages under it."""
    for name in COPIED:
        place = tree / name
        if place.is_dir():
            shutil.copytree(place, into / name, ignore=LEFT_OUT)
        elif place.exists():
            shutil.copy(place, into / name)
    (into / "web" / "node_modules").symlink_to((tree / "web" / "node_modules").resolve())


def _ran(command: list[str], where: Path, env: dict[str, str]) -> bool:
    """Whether a command succeeded; one that never ends didn't."""
    try:
        return not subprocess.run(
            command, cwd=where, env=env, capture_output=True, timeout=LONGEST_S, check=False
        ).returncode
    except subprocess.TimeoutExpired:
        return False


def _built(where: Path, env: dict[str, str]) -> bool:
    """Whether the interface could be built."""
    return _ran(["npx", "--no-install", "vite", "build"], where / "web", env)


def tests_pass(where: Path, tests: list[str], env: dict[str, str], *, built: bool) -> bool:
    """Whether the tests of a mutant pass in a copy; `built` builds the interface first where a browser needs it."""
    units = [t for t in tests if t != "web"]
    if "web" in tests and not _ran(["npm", "--prefix", "web", "run", "--silent", "test"], where, env):
        return False
    if not units:
        return True
    if built and not _built(where, env):
        return False
    present = [t for t in units if (where / t.partition("::")[0]).exists()]
    return _ran([sys.executable, "-m", "pytest", "-q", "-x", "-p", "no:cacheprovider", *present], where, env)


def main() -> None:
    """Run the mutants and say which were caught."""
    ask = argparse.ArgumentParser(description=__doc__)
    ask.add_argument("--tree", type=Path, default=ROOT)
    ask.add_argument("--only", nargs="+", default=[])
    given = ask.parse_args()
    words: Counter[str] = Counter()
    sound: dict[tuple[str, ...], bool] = {}
    with tempfile.TemporaryDirectory(prefix="kalon-mutants-") as place:
        where = Path(place)
        where.chmod(0o755)
        copy_of(given.tree.resolve(), where)
        os.environ[SEED] = str(own_home().with_suffix(".seed"))  # one database server for all of them
        env = {**os.environ, "PYTHONPATH": str(where / "src")}
        env.pop("PYTHONDONTWRITEBYTECODE", None)  # else every run compiles all of it again
        if not (where / "web" / "dist").exists() and not _built(where, env):  # tests of the server ask for its pages
            sys.exit("The interface doesn't build: npm --prefix web run build")
        for number, mutant in enumerate(mutants(given.only), 1):
            file, begun = where / mutant["file"], time.monotonic()
            whole = file.read_text(encoding="utf-8") if file.exists() else ""
            word = "gone"
            tests, built = tuple(mutant["tests"]), mutant["file"].startswith("web/")
            if whole.count(mutant["from"]) == 1:
                if tests not in sound:
                    sound[tests] = tests_pass(where, mutant["tests"], env, built=built)
                file.write_text(whole.replace(mutant["from"], mutant["to"]), encoding="utf-8")
                # What makes the database makes the demo's too: it isn't the one kept from before.
                own = {n: v for n, v in env.items() if n != SEED} if "/migrations/" in mutant["file"] else env
                passed = tests_pass(where, mutant["tests"], own, built=built)
                file.write_text(whole, encoding="utf-8")
                word = "UNSOUND" if not sound[tests] else "ALIVE" if passed else "caught"
            words[word] += 1
            change = " ".join(mutant["to"].split())[:70]
            print(f"{number:3} {word:7} {time.monotonic() - begun:6.1f} s  {mutant['file']}: {change}", flush=True)
    forget_seed()
    print(
        f"{words['caught']} caught, {words['ALIVE']} alive, {words['UNSOUND']} whose tests fail without them, "
        f"{words['gone']} not in this tree"
    )
    sys.exit(bool(words["UNSOUND"]))


if __name__ == "__main__":
    main()
