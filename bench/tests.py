"""The tests that try much of the same (made-up shoes, spoilt files, briefs nobody would write), at their large size.

`./kalon bench tests [PATH …]`: every run of `./kalon test` tries a few of each; this tries as many as were once tried
in every run. What fails here fails there, only later.
"""

from __future__ import annotations

import os
import subprocess
import sys
from pathlib import Path

ROOT = Path(__file__).parents[1]


def files() -> list[str]:
    """The files of tests that have a large size."""
    found = sorted((ROOT / "tests").rglob("test_*.py"))
    return [str(f.relative_to(ROOT)) for f in found if "from tests.much import" in f.read_text(encoding="utf-8")]


if __name__ == "__main__":
    spread = ["-n", str(os.cpu_count() or 1), "--dist", "worksteal", "--durations=20"]
    command = [sys.executable, "-m", "pytest", *spread, *(sys.argv[1:] or files())]
    sys.exit(subprocess.run(command, cwd=ROOT, env={**os.environ, "KALON_LARGE": "1"}, check=False).returncode)
