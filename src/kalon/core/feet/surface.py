"""Triangle surfaces as arrays: merging, smoothing, cutting by planes, tape lengths. Lengths in millimetres."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import csr_array
from scipy.spatial import ConvexHull, QhullError

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]


@dataclass(frozen=True)
class Surface:
    """Vertices (n, 3) and faces (m, 3) of vertex numbers."""

    vertices: Floats
    faces: Ints


def merged(surface: Surface) -> Surface:
    """The same surface with equal vertices made one (files of loose triangles repeat each about six times)."""
    single = np.ascontiguousarray(surface.vertices, dtype=np.float32) + np.float32(0)  # −0 and 0 are one place
    bits = single.view(np.uint32).astype(np.uint64)
    key = bits[:, 0] * np.uint64(0x9E3779B97F4A7C15) ^ bits[:, 1] * np.uint64(0xC2B2AE3D27D4EB4F)
    key = (key ^ (key >> np.uint64(29))) * np.uint64(0xBF58476D1CE4E5B9) ^ bits[:, 2] * np.uint64(0x94D049BB133111EB)
    order = np.argsort(key)
    along = key[order]
    new = np.concatenate([[True], along[1:] != along[:-1]])
    if new.all():
        return surface
    back = np.empty(len(key), dtype=np.int64)
    back[order] = np.cumsum(new) - 1
    first = order[new]
    faces = back[surface.faces]
    a, b, c = faces.T
    return Surface(surface.vertices[first], faces[(a != b) & (b != c) & (a != c)])


def compact(surface: Surface, keep: NDArray[np.bool_]) -> Surface:
    """Only the faces whose vertices are all kept."""
    if keep.all():
        return surface
    faces = surface.faces[keep[surface.faces].all(axis=1)]
    number = np.cumsum(keep) - 1
    return Surface(surface.vertices[keep], number[faces])


def neighbours(surface: Surface) -> csr_array:
    """Row-normalised vertex graph (n, n), single precision: each row averages a vertex's neighbours.

    Faces wind one way, so their sides in that direction name each neighbour of an inner vertex once.
    """
    n = len(surface.vertices)
    f = surface.faces.astype(np.int32)
    row = np.concatenate([f[:, 0], f[:, 1], f[:, 2]])
    col = np.concatenate([f[:, 1], f[:, 2], f[:, 0]])
    weight = np.maximum(np.bincount(row, minlength=n), 1).astype(np.float32)
    return csr_array((1 / weight[row], (row, col)), shape=(n, n))


def roughness_mm(surface: Surface, graph: csr_array) -> float:
    """How far vertices typically lie off the surface round them: the scan's noise, one standard deviation, mm.

    Compared along the local normal, so that uneven triangles don't count; on a tenth of a large scan.
    """
    v, f = surface.vertices, surface.faces
    step = max(1, len(f) // 20_000)
    some = f[::step]
    normal = np.cross(v[some[:, 1]] - v[some[:, 0]], v[some[:, 2]] - v[some[:, 0]])
    normal /= np.maximum(np.linalg.norm(normal, axis=1, keepdims=True), 1e-12)
    apart = v[some[:, 0]] - graph[some[:, 0]] @ v
    return float(np.median(np.abs((apart * normal).sum(axis=1))) / 0.6745 / np.sqrt(1 + 1 / 6))


def smoothed(surface: Surface, graph: csr_array, rounds: int) -> Surface:
    """Noise taken out by alternate shrinking and growing (Taubin 1995), which keeps size."""
    middle = surface.vertices.mean(axis=0)
    v = (surface.vertices - middle).astype(np.float32)
    for _ in range(rounds):
        v += np.float32(0.5) * (graph @ v - v)
        v -= np.float32(0.52) * (graph @ v - v)
    return Surface(v.astype(np.float64) + middle, surface.faces)


def refined(surface: Surface, most_mm: float) -> Surface:
    """Split every triangle in four until edges are mostly shorter than `most_mm`; at most three times."""
    for _ in range(3):
        v, f = surface.vertices, surface.faces
        some = f[:: max(1, len(f) // 5000)]
        if (
            not len(f)
            or len(f) > 400_000
            or np.median(np.linalg.norm(v[some[:, 0]] - v[some[:, 1]], axis=1)) <= most_mm
        ):
            break
        edges = np.sort(np.concatenate([f[:, [0, 1]], f[:, [1, 2]], f[:, [2, 0]]]), axis=1)
        _, first, back = np.unique(edges[:, 0] * len(v) + edges[:, 1], return_index=True, return_inverse=True)
        middle = v[edges[first]].mean(axis=1)
        ab, bc, ca = (back + len(v)).reshape(3, -1)
        a, b, c = f.T
        faces = np.concatenate([np.stack(x, 1) for x in ((a, ab, ca), (ab, b, bc), (ca, bc, c), (ab, bc, ca))])
        surface = Surface(np.vstack([v, middle]), faces)
    return surface


def cut(surface: Surface, origin: Floats, normal: Floats) -> Floats:
    """Segments (k, 2, 3) in which a plane cuts the surface. `normal` is of unit length."""
    height = (surface.vertices - origin) @ normal
    above = height > 0
    of_face = above[surface.faces]
    count = of_face.sum(axis=1)
    crossed = (count == 1) | (count == 2)
    faces, signs = surface.faces[crossed], of_face[crossed]
    if not len(faces):
        return np.empty((0, 2, 3))
    lone = np.argmax(signs == (signs.sum(axis=1) == 1)[:, None], axis=1)
    rows = np.arange(len(faces))
    apex = faces[rows, lone]
    ends = []
    for step in (1, 2):
        other = faces[rows, (lone + step) % 3]
        share = height[apex] / (height[apex] - height[other])
        ends.append(surface.vertices[apex] + share[:, None] * (surface.vertices[other] - surface.vertices[apex]))
    return np.stack(ends, axis=1)


class Cutter:
    """Cuts one surface by many upright planes: each plane looks only at the faces that reach its part of x."""

    def __init__(self, surface: Surface) -> None:
        self.surface = surface
        x = surface.vertices[:, 0]
        a, b, c = (x[surface.faces[:, i]] for i in range(3))
        self._low = np.minimum(np.minimum(a, b), c)
        self._high = np.maximum(np.maximum(a, b), c)
        self._reach = float(np.abs(surface.vertices[:, 1]).max(initial=0.0))

    def cut(self, origin: Floats, normal: Floats) -> Floats:
        """As `cut`, for a plane whose normal lies level."""
        lean = self._reach * abs(normal[1] / normal[0]) if abs(normal[0]) > 1e-6 else np.inf
        middle = float(origin[0] + origin[1] * normal[1] / normal[0]) if np.isfinite(lean) else 0.0
        near = (self._low <= middle + lean) & (self._high >= middle - lean)
        return cut(_local(self.surface, near), origin, normal)


def _local(surface: Surface, faces: NDArray[np.bool_]) -> Surface:
    """Some faces with copies of their corners only."""
    corners = surface.faces[faces].ravel()
    return Surface(surface.vertices[corners], np.arange(len(corners)).reshape(-1, 3))


@dataclass(frozen=True)
class Loop:
    """What a tape sees of a section: the convex hull's corners in order, its length, and the widest gap on it."""

    points: Floats
    """Corners (h, 3)."""
    girth_mm: float
    gap_mm: float
    """Longest stretch of tape over which the scan has no surface beneath."""


def loop(segments: Floats, normal: Floats) -> Loop | None:
    """The tape's path round a section; None when there is too little of it."""
    points = segments.reshape(-1, 3)
    if len(points) < 6:
        return None
    along = np.array([-normal[1], normal[0], 0.0])
    if np.linalg.norm(along) < 1e-9:
        along = np.array([1.0, 0.0, 0.0])
    along = along / np.linalg.norm(along)
    up = np.cross(normal, along)
    flat = np.column_stack([points @ along, points @ up])
    try:
        hull = ConvexHull(flat)
    except QhullError:
        return None
    corners = flat[hull.vertices]
    sides = np.linalg.norm(np.roll(corners, -1, axis=0) - corners, axis=1)
    return Loop(points[hull.vertices], float(hull.area), _gap(flat, corners, sides))


def _gap(flat: Floats, corners: Floats, sides: Floats) -> float:
    """The longest hull side with nothing close under it; a bridge over a hollow has surface beneath."""
    widest = 0.0
    for i in np.argsort(sides)[::-1][:6]:
        if sides[i] < 4:
            break
        a, b = corners[i], corners[(i + 1) % len(corners)]
        direction = (b - a) / sides[i]
        offset = flat - a
        along = offset @ direction
        deep = np.abs(offset @ np.array([-direction[1], direction[0]]))
        near = np.sort(along[(deep < 0.35 * sides[i] + 6) & (along > -1) & (along < sides[i] + 1)])
        steps = np.diff(np.concatenate([[0.0], near, [sides[i]]]))
        widest = max(widest, float(steps.max()))
    return widest if widest >= 4 else 0.0
