"""Drawings' visible and hidden lines: against closed forms, and beside the kernel's own on small parts."""

import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from leadline.core.geometry.hidden_lines import Drawable, lines_seen
from leadline.core.geometry.section import Region
from leadline.core.geometry.views import chained
from leadline.core.sweep.grid import display_mesh
from leadline.core.sweep.motion import Motion
from leadline.exports.svg import VIEWS
from leadline.recipe.build import build
from tests.support.kernel_views import kernel_lines, share_elsewhere
from tests.support.parts import SHARED, demo
from tests.support.shapes import box, disc, full_circle, helix, straight

SMALL = [
    "twisted-ring",
    "funnel-hood",
    "pipe-clip",
    "kick-rail",
    "handle-bar",
    "wave-flange",
    "pump-grip",
    "pipe-clip-core",
    "silt-auger",
]  # the kernel itself leaves gaps in others
NONE = np.zeros((0, 2, 2))


def swept(path, region: Region, chord=0.01, **more):
    return Drawable(display_mesh(Motion(path, **more), [region], chord))


def looking(towards):
    """A view from anywhere: the direction to the eye, and one to the right."""
    towards = np.asarray(towards, dtype=float) / np.linalg.norm(towards)
    across = np.cross([0.3, 0.2, 1.0], towards)
    return towards, across / np.linalg.norm(across)


def polygon(points):
    points = np.asarray(points, dtype=float)
    return np.stack([points, np.roll(points, -1, axis=0)], axis=1)


def ring(radius, centre=(0, 0), squeezed=1.0):
    a = np.linspace(0, math.tau, 721)[:-1]
    return polygon(np.column_stack([centre[0] + radius * np.cos(a), centre[1] + squeezed * radius * np.sin(a)]))


def assert_lines(found, expected, size):
    assert share_elsewhere(found, expected, size) < 2e-3
    assert share_elsewhere(expected, found, size) < 2e-3


@given(st.floats(2, 20), st.floats(30, 200))
@settings(max_examples=10)
def test_a_rod_from_the_side_is_a_rectangle_and_from_its_end_a_circle(radius, length):
    rod = swept(straight(length), disc(radius), 0.001 * radius)
    (x, _, _) = np.eye(3)
    side, end = lines_seen([rod], np.array([0.0, -1, 0]), x), lines_seen([rod], x, np.array([0.0, 1, 0]))
    assert_lines(side.visible, polygon([(0, -radius), (length, -radius), (length, radius), (0, radius)]), length)
    assert_lines(end.visible, ring(radius), radius)


@given(st.floats(12, 60), st.floats(2, 9), st.floats(0.1, 1.5))
@settings(max_examples=10)
def test_a_torus_from_above_is_two_circles_and_leaning_its_outline_is_beside_an_ellipse(radius, wire, lean):
    torus = swept(full_circle(radius), disc(wire), 0.001 * wire)
    above = lines_seen([torus], np.array([0.0, 0, 1]), np.array([1.0, 0, 0]))
    centre = torus.mesh.points[:, :2].min(axis=0) + radius + wire
    assert_lines(above.visible, np.concatenate([ring(radius + wire, centre), ring(radius - wire, centre)]), 2 * radius)
    assert len(above.hidden) == 0
    eye = np.array(
        [0.0, -math.cos(lean), math.sin(lean)]
    )  # its middle is seen as an ellipse, and the outline as far from there as the wire is thick
    leaning = lines_seen([torus], eye, np.array([1.0, 0, 0]))
    a = np.linspace(0, math.tau, 4001)[:-1]
    middle = np.column_stack([centre[0] + radius * np.cos(a), (centre[1] + radius * np.sin(a)) * math.sin(lean)])
    outward = np.column_stack([math.sin(lean) * np.cos(a), np.sin(a)])
    outward /= np.linalg.norm(outward, axis=1)[:, None]
    outer, inner = polygon(middle + wire * outward), polygon(middle - wire * outward)
    every = np.concatenate([leaning.visible, leaning.hidden])
    assert share_elsewhere(every, np.concatenate([outer, inner]), 2 * radius) < 2e-3
    assert share_elsewhere(outer, leaning.visible, 2 * radius) < 2e-3


@given(st.floats(0.1, 3.0), st.floats(0.2, 1.3))
@settings(max_examples=15)
def test_of_a_box_from_a_corner_nine_edges_are_seen_and_three_hidden(around, up):
    eye, right = looking([math.cos(around) * math.cos(up) + 0.05, math.sin(around) * math.cos(up) + 0.05, math.sin(up)])
    sides = (40.0, 30.0, 20.0)
    block = swept(straight(sides[0]), box(sides[1], sides[2]))
    found = lines_seen([block], eye, right)
    corners = np.array([[x, y, z] for x in (0, sides[0]) for y in (-15, 15) for z in (-10, 10)])
    axes = np.stack([right, np.cross(eye, right)])
    far = corners[np.argmin(corners @ eye)]
    edges = np.array([[p, q] for i, p in enumerate(corners) for q in corners[i + 1 :] if (p != q).sum() == 1])
    hidden = (edges == far).all(axis=2).any(axis=1)
    assert_lines(found.visible, edges[~hidden] @ axes.T, 50)
    assert_lines(found.hidden, edges[hidden] @ axes.T, 50)


@given(st.floats(1.2, 6), st.floats(-0.4, 0.4))
@settings(max_examples=10)
def test_what_lies_behind_another_body_is_hidden_just_where_it_is(apart, beside):
    """A thin rod crosses behind a thick one; seen the other way round nothing of it is."""
    thick, thin = swept(straight(100), disc(10), 0.002), swept(straight(100), disc(1), 0.002)
    behind = Drawable(thin.mesh)
    turn = np.array([[0.0, 1, 0], [-1, 0, 0], [0, 0, 1]])
    move = np.array([50 + 20 * beside, 50, -11 - apart])
    points = thin.mesh.points @ turn.T + move
    behind = Drawable(
        type(thin.mesh)(
            points,
            thin.mesh.normals @ turn.T,
            thin.mesh.triangles,
            thin.mesh.face,
            thin.mesh.names,
            [line @ turn.T + move for line in thin.mesh.lines],
        )
    )
    front, back = (
        lines_seen([thick, behind], np.array([0.0, 0, way]), np.array([float(way), 0, 0])) for way in (1, -1)
    )
    sides = [np.array([[(move[0] + side, -10), (move[0] + side, 10)]]) for side in (-1, 1)]
    for side in sides:
        assert share_elsewhere(side, front.hidden, 100) < 0.01
        assert share_elsewhere(side[:, :, :] * [1, 0.99], front.visible, 100) > 0.9
        mirrored = side * [-1, 1]
        assert share_elsewhere(mirrored, back.visible, 100) < 0.01


def test_a_spring_from_its_end_is_two_circles_however_many_turns():
    coil = swept(helix(12, 20, 9), disc(2), 0.004)
    eye = np.array([0.0, 0, 1])
    found = lines_seen([coil], eye, np.array([1.0, 0, 0]))
    places = found.visible.reshape(-1, 2)
    centre = (coil.mesh.points[:, :2].min(axis=0) + coil.mesh.points[:, :2].max(axis=0)) / 2
    far = np.abs(np.linalg.norm(places - centre, axis=1) - 20)
    assert np.quantile(np.abs(far - 2), 0.9) < 0.05  # the rest are the two ends
    assert share_elsewhere(np.concatenate([ring(18, centre), ring(22, centre)]), found.visible, 44) < 2e-3


@pytest.mark.parametrize("name", SMALL)
def test_the_visible_lines_are_those_of_the_kernel(name):
    result = build(demo(name), SHARED)
    kept = [k for k in result.bodies if not k.only_mesh]
    drawn, bodies = [k.drawable() for k in kept], [b for k in kept for b in k.each()]
    size = float(np.linalg.norm(np.ptp(np.vstack([d.mesh.points for d in drawn]), axis=0)))
    for view in ("front", "corner"):
        own, (visible, hidden) = lines_seen(drawn, *VIEWS[view]), kernel_lines(bodies, *VIEWS[view], 2e-4 * size)
        assert share_elsewhere(own.visible, visible, size) < 5e-3
        assert share_elsewhere(visible, own.visible, size) < 5e-3
        assert (
            share_elsewhere(np.concatenate([own.visible, own.hidden]), np.concatenate([visible, hidden]), size) < 5e-3
        )


def test_nothing_is_drawn_twice_and_lines_that_meet_are_one():
    lines = chained(np.concatenate([polygon([(0, 0), (10, 0), (10, 5)]), polygon([(10, 5), (0, 0), (10, 0)])[:2]]))
    assert len(lines) == 1
    assert sum(float(np.linalg.norm(np.diff(line, axis=0), axis=1).sum()) for line in lines) == pytest.approx(
        15 + math.hypot(10, 5)
    )
    assert chained(NONE) == []
