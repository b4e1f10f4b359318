"""Files of feet read and written: every format the same foot, every picture mode, every fault with its place."""

from __future__ import annotations

import io
import json

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import Image

from kalon.core.errors import BadInput, read
from kalon.core.feet.combine import Captured, combine
from kalon.core.feet.gauge import Feet
from kalon.core.feet.measures import NUMBERS, Number, Reading
from kalon.core.feet.said import Said
from kalon.core.feet.scan import measure_scan
from kalon.devices.foot import sample_pair
from kalon.devices.mat import record
from kalon.devices.practice import csv_bytes
from kalon.files.captures import measure, measure_again, sides_in
from kalon.files.reading import LONGEST_SIDE, kind_of, limit_of, read_mat, read_mesh, read_picture
from kalon.files.records import FORMAT, as_csv, as_json, as_svg, read_record, readings_of, record_of
from tests.spoilt import good

MESHES = ["scan.stl", "text.stl", "scan.ply", "text.ply", "scan.obj"]


@pytest.mark.parametrize("name", MESHES)
def test_every_mesh_format_is_the_same_foot(name: str) -> None:
    reference = measure_scan(read_mesh(good()["scan.ply"], "scan.ply"))[1].numbers
    surface = read_mesh(good()[name], name)
    found = measure_scan(surface)[1].numbers
    for number in ("length_mm", "ball_girth_mm", "instep_height_mm"):
        assert found[number].value == pytest.approx(reference[number].value, abs=0.3)
    assert len(surface.vertices) < 0.6 * len(surface.faces)  # equal corners are one


@pytest.mark.parametrize(
    ("head", "size", "name", "kind"),
    [
        (b"\xff\xd8\xff\xe0", 900, "a", "tracing"),
        (b"\x89PNG\r\n\x1a\n", 900, "a.stl", "tracing"),
        (b"ply\nformat ascii 1.0\n", 900, "", "scan"),
        (b"solid foot\nfacet normal 0 0 1\n", 900, "", "scan"),
        (b"x" * 80 + (2).to_bytes(4, "little") + bytes(100), 184, "", "scan"),
        (b"# made up\nv 1 2 3\n", 900, "foot.obj", "scan"),
        (b"o foot\nv 1 2 3\n", 900, "", "scan"),
        (b"cell_mm,5\n1,2,3\n", 900, "mat.csv", "mat"),
        (b'{"format": "x"}', 900, "", "record"),
        (b"side,measure,value,uncertainty,unit,source\n", 900, "feet.csv", "record"),
        (b"<svg xmlns='a'>", 900, "feet.svg", "record"),
    ],
)
def test_a_file_is_known_by_its_first_bytes(head: bytes, size: int, name: str, kind: str) -> None:
    assert kind_of(head, size, name) == kind


@pytest.mark.parametrize(
    ("head", "word"),
    [
        (b"", "empty"),
        (b"PK\x03\x04rest", "zip"),
        (b"\x1f\x8brest", "gzip"),
        (b"%PDF-1.7", "PDF"),
        (b"GIF89a", "GIF"),
        (b"\x01\x00\x02" * 100, "No scan"),
        (b"plain words", "can't be read"),
    ],
)
def test_what_is_nothing_of_ours_is_named(head: bytes, word: str) -> None:
    with pytest.raises(BadInput, match=word):
        kind_of(head, len(head), "thing.xyz")


def test_each_kind_has_its_own_limit() -> None:
    assert limit_of("tracing") == 25_000_000
    assert limit_of("scan") > limit_of("tracing") > limit_of("record")


def picture(mode: str) -> bytes:
    grey = np.tile(np.linspace(0, 255, 640, dtype=np.uint8), (480, 1))
    deep = mode == "I;16"
    image = Image.fromarray(grey.astype(np.uint16) * 257) if deep else Image.fromarray(grey).convert(mode)
    out = io.BytesIO()
    image.save(out, "JPEG" if mode == "CMYK" else "PNG")
    return out.getvalue()


@pytest.mark.parametrize("mode", ["L", "RGB", "RGBA", "LA", "P", "1", "I;16", "CMYK"])
def test_every_picture_mode_becomes_plain_colour(mode: str) -> None:
    found = read_picture(picture(mode))
    assert found.shape == (480, 640, 3)
    assert found.dtype == np.uint8
    assert float(found[:, -60:].mean()) > float(found[:, :60].mean()) + 150


def test_what_is_clear_in_a_picture_is_white_paper() -> None:
    out = io.BytesIO()
    Image.new("RGBA", (400, 400), (0, 0, 0, 0)).save(out, "PNG")
    assert read_picture(out.getvalue()).min() == 255


def test_large_pictures_are_worked_on_smaller() -> None:
    out = io.BytesIO()
    Image.new("L", (5000, 3000), 200).save(out, "PNG")
    found = read_picture(out.getvalue())
    assert max(found.shape) == LONGEST_SIDE
    assert found.shape[1] / found.shape[0] == pytest.approx(5 / 3, rel=0.002)


@pytest.mark.parametrize("turn", range(1, 9))
def test_a_picture_is_turned_as_its_camera_noted(turn: int) -> None:
    image = Image.new("RGB", (600, 400), "white")
    image.paste("black", (0, 0, 120, 80))
    exif = Image.Exif()
    exif[0x0112] = turn
    out = io.BytesIO()
    image.save(out, "JPEG", exif=exif)
    found = read_picture(out.getvalue())
    assert found.shape[:2] == ((400, 600) if turn < 5 else (600, 400))
    dark = np.argwhere(found[..., 0] < 60).mean(axis=0) / np.array(found.shape[:2])
    corner = {1: (0, 0), 2: (0, 1), 3: (1, 1), 4: (1, 0), 5: (0, 0), 6: (0, 1), 7: (1, 1), 8: (1, 0)}[turn]
    assert np.abs(dark - np.array(corner)).max() < 0.2


def test_a_mats_frames_are_read_as_written() -> None:
    made = record(sample_pair(2)[1], 2, frames=3)
    found = read_mat(csv_bytes(made))
    assert found.cell_mm == 5
    assert found.frames == pytest.approx(made.frames, abs=0.051)
    bare = csv_bytes(made).split(b"\n", 2)[2]
    assert read_mat(bare).cell_mm is None
    assert read_mat(b"\xef\xbb\xbf" + csv_bytes(made)).frames.shape == found.frames.shape
    assert read_mat(csv_bytes(made).replace(b"\n", b"\r\n")).frames.shape == found.frames.shape


@pytest.mark.parametrize(
    ("line", "text", "word"),
    [(5, b"1,2,x,4", "Line 5"), (5, b"1,2,nan,4", "Line 5"), (4, b"1;2;3", "Line 4"), (3, b"width,5", "Line 3")],
)
def test_a_fault_in_a_mats_file_is_named_by_its_line(line: int, text: bytes, word: str) -> None:
    lines = csv_bytes(record(sample_pair(2)[1], 2)).split(b"\n")
    lines[line - 1] = text
    with pytest.raises(BadInput, match=word):
        read_mat(b"\n".join(lines))


def test_the_cell_can_be_said_when_the_file_doesn_t() -> None:
    bare = csv_bytes(record(sample_pair(2)[1], 2)).split(b"\n", 2)[2]
    with pytest.raises(BadInput, match="how wide a cell"):
        measure(bare, "mat.csv", Said())
    found = measure(bare, "mat.csv", Said(cell_mm=5))[0]
    assert found.reading.numbers["arch_index"].value == pytest.approx(sample_pair(2)[1].arch_index, abs=0.01)


@pytest.mark.parametrize("name", ["scan.stl", "photo.png", "mat.csv"])
def test_the_kept_copy_measures_the_same_again(name: str) -> None:
    first = measure(good()[name], name, Said())[0]
    again = measure_again(first.kind, first.copy, Said())
    assert again.reading.side == first.reading.side
    for number, value in first.reading.numbers.items():
        assert again.reading.numbers[number].value == pytest.approx(value.value, abs=0.4, rel=0.01)
    assert again.copy == first.copy
    assert json.loads(json.dumps(first.shape)) == first.shape


def test_steps_are_told_in_order() -> None:
    told: list[tuple[float, str]] = []
    measure(good()["scan.stl"], "scan.stl", Said(), lambda share, step: told.append((share, step)))
    assert [s for s, _ in told] == sorted(s for s, _ in told)
    assert len({step for _, step in told}) >= 3


VALUES = {n: st.floats(0.15, 0.35) if n.endswith("index") else st.floats(30, 90) for n in NUMBERS}
SIZES = {
    "length_mm": (200, 300),
    "ball_girth_mm": (200, 280),
    "instep_girth_mm": (200, 280),
    "heel_to_ball_mm": (120, 220),
}


@settings(max_examples=40, deadline=None)
@given(data=st.data(), side=st.sampled_from(["left", "right"]), sigma=st.floats(0.1, 3))
def test_records_written_are_the_records_read(data: st.DataObject, side: str, sigma: float) -> None:
    numbers = {}
    for name, strategy in VALUES.items():
        low, high = SIZES.get(name, (0, 0))
        value = data.draw(st.floats(low, high) if high else strategy)
        if name in ("toe_height_mm", "first_toe_angle_deg", "ball_angle_deg"):
            value /= 4
        numbers[name] = Number(value=value, sigma=sigma)
    reading = Reading.model_validate({"source": "scan", "side": side, "numbers": numbers, "toe_shape": "square"})
    found = combine(Feet(), [Captured(id="a", reading=reading)])
    out = record_of(found, {}, "2026-11-24")
    for text in (as_json(out), as_csv(out)):
        back = readings_of(read_record(text.encode()))[side][0]  # type: ignore[index]
        assert set(back.numbers) == set(numbers)
        for name, number in numbers.items():
            assert back.numbers[name].value == pytest.approx(number.value, rel=1e-12)
            assert back.numbers[name].sigma == pytest.approx(number.sigma, rel=1e-9)


@pytest.mark.parametrize("side", ["left", "right"])
def test_an_outline_written_as_svg_is_measured_again(side: str) -> None:
    name = "scan.stl"
    first = measure(good()[name], name, Said(side=side))[0]  # type: ignore[arg-type]
    outline = [(x, y) for x, y in first.shape["outline"]]
    text = as_svg(record_of(combine(Feet(), []), {side: outline}, ""))  # type: ignore[dict-item]
    assert f'data-side="{side}"' in text
    again = measure(text.encode(), "feet.svg", Said())
    assert sides_in(again) == [side]
    assert again[0].reading.numbers["length_mm"].value == pytest.approx(
        first.reading.numbers["length_mm"].value, abs=1.2
    )


@pytest.mark.parametrize(
    ("text", "word"),
    [
        ('{"format": "other"}', "format"),
        (json.dumps({"format": FORMAT, "feet": {"middle": {"numbers": {}}}}), "feet"),
        (
            json.dumps({"format": FORMAT, "feet": {"left": {"numbers": {"size": {"value": 1, "uncertainty": 1}}}}}),
            "size",
        ),
        (json.dumps({"format": FORMAT, "feet": {"left": {"numbers": {"length_mm": {"value": 1}}}}}), "uncertainty"),
        ("side,measure,value\nleft,length_mm,260\n", "columns"),
        ("side,measure,value,uncertainty,unit,source\nleft,length_mm,260,often,mm,gauge\n", "Line 2"),
    ],
)
def test_a_record_that_is_none_says_where(text: str, word: str) -> None:
    with pytest.raises(BadInput, match=word):
        read_record(text.encode())


@pytest.mark.parametrize(
    ("given", "field"),
    [
        ({"unit": "furlong"}, "unit"),
        ({"corners": [[0, 0]]}, "corners"),
        ({"outline": [[0, 0]] * 5}, "outline"),
        ({"cell_mm": 0}, "cell_mm"),
        ({"up": [0, 0]}, "up"),
        ({"pick": 4}, "pick"),
        ({"pen_off_mm": 30}, "pen_off_mm"),
        ({"colour": "red"}, "colour"),
    ],
)
def test_what_can_t_be_said_is_refused_beside_its_field(given: dict[str, object], field: str) -> None:
    with pytest.raises(BadInput) as caught:
        read(Said, given)
    assert caught.value.fields[0].field.startswith(field)


def test_a_high_peak_is_said_where_it_is_seen() -> None:
    made = record(sample_pair(2)[1], 2)
    pressed = csv_bytes(type(made)(made.frames * 2.4, made.cell_mm, made.frame_ms))
    asked = measure(pressed, "mat.csv", Said())[0].reading.questions
    assert any("kPa at the" in q and "podiatrist" in q for q in asked)
    assert not measure(csv_bytes(made), "mat.csv", Said())[0].reading.questions
