"""The geometry that constraints and dimensions are about: lines, arcs and circles, ends and directions of a sketch's
entities.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from leadline.core.problems import Problem
from leadline.core.sketch.model import (
    X_AXIS,
    Y_AXIS,
    Arc,
    Circle,
    Constraint,
    ControlSpline,
    Dimension,
    Line,
    Spline,
    end_points,
)
from leadline.core.sketch.rows import Array, Kind, Row
from leadline.core.sketch.splines import blending, support
from leadline.core.sketch.system import System

AXES = (X_AXIS, Y_AXIS)


@dataclass
class Heading:
    """A direction at an entity: its index among the system's directions, and its drawn value."""

    index: int
    drawn: Array


def words(kind: str) -> str:
    return kind.replace("_", " ")


def check_items(system: System, what: Constraint | Dimension) -> None:
    for item in what.items:
        if not (system.is_point(item) or item in system.entities or item in AXES):
            raise Problem(
                "deleted-reference",
                f"The {words(what.kind)} {what.id} uses {item}, which is no longer in the sketch.",
                "Delete the constraint or draw the missing piece again.",
                items=[what.id],
            )


def wrong(what: Constraint | Dimension, needs: str) -> Problem:
    return Problem(
        "wrong-items",
        f"“{words(what.kind)}” does not go on {', '.join(what.items)}.",
        f"Pick {needs}.",
        items=what.items,
    )


def is_line(system: System, item: str) -> bool:
    return item in AXES or isinstance(system.entities.get(item), Line)


def is_round(system: System, item: str) -> bool:
    return isinstance(system.entities.get(item), Arc | Circle)


def heading(system: System, start: str, end: str) -> Heading:
    return Heading(system.between(start, end), system.at(end) - system.at(start))


def line_heading(system: System, line: str) -> Heading:
    return heading(system, *system.ends_of(line))


def heading_weights(system: System, item: str, at_end: bool) -> tuple[list[tuple[str, float]], bool]:
    """Tangent of a line or spline, or the radius of an arc (then True), at one of its ends, as weights of points."""
    entity = system.entities[item]
    if isinstance(entity, Arc):
        return [(entity.center, -1.0), (entity.end if at_end else entity.start, 1.0)], True
    if isinstance(entity, Spline | ControlSpline):
        weights = blending(entity, system.knots(entity)).end(at_end, 1)
        return [(p, float(w)) for p, w in zip(support(entity), weights, strict=True) if abs(w) > 1e-12], False
    start, end = system.ends_of(item)
    return [(start, -1.0), (end, 1.0)], False


def heading_at(system: System, item: str, at_end: bool) -> tuple[Heading, bool]:
    weights, is_radius = heading_weights(system, item, at_end)
    if len(weights) == 2 and weights[0][1] == -1.0:
        drawn = system.at(weights[1][0]) - system.at(weights[0][0])
    else:
        drawn = np.asarray(np.sum([w * system.at(p) for p, w in weights], axis=0))
    return Heading(system.combination(weights), drawn), is_radius


def shared_end(system: System, first: str, second: str) -> tuple[bool, bool] | None:
    """Whether the shared point is the last point of each; None when they share none."""
    ends = []
    for item in (first, second):
        pair = end_points(system.entities[item]) if item in system.entities else None
        if pair is None:
            return None
        ends.append(pair)
    for i in (1, 0):
        for j in (0, 1):
            if system.same_point(ends[0][i], ends[1][j]):
                return bool(i), bool(j)
    return None


def _points_on(system: System, item: str) -> list[str]:
    """Points that lie on a curve: its ends, and those that constraints hold there."""
    ends = end_points(system.entities[item]) if item in system.entities else None
    held = [
        p
        for c in system.sketch.constraints
        if c.kind in ("on_curve", "midpoint") and item in c.items
        for p in c.items
        if system.is_point(p)
    ]
    return [*(ends or ()), *held]


def contact_point(system: System, first: str, second: str) -> str | None:
    """A point that is held on both of two lines, arcs or circles, or is a spline's end held on one; None
    without one.
    """
    for p in _points_on(system, first):
        for q in _points_on(system, second):
            if system.same_point(p, q) and all(_heads_through(system, i, p) for i in (first, second)):
                return p
    return None


def _heads_through(system: System, item: str, point: str) -> bool:
    if is_line(system, item) or is_round(system, item):
        return True
    entity = system.entities.get(item)
    ends = end_points(entity) if isinstance(entity, Spline | ControlSpline) else None
    return ends is not None and any(system.same_point(e, point) for e in ends)


def heading_through(system: System, item: str, point: str) -> tuple[Heading, bool]:
    """Tangent of a line or a spline, or the radius of an arc or circle (then True), at a point on it."""
    if is_line(system, item):
        return line_heading(system, item), False
    entity = system.entities[item]
    if isinstance(entity, Arc | Circle):
        return heading(system, entity.center, point), True
    ends = end_points(entity)
    assert ends is not None
    return heading_at(system, item, system.same_point(ends[1], point))


def outward_ends(system: System, first: str, second: str) -> tuple[tuple[str, str], tuple[str, str]]:
    """The two lines' ends, each turned to lead away from the point that they share, if any."""
    a, b = system.ends_of(first), system.ends_of(second)
    for i in (0, 1):
        for j in (0, 1):
            if system.same_point(a[i], b[j]):
                return (a if i == 0 else a[::-1]), (b if j == 0 else b[::-1])
    return a, b


def side_of(system: System, start: str, end: str, point: str) -> float:
    u, d = system.at(end) - system.at(start), system.at(point) - system.at(start)
    return 1.0 if u[0] * d[1] - u[1] * d[0] >= 0 else -1.0


def signed_angle(v: Array, w: Array) -> float:
    return math.atan2(v[0] * w[1] - v[1] * w[0], float(v @ w))


def arm_of(a: Heading, b: Heading) -> float:
    return max(0.02, min(1.0, (math.hypot(*a.drawn) + math.hypot(*b.drawn)) / 2))


def add_angle(system: System, owner: str, a: Heading, b: Heading, base_angles: tuple[float, ...]) -> None:
    drawn = signed_angle(a.drawn, b.drawn)
    nearest = min(base_angles, key=lambda base: abs(math.remainder(drawn - base, 2 * math.pi)))
    system.equations.add(Row(Kind.ANGLE, owner, constant=nearest, v=a.index, w=b.index, arm=arm_of(a, b)))


def image(system: System, about: str, point: str) -> Array:
    """Where a drawn point mirrors to, about a point or a line."""
    p = system.at(point)
    if system.is_point(about):
        return np.asarray(2 * system.at(about) - p)
    start, end = (system.at(e) for e in system.ends_of(about))
    u = (end - start) / np.hypot(*(end - start))
    return np.asarray(2 * (start + u * float(u @ (p - start))) - p)
