"""One side of a swept body, moved along its own normals: see ``leadline.core.surfaces.offset`` for the whole.

A side is parametrised over a rectangle: u, from 0 to 1, is the share along the section's edge, and s is the station.
A point (u, s) of this rectangle is called a *place*.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from leadline.core.geometry.edges import Edge
from leadline.core.geometry.plane import Array, cross
from leadline.core.problems import Problem
from leadline.core.sweep.motion import Motion, Span

Height = Callable[[Array], Array]
"""How far a surface is moved, mm, by station (n,)."""

FLAT_STEP = 1e-6  # share of the edge or the span: step of central differences, near the cube root of rounding


@dataclass
class Side:
    """One edge of the section carried along one span of the motion, and moved along its normals.

    Attributes:
        motion: The motion.
        span: The span of the motion that it lies on.
        edge: The edge of the section.
        start: The station at which it begins, mm; inside the span where the height changes its slope.
        end: The station at which it ends, mm.
        height: How far it is moved, mm, by station.
        before: The side that continues it smoothly before ``start``, with the number to be added to a station of this
            side to get that side's station: 0, but not at the seam of a closed path. None where there is none; its own
            carriers are then extrapolated.
        after: The same beyond ``end``.
    """

    motion: Motion
    span: Span
    edge: Edge
    start: float
    end: float
    height: Height
    before: tuple[Side, float] | None = None
    after: tuple[Side, float] | None = None

    @property
    def name(self) -> str:
        """As the faces of sweeps are named: ``<section edge>/<path piece>``."""
        return f"{self.edge.origin}/{self.span.origin or self.span.piece}"

    def at(self, w: Array) -> Array:
        """Points of the moved side, (n, 3), mm, at places w (n, 2), which may lie beyond its borders."""
        point, along, across = self.base(w)
        return point + self.height(w[:, 1])[:, None] * unit_normals(along, across)

    def base(self, w: Array) -> tuple[Array, Array, Array]:
        """Points of the side before it is moved, mm, and their derivatives by s and by u, at places w (n, 2): (n, 3)
        each.
        """
        a, b = self.edge.domain
        t = a + w[:, 0] * (b - a)
        p, d = self.edge.point(t), self.edge.derivative(t) * (b - a)
        carriers, slopes = self._carriers(w[:, 1])
        return carriers[:, 0] + _carried(p, carriers), slopes[:, 0] + _carried(p, slopes), _carried(d, carriers)

    def _carriers(self, s: Array) -> tuple[Array, Array]:
        """The motion's carriers at stations s (n,), and their derivatives: (n, k, 3) each.

        Beyond the side's ends they are those of the sides that continue it.
        """
        found, slopes = self._own_carriers(s)
        for neighbour, beyond in ((self.before, s < self.start), (self.after, s > self.end)):
            if neighbour is not None and beyond.any():
                other, shift = neighbour
                found[beyond], slopes[beyond] = other._own_carriers(s[beyond] + shift)
        return found, slopes

    def _own_carriers(self, s: Array) -> tuple[Array, Array]:
        span = self.span
        if span.spline is not None:
            return span.spline(s).reshape(len(s), -1, 3), span.spline(s, 1).reshape(len(s), -1, 3)
        first, tangent = self._first
        ahead = s - span.start
        if span.axis is None:
            still = np.zeros((len(s), *first.shape))
            still[:, 0] = tangent
            moved = np.broadcast_to(first, still.shape).copy()
            moved[:, 0] += ahead[:, None] * tangent
            return moved, still
        center, axis, sweep = span.axis
        rate = sweep / (span.end - span.start)
        arms = first - np.vstack([center, np.zeros((len(first) - 1, 3))])
        along = np.outer(arms @ axis, axis)
        c, n = np.cos(rate * ahead)[:, None, None], np.sin(rate * ahead)[:, None, None]
        turned = along + c * (arms - along) + n * cross(np.broadcast_to(axis, arms.shape), arms)
        slopes = rate * cross(np.broadcast_to(axis, turned.shape), turned)
        turned[:, 0] += center
        return turned, slopes

    @cached_property
    def _first(self) -> tuple[Array, Array]:
        f = self.motion.frames_on(self.span.piece, np.array([self.span.start]))
        return np.asarray(f.carriers[0]), np.asarray(f.T[0])

    def slopes(self, w: Array) -> tuple[Array, Array]:
        """The derivatives of the moved points by u and by s at places w (n, 2), by central differences: (n, 3) each."""
        found = []
        for k, size in ((0, 1.0), (1, self.end - self.start)):
            h = np.zeros(2)
            h[k] = FLAT_STEP * size
            found.append((self.at(w + h) - self.at(w - h)) / (2 * h[k]))
        return found[0], found[1]

    def turned_over(self, w: Array) -> Array:
        """At which places w (n, 2) the moved side is turned over, (n,).

        It is where the side is moved beyond its own radius of curvature: there its normal points against that of the
        side before it was moved.
        """
        across, along = self.slopes(w)
        _, own_along, own_across = self.base(w)
        return np.asarray((cross(across, along) * cross(own_across, own_along)).sum(axis=1) <= 0)


def _carried(p: Array, carriers: Array) -> Array:
    """Section points p (n, k), each multiplied by the carriers after C at its own station, (n, 1 + k, 3): (n, 3)."""
    return np.asarray(np.einsum("nk,nkj->nj", p, carriers[:, 1:]))


def unit_normals(along: Array, across: Array) -> Array:
    """The unit normals of a side, (n, 3), which point out of a closed section.

    Args:
        along: Derivatives of the side's points by station, (n, 3).
        across: Their derivatives by the edge's parameter, (n, 3).

    Raises:
        Problem: the two are parallel, or one is 0, so that there is no normal.
    """
    n = cross(across, along)
    size = np.linalg.norm(n, axis=1)
    if not (size > 1e-12 * np.linalg.norm(along, axis=1) * max(1.0, float(np.linalg.norm(across, axis=1).max()))).all():
        raise Problem(
            "no-normal",
            "The surface ends in a point, where it has no side.",
            "End it in a section that is no point.",
            of="surface",
        )
    return np.asarray(n / size[:, None])
