"""Contradictions in three thousand random briefs, their blends and their neighbours: `./kalon bench briefs`."""

from __future__ import annotations

import sys
import time
from pathlib import Path

sys.path.insert(0, str(Path(__file__).parents[1]))

from tests.core.anybrief import any_briefs
from tests.core.contradictions import all_of, sentences, spec_for

BRIEFS = 3000


def main() -> int:
    """How many contradictions there are, the first of them, and how many sentences were said in all."""
    began = time.perf_counter()
    briefs = any_briefs(BRIEFS, int(sys.argv[1]) if len(sys.argv) > 1 else 1)
    found = [t for given in briefs for t in all_of(given)]
    said = {s for given in briefs for s in sentences(spec_for(given))}
    blends = sum(bool(given.also) for given in briefs)
    print(f"{BRIEFS} briefs, {blends} of them blends, {len(said)} sentences: {len(found)} contradictions")
    for text in found[:20]:
        print(f"  {text}")
    print(f"{time.perf_counter() - began:.0f} s")
    return int(bool(found))


if __name__ == "__main__":
    sys.exit(main())
