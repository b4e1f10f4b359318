"""From a file's bytes to arrays. Whatever is wrong becomes a `BadInput` that names it and says what to do."""

from __future__ import annotations

import csv
import io
import re
import warnings
from dataclasses import dataclass
from pathlib import Path
from typing import Literal

import numpy as np
from numpy.typing import NDArray
from pi_heif import register_heif_opener
from PIL import Image, ImageOps, UnidentifiedImageError

from ..core.errors import BadInput
from ..core.feet.surface import Surface, merged

Kind = Literal["scan", "tracing", "mat", "record"]
Floats = NDArray[np.float64]

MOST_TRIANGLES = 500_000
MOST_VERTICES = 1_500_000
PICTURE_BYTES, MESH_BYTES, MAT_BYTES, RECORD_BYTES = 25_000_000, 160_000_000, 25_000_000, 2_000_000
MOST_PIXELS = 60_000_000
register_heif_opener(thumbnails=False)
LONGEST_SIDE = 2400
"""Pictures are worked on and kept at this size."""
MOST_FRAMES, MOST_CELLS = 2000, 4_000_000

ARCHIVES = {b"PK\x03\x04": "zip", b"\x1f\x8b": "gzip", b"7z\xbc\xaf": "7-zip", b"Rar!": "rar", b"BZh": "bzip2",
            b"\xfd7zXZ": "xz"}  # fmt: skip
FOREIGN = {b"%PDF": "a PDF", b"GIF8": "a GIF picture", b"RIFF": "a WebP picture or sound", b"BM": "a BMP picture",
           b"II*\x00": "a TIFF picture", b"MM\x00*": "a TIFF picture", b"\x00\x00\x00": "a video or HEIC picture",
           b"\x7fELF": "a program", b"MZ": "a program", b"glTF": "a glTF scene"}  # fmt: skip


def bad(code: str, text: str) -> BadInput:
    """A problem with a file."""
    return BadInput(text, code=f"file-{code}")


def limit_of(kind: Kind) -> int:
    """The most bytes a file of a kind may have."""
    return {"scan": MESH_BYTES, "tracing": PICTURE_BYTES, "mat": MAT_BYTES, "record": RECORD_BYTES}[kind]


HEIC_BRANDS = (b"heic", b"heix", b"heim", b"heis", b"mif1")


def is_heic(head: bytes) -> bool:
    """Whether a file is a telephone's picture in the container of ISO/IEC 23008-12, by its brand."""
    return head[4:8] == b"ftyp" and head[8:12] in HEIC_BRANDS


def is_picture(head: bytes) -> bool:
    """Whether a file begins as a JPEG, PNG or HEIC picture does."""
    return head.startswith((b"\xff\xd8\xff", b"\x89PNG\r\n\x1a\n")) or is_heic(head)


def kind_of(head: bytes, size: int, name: str = "") -> Kind:
    """What a file is by its first bytes (and, for text, its name). Raises `BadInput` for anything else."""
    if size == 0:
        raise bad("empty", "The file is empty.")
    for magic, what in ARCHIVES.items():
        if head.startswith(magic):
            raise bad("archive", f"This is a {what} archive. Unpack it and bring the scan or picture inside.")
    if is_picture(head):
        return "tracing"
    if head.startswith((b"ply\n", b"ply\r")):
        return "scan"
    start = head.lstrip()[:400]
    if start.startswith(b"solid") or (len(head) >= 84 and size == 84 + 50 * int.from_bytes(head[80:84], "little")):
        return "scan"
    if not head.startswith(b"\x00\x00\x00\x00"):
        for magic, what in FOREIGN.items():
            if head.startswith(magic):
                raise bad(
                    "type",
                    f"This is {what}. Bring a scan (STL, PLY, OBJ), a JPEG, PNG or HEIC picture, or a mat's CSV.",
                )
    suffix = Path(name).suffix.lower()
    if b"\x00" in head[:2000]:
        if suffix in (".stl", ".ply", ".obj"):
            return "scan"
        raise bad("type", "No scan, picture or CSV can be made out in this file. Is it whole?")
    if start[:1] in b"{[":
        return "record"
    if start.startswith((b"<?xml", b"<svg")):
        return "record"
    if start.startswith(b"side,measure") or start.startswith(b"\xef\xbb\xbfside,measure"):
        return "record"
    if suffix == ".obj" or re.search(rb"(?m)^(v|vn|f|o|g|mtllib|usemtl) \S", head[:4000]):
        return "scan"
    if suffix in (".stl", ".ply"):
        return "scan"
    if suffix in (".csv", ".txt", "") and start:
        return "mat"
    raise bad(
        "type", "This kind of file can't be read. Bring a scan (STL, PLY, OBJ), a JPEG, PNG or HEIC, or a mat's CSV."
    )


def _text(data: bytes, what: str) -> str:
    try:
        return data.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        raise bad(
            "encoding", f"The {what} isn't UTF-8 text (byte {error.start + 1} can't be read). Save it as UTF-8."
        ) from None


# --- scans


def _mesh_type(data: bytes, name: str) -> Literal["stl", "stl_ascii", "ply", "obj"]:
    if data.startswith(b"ply"):
        return "ply"
    if len(data) >= 84 and len(data) == 84 + 50 * int.from_bytes(data[80:84], "little"):
        return "stl"
    suffix = Path(name).suffix.lower()
    if data.lstrip()[:5] == b"solid" and b"facet" in data[:4000]:
        return "stl_ascii"
    if suffix == ".stl" or (b"\x00" in data[:2000] and suffix != ".obj"):
        return "stl"
    return "obj"


def _check_stl(data: bytes) -> None:
    if len(data) < 84:
        raise bad("short", "The STL file is cut short: it ends inside its header.")
    count = int.from_bytes(data[80:84], "little")
    if count > MOST_TRIANGLES:
        raise bad("large", f"The STL file says it holds {count:,} triangles; at most {MOST_TRIANGLES:,} are read. "
                  "Thin it out in the scanner's program.")  # fmt: skip
    if len(data) != 84 + 50 * count:
        raise bad("short", f"The STL file says {count:,} triangles, which is {84 + 50 * count:,} bytes, but has "
                  f"{len(data):,}: it is cut short or damaged. Export it again.")  # fmt: skip
    if count == 0:
        raise bad("empty", "The STL file holds no triangles.")


def _check_ply(data: bytes) -> None:
    end = data.find(b"end_header", 0, 65_536)
    if end < 0:
        raise bad("header", "The PLY file's header has no end: it is cut short or damaged. Export it again.")
    header = _text(data[:end], "PLY header")
    found = re.search(r"format\s+(ascii|binary_little_endian|binary_big_endian)\s+1\.0", header)
    if not found:
        raise bad("header", "The PLY header names no format that is read (ascii or binary, 1.0).")
    counts = {n: int(c[:18]) for n, c in re.findall(r"element\s+(\w+)\s+(\d+)", header)}
    if not counts.get("vertex") or not counts.get("face"):
        raise bad("empty", "The PLY file holds no triangles: points alone can't be measured. Export the surface.")
    if counts["face"] > MOST_TRIANGLES or counts["vertex"] > MOST_VERTICES:
        raise bad("large", f"The PLY header says {counts['face']:,} faces and {counts['vertex']:,} corners; at most "
                  f"{MOST_TRIANGLES:,} and {MOST_VERTICES:,} are read. Thin it out.")  # fmt: skip
    if found[1] == "ascii":
        lines = data[end:].count(b"\n") - 1 + (not data.endswith(b"\n"))
        if lines < counts["vertex"] + counts["face"]:
            raise bad("short", f"The PLY text has {lines:,} lines, fewer than its header says: it is cut short.")
    least = counts["vertex"] * (6 if found[1] == "ascii" else 12) + counts["face"] * (7 if found[1] == "ascii" else 9)
    if len(data) - end < least:
        raise bad("short", f"The PLY header says {counts['vertex']:,} corners and {counts['face']:,} faces, more than "
                  "the file holds: it is cut short. Export it again.")  # fmt: skip


def _check_text_mesh(data: bytes, what: str, corner: bytes, face: bytes) -> None:
    _text(data, what)
    faces = data.count(face) + data.startswith(face.lstrip(b"\n"))
    if faces > MOST_TRIANGLES:
        raise bad("large", f"The {what} holds {faces:,} faces; at most {MOST_TRIANGLES:,} are read. Thin it out.")
    if data.count(corner) > 3 * MOST_VERTICES:
        raise bad("large", f"The {what} holds too many corners. Thin it out.")
    if faces == 0:
        raise bad("empty", f"The {what} holds no faces: there is no surface to measure.")


def _check_stl_text(data: bytes) -> None:
    _check_text_mesh(data, "STL text", b"vertex", b"facet normal")
    if b"endsolid" not in data[-400:]:
        raise bad("short", "The STL text has no end (endsolid): it is cut short. Export it again.")
    if data.count(b"vertex") != 3 * data.count(b"facet normal"):
        raise bad("damaged", "The STL text has facets without three corners: it is damaged. Export it again.")


def _check_obj(data: bytes) -> None:
    _check_text_mesh(data, "OBJ file", b"\nv ", b"\nf ")
    corners = data.count(b"\nv ") + data.startswith(b"v ")
    largest = max((int(n) for n in re.findall(rb"(?m)^f (\d{1,9})", data)), default=0)
    if largest > corners:
        raise bad("damaged", f"The OBJ file's faces speak of corner {largest:,}, but it has {corners:,}: it is cut "
                  "short or damaged.")  # fmt: skip
    last = data.rstrip().rsplit(b"\n", 1)[-1]
    if last.split()[:1] in ([b"f"], [b"v"]) and len(last.split()) < 4:
        raise bad("short", "The OBJ file ends in the middle of a line: it is cut short. Export it again.")


STL_TRIANGLE = np.dtype([("normal", "<f4", 3), ("corners", "<f4", (3, 3)), ("attribute", "<u2")])
OBJ_GROUPS = re.compile(rb"(?m)^(?:g|o|s|usemtl|mtllib)(?:[ \t][^\n]*)?\n?")
"""Lines that part an OBJ into groups and materials, which a foot has none of; thousands take a reader minutes."""


def _stl(data: bytes) -> tuple[NDArray[np.float64], NDArray[np.int64]]:
    """Corners (3n, 3) and faces (n, 3) of a binary STL whose length was checked."""
    triangles = np.frombuffer(data, dtype=STL_TRIANGLE, offset=84)
    corners = triangles["corners"].reshape(-1, 3).astype(np.float64)
    return corners, np.arange(len(corners), dtype=np.int64).reshape(-1, 3)


def _by_trimesh(data: bytes, kind: str) -> tuple[NDArray[np.float64], NDArray[np.int64]]:
    """Corners (n, 3) and faces (m, 3) of any other mesh file."""
    import trimesh

    plain = OBJ_GROUPS.sub(b"", data) if kind == "obj" else data
    mesh = trimesh.load_mesh(io.BytesIO(plain), file_type=kind, process=False, skip_materials=True)
    return np.asarray(mesh.vertices, dtype=np.float64).reshape(-1, 3), np.asarray(mesh.faces, dtype=np.int64).reshape(
        -1, 3
    )


def read_mesh(data: bytes, name: str = "") -> Surface:
    """The triangles of an STL (binary or text), PLY or OBJ file in the file's own unit, equal corners made one."""
    if not data:
        raise bad("empty", "The file is empty.")
    found = _mesh_type(data, name)
    {"stl": _check_stl, "stl_ascii": _check_stl_text, "ply": _check_ply, "obj": _check_obj}[found](data)
    try:
        with warnings.catch_warnings(), np.errstate(all="ignore"):
            warnings.simplefilter("ignore")
            vertices, faces = _stl(data) if found == "stl" else _by_trimesh(data, found)
    except (MemoryError, RecursionError):
        raise bad("large", "The scan is too large to be read here. Thin it out.") from None
    except Exception as error:  # whatever the reader stumbles over, the file is at fault
        raise bad("damaged", f"The {found[:3].upper()} file can't be read ({type(error).__name__}): it is cut short or "
                  "damaged. Export it again.") from None  # fmt: skip
    if not len(faces):
        raise bad("empty", "The file holds no triangles: there is no surface to measure.")
    if len(faces) > MOST_TRIANGLES:
        raise bad(
            "large", f"The scan holds {len(faces):,} triangles; at most {MOST_TRIANGLES:,} are read. Thin it out."
        )
    if faces.min() < 0 or faces.max() >= len(vertices):
        raise bad("damaged", "The scan's faces speak of corners it doesn't have: it is damaged. Export it again.")
    if not np.isfinite(vertices).all():
        raise bad("not-finite", "Some corners of the scan are not numbers (NaN or infinite). Export it again.")
    size = np.abs(vertices - np.median(vertices, axis=0)).max(axis=1)
    if float(size.max()) > 40 * float(np.quantile(size, 0.9)):
        raise bad("damaged", "Some corners lie far off all others: the scan is damaged. Clean or export it again.")
    return merged(Surface(vertices, faces))


# --- pictures


def read_picture(data: bytes) -> NDArray[np.uint8]:
    """A JPEG, PNG or HEIC picture in 8-bit red, green and blue (h, w, 3), turned as its camera noted.

    No side is longer than `LONGEST_SIDE`; what is clear is white.
    """
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("error", Image.DecompressionBombWarning)
            picture = Image.open(io.BytesIO(data), formats=("JPEG", "PNG", "HEIF"))
            width, height = picture.size
            if width * height > MOST_PIXELS:
                raise bad("large", f"The picture has {width * height / 1e6:.0f} million pixels; at most "
                          f"{MOST_PIXELS / 1e6:.0f} million are read. Make it smaller.")  # fmt: skip
            if min(width, height) < 300:
                raise bad("small", f"The picture is only {width} × {height} pixels: too coarse to measure on (at least "
                          "300).")  # fmt: skip
            if getattr(picture, "n_frames", 1) > 1:
                raise bad("animated", "This is a moving picture. Bring a single still one.")
            if picture.format == "JPEG":
                picture.draft("RGB", (LONGEST_SIDE, LONGEST_SIDE))
            picture.load()
            upright = ImageOps.exif_transpose(picture)
            if upright.mode in ("RGBA", "LA", "PA") or "transparency" in upright.info:
                whole = Image.new("RGBA", upright.size, "white")
                whole.alpha_composite(upright.convert("RGBA"))
                upright = whole
            if upright.mode.startswith("I"):
                upright = Image.fromarray((np.asarray(upright, dtype=np.float64) / 257).clip(0, 255).astype(np.uint8))
            plain = upright.convert("RGB")
    except BadInput:
        raise
    except (Image.DecompressionBombError, Image.DecompressionBombWarning, MemoryError):
        raise bad("large", "The picture would take more room than there is. Make it smaller.") from None
    except UnidentifiedImageError:
        raise bad("damaged", "The picture can't be read: it is damaged, or no JPEG, PNG or HEIC.") from None
    except Exception as error:  # whatever the decoder stumbles over, the file is at fault
        raise bad(
            "damaged", f"The picture can't be read ({type(error).__name__}): it is cut short or damaged."
        ) from None
    longest = max(plain.size)
    shrunk = min(1.0, LONGEST_SIDE / longest)
    if shrunk < 1:
        plain = plain.resize((round(plain.width * shrunk), round(plain.height * shrunk)), Image.Resampling.LANCZOS)
    return np.asarray(plain, dtype=np.uint8)


def jpeg(pixels: NDArray[np.uint8], quality: int = 88, *, whole_colour: bool = False) -> bytes:
    """A picture as JPEG; with `whole_colour` its colours as fine as its brightness, not of every second pixel."""
    out = io.BytesIO()
    Image.fromarray(pixels).save(out, "JPEG", quality=quality, **({"subsampling": 0} if whole_colour else {}))
    return out.getvalue()


# --- mats


@dataclass(frozen=True)
class Mat:
    """Frames (t, rows, columns) in kPa and the cell's width in mm, when the file says it."""

    frames: Floats
    cell_mm: float | None


MAT_HELP = "A mat's CSV has a line cell_mm,5 and then rows of numbers with commas between; a blank line ends a frame."


def read_mat(data: bytes) -> Mat:
    """A pressure mat's CSV: `cell_mm,5`, then frames of comma-separated kPa with a blank line between them."""
    text = _text(data, "CSV file")
    if "\x00" in text:
        raise bad("damaged", "The CSV file has zero bytes in it: it is damaged, or no CSV.")
    cell: float | None = None
    frames: list[list[list[float]]] = [[]]
    cells = 0
    for number, line in enumerate(text.splitlines(), 1):
        plain = line.strip()
        if not plain.strip(","):
            if frames[-1]:
                frames.append([])
            continue
        try:
            row = next(csv.reader([plain]))
        except csv.Error:
            raise bad("damaged", f"Line {number} has a cell no mat writes: it is damaged, or no CSV.") from None
        key = row[0].strip().lower()
        if re.fullmatch(r"[a-z_]+", key) and key not in ("nan", "inf"):
            if key == "cell_mm":
                cell = _number(row[1] if len(row) > 1 else "", number)
            elif key not in ("frame_ms", "unit", "side"):
                raise bad("header", f"Line {number} begins with “{key[:20]}”, which isn't known. {MAT_HELP}")
            continue
        if len(row) == 1 and re.search(r"[;\t|]|\d\s+\d", plain):
            raise bad("separator", f"Line {number} has no commas between its numbers. {MAT_HELP}")
        cells += len(row)
        if cells > MOST_CELLS or len(frames) > MOST_FRAMES:
            raise bad("large", f"More than {MOST_CELLS:,} cells or {MOST_FRAMES:,} frames: record a shorter step.")
        frames[-1].append([_number(c, number) for c in row])
    whole = [f for f in frames if f]
    if not whole:
        raise bad("empty", f"There is no frame in the CSV file. {MAT_HELP}")
    widths = {len(r) for f in whole for r in f}
    heights = {len(f) for f in whole}
    if len(widths) > 1:
        raise bad("ragged", f"Rows are of different lengths ({', '.join(map(str, sorted(widths)[:4]))} cells): the "
                  "file is damaged or cut short.")  # fmt: skip
    if len(heights) > 1:
        raise bad("ragged", "Frames have different numbers of rows: the file is damaged or cut short.")
    if min(widths) < 8 or min(heights) < 8:
        raise bad("small", f"A frame of {min(heights)} × {min(widths)} cells is too small for a print. {MAT_HELP}")
    if "." not in text and _decimal_commas(whole):
        raise bad("separator", f"The numbers seem to be written with decimal commas. Use a point. {MAT_HELP}")
    return Mat(np.array(whole, dtype=np.float64), cell)


def _decimal_commas(frames: list[list[list[float]]]) -> bool:
    """Whether every second cell is a single digit, as the tenths of numbers split at their decimal comma are."""
    cells = np.array(frames)
    tenths = cells[:, :, 1::2]
    return cells.shape[2] % 2 == 0 and bool((tenths < 10).all()) and float(cells.max()) >= 30


def _number(text: str, line: int) -> float:
    try:
        value = float(text) if text.strip() else 0.0
    except ValueError:
        raise bad("number", f"Line {line}: “{text.strip()[:20]}” is no number. {MAT_HELP}") from None
    if not np.isfinite(value):
        raise bad("not-finite", f"Line {line}: “{text.strip()[:20]}” is no pressure.")
    return value
