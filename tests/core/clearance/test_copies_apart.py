"""Copies that lie nearly along each other, and such with sharp edges: how close they come, and whether they cross, in
closed form.
"""

from __future__ import annotations

import itertools
import math

import igl
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.optimize import linprog
from scipy.spatial import ConvexHull
from scipy.spatial.transform import Rotation

from leadline.core.clearance.copies import clearances
from leadline.core.clearance.shape import Shape
from leadline.core.geometry.placements import Placements

RADIUS, WIRE = 10.0, 1.0
AROUND, ROUND = 240, 64
FINENESS = RADIUS * (1 - math.cos(math.pi / AROUND)) + WIRE * (
    1 - math.cos(math.pi / ROUND)
)  # by which the mesh lies within the ring


def closed(points: np.ndarray) -> Shape:
    """A surface through points (n, m, 3) that closes both ways."""
    n, m = points.shape[:2]
    i, k = (a.ravel() for a in np.indices((n, m)))
    a, b, c, d = ((i + di) % n * m + (k + dk) % m for di, dk in ((0, 0), (1, 0), (1, 1), (0, 1)))
    return Shape(points.reshape(-1, 3), np.vstack([np.column_stack([a, b, c]), np.column_stack([a, c, d])]))


def ring() -> Shape:
    """A torus about z."""
    u, v = np.meshgrid(np.arange(AROUND) * 2 * np.pi / AROUND, np.arange(ROUND) * 2 * np.pi / ROUND, indexing="ij")
    reach = RADIUS + WIRE * np.cos(v)
    return closed(np.stack([reach * np.cos(u), reach * np.sin(u), WIRE * np.sin(v)], axis=-1))


def knot(chance: np.random.Generator) -> Shape:
    """A tube about a closed line that bends much."""
    u, v = np.arange(160) * 2 * np.pi / 160, np.arange(16) * 2 * np.pi / 16
    wave, reach = np.arange(1, 4), 8 * chance.standard_normal((2, 3, 3))
    line = np.sin(np.outer(u, wave)) @ reach[0] + np.cos(np.outer(u, wave)) @ reach[1]
    way = np.cos(np.outer(u, wave)) * wave @ reach[0] - np.sin(np.outer(u, wave)) * wave @ reach[1]
    first = np.cross(way, chance.standard_normal(3))
    first /= np.linalg.norm(first, axis=1)[:, None]
    second = np.cross(way, first) / np.linalg.norm(way, axis=1)[:, None]
    return closed(line[:, None] + np.cos(v)[:, None] * first[:, None] + np.sin(v)[:, None] * second[:, None])


RING = ring()


@settings(max_examples=40)
@given(aside=st.floats(0.3, 15), above=st.floats(2.2, 6), way=st.floats(0, 6.2), seed=st.integers(0, 2**31 - 1))
def test_rings_in_parallel_planes_come_as_close_as_their_planes(aside, above, way, seed):
    """Seen along their axes they cross, and there they are nearest: where they lie nearly over each other it is hardly
    nearer than elsewhere.
    """
    turn = Rotation.random(random_state=seed).as_matrix()
    shift = turn @ [aside * math.cos(way), aside * math.sin(way), above]
    near = clearances(RING, Placements(np.array([turn, turn]), np.array([np.zeros(3), shift])))
    assert near.other.tolist() == [1, 0]
    gap = above - 2 * WIRE
    assert near.distance == pytest.approx([gap + FINENESS, gap + FINENESS], abs=1.5 * FINENESS)


@pytest.mark.parametrize("seed", range(8))
def test_no_vertex_of_much_bent_copies_is_nearer_to_another_than_they_are_told_to_be(seed):
    chance = np.random.default_rng(seed)
    shape, n = knot(chance), 8
    places = Placements(Rotation.random(n, random_state=seed).as_matrix(), chance.uniform(-40, 40, (n, 3)))
    told = clearances(shape, places, reach=1000.0)
    for i, j in itertools.permutations(range(n), 2):
        seen = (places.moved(shape.points)[j] - places.shifts[i]) @ places.turns[i]  # the other's, by this one's axes
        assert told.distance[i] <= shape.nearest(seen)[0].min() + 1e-6


def wedge(angle: float, length: float) -> Shape:
    """A bar of triangular section with an edge of such an angle (rad)."""
    half = 10 * math.tan(angle / 2)
    corners = np.array([[x, y, z] for z in (0, length) for x, y in ((5, 0), (-5, half), (-5, -half))])
    hull = ConvexHull(corners)
    outward = (
        np.einsum(
            "ij,ij->i",
            np.cross(*(corners[hull.simplices[:, k]] - corners[hull.simplices[:, 0]] for k in (1, 2))),
            hull.equations[:, :3],
        )
        > 0
    )
    return Shape(*igl.upsample(corners, np.where(outward[:, None], hull.simplices, hull.simplices[:, ::-1]), 3))


def share_a_point(first: np.ndarray, second: np.ndarray) -> bool:
    """Whether the convex hulls of two sets of points (n, 3) do: a linear programme."""
    n, m = len(first), len(second)
    weights = np.vstack([np.hstack([first.T, -second.T]), np.repeat([1, 0], (n, m)), np.repeat([0, 1], (n, m))])
    return bool(linprog(np.zeros(n + m), A_eq=weights, b_eq=[0, 0, 0, 1, 1]).status == 0)


@settings(max_examples=150)
@given(angle=st.floats(0.2, 0.7), length=st.floats(2, 40), off=st.floats(0.01, 0.3), seed=st.integers(0, 2**31 - 1))
def test_wedges_cross_only_where_they_share_a_point(angle, length, off, seed):
    """A point beside a sharp edge may be behind one of its two sides, and outside all the same."""
    bar, chance = wedge(angle, length), np.random.default_rng(seed)
    turn, way = Rotation.random(random_state=seed).as_matrix(), chance.uniform(-1, 1) * (math.pi - angle) / 2
    beside = np.array(
        [5 + off * math.cos(way), off * math.sin(way), chance.uniform(0, length)]
    )  # of the first one's edge
    places = Placements(
        np.array([np.eye(3), turn]),
        np.array([np.zeros(3), beside - turn @ bar.points[chance.integers(len(bar.points))]]),
    )
    near = clearances(bar, places, reach=100.0)
    first, second = places.moved(bar.points)
    touching = bar.centre + 1.003 * (first - bar.centre)  # what touches as nearly as a mesh can tell is told to cross
    assert share_a_point(touching if near.distance[0] == 0 else first, second) == (near.distance[0] == 0)
