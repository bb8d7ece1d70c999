"""The datum step: planes placed by other planes, by points, lines or flat faces."""

from __future__ import annotations

import math

import numpy as np

from leadline.core.expressions import Expression
from leadline.core.geometry.circles import circle_through
from leadline.core.geometry.plane import Array, Plane, cross, plain_axis, plane_on
from leadline.core.problems import Problem
from leadline.core.sweep.borders import polyline
from leadline.core.units import format_angle, format_length
from leadline.kinds.datum.model import (
    ByNormal,
    CarriedPlane,
    DatumPlane,
    Midway,
    OffsetBy,
    OnFace,
    OnRound,
    ThroughLine,
    ThroughPoints,
    Turned,
)
from leadline.kinds.datum.result import DatumResult
from leadline.recipe.context import Context
from leadline.recipe.inputs import FaceRef
from leadline.recipe.path_report import plane_shown
from leadline.recipe.placing import carried_along
from leadline.recipe.products import PlaneProduct
from leadline.recipe.results import Report
from leadline.recipe.titles import edge_title

PARALLEL = 1e-9
ALONG = 1e-9
ROUND = 1e-3  # mm between points by which an edge is looked at


def build(context: Context, step: DatumPlane, report: Report) -> PlaneProduct:
    plane, report.figure = place(context, step)
    report.data = DatumResult(plane=plane_shown(plane))
    return PlaneProduct(plane)


def place(context: Context, step: DatumPlane) -> tuple[Plane, str]:
    """The plane and its figure for the cord.

    Raises:
        Problem: a source is gone or is not what is needed, or the points or planes do not fix a plane.
    """
    how = step.how
    if isinstance(how, OffsetBy):
        base = context.plane(how.plane)
        distance = context.value(how.distance)
        moved = Plane(base.origin + distance * base.normal, base.x, base.y)
        return moved, f"{format_length(distance, context.scope.unit)} beside"
    if isinstance(how, ThroughPoints):
        return _through(*(context.drawn_point(p.step, p.point, "points") for p in how.points)), "through three points"
    if isinstance(how, ThroughLine):
        return _through_line(context, how)
    if isinstance(how, Midway):
        return _midway(context.plane(how.first), context.plane(how.second))
    if isinstance(how, ByNormal):
        return _by_normal(context, how)
    if isinstance(how, Turned):
        angle = context.value(how.angle)
        return _turned(context.plane(how.plane), how.axis, angle), f"turned by {format_angle(angle)}"
    if isinstance(how, CarriedPlane):
        base = context.plane(how.plane)
        return PlaneProduct(base).moved(*carried_along(context, how, base.origin)).plane, "carried along a path"
    if isinstance(how, OnRound):
        return _in_round_edge(context, how)
    assert isinstance(how, OnFace)
    if how.middle:
        return context.middle_of_face(
            FaceRef(step=how.step, face=how.face, seen=how.seen), "face"
        ), "in the middle of a face"
    return context.face(how.step, how.face, how.seen), "on a face"


def _in_round_edge(context: Context, how: OnRound) -> tuple[Plane, str]:
    source, name = how.edge.step, how.edge.edge
    found = context.edges(source, "edge").edges().get(name)
    if found is None:
        raise Problem(
            "deleted-reference",
            f"The edge between {edge_title(name, context.names)} is no longer there.",
            "Pick another round edge.",
            field="edge",
            source=source,
        )
    circle = circle_through(np.vstack([polyline(strand, ROUND) for strand in found]))
    if circle is None:
        raise Problem(
            "not-round",
            "The edge is not round.",
            "Pick a round edge, or place the plane otherwise.",
            field="edge",
            source=source,
        )
    centre, normal, radius = circle
    flat = [
        p
        for f in name.split("&")
        if (p := context.faces(source, "edge").flat_face(f)) is not None and abs(p.normal @ normal) > 1 - ROUND
    ]
    outward = flat[0].normal if flat else normal
    if float(outward @ normal) * (-1 if how.over else 1) < 0:
        normal = -normal
    plane = plane_on(centre, normal)
    return Plane(centre, plane.x, plane.y), f"in an edge of Ø{format_length(2 * radius, context.scope.unit)}"


def _by_normal(context: Context, how: ByNormal) -> tuple[Plane, str]:
    origin = np.array([context.value(v) for v in (how.x, how.y, how.z)])
    normal = _direction(context, how.normal, "Normal")
    along = plain_axis(normal) if how.along is None else _direction(context, how.along, "Along")
    x = along - normal * float(along @ normal)
    if float(np.linalg.norm(x)) < ALONG:
        raise Problem(
            "in-line",
            "The direction that its x axis should follow lies along its normal.",
            "Give another direction.",
            field="along",
        )
    x /= np.linalg.norm(x)
    return Plane(origin, x, cross(normal, x)), "square to a direction"


def _direction(context: Context, parts: tuple[Expression, Expression, Expression], name: str) -> Array:
    """A unit vector from three plain numbers. Raises Problem when they are all nought."""
    way = np.array([context.value(v, axis) for axis, v in zip("XYZ", parts, strict=True)])
    size = float(np.linalg.norm(way))
    if size < ALONG:
        raise Problem(
            "no-direction", f"The {name.lower()} points nowhere.", "Give a direction, as 0, 0, 1.", field=name.lower()
        )
    return way / size


def _turned(plane: Plane, axis: str, angle: float) -> Plane:
    c, s = math.cos(angle), math.sin(angle)
    if axis == "x":
        return Plane(plane.origin, plane.x, c * plane.y + s * plane.normal)
    return Plane(plane.origin, c * plane.x - s * plane.normal, plane.y)


def _through(a: Array, b: Array, c: Array) -> Plane:
    u, v = b - a, c - a
    normal = cross(u, v)
    if float(np.linalg.norm(normal)) < 1e-9 * max(float(u @ u), float(v @ v), 1e-300):
        raise Problem("in-line", "The three points stand in one line.", "Pick one beside it.", field="points")
    x = u / np.linalg.norm(u)
    y = cross(normal / np.linalg.norm(normal), x)
    return Plane(a, x, y)


def _through_line(context: Context, how: ThroughLine) -> tuple[Plane, str]:
    normal = context.sketch(how.step, "line").plane.normal
    a, b = context.line(how.step, how.line, "line")
    angle = context.value(how.angle)
    x = (b - a) / np.linalg.norm(b - a)
    level = cross(normal, x)
    y = math.cos(angle) * level + math.sin(angle) * normal
    return Plane(a, x, y), f"{format_angle(angle)} about a line"


def _midway(first: Plane, second: Plane) -> tuple[Plane, str]:
    n, m = first.normal, second.normal
    if float(n @ m) < 0:
        m = -m
    axis = cross(n, m)
    if float(np.linalg.norm(axis)) < PARALLEL:
        gap = float((second.origin - first.origin) @ n)
        return Plane(first.origin + gap / 2 * n, first.x, first.y), "midway"
    axis = axis / np.linalg.norm(axis)
    on_both = np.linalg.solve(np.array([n, m, axis]), [n @ first.origin, m @ second.origin, axis @ first.origin])
    normal = (n + m) / np.linalg.norm(n + m)
    return Plane(on_both, axis, cross(normal, axis)), "midway"
