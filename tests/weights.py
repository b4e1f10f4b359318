"""How long each file of tests takes, so that a run begins with the longest: `python -m tests.weights JUNIT.xml` writes it.

Seconds are only compared with each other. A file that isn't in the table counts as short.
"""

from __future__ import annotations

import json
import sys
import xml.etree.ElementTree as ElementTree
from collections import defaultdict
from pathlib import Path

TABLE = Path(__file__).with_name("weights.json")


def weights() -> dict[str, float]:
    """Seconds by file, as `tests/core/test_rules.py`."""
    return dict(json.loads(TABLE.read_text(encoding="utf-8"))) if TABLE.exists() else {}


def weighed(report: Path) -> dict[str, float]:
    """Seconds by file from a JUnit report of a whole run."""
    found: dict[str, float] = defaultdict(float)
    for case in ElementTree.parse(report).getroot().iter("testcase"):
        file = case.get("classname", "").replace(".", "/") + ".py"
        found[file] += float(case.get("time", 0))
    return {file: round(seconds, 1) for file, seconds in sorted(found.items(), key=lambda f: -f[1]) if seconds >= 1}


if __name__ == "__main__":
    TABLE.write_text(json.dumps(weighed(Path(sys.argv[1])), indent=1) + "\n", encoding="utf-8")
