"""The practice scanner, camera and mat: files as real devices would write them, from a seed."""

from __future__ import annotations

import io
from typing import Literal

import numpy as np
from PIL import Image
from scipy.spatial.transform import Rotation

from ..core.contract import Side
from ..core.errors import BadInput
from ..core.feet.surface import Surface, merged
from .foot import FootDims, Mesh, sample_pair, surface
from .mat import Recording, record
from .paper import photograph

What = Literal["stl", "png", "csv"]

SCAN_TRIANGLES = 90_000
NOISE_MM = 0.12
A4_HOLDS_MM = 283.0


def dims_of(seed: int, side: Side) -> FootDims:
    """The made-up foot behind a seed."""
    left, right = sample_pair(seed)
    return left if side == "left" else right


def scan(dims: FootDims, seed: int, *, triangles: int = SCAN_TRIANGLES, noise_mm: float = NOISE_MM) -> Mesh:
    """A scan as it comes off a device: anyhow turned, with noise."""
    rng = np.random.default_rng(seed)
    whole = surface(dims, triangles)
    one = merged(Surface(whole.vertices, whole.faces))
    points = one.vertices + rng.normal(0, noise_mm, one.vertices.shape)
    turned = points @ Rotation.random(rng=rng).as_matrix().T + rng.uniform(-150, 150, 3)
    return Mesh(turned, one.faces)


def stl_bytes(mesh: Mesh) -> bytes:
    """A binary STL file."""
    corners = mesh.vertices[mesh.faces].astype("<f4")
    normal = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
    normal /= np.maximum(np.linalg.norm(normal, axis=1, keepdims=True), 1e-12)
    rows = np.zeros(len(corners), dtype=[("n", "<f4", 3), ("v", "<f4", (3, 3)), ("a", "<u2")])
    rows["n"], rows["v"] = normal, corners
    return b"practice scanner".ljust(80) + np.array([len(corners)], "<u4").tobytes() + rows.tobytes()


def csv_bytes(recording: Recording) -> bytes:
    """A mat's CSV: the cell's width, then frames with a blank line between."""
    out = io.StringIO()
    out.write(f"cell_mm,{recording.cell_mm:g}\nframe_ms,{recording.frame_ms:g}\n")
    for frame in recording.frames:
        np.savetxt(out, frame, fmt="%.1f", delimiter=",")
        out.write("\n")
    return out.getvalue().encode()


def png_bytes(dims: FootDims, seed: int, tilt_deg: float) -> bytes:
    """A photograph of the foot's outline on A4. Raises `BadInput` for a foot longer than the sheet."""
    if dims.length_mm > A4_HOLDS_MM:
        raise BadInput(f"This practice foot is {dims.length_mm:.0f} mm long, longer than the paper. Take another.")
    shot = photograph(dims, seed, tilt_deg=tilt_deg, width=1500)
    out = io.BytesIO()
    Image.fromarray(shot.picture).save(out, "PNG", compress_level=1)
    return out.getvalue()


SCALED = ("length_mm", "ball_width_mm", "ball_girth_mm", "instep_height_mm", "instep_girth_mm", "heel_width_mm",
          "toe_height_mm")  # fmt: skip
"""What grows along when a made-up foot is made longer."""


def make_of(what: What, dims: FootDims, shift: int) -> bytes:
    """A practice file of one made-up foot; `shift` seeds the device's noise, pose and angle."""
    if what == "stl":
        return stl_bytes(scan(dims, shift))
    if what == "png":
        return png_bytes(dims, shift, 6 + shift % 22)
    return csv_bytes(record(dims, shift, frames=24))


def make(what: What, seed: int, side: Side) -> tuple[bytes, FootDims]:
    """A practice file of that kind, and what is true of the foot in it."""
    dims = dims_of(seed, side)
    return make_of(what, dims, seed * 2 + (side == "left")), dims
