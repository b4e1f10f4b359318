"""How true and how fast a shoe's pictures are: `./kalon bench shoes` writes docs/accuracy-shoes.md.

Two hundred made-up insoles on paper, from straight above to 25° aside, with the shadow they throw; the true measures
are known. The thickness is said to half a millimetre, as a fitter would, or not at all.
"""

from __future__ import annotations

import io
import resource
import statistics
import time
from pathlib import Path

import numpy as np
from PIL import Image

from kalon.core.errors import BadInput
from kalon.devices.shoe import a_shoe, insole_picture, outline, true_insole
from kalon.files.shoes import ShoeSaid, measure_shoe

COUNT, UNSAID, FURTHEST_DEG = 200, 60, 25
PAGE = Path(__file__).parents[1] / "docs" / "accuracy-shoes.md"
LIMITS = {"inner_length_mm": 1.0, "ball_width_mm": 1.0, "heel_width_mm": 1.0, "last_curve_deg": 1.5}
HEAD = """# How true and how fast a shoe's pictures are

Written by `./kalon bench shoes`; every shoe is made up and its true measures are known. Error is measured less true.
Limits at 95 in 100: 1.0 mm in length and widths; stated intervals must hold the truth at least 90 times in 100.
"""


def table(count: int, *, said: bool) -> tuple[list[str], list[float], int]:
    """Lines of a table, seconds of each picture, and how many were refused."""
    off: dict[str, list[float]] = {n: [] for n in LIMITS}
    held: dict[str, list[bool]] = {n: [] for n in LIMITS}
    seconds, refused = [], 0
    for seed in range(count):
        dims = a_shoe(seed)
        shot = insole_picture(dims, seed, tilt_deg=FURTHEST_DEG * (seed % 26) / 25, width=1500)
        out = io.BytesIO()
        Image.fromarray(shot.picture).save(out, "JPEG", quality=92)
        given = ShoeSaid(thick_mm=round(2 * dims.insole_mm) / 2) if said else ShoeSaid()
        begun = time.perf_counter()
        try:
            found = measure_shoe(out.getvalue(), given).reading
        except BadInput:
            refused += 1
            continue
        seconds.append(time.perf_counter() - begun)
        for name, true in true_insole(outline(dims)).items():
            number = found.numbers[name]
            off[name].append(number.value - true)
            held[name].append(abs(number.value - true) <= number.within)
    lines = ["| number | pictures | bias | 95 % error | interval holds the truth |", "|---|---|---|---|---|"]
    for name, errors in off.items():
        lines.append(
            f"| {name} | {len(errors)} | {np.mean(errors):+.2f} | {np.quantile(np.abs(errors), 0.95):.2f} | "
            f"{np.mean(held[name]):.1%} |"
        )
    return lines, seconds, refused


def main() -> None:
    """Measure, and write the page."""
    lines, seconds, refused = table(COUNT, said=True)
    guessed, _, more = table(UNSAID, said=False)
    peak = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
    text = [
        HEAD,
        f"## An insole on A4, its thickness said\n\n{COUNT} pictures of 1500 × 2000 pixels. Not measured: {refused}.\n",
        *lines,
        f"\n## The same, its thickness not said\n\nTaken as usual, which the stated intervals allow for. Not measured: {more}.\n",
        *guessed,
        f"\n## Speed and memory\n\nOne picture: {statistics.median(seconds):.2f} s (limit 1.5); the process took "
        f"{peak:.0f} MB at most.\n",
    ]
    PAGE.write_text("\n".join(text), encoding="utf-8")
    print("\n".join(text))


if __name__ == "__main__":
    main()
