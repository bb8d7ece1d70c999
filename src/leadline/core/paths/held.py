"""Routes of a given length: one point gives way along a line until the length is right."""

from __future__ import annotations

from collections.abc import Callable, Sequence

import numpy as np
from scipy.optimize import brentq, minimize_scalar

from leadline.core.geometry.plane import Array, angles_between
from leadline.core.problems import Problem, mm

CLOSE = 1e-9  # mm of length
DOUBLINGS = 40
STRAIGHT = 1e-6  # of the way between its neighbours that a point must stand off it


def routed_length(points: Array, radii: Sequence[float], closed: bool) -> float:
    """The length of runs through points (n, 3) with bends of these radii (n): each bend by θ saves r (2 tan θ/2
    - θ).
    """
    gaps = np.diff(np.vstack([points, points[:1]]) if closed else points, axis=0)
    lengths = np.linalg.norm(gaps, axis=1)
    before, after = (np.roll(gaps, 1, axis=0), gaps) if closed else (gaps[:-1], gaps[1:])
    r = np.asarray(radii if closed else radii[1:-1], dtype=float)
    turns = angles_between(before, after)
    return float(lengths.sum() - (r * (2 * np.tan(turns / 2) - turns)).sum())


def own_direction(points: Array, i: int, closed: bool) -> Array:
    """The way that a point gives: an end along its run, another away from the line between its neighbours.

    Raises:
        Problem: the point stands on that line.
    """
    n = len(points)
    if not closed and i in (0, n - 1):
        way = points[i] - points[1 if i == 0 else n - 2]
        return np.asarray(way / np.linalg.norm(way))
    a, b = points[i - 1], points[(i + 1) % n]
    chord = (b - a) / max(float(np.linalg.norm(b - a)), 1e-12)
    off = points[i] - a - chord * float((points[i] - a) @ chord)
    size = float(np.linalg.norm(off))
    if size < STRAIGHT * max(float(np.linalg.norm(b - a)), 1.0):
        raise Problem(
            "straight",
            f"Point {i + 1} stands straight between its neighbours, so that it has no way to give.",
            "Let it give along an axis.",
            of="held_length",
            point=i,
        )
    return np.asarray(off / size)


def hold_length(points: Array, i: int, way: Array, length: float, measure: Callable[[Array], float]) -> Array:
    """The points (n, 3) with the i-th moved along ``way`` (unit, 3) by as little as makes the route so long.

    ``measure`` gives the length through points. The sum of runs is convex along any line, so that there is one place of
    least length, and the length grows from there both ways.

    Raises:
        Problem: the route is longer wherever that point stands.
    """

    def moved(t: float) -> Array:
        out = points.copy()
        out[i] = points[i] + t * way
        return out

    def off(t: float) -> float:
        return measure(moved(t)) - length

    here = off(0.0)
    if abs(here) < CLOSE:
        return points
    span = max(length, float(np.ptp(points, axis=0).max()))
    if here < 0:
        return moved(min((_outwards(off, side * span / 100) for side in (1, -1)), key=abs))
    least = minimize_scalar(off, bounds=(-2 * span, 2 * span), method="bounded", options={"xatol": 1e-9 * span})
    if least.fun > CLOSE:
        raise Problem(
            "length-unreachable",
            (
                f"With point {i + 1} giving way the route is {mm(float(least.fun) + length)} long at least; "
                f"{mm(length)} are asked for."
            ),
            "Ask for more, move the others, or let another point give way.",
            of="held_length",
            point=i,
        )
    if least.fun > -CLOSE:
        return moved(float(least.x))
    return moved(float(brentq(off, min(float(least.x), 0.0), max(float(least.x), 0.0), xtol=1e-12 * span)))


def _outwards(off: Callable[[float], float], step: float) -> float:
    """How far to go one way until the length is right."""
    inner = 0.0
    for _ in range(DOUBLINGS):
        if off(step) >= 0:
            return float(brentq(off, min(inner, step), max(inner, step), xtol=1e-12 * abs(step)))
        inner, step = step, 2 * step
    return float("inf")
