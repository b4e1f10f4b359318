"""How true the feet are, and how fast: `./kalon bench feet [--feet N]`. Writes docs/accuracy.md.

Accuracy: at least 200 made-up feet per way in, against their true dimensions: bias, 95 % error, and how often the
stated 95 % interval holds the truth. Speed: a scan of 200,000 triangles against trimesh cutting the same planes
alone, in the same run; memory is the peak of a process of its own.
"""

from __future__ import annotations

import argparse
import statistics
import sys
import time
from collections.abc import Callable
from concurrent.futures import ProcessPoolExecutor
from multiprocessing import get_context
from pathlib import Path

import numpy as np
import trimesh
from scipy.spatial.transform import Rotation

from kalon.core.feet.gauge import SIGMA_MM
from kalon.core.feet.measures import TWO_SIDED_95, Reading
from kalon.core.feet.plan import find_ball
from kalon.core.feet.pressure import measure_print
from kalon.core.feet.said import Said
from kalon.core.feet.scan import HEEL_AT, INSTEP_AT, PROFILE_AT, TOE_EDGE_AT, TOE_HEIGHT_AT, ball_plane, measure_scan
from kalon.core.feet.surface import Surface, merged
from kalon.devices.foot import FootDims, sample_pair, surface
from kalon.devices.mat import record
from kalon.devices.paper import photograph
from kalon.devices.practice import scan, stl_bytes
from kalon.files.captures import measure_again
from kalon.files.reading import jpeg, read_mesh

ROOT = Path(__file__).parents[1]
Row = tuple[str, float, bool]
"""A number's name, measured less true, and whether the stated interval held it."""


def _dims(i: int) -> FootDims:
    return sample_pair(1000 + i)[i % 2]


def _rows(reading: Reading, dims: FootDims) -> list[Row]:
    found = []
    for name, number in reading.numbers.items():
        apart = number.value - getattr(dims, name)
        found.append((name, apart, abs(apart) <= number.within))
    return [*found, ("side right", 0.0, reading.side == dims.side)]


def _scan(i: int, noise: float) -> list[Row]:
    dims = _dims(i)
    mesh = scan(dims, i, triangles=60_000, noise_mm=noise)
    return _rows(measure_scan(Surface(mesh.vertices, mesh.faces))[1], dims)


def clean_scan(i: int) -> list[Row]:
    return _scan(i, 0.0)


def noisy_scan(i: int) -> list[Row]:
    return _scan(i, float(np.random.default_rng(i).uniform(0.1, 0.6)))


def _photo(i: int, drawn: str, tilt: float) -> list[Row]:
    dims = _dims(i)
    if dims.length_mm > 283:
        dims = sample_pair(5000 + i)[1]
    if dims.length_mm > 283:
        return []
    shot = photograph(dims, i, tilt_deg=tilt, drawn=drawn, width=1500)  # type: ignore[arg-type]
    return _rows(measure_again("tracing", jpeg(shot.picture), Said()).reading, dims)


def tracing(i: int) -> list[Row]:
    return _photo(i, "line", (i % 36) * 1.0)


def foot_on_paper(i: int) -> list[Row]:
    return _photo(i, "foot", (i % 11) * 1.0)


def mat(i: int) -> list[Row]:
    dims = _dims(i)
    made = record(dims, i, cell_mm=5.0, frames=1 if i % 2 else 20)
    return _rows(measure_print(made.frames, made.cell_mm)[1], dims)


def gauge(i: int) -> list[Row]:
    """A hand with the stated spread, reading to the half millimetre."""
    dims, rng = _dims(i), np.random.default_rng(i)
    found = []
    for name, sigma in SIGMA_MM.items():
        apart = round(2 * (getattr(dims, name) + rng.normal(0, sigma))) / 2 - getattr(dims, name)
        found.append((name, apart, abs(apart) <= TWO_SIDED_95 * sigma))
    return found


WAYS: dict[str, tuple[Callable[[int], list[Row]], str]] = {
    "Gauge and tape": (gauge, "a simulated hand with the house's spreads, read to 0.5 mm"),
    "Clean scan": (clean_scan, "60,000 triangles, turned anyhow, with a leg stump"),
    "Noisy scan": (noisy_scan, "the same with 0.1 to 0.6 mm of noise"),
    "Tracing": (tracing, "a pen's line on A4, photographed from 0° to 35° aside"),
    "Foot on paper": (foot_on_paper, "the foot itself on A4, photographed from 0° to 10° aside"),
    "Pressure mat": (mat, "5 mm cells, standing and stepping"),
}


def _one(job: tuple[str, int]) -> list[Row] | str:
    try:
        return WAYS[job[0]][0](job[1])
    except Exception as error:
        return f"{job[0]} {job[1]}: {error!r}"


def accuracy(feet: int) -> list[str]:
    """The table, in Markdown."""
    lines = []
    with ProcessPoolExecutor(2, mp_context=get_context("spawn")) as pool:
        for way, (_, what) in WAYS.items():
            print(f"· {way}", file=sys.stderr, flush=True)
            answers = list(pool.map(_one, [(way, i) for i in range(feet)], chunksize=8))
            failed = [a for a in answers if isinstance(a, str)]
            rows = [r for a in answers if not isinstance(a, str) for r in a]
            lines += ["", f"## {way}", "", f"{feet} feet: {what}. Not measured: {len(failed)}.", ""]
            lines += [f"- {f}" for f in failed[:5]]
            lines += ["| number | feet | bias | 95 % error | interval holds the truth |", "|---|---|---|---|---|"]
            for name in dict.fromkeys(r[0] for r in rows):
                apart = np.array([r[1] for r in rows if r[0] == name])
                held = np.mean([r[2] for r in rows if r[0] == name])
                if name == "side right":
                    lines.append(f"| which foot | {len(apart)} | | | {held:.1%} right |")
                    continue
                digits = 4 if name.endswith("index") else 2
                error = np.quantile(np.abs(apart), 0.95)
                lines.append(
                    f"| {name} | {len(apart)} | {apart.mean():+.{digits}f} | {error:.{digits}f} | {held:.1%} |"
                )
    return lines


def _median_s(work: Callable[[], object], repeats: int = 5) -> float:
    work()
    taken = []
    for _ in range(repeats):
        began = time.perf_counter()
        work()
        taken.append(time.perf_counter() - began)
    return statistics.median(taken)


def _peak_mb(path: str) -> float:
    data = Path(path).read_bytes()
    measure_scan(read_mesh(data))
    return _idle_mb(path)


def _idle_mb(_: str) -> float:
    """Highest resident memory of this process so far, MB."""
    lines = Path("/proc/self/status").read_text(encoding="utf-8").splitlines()
    return next(int(line.split()[1]) for line in lines if line.startswith("VmHWM")) / 1024


def speed() -> list[str]:
    """A scan of 200,000 triangles: everything, against trimesh cutting the same planes alone."""
    dims = sample_pair(3)[1]
    whole = surface(dims, 186_000)
    one = merged(Surface(whole.vertices, whole.faces))
    rng = np.random.default_rng(0)
    turn = Rotation.random(rng=rng).as_matrix()
    noisy = (one.vertices + rng.normal(0, 0.12, one.vertices.shape)) @ turn.T
    data = stl_bytes(type(whole)(noisy, one.faces))
    path = ROOT / "var" / "bench-scan.stl"
    path.parent.mkdir(exist_ok=True)
    path.write_bytes(data)
    read = read_mesh(data)
    ours = _median_s(lambda: measure_scan(read))
    reading = _median_s(lambda: read_mesh(data))
    mesh = trimesh.Trimesh(one.vertices, one.faces, process=False)
    length = float(one.vertices[:, 0].max())
    shares = [HEEL_AT, INSTEP_AT, TOE_HEIGHT_AT, TOE_EDGE_AT, *PROFILE_AT]
    planes = [(np.array([s * length + 0.01, 0, 0]), np.array([1.0, 0, 0])) for s in shares]
    planes.append(ball_plane(find_ball(one.vertices, length, 0.2 * length)))

    def theirs() -> None:
        for origin, normal in planes:
            mesh.section(plane_normal=normal, plane_origin=origin)

    base = _median_s(theirs)
    with ProcessPoolExecutor(1, mp_context=get_context("spawn"), max_tasks_per_child=1) as pool:
        peak = pool.submit(_peak_mb, str(path)).result()
        idle = pool.submit(_idle_mb, "").result()
    path.unlink()
    return [
        "", "## Speed and memory", "",
        f"One scan of {len(one.faces):,} triangles (binary STL, {len(data) / 1e6:.0f} MB), medians of five, one run:", "",
        f"- trimesh cutting the same {len(planes)} planes alone (the baseline): {base:.2f} s",
        f"- all measurements: {ours:.2f} s, {ours / base:.2f} × the baseline (limits: 1.0 s and 1.5 ×)",
        f"- reading the file besides: {reading:.2f} s",
        f"- memory peak of a process that reads and measures it: {peak:.0f} MB, of which {idle:.0f} MB are the libraries",
    ]  # fmt: skip


HEAD = """# How true and how fast the feet are

Written by `./kalon bench feet`; every foot is made up and its true dimensions are known. Error is measured less true.
The limits on clean scans: 1.0 mm in length and widths, 2.0 mm in girths; tracings up to 35° aside: 1.5 mm in length,
2.0 mm in width; arch index 0.01; stated intervals must hold the truth at least 90 times in 100."""


def main() -> None:
    """Both tables, printed and written."""
    parser = argparse.ArgumentParser()
    parser.add_argument("--feet", type=int, default=200)
    args = parser.parse_args()
    text = "\n".join([HEAD, *speed(), *accuracy(args.feet)]) + "\n"
    (ROOT / "docs" / "accuracy.md").write_text(text, encoding="utf-8")
    print(text)


if __name__ == "__main__":
    main()
