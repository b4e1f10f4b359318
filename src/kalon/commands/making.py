"""For who works on Kalon itself: `test`, `bench`, `shots`, `openapi`, `check`, `ready`."""

from __future__ import annotations

import argparse
import json
import os
import subprocess
import sys

from .common import ROOT, Add, say

MOST_AT_ONCE = 4
"""Test processes at once at most; one more than there are cores, for each waits for its database and its browser."""


def ratio() -> str:
    """Test lines against all code lines, blank lines aside."""

    def count(*patterns: str) -> int:
        files = {f for p in patterns for f in ROOT.glob(p) if "schema.d.ts" not in f.name}
        return sum(1 for f in files for line in f.read_text(encoding="utf-8").splitlines() if line.strip())

    tests = count("tests/**/*.py", "tests/**/*.ts")
    code = count("src/**/*.py", "src/**/*.sql", "web/src/**/*.ts", "web/src/**/*.tsx")
    return f"tests {tests} of {tests + code} lines: {100 * tests / (tests + code):.1f} %"


def test(args: argparse.Namespace) -> None:
    """Run the tests: all, the fast core ones, or those that what was changed can reach."""
    if args.ratio:
        print(ratio())
        return
    where = {"core": ["tests/core"], "all": ["tests"]}.get(args.what) or _reached()
    interface = "web" in where or (args.what == "all" and not args.rest)
    where = [w for w in where if w != "web"]
    if interface:
        done = subprocess.run(["npm", "--prefix", "web", "run", "--silent", "test"], cwd=ROOT, check=False)
        if done.returncode:
            sys.exit(done.returncode)
    if not where:
        say("nothing of Python's was changed that a test reaches")
        return
    waits = where != ["tests/core"]  # one more than there are cores, where some always wait
    at_once = min((os.cpu_count() or 1) + waits, MOST_AT_ONCE)
    spread = ["-n", str(at_once), "--dist", "loadfile", "--no-loadscope-reorder"]
    ends = ["--durations=10", "--durations-min=1"]
    command = [sys.executable, "-m", "pytest", *spread, *ends, *where, *args.rest]
    sys.exit(subprocess.run(command, cwd=ROOT, check=False).returncode)


def _reached() -> list[str]:
    """The test files that what was changed since the last commit can reach; `web` for the interface's unit tests.

    Of the core by imports; of what runs behind the application its whole layer. What a change of the core does behind
    the application is left to the whole run."""
    sys.path.insert(0, str(ROOT))
    from tests.changed import changed_files, reached

    found = reached(changed_files())
    say("reached: " + (" ".join(found) or "nothing"))
    return found


def openapi(_: argparse.Namespace) -> None:
    """Print the OpenAPI document."""
    from ..api.app import create_app

    print(json.dumps(create_app().openapi(), indent=1))


def shots(_: argparse.Namespace) -> None:
    """Retake docs/screenshots from the demo data."""
    sys.exit(subprocess.run([sys.executable, "tests/browser/shots.py"], cwd=ROOT, check=False).returncode)


BENCHES = {
    "feet": "how near measuring comes, and how fast",
    "briefs": "contradictions in 3,000 random briefs, their blends and neighbours",
    "calibration": "whether a stated chance comes true that often",
    "large": "database time of each page in a shop of 20,000 athletes",
    "start": "how long a start takes",
    "hand": "typing and changing answers on a busy machine",
    "hurried": "random keys in a hurry over every station and room",
    "keys": "keys, touches and long tasks of a whole fitting of every sport",
    "soak": "edits, sales, holds, transfers and erasures while processes are killed",
    "load": "many fitters at once, and the processor time of each call beside the platform's bare bound",
    "recovery": "how long the bench is away when something of it is killed",
    "fuzz": "calls nobody would make",
    "shelf": "choosing among 10,000 to 1,000,000 lines",
    "lists": "a supplier's list of 100,000 lines, end to end",
    "ordinary": "how often what is learned holds though people are as they are",
    "season": "how much a shop learns in a made-up season",
    "empty": "a season over HTTP from an empty shop",
    "races": "the last pair grabbed from all sides, 500 times",
    "shoes": "how near measuring shoes from pictures comes, and how fast",
    "mutants": "which faults made on purpose the tests notice",
    "tests": "the tests that try much of the same, at their large size",
    "wear": "whether what is said to be left of pairs comes true in a made-up year",
}


def bench(args: argparse.Namespace) -> None:
    """Run the benchmarks."""
    sys.exit(subprocess.run([sys.executable, f"bench/{args.what}.py", *args.rest], cwd=ROOT, check=False).returncode)


def add(add: Add) -> None:
    """What they take on the command line."""
    p = add("test", help="run the tests")
    p.add_argument("what", nargs="?", choices=["core", "changed", "all"], default="all")
    p.add_argument("--ratio", action="store_true", help="print test lines against all code lines")
    p.add_argument("rest", nargs=argparse.REMAINDER)
    p.set_defaults(run=test)
    add("shots", help="retake docs/screenshots").set_defaults(run=shots)
    add("openapi", help="print the OpenAPI document").set_defaults(run=openapi)
    add("check", help="make the tools of .ci/run ready").set_defaults(run=lambda _: None)
    p = add("bench", help="figures of views and calls; or " + "; ".join(f"{n}: {w}" for n, w in BENCHES.items()))
    p.add_argument("what", nargs="?", choices=["run", *BENCHES], default="run")
    p.add_argument("rest", nargs=argparse.REMAINDER)
    p.set_defaults(run=bench)
    add("ready", help="make ready what serving needs, and nothing else").set_defaults(run=lambda _: None)
