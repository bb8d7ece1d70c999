"""Sections that change by more than an affine map: their points have further coordinates, each with a carrier of its
own.

Four rails and more bend the section's plane, by the smoothest map through all of them.

A section point p goes to b + L p + Σ w_k φ(|p - a_k|) with the anchors a_k and φ(r) = r³. The cubic is smooth enough at
the anchors for spline faces (its second derivatives are continuous there, those of the thin plate's r² log r are not),
reproduces affine maps exactly and has a solution for any anchors that do not stand in one line
(Wendland, Scattered Data Approximation, 2005, ch. 8).
"""

from __future__ import annotations

import itertools
from dataclasses import dataclass
from functools import cached_property
from typing import Protocol

import numpy as np
from scipy.interpolate import make_interp_spline

from leadline.core.geometry.edges import Edge, spline_edge
from leadline.core.geometry.plane import Array

MOST_NODES = 600


class Lift(Protocol):
    """What gives section points their m further coordinates."""

    def lift(self, p: Array) -> Array:
        """The further coordinates (..., m) of section points p."""
        ...

    def along(self, p: Array, d: Array) -> Array:
        """How they change at p in the direction d, (..., m)."""
        ...

    def most(self, extent: float) -> Array:
        """Bounds (m,) of them within ``extent`` of the origin."""
        ...

    def lifted(self, edge: Edge, tolerance: float) -> Edge:
        """An edge of the section with them, control (n, 2 + m)."""
        ...


@dataclass(frozen=True)
class Stack:
    """Section points that have their further coordinates from the start, as columns after x and y.

    ``bounds`` (m,) of them are known.
    """

    bounds: Array

    def lift(self, p: Array) -> Array:
        return np.asarray(p[..., 2:])

    def along(self, p: Array, d: Array) -> Array:  # noqa: ARG002
        return np.asarray(d[..., 2:])

    def most(self, extent: float) -> Array:  # noqa: ARG002
        return self.bounds

    def lifted(self, edge: Edge, tolerance: float) -> Edge:  # noqa: ARG002
        return edge


@dataclass(frozen=True)
class Warp:
    """The smoothest map of the section's plane; ``anchors`` (m, 2) are not all in one line."""

    anchors: Array

    @cached_property
    def _scale(self) -> float:
        return float(np.linalg.norm(self.anchors - self.anchors.mean(axis=0), axis=1).max())

    def lift(self, p: Array) -> Array:
        """The m radial functions at points p (..., 2), shape (..., m)."""
        away = np.linalg.norm(p[..., None, :] - self.anchors, axis=-1) / self._scale
        return np.asarray(away**3)

    def gradient(self, p: Array) -> Array:
        """Their gradients, (..., m, 2)."""
        to = (p[..., None, :] - self.anchors) / self._scale
        return np.asarray(3 * np.linalg.norm(to, axis=-1, keepdims=True) * to / self._scale)

    def along(self, p: Array, d: Array) -> Array:
        """Their derivatives at p in the direction d (..., 2), shape (..., m)."""
        return np.asarray((self.gradient(p) @ d[..., None])[..., 0])

    def most(self, extent: float) -> Array:
        """Bounds (m,) of the radial functions within ``extent`` of the origin."""
        return np.asarray(((extent + np.linalg.norm(self.anchors, axis=1)) / self._scale) ** 3)

    @cached_property
    def _solver(self) -> Array:
        m = len(self.anchors)
        affine = np.column_stack([np.ones(m), self.anchors])
        system = np.block([[self.lift(self.anchors), affine], [affine.T, np.zeros((3, 3))]])
        return np.asarray(np.linalg.inv(system)[:, :m])

    def solve(self, r: Array) -> tuple[Array, Array, Array]:
        """L (n, 2, 2), b (n, 2) and w (n, m, 2) that bring the anchors to r (m, n, 2); linear in r, so slopes too."""
        found = np.einsum("im,mnk->nik", self._solver, r)
        m = len(self.anchors)
        return np.moveaxis(found[:, m + 1 :], 1, 2), found[:, m], found[:, :m]

    def lifted(self, edge: Edge, tolerance: float) -> Edge:
        """The edge with the radial functions as further coordinates, control (n, 2 + m), a spline within
        ``tolerance``.
        """

        def coordinates(t: Array) -> Array:
            p = edge.point(t)
            return np.hstack([p, self.lift(p)])

        def fitted(nodes: int) -> Edge:
            inner = np.unique(edge.knots[edge.degree : -edge.degree])
            t = np.unique(np.concatenate([np.linspace(a, b, nodes) for a, b in itertools.pairwise(inner)]))
            return spline_edge(make_interp_spline(t, coordinates(t), k=5), edge.origin)

        nodes = 8
        while True:
            found = fitted(nodes)
            t = np.linspace(*edge.domain, 5 * len(found.control) + 1)
            if np.abs(found.point(t) - coordinates(t)).max() <= tolerance or nodes > MOST_NODES:
                return found
            nodes += nodes // 2
