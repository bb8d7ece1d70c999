"""Sections: closed loops of edges, regions with islands, their moments and their inward offset."""

from __future__ import annotations

import itertools
import math
from collections.abc import Callable
from dataclasses import dataclass
from functools import cached_property

import numpy as np
import shapely
from scipy.interpolate import make_interp_spline

from leadline.core.geometry.edges import Edge, arc_edges, line_edge, spline_edge
from leadline.core.geometry.plane import Array
from leadline.core.problems import Problem

_GAUSS_X, _GAUSS_W = np.polynomial.legendre.leggauss(12)


@dataclass(frozen=True)
class Loop:
    """Edges end to end, closed."""

    edges: tuple[Edge, ...]

    def polygon(self, chord: float = 1e-3) -> Array:
        """The outline as points (n, 2), not repeating the first."""
        return np.vstack([e.point(e.samples(chord)[:-1]) for e in self.edges])

    @cached_property
    def area(self) -> float:
        """Signed area, positive when the loop runs counter-clockwise."""
        return float(self._integral(lambda x, y: (x, y)[0])[0])

    def _integral(self, antiderivative: Callable[[Array, Array], Array]) -> Array:
        """Green: sum over edges of the integral of antiderivative(x, y) dy, shape (k,)."""
        total: Array | float = 0.0
        for edge in self.edges:
            spans = np.unique(edge.knots[edge.degree : -edge.degree])
            for a, b in itertools.pairwise(spans):
                t = (a + b) / 2 + (b - a) / 2 * _GAUSS_X
                (x, y), dy = edge.point(t).T, edge.derivative(t)[:, 1]
                values = np.atleast_2d(antiderivative(x, y))
                total = total + (values * dy * _GAUSS_W).sum(axis=1) * (b - a) / 2
        return np.asarray(total)

    def moments(self) -> Array:
        """[area, Sx, Sy, Sxx, Sxy, Syy]: integrals of 1, x, y, x², xy, y² over the inside, signed."""
        return self._integral(lambda x, y: np.array([x, x**2 / 2, x * y, x**3 / 3, x**2 * y / 2, x * y**2]))

    def reversed(self) -> Loop:
        return Loop(tuple(e.reversed() for e in reversed(self.edges)))

    def oriented(self, counter_clockwise: bool) -> Loop:
        return self if (self.area > 0) == counter_clockwise else self.reversed()


@dataclass(frozen=True)
class Region:
    """An outer loop (counter-clockwise) with islands (clockwise). ``id`` is its outer loop's first origin."""

    outer: Loop
    holes: tuple[Loop, ...] = ()

    @property
    def id(self) -> str:
        return min(e.origin for e in self.outer.edges)

    @property
    def loops(self) -> tuple[Loop, ...]:
        return (self.outer, *self.holes)

    def moments(self) -> Array:
        """[area, Sx, Sy, Sxx, Sxy, Syy] of the region."""
        return np.asarray(sum(loop.moments() for loop in self.loops))

    @property
    def area(self) -> float:
        return float(self.moments()[0])

    def mapped(self, matrix: Array, shift: Array) -> Region:
        """The region under a rigid map; a mirroring one turns the loops round again."""
        loops = [Loop(tuple(e.mapped(matrix, shift) for e in loop.edges)) for loop in self.loops]
        return Region(loops[0].oriented(True), tuple(loop.oriented(False) for loop in loops[1:]))

    def hull(self) -> Array:
        """Corners (n, 2) of the convex hull of the outline, arcs sampled finely on the outside."""
        extent = float(np.ptp(self.outer.polygon(1.0), axis=0).max())
        polygon = shapely.Polygon(self.outer.polygon(extent * 1e-6))
        return np.asarray(polygon.convex_hull.exterior.coords)[:-1]


def hollow(region: Region, wall: float) -> Region:
    """The region's outer loop with an inner loop offset inward by ``wall`` mm.

    Raises:
        Problem: the wall leaves no hollow, the region has islands, or its outline cannot be offset.
    """
    if wall <= 0:
        raise Problem(
            "bad-size", "The wall thickness is not above zero.", "Give a wall above zero, or none.", field="wall"
        )
    if region.holes:
        raise Problem(
            "wall-with-islands", "The profile already has a hole, and a wall thickness is asked for as well.",
            "Take the wall away, or pick a region without a hole.", field="wall",
        )  # fmt: skip
    inner = _offset_inward(region.outer, wall)
    return Region(region.outer, (inner.oriented(False),))


def _offset_inward(loop: Loop, d: float) -> Loop:
    outer = shapely.Polygon(loop.polygon())
    widest = _inradius(outer)
    if d >= widest:
        raise Problem(
            "wall-too-thick", f"A wall of {d:.4g} mm leaves no hollow: the profile's inner radius is {widest:.4g} mm.",
            f"Give less than {widest:.4g} mm.", field="wall",
        )  # fmt: skip
    pieces = _merged_arcs(loop)
    if len(pieces) == 1 and pieces[0].kind == "circle":
        c = pieces[0]
        return Loop(tuple(arc_edges(c.center, c.radius - d, 0.0, 2 * math.pi, c.origin)))
    if any(p.kind == "spline" for p in pieces):
        return _offset_smooth(loop, d)
    inner = _offset_lines_and_arcs(pieces, d)
    polygon = shapely.Polygon(inner.polygon())
    fits = polygon.is_valid and inner.area > 0 and polygon.area < outer.area
    if not fits or outer.exterior.distance(polygon.exterior) < d * (1 - 1e-3) - 2e-3:
        raise Problem(
            "wall-swallows-edges", f"Set in by {d:.4g} mm, some edges of the profile vanish.",
            "Give a thinner wall, or draw the inner outline.", field="wall",
        )  # fmt: skip
    return inner


def _inradius(polygon: shapely.Polygon) -> float:
    return float(shapely.maximum_inscribed_circle(polygon).length)


@dataclass
class _Piece:
    kind: str
    origin: str
    start: Array
    end: Array
    center: tuple[float, float] = (0.0, 0.0)
    radius: float = 0.0
    turn: float = 1.0


def _merged_arcs(loop: Loop) -> list[_Piece]:
    """Quarter arcs of one circle joined again; the loop runs counter-clockwise."""
    pieces: list[_Piece] = []
    for e in loop.edges:
        if e.arc is None:
            pieces.append(_Piece("line" if e.straight else "spline", e.origin, e.start, e.end))
            continue
        last = pieces[-1] if pieces else None
        if last and last.kind == "arc" and last.origin == e.origin and np.allclose(last.end, e.start):
            last.end = e.end
            continue
        middle = e.point(sum(e.domain) / 2) - np.array(e.arc[:2])
        first = e.start - np.array(e.arc[:2])
        turn = 1.0 if first[0] * middle[1] - first[1] * middle[0] > 0 else -1.0
        pieces.append(_Piece("arc", e.origin, e.start, e.end, e.arc[:2], e.arc[2], turn))
    if len(pieces) == 1 and pieces[0].kind == "arc":
        pieces[0].kind = "circle"
    return pieces


def _offset_lines_and_arcs(pieces: list[_Piece], d: float) -> Loop:
    n = len(pieces)
    corners = [_offset_corner(pieces[i - 1], pieces[i], d) for i in range(n)]
    edges: list[Edge] = []
    for i, piece in enumerate(pieces):
        a, b = corners[i], corners[(i + 1) % n]
        if piece.kind == "line":
            if float((b - a) @ (piece.end - piece.start)) <= 0:
                raise _vanishes(d)
            edges.append(line_edge(a, b, piece.origin))
            continue
        c = np.array(piece.center)
        radius = piece.radius - piece.turn * d
        if radius <= 1e-9:
            raise _vanishes(d)
        first, last = (math.atan2(*(p - c)[::-1]) for p in (a, b))
        sweep = (last - first) * piece.turn % (2 * math.pi) * piece.turn
        edges.extend(arc_edges(c, radius, first, sweep, piece.origin))
    return Loop(tuple(edges))


def _vanishes(d: float) -> Problem:
    return Problem(
        "wall-swallows-edges", f"Set in by {d:.4g} mm, an edge of the profile vanishes.",
        "Give a thinner wall, or draw the inner outline.", field="wall",
    )  # fmt: skip


def _offset_corner(before: _Piece, after: _Piece, d: float) -> Array:
    """Where the two pieces, each set in by d, meet near their common corner."""
    corner = after.start
    normals = [_inner_normal(before, before.end), _inner_normal(after, after.start)]
    if abs(normals[0][0] * normals[1][1] - normals[0][1] * normals[1][0]) < 1e-9:
        return corner + d * normals[1]
    p = corner + d * (normals[0] + normals[1]) / (1 + float(normals[0] @ normals[1]))
    for _ in range(60):
        r = np.array([_offset_gap(piece, p, d) for piece in (before, after)])
        if np.abs(r).max() < 1e-13:
            break
        J = np.array([_inner_normal(piece, p) for piece in (before, after)])
        if abs(np.linalg.det(J)) < 1e-12:
            raise _vanishes(d)
        p = p - np.linalg.solve(J, r)
    if np.abs(r).max() > 1e-9:
        raise _vanishes(d)
    return p


def _inner_normal(piece: _Piece, at: Array) -> Array:
    if piece.kind == "line":
        u = piece.end - piece.start
        return np.asarray(np.array([-u[1], u[0]]) / np.hypot(*u))
    v = np.array(piece.center) - at
    return np.asarray(piece.turn * v / np.hypot(*v))


def _offset_gap(piece: _Piece, p: Array, d: float) -> float:
    """Signed distance of p from the piece, inward, less d."""
    if piece.kind == "line":
        return float((p - piece.start) @ _inner_normal(piece, p)) - d
    return float(piece.turn * (piece.radius - np.hypot(*(p - np.array(piece.center))))) - d


def _offset_smooth(loop: Loop, d: float) -> Loop:
    """Offset each spline edge by interpolation, refined until it is within 1e-6 of the size."""
    edges = []
    for edge in loop.edges:
        if edge.arc is not None or edge.straight:
            raise Problem(
                "wall-on-mixed-outline", "A wall inside an outline that mixes splines with lines or arcs is not possible yet.",
                "Draw the inner outline as well.", field="wall",
            )  # fmt: skip
        edges.append(_offset_spline(edge, d))
    for a, b in zip(edges, edges[1:] + edges[:1], strict=True):
        if np.abs(a.end - b.start).max() > 1e-6:
            raise Problem(
                "wall-at-corner", "The outline has a sharp corner between splines.", "Draw the inner outline."
            )
    return Loop(tuple(edges))


def _offset_spline(edge: Edge, d: float) -> Edge:
    def inside(t: Array) -> Array:
        tangent = edge.derivative(t)
        normal = np.stack([-tangent[:, 1], tangent[:, 0]], axis=1) / np.linalg.norm(tangent, axis=1)[:, None]
        return np.asarray(edge.point(t) + d * normal)

    a, b = edge.domain
    for n in (24, 48, 96, 192, 384):
        t = np.linspace(a, b, n + 1)
        fit = make_interp_spline(t, inside(t), k=3)
        middle = (t[1:] + t[:-1]) / 2
        if np.abs(fit(middle) - inside(middle)).max() < 1e-5:
            break
    return spline_edge(fit, edge.origin)
