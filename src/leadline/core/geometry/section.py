"""Sections: closed loops of edges, regions with islands and their moments."""

from __future__ import annotations

import itertools
from collections.abc import Callable, Hashable, Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from scipy.spatial import ConvexHull

from leadline.core.geometry.edges import Edge
from leadline.core.geometry.plane import Array

HULL_CHORD = 1e-5  # of the section's size
KEPT = 8  # regions that follow from another
FEW_CORNERS = 12
_GAUSS_X, _GAUSS_W = np.polynomial.legendre.leggauss(12)


def edge_nodes(edges: Sequence[Edge], parts: int = 1) -> tuple[Array, Array, Array]:
    """Gauss nodes on every edge, each smooth span in ``parts``: points (n, k), derivatives (n, k), weights (n,) by the
    edges' parameters; k is 2, or more where the edges have further coordinates.
    """
    points, slopes, weights = [], [], []
    for edge in edges:
        spans = np.unique(edge.knots[edge.degree : -edge.degree])
        ends = (spans[:-1, None] + np.diff(spans)[:, None] * np.arange(parts) / parts).ravel()
        half = np.repeat(np.diff(spans) / (2 * parts), parts)[:, None]
        t = (ends[:, None] + half * (1 + _GAUSS_X)).ravel()
        points.append(edge.point(t))
        slopes.append(edge.derivative(t))
        weights.append((half * _GAUSS_W).ravel())
    return np.vstack(points), np.vstack(slopes), np.concatenate(weights)


def joints(edges: Sequence[Edge], is_open: bool = False) -> list[tuple[Edge, Edge]]:
    """The edges that meet at each joint, the one before first; a closed outline's first joint is between its last edge
    and its first.
    """
    return list(itertools.pairwise(edges if is_open else [*edges[-1:], *edges]))


@dataclass(frozen=True)
class Loop:
    """Edges end to end, closed, or for a surface ``open``."""

    edges: tuple[Edge, ...]
    open: bool = False

    def polygon(self, chord: float = 1e-3) -> Array:
        """The outline as points (n, 2), not repeating the first."""
        points = [e.point(e.samples(chord)[:-1]) for e in self.edges]
        return np.vstack([*points, self.edges[-1].end[None]] if self.open else points)

    @cached_property
    def area(self) -> float:
        """Signed area, positive when the loop runs counter-clockwise; of an open one nought."""
        return 0.0 if self.open else float(self.moments[0])

    @cached_property
    def moments(self) -> Array:
        """[area, Sx, Sy, Sxx, Sxy, Syy] (6,): integrals of 1, x, y, x², xy, y² over the inside, signed, by Green's
        theorem.
        """
        points, slopes, weights = self.nodes
        x, y = points[:, :2].T
        return np.array([x, x**2 / 2, x * y, x**3 / 3, x**2 * y / 2, x * y**2]) @ (slopes[:, 1] * weights)

    @cached_property
    def girth(self) -> float:
        """The length of the outline."""
        _, slopes, weights = self.nodes
        return float(np.linalg.norm(slopes[:, :2], axis=1) @ weights)

    @cached_property
    def nodes(self) -> tuple[Array, Array, Array]:
        """Gauss nodes of its edges, as ``edge_nodes`` gives them."""
        return edge_nodes(self.edges)

    def reversed(self) -> Loop:
        return Loop(tuple(e.reversed() for e in reversed(self.edges)), self.open)

    def oriented(self, counter_clockwise: bool) -> Loop:
        return self if self.open or (self.area > 0) == counter_clockwise else self.reversed()


@dataclass(frozen=True)
class Region:
    """An outer loop (counter-clockwise) with islands (clockwise). ``id`` is its outer loop's first origin.

    With ``sheet`` set the outline itself is swept, which gives a surface instead of a solid.
    """

    outer: Loop
    holes: tuple[Loop, ...] = ()
    sheet: bool = False

    @property
    def id(self) -> str:
        return min(e.origin for e in self.outer.edges)

    @property
    def loops(self) -> tuple[Loop, ...]:
        return (self.outer, *self.holes)

    @cached_property
    def moments(self) -> Array:
        """[area, Sx, Sy, Sxx, Sxy, Syy] (6,) of the region."""
        return np.zeros(6) if self.sheet else np.asarray(sum(loop.moments for loop in self.loops))

    @property
    def area(self) -> float:
        return float(self.moments[0])

    @property
    def girth(self) -> float:
        """The length of all of its outlines together."""
        return sum(loop.girth for loop in self.loops)

    def mapped(self, matrix: Array, shift: Array) -> Region:
        """The region under a rigid map; a mirroring one turns the loops round again: what is on the right of an open
        one stays on its right.
        """
        return self.kept(("mapped", matrix.tobytes(), shift.tobytes()), lambda: self._image(matrix, shift))

    def kept(self, key: Hashable, make: Callable[[], Region]) -> Region:
        """What ``make`` gives, a region that follows from this one and ``key``.

        The last ones are kept: a profile is walled and brought to its place anew for every picture while something else
        is moved, and what was worked out of the region there serves again.
        """
        if key not in self._kept:
            if len(self._kept) >= KEPT:
                self._kept.clear()
            self._kept[key] = make()
        return self._kept[key]

    @cached_property
    def _kept(self) -> dict[Hashable, Region]:
        return {}

    def _image(self, matrix: Array, shift: Array) -> Region:
        loops = [Loop(tuple(e.mapped(matrix, shift) for e in loop.edges), loop.open) for loop in self.loops]
        if np.linalg.det(matrix) < 0:
            loops = [loop.reversed() if loop.open else loop for loop in loops]
        return Region(loops[0].oriented(True), tuple(loop.oriented(False) for loop in loops[1:]), self.sheet)

    def hull(self) -> Array:
        """Corners (n, 2) of the convex hull of the outline, arcs sampled finely on the outside."""
        return self._hull

    @cached_property
    def _hull(self) -> Array:
        extent = float(np.ptp(self.outer.polygon(1.0), axis=0).max())
        outline = self.outer.polygon(extent * HULL_CHORD)
        if len(outline) < 3 or np.linalg.matrix_rank(outline - outline[0], tol=1e-12 * extent) < 2:
            return outline  # a straight sheet
        return np.asarray(outline[ConvexHull(outline).vertices])


def farthest(hull: Array, directions: Array) -> Array:
    """How far a convex outline (m, 2), its corners counter-clockwise, reaches along each direction (n, 2): the greatest
    p.d over it, (n,).

    The corner is found by its edges' normals, which turn one way round the outline; its neighbours are looked at too,
    as angles are rounded.
    """
    if len(hull) <= FEW_CORNERS:
        return np.asarray((directions @ hull.T).max(axis=1))
    edges = np.roll(hull, -1, axis=0) - hull
    normals = np.arctan2(-edges[:, 0], edges[:, 1])
    first = int(np.argmin(normals))
    passed = np.searchsorted(np.roll(normals, -first), np.arctan2(directions[:, 1], directions[:, 0]))
    corners = hull[(first + passed[:, None] + [-1, 0, 1]) % len(hull)]
    return np.asarray((corners * directions[:, None]).sum(axis=-1).max(axis=1))
