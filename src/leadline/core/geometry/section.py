"""Sections: closed loops of edges, regions with islands and their moments."""

from __future__ import annotations

import itertools
from collections.abc import Callable
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from scipy.spatial import ConvexHull

from leadline.core.geometry.edges import Edge
from leadline.core.geometry.plane import Array

HULL_CHORD = 1e-5  # of the section's size
_GAUSS_X, _GAUSS_W = np.polynomial.legendre.leggauss(12)


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
        return 0.0 if self.open else float(self._integral(lambda x, y: (x, y)[0])[0])

    def _integral(self, antiderivative: Callable[[Array, Array], Array]) -> Array:
        """Green: sum over edges of the integral of antiderivative(x, y) dy, shape (k,)."""
        total: Array | float = 0.0
        for edge in self.edges:
            spans = np.unique(edge.knots[edge.degree : -edge.degree])
            for a, b in itertools.pairwise(spans):
                t = (a + b) / 2 + (b - a) / 2 * _GAUSS_X
                (x, y), dy = edge.point(t)[:, :2].T, edge.derivative(t)[:, 1]
                values = np.atleast_2d(antiderivative(x, y))
                total = total + (values * dy * _GAUSS_W).sum(axis=1) * (b - a) / 2
        return np.asarray(total)

    def moments(self) -> Array:
        """[area, Sx, Sy, Sxx, Sxy, Syy]: integrals of 1, x, y, x², xy, y² over the inside, signed."""
        return self._integral(lambda x, y: np.array([x, x**2 / 2, x * y, x**3 / 3, x**2 * y / 2, x * y**2]))

    @cached_property
    def girth(self) -> float:
        """The length of the outline."""
        total = 0.0
        for edge in self.edges:
            for a, b in itertools.pairwise(np.unique(edge.knots[edge.degree : -edge.degree])):
                speed = np.linalg.norm(edge.derivative((a + b) / 2 + (b - a) / 2 * _GAUSS_X)[:, :2], axis=1)
                total += float((speed * _GAUSS_W).sum()) * (b - a) / 2
        return total

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

    def moments(self) -> Array:
        """[area, Sx, Sy, Sxx, Sxy, Syy] of the region."""
        return np.zeros(6) if self.sheet else np.asarray(sum(loop.moments() for loop in self.loops))

    @property
    def area(self) -> float:
        return float(self.moments()[0])

    @property
    def girth(self) -> float:
        """The length of all of its outlines together."""
        return sum(loop.girth for loop in self.loops)

    def mapped(self, matrix: Array, shift: Array) -> Region:
        """The region under a rigid map; a mirroring one turns the loops round again."""
        loops = [Loop(tuple(e.mapped(matrix, shift) for e in loop.edges), loop.open) for loop in self.loops]
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
