"""Equations about ellipses, splines and lengths along curves, which the batched types of ``rows`` cannot express.

Each is an analytic function of a few variables, differentiated by a complex step. Curves that a function
reads are linear in their support points (``splines``), so that it sees blended coordinates only.
"""

from __future__ import annotations

import math
from typing import Any

import numpy as np

from leadline.core.sketch.model import Arc, ControlSpline, Ellipse, Entity, Spline
from leadline.core.sketch.rows import Array, Kind, Row
from leadline.core.sketch.splines import AnySpline, Blending, blending, support
from leadline.core.sketch.system import System, ellipse_arms, ellipse_variables

NEAREST_SAMPLES = 400


def _support(system: System, spline: AnySpline) -> tuple[Blending, list[int], list[int]]:
    """The blending functions and the x and y variables of the support points."""
    pairs = [system.variables_of(p) for p in support(spline)]
    return blending(spline, system.knots(spline)), [p[0] for p in pairs], [p[1] for p in pairs]


def on_spline(system: System, spline: AnySpline, point: str, owner: str) -> list[Row]:
    """``p - C(t) = 0`` in both directions, with t (as a share of the curve) a variable of its own."""
    blend, xs, ys = _support(system, spline)
    drawn = np.array([system.at(p) for p in support(spline)])
    shares = np.linspace(0.0, 1.0, NEAREST_SAMPLES)
    span = blend.last - blend.first
    gaps = np.linalg.norm(blend.at(blend.first + shares * span) @ drawn - system.at(point), axis=1)
    t = system.own_variable(float(shares[int(gaps.argmin())]))
    system.ranges.append((t, 0.0, 1.0))

    def off(v: Any) -> Any:
        weights = blend.at(blend.first + v[..., 1] * span)
        return v[..., 0] - (weights * v[..., 2:]).sum(axis=-1)

    px, py = system.variables_of(point)
    return [Row(Kind.GENERAL, owner, function=off, variables=[p, t, *c]) for p, c in ((px, xs), (py, ys))]


def mirrored_arm(
    system: System, arm: tuple[str, str], image: tuple[str, str], line: tuple[str, str] | None, owner: str
) -> Row:
    """The cross product of a centre's arm, mirrored about a line or a point (None), with its image's arm: 0 where they
    agree.
    """
    points = [*arm, *image, *(line or ())]
    variables = [v for p in points for v in system.variables_of(p)]

    def off(v: Any) -> Any:
        ax, ay, bx, by = v[..., 2] - v[..., 0], v[..., 3] - v[..., 1], v[..., 6] - v[..., 4], v[..., 7] - v[..., 5]
        size = np.sqrt(np.sqrt((ax * ax + ay * ay) * (bx * bx + by * by)))
        if line is None:
            return (ay * bx - ax * by) / size
        ux, uy = v[..., 10] - v[..., 8], v[..., 11] - v[..., 9]
        share = 2 * (ux * ax + uy * ay) / (ux * ux + uy * uy)
        mx, my = share * ux - ax, share * uy - ay
        return (mx * by - my * bx) / size

    return Row(Kind.GENERAL, owner, function=off, variables=variables)


def spline_length(system: System, spline: AnySpline, owner: str, length: float) -> Row:
    """Gauss quadrature of the speed, less ``length`` (scaled)."""
    blend, xs, ys = _support(system, spline)
    n, D, w = len(xs), blend.length_slopes, blend.length_weights

    def off(v: Any) -> Any:
        dx, dy = v[..., :n] @ D.T, v[..., n:] @ D.T
        return (np.sqrt(dx * dx + dy * dy) * w).sum(axis=-1) - length

    return Row(Kind.GENERAL, owner, function=off, variables=[*xs, *ys])


def arc_length(system: System, arc: Arc, owner: str, length: float) -> Row:
    """Radius times sweep, less ``length`` (scaled). The angles are measured from the drawn ends."""
    c, a, b = (system.at(p) for p in (arc.center, arc.start, arc.end))
    u, v = (a - c) / np.hypot(*(a - c)), (b - c) / np.hypot(*(b - c))
    drawn = (math.atan2(v[1], v[0]) - math.atan2(u[1], u[0])) % (2 * math.pi) or 2 * math.pi
    variables = [i for p in (arc.center, arc.start, arc.end) for i in system.variables_of(p)]

    def turn(base: Array, dx: Any, dy: Any) -> Any:
        return np.arctan((base[0] * dy - base[1] * dx) / (base[0] * dx + base[1] * dy))

    def off(x: Any) -> Any:
        cx, cy, r = x[..., 0], x[..., 1], x[..., 6]
        sweep = drawn + turn(v, x[..., 4] - cx, x[..., 5] - cy) - turn(u, x[..., 2] - cx, x[..., 3] - cy)
        return r * sweep - length

    return Row(Kind.GENERAL, owner, function=off, variables=[*variables, system.radius[arc.id]])


def line_touches_ellipse(system: System, line: tuple[str, str], ellipse: Ellipse, owner: str) -> Row:
    """The centre stands off the line by the ellipse's own reach across it."""
    points = (*line, ellipse.center, ellipse.major)
    variables = [i for p in points for i in system.variables_of(p)]
    a, b, c = (system.at(p) for p in (*line, ellipse.center))
    u, d = b - a, c - a
    side = 1.0 if u[0] * d[1] - u[1] * d[0] >= 0 else -1.0

    def off(v: Any) -> Any:
        ux, uy, dx, dy = v[..., 2] - v[..., 0], v[..., 3] - v[..., 1], v[..., 4] - v[..., 0], v[..., 5] - v[..., 1]
        mx, my, minor = v[..., 6] - v[..., 4], v[..., 7] - v[..., 5], v[..., 8]
        size = np.sqrt(ux * ux + uy * uy)
        major2 = mx * mx + my * my
        across, along = (ux * my - uy * mx) / size, (ux * mx + uy * my) / (size * np.sqrt(major2))
        reach = np.sqrt(across * across + (along * minor) ** 2)
        return (ux * dy - uy * dx) / size - side * reach

    return Row(Kind.GENERAL, owner, function=off, variables=[*variables, system.radius[ellipse.id]])


def ellipse_end_tangent(
    system: System, ellipse: Ellipse, point: str, other: list[tuple[str, float]], is_radius: bool, owner: str
) -> Row:
    """At an end of an elliptical arc: its normal is square to the other's heading, or along its radius."""
    theirs = [system.variables_of(p) for p, _ in other]
    weights = np.array([w for _, w in other])
    n = len(weights)
    drawn = np.sum([w * system.at(p) for p, w in other], axis=0)
    arm = max(0.02, min(1.0, float(np.hypot(*drawn))))

    def off(v: Any) -> Any:
        mx, my, dx, dy, b = ellipse_arms(v)
        a2 = mx * mx + my * my
        along, across = (dx * mx + dy * my) / (a2 * a2), (mx * dy - my * dx) / (a2 * b * b)
        nx, ny = along * mx - across * my, along * my + across * mx
        hx, hy = (v[..., 7 : 7 + n] * weights).sum(axis=-1), (v[..., 7 + n :] * weights).sum(axis=-1)
        sine = nx * hy - ny * hx if is_radius else nx * hx + ny * hy
        return arm * sine / np.sqrt((nx * nx + ny * ny) * (hx * hx + hy * hy))

    mine = ellipse_variables(system, ellipse, point)
    variables = [*mine, *(p[0] for p in theirs), *(p[1] for p in theirs)]
    return Row(Kind.GENERAL, owner, function=off, variables=variables)


def equal_curvature(system: System, ends: list[tuple[Entity, bool]], owner: str) -> Row:
    """The two entities' curvatures agree where they meet; each end is (entity, whether at its last point).

    In length units: curvature times the square of the drawn size there. A line has none.
    """
    variables: list[int] = []
    parts: list[tuple[float, Any, slice]] = []
    size = 1.0
    for k, (entity, at_end) in enumerate(ends):
        # one is travelled towards the joint and the other away from it; their difference is to be nought
        sign = (1.0 if at_end == (k == 0) else -1.0) * (1.0 if k == 0 else -1.0)
        first = len(variables)
        if isinstance(entity, Arc):
            variables.append(system.radius[entity.id])
            parts.append((sign, lambda v: 1.0 / v[..., 0], slice(first, first + 1)))
        elif isinstance(entity, Spline | ControlSpline):
            blend, xs, ys = _support(system, entity)
            drawn = np.array([system.at(p) for p in support(entity)])
            slope = blend.end(at_end, 1)
            leg = float(np.hypot(*(slope @ drawn))) * (blend.last - blend.first) / max(1, len(entity.points) - 1)
            size = max(min(size, leg), 1e-3)
            variables += [*xs, *ys]
            parts.append((sign, _end_curvature(slope, blend.end(at_end, 2)), slice(first, len(variables))))

    def off(v: Any) -> Any:
        return size * size * sum(sign * curvature(v[..., part]) for sign, curvature, part in parts)

    return Row(Kind.GENERAL, owner, function=off, variables=variables)


def _end_curvature(d1: Array, d2: Array) -> Any:
    n = len(d1)

    def curvature(v: Any) -> Any:
        x1, y1 = v[..., :n] @ d1, v[..., n:] @ d1
        x2, y2 = v[..., :n] @ d2, v[..., n:] @ d2
        return (x1 * y2 - y1 * x2) / (x1 * x1 + y1 * y1) ** 1.5

    return curvature
