"""Feet written out and read back: JSON and CSV of every number, SVG of the outline. Columns are documented here.

CSV: side, measure, value, uncertainty (half the 95 % interval), unit, source. JSON: the same by side, with toe shape
and outline. SVG: the outline in millimetres as a polygon with the class `outline` and the attribute `data-side`.
"""

from __future__ import annotations

import csv
import io
import json
import re
from typing import Any
from xml.etree.ElementTree import Element, SubElement, tostring

from defusedxml import ElementTree
from defusedxml.common import DefusedXmlException
from pydantic import Field, ValidationError

from ..core.contract import SIDES, Contract, Side
from ..core.errors import BadInput
from ..core.feet.combine import FeetFound
from ..core.feet.gauge import ToeShape
from ..core.feet.measures import NUMBERS, TWO_SIDED_95, Number, Reading, Source
from .reading import _text, bad

FORMAT = "kalon-feet-1"
COLUMNS = ("side", "measure", "value", "uncertainty", "unit", "source")


class RecordNumber(Contract):
    """A number as written out."""

    value: float = Field(ge=-1000, le=1000)
    uncertainty: float = Field(gt=0, le=200)
    unit: str = ""
    source: Source = "record"


class RecordFoot(Contract):
    """One foot as written out."""

    numbers: dict[str, RecordNumber]
    toe_shape: ToeShape | None = None
    bunion: bool = False
    outline: list[tuple[float, float]] = Field([], max_length=3000)


class Record(Contract):
    """Both feet as written out."""

    format: str
    measured_on: str = ""
    feet: dict[Side, RecordFoot]


def record_of(found: FeetFound, outlines: dict[Side, list[tuple[float, float]]], measured_on: str) -> Record:
    """What is written out: the numbers that count, standing."""
    feet: dict[Side, RecordFoot] = {}
    for side in SIDES:
        foot = getattr(found, side)
        numbers = {
            n: RecordNumber(value=f.value, uncertainty=f.uncertainty, unit=NUMBERS[n][1], source=f.source)
            for n, f in foot.numbers.items()
        }
        feet[side] = RecordFoot(
            numbers=numbers, toe_shape=foot.toe_shape, bunion=foot.bunion, outline=outlines.get(side, [])
        )
    return Record(format=FORMAT, measured_on=measured_on, feet=feet)


def as_json(record: Record) -> str:
    """As JSON."""
    return record.model_dump_json(indent=1)


def as_csv(record: Record) -> str:
    """As CSV."""
    out = io.StringIO()
    write = csv.writer(out, lineterminator="\n")
    write.writerow(COLUMNS)
    for side, foot in record.feet.items():
        for name, n in foot.numbers.items():
            write.writerow([side, name, repr(n.value), repr(n.uncertainty), n.unit, n.source])
    return out.getvalue()


def as_svg(record: Record) -> str:
    """The outlines side by side in millimetres; y runs down the page, toes up."""
    root = Element(
        "svg", xmlns="http://www.w3.org/2000/svg", width="300mm", height="340mm", viewBox="-150 -320 300 340"
    )
    for side, foot in record.feet.items():
        if not foot.outline:
            continue
        group = SubElement(root, "g", transform=f"translate({-75 if side == 'left' else 75} 0)")
        sign = -1 if side == "right" else 1
        points = " ".join(f"{sign * y:.2f},{-x:.2f}" for x, y in foot.outline)
        attributes = {"class": "outline", "data-side": side, "points": points, "fill": "none", "stroke": "black",
                      "stroke-width": "0.5"}  # fmt: skip
        SubElement(group, "polygon", attributes)
        label = SubElement(group, "text", {"x": "0", "y": "14", "font-size": "7", "text-anchor": "middle"})
        label.text = side
    return tostring(root, encoding="unicode")


def read_record(data: bytes) -> Record:
    """A record from JSON, CSV or SVG. Raises `BadInput` with the line or field that is wrong."""
    text = _text(data, "file").lstrip()
    if text.startswith("<"):
        return _from_svg(text)
    if text.startswith("side,"):
        return _from_csv(text)
    try:
        given = json.loads(text)
    except (ValueError, RecursionError) as error:
        raise bad("json", f"The JSON can't be read: {error}.") from None
    if not isinstance(given, dict) or given.get("format") != FORMAT:
        raise bad("json", f"This JSON is no record of feet: its format must be “{FORMAT}”.")
    return _checked(given)


def _checked(given: dict[str, Any]) -> Record:
    try:
        record = Record.model_validate(given)
    except ValidationError as error:
        first = error.errors()[0]
        where = ".".join(map(str, first["loc"]))
        raise bad("record", f"{where}: {first['msg']}.") from None
    unknown = {n for foot in record.feet.values() for n in foot.numbers} - set(NUMBERS)
    if unknown:
        raise bad("record", f"There is no measure called {sorted(unknown)[0]}. There are: {', '.join(NUMBERS)}.")
    return record


def _from_csv(text: str) -> Record:
    try:
        rows = list(csv.DictReader(io.StringIO(text)))
    except csv.Error:
        raise bad("damaged", "The CSV has a cell no record holds: it is damaged.") from None
    if not rows or any(c not in rows[0] for c in COLUMNS[:4]):
        raise bad("columns", f"The columns must be {', '.join(COLUMNS)}.")
    feet: dict[str, dict[str, Any]] = {}
    for number, row in enumerate(rows, 2):
        try:
            entry = {"value": float(row["value"]), "uncertainty": float(row["uncertainty"]), "unit": row["unit"] or "",
                     "source": row["source"] or "record"}  # fmt: skip
        except (TypeError, ValueError):
            raise bad("number", f"Line {number}: value and uncertainty must be numbers.") from None
        if row["side"] not in SIDES:
            raise bad("side", f"Line {number}: side must be left or right.")
        feet.setdefault(row["side"], {"numbers": {}})["numbers"][row["measure"]] = entry
    return _checked({"format": FORMAT, "feet": feet})


def _from_svg(text: str) -> Record:
    try:
        root = ElementTree.fromstring(text)
    except (ElementTree.ParseError, DefusedXmlException, ValueError) as error:
        raise bad("svg", f"The SVG can't be read ({type(error).__name__}).") from None
    feet: dict[str, dict[str, Any]] = {}
    for shape in root.iter("{http://www.w3.org/2000/svg}polygon"):
        side = shape.get("data-side", "")
        if shape.get("class") != "outline" or side not in SIDES:
            continue
        numbers = [float(n) for n in re.findall(r"-?\d+(?:\.\d+)?", shape.get("points", ""))[:6000]]
        sign = -1 if side == "right" else 1
        outline = [(-y, sign * x) for x, y in zip(numbers[::2], numbers[1::2], strict=False)]
        feet[side] = {"numbers": {}, "outline": outline}
    if not feet:
        raise bad("svg", "The SVG holds no outline written by Kalon (a polygon with class “outline”).")
    return _checked({"format": FORMAT, "feet": feet})


def readings_of(record: Record) -> dict[Side, tuple[Reading, list[tuple[float, float]]]]:
    """Readings per side, and the outlines that came along; an outline without numbers is measured."""
    from ..core.feet.outline import measure_outline

    found: dict[Side, tuple[Reading, list[tuple[float, float]]]] = {}
    for side, foot in record.feet.items():
        if not foot.numbers and foot.outline:
            import numpy as np

            sign = 1.0 if side == "right" else -1.0
            points = np.array(foot.outline, dtype=float) * np.array([1.0, sign])
            _, reading = measure_outline(points, side=side, off_mm=0.0, off_sigma_mm=0.2, source="record")
        else:
            numbers = {n: Number(value=v.value, sigma=v.uncertainty / TWO_SIDED_95) for n, v in foot.numbers.items()}
            reading = Reading(
                source="record", side=side, numbers=numbers, toe_shape=foot.toe_shape, bunion=foot.bunion or None
            )
        found[side] = (reading, foot.outline)
    if not found:
        raise BadInput("The record holds no foot.", code="file-empty")
    return found
