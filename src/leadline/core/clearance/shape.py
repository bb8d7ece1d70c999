"""A mesh that distances are measured to.

Distances are exact on the triangles; a mesh lies within its own fineness of the shape.
"""

from __future__ import annotations

from collections.abc import Sequence
from functools import cached_property

import igl
import numpy as np
from numpy.typing import NDArray
from scipy.spatial import cKDTree
from scipy.spatial.distance import cdist

from leadline.core.geometry.mesh import DisplayMesh, Ints
from leadline.core.geometry.plane import Array, cross

Bools = NDArray[np.bool_]

COARSE = 128  # vertices by which the nearest places are found
BALLS = 10  # that cover a shape
INSIDE = 0.5  # winding number


class Shape:
    """A mesh that distances are measured to."""

    def __init__(self, points: Array, triangles: Ints) -> None:
        self.points, self.triangles = np.ascontiguousarray(points), np.ascontiguousarray(triangles)

    @classmethod
    def of(cls, meshes: Sequence[DisplayMesh | Shape]) -> Shape:
        """Several meshes, or shapes, as one: their points and triangles one after the other."""
        starts = np.cumsum([0, *(len(m.points) for m in meshes)])
        return cls(
            np.vstack([m.points for m in meshes]),
            np.vstack([m.triangles + n for m, n in zip(meshes, starts, strict=False)]),
        )

    @cached_property
    def _tree(self) -> igl.AABB:
        tree = igl.AABB()
        tree.init(self.points, self.triangles)
        return tree

    def nearest(self, points: Array) -> tuple[Array, Array]:
        """Distances (n,) from points (n, 3), and the nearest points of the shape (n, 3)."""
        away, _, nearest = self.nearest_triangles(points)
        return away, nearest

    def nearest_triangles(self, points: Array) -> tuple[Array, Ints, Array]:
        """Distances (n,) from points (n, 3), the triangle that is nearest to each (n,), and the nearest points of it
        (n, 3).
        """
        squared, face, nearest = self._tree.squared_distance(self.points, self.triangles, np.ascontiguousarray(points))
        return np.sqrt(np.atleast_1d(squared)), np.asarray(face, dtype=np.int64).ravel(), np.atleast_2d(nearest)

    def holds(self, points: Array) -> Bools:
        """Which points (n, 3) are inside, by how often the triangles wind about them (Barill et al., ACM TOG
        37, 2018).
        """
        return np.asarray(igl.fast_winding_number(self.points, self.triangles, np.ascontiguousarray(points)) > INSIDE)

    def deepest(self, points: Array) -> tuple[Array, Array]:
        """Of each row of points (k, m, 3) the one that is deepest inside: (k, 3), and how deep (k,), 0 where none is
        inside.
        """
        flat = points.reshape(-1, 3)
        away, face, nearest = self.nearest_triangles(flat)
        a, b, c = (self.points[self.triangles[face, k]] for k in range(3))
        behind = np.flatnonzero(
            ((flat - nearest) * cross(b - a, c - a)).sum(axis=1) < 0
        )  # about a sharp edge some of these are outside
        inside = behind[self.holds(flat[behind])] if len(behind) else behind
        depth = np.zeros(points.shape[:2])
        depth.flat[inside] = away[inside]
        rows, most = np.arange(len(points)), np.argmax(depth, axis=1)
        return np.asarray(points[rows, most]), np.asarray(depth[rows, most])

    @cached_property
    def centre(self) -> Array:
        return np.asarray((self.points.min(axis=0) + self.points.max(axis=0)) / 2)

    @cached_property
    def radius(self) -> float:
        """Of the ball about the centre that holds the shape."""
        return float(np.linalg.norm(self.points - self.centre, axis=1).max())

    @cached_property
    def coarse(self) -> Array:
        """A few vertices spread over the shape: each the farthest from those before it."""
        chosen = [int(np.argmax(np.linalg.norm(self.points - self.centre, axis=1)))]
        away = cdist(self.points[chosen], self.points)[0]
        while len(chosen) < min(COARSE, len(self.points)):
            chosen.append(int(np.argmax(away)))
            away = np.minimum(away, cdist(self.points[chosen[-1:]], self.points)[0])
        return np.asarray(self.points[chosen])

    @cached_property
    def balls(self) -> tuple[Array, Array]:
        """A few balls that hold all of the surface: centres (n, 3) and radii (n,)."""
        centres = self.coarse[:BALLS]
        corners = self.points[self.triangles]  # (triangles, 3, 3)
        own = np.asarray(cKDTree(centres).query(corners.mean(axis=1))[1])
        reach = np.linalg.norm(corners - centres[own][:, None], axis=2).max(axis=1)
        radii = np.zeros(len(centres))
        np.maximum.at(radii, own, reach)
        return centres, radii
