"""A round face of a body: all that lies on one cylinder or cone, between two circles."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from OCP.BRep import BRep_Tool
from OCP.BRepAdaptor import BRepAdaptor_Curve, BRepAdaptor_Surface
from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeVertex
from OCP.BRepTools import BRepTools, BRepTools_ReShape
from OCP.GeomAbs import GeomAbs_SurfaceType
from OCP.gp import gp_Pnt, gp_Vec
from OCP.ShapeBuild import ShapeBuild_Edge
from OCP.TopAbs import TopAbs_Orientation
from OCP.TopExp import TopExp
from OCP.TopoDS import TopoDS, TopoDS_Wire
from scipy.optimize import brentq

from leadline.core.geometry.plane import Array, Plane, cross
from leadline.core.problems import Problem
from leadline.core.solids.body import Body
from leadline.core.solids.kernel import Shape, builder, edges, faces
from leadline.core.trades.thread_forms import Side
from leadline.core.trades.thread_shape import TURN

ORIENTATIONS = TopAbs_Orientation.TopAbs_FORWARD, TopAbs_Orientation.TopAbs_REVERSED
SAME = 1e-6  # mm, by which axes and radii of one cylinder may differ


@dataclass(frozen=True)
class Arc:
    """An edge of a circle that a cylinder ends in, with the angles (rad) about the cylinder's own axis at its first and
    its last parameter.
    """

    edge: Shape
    angles: tuple[float, float]


@dataclass(frozen=True)
class RoundFace:
    """The ``faces`` of one cylinder or cone: its axis is the normal of ``base``, whose origin is in the middle of the
    circle that it starts at, and x is where its angles are counted from.

    ``radius`` is that of this circle, and it grows by ``slope`` for each mm along the axis. ``ends`` are the arcs of
    both circles; ``side`` says whether the body lies inside of it or about it.
    """

    base: Plane
    radius: float
    height: float
    side: Side
    faces: Sequence[Shape]
    ends: tuple[list[Arc], list[Arc]]
    slope: float = 0.0


@dataclass(frozen=True)
class _Round:
    """A cylinder or a cone: its axis (3,), where its angles are counted from (3,), a place on the axis, the radius
    there and how much it grows for each mm along.
    """

    axis: Array
    x: Array
    foot: Array
    radius: float
    slope: float

    def same(self, other: _Round) -> bool:
        across = other.foot - self.foot
        along = float(across @ self.axis)
        way = float(other.axis @ self.axis)
        return bool(
            np.linalg.norm(cross(other.axis, self.axis)) < SAME
            and np.linalg.norm(across - along * self.axis) < SAME
            and abs(self.radius + along * self.slope - other.radius) < SAME
            and abs(self.slope - math.copysign(1.0, way) * other.slope) < SAME
        )


def round_face_at(body: Body, name: str, flipped: bool = False, near: Array | None = None) -> RoundFace:
    """The cylinder (or cone) that a named face of a body lies on; ``flipped`` it starts at its other end.

    Of several that have the name, the one that starts ``near`` a place (3,).

    Raises:
        Problem: the face is neither, or what is left of it does not go right round between two circles square to its
            axis.
    """
    every = faces(body.shape)
    named = [f for f, n in zip(every, body.face_names, strict=True) if n == name]
    if not named:
        raise Problem("deleted-reference", "The face is no longer there.", "Pick another.", of="face", lost=name)
    if near is not None:
        found = [_round_face(every, face, flipped) for face in named]
        return min(found, key=lambda c: float(np.linalg.norm(c.base.origin - near)))
    return _round_face(every, named[0], flipped)


def _round_face(every: Sequence[Shape], face: Shape, flipped: bool) -> RoundFace:
    found = _round(face)
    if found is None:
        raise Problem(
            "no-cylinder", "The face is not round.", "Pick a cylinder or a cone, of a bar or of a hole.", of="face"
        )
    own = _joined(face, [f for f in every if (other := _round(f)) is not None and found.same(other)])
    way = -1.0 if flipped else 1.0
    axis, slope = way * found.axis, way * found.slope
    frame = Plane(found.foot, found.x, cross(axis, found.x))
    arcs = [_arc(edge, frame) for edge in _borders(own)]
    low, high = _ends(arcs)
    base = Plane(frame.origin + low * axis, frame.x, frame.y)
    ends = [a for a, z in arcs if abs(z - low) < SAME], [a for a, z in arcs if abs(z - high) < SAME]
    return RoundFace(base, found.radius + slope * low, high - low, _side(face, found.foot, axis), own, ends, slope)


def _round(face: Shape) -> _Round | None:
    surface = BRepAdaptor_Surface(face)
    if surface.GetType() == GeomAbs_SurfaceType.GeomAbs_Cylinder:
        found = surface.Cylinder()
        radius, slope = found.Radius(), 0.0
    elif surface.GetType() == GeomAbs_SurfaceType.GeomAbs_Cone:
        found = surface.Cone()
        radius, slope = found.RefRadius(), math.tan(found.SemiAngle())
    else:
        return None
    return _Round(
        _vector(found.Axis().Direction()),
        _vector(found.Position().XDirection()),
        _vector(found.Location()),
        float(radius),
        slope,
    )


def _vector(v: Shape) -> Array:
    return np.array([v.X(), v.Y(), v.Z()])


def _joined(first: Shape, own: list[Shape]) -> list[Shape]:
    """Those of some faces that hang together with the first one by edges."""
    found, left = [first], [f for f in own if not f.IsSame(first)]
    grown = True
    while grown:
        known = [e for f in found for e in edges(f)]
        more = [f for f in left if any(e.IsSame(k) for e in edges(f) for k in known)]
        found += more
        left = [f for f in left if not any(f.IsSame(m) for m in more)]
        grown = bool(more)
    return found


def _borders(own: list[Shape]) -> list[Shape]:
    """Edges that belong to one of some faces, and there are no seam."""
    every = [(e, f) for f in own for e in edges(f)]
    return [e for e, f in every if sum(o.IsSame(e) for o, _ in every) == 1 and not BRepTools.IsReallyClosed_s(e, f)]


def _arc(edge: Shape, frame: Plane) -> tuple[Arc, float]:
    """A border of a cylinder, with its height along the axis. Raises Problem when it is not square to it."""
    curve = BRepAdaptor_Curve(edge)
    a, b = curve.FirstParameter(), curve.LastParameter()
    points = np.array([_vector(curve.Value(a + (b - a) * k / 8)) for k in range(9)])
    heights = frame.height(points)
    if np.ptp(heights) > SAME:
        raise Problem(
            "no-full-cylinder",
            "The face does not end in circles square to its axis.",
            "Pick a face that does, or thread before it is cut.",
            of="face",
        )
    flat = frame.to_plane(points)
    angles = np.unwrap(np.arctan2(flat[:, 1], flat[:, 0]))
    return Arc(edge, (float(angles[0]), float(angles[-1]))), float(heights.mean())


def _ends(arcs: list[tuple[Arc, float]]) -> tuple[float, float]:
    heights = sorted(z for _, z in arcs)
    refusal = Problem(
        "no-full-cylinder",
        "What is left of the face does not go right round between two circles.",
        "Thread before it is cut, or pick another face.",
        of="face",
    )
    if not heights or heights[-1] - heights[0] < SAME:
        raise refusal
    low, high = heights[0], heights[-1]
    for end in (low, high):
        if abs(sum(abs(a.angles[1] - a.angles[0]) for a, z in arcs if abs(z - end) < SAME) - TURN) > SAME:
            raise refusal
    if any(min(abs(z - low), abs(z - high)) > SAME for z in heights):
        raise refusal
    return low, high


def _side(face: Shape, foot: Array, axis: Array) -> Side:
    """Whether a face looks away from its axis, so that the body is inside of it."""
    u0, u1, v0, v1 = BRepTools.UVBounds_s(face)
    surface = BRep_Tool.Surface_s(face)
    at, du, dv = gp_Pnt(), gp_Vec(), gp_Vec()
    surface.D1((u0 + u1) / 2, (v0 + v1) / 2, at, du, dv)
    normal = cross(_vector(du), _vector(dv)) * (
        -1.0 if face.Orientation() == TopAbs_Orientation.TopAbs_REVERSED else 1.0
    )
    away = _vector(at) - foot
    away = away - float(away @ axis) * axis
    return "outside" if float(normal @ away) > 0 else "inside"


def vertex_at(arcs: Sequence[Arc], angle: float) -> Shape:
    """The vertex of a circle at an angle."""
    for arc in arcs:
        for k, vertex in enumerate((TopExp.FirstVertex_s(arc.edge), TopExp.LastVertex_s(arc.edge))):
            if abs(math.remainder(arc.angles[k] - angle, TURN)) < SAME:
                return vertex
    raise Problem("kernel", "The circle has no corner there.", "Change a size slightly.")


def with_halved_circles(body: Body, round_face: RoundFace) -> Body:
    """The body with each circle of a round face that is one edge alone, as on a turned body, cut in two edges."""
    reshaped = BRepTools_ReShape()
    for arcs in round_face.ends:
        if len(arcs) == 1:
            reshaped.Replace(arcs[0].edge.Oriented(TopAbs_Orientation.TopAbs_FORWARD), _halves(arcs[0].edge))
    return Body(body.name, reshaped.Apply(body.shape), body.face_names)


def with_corner(body: Body, round_face: RoundFace, end: int, angle: float) -> Body:
    """The body with a corner at an angle (rad) of the circle at an end (0 or 1) of a round face, if it has none
    there.
    """
    arcs = round_face.ends[end]
    if any(abs(math.remainder(a - angle, TURN)) < SAME for arc in arcs for a in arc.angles):
        return body
    for arc in arcs:
        low, high = sorted(arc.angles)
        there = low + (angle - low) % TURN
        if there < high:
            reshaped = BRepTools_ReShape()
            reshaped.Replace(
                arc.edge.Oriented(TopAbs_Orientation.TopAbs_FORWARD),
                _parted(arc.edge, _parameter_at(arc, there, round_face.base)),
            )
            return Body(body.name, reshaped.Apply(body.shape), body.face_names)
    raise Problem("kernel", "The circle does not go right round.", "Change a size slightly.")


def _parameter_at(arc: Arc, angle: float, base: Plane) -> float:
    """The parameter of an edge on a circle at which it is at an angle about the axis."""
    curve = BRepAdaptor_Curve(arc.edge)

    def off(t: float) -> float:
        x, y = base.to_plane(_vector(curve.Value(t)))
        share = (t - curve.FirstParameter()) / (curve.LastParameter() - curve.FirstParameter())
        near = arc.angles[0] + share * (arc.angles[1] - arc.angles[0])
        return float(near) + math.remainder(math.atan2(float(y), float(x)) - float(near), TURN) - angle

    return float(brentq(off, curve.FirstParameter(), curve.LastParameter(), xtol=1e-14))


def _halves(edge: Shape) -> Shape:
    """The wire of both halves of a closed edge."""
    first, last = BRep_Tool.Range_s(TopoDS.Edge(edge))
    return _parted(edge, (first + last) / 2)


def _parted(edge: Shape, at: float) -> Shape:
    """The wire of both parts of an edge that is cut at a parameter, with its lines in the parameters of the faces
    beside it.
    """
    edge = TopoDS.Edge(edge.Oriented(TopAbs_Orientation.TopAbs_FORWARD))
    first, last = BRep_Tool.Range_s(edge)
    begin, end = TopExp.FirstVertex_s(edge), TopExp.LastVertex_s(edge)
    between = BRepBuilderAPI_MakeVertex(BRepAdaptor_Curve(edge).Value(at)).Vertex()
    wire = TopoDS_Wire()
    builder.MakeWire(wire)
    for ends, (a, b) in (((begin, between), (first, at)), ((between, end), (at, last))):
        half = ShapeBuild_Edge().CopyReplaceVertices(
            edge, *(TopoDS.Vertex(v.Oriented(o)) for v, o in zip(ends, ORIENTATIONS, strict=True))
        )
        builder.Range(half, a, b)
        builder.Add(wire, half)
    return wire
