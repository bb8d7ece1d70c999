"""Copies of a ring that lie nearly along each other: how close they come, in closed form."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.spatial.transform import Rotation

from leadline.core.clearance.copies import clearances
from leadline.core.clearance.shape import Shape
from leadline.core.geometry.placements import Placements

RADIUS, WIRE = 10.0, 1.0
AROUND, ROUND = 240, 64
FINENESS = RADIUS * (1 - math.cos(math.pi / AROUND)) + WIRE * (1 - math.cos(math.pi / ROUND))  # by which the mesh lies within the ring


def ring() -> Shape:
    """A torus about z."""
    u, v = np.meshgrid(np.arange(AROUND) * 2 * np.pi / AROUND, np.arange(ROUND) * 2 * np.pi / ROUND, indexing="ij")
    reach = RADIUS + WIRE * np.cos(v)
    i, k = (a.ravel() for a in np.indices((AROUND, ROUND)))
    a, b, c, d = ((i + di) % AROUND * ROUND + (k + dk) % ROUND for di, dk in ((0, 0), (1, 0), (1, 1), (0, 1)))
    points = np.stack([reach * np.cos(u), reach * np.sin(u), WIRE * np.sin(v)], axis=-1)
    return Shape(points.reshape(-1, 3), np.vstack([np.column_stack([a, b, c]), np.column_stack([a, c, d])]))


RING = ring()


@settings(max_examples=40)
@given(aside=st.floats(0.3, 15), above=st.floats(2.2, 6), way=st.floats(0, 6.2), seed=st.integers(0, 2**31 - 1))
def test_rings_in_parallel_planes_come_as_close_as_their_planes(aside, above, way, seed):
    """Seen along their axes they cross, and there they are nearest: where they lie nearly over each other it is hardly nearer than elsewhere."""
    turn = Rotation.random(random_state=seed).as_matrix()
    shift = turn @ [aside * math.cos(way), aside * math.sin(way), above]
    near = clearances(RING, Placements(np.array([turn, turn]), np.array([np.zeros(3), shift])))
    assert near.other.tolist() == [1, 0]
    gap = above - 2 * WIRE
    assert near.distance == pytest.approx([gap + FINENESS, gap + FINENESS], abs=1.5 * FINENESS)
