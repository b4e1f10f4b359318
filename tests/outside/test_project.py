"""What the project promises of itself: a pure core, pinned locks without addresses, one version."""

from __future__ import annotations

import json
import re
import subprocess
import sys
import tomllib
from pathlib import Path

import pytest

import kalon

ROOT = Path(__file__).parents[2]
LOCKS = sorted(ROOT.glob("requirements*.lock"))


def test_the_core_loads_without_web_or_database() -> None:
    code = "import sys, kalon.core.calc; print(*sorted(m for m in sys.modules if '.' not in m))"
    loaded = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=True).stdout.split()
    assert "pydantic" in loaded
    assert not {"fastapi", "starlette", "psycopg", "uvicorn", "yoyo", "reportlab"} & set(loaded)


@pytest.mark.parametrize("lock", LOCKS, ids=lambda p: p.name)
def test_locks_pin_versions_and_hold_no_address(lock: Path) -> None:
    text = lock.read_text(encoding="utf-8")
    assert "://" not in text
    named = [line for line in text.splitlines() if re.match(r"[a-z0-9]", line)]
    assert named
    assert all("==" in line for line in named)
    assert text.count("--hash=sha256:") >= len(named)


def test_the_npm_lock_pins_and_holds_no_download_address() -> None:
    lock = json.loads((ROOT / "web" / "package-lock.json").read_text(encoding="utf-8"))
    packages = {k: v for k, v in lock["packages"].items() if k}
    assert not [k for k, v in packages.items() if "resolved" in v]
    bare = {k for k, v in packages.items() if "integrity" not in v}
    for name in bare:  # builds for other machines than Debian's, listed so that the lock is whole
        found = packages[name]
        assert found["optional"]
        assert found.get("os") != ["linux"] or "libc" in found or found["cpu"] == ["arm"]
    wanted = json.loads((ROOT / "web" / "package.json").read_text(encoding="utf-8"))
    for version in [*wanted["dependencies"].values(), *wanted["devDependencies"].values()]:
        assert re.fullmatch(r"\d+\.\d+\.\d+", version)


def test_the_version_is_said_once() -> None:
    assert f'version = "{kalon.__version__}"' in (ROOT / "pyproject.toml").read_text(encoding="utf-8")


def test_every_picture_the_readme_names_is_there() -> None:
    named = re.findall(r"docs/screenshots/[a-z-]+\.png", (ROOT / "README.md").read_text(encoding="utf-8"))
    assert named
    assert {ROOT / n for n in named} == set((ROOT / "docs" / "screenshots").glob("*.png"))
    assert len(set(named)) < 20


def test_every_fault_made_on_purpose_can_still_be_made() -> None:
    for fault in tomllib.loads((ROOT / "tests" / "mutants.toml").read_text(encoding="utf-8"))["mutant"]:
        assert fault["from"] in (ROOT / fault["file"]).read_text(encoding="utf-8"), fault
        assert fault["from"] != fault["to"]
