"""The core and the devices without a bench: `calc`, `measure`, `measure-shoe`, `simulate`."""

from __future__ import annotations

import argparse
import json
import sys
from pathlib import Path

from .common import Add


def calc(args: argparse.Namespace) -> None:
    """Run a computation on the JSON of standard input."""
    from ..core.calc import TABLE, call
    from ..core.errors import BadInput

    if args.list or not args.name:
        for c in TABLE.values():
            print(f"{c.name:16} {c.summary}")
        return
    try:
        given = json.loads(sys.stdin.buffer.read())
    except (ValueError, RecursionError) as error:
        raise BadInput(f"Standard input is not JSON: {error}", code="not-json") from None
    print(json.dumps(call(args.name, given), ensure_ascii=False))


def measure(args: argparse.Namespace) -> None:
    """Measure a file: a scan, a photograph, a mat's CSV, a record, or the JSON of gauge numbers."""
    from ..core.errors import BadInput
    from ..core.feet.combine import Captured, FootMeasureOut, foot_measure, foot_measures
    from ..core.feet.gauge import Feet
    from ..core.feet.said import Said
    from ..files.captures import measure as measure_file

    try:
        data = args.file.read_bytes()
    except OSError as error:
        raise BadInput(f"{args.file} can't be read: {error.strerror}.", code="no-file") from None
    given = {"side": args.side, "unit": args.unit, "paper": args.paper, "cell_mm": args.cell_mm, "stance": args.stance}
    said = Said.model_validate({k: v for k, v in given.items() if v is not None})
    results: list[FootMeasureOut]
    if data[:1] == b"{" and b'"foot"' in data[:4000]:
        from ..core.calc import TABLE
        from ..core.errors import read

        results = [foot_measure(read(TABLE["foot-measure"].takes, json.loads(data)))]  # type: ignore[arg-type]
    else:
        found = measure_file(data, args.file.name, said)
        results = [foot_measures(m.reading.side, Feet(), [Captured(id="file", reading=m.reading)]) for m in found]
    out = [r.model_dump(mode="json", exclude_none=True) for r in results]
    print(json.dumps(out[0] if len(out) == 1 else out, ensure_ascii=False))


def simulate(args: argparse.Namespace) -> None:
    """Write practice files of a made-up pair of feet, and what is true of them."""
    from dataclasses import asdict

    from ..devices.practice import make

    args.into.mkdir(parents=True, exist_ok=True)
    for side in ("left", "right") if args.side == "both" else (args.side,):
        data, dims = make(args.form, args.seed, side)
        file = args.into / f"foot-{args.seed}-{side}.{args.form}"
        file.write_bytes(data)
        truth = {**asdict(dims), "arch_height_index": dims.arch_height_index, "heel_to_ball_mm": dims.heel_to_ball_mm}
        file.with_suffix(".truth.json").write_text(json.dumps(truth, indent=1) + "\n", encoding="utf-8")
        print(file)


SHOE_SAYS = {
    "paper": None, "thick_mm": "how thick the insole is", "stud_mm": "how tall the studs stand",
    "sole_mm": "how long the sole is, by rule", "wide_mm": "how wide the sole is at the ball",
    "upper_heel_mm": "how wide the upper is at the heel",
}  # fmt: skip
"""What may be said of a shoe's picture, and in which words it is asked for."""


def measure_shoe(args: argparse.Namespace) -> None:
    """Measure the picture of an insole on paper, or of a sole or a side over a hung sheet."""
    from ..core.errors import BadInput, read
    from ..files.shoes import ShoeSaid
    from ..files.shoes import measure_shoe as measured

    try:
        data = args.file.read_bytes()
    except OSError as error:
        raise BadInput(f"{args.file} can't be read: {error.strerror}.", code="no-file") from None
    said = read(ShoeSaid, {k: v for k in SHOE_SAYS if (v := getattr(args, k)) is not None})
    print(measured(data, said, way=args.way).reading.model_dump_json(indent=1))


def simulate_shoe(args: argparse.Namespace) -> None:
    """Write a practice picture of a made-up shoe, and what is true of it."""
    from ..devices.shoe_pictures import practice_picture

    args.into.mkdir(parents=True, exist_ok=True)
    file = args.into / f"shoe-{args.seed}-{args.form}.png"
    data, truth = practice_picture(
        args.form, args.seed, kind=args.kind, tilt_deg=args.tilt,
        studs_worn_mm=args.studs_worn, hook_lost_deg=args.hook_lost,
    )  # fmt: skip
    file.write_bytes(data)
    file.with_suffix(".truth.json").write_text(json.dumps(truth, indent=1) + "\n", encoding="utf-8")
    print(file)


def add(add: Add) -> None:
    """What they take on the command line."""
    p = add("calc", help="run a named computation: JSON in, JSON out")
    p.add_argument("name", nargs="?")
    p.add_argument("--list", action="store_true")
    p.set_defaults(run=calc)
    p = add("measure", help="measure a scan, photograph, mat CSV or record: JSON out")
    p.add_argument("file", type=Path)
    p.add_argument("--side", choices=["left", "right"])
    p.add_argument("--unit", choices=["mm", "cm", "m", "inch"])
    p.add_argument("--paper", choices=["a4", "letter"])
    p.add_argument("--cell-mm", type=float)
    p.add_argument("--stance", choices=["standing", "sitting"])
    p.set_defaults(run=measure)
    p = add("measure-shoe", help="measure the picture of an insole, a sole or a side: JSON out")
    p.add_argument("file", type=Path)
    p.add_argument("--as", dest="way", choices=["insole", "sole", "side"], default="insole")
    p.add_argument("--paper", choices=["a4", "letter"])
    for name, words in SHOE_SAYS.items():
        if words:
            p.add_argument(f"--{name.replace('_', '-')}", type=float, help=words)
    p.set_defaults(run=measure_shoe)
    made = add("simulate", help="practice devices: simulate foot, simulate shoe").add_subparsers(
        dest="what", required=True
    )
    p = made.add_parser("shoe", help="write a practice picture of a made-up shoe")
    p.add_argument("--seed", type=int, default=1)
    p.add_argument("--as", dest="form", choices=["insole", "sole", "side"], default="insole")
    p.add_argument(
        "--kind", choices=["flat", "studded", "hooked"], help="of a sole or a side; the seed's own if not said"
    )
    p.add_argument("--tilt", type=float, metavar="DEG", help="how far from square the picture is taken, to 25°")
    p.add_argument("--studs-worn", type=float, default=0.0, metavar="MM", help="how far its studs are worn down")
    p.add_argument("--hook-lost", type=float, default=0.0, metavar="DEG", help="how much of its downturn is gone")
    p.add_argument("--into", type=Path, default=Path())
    p.set_defaults(run=simulate_shoe)
    p = made.add_parser("foot", help="write practice files of a made-up pair of feet")
    p.add_argument("--seed", type=int, default=1)
    p.add_argument("--as", dest="form", choices=["stl", "png", "csv"], default="stl")
    p.add_argument("--side", choices=["left", "right", "both"], default="both")
    p.add_argument("--into", type=Path, default=Path())
    p.set_defaults(run=simulate)
