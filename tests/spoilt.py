"""Files that are spoilt in a known way, made from good ones: name, bytes, and a word the problem must hold."""

from __future__ import annotations

import gzip
import io
import struct
import zipfile
import zlib
from collections.abc import Iterator
from functools import cache

import numpy as np
import trimesh
from PIL import Image

from kalon.core.feet.surface import Surface, merged
from kalon.devices.foot import sample_pair, surface
from kalon.devices.mat import record
from kalon.devices.paper import photograph
from kalon.devices.practice import csv_bytes, stl_bytes

Spoilt = tuple[str, bytes]

KINDS = ("mat.csv", "photo.jpg", "photo.png", "scan.obj", "scan.ply", "scan.stl", "text.ply", "text.stl")
"""Whole files there are, one of every kind that is read."""


@cache
def good() -> dict[str, bytes]:
    """One whole file of every kind."""
    dims = sample_pair(2)[1]
    mesh = surface(dims, 8_000)
    one = merged(Surface(mesh.vertices, mesh.faces))
    plain = trimesh.Trimesh(one.vertices, one.faces, process=False)
    shot = Image.fromarray(photograph(dims, 2, tilt_deg=10, width=900).picture)
    found = {"scan.stl": stl_bytes(type(mesh)(one.vertices, one.faces))}
    for name, form in (("text.stl", "stl_ascii"), ("scan.ply", "ply"), ("scan.obj", "obj")):
        out = plain.export(file_type=form)
        found[name] = out.encode() if isinstance(out, str) else out
    text = trimesh.exchange.ply.export_ply(plain, encoding="ascii")
    found["text.ply"] = text if isinstance(text, bytes) else text.encode()
    for name, form in (("photo.jpg", "JPEG"), ("photo.png", "PNG")):
        buffer = io.BytesIO()
        shot.save(buffer, form)
        found[name] = buffer.getvalue()
    found["mat.csv"] = csv_bytes(record(dims, 2, frames=2))
    assert sorted(found) == sorted(KINDS)
    return found


def _cut(files: dict[str, bytes]) -> Iterator[Spoilt]:
    for name, data in files.items():
        if name == "mat.csv":
            continue
        for share in (0.002, 0.02, 0.1, 0.25, 0.4, 0.55, 0.7, 0.85, 0.93, 0.97):
            short = data[: int(len(data) * share)]
            if name.endswith(".obj"):
                short = short[: short.rfind(b"\n") + 4]
            yield f"cut-{share}-{name}", short
    lines = files["mat.csv"].split(b"\n")
    for keep in (1, 2, 3, 5, 9):
        yield f"cut-{keep}-mat.csv", b"\n".join(lines[:keep])
    for drop in (3, 8, 20, 60):
        yield f"torn-{drop}-mat.csv", files["mat.csv"][: -1 - drop * 3]


def _flipped(files: dict[str, bytes]) -> Iterator[Spoilt]:
    for seed in range(24):
        rng = np.random.default_rng(seed)
        for name in ("scan.stl", "scan.ply", "photo.png", "photo.jpg"):
            data = bytearray(files[name])
            spots = rng.integers(200, len(data), 4000)
            for spot in spots:
                data[spot] ^= 1 << int(rng.integers(0, 8))
            if name == "photo.jpg":
                data[2:200] = bytes(rng.integers(0, 256, 198, dtype=np.uint8))
            yield f"flipped-{seed}-{name}", bytes(data)
    for seed in range(8):
        rng = np.random.default_rng(100 + seed)
        for name in ("text.stl", "text.ply", "scan.obj", "mat.csv"):
            data = bytearray(files[name])
            for spot in rng.integers(len(data) // 8, len(data), 400):
                data[spot] ^= 0x80
            yield f"flipped-{seed}-{name}", bytes(data)


def _wrong_type(files: dict[str, bytes]) -> Iterator[Spoilt]:
    rng = np.random.default_rng(0)
    starts = {
        "letter.pdf": b"%PDF-1.7\n", "film.gif": b"GIF89a", "sound.webp": b"RIFF\x10\0\0\0WEBP", "old.bmp": b"BM",
        "page.tif": b"II*\x00", "scan.glb": b"glTF\x02\0\0\0", "tool.exe": b"MZ\x90\0", "tool": b"\x7fELF\x02",
        "clip.heic": b"\x00\x00\x00\x18ftypheic",
    }  # fmt: skip
    for name, start in starts.items():
        yield name, start + bytes(rng.integers(0, 256, 4000, dtype=np.uint8))
    yield "words.stl", b"Dear fitter, here are my feet."
    yield "words.obj", b"# nothing here\n"
    yield "words.csv", "Länge;Breite\n262;101\n".encode("latin-1")
    yield "page.html", b"<!doctype html><html><body>feet</body></html>"
    yield "other.json", b'{"feet": 2}'
    yield "broken.json", b'{"format": "kalon-feet-1", "feet": '
    yield "deep.json", b"[" * 100_000
    yield (
        "bomb.svg",
        (
            b'<?xml version="1.0"?><!DOCTYPE s [<!ENTITY a "aaaaaaaaaa"><!ENTITY b "&a;&a;&a;&a;&a;&a;&a;&a;">]>'
            b"<svg xmlns='http://www.w3.org/2000/svg'>&b;</svg>"
        ),
    )
    yield "empty.svg", b"<svg xmlns='http://www.w3.org/2000/svg'></svg>"
    for size in (1, 50, 83, 84, 500, 5000):
        yield f"noise-{size}.stl", bytes(rng.integers(0, 256, size, dtype=np.uint8))
        yield f"noise-{size}.ply", b"ply\n" + bytes(rng.integers(0, 256, size, dtype=np.uint8))
    for name in ("a.stl", "a.ply", "a.obj", "a.png", "a.csv", "a"):
        yield f"empty-{name}", b""
    for name, other in (("scan.stl", "png"), ("photo.png", "stl")):
        yield f"zeros.{other}", bytes(len(files[name]))


def _bombs() -> Iterator[Spoilt]:
    packed = io.BytesIO()
    with zipfile.ZipFile(packed, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr("scan.stl", bytes(60_000_000))
    yield "bomb.zip", packed.getvalue()
    yield "bomb.stl.gz", gzip.compress(bytes(30_000_000))
    for name, magic in (("a.7z", b"7z\xbc\xaf'\x1c"), ("a.rar", b"Rar!\x1a\x07"), ("a.xz", b"\xfd7zXZ\x00")):
        yield name, magic + bytes(400)
    for side in (20_000, 60_000, 100_000):
        head = struct.pack(">IIBBBBB", side, side, 8, 2, 0, 0, 0)
        chunk = lambda kind, body: (  # noqa: E731
            struct.pack(">I", len(body)) + kind + body + struct.pack(">I", zlib.crc32(kind + body))
        )
        rows = zlib.compress(bytes(3_000_000))
        png = b"\x89PNG\r\n\x1a\n" + chunk(b"IHDR", head) + chunk(b"IDAT", rows) + chunk(b"IEND", b"")
        yield f"bomb-{side}.png", png


def _headers(files: dict[str, bytes]) -> Iterator[Spoilt]:
    stl, ply, text = files["scan.stl"], files["scan.ply"], files["text.ply"]
    for count in (0, 1, 499_999, 500_001, 2_000_000, 2**31, 2**32 - 1):
        yield f"count-{count}.stl", stl[:80] + struct.pack("<I", count) + stl[84:]
    import re

    for what in (b"vertex", b"face"):
        for count in (0, 10**6, 10**7, 10**12, 10**18):
            for name, data in (("ply", ply), ("text.ply", text)):
                changed = re.sub(rb"element " + what + rb" \d+", b"element " + what + b" %d" % count, data, count=1)
                yield f"{what.decode()}-{count}-{name}", changed
    yield "no-end.ply", ply[:60]
    yield "format.ply", ply.replace(b"format binary_little_endian 1.0", b"format quantum 9.0")


def _values(files: dict[str, bytes]) -> Iterator[Spoilt]:
    for k, bad in enumerate((np.nan, np.inf, -np.inf, 3e38, 1e30)):
        for many in (1, 60):
            data = bytearray(files["scan.stl"])
            for spot in range(many):
                at = 84 + 50 * (7 + 13 * spot) + 12
                data[at : at + 4] = struct.pack("<f", bad)
            yield f"value-{k}-{many}.stl", bytes(data)
    for word in (b"nan", b"inf", b"-inf", b"1e39", b"many"):
        lines = files["scan.obj"].split(b"\n")
        first = next(i for i, line in enumerate(lines) if line.startswith(b"v "))
        lines[first + 5] = b"v " + word + b" 1 2"
        yield f"value-{word.decode()}.obj", b"\n".join(lines)
        rows = files["mat.csv"].split(b"\n")
        rows[9] = rows[9].replace(b"0.0", word, 1)
        if word != b"1e39":
            yield f"value-{word.decode()}.csv", b"\n".join(rows)
    yield "far.obj", files["scan.obj"] + b"\nf 999999999 1 2\n"
    for scale in (1e-6, 1e-4, 30.0, 1e5):
        dims = sample_pair(2)[1]
        mesh = surface(dims, 3_000)
        yield f"scale-{scale}.stl", stl_bytes(type(mesh)(mesh.vertices * scale, mesh.faces))
    box = trimesh.creation.icosphere(subdivisions=4, radius=90)
    box.apply_scale([1, 1, 1e-9])
    yield "flat.stl", box.export(file_type="stl")
    flat = Image.new("RGB", (1200, 900), (236, 236, 232))
    for name, picture in (("blank.png", flat), ("black.png", Image.new("RGB", (900, 900)))):
        buffer = io.BytesIO()
        picture.save(buffer, "PNG")
        yield name, buffer.getvalue()
    buffer = io.BytesIO()
    Image.new("RGB", (200, 150), "white").save(buffer, "PNG")
    yield "tiny.png", buffer.getvalue()
    frames = [Image.new("RGB", (600, 500), c) for c in ("white", "grey", "black")]
    buffer = io.BytesIO()
    frames[0].save(buffer, "PNG", save_all=True, append_images=frames[1:])
    yield "moving.png", buffer.getvalue()


def _tables(files: dict[str, bytes]) -> Iterator[Spoilt]:
    csv = files["mat.csv"].decode()
    for name, mark in (
        ("semicolon", ";"),
        ("tab", "\t"),
        ("pipe", "|"),
        ("space", " "),
        ("colon", ":"),
        ("slash", "/"),
    ):
        yield f"{name}.csv", csv.replace(",", mark).encode()
        body = "\n".join(csv.split("\n")[2:])
        yield f"{name}-bare.csv", body.replace(",", mark).encode()
    yield "comma-decimal.csv", csv.replace(".", ",").replace("cell_mm,5\n", "cell_mm,5\n").encode()
    for encoding in ("utf-16", "utf-32", "cp037"):
        yield f"{encoding}.csv", csv.encode(encoding)
    yield "latin.obj", "# Füße\n".encode("latin-1") + files["scan.obj"]
    yield "latin.csv", b"cell_mm,5 \xb5m\n" + csv.encode()
    rows = csv.split("\n")
    yield "ragged.csv", "\n".join([*rows[:10], rows[10] + ",1", *rows[11:]]).encode()
    yield "nocell.csv", "\n".join(rows[2:]).encode()
    yield "small.csv", b"cell_mm,5\n1,2\n3,4\n"
    yield "unknown.csv", b"width,5\n" + csv.encode()
    yield "negative.csv", csv.replace("0.0,", "-40.0,", 30).encode()
    yield (
        "unit.csv",
        "\n".join(
            [rows[0]] + [",".join(f"{float(c) * 900:.0f}" for c in r.split(",")) if r else "" for r in rows[2:]]
        ).encode(),
    )
    for cell in ("0", "-5", "500", "wide"):
        yield f"cell-{cell}.csv", csv.replace("cell_mm,5", f"cell_mm,{cell}").encode()
    yield "nobody.csv", b"cell_mm,5\n" + b"\n".join([b",".join([b"0"] * 40)] * 60)
    yield "record.csv", b"side,measure,value,uncertainty,unit,source\nmiddle,length_mm,260,1,mm,gauge\n"
    yield "record2.csv", b"side,measure,value,uncertainty,unit,source\nleft,length_mm,long,1,mm,gauge\n"
    yield "record3.csv", b"side,measure,value,uncertainty,unit,source\nleft,girth_mm,260,1,mm,gauge\n"
    yield "record4.csv", b"side,measure\nleft,length_mm\n"
    yield "record5.csv", b"side,measure,value,uncertainty,unit,source\nleft,length_mm,26,1,mm,gauge\n"


def spoilt() -> list[Spoilt]:
    """Every spoilt file; over three hundred."""
    files = good()
    return [
        *_cut(files), *_flipped(files), *_wrong_type(files), *_bombs(), *_headers(files), *_values(files),
        *_tables(files),
    ]  # fmt: skip
