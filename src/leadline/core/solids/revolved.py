"""Solids of revolution. A profile may touch its axis, where a sweep's faces would come to a point."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from OCP.BRepBuilderAPI import (
    BRepBuilderAPI_MakeEdge,
    BRepBuilderAPI_MakeFace,
    BRepBuilderAPI_MakeVertex,
    BRepBuilderAPI_MakeWire,
)
from OCP.BRepExtrema import BRepExtrema_DistShapeShape
from OCP.BRepPrimAPI import BRepPrimAPI_MakeRevol
from OCP.Geom import Geom_Circle, Geom_Line
from OCP.gp import gp_Ax1, gp_Ax2

from leadline.core.geometry.edges import Edge
from leadline.core.geometry.plane import Array, Plane, cross
from leadline.core.geometry.section import Loop, Region
from leadline.core.problems import Problem
from leadline.core.solids.body import Body
from leadline.core.solids.kernel import Shape, bspline_curve, direction, edges, faces, gp_plane, pnt


@dataclass(frozen=True)
class Turn:
    """About the line through ``point`` (3,) along the unit ``axis`` (3,) by ``angle`` (rad), all round when
    ``full``.
    """

    point: Array
    axis: Array
    angle: float
    full: bool


def revolved(plane: Plane, regions: Sequence[Region], turn: Turn, owner: str, name: str) -> list[Body]:
    """One solid per region of a plane, faces named ``owner/side/<edge>/0`` and ``owner/cap/start|end``.

    Raises:
        Problem: the kernel gives up.
    """
    return [
        _body(plane, region, turn, owner, name if len(regions) == 1 else f"{name} {i + 1}")
        for i, region in enumerate(regions)
    ]


def _body(plane: Plane, region: Region, turn: Turn, owner: str, title: str) -> Body:
    origins: list[tuple[Shape, str]] = []
    wires = [_wire(plane, loop, origins) for loop in region.loops]
    flat = gp_plane(plane)
    maker = BRepBuilderAPI_MakeFace(flat, wires[0], True)
    for hole in wires[1:]:
        maker.Add(hole)
    axis = gp_Ax1(pnt(turn.point), direction(turn.axis))
    revol = (
        BRepPrimAPI_MakeRevol(maker.Face(), axis)
        if turn.full
        else BRepPrimAPI_MakeRevol(maker.Face(), axis, turn.angle)
    )
    if not revol.IsDone():
        raise Problem("kernel", "The kernel could not revolve the profile.", "Change a size slightly.")
    shape = revol.Shape()
    named: list[tuple[Shape, str]] = [
        (made, f"{owner}/side/{origin}/0") for edge, origin in origins for made in revol.Generated(edge)
    ]
    if not turn.full:
        named += [(revol.FirstShape(), f"{owner}/cap/start"), (revol.LastShape(), f"{owner}/cap/end")]
    names = [
        next((n for f, n in named if f.IsSame(face)), None) or _through(face, plane, region, owner)
        for face in faces(shape)
    ]
    return Body(title, shape, names)


def _through(face: Shape, plane: Plane, region: Region, owner: str) -> str:
    """The name of a face that the kernel's history leaves out (full discs): by the edge whose middle lies on it."""

    def away(edge: Edge) -> float:
        middle = plane.to_space(edge.point(np.array([sum(edge.domain) / 2]))[0])
        return float(BRepExtrema_DistShapeShape(BRepBuilderAPI_MakeVertex(pnt(middle)).Vertex(), face).Value())

    nearest = min((e for loop in region.loops for e in loop.edges), key=away)
    return f"{owner}/side/{nearest.origin}/0"


def _wire(plane: Plane, loop: Loop, origins: list[tuple[Shape, str]]) -> Shape:
    corners = [BRepBuilderAPI_MakeVertex(pnt(plane.to_space(e.start))).Vertex() for e in loop.edges]
    maker = BRepBuilderAPI_MakeWire()
    for k, edge in enumerate(loop.edges):
        made = _edge(plane, edge, corners[k], corners[(k + 1) % len(corners)])
        maker.Add(made)
        origins.append((maker.Edge(), edge.origin))
    wire = maker.Wire()
    if len(edges(wire)) != len(loop.edges):
        raise Problem("kernel", "The kernel lost an edge of the profile.", "Change a size slightly.")
    return wire


def _edge(plane: Plane, edge: Edge, start: Shape, end: Shape) -> Shape:
    if edge.straight:
        a, b = plane.to_space(np.array([edge.start, edge.end]))
        return BRepBuilderAPI_MakeEdge(Geom_Line(pnt(a), direction(b - a)), start, end).Edge()
    if edge.arc is not None:
        center = np.array(edge.arc[:2])
        a, b = edge.start - center, edge.end - center
        spin = float(a[0] * b[1] - a[1] * b[0])
        normal = plane.normal if spin > 0 else -plane.normal
        x = plane.direction(a)
        circle = Geom_Circle(gp_Ax2(pnt(plane.to_space(center)), direction(normal), direction(x)), edge.arc[2])
        sweep = float(np.arctan2(abs(spin), float(a @ b)))
        return BRepBuilderAPI_MakeEdge(circle, start, end, 0.0, sweep).Edge()
    curve = bspline_curve(plane.to_space(edge.control), edge.knots, edge.degree, edge.weights)
    return BRepBuilderAPI_MakeEdge(curve, start, end, *edge.domain).Edge()


def axis_in_space(plane: Plane, start: Array, end: Array) -> tuple[Array, Array]:
    """A line of the plane through two of its points (2,) as a point and a unit direction in space."""
    way = plane.direction(end - start)
    return plane.to_space(start), way / np.linalg.norm(way)


def travel(plane: Plane, axis: Array, outward: Array) -> Array:
    """The axis turned round if need be, so that a profile outward of it first moves along the plane's normal."""
    return axis if float(cross(axis, outward) @ plane.normal) > 0 else -axis
