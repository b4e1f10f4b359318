"""Calibration: what is said of a fit against how often it comes true, over all uppers, builds and sports.

`./kalon bench calibration`. The second table lets the zones share the foot's and the shoe's errors: what it costs
to count them as independent.
"""

from __future__ import annotations

import sys
from pathlib import Path

import numpy as np

sys.path.insert(0, str(Path(__file__).parents[1]))

from tests.calibration import SAID, came_true, judged

from kalon.core.fit.stretch import TABLE, Build
from kalon.core.rules.spec import every_plain_brief, fit_target, spec_for
from kalon.core.rules.words import SPORTS

PAIRS = 4000
"""Pairs made up for each kind of shoe and brief."""
SHARED = (0.0, 0.25, 0.5, 0.75)


def table(shared: float) -> None:
    """Said against come true, jointly and by zone."""
    zones, joint, zone_true, joint_true = [], [], [], []
    seed = 0
    for sport in SPORTS:
        brief = next(iter(every_plain_brief(sport)))
        spec = spec_for(brief)
        for upper, kind in TABLE:
            build: Build = kind
            seed += 1
            found = judged(upper, build, fit_target(spec, upper).band(), PAIRS, seed, shared)
            zones.append(found.zones.ravel())
            joint.append(found.joint)
            zone_true.append(found.zone_true.ravel())
            joint_true.append(found.joint_true)
    print(f"\n{len(joint)} kinds × {PAIRS} pairs; zones share {shared * 100:.0f} % of their errors")
    print(f"{'':12}{'said':>8}{'true':>8}{'off':>8}{'pairs':>10}")
    for name, said, true in (("a zone", zones, zone_true), ("all zones", joint, joint_true)):
        for about, (many, mean, came) in came_true(np.concatenate(said), np.concatenate(true)).items():
            del about
            print(f"{name:12}{mean:8.3f}{came:8.3f}{came - mean:+8.3f}{many:10}")


def main() -> None:
    print(f"said about {', '.join(f'{s * 100:.0f}' for s in SAID)} in 100, within 5")
    for shared in SHARED:
        table(shared)


if __name__ == "__main__":
    main()
