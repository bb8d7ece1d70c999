"""What each dimension means, as rows, and what one measures."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from leadline.core.sketch import curve_rows
from leadline.core.sketch.items import (
    AXES,
    arm_of,
    check_items,
    heading,
    is_line,
    is_round,
    line_heading,
    outward_ends,
    side_of,
    signed_angle,
    wrong,
)
from leadline.core.sketch.model import Arc, Circle, ControlSpline, Dimension, Ellipse, Spline
from leadline.core.sketch.rows import Array, Kind, Row
from leadline.core.sketch.system import System


def _length(system: System, d: Dimension, value: float) -> None:
    if len(d.items) != 1 or not is_line(system, d.items[0]) or d.items[0] in AXES:
        raise wrong(d, "a line")
    heading = line_heading(system, d.items[0])
    system.equations.add(Row(Kind.LENGTH, d.id, constant=value / system.scale, v=heading.index))


def _distance(system: System, d: Dimension, value: float) -> None:
    points = [i for i in d.items if system.is_point(i)]
    lines = [i for i in d.items if is_line(system, i)]
    circles = [system.entities[i] for i in d.items if is_round(system, i)]
    scaled = value / system.scale
    if circles and len(d.items) == 2:
        _distance_to_circle(system, d, scaled)
    elif len(points) == 2:
        system.equations.add(Row(Kind.LENGTH, d.id, constant=scaled, v=system.between(*points)))
    elif len(lines) == 2 or (len(points) == 1 and len(lines) == 1):
        start, end = system.ends_of(lines[0])
        point = points[0] if points else system.ends_of(lines[1])[0]
        side = side_of(system, start, end, point)
        system.equations.add(
            Row(Kind.CROSS, d.id, constant=side * scaled, v=system.between(start, end), w=system.between(start, point))
        )
    else:
        raise wrong(d, "two points, a point and a line, two parallel lines, or one of these and a circle")


def _distance_to_circle(system: System, d: Dimension, scaled: float) -> None:
    """To the near side the radius is taken off, to the far side it is added; inside, near is the other way round."""
    circles = [e for e in map(system.entities.get, d.items) if isinstance(e, Arc | Circle)]
    other = next((i for i in d.items if i != circles[0].id), circles[0].id)
    center, state = circles[0].center, system.state()
    far = d.side == "far"
    linear = [(system.radius[e.id], 1.0 if far else -1.0) for e in circles]
    if is_line(system, other):
        start, end = system.ends_of(other)
        side = side_of(system, start, end, center)
        linear = [(i, side * w) for i, w in linear]
        row = Row(
            Kind.CROSS, d.id, constant=side * scaled, v=system.between(start, end), w=system.between(start, center)
        )
    else:
        point = circles[1].center if len(circles) == 2 else other
        gap = float(np.hypot(*(system.at(point) - system.at(center)))) - sum(float(state[i]) for i, _ in linear)
        inside = not far and gap < 0
        row = Row(Kind.LENGTH, d.id, constant=-scaled if inside else scaled, v=system.between(center, point))
    row.linear = linear
    system.equations.add(row)


def _axis_distance(axis: int) -> Callable[[System, Dimension, float], None]:
    def build(system: System, d: Dimension, value: float) -> None:
        if len(d.items) == 1 and is_line(system, d.items[0]):
            ends: tuple[str, ...] = system.ends_of(d.items[0])
        elif len(d.items) == 2 and all(system.is_point(i) for i in d.items):
            ends = tuple(d.items)
        else:
            raise wrong(d, "a line or two points")
        a, b = (system.point_terms(p)[axis][0][0] for p in ends)
        sign = 1.0 if system.at(ends[1])[axis] >= system.at(ends[0])[axis] else -1.0
        system.equations.add(Row(Kind.LINEAR, d.id, constant=sign * value / system.scale, linear=[(b, 1.0), (a, -1.0)]))

    return build


def _radius(factor: float) -> Callable[[System, Dimension, float], None]:
    def build(system: System, d: Dimension, value: float) -> None:
        entity = system.entities.get(d.items[0])
        scaled = factor * value / system.scale
        if len(d.items) == 1 and isinstance(entity, Ellipse):
            major = system.between(entity.center, entity.major)
            system.equations.add(Row(Kind.LENGTH, d.id, constant=scaled, v=major))
        elif len(d.items) == 1 and is_round(system, d.items[0]):
            system.equations.add(Row(Kind.LINEAR, d.id, constant=scaled, linear=[(system.radius[d.items[0]], 1.0)]))
        else:
            raise wrong(d, "an arc, a circle or an ellipse")

    return build


def _minor_radius(system: System, d: Dimension, value: float) -> None:
    if len(d.items) != 1 or not isinstance(system.entities.get(d.items[0]), Ellipse):
        raise wrong(d, "an ellipse")
    linear = [(system.radius[d.items[0]], 1.0)]
    system.equations.add(Row(Kind.LINEAR, d.id, constant=value / system.scale, linear=linear))


def _curve_length(system: System, d: Dimension, value: float) -> None:
    entity = system.entities.get(d.items[0])
    if len(d.items) == 1 and isinstance(entity, Spline | ControlSpline):
        system.equations.add(curve_rows.spline_length(system, entity, d.id, value / system.scale))
    elif len(d.items) == 1 and isinstance(entity, Arc):
        system.equations.add(curve_rows.arc_length(system, entity, d.id, value / system.scale))
    else:
        raise wrong(d, "an arc or a spline")


def _angle(system: System, d: Dimension, value: float) -> None:
    if len(d.items) != 2 or not all(is_line(system, i) for i in d.items):
        raise wrong(d, "two lines")
    a, b = (heading(system, *ends) for ends in outward_ends(system, *d.items))
    sign = 1.0 if signed_angle(a.drawn, b.drawn) >= 0 else -1.0
    system.equations.add(Row(Kind.ANGLE, d.id, constant=sign * value, v=a.index, w=b.index, arm=arm_of(a, b)))


DIMENSIONS: dict[str, Callable[[System, Dimension, float], None]] = {
    "length": _length,
    "distance": _distance,
    "horizontal_distance": _axis_distance(0),
    "vertical_distance": _axis_distance(1),
    "radius": _radius(1.0),
    "diameter": _radius(0.5),
    "angle": _angle,
    "curve_length": _curve_length,
    "minor_radius": _minor_radius,
}

ANGULAR_DIMENSIONS = frozenset({"angle"})


def measure(system: System, dimension: Dimension, x: Array) -> float:
    """What a dimension measures at state x, in mm or rad, unsigned."""
    probe = System(system.solved(x))
    check_items(probe, dimension)
    DIMENSIONS[dimension.kind](probe, dimension, 0.0)
    probe.equations.freeze()
    value = abs(float(probe.equations.residual(probe.state())[-1]))
    if dimension.kind in ANGULAR_DIMENSIONS:
        return value / float(probe.equations.arm[-1])
    return value * probe.scale * (2.0 if dimension.kind == "diameter" else 1.0)
