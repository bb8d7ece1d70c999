"""A round face of a body: all that lies on one cylinder, between two circles."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from OCP.BRep import BRep_Tool
from OCP.BRepAdaptor import BRepAdaptor_Curve, BRepAdaptor_Surface
from OCP.BRepTools import BRepTools
from OCP.GeomAbs import GeomAbs_SurfaceType
from OCP.gp import gp_Pnt, gp_Vec
from OCP.TopAbs import TopAbs_Orientation
from OCP.TopExp import TopExp

from leadline.core.geometry.plane import Array, Plane, cross
from leadline.core.problems import Problem
from leadline.core.solids.body import Body
from leadline.core.solids.kernel import Shape, edges, faces
from leadline.core.trades.thread_forms import Side
from leadline.core.trades.thread_shape import TURN

SAME = 1e-6  # mm, by which axes and radii of one cylinder may differ


@dataclass(frozen=True)
class Arc:
    """An edge of a circle that a cylinder ends in, with the angles (rad) about the cylinder's own axis at its first and its last parameter."""

    edge: Shape
    angles: tuple[float, float]


@dataclass(frozen=True)
class Cylinder:
    """The ``faces`` of one cylinder: its axis is the normal of ``base``, whose origin is in the middle of the circle that it starts at, and x is where its
    angles are counted from. ``ends`` are the arcs of both circles; ``side`` says whether the body lies inside of it or about it.
    """

    base: Plane
    radius: float
    height: float
    side: Side
    faces: Sequence[Shape]
    ends: tuple[list[Arc], list[Arc]]


def cylinder_at(body: Body, name: str, flipped: bool = False) -> Cylinder:
    """The cylinder that a named face of a body lies on; ``flipped`` it starts at its other end.

    Raises:
        Problem: the face is no cylinder, or what is left of it does not go right round between two circles square to its axis.
    """
    every = faces(body.shape)
    named = [f for f, n in zip(every, body.face_names, strict=True) if n == name]
    if not named:
        raise Problem("deleted-reference", "The face is no longer there.", "Pick another.", field="face", lost=name)
    first = BRepAdaptor_Surface(named[0])
    if first.GetType() != GeomAbs_SurfaceType.GeomAbs_Cylinder:
        raise Problem("no-cylinder", "The face is not a cylinder.", "Pick a round face of a bar or of a hole.", field="face")
    found = first.Cylinder()
    axis, foot = _vector(found.Axis().Direction()), _vector(found.Location())
    radius = float(found.Radius())
    own = [f for f in every if _is_on(f, axis, foot, radius)]
    own = _joined(named[0], own)
    x = _vector(found.Position().XDirection())
    if flipped:
        axis = -axis
    frame = Plane(foot, x, cross(axis, x))
    arcs = [_arc(edge, frame) for edge in _borders(own)]
    low, high = _ends(arcs)
    base = Plane(frame.origin + low * axis, frame.x, frame.y)
    ends = [a for a, z in arcs if abs(z - low) < SAME], [a for a, z in arcs if abs(z - high) < SAME]
    return Cylinder(base, radius, high - low, _side(named[0], foot, axis), own, ends)


def _vector(v: Shape) -> Array:
    return np.array([v.X(), v.Y(), v.Z()])


def _is_on(face: Shape, axis: Array, foot: Array, radius: float) -> bool:
    surface = BRepAdaptor_Surface(face)
    if surface.GetType() != GeomAbs_SurfaceType.GeomAbs_Cylinder:
        return False
    other = surface.Cylinder()
    way, at = _vector(other.Axis().Direction()), _vector(other.Location()) - foot
    off = at - float(at @ axis) * axis
    return bool(np.linalg.norm(cross(way, axis)) < SAME and np.linalg.norm(off) < SAME and abs(other.Radius() - radius) < SAME)


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
        raise Problem("no-full-cylinder", "The face does not end in circles square to its axis.", "Pick a face that does, or thread before it is cut.", field="face")
    flat = frame.to_plane(points)
    angles = np.unwrap(np.arctan2(flat[:, 1], flat[:, 0]))
    return Arc(edge, (float(angles[0]), float(angles[-1]))), float(heights.mean())


def _ends(arcs: list[tuple[Arc, float]]) -> tuple[float, float]:
    heights = sorted(z for _, z in arcs)
    refusal = Problem("no-full-cylinder", "What is left of the face does not go right round between two circles.", "Thread before it is cut, or pick another face.", field="face")
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
    normal = cross(_vector(du), _vector(dv)) * (-1.0 if face.Orientation() == TopAbs_Orientation.TopAbs_REVERSED else 1.0)
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
