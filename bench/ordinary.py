"""Seasons of ordinary hands, zone by zone: how often 90 % intervals of the sizes tried hold: `./kalon bench ordinary`.

The shop, its people and what they type are made by `tests/ordinary.py`, which knows nothing of how Kalon learns; what
was typed goes through what a trial is heard to say. `./kalon bench ordinary [seasons] [part of a name]`.
"""

from __future__ import annotations

import math
import sys
import time
from pathlib import Path

import numpy as np

sys.path.insert(0, str(Path(__file__).parents[1]))

from tests.core.test_ordinary import evidence, held
from tests.ordinary import NEEDED, ZONES, a_season

SEASONS = 12


def main(seasons: int = SEASONS, part: str = "") -> None:
    """A table: by untruth and zone the share held, of 100, the mean error and its size, mm."""
    print(f"{seasons} seasons of 240 visits each; of the sizes tried: 90 % intervals hold / mean error / its size, mm")
    began, learned = time.perf_counter(), 0
    for name, how in NEEDED.items():
        if part not in name:
            continue
        row = []
        for zone in range(len(ZONES)):
            inside: list[bool] = []
            off: list[float] = []
            for seed in range(seasons):
                shop = a_season(seed, how)
                got, errors, _ = held(shop, evidence(shop, zone), zone)
                inside += got
                off += errors
                learned += 1
            size = math.sqrt(float(np.mean(np.square(off))))
            row.append(f"{ZONES[zone]} {100 * np.mean(inside):.0f} / {np.mean(off):+.2f} / {size:.2f}")
        print(f"{name:34} " + "   ".join(row), flush=True)
    print(f"{(time.perf_counter() - began) / max(learned, 1):.2f} s a season and zone")


if __name__ == "__main__":
    main(*(int(a) for a in sys.argv[1:2]), *sys.argv[2:3])
