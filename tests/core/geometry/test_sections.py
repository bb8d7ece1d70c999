"""Edges, loops, regions, hulls and the inward offset, against closed forms."""

import math

import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st
from scipy.interpolate import make_interp_spline
from scipy.spatial import ConvexHull

from leadline.core.geometry.edges import arc_edges, line_edge, spline_edge
from leadline.core.geometry.section import Loop, Region, farthest
from leadline.core.geometry.walls import hollow
from leadline.core.problems import Problem
from leadline.core.sketch.model import Spline
from leadline.core.sketch.splines import blending, chord_knots, through_points
from tests.support.shapes import box, disc, polygon, ring

SIZES = st.floats(0.1, 1e3)


@given(SIZES, st.floats(-50, 50), st.floats(-50, 50))
def test_moments_of_a_disc(radius, x, y):
    A, Sx, Sy, Sxx, Sxy, Syy = disc(radius, (x, y)).moments
    area = math.pi * radius**2
    assert pytest.approx(area, rel=1e-10) == A
    assert [Sx, Sy] == pytest.approx([area * x, area * y], rel=1e-9, abs=1e-9 * area * radius)
    assert Sxx == pytest.approx(area * (radius**2 / 4 + x * x), rel=1e-9)
    assert Syy == pytest.approx(area * (radius**2 / 4 + y * y), rel=1e-9)
    assert Sxy == pytest.approx(area * x * y, rel=1e-9, abs=1e-9 * area * radius**2)


def test_moments_of_a_rectangle_and_a_ring():
    assert box(6, 4, (1, 2)).moments == pytest.approx([24, 24, 48, 24 * (3 + 1), 48, 24 * (4 / 3 + 4)])
    assert ring(5, 3).area == pytest.approx(math.pi * 16)


def test_arcs_are_split_at_quarter_turns_and_are_exact():
    edges = arc_edges((1, 2), 5, 0.3, 2 * math.pi, "e")
    assert len(edges) == 4
    for edge in edges:
        p = edge.point(np.linspace(*edge.domain, 33))
        assert np.hypot(*(p - [1, 2]).T) == pytest.approx(np.full(33, 5.0), abs=1e-12)
    assert edges[-1].end == pytest.approx(edges[0].start, abs=0)


@given(st.floats(0.05, 6.2), st.floats(0.5, 100), st.sampled_from([1e-3, 0.01, 0.1]))
def test_samples_keep_to_the_chord(sweep, radius, chord):
    for edge in arc_edges((0, 0), radius, 0.0, sweep, "e"):
        p = edge.point(edge.samples(chord))
        middle = (p[1:] + p[:-1]) / 2
        sagitta = radius - np.hypot(*middle.T)
        # the parameter of a rational arc is a little uneven, so a share over the chord is allowed
        assert sagitta.max() <= 1.35 * chord


def test_reversed_edges_run_the_same_way_back():
    edge = spline_edge(through_points([0, 1, 2.5], np.array([[0, 0], [3, 4], [8, 1.0]])), "s")
    t = np.linspace(*edge.domain, 9)
    assert edge.reversed().point(t) == pytest.approx(edge.point(t[::-1]))
    back = edge.reversed().derivative(t)
    assert back == pytest.approx(-edge.derivative(t[::-1]))


def test_edge_derivative_against_finite_differences():
    edge = arc_edges((0, 0), 7, 0.2, 1.1, "e")[0]
    t, h = np.linspace(0.1, 0.9, 5), 1e-6
    assert edge.derivative(t) == pytest.approx((edge.point(t + h) - edge.point(t - h)) / (2 * h), abs=1e-6)


def test_loops_turn_round_and_mirroring_keeps_regions_right():
    region = ring(5, 3)
    assert region.outer.area > 0 > region.holes[0].area
    mirrored = region.mapped(np.array([[1.0, 0], [0, -1.0]]), np.array([2.0, 0]))
    assert mirrored.area == pytest.approx(region.area)
    assert mirrored.outer.area > 0 > mirrored.holes[0].area
    assert mirrored.moments[1] == pytest.approx(2 * region.area)


def test_hull_of_an_angle_section():
    angle = polygon([(0, 0), (10, 0), (10, 2), (2, 2), (2, 10), (0, 10)])
    assert shapely.Polygon(angle.hull()).area == pytest.approx(100 - 32)
    assert np.hypot(*disc(8).hull().T).max() == pytest.approx(8)


@given(st.floats(2, 50), st.floats(0.05, 0.9))
def test_hollow_disc_is_a_ring(radius, share):
    wall = radius * share
    assert hollow(disc(radius), wall).area == pytest.approx(math.pi * (radius**2 - (radius - wall) ** 2), rel=1e-9)


def test_hollow_of_a_rectangle_an_angle_and_a_slot():
    assert hollow(box(40, 12), 2).area == pytest.approx(40 * 12 - 36 * 8)
    angle = polygon([(0, 0), (30, 0), (30, 10), (10, 10), (10, 30), (0, 30)])
    assert hollow(angle, 2).area == pytest.approx(500 - (26 * 6 + 6 * 20))
    slot = Region(
        Loop(
            (
                line_edge((0, -5), (20, -5), "b"),
                *arc_edges((20, 0), 5, -math.pi / 2, math.pi, "r"),
                line_edge((20, 5), (0, 5), "t"),
                *arc_edges((0, 0), 5, math.pi / 2, math.pi, "l"),
            )
        )
    )
    assert hollow(slot, 1.5).area == pytest.approx(20 * 10 + math.pi * 25 - (20 * 7 + math.pi * 3.5**2), rel=1e-9)


def test_hollow_of_a_smooth_closed_spline_keeps_the_wall():
    angle = np.linspace(0, 2 * math.pi, 13)
    points = np.column_stack([20 * np.cos(angle), 12 * np.sin(angle)])
    points[-1] = points[0]
    heading = [(1, np.array([0, 12 * math.pi / 6]))]
    curve = make_interp_spline(np.arange(13.0), points, k=3, bc_type=(heading, heading))
    region = Region(Loop((spline_edge(curve, "s"),)))
    walled = hollow(region, 2.0)
    outer = shapely.LinearRing(region.outer.polygon(1e-4))
    gaps = [outer.distance(shapely.Point(p)) for p in walled.holes[0].polygon(0.05)]
    assert gaps == pytest.approx([2.0] * len(gaps), abs=2e-3)


@pytest.mark.parametrize(
    ("region", "wall", "code"),
    [
        (disc(5), 5.0, "wall-too-thick"),
        (disc(5), 0.0, "bad-size"),
        (disc(5), -1.0, "bad-size"),
        (ring(5, 3), 1.0, "wall-with-islands"),
        (polygon([(0, 0), (40, 0), (40, 20), (22, 20), (20, 17), (18, 20), (0, 20)]), 7.0, "wall-swallows-edges"),
    ],
)
def test_walls_that_cannot_be_are_refused(region, wall, code):
    with pytest.raises(Problem) as caught:
        hollow(region, wall)
    assert caught.value.message.code == code
    assert caught.value.message.way_out


def test_a_wall_in_an_outline_of_splines_and_lines_is_refused():
    curve = make_interp_spline(np.arange(3.0), np.array([[0.0, 0], [20, 12], [40, 0]]), k=2)
    mixed = Region(Loop((spline_edge(curve, "s"), polygon([(40, 0), (0, 0), (20, -1)]).outer.edges[0])))
    with pytest.raises(Problem) as caught:
        hollow(mixed, 2.0)
    assert caught.value.message.code == "wall-on-mixed-outline"


def test_spline_goes_through_its_points_and_its_end_tangent_is_linear_in_them():
    points = np.array([[0, 0], [10, 8], [25, 3], [40, 12.0]])
    knots = chord_knots(points)
    spline = through_points(knots, points)
    assert spline(knots) == pytest.approx(points)
    assert spline.derivative(2)([knots[0], knots[-1]]) == pytest.approx(np.zeros((2, 2)), abs=1e-9)
    for at_end in (False, True):
        weights = blending(Spline(id="s", points=[f"p{i}" for i in range(len(knots))]), knots).end(at_end, 1)
        assert weights.sum() == pytest.approx(0, abs=1e-9)
        assert weights @ points == pytest.approx(spline.derivative()(knots[-1 if at_end else 0]))


@given(
    corners=st.lists(st.tuples(st.floats(-50, 50), st.floats(-50, 50)), min_size=3, max_size=60),
    turn=st.floats(-4, 4),
    squash=st.floats(0.001, 1),
)
def test_reach_of_a_convex_outline_is_that_of_all_its_corners(
    corners: list[tuple[float, float]], turn: float, squash: float
) -> None:
    round_points = 30 * np.stack([np.cos(a := np.linspace(0, 6.2, 40)), squash * np.sin(a)], axis=1)
    points = np.vstack([np.round(corners, 6), round_points])
    hull = points[ConvexHull(points).vertices]
    edges = np.roll(hull, -1, axis=0) - hull
    square = np.stack([edges[:, 1], -edges[:, 0]], axis=1)  # two corners reach equally far along these
    angles = np.concatenate([np.linspace(-np.pi, np.pi, 97), [turn]])
    directions = np.vstack([square, np.stack([np.cos(angles), np.sin(angles)], axis=1)])
    assert farthest(hull, directions) == pytest.approx((directions @ hull.T).max(axis=1), rel=1e-12, abs=1e-9)
