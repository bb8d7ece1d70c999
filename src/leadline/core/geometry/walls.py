"""Walls: outlines moved to one side, closed ones hollowed, open ones given a thickness."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np
import shapely
from scipy.interpolate import make_interp_spline

from leadline.core.geometry.edges import Edge, arc_edges, line_edge, spline_edge
from leadline.core.geometry.plane import Array
from leadline.core.geometry.section import Loop, Region
from leadline.core.problems import Problem, mm

Side = Literal["inward", "outward", "both"]


def hollow(region: Region, wall: float, side: Side = "inward") -> Region:
    """A ring of thickness ``wall`` mm inside the region's outer loop, outside it, or half on each side.

    Raises:
        Problem: the wall leaves no hollow, the region has islands, or its outline cannot be offset.
    """
    if wall <= 0:
        raise Problem(
            "bad-size", "The wall thickness is not above zero.", "Give a wall above zero, or none.", of="wall"
        )
    if region.holes:
        raise Problem(
            "wall-with-islands",
            "The profile already has a hole, and a wall thickness is asked for as well.",
            "Take the wall away, or pick a region without a hole.",
            of="wall",
        )
    inward, outward = {"inward": (wall, 0.0), "outward": (0.0, wall), "both": (wall / 2, wall / 2)}[side]
    inner = _offset(region.outer, inward) if inward else region.outer
    outer = _offset(region.outer, -outward) if outward else region.outer
    return Region(outer.oriented(True), (inner.oriented(False),))


def band(sheet: Region, wall: float, side: Side = "inward") -> Region:
    """An open outline given a thickness: inward is the side that it bends to, or its left where it is straight.

    Raises:
        Problem: the thickness is not above zero, or the outline bends too tightly for it.
    """
    if wall <= 0:
        raise Problem("bad-size", "The thickness is not above zero.", "Give one above zero, or none.", of="wall")
    chain = sheet.outer
    left = 1.0 if _turning(chain) >= 0 else -1.0
    inward, outward = {"inward": (wall, 0.0), "outward": (0.0, wall), "both": (wall / 2, wall / 2)}[side]
    inner = _beside(chain, left * inward) if inward else chain.edges
    outer = _beside(chain, -left * outward) if outward else chain.edges
    ends = [line_edge(outer[-1].end, inner[-1].end, "rim-end"), line_edge(inner[0].start, outer[0].start, "rim-start")]
    back = [replace(e.reversed(), origin=f"{e.origin}-back") for e in reversed(inner)]
    outline = Loop((*outer, ends[0], *back, ends[1])).oriented(True)
    if not shapely.Polygon(outline.polygon(0.01)).is_valid:
        raise _vanishes(wall)
    return Region(outline)


def _turning(chain: Loop) -> float:
    """The signed angle (rad) by which an open outline turns from end to end."""
    p = chain.polygon(0.05)
    d = np.diff(p, axis=0)
    turn = np.arctan2(d[:-1, 0] * d[1:, 1] - d[:-1, 1] * d[1:, 0], (d[:-1] * d[1:]).sum(axis=1))
    return float(turn.sum()) if abs(float(turn.sum())) > 1e-6 else 0.0


def _beside(chain: Loop, d: float) -> tuple[Edge, ...]:
    """The open outline moved to its left by d, piece by piece."""
    pieces = _merged_arcs(chain)
    splines = [e for e in chain.edges if not e.straight and e.arc is None]
    moved = iter([_offset_spline(e, d) for e in splines])
    curves = [next(moved) if p.kind == "spline" else None for p in pieces]

    def end(i: int, last: bool) -> Array:
        curve, piece = curves[i], pieces[i]
        at = piece.end if last else piece.start
        return at + d * _inner_normal(piece, at) if curve is None else (curve.end if last else curve.start)

    corners = [end(0, False)]
    for i in range(len(pieces) - 1):
        if curves[i] is None and curves[i + 1] is None:
            corners.append(_offset_corner(pieces[i], pieces[i + 1], d))
            continue
        if np.abs(end(i, True) - end(i + 1, False)).max() > 1e-6:
            raise Problem(
                "wall-at-corner",
                "The outline has a sharp corner at a spline.",
                "Draw the other side of it as well.",
                of="wall",
            )
        corners.append(end(i, True))
    corners.append(end(len(pieces) - 1, True))
    edges: list[Edge] = []
    for piece, curve, a, b in zip(pieces, curves, corners, corners[1:], strict=False):
        edges += _moved(piece, a, b, d) if curve is None else [curve]
    return tuple(edges)


def _offset(loop: Loop, d: float) -> Loop:
    """The loop set in by d, or out where d is below zero."""
    drawn = shapely.Polygon(loop.polygon())
    widest = _inradius(drawn)
    if d >= widest:
        raise Problem(
            "wall-too-thick",
            f"A wall of {mm(d)} leaves no hollow: the profile's inner radius is {mm(widest)}.",
            f"Give less than {mm(widest)}.",
            of="wall",
        )
    pieces = _merged_arcs(loop)
    if len(pieces) == 1 and pieces[0].kind == "circle":
        c = pieces[0]
        return Loop(tuple(arc_edges(c.center, c.radius - d, 0.0, 2 * math.pi, c.origin)))
    if any(p.kind == "spline" for p in pieces):
        return _offset_smooth(loop, d)
    moved = _offset_lines_and_arcs(pieces, d)
    polygon = shapely.Polygon(moved.polygon())
    fits = polygon.is_valid and moved.area > 0 and (polygon.area < drawn.area) == (d > 0)
    if not fits or drawn.exterior.distance(polygon.exterior) < abs(d) * (1 - 1e-3) - 2e-3:
        raise Problem(
            "wall-swallows-edges",
            f"Set {'in' if d > 0 else 'out'} by {mm(abs(d))}, some edges of the profile vanish.",
            "Give a thinner wall, or draw the other outline.",
            of="wall",
        )
    return moved


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
    if len(pieces) == 1 and pieces[0].kind == "arc" and not loop.open:
        pieces[0].kind = "circle"
    return pieces


def _offset_lines_and_arcs(pieces: list[_Piece], d: float) -> Loop:
    n = len(pieces)
    corners = [_offset_corner(pieces[i - 1], pieces[i], d) for i in range(n)]
    edges: list[Edge] = []
    for i, piece in enumerate(pieces):
        edges += _moved(piece, corners[i], corners[(i + 1) % n], d)
    return Loop(tuple(edges))


def _moved(piece: _Piece, a: Array, b: Array, d: float) -> list[Edge]:
    """A line or an arc moved to its left by d, from a to b."""
    if piece.kind == "line":
        if float((b - a) @ (piece.end - piece.start)) <= 0:
            raise _vanishes(d)
        return [line_edge(a, b, piece.origin)]
    c = np.array(piece.center)
    radius = piece.radius - piece.turn * d
    if radius <= 1e-9:
        raise _vanishes(d)
    first, last = (math.atan2(*(p - c)[::-1]) for p in (a, b))
    sweep = (last - first) * piece.turn % (2 * math.pi) * piece.turn
    return arc_edges(c, radius, first, sweep, piece.origin)


def _vanishes(d: float) -> Problem:
    return Problem(
        "wall-swallows-edges",
        f"Set {'in' if d > 0 else 'out'} by {mm(abs(d))}, an edge of the profile vanishes.",
        "Give a thinner wall, or draw the inner outline.",
        of="wall",
    )


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
                "wall-on-mixed-outline",
                "A wall inside an outline that mixes splines with lines or arcs is not possible yet.",
                "Draw the inner outline as well.",
                of="wall",
            )
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
