"""Surfaces against bodies whose every section is known by formula."""

from __future__ import annotations

import numpy as np
import pytest
import trimesh
from hypothesis import given, settings
from hypothesis import strategies as st

from kalon.core.feet.surface import Cutter, Surface, compact, cut, loop, merged, neighbours, refined

RADIUS = 50.0


def sphere(fine: int = 5) -> Surface:
    ball = trimesh.creation.icosphere(subdivisions=fine, radius=RADIUS)
    return Surface(np.array(ball.vertices), np.array(ball.faces, dtype=np.int64))


def box_of(x: float, y: float, z: float) -> Surface:
    body = trimesh.creation.box((x, y, z))
    return Surface(np.array(body.vertices), np.array(body.faces, dtype=np.int64))


BALL = sphere()


@settings(max_examples=40, deadline=None)
@given(turn=st.floats(0, 6.28), away=st.floats(-44, 44))
def test_a_sphere_is_cut_in_circles(turn: float, away: float) -> None:
    normal = np.array([np.cos(turn), np.sin(turn), 0.0])
    found = cut(BALL, away * normal, normal)
    points = found.reshape(-1, 3)
    assert points @ normal == pytest.approx(away, abs=1e-9)
    circle = np.sqrt(RADIUS**2 - away**2)
    off = np.linalg.norm(points - away * normal, axis=1)
    assert off == pytest.approx(circle, abs=0.3)
    tape = loop(found, normal)
    assert tape is not None
    assert tape.girth_mm == pytest.approx(2 * np.pi * circle, rel=0.004)
    assert tape.gap_mm == 0


@settings(max_examples=40, deadline=None)
@given(turn=st.floats(-1.2, 1.2), x=st.floats(-40, 40), y=st.floats(-20, 20))
def test_the_fast_cutter_cuts_as_the_plain_one(turn: float, x: float, y: float) -> None:
    normal = np.array([np.cos(turn), np.sin(turn), 0.0])
    origin = np.array([x, y, 0.0])
    plain = cut(BALL, origin, normal)
    fast = Cutter(BALL).cut(origin, normal)
    assert len(plain) == len(fast)
    if len(plain):
        assert np.sort(fast.reshape(-1, 3), axis=0) == pytest.approx(np.sort(plain.reshape(-1, 3), axis=0))


def test_a_plane_beside_the_body_cuts_nothing() -> None:
    found = cut(BALL, np.array([60.0, 0, 0]), np.array([1.0, 0, 0]))
    assert found.shape == (0, 2, 3)
    assert loop(found, np.array([1.0, 0, 0])) is None


def test_the_tape_bridges_hollows_but_not_holes() -> None:
    """A tape round two pillars goes straight across between them; with one pillar's side gone, that is a gap."""
    one = box_of(20, 20, 60)
    pair = Surface(
        np.vstack([one.vertices + np.array([0, y, 0]) for y in (-30.0, 30.0)]),
        np.vstack([one.faces, one.faces + len(one.vertices)]),
    )
    fine = refined(refined(pair, 2.0), 2.0)
    level = loop(cut(fine, np.array([0.1, 0, 0]), np.array([1.0, 0, 0])), np.array([1.0, 0, 0]))
    assert level is not None
    assert level.girth_mm == pytest.approx(2 * 80 + 2 * 60, rel=0.01)
    solid = refined(refined(box_of(20, 80, 60), 2.0), 2.0)
    whole = loop(cut(solid, np.array([0.1, 0, 0]), np.array([1.0, 0, 0])), np.array([1.0, 0, 0]))
    torn = ~((solid.vertices[:, 2] > 29.9) & (np.abs(solid.vertices[:, 1]) < 20))[solid.faces].any(axis=1)
    holed = Surface(solid.vertices, solid.faces[torn])
    open_ = loop(cut(holed, np.array([0.1, 0, 0]), np.array([1.0, 0, 0])), np.array([1.0, 0, 0]))
    assert whole is not None
    assert open_ is not None
    assert whole.gap_mm == 0
    assert open_.gap_mm == pytest.approx(40, abs=8)
    assert open_.girth_mm == pytest.approx(whole.girth_mm)


def test_loose_triangles_are_joined_at_equal_corners() -> None:
    loose = Surface(BALL.vertices[BALL.faces].reshape(-1, 3), np.arange(3 * len(BALL.faces)).reshape(-1, 3))
    joined = merged(loose)
    assert len(joined.vertices) == len(BALL.vertices)
    assert len(joined.faces) == len(BALL.faces)
    area = [trimesh.Trimesh(s.vertices, s.faces, process=False).area for s in (BALL, joined)]
    assert area[0] == pytest.approx(area[1])
    assert merged(joined) is joined


def test_collapsed_triangles_go() -> None:
    points = np.array([[0.0, 0, 0], [1, 0, 0], [0, 1, 0], [0, 0, 0]])
    found = merged(Surface(points, np.array([[0, 1, 2], [0, 3, 1]])))
    assert len(found.vertices) == 3
    assert len(found.faces) == 1


@pytest.mark.parametrize("most", [4.0, 2.0])
def test_refining_keeps_shape_and_shortens_edges(most: float) -> None:
    coarse = box_of(40, 30, 20)
    fine = refined(sphere(3), most)
    edges = np.linalg.norm(fine.vertices[fine.faces[:, 0]] - fine.vertices[fine.faces[:, 1]], axis=1)
    assert np.median(edges) <= most
    small = refined(coarse, 5.0)
    areas = [trimesh.Trimesh(s.vertices, s.faces, process=False).area for s in (coarse, small)]
    assert areas[0] == pytest.approx(areas[1])
    assert trimesh.Trimesh(small.vertices, small.faces, process=False).is_watertight


def test_every_row_of_the_graph_averages() -> None:
    graph = neighbours(BALL)
    ones = graph @ np.ones(len(BALL.vertices), dtype=np.float32)
    assert ones == pytest.approx(1.0, abs=1e-5)
    inward = np.linalg.norm(graph @ BALL.vertices, axis=1)
    assert (inward < RADIUS).all()
    assert (inward > RADIUS - 0.3).all()


def test_only_whole_faces_are_kept() -> None:
    upper = BALL.vertices[:, 2] > 0
    half = compact(BALL, upper)
    assert (half.vertices[:, 2] > 0).all()
    assert half.faces.max() < len(half.vertices)
    assert 0.4 < len(half.faces) / len(BALL.faces) < 0.5
    assert compact(BALL, np.ones(len(BALL.vertices), dtype=bool)) is BALL
