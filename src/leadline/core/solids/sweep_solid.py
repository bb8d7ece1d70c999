"""The solid of a sweep, its topology built directly: faces share edges and vertices, nothing is sewn.

The motion is cut by *rings* (the section at the ends of each span). Between two rings every section edge
makes one face: an extrusion, a revolution, or the tensor product of the section's and the motion's splines.
All four edges of a face are iso-lines of its surface, so their curves in its parameters are straight.
"""

from __future__ import annotations

import itertools
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from OCP.BRep import BRep_Tool
from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeVertex
from OCP.Geom import (
    Geom_BSplineCurve,
    Geom_Circle,
    Geom_Line,
    Geom_Plane,
    Geom_SurfaceOfLinearExtrusion,
    Geom_SurfaceOfRevolution,
)
from OCP.Geom2d import Geom2d_Line
from OCP.gp import gp_Ax1, gp_Ax2, gp_Ax3, gp_Dir2d, gp_Pln, gp_Pnt2d
from OCP.ShapeCustom import ShapeCustom
from OCP.TopAbs import TopAbs_Orientation
from OCP.TopLoc import TopLoc_Location
from OCP.TopoDS import TopoDS, TopoDS_Edge, TopoDS_Face, TopoDS_Shell, TopoDS_Solid, TopoDS_Wire

from leadline.core.geometry.edges import Edge
from leadline.core.geometry.plane import Array, cross
from leadline.core.geometry.section import Loop, Region
from leadline.core.problems import Problem
from leadline.core.solids.body import Body
from leadline.core.solids.kernel import (
    TOLERANCE,
    Shape,
    bspline_curve,
    bspline_surface,
    builder,
    direction,
    edge_between,
    faces,
    oriented,
    pnt,
)
from leadline.core.sweep.motion import DEFAULT_TOLERANCE, Motion, Span

_HERE = TopLoc_Location()
SQUARE = 1e-12
TINY = 5e-5  # of how far a section reaches: a small one is held to a smaller tolerance


@dataclass(frozen=True)
class Frame:
    """The section at one station: where its origin and axes stand, and the path's tangent, each (3,).

    ``carriers`` (k, 3) are X, Y, and what a warp adds: section points (..., k) have a coordinate for each.
    """

    C: Array
    carriers: Array
    T: Array

    def at(self, p: Array) -> Array:
        return np.asarray(self.C + p @ self.carriers)

    @property
    def X(self) -> Array:
        return np.asarray(self.carriers[0])

    @property
    def Y(self) -> Array:
        return np.asarray(self.carriers[1])

    @property
    def normal(self) -> Array:
        return cross(self.X, self.Y)


def sweep_bodies(
    motion: Motion, regions: Sequence[Region], owner: str, name: str, tolerance: float = DEFAULT_TOLERANCE
) -> list[Body]:
    """One valid solid per region, within a tolerance (mm), less where sections are small, faces named
    ``owner/side/<edge>/<piece>`` and ``owner/cap/start|end``; a shell for a sheet.

    Raises:
        Problem: a corner of the section lies on a bend's axis.
    """
    reach = motion.reach(regions)
    spans = motion.spans(reach, min(tolerance, TINY * reach))
    bodies = []
    for i, region in enumerate(regions):
        title = name if len(regions) == 1 else f"{name} {i + 1}"
        bodies.append(_SweepSolid(motion, spans, region, owner).body(title))
    return bodies


class _SweepSolid:
    def __init__(self, motion: Motion, spans: list[Span], region: Region, owner: str) -> None:
        self.motion, self.region, self.owner, self.closed = motion, region, owner, motion.path.closed
        self.spans = spans
        self.frames = _frames(motion, spans)
        plain = all(e.straight or e.arc for loop in region.loops for e in loop.edges)
        self.analytic = plain and all(s.kind != "free" for s in self.spans) and _unstretched(self.frames[0])
        self.names: list[str] = []
        self.faces: list[Shape] = []

    def body(self, title: str) -> Body:
        wires, shells = [], []
        for loop in self.region.loops:
            first = len(self.faces)
            wires.append(self._sides(self.motion.lifted(loop)))
            shells.append(self.faces[first:])
        if self.region.sheet:
            return Body(title, _shell(self.faces, self.closed and not self.region.outer.open), self.names)
        if not self.closed:
            self._cap(self.frames[0], [w[0] for w in wires], "start")
            self._cap(self.frames[-1], [w[-1] for w in wires], "end")
            shells = [self.faces]  # the caps join the inner and outer sides into one shell
        solid = TopoDS_Solid()
        builder.MakeSolid(solid)
        for own in shells:
            builder.Add(solid, _shell(own, True))
        shape: Shape = _elementary(solid) if self.analytic else solid
        if len(faces(shape)) != len(self.names):
            raise Problem("kernel", "The kernel lost faces of the sweep.", "Change a size slightly.")
        return Body(title, shape, self.names)

    # -- one loop of the section, all along the motion ------------------------------------------

    def _sides(self, loop: Loop) -> list[list[TopoDS_Edge]]:
        rings = [self._ring(loop, f) for f in self.frames]
        for i, span in enumerate(self.spans):
            j = (i + 1) % len(self.frames)
            tracks = [
                self._track(span, point, self.frames[i], rings[i][1][k], rings[j][1][k])
                for k, point in enumerate(_corners(loop))
            ]
            for k, edge in enumerate(loop.edges):
                around = (rings[i][0][k], tracks[(k + 1) % len(tracks)], rings[j][0][k], tracks[k])
                self.faces.append(self._face(span, edge, self.frames[i], around))
                self.names.append(f"{self.owner}/side/{edge.origin}/{span.origin or span.piece}")
        return [ring[0] for ring in rings]

    def _ring(self, loop: Loop, frame: Frame) -> tuple[list[TopoDS_Edge], list[Shape]]:
        if _is_point(loop, frame):
            tip = BRepBuilderAPI_MakeVertex(pnt(frame.at(loop.edges[0].start))).Vertex()
            return [_no_edge(tip, e.domain) for e in loop.edges], [tip] * len(_corners(loop))
        vertices = [BRepBuilderAPI_MakeVertex(pnt(frame.at(p))).Vertex() for p in _corners(loop)]
        made = []
        for k, edge in enumerate(loop.edges):
            curve, first, last = self._section_curve(edge, frame)
            made.append(edge_between(curve, first, last, vertices[k], vertices[(k + 1) % len(vertices)]))
        return made, vertices

    def _section_curve(self, edge: Edge, frame: Frame) -> tuple[Shape, float, float]:
        if self.analytic and edge.straight:
            a, b = frame.at(edge.start), frame.at(edge.end)
            return Geom_Line(pnt(a), direction(b - a)), 0.0, float(np.linalg.norm(b - a))
        if self.analytic and edge.arc is not None:
            return _circle_of(edge, frame)
        return bspline_curve(frame.at(edge.control), edge.knots, edge.degree, edge.weights), *edge.domain

    def _track(self, span: Span, point: Array, frame: Frame, start: Shape, end: Shape) -> TopoDS_Edge:
        """The way of a section point along the span."""
        p = frame.at(point)
        if span.kind == "line":
            return edge_between(Geom_Line(pnt(p), direction(frame.T)), 0.0, span.end - span.start, start, end)
        if span.kind == "arc":
            assert span.axis is not None
            center, axis, sweep = span.axis
            foot = center + axis * float((p - center) @ axis)
            radius = float(np.linalg.norm(p - foot))
            if radius < 1e-6:
                raise Problem(
                    "on-axis",
                    "A corner of the section lies on the axis of a bend.",
                    "Make the bend larger or the section smaller.",
                    station=span.start,
                )
            circle = Geom_Circle(gp_Ax2(pnt(foot), direction(axis), direction(p - foot)), radius)
            return edge_between(circle, 0.0, sweep, start, end)
        spline = span.spline
        assert spline is not None
        control = _carry(spline.c, point[None])[0]
        return edge_between(bspline_curve(control, spline.t, int(spline.k)), span.start, span.end, start, end)

    def _face(self, span: Span, edge: Edge, frame: Frame, around: tuple[TopoDS_Edge, ...]) -> TopoDS_Face:
        """``around``: the ring edge at the start, the right track, the ring edge at the end, the left track."""
        bottom, right, top, left = around
        curve, u0, u1 = self._section_curve(edge, frame)
        across = span.kind == "arc"  # a revolution has its angle first
        if span.kind == "line" and isinstance(curve, Geom_BSplineCurve):
            v0, v1 = 0.0, span.end - span.start
            ways = np.array([np.zeros(3), v1 * frame.T])
            net = frame.at(edge.control)[:, None] + ways
            surface: Shape = bspline_surface(
                net, edge.knots, np.array([0.0, 0.0, v1, v1]), (edge.degree, 1), edge.weights
            )
        elif span.kind == "line":
            surface = Geom_SurfaceOfLinearExtrusion(curve, direction(frame.T))
            v0, v1 = 0.0, span.end - span.start
        elif span.kind == "arc":
            assert span.axis is not None
            center, axis, v1 = span.axis
            surface, v0 = Geom_SurfaceOfRevolution(curve, gp_Ax1(pnt(center), direction(axis))), 0.0
        else:
            assert span.spline is not None
            net = _carry(span.spline.c, edge.control)
            if _flat(net):
                return _flat_face(net, around)
            surface = bspline_surface(net, edge.knots, span.spline.t, (edge.degree, int(span.spline.k)), edge.weights)
            v0, v1 = span.start, span.end
        face = TopoDS_Face()
        builder.MakeFace(face, surface, _HERE, TOLERANCE)
        for e, (u, v), along_u in (
            (bottom, (0.0, v0), True),
            (top, (0.0, v1), True),
            (left, (u0, 0.0), False),
            (right, (u1, 0.0), False),
        ):
            origin, heading = (
                ((v, u), (0, 1) if along_u else (1, 0)) if across else ((u, v), (1, 0) if along_u else (0, 1))
            )
            builder.UpdateEdge(e, Geom2d_Line(gp_Pnt2d(*origin), gp_Dir2d(*heading)), face, TOLERANCE)
            if BRep_Tool.Degenerated_s(e):
                builder.Range(e, face, u0, u1)
        builder.Add(face, _round_wire(around, not across))
        return TopoDS.Face(face.Reversed()) if across else face

    def _cap(self, frame: Frame, loops: list[list[TopoDS_Edge]], end: str) -> None:
        if _is_point(self.motion.lifted(self.region.outer), frame):
            return
        plane = gp_Pln(gp_Ax3(pnt(frame.C), direction(frame.normal), direction(frame.X)))
        face = TopoDS_Face()
        builder.MakeFace(face, Geom_Plane(plane), _HERE, TOLERANCE)
        for ring in loops:
            wire = TopoDS_Wire()
            builder.MakeWire(wire)
            for edge in ring:
                builder.Add(wire, oriented(edge, True))
            wire.Closed(True)
            builder.Add(face, wire)
        self.faces.append(TopoDS.Face(face.Reversed()) if end == "start" else face)
        self.names.append(f"{self.owner}/cap/{end}")


def _frames(motion: Motion, spans: Sequence[Span]) -> list[Frame]:
    """The frames at which spans begin, and that at the end of an open path."""
    stations = [(s.piece, s.start) for s in spans]
    if not motion.path.closed:
        stations.append((spans[-1].piece, spans[-1].end))
    found: list[Frame] = []
    for piece, own in itertools.groupby(stations, key=lambda at: at[0]):  # the frames of a piece are asked for together
        f = motion.frames_on(piece, np.array([s for _, s in own]))
        found += [Frame(*one) for one in zip(f.C, f.carriers[:, 1:], f.T, strict=True)]
    return found


def _round_wire(around: tuple[TopoDS_Edge, ...], forward: bool = True, pointed: bool = True) -> TopoDS_Wire:
    """The wire round a face; ``pointed`` with the sides that are a point, which a plane does not have."""
    wire = TopoDS_Wire()
    builder.MakeWire(wire)
    for e, along in zip(around, (True, True, False, False), strict=True):
        if pointed or not BRep_Tool.Degenerated_s(e):
            builder.Add(wire, oriented(e, along == forward))
    wire.Closed(True)
    return wire


def _flat(net: Array) -> bool:
    """Whether a net (n, m, 3) is one of four corners in a plane."""
    if net.shape[:2] != (2, 2):
        return False
    u, v, w = net[1, 0] - net[0, 0], net[0, 1] - net[0, 0], net[1, 1] - net[0, 0]
    size = float(np.abs([u, v, w]).max())
    return abs(float(cross(u, v) @ w)) < 1e-10 * size**3


def _flat_face(net: Array, around: tuple[TopoDS_Edge, ...]) -> TopoDS_Face:
    """The plane face of four corners; of three where the section is a point at one end of the span."""
    normal = cross(
        net[1, 1] - net[0, 0], net[0, 1] - net[1, 0]
    )  # of the diagonals: never nought where two corners are one
    across = max((net[1, j] - net[0, j] for j in (0, 1)), key=lambda v: float(v @ v))
    face = TopoDS_Face()
    builder.MakeFace(
        face, Geom_Plane(gp_Pln(gp_Ax3(pnt(net[0, 0]), direction(normal), direction(across)))), _HERE, TOLERANCE
    )
    builder.Add(face, _round_wire(around, pointed=False))
    return face


def _elementary(solid: TopoDS_Solid) -> Shape:
    """The solid with planes, cylinders, cones and tori in place of extrusions and revolutions that are the same.

    The kernel leaves what a straight line extrudes; such a face gets the plane with the same parameters put under it.
    """
    shape: Shape = ShapeCustom.SweptToElementary_s(solid)
    for face in faces(shape):
        surface = BRep_Tool.Surface_s(face)
        if isinstance(surface, Geom_SurfaceOfLinearExtrusion) and isinstance(surface.BasisCurve(), Geom_Line):
            line, along = surface.BasisCurve().Position(), surface.Direction()
            if abs(line.Direction().Dot(along)) <= SQUARE:
                axes = gp_Ax3(line.Location(), line.Direction().Crossed(along), line.Direction())
                builder.UpdateFace(face, Geom_Plane(axes), _HERE, TOLERANCE)
    return shape


def _unstretched(frame: Frame) -> bool:
    """Whether circles of the section are circles of their size in space."""
    gram = np.array([[a @ b for b in (frame.X, frame.Y)] for a in (frame.X, frame.Y)])
    return bool(np.abs(gram - np.eye(2)).max() < 1e-12)


def _carry(coefficients: Array, points: Array) -> Array:
    """Control points (n, k) carried by the motion's coefficients (m, 3 + 3 k): a net (n, m, 3)."""
    carriers = coefficients.reshape(len(coefficients), -1, 3)
    return np.asarray(carriers[None, :, 0] + np.einsum("nk,mkc->nmc", points, carriers[:, 1:]))


def _circle_of(edge: Edge, frame: Frame) -> tuple[Shape, float, float]:
    """The edge's circle, its parameter running from 0 at the edge's start in the edge's direction."""
    assert edge.arc is not None
    center, radius = np.array(edge.arc[:2]), edge.arc[2]
    a, b = edge.start - center, edge.end - center
    cross, dot = float(a[0] * b[1] - a[1] * b[0]), float(a @ b)
    sweep = float(np.arctan2(abs(cross), dot))
    normal = frame.normal if cross > 0 else -frame.normal
    start = a[0] * frame.X + a[1] * frame.Y
    circle = Geom_Circle(gp_Ax2(pnt(frame.at(center)), direction(normal), direction(start)), radius)
    return circle, 0.0, sweep


def _corners(loop: Loop) -> list[Array]:
    """Where the loop's edges begin, and where the last one of an open loop ends."""
    return [e.start for e in loop.edges] + ([loop.edges[-1].end] if loop.open else [])


def _is_point(loop: Loop, frame: Frame) -> bool:
    """Whether all of an outline is at one place."""
    places = frame.at(np.vstack([e.control for e in loop.edges]))
    return float(np.ptp(places, axis=0).max()) < TOLERANCE


def _no_edge(tip: Shape, domain: tuple[float, float]) -> TopoDS_Edge:
    """The side of a face that is a point: an edge without a curve in space."""
    edge = TopoDS_Edge()
    builder.MakeEdge(edge)
    builder.Add(edge, tip.Oriented(TopAbs_Orientation.TopAbs_FORWARD))
    builder.Add(edge, tip.Oriented(TopAbs_Orientation.TopAbs_REVERSED))
    builder.Degenerated(edge, True)
    builder.Range(edge, *domain)
    return edge


def _shell(own: list[Shape], closed: bool) -> TopoDS_Shell:
    shell = TopoDS_Shell()
    builder.MakeShell(shell)
    for face in own:
        builder.Add(shell, face)
    shell.Closed(closed)
    return shell
