"""Splines through curves that are known point by point, and planar edges as pieces of a path."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from scipy.interpolate import BSpline, make_interp_spline

from leadline.core.geometry.edges import Edge
from leadline.core.geometry.plane import Array, Plane
from leadline.core.paths.pieces import ArcPiece, LinePiece, Piece, SplinePiece

FEWEST, MOST = 16, 2048  # steps of a fitted spline
TOLERANCE = 1e-7  # mm


def fitted_piece(follow: Callable[[Array], Array], start: float, end: float, origin: str) -> SplinePiece:
    """A curve as a piece of a path, by ``fitted``."""
    return SplinePiece(fitted(follow, start, end), origin)


def fitted(follow: Callable[[Array], Array], start: float, end: float) -> BSpline:
    """A quintic spline through a smooth curve ``follow`` (parameters (n,) to points (n, 3)), within 1e-7 mm of it
    midway between its knots, or as near as 2,048 steps come.
    """
    n = FEWEST
    while True:
        u = np.linspace(start, end, n + 1)
        spline = make_interp_spline(u, follow(u), k=5)
        middle = (u[:-1] + u[1:]) / 2
        off = float(np.linalg.norm(spline(middle) - follow(middle), axis=1).max())
        if off < TOLERANCE or n >= MOST:
            return spline
        n *= 2


@dataclass(frozen=True)
class PlacedEdge:
    """A planar edge in space, as a curve."""

    edge: Edge
    plane: Plane

    @property
    def t(self) -> Array:
        return self.edge.knots

    @property
    def k(self) -> int:
        return self.edge.degree

    def __call__(self, u: Array) -> Array:
        return self.plane.to_space(self.edge.point(u))

    def derivative(self, nu: int = 1) -> Callable[[Array], Array]:
        change = self.edge.derivative if nu == 1 else self.edge.second
        return lambda u: np.asarray(change(u) @ np.stack([self.plane.x, self.plane.y]))


def placed_piece(edge: Edge, plane: Plane) -> Piece:
    """A planar edge in space: a line, an arc or a spline, exact."""
    if edge.straight:
        a, b = plane.to_space(np.array([edge.start, edge.end]))
        return LinePiece(a, b, edge.origin)
    if edge.arc is None:
        return SplinePiece(PlacedEdge(edge, plane), edge.origin, plane.normal)
    x, y, radius = edge.arc
    center = np.array([x, y])
    out, along = (edge.start - center) / radius, edge.derivative(edge.domain[0])
    side = 1.0 if out[0] * along[1] - out[1] * along[0] > 0 else -1.0
    angle = float(np.arctan2(*((edge.end - center) @ np.array([[-out[1] * side, out[0]], [out[0] * side, out[1]]]))))
    u = out[0] * plane.x + out[1] * plane.y
    v = side * (-out[1] * plane.x + out[0] * plane.y)
    return ArcPiece(
        plane.to_space(center[None])[0], u, v, radius, angle if angle > 0 else angle + 2 * np.pi, edge.origin
    )
