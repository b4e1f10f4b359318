"""A photograph of a sheet of paper with a foot's outline, or a foot, on it: corners, perspective, outline.

Pictures are arrays (h, w, 3) of 8-bit red, green and blue. Paper coordinates are millimetres from its top left
corner, x along the short side. General image work is OpenCV's.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import cv2
import numpy as np
from numpy.typing import NDArray
from scipy import ndimage

from ..errors import BadInput
from .polygon import area, inset

Floats = NDArray[np.float64]
Picture = NDArray[np.uint8]
Mask = NDArray[np.uint8]
Paper = Literal["a4", "letter"]
Drawn = Literal["line", "foot"]

SIZES_MM: dict[Paper, tuple[float, float]] = {"a4": (210.0, 297.0), "letter": (215.9, 279.4)}
"""ISO 216 and ANSI/ASME Y14.1, width and height."""
PER_MM = 4
"""Pixels a millimetre in the flattened picture."""
FOCAL_OF_LONG_SIDE = 0.78
"""Focal length of a telephone's camera, share of the picture's long side. House default."""
EDGE_HEIGHT_MM, EDGE_HEIGHT_SIGMA_MM = 15.0, 6.0
"""How high the edge of a standing foot is above the paper where a camera sees it. House default."""
LOOK_AT = 900
"""Longest side of the picture the paper is looked for on."""
EDGE_MM = 1.5
"""What lies this close to the paper's edge is not looked at."""


def disc(mm: float) -> Mask:
    """A disc so many millimetres across, for opening and closing masks."""
    size = max(round(mm * PER_MM), 1) | 1
    return np.asarray(cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (size, size)), dtype=np.uint8)


def without_holes(mask: NDArray[np.bool_] | cv2.typing.MatLike) -> Mask:
    """A mask (h, w) with what it encloses: all but what joins its frame side by side. 0 or 255."""
    framed = cv2.copyMakeBorder(np.asarray(mask, np.uint8), 1, 1, 1, 1, cv2.BORDER_CONSTANT, value=0.0)
    around = np.zeros((framed.shape[0] + 2, framed.shape[1] + 2), np.uint8)
    cv2.floodFill(framed, around, (0, 0), 0.0, flags=4 | cv2.FLOODFILL_MASK_ONLY | (1 << 8))
    return np.asarray((around[2:-2, 2:-2] == 0) * np.uint8(255))


@dataclass(frozen=True)
class Sheet:
    """Where the paper lies in the picture: corners (4, 2) in pixels, from top left with the clock."""

    corners: Floats
    found: bool
    """Whether all four were found inside the picture."""
    likely: bool = True
    """Whether there is something bright and large that may be the paper, if a fitter drags the corners right."""


def _ordered(quad: Floats) -> Floats:
    """Corners with the clock (as seen in the picture), starting so that the second side is a long one."""
    centre = quad.mean(axis=0)
    quad = quad[np.argsort(np.arctan2(*(quad - centre).T[::-1]))]
    sides = np.linalg.norm(np.roll(quad, -1, axis=0) - quad, axis=1)
    start = int(np.argmin(quad.sum(axis=1)))
    quad, sides = np.roll(quad, -start, axis=0), np.roll(sides, -start)
    if sides[0] + sides[2] > sides[1] + sides[3]:
        quad = np.roll(quad, 1, axis=0)
    return quad


ON_LINE_PX = 1.2
"""A point of a side this close to a line lies on it. House default."""
LEAST_SEEN = 0.2
"""Of every side at least so much must be seen to lie on a line. House default."""
TRIES = 240


def _line(points: Floats) -> tuple[Floats, Floats, int] | None:
    """The line most of a side's edge points (n, 2) lie on, as a point and a way, and how many do: what lies over the
    rest of the side doesn't draw it aside. None for too few."""
    if len(points) < 12:
        return None
    rng = np.random.default_rng(1)
    one, other = points[rng.integers(len(points), size=(2, TRIES))]
    way = other - one
    long = np.linalg.norm(way, axis=1)
    one, way = one[long > 0.25 * long.max()], (way / np.maximum(long, 1e-9)[:, None])[long > 0.25 * long.max()]
    away = np.abs(
        (points[None, :, 0] - one[:, None, 0]) * way[:, 1:] - (points[None, :, 1] - one[:, None, 1]) * way[:, :1]
    )
    on = away < ON_LINE_PX
    best = points[on[int(np.argmax(on.sum(axis=1)))]]
    vx, vy, px, py = cv2.fitLine(best.astype(np.float32), cv2.DIST_HUBER, 0, 0.01, 0.01).ravel()
    return np.array([px, py], dtype=float), np.array([vx, vy], dtype=float), len(best)


def _sharpened(sides: list[Floats], quad: Floats) -> tuple[Floats, bool]:
    """Corners as crossings of the lines of each side's edge points, and whether every side is seen well enough."""
    found = [_line(points) for points in sides]
    lines = [line for line in found if line]
    if len(lines) < 4:
        return quad, False
    corners = []
    for i in range(4):
        (p, u, _), (q, v, _) = lines[i - 1], lines[i]
        cross = u[0] * v[1] - u[1] * v[0]
        if abs(cross) < 0.1:
            return quad, False
        t = ((q - p)[0] * v[1] - (q - p)[1] * v[0]) / cross
        corners.append(p + t * u)
    sharp = np.array(corners)
    if np.linalg.norm(sharp - quad, axis=1).max() >= 0.12 * np.linalg.norm(quad[0] - quad[2]):
        return quad, False
    return sharp, min(n for _, _, n in lines) >= LEAST_SEEN * LOOKED_AT


def find_paper(picture: Picture) -> Sheet:
    """The bright four-cornered sheet in a picture; when none is sure, a guess to be dragged right."""
    h, w = picture.shape[:2]
    shrink, grey = _small(picture)
    threshold, mask = cv2.threshold(grey, 0, 255, cv2.THRESH_BINARY + cv2.THRESH_OTSU)
    mask = cv2.morphologyEx(mask, cv2.MORPH_CLOSE, np.ones((9, 9), np.uint8))
    contours, _ = cv2.findContours(mask, cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)
    likely = False
    if not (0 < (mask > 0).mean() < 1) or grey[mask > 0].mean() - grey[mask == 0].mean() < 25:
        contours = ()
    for contour in sorted(contours, key=cv2.contourArea, reverse=True)[:3]:
        hull = cv2.convexHull(contour)
        if cv2.contourArea(hull) < 0.12 * mask.size:
            break
        likely = likely or cv2.contourArea(hull) < 0.97 * mask.size
        quad = _four_corners(hull)
        if quad is not None:
            return _sheet(picture, quad / shrink, threshold)
    return Sheet(_ordered(_guess(w, h)), False, likely)


LEVELS = 8
"""At so many levels of brightness a hung sheet is looked for."""
MOST_OFF = 0.06
"""A hung sheet is no further from filling its four corners than this share. House default."""
WORTH_OFF = 5.0
"""A sheet that fills its four corners is looked for before a larger one that doesn't, by so much. House default."""


def find_hung_paper(picture: Picture) -> Sheet:
    """The sheet in a picture in which other things may be bright too, a wall or a sole: of what is brighter than one
    level or another, the largest that fills four corners. When none is sure, a guess to be dragged right."""
    h, w = picture.shape[:2]
    shrink, grey = _small(picture)
    otsu, _ = cv2.threshold(grey, 0, 255, cv2.THRESH_BINARY + cv2.THRESH_OTSU)
    best: tuple[float, Floats, float] | None = None
    likely = False
    for level in np.linspace(otsu, 250, LEVELS, endpoint=False):
        mask = cv2.morphologyEx((grey > level).astype(np.uint8), cv2.MORPH_OPEN, np.ones((7, 7), np.uint8))
        contours, _ = cv2.findContours(mask, cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)
        for contour in sorted(contours, key=cv2.contourArea, reverse=True)[:3]:
            area = cv2.contourArea(contour)
            if not 0.06 * mask.size < area < 0.7 * mask.size:
                continue
            likely = True
            quad = _four_corners(cv2.convexHull(contour))
            if quad is None:
                continue
            off = abs(area / max(cv2.contourArea(quad.astype(np.float32)), 1.0) - 1)
            rim = np.minimum(quad, np.array(grey.shape[::-1]) - 1 - quad).min() < 2  # cut off by the picture's rim
            size = area / mask.size * (1 - WORTH_OFF * off) - rim
            if off < MOST_OFF and (best is None or size > best[0]):
                best = size, quad, float(level)
    if best is None:
        return Sheet(_ordered(_guess(w, h)), False, likely)
    return _sheet(picture, best[1] / shrink, best[2])


def _small(picture: Picture) -> tuple[float, NDArray[np.uint8]]:
    shrink = min(1.0, LOOK_AT / max(picture.shape[:2]))
    small = cv2.resize(picture, None, fx=shrink, fy=shrink, interpolation=cv2.INTER_AREA)
    grey = cv2.GaussianBlur(cv2.cvtColor(small, cv2.COLOR_RGB2GRAY), (5, 5), 0)
    return shrink, np.asarray(grey, dtype=np.uint8)


def _guess(w: int, h: int) -> Floats:
    return np.array([[0.1 * w, 0.1 * h], [0.9 * w, 0.1 * h], [0.9 * w, 0.9 * h], [0.1 * w, 0.9 * h]])


def _sheet(picture: Picture, quad: Floats, threshold: float) -> Sheet:
    quad = _ordered(quad)
    corners, seen = _sharpened(_edge_points(picture, quad, threshold), quad)
    h, w = picture.shape[:2]
    border = np.minimum(corners, np.array([w, h]) - 1 - corners).min()
    return Sheet(_ordered(corners), bool(seen and border > 2))


LOOKED_AT = 160
"""At so many places along each side its edge is looked for."""


def _four_corners(hull: cv2.typing.MatLike) -> Floats | None:
    around = cv2.arcLength(hull, True)
    for share in np.arange(0.01, 0.12, 0.01):
        quad = cv2.approxPolyDP(hull, share * around, True)
        if len(quad) == 4 and cv2.contourArea(quad) > 0.85 * cv2.contourArea(hull):
            return np.asarray(quad[:, 0], dtype=float)
        if len(quad) < 4:
            return None
    return None


def _edge_points(picture: Picture, quad: Floats, threshold: float) -> list[Floats]:
    """Points of the paper's edge at full size (n, 2), side by side: where the brightness crosses half-way."""
    grey = cv2.cvtColor(picture, cv2.COLOR_RGB2GRAY).astype(np.float32)
    centre = quad.mean(axis=0)
    found = []
    for i in range(4):
        a, b = quad[i], quad[(i + 1) % 4]
        out = np.array([(b - a)[1], -(b - a)[0]]) / np.linalg.norm(b - a)
        if out @ ((a + b) / 2 - centre) < 0:
            out = -out
        reach = max(6.0, 0.012 * float(np.linalg.norm(b - a)))
        steps = np.linspace(-reach, reach, int(4 * reach) + 1)
        spots = a + np.linspace(0.06, 0.94, LOOKED_AT)[:, None] * (b - a)
        where = spots[:, None, :] + steps[None, :, None] * out
        value = ndimage.map_coordinates(grey, [where[..., 1], where[..., 0]], order=1, mode="nearest")
        inside, outside = value[:, :6].mean(axis=1), value[:, -6:].mean(axis=1)
        level = (inside + outside) / 2
        falls = (value[:, :-1] >= level[:, None]) & (value[:, 1:] < level[:, None])
        clear = falls.any(axis=1) & (inside - outside > 18) & (inside > threshold)
        first = np.argmax(falls, axis=1)
        rows = np.arange(len(spots))
        upper, lower = value[rows, first], value[rows, np.minimum(first + 1, len(steps) - 1)]
        part = (upper - level) / np.maximum(upper - lower, 1e-6)
        at = steps[first] + part * (steps[1] - steps[0])
        found.append((spots + at[:, None] * out)[clear])
    return found


def flattened(picture: Picture, corners: Floats, paper: Paper) -> Picture:
    """The paper seen from straight above, `PER_MM` pixels a millimetre. Raises `BadInput` on impossible corners."""
    middles = np.array([[1, 0, -0.5], [0, 1, -0.5], [0, 0, 1]])  # pixels count from their middles
    return cv2.warpPerspective(  # type: ignore[return-value]
        picture, middles @ to_paper(corners, paper, PER_MM), _flat_size(paper), flags=cv2.INTER_AREA,
        borderMode=cv2.BORDER_REPLICATE,
    )  # fmt: skip


def _flat_size(paper: Paper) -> tuple[int, int]:
    width, height = SIZES_MM[paper]
    return round(width * PER_MM), round(height * PER_MM)


def to_paper(corners: Floats, paper: Paper, per_mm: float = 1.0) -> Floats:
    """The projective map (3, 3) from picture pixels to paper millimetres (times `per_mm`)."""
    if corners.shape != (4, 2) or not np.isfinite(corners).all():
        raise BadInput("The paper has four corners, each with two numbers.", code="paper-corners")
    (ax, ay), (bx, by) = (np.roll(corners, -1, 0) - corners).T, (np.roll(corners, -2, 0) - np.roll(corners, -1, 0)).T
    turns = ax * by - ay * bx
    if not ((turns > 0).all() or (turns < 0).all()) or np.abs(turns).min() < 100:
        raise BadInput("The paper's corners cross over or lie on a line: drag each to its own corner.",
                       code="paper-corners")  # fmt: skip
    width, height = SIZES_MM[paper]
    target = np.array([[0, 0], [width, 0], [width, height], [0, height]], dtype=np.float32) * per_mm
    found: Floats = cv2.getPerspectiveTransform(corners.astype(np.float32), target).astype(float)
    return found


def camera_at(corners: Floats, paper: Paper, size: tuple[int, int]) -> Floats:
    """About where the camera stood over the paper: x, y and height in millimetres, for a usual telephone's lens."""
    width, height = SIZES_MM[paper]
    world = np.array([[0, 0, 0], [width, 0, 0], [width, height, 0], [0, height, 0]])
    focal = FOCAL_OF_LONG_SIDE * max(size)
    lens = np.array([[focal, 0, size[0] / 2], [0, focal, size[1] / 2], [0, 0, 1]])
    _, turn, shift = cv2.solvePnP(world, corners.astype(float), lens, None, flags=cv2.SOLVEPNP_IPPE)
    rotation, _ = cv2.Rodrigues(turn)
    at = (-rotation.T @ shift).ravel()
    return np.array([at[0], at[1], abs(at[2])])


def tilt_deg(camera: Floats, paper: Paper) -> float:
    """How far from straight above the middle of the paper the picture was taken."""
    width, height = SIZES_MM[paper]
    aside = float(np.hypot(camera[0] - width / 2, camera[1] - height / 2))
    return float(np.degrees(np.arctan2(aside, camera[2])))


def without_parallax(outline: Floats, camera: Floats, height_mm: float = EDGE_HEIGHT_MM) -> Floats:
    """An outline brought down to the paper: an edge that stands above it (a foot's, when not said) looks too large."""
    return np.asarray(outline - (outline - camera[:2]) * height_mm / camera[2])


def slab_on_paper(outline: Floats, camera: Floats, thick_mm: float) -> Floats:
    """The outline of a flat thing with upright edges brought down to the paper. Away from the camera its upper edge is
    seen, which stands above the paper; towards the camera its lower edge, which doesn't."""
    edge = outline if area(outline) > 0 else outline[::-1]
    along = np.roll(edge, -1, axis=0) - np.roll(edge, 1, axis=0)
    outward = np.column_stack([along[:, 1], -along[:, 0]])
    away = np.einsum("ij,ij->i", outward, edge - camera[:2]) > 0
    found: Floats = edge - (edge - camera[:2]) * (thick_mm / camera[2] * away)[:, None]
    return found


@dataclass(frozen=True)
class Found:
    """What is on the paper: its outline (k, 2) in paper millimetres, and whether it is a line or a foot."""

    outline: Floats
    drawn: Drawn


def seen_from_above(outline: Floats) -> Floats:
    """Paper coordinates (y down the sheet) as a plan drawing has them (y up), so that left stays left."""
    return np.asarray(outline * np.array([1.0, -1.0]))


def find_outline(flat: Picture, drawn: Drawn | None = None) -> Found:
    """The outline drawn on a flattened sheet, or that of a foot standing on it. Raises `BadInput`."""
    light = cv2.cvtColor(flat, cv2.COLOR_RGB2LAB)[..., 0].astype(np.float32)
    small = cv2.resize(cv2.morphologyEx(light, cv2.MORPH_CLOSE, disc(2)), None, fx=0.125, fy=0.125,
                       interpolation=cv2.INTER_AREA)  # fmt: skip
    if drawn != "line":
        foot = blob(flat)
        if foot is not None and (drawn == "foot" or foot.mean() > 0.10 * 255):
            return Found(largest(foot), "foot")
        if drawn == "foot":
            raise BadInput("No foot stands out from the paper. Draw round it instead, or use a whiter sheet.",
                           code="outline-none")  # fmt: skip
    ground = cv2.resize(cv2.medianBlur(small, 5), flat.shape[1::-1], interpolation=cv2.INTER_CUBIC)
    dark = np.clip(ground - light, 0, 255)
    trim = round(EDGE_MM * PER_MM)
    dark[:trim], dark[-trim:], dark[:, :trim], dark[:, -trim:] = 0, 0, 0, 0
    strong = float(np.quantile(dark, 0.995))
    if strong < 12:
        raise BadInput("Nothing is drawn on the paper, or too faintly. Use a dark pen.", code="outline-none")
    ink = (dark > max(8.0, 0.38 * strong)).astype(np.uint8)
    ink = _without_specks(ink)
    for gap_mm in (1.0, 3.0, 6.0, 10.0):
        inside = _inside(ink, gap_mm)
        if inside is not None:
            return Found(_middle_of_line(inside, ink), "line")
    raise BadInput(
        "The line round the foot isn't closed: draw over the gaps and take the picture again.",
        code="outline-open",
    )


def _without_specks(ink: Mask) -> Mask:
    count, labels, stats, _ = cv2.connectedComponentsWithStats(ink, connectivity=8)
    keep = np.zeros(count, dtype=np.uint8)
    keep[1:] = np.maximum(stats[1:, cv2.CC_STAT_WIDTH], stats[1:, cv2.CC_STAT_HEIGHT]) > 6 * PER_MM
    return np.asarray(keep[labels])


def _inside(ink: Mask, gap_mm: float) -> Mask | None:
    """The field closed off by the ink, when gaps up to `gap_mm` count as closed; None when there is none."""
    closed = cv2.morphologyEx(ink, cv2.MORPH_CLOSE, disc(gap_mm))
    wall = cv2.copyMakeBorder(closed, 1, 1, 1, 1, cv2.BORDER_CONSTANT, value=0)
    free = (1 - wall).astype(np.uint8)
    _, labels, stats, _ = cv2.connectedComponentsWithStats(free, connectivity=4)
    areas = stats[:, cv2.CC_STAT_AREA].copy()
    areas[labels[0, 0]] = 0  # outside
    areas[np.unique(labels[wall > 0])] = 0
    best = int(np.argmax(areas))
    if areas[best] < 5000 * PER_MM**2:
        return None
    return np.asarray((labels[1:-1, 1:-1] == best) * 255, dtype=np.uint8)


def _middle_of_line(inside: Mask, ink: Mask) -> Floats:
    """The middle of the line round a closed field, from where the ink starts and ends going outwards."""
    away = cv2.distanceTransform(255 - inside, cv2.DIST_L2, 5)
    near = (away > 0) & (away < 5 * PER_MM)
    width = float(ink[near].sum()) / max(float((np.abs(away - 1.0) < 0.5).sum()), 1.0)
    half = float(np.clip(width / 2, 0.5, 3 * PER_MM))
    return inset(largest(inside), -half / PER_MM)


def unlike_paper(flat: Picture) -> NDArray[np.float32]:
    """How far each point of a flattened sheet is from the paper, by colour and darkness."""
    lab = cv2.cvtColor(flat, cv2.COLOR_RGB2LAB).astype(np.float32)
    paper = np.array([np.quantile(lab[..., 0], 0.75), np.median(lab[..., 1]), np.median(lab[..., 2])])
    rim = round(6 * PER_MM)
    frame = np.concatenate([lab[:rim].reshape(-1, 3), lab[:, :rim].reshape(-1, 3), lab[:, -rim:].reshape(-1, 3)])
    paper[1:] = np.median(frame[:, 1:], axis=0)
    apart = np.hypot(lab[..., 1] - paper[1], lab[..., 2] - paper[2]) + 0.45 * np.clip(paper[0] - lab[..., 0], 0, None)
    return np.asarray(apart, dtype=np.float32)


def blob(flat: Picture) -> Mask | None:
    """What differs in colour or darkness from the paper, as one blob; None when nothing large does."""
    blurred = cv2.GaussianBlur(unlike_paper(flat), (0, 0), PER_MM * 0.5)
    scaled = np.clip(blurred * 2, 0, 255).astype(np.uint8)
    level, mask = cv2.threshold(scaled, 0, 255, cv2.THRESH_BINARY + cv2.THRESH_OTSU)
    if level < 20:
        return None
    mask = cv2.morphologyEx(cv2.morphologyEx(mask, cv2.MORPH_OPEN, disc(3)), cv2.MORPH_CLOSE, disc(3))
    count, labels, stats, _ = cv2.connectedComponentsWithStats(mask, connectivity=8)
    if count < 2:
        return None
    best = 1 + int(np.argmax(stats[1:, cv2.CC_STAT_AREA]))
    if stats[best, cv2.CC_STAT_AREA] < 5000 * PER_MM**2:
        return None
    return without_holes(labels == best)


def largest(mask: Mask) -> Floats:
    """Smooth outline (k, 2) of the largest blob, in millimetres, a point about each millimetre."""
    contours, _ = cv2.findContours(mask, cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)
    points = max(contours, key=cv2.contourArea)[:, 0].astype(float) + 0.5
    smooth = ndimage.gaussian_filter1d(points, 2.5, axis=0, mode="wrap")
    return inset(smooth / PER_MM, -0.5 / PER_MM)  # contours run through the middles of the outermost pixels


LOOK_IN_MM, LOOK_OUT_MM = 3.0, 2.5
"""How far inside and outside a rough outline its true edge is looked for."""


def sharp_edge(flat: Picture, outline: Floats) -> Floats:
    """A rough outline on a flattened sheet moved to where the picture changes half-way, point by point (k, 2) mm; so a
    shadow beside the edge, which lightens further out, doesn't count. Points without a clear edge stay."""
    apart = cv2.GaussianBlur(unlike_paper(flat), (0, 0), 1.2)
    edge = inset(outline, 0.0)
    along = np.roll(edge, -2, axis=0) - np.roll(edge, 2, axis=0)
    normal = np.column_stack([along[:, 1], -along[:, 0]]) / np.maximum(np.linalg.norm(along, axis=1), 1e-9)[:, None]
    steps = np.arange(-LOOK_IN_MM, LOOK_OUT_MM + 1e-9, 0.125)
    where = (edge[:, None, :] + steps[None, :, None] * normal[:, None, :]) * PER_MM - 0.5
    value = ndimage.map_coordinates(apart, [where[..., 1], where[..., 0]], order=1, mode="nearest")
    inside = np.median(value[:, :8], axis=1)
    fall = value[:, :-4] - value[:, 4:]
    steepest = np.argmax(fall, axis=1) + 2
    rows = np.arange(len(edge))
    outside = value[rows, np.minimum(steepest + 5, len(steps) - 1)]
    level = (inside + outside) / 2
    below = value < level[:, None]
    below[:, :6] = False
    first = np.argmax(below, axis=1)
    clear = below.any(axis=1) & (inside - outside > 6)
    before = np.maximum(first - 1, 0)
    upper, lower = value[rows, before], value[rows, first]
    part = np.clip((upper - level) / np.maximum(upper - lower, 1e-6), 0, 1)
    at = np.where(clear, steps[before] + part * 0.125, 0.0)
    steady = ndimage.median_filter(at, size=9, mode="wrap")
    found: Floats = edge + steady[:, None] * normal
    return found
