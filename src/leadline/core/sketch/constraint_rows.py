"""What each constraint means, as rows. Sides, signs and base angles are frozen from the drawn state."""

from __future__ import annotations

import math
from collections.abc import Callable

import numpy as np

from leadline.core.problems import Problem
from leadline.core.sketch import curve_rows
from leadline.core.sketch.items import (
    add_angle,
    contact_point,
    heading_at,
    heading_through,
    heading_weights,
    image,
    is_line,
    is_round,
    line_heading,
    shared_end,
    side_of,
    wrong,
)
from leadline.core.sketch.model import (
    Arc,
    Circle,
    Constraint,
    ControlSpline,
    Ellipse,
    Line,
    Projection,
    Spline,
    end_points,
    entity_points,
)
from leadline.core.sketch.rows import Kind, Row
from leadline.core.sketch.system import System, on_ellipse


def _coincident(system: System, c: Constraint) -> None:
    if len(c.items) != 2 or not all(system.is_point(i) for i in c.items):
        raise wrong(c, "two points")
    if c.id in system.aliased:
        return
    for p, q in zip(*(system.point_terms(i) for i in c.items), strict=True):
        system.equations.add(Row(Kind.LINEAR, c.id, linear=[(p[0][0], 1.0), (q[0][0], -1.0)]))


def _level(axis: int) -> Callable[[System, Constraint], None]:
    def build(system: System, c: Constraint) -> None:
        if len(c.items) == 1 and is_line(system, c.items[0]):
            ends: tuple[str, ...] = system.ends_of(c.items[0])
        elif len(c.items) == 2 and all(system.is_point(i) for i in c.items):
            ends = tuple(c.items)
        else:
            raise wrong(c, "a line or two points")
        a, b = (system.point_terms(p)[axis][0][0] for p in ends)
        system.equations.add(Row(Kind.LINEAR, c.id, linear=[(b, 1.0), (a, -1.0)]))

    return build


def _fix(system: System, c: Constraint) -> None:
    if not c.items or any(not system.is_point(i) and i not in system.entities for i in c.items):
        raise wrong(c, "points or curves; the axes stand still as they are")
    for item in c.items:
        state = system.state()
        for v in dict.fromkeys(system.variables_of(item)):
            if item in system.entities and v == system.radius.get(item) and isinstance(system.entities[item], Arc):
                continue
            system.equations.add(Row(Kind.LINEAR, c.id, constant=float(state[v]), linear=[(v, 1.0)]))


def _midpoint(system: System, c: Constraint) -> None:
    points = [i for i in c.items if system.is_point(i)]
    lines = [i for i in c.items if is_line(system, i)]
    if len(points) == 1 and len(lines) == 1:
        middle, (a, b) = points[0], system.ends_of(lines[0])
    elif len(points) == 3:
        middle, a, b = points
    else:
        raise wrong(c, "a point and a line, or a point and the two it lies between")
    for m, p, q in zip(*(system.point_terms(i) for i in (middle, a, b)), strict=True):
        terms = [(m[0][0], 2.0), (p[0][0], -1.0), (q[0][0], -1.0)]
        system.equations.add(Row(Kind.LINEAR, c.id, linear=terms))


def _on_curve(system: System, c: Constraint) -> None:
    points = [i for i in c.items if system.is_point(i)]
    others = [i for i in c.items if not system.is_point(i)]
    if len(points) != 1 or len(others) != 1:
        raise wrong(c, "a point and a curve")
    point, other = points[0], others[0]
    if is_line(system, other):
        start, end = system.ends_of(other)
        row = Row(Kind.CROSS, c.id, v=system.between(start, end), w=system.between(start, point))
        system.equations.add(row)
        return
    curve = system.entities[other]
    if isinstance(curve, Spline | ControlSpline):
        for row in curve_rows.on_spline(system, curve, point, c.id):
            system.equations.add(row)
    elif isinstance(curve, Ellipse):
        system.equations.add(on_ellipse(system, curve, point, c.id))
    elif isinstance(curve, Arc | Circle):
        arm = system.between(curve.center, point)
        system.equations.add(Row(Kind.LENGTH, c.id, v=arm, linear=[(system.radius[other], -1.0)]))
    else:
        raise wrong(c, "a point and a curve that is drawn, not derived")


def _on_path(system: System, c: Constraint) -> None:
    if len(c.items) != 1 or not system.is_point(c.items[0]):
        raise wrong(c, "one point")
    if c.id not in system.external.crossings:
        raise Problem(
            "path-misses",
            "The path does not cross this sketch's plane.",
            "Move the plane so that the path goes through it, or take the tie away.",
            items=[c.id],
        )
    target = (np.array(system.external.crossings[c.id]) - system.middle) / system.scale
    for terms, value in zip(system.point_terms(c.items[0]), target, strict=True):
        system.equations.add(Row(Kind.LINEAR, c.id, constant=float(value), linear=terms))


def _angular(base_angles: tuple[float, ...]) -> Callable[[System, Constraint], None]:
    def build(system: System, c: Constraint) -> None:
        if len(c.items) != 2 or not all(is_line(system, i) for i in c.items):
            raise wrong(c, "two lines")
        first, second = (line_heading(system, i) for i in c.items)
        add_angle(system, c.id, first, second, base_angles)

    return build


def _equal(system: System, c: Constraint) -> None:
    if len(c.items) != 2:
        raise wrong(c, "two lines, or two arcs or circles")
    if all(is_line(system, i) for i in c.items):
        a, b = (line_heading(system, i) for i in c.items)
        system.equations.add(Row(Kind.EQUAL, c.id, v=a.index, w=b.index))
    elif all(is_round(system, i) for i in c.items):
        r, s = (system.radius[i] for i in c.items)
        system.equations.add(Row(Kind.LINEAR, c.id, linear=[(r, 1.0), (s, -1.0)]))
    else:
        raise wrong(c, "two lines, or two arcs or circles")


def _tangent(system: System, c: Constraint) -> None:
    if len(c.items) != 2 or any(system.is_point(i) for i in c.items) or all(is_line(system, i) for i in c.items):
        raise wrong(c, "two curves, at least one of them not a line")
    shared = shared_end(system, *c.items)
    if shared is not None:
        _tangent_at_end(system, c, shared)
        return
    contact = contact_point(system, *c.items)
    if contact is not None:
        _tangent_at_contact(system, c, contact)
        return
    lines = [i for i in c.items if is_line(system, i)]
    rounds = [i for i in c.items if is_round(system, i)]
    ellipses = [system.entities[i] for i in c.items if isinstance(system.entities.get(i), Ellipse)]
    if len(lines) == 1 and len(rounds) == 1:
        _line_touches_circle(system, c, lines[0], rounds[0])
    elif len(lines) == 1 and len(ellipses) == 1:
        ellipse = ellipses[0]
        assert isinstance(ellipse, Ellipse)
        system.equations.add(curve_rows.line_touches_ellipse(system, system.ends_of(lines[0]), ellipse, c.id))
    elif len(rounds) == 2:
        _circles_touch(system, c, *rounds)
    else:
        raise wrong(c, "a spline or ellipse and the curve that shares its end")


def _tangent_at_contact(system: System, c: Constraint, contact: str) -> None:
    """Two curves that touch at a point which both are held on: their headings there, as at a shared end.

    A line at its distance from the centre would have a double root, because the point is that far away already: no
    freedom would be counted right, and Newton's method would stop short.
    """
    (a, a_is_radius), (b, b_is_radius) = (heading_through(system, item, contact) for item in c.items)
    square = a_is_radius != b_is_radius
    add_angle(system, c.id, a, b, (math.pi / 2, -math.pi / 2) if square else (0.0, math.pi))


def _tangent_at_end(system: System, c: Constraint, shared: tuple[bool, bool]) -> None:
    kinds = [isinstance(system.entities.get(i), Ellipse) for i in c.items]
    if not any(kinds):
        (a, a_is_radius), (b, b_is_radius) = (
            heading_at(system, item, end) for item, end in zip(c.items, shared, strict=True)
        )
        square = a_is_radius != b_is_radius
        add_angle(system, c.id, a, b, (math.pi / 2, -math.pi / 2) if square else (0.0, math.pi))
        return
    if all(kinds):
        raise wrong(c, "an elliptical arc and a line, an arc or a spline")
    k = kinds.index(True)
    ellipse = system.entities[c.items[k]]
    assert isinstance(ellipse, Ellipse)
    point = (end_points(ellipse) or ("", ""))[1 if shared[k] else 0]
    weights, is_radius = heading_weights(system, c.items[1 - k], shared[1 - k])
    system.equations.add(curve_rows.ellipse_end_tangent(system, ellipse, point, weights, is_radius, c.id))


def _smooth(system: System, c: Constraint) -> None:
    entities = [system.entities.get(i) for i in c.items]
    splines = [e for e in entities if isinstance(e, Spline | ControlSpline)]
    others = [e for e in entities if isinstance(e, Spline | ControlSpline | Line | Arc)]
    shared = shared_end(system, *c.items) if len(c.items) == 2 and len(others) == 2 else None
    if not splines or shared is None:
        raise wrong(c, "a spline and a line, arc or spline that shares its end")
    _tangent_at_end(system, c, shared)
    system.equations.add(curve_rows.equal_curvature(system, list(zip(others, shared, strict=True)), c.id))


def _concentric(system: System, c: Constraint) -> None:
    centers = [e.center for e in map(system.entities.get, c.items) if isinstance(e, Arc | Circle | Ellipse)]
    if len(centers) != 2 or len(c.items) != 2:
        raise wrong(c, "two arcs, circles or ellipses")
    for p, q in zip(*(system.point_terms(i) for i in centers), strict=True):
        system.equations.add(Row(Kind.LINEAR, c.id, linear=[(p[0][0], 1.0), (q[0][0], -1.0)]))


def _collinear(system: System, c: Constraint) -> None:
    if len(c.items) != 2 or not all(is_line(system, i) for i in c.items):
        raise wrong(c, "two lines")
    (start, end), other = system.ends_of(c.items[0]), system.ends_of(c.items[1])
    for point in other:
        row = Row(Kind.CROSS, c.id, v=system.between(start, end), w=system.between(start, point))
        system.equations.add(row)


def _symmetric(system: System, c: Constraint) -> None:
    """The first two items mirror each other about the third, a line or a point."""
    if len(c.items) != 3:
        raise wrong(c, "two points or two like curves, and then a line or a point between them")
    first, second, about = c.items
    pairs = _mirrored_pairs(system, c, first, second)
    if isinstance(system.entities.get(first), Arc) and (system.is_point(about) or is_line(system, about)):
        (center, image_center), *pairs, (end, image_end) = pairs
        pairs = [(center, image_center), *pairs]
        line = None if system.is_point(about) else system.ends_of(about)
        system.equations.add(curve_rows.mirrored_arm(system, (center, end), (image_center, image_end), line, c.id))
    for a, b in pairs:
        if system.is_point(about):
            for m, p, q in zip(*(system.point_terms(i) for i in (about, a, b)), strict=True):
                terms = [(m[0][0], 2.0), (p[0][0], -1.0), (q[0][0], -1.0)]
                system.equations.add(Row(Kind.LINEAR, c.id, linear=terms))
        elif is_line(system, about):
            start, end = system.ends_of(about)
            axis = system.between(start, end)
            middle = system.combination([(a, 0.5), (b, 0.5), (start, -1.0)])
            system.equations.add(Row(Kind.CROSS, c.id, v=axis, w=middle))
            system.equations.add(Row(Kind.CROSS, c.id, v=axis, w=system.turned(a, b)))
        else:
            raise wrong(c, "a line or a point to mirror about")
    radii = [system.radius[i] for i in (first, second) if i in system.radius]
    if len(radii) == 2 and not isinstance(system.entities[first], Arc):
        system.equations.add(Row(Kind.LINEAR, c.id, linear=[(radii[0], 1.0), (radii[1], -1.0)]))


def _mirrored_pairs(system: System, c: Constraint, first: str, second: str) -> list[tuple[str, str]]:
    """The points of two items that mirror each other; a mirrored arc runs the other way.

    Of an arc the last pair is its other end, which needs one equation only, since the radius is mirrored already.
    """
    if system.is_point(first) and system.is_point(second):
        return [(first, second)]
    a, b = system.entities.get(first), system.entities.get(second)
    if a is None or b is None or a.kind != b.kind or len(entity_points(a)) != len(entity_points(b)):
        raise wrong(c, "two points or two like curves")
    if isinstance(a, Line) and isinstance(b, Line):
        pairings = ([(a.start, b.start), (a.end, b.end)], [(a.start, b.end), (a.end, b.start)])
        return min(
            pairings,
            key=lambda pairs: sum(float(np.hypot(*(image(system, c.items[2], p) - system.at(q)))) for p, q in pairs),
        )
    if isinstance(a, Arc) and isinstance(b, Arc):
        about_point = system.is_point(c.items[2])
        ends = [(a.start, b.start), (a.end, b.end)] if about_point else [(a.start, b.end), (a.end, b.start)]
        return [(a.center, b.center), *ends]
    return list(zip(entity_points(a), entity_points(b), strict=True))


def _line_touches_circle(system: System, c: Constraint, line: str, circle: str) -> None:
    curve = system.entities[circle]
    assert isinstance(curve, Arc | Circle)
    start, end = system.ends_of(line)
    side = side_of(system, start, end, curve.center)
    row = Row(
        Kind.CROSS,
        c.id,
        v=system.between(start, end),
        w=system.between(start, curve.center),
        linear=[(system.radius[circle], -side)],
    )
    system.equations.add(row)


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


def hold_projection(system: System, projection: Projection) -> None:
    """Points of a projection stand where they project to; one whose source is gone stays where it is drawn."""
    state = system.state()
    for point in projection.points:
        target = system.external.places.get(point)
        for k, terms in enumerate(system.point_terms(point)):
            drawn = float(state[terms[0][0]])
            value = drawn if target is None else float((target[k] - system.middle[k]) / system.scale)
            system.equations.add(Row(Kind.LINEAR, projection.id, constant=value, linear=terms))
    for entity in projection.entities:
        index = system.radius.get(entity)
        if index is None or isinstance(system.entities[entity], Arc):
            continue
        size = system.external.radii.get(entity)
        value = float(state[index]) if size is None else size / system.scale
        system.equations.add(Row(Kind.LINEAR, projection.id, constant=value, linear=[(index, 1.0)]))


CONSTRAINTS: dict[str, Callable[[System, Constraint], None]] = {
    "coincident": _coincident,
    "horizontal": _level(1),
    "vertical": _level(0),
    "parallel": _angular((0.0, math.pi)),
    "perpendicular": _angular((math.pi / 2, -math.pi / 2)),
    "tangent": _tangent,
    "smooth": _smooth,
    "concentric": _concentric,
    "collinear": _collinear,
    "symmetric": _symmetric,
    "equal": _equal,
    "fix": _fix,
    "midpoint": _midpoint,
    "on_curve": _on_curve,
    "on_path": _on_path,
}
