"""How true and how fast a shoe's pictures are: `./kalon bench shoes [COUNT]` writes docs/accuracy-shoes.md.

Two hundred made-up shoes a way: insoles on paper and soles up to 25° aside, sides from the counter's height to 5° over
it, with shadows, noise and studs worn and scuffed; the true measures are known. What a fitter would read with a rule or
a calliper (an insole's thickness, a sole's length, a stud's height) is said as they would read it.
"""

from __future__ import annotations

import io
import resource
import statistics
import sys
import time
from collections.abc import Callable
from pathlib import Path

import numpy as np
from PIL import Image

from kalon.core.errors import BadInput
from kalon.core.shoes.pictured import Way
from kalon.devices.camera import Shot
from kalon.devices.shoe import a_shoe, insole_picture, outline, true_insole
from kalon.devices.shoe_pictures import side_picture, sole_picture
from kalon.devices.shoe_solid import a_solid, in_own_frame, true_side, worn
from kalon.files.shoes import ShoePicture, ShoeSaid, measure_shoe

COUNT, UNSAID, FURTHEST_DEG = 200, 60, 25
PLACE_TWO_AXES = 2.45
"""A place is off by less than so many standard deviations 95 times in 100 (chi-squared with two degrees)."""
PAGE = Path(__file__).parents[1] / "docs" / "accuracy-shoes.md"
HEAD = """# How true and how fast a shoe's pictures are

Written by `./kalon bench shoes`; every shoe is made up and its true measures are known. Error is measured less true.
Limits at 95 in 100: 1.0 mm in an insole's length and widths and in drop, 1.5° in downturn, 1.5 mm in a stud's place;
stated intervals must hold the truth at least 90 times in 100.
"""


class Tally:
    """Errors and how often intervals held, by number."""

    def __init__(self) -> None:
        self.off: dict[str, list[float]] = {}
        self.held: dict[str, list[bool]] = {}
        self.seconds: list[float] = []
        self.refused = 0
        self.notes: dict[str, int] = {}

    def add(self, name: str, error: float, held: bool) -> None:
        """One number of one picture."""
        self.off.setdefault(name, []).append(error)
        self.held.setdefault(name, []).append(held)

    def count(self, what: str, by: int) -> None:
        """So many more of something."""
        self.notes[what] = self.notes.get(what, 0) + by

    def lines(self) -> list[str]:
        """A table in Markdown."""
        out = ["| number | readings | bias | 95 % error | interval holds the truth |", "|---|---|---|---|---|"]
        for name, errors in self.off.items():
            out.append(
                f"| {name} | {len(errors)} | {np.mean(errors):+.2f} | {np.quantile(np.abs(errors), 0.95):.2f} | "
                f"{np.mean(self.held[name]):.1%} |"
            )
        return out


def shot(picture: Shot) -> bytes:
    """As a telephone would send it."""
    out = io.BytesIO()
    Image.fromarray(picture.picture).save(out, "JPEG", quality=92)
    return out.getvalue()


def measured(tally: Tally, data: bytes, said: ShoeSaid, way: Way) -> ShoePicture | None:
    """The picture measured and timed; counted when refused."""
    begun = time.perf_counter()
    try:
        found = measure_shoe(data, said, way=way)
    except BadInput:
        tally.refused += 1
        return None
    tally.seconds.append(time.perf_counter() - begun)
    return found


def numbers(tally: Tally, found: ShoePicture, truth: dict[str, float]) -> None:
    """Every number of a picture against the truth."""
    for name, true in truth.items():
        if number := found.reading.numbers.get(name):
            tally.add(name, number.value - true, abs(number.value - true) <= number.within)
        else:
            tally.count(f"{name} not told", 1)


def insoles(count: int, *, said: bool) -> Tally:
    """Insoles on paper."""
    tally = Tally()
    for seed in range(count):
        dims = a_shoe(seed)
        data = shot(insole_picture(dims, seed, tilt_deg=FURTHEST_DEG * (seed % 26) / 25, width=1500))
        given = ShoeSaid(thick_mm=round(2 * dims.insole_mm) / 2) if said else ShoeSaid()
        if found := measured(tally, data, given, "insole"):
            numbers(tally, found, true_insole(outline(dims)))
    return tally


def soles(count: int) -> Tally:
    """Soles over a hung sheet, every other shoe with studs, some worn and scuffed."""
    tally = Tally()
    for seed in range(count):
        rng = np.random.default_rng(seed + 5)
        made = worn(a_solid(seed, "studded" if seed % 2 else None), float(rng.uniform(0, 4)) if seed % 3 == 0 else 0.0)
        side = "right" if seed % 4 < 2 else "left"
        tilt, scuffed = FURTHEST_DEG * (seed % 26) / 25, float(seed % 3 == 0)
        data = shot(sole_picture(made, seed, width=1600, tilt_deg=tilt, side=side, scuffed=scuffed))  # type: ignore[arg-type]
        studs, edge = in_own_frame(made)
        length = float(np.ptp(edge[:, 0]))
        given: dict[str, float] = {"sole_mm": round(length + rng.normal(0, 0.4))}
        if studs:
            given["stud_mm"] = round(2 * studs[0].height_mm) / 2
        found = measured(tally, data, ShoeSaid.model_validate(given), "sole")
        if not found:
            continue
        numbers(tally, found, {"sole_length_mm": length})
        got = found.reading.studs
        asks = any("run into each other" in q for q in found.reading.questions)
        missed = max(len(studs) - len(got), 0)
        tally.count("studs", len(studs))
        tally.count("studs missed", missed)
        tally.count("of them in soles that don't ask for a squarer picture", 0 if asks else missed)
        tally.count("studs too many", max(len(got) - len(studs), 0))
        tally.count("studded soles that ask", int(asks and bool(studs)))
        for stud in studs if got else ():
            near = min(got, key=lambda g: float(np.hypot(g.x_mm - stud.x_mm, g.y_mm - stud.y_mm)))
            off = float(np.hypot(near.x_mm - stud.x_mm, near.y_mm - stud.y_mm))
            if off > 12:
                continue
            tally.add("a stud's place", off, off <= PLACE_TWO_AXES * found.reading.numbers["stud_place_mm"].sigma)
            if near.shape == stud.shape == "blade":
                turned = near.angle_deg - stud.angle_deg
                tally.add("a blade's angle, °", turned, abs(turned) < 5)
            elif near.shape == stud.shape:
                wide = (near.diameter_mm or 0) - (stud.diameter_mm or 0)
                tally.add("a round stud's width", wide, abs(wide) <= 2 * found.reading.numbers["stud_across_mm"].sigma)
    return tally


def sides(count: int) -> Tally:
    """Sides over a hung sheet."""
    tally = Tally()
    for seed in range(count):
        made = a_solid(seed)
        side = "right" if seed % 2 else "left"
        data = shot(side_picture(made, seed, width=1900, tilt_deg=5 * (seed % 9) / 8, side=side))  # type: ignore[arg-type]
        if found := measured(tally, data, ShoeSaid(), "side"):
            truth = true_side(made)
            truth["sole_length_mm"] = truth.pop("length_mm")
            if made.studs:
                truth.pop("downturn_deg")
            numbers(tally, found, truth)
    return tally


def main(count: int = COUNT) -> None:
    """Measure, and write the page."""
    text = [HEAD]
    parts: list[tuple[str, Callable[[], Tally]]] = [
        ("An insole on A4, its thickness said", lambda: insoles(count, said=True)),
        ("The same, its thickness not said", lambda: insoles(min(count, UNSAID), said=False)),
        ("A sole over a hung A4, its length and its studs' height said", lambda: soles(count)),
        ("A side over a hung A4, nothing said", lambda: sides(count)),
    ]
    for title, run in parts:
        tally = run()
        told = "; ".join(f"{n} {k}" for k, n in tally.notes.items())
        text.append(f"## {title}\n\n{len(tally.seconds) + tally.refused} pictures, not measured {tally.refused}"
                    f"{'; ' + told if told else ''}. {statistics.median(tally.seconds):.2f} s a picture (limit 1.5), "
                    f"the slowest {max(tally.seconds):.2f}.\n")  # fmt: skip
        text.append("\n".join(tally.lines()) + "\n")
        print(text[-2], text[-1], sep="\n", flush=True)
    peak = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
    text.append(f"## Memory\n\nThe process, with the simulator in it, took {peak:.0f} MB at most.\n")
    if count >= COUNT:
        PAGE.write_text("\n".join(text), encoding="utf-8")


if __name__ == "__main__":
    main(*(int(a) for a in sys.argv[1:2]))
