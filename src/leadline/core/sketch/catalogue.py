"""The catalogue: what each constraint and dimension means, as rows.

To add one: write a function that takes the system and the constraint and adds its rows, and enter it
in ``CONSTRAINTS`` or ``DIMENSIONS``. Sides, signs and base angles are frozen from the drawn state.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from leadline.core.problems import Problem
from leadline.core.sketch.model import X_AXIS, Y_AXIS, Arc, Circle, Constraint, Dimension, Line, Spline, end_points
from leadline.core.sketch.rows import Array, Kind, Row
from leadline.core.sketch.splines import end_tangent_weights
from leadline.core.sketch.system import System

AXES = (X_AXIS, Y_AXIS)


@dataclass
class Heading:
    """A direction at an entity: its index among the system's directions, and its drawn value."""

    index: int
    drawn: Array


def add_constraint(system: System, constraint: Constraint) -> None:
    """Add the rows of a constraint. Raises Problem when its items do not fit its kind."""
    _check_items(system, constraint)
    CONSTRAINTS[constraint.kind](system, constraint)


def add_dimension(system: System, dimension: Dimension) -> None:
    """Add the rows of a driving dimension. Raises Problem when its items do not fit its kind."""
    _check_items(system, dimension)
    DIMENSIONS[dimension.kind](system, dimension, system.external.dimensions[dimension.id])


def _check_items(system: System, what: Constraint | Dimension) -> None:
    for item in what.items:
        if not (system.is_point(item) or item in system.entities or item in AXES):
            raise Problem(
                "deleted-reference", f"The {words(what.kind)} {what.id} uses {item}, which is no longer in the sketch.",
                "Delete the constraint or draw the missing piece again.", items=[what.id],
            )  # fmt: skip


def words(kind: str) -> str:
    return kind.replace("_", " ")


def _wrong(what: Constraint | Dimension, needs: str) -> Problem:
    return Problem(
        "wrong-items",
        f"“{words(what.kind)}” does not go on {', '.join(what.items)}.",
        f"Pick {needs}.",
        items=what.items,
    )


def _is_line(system: System, item: str) -> bool:
    return item in AXES or isinstance(system.entities.get(item), Line)


def _is_round(system: System, item: str) -> bool:
    return isinstance(system.entities.get(item), Arc | Circle)


def _heading(system: System, start: str, end: str) -> Heading:
    return Heading(system.between(start, end), system.at(end) - system.at(start))


def _line_heading(system: System, line: str) -> Heading:
    return _heading(system, *system.ends_of(line))


# -- constraints ------------------------------------------------------------------------------


def _coincident(system: System, c: Constraint) -> None:
    if len(c.items) != 2 or not all(system.is_point(i) for i in c.items):
        raise _wrong(c, "two points")
    if c.id in system.aliased:
        return
    for p, q in zip(*(system.point_terms(i) for i in c.items), strict=True):
        system.equations.add(Row(Kind.LINEAR, c.id, linear=[(p[0][0], 1.0), (q[0][0], -1.0)]))


def _level(axis: int) -> Callable[[System, Constraint], None]:
    def build(system: System, c: Constraint) -> None:
        if len(c.items) == 1 and _is_line(system, c.items[0]):
            ends: tuple[str, ...] = system.ends_of(c.items[0])
        elif len(c.items) == 2 and all(system.is_point(i) for i in c.items):
            ends = tuple(c.items)
        else:
            raise _wrong(c, "a line or two points")
        a, b = (system.point_terms(p)[axis][0][0] for p in ends)
        system.equations.add(Row(Kind.LINEAR, c.id, linear=[(b, 1.0), (a, -1.0)]))

    return build


def _fix(system: System, c: Constraint) -> None:
    for item in c.items:
        state = system.state()
        for v in dict.fromkeys(system.variables_of(item)):
            if item in system.entities and v == system.radius.get(item) and isinstance(system.entities[item], Arc):
                continue
            system.equations.add(Row(Kind.LINEAR, c.id, constant=float(state[v]), linear=[(v, 1.0)]))


def _midpoint(system: System, c: Constraint) -> None:
    points = [i for i in c.items if system.is_point(i)]
    lines = [i for i in c.items if _is_line(system, i)]
    if len(points) == 1 and len(lines) == 1:
        middle, (a, b) = points[0], system.ends_of(lines[0])
    elif len(points) == 3:
        middle, a, b = points
    else:
        raise _wrong(c, "a point and a line, or a point and the two it lies between")
    for m, p, q in zip(*(system.point_terms(i) for i in (middle, a, b)), strict=True):
        terms = [(m[0][0], 2.0), (p[0][0], -1.0), (q[0][0], -1.0)]
        system.equations.add(Row(Kind.LINEAR, c.id, linear=terms))


def _on_curve(system: System, c: Constraint) -> None:
    points = [i for i in c.items if system.is_point(i)]
    others = [i for i in c.items if not system.is_point(i)]
    if len(points) != 1 or len(others) != 1 or isinstance(system.entities.get(others[0]), Spline):
        raise _wrong(c, "a point and a line, arc or circle")
    point, other = points[0], others[0]
    if _is_line(system, other):
        start, end = system.ends_of(other)
        row = Row(Kind.CROSS, c.id, v=system.between(start, end), w=system.between(start, point))
        system.equations.add(row)
        return
    curve = system.entities[other]
    assert isinstance(curve, Arc | Circle)
    arm = system.between(curve.center, point)
    system.equations.add(Row(Kind.LENGTH, c.id, v=arm, linear=[(system.radius[other], -1.0)]))


def _on_path(system: System, c: Constraint) -> None:
    if len(c.items) != 1 or not system.is_point(c.items[0]):
        raise _wrong(c, "one point")
    if c.id not in system.external.crossings:
        raise Problem(
            "path-misses", "The path does not cross this sketch's plane.",
            "Move the plane so that the path goes through it, or take the tie away.", items=[c.id],
        )  # fmt: skip
    target = (np.array(system.external.crossings[c.id]) - system.middle) / system.scale
    for terms, value in zip(system.point_terms(c.items[0]), target, strict=True):
        system.equations.add(Row(Kind.LINEAR, c.id, constant=float(value), linear=terms))


def _angular(base_angles: tuple[float, ...]) -> Callable[[System, Constraint], None]:
    def build(system: System, c: Constraint) -> None:
        if len(c.items) != 2 or not all(_is_line(system, i) for i in c.items):
            raise _wrong(c, "two lines")
        first, second = (_line_heading(system, i) for i in c.items)
        _add_angle(system, c.id, first, second, base_angles)

    return build


def _add_angle(system: System, owner: str, a: Heading, b: Heading, base_angles: tuple[float, ...]) -> None:
    drawn = _signed_angle(a.drawn, b.drawn)
    nearest = min(base_angles, key=lambda base: abs(math.remainder(drawn - base, 2 * math.pi)))
    system.equations.add(Row(Kind.ANGLE, owner, constant=nearest, v=a.index, w=b.index, arm=_arm(a, b)))


def _arm(a: Heading, b: Heading) -> float:
    return max(0.02, min(1.0, float(np.hypot(*a.drawn) + np.hypot(*b.drawn)) / 2))


def _signed_angle(v: Array, w: Array) -> float:
    return math.atan2(v[0] * w[1] - v[1] * w[0], float(v @ w))


def _equal(system: System, c: Constraint) -> None:
    if len(c.items) != 2:
        raise _wrong(c, "two lines, or two arcs or circles")
    if all(_is_line(system, i) for i in c.items):
        a, b = (_line_heading(system, i) for i in c.items)
        system.equations.add(Row(Kind.EQUAL, c.id, v=a.index, w=b.index))
    elif all(_is_round(system, i) for i in c.items):
        r, s = (system.radius[i] for i in c.items)
        system.equations.add(Row(Kind.LINEAR, c.id, linear=[(r, 1.0), (s, -1.0)]))
    else:
        raise _wrong(c, "two lines, or two arcs or circles")


def _tangent(system: System, c: Constraint) -> None:
    if len(c.items) != 2 or any(system.is_point(i) for i in c.items) or all(_is_line(system, i) for i in c.items):
        raise _wrong(c, "two curves, at least one of them not a line")
    shared = _shared_end(system, *c.items)
    if shared is not None:
        headings = [_heading_at(system, item, end) for item, end in zip(c.items, shared, strict=True)]
        (a, a_is_radius), (b, b_is_radius) = headings
        square = a_is_radius != b_is_radius
        bases = (math.pi / 2, -math.pi / 2) if square else (0.0, math.pi)
        _add_angle(system, c.id, a, b, bases)
        return
    lines = [i for i in c.items if _is_line(system, i)]
    rounds = [i for i in c.items if _is_round(system, i)]
    if len(lines) == 1 and len(rounds) == 1:
        _line_touches_circle(system, c, lines[0], rounds[0])
    elif len(rounds) == 2:
        _circles_touch(system, c, *rounds)
    else:
        raise _wrong(c, "a spline and the curve that shares its end")


def _shared_end(system: System, first: str, second: str) -> tuple[bool, bool] | None:
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


def _heading_at(system: System, item: str, at_end: bool) -> tuple[Heading, bool]:
    """Tangent of a line or spline, or the radius of an arc (then True), at one of its ends."""
    entity = system.entities[item]
    if isinstance(entity, Arc):
        return _heading(system, entity.center, entity.end if at_end else entity.start), True
    if isinstance(entity, Spline):
        weights = end_tangent_weights(system.knots(entity), at_end)
        index = system.combination(list(zip(entity.points, weights, strict=True)))
        drawn = np.sum([w * system.at(p) for p, w in zip(entity.points, weights, strict=True)], axis=0)
        return Heading(index, np.asarray(drawn)), False
    return _line_heading(system, item), False


def _line_touches_circle(system: System, c: Constraint, line: str, circle: str) -> None:
    curve = system.entities[circle]
    assert isinstance(curve, Arc | Circle)
    start, end = system.ends_of(line)
    side = _side(system, start, end, curve.center)
    row = Row(
        Kind.CROSS, c.id, v=system.between(start, end), w=system.between(start, curve.center),
        linear=[(system.radius[circle], -side)],
    )  # fmt: skip
    system.equations.add(row)


def _side(system: System, start: str, end: str, point: str) -> float:
    u, d = system.at(end) - system.at(start), system.at(point) - system.at(start)
    return 1.0 if u[0] * d[1] - u[1] * d[0] >= 0 else -1.0


def _circles_touch(system: System, c: Constraint, first: str, second: str) -> None:
    a, b = system.entities[first], system.entities[second]
    assert isinstance(a, Arc | Circle)
    assert isinstance(b, Arc | Circle)
    state = system.state()
    r, s = (float(state[system.radius[i]]) for i in (first, second))
    apart = float(np.hypot(*(system.at(a.center) - system.at(b.center))))
    signs = min(((1, 1), (1, -1), (-1, 1)), key=lambda k: abs(apart - (k[0] * r + k[1] * s)))
    linear = [(system.radius[first], -float(signs[0])), (system.radius[second], -float(signs[1]))]
    system.equations.add(Row(Kind.LENGTH, c.id, v=system.between(a.center, b.center), linear=linear))


CONSTRAINTS: dict[str, Callable[[System, Constraint], None]] = {
    "coincident": _coincident,
    "horizontal": _level(1),
    "vertical": _level(0),
    "parallel": _angular((0.0, math.pi)),
    "perpendicular": _angular((math.pi / 2, -math.pi / 2)),
    "tangent": _tangent,
    "equal": _equal,
    "fix": _fix,
    "midpoint": _midpoint,
    "on_curve": _on_curve,
    "on_path": _on_path,
}

# -- dimensions -------------------------------------------------------------------------------


def _length(system: System, d: Dimension, value: float) -> None:
    if len(d.items) != 1 or not _is_line(system, d.items[0]) or d.items[0] in AXES:
        raise _wrong(d, "a line")
    heading = _line_heading(system, d.items[0])
    system.equations.add(Row(Kind.LENGTH, d.id, constant=value / system.scale, v=heading.index))


def _distance(system: System, d: Dimension, value: float) -> None:
    points = [i for i in d.items if system.is_point(i)]
    lines = [i for i in d.items if _is_line(system, i)]
    scaled = value / system.scale
    if len(points) == 2:
        system.equations.add(Row(Kind.LENGTH, d.id, constant=scaled, v=system.between(*points)))
    elif len(lines) == 2 or (len(points) == 1 and len(lines) == 1):
        start, end = system.ends_of(lines[0])
        point = points[0] if points else system.ends_of(lines[1])[0]
        side = _side(system, start, end, point)
        system.equations.add(
            Row(Kind.CROSS, d.id, constant=side * scaled, v=system.between(start, end), w=system.between(start, point))
        )
    else:
        raise _wrong(d, "two points, a point and a line, or two parallel lines")


def _axis_distance(axis: int) -> Callable[[System, Dimension, float], None]:
    def build(system: System, d: Dimension, value: float) -> None:
        if len(d.items) == 1 and _is_line(system, d.items[0]):
            ends: tuple[str, ...] = system.ends_of(d.items[0])
        elif len(d.items) == 2 and all(system.is_point(i) for i in d.items):
            ends = tuple(d.items)
        else:
            raise _wrong(d, "a line or two points")
        a, b = (system.point_terms(p)[axis][0][0] for p in ends)
        sign = 1.0 if system.at(ends[1])[axis] >= system.at(ends[0])[axis] else -1.0
        system.equations.add(Row(Kind.LINEAR, d.id, constant=sign * value / system.scale, linear=[(b, 1.0), (a, -1.0)]))

    return build


def _radius(factor: float) -> Callable[[System, Dimension, float], None]:
    def build(system: System, d: Dimension, value: float) -> None:
        if len(d.items) != 1 or not _is_round(system, d.items[0]):
            raise _wrong(d, "an arc or a circle")
        linear = [(system.radius[d.items[0]], 1.0)]
        system.equations.add(Row(Kind.LINEAR, d.id, constant=factor * value / system.scale, linear=linear))

    return build


def _angle(system: System, d: Dimension, value: float) -> None:
    if len(d.items) != 2 or not all(_is_line(system, i) for i in d.items):
        raise _wrong(d, "two lines")
    a, b = (_heading(system, *ends) for ends in outward_ends(system, *d.items))
    sign = 1.0 if _signed_angle(a.drawn, b.drawn) >= 0 else -1.0
    system.equations.add(Row(Kind.ANGLE, d.id, constant=sign * value, v=a.index, w=b.index, arm=_arm(a, b)))


def outward_ends(system: System, first: str, second: str) -> tuple[tuple[str, str], tuple[str, str]]:
    """The two lines' ends, each turned to lead away from the point that they share, if any."""
    a, b = system.ends_of(first), system.ends_of(second)
    for i in (0, 1):
        for j in (0, 1):
            if system.same_point(a[i], b[j]):
                return (a if i == 0 else a[::-1]), (b if j == 0 else b[::-1])
    return a, b


DIMENSIONS: dict[str, Callable[[System, Dimension, float], None]] = {
    "length": _length,
    "distance": _distance,
    "horizontal_distance": _axis_distance(0),
    "vertical_distance": _axis_distance(1),
    "radius": _radius(1.0),
    "diameter": _radius(0.5),
    "angle": _angle,
}

ANGULAR_DIMENSIONS = frozenset({"angle"})


def measure(system: System, dimension: Dimension, x: Array) -> float:
    """What a dimension measures at state x, in mm or rad, unsigned."""
    probe = System(system.solved(x))
    _check_items(probe, dimension)
    DIMENSIONS[dimension.kind](probe, dimension, 0.0)
    probe.equations.freeze()
    value = abs(float(probe.equations.residual(probe.state())[-1]))
    if dimension.kind in ANGULAR_DIMENSIONS:
        return value / float(probe.equations.arm[-1])
    return value * probe.scale * (2.0 if dimension.kind == "diameter" else 1.0)
