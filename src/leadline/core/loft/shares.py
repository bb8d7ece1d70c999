"""The share that each of several sections has in the shape, by station."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import Any

import numpy as np
from scipy.interpolate import CubicSpline, PPoly

from leadline.core.geometry.plane import Array

THIRD = 1 / 3
LEAST_STRENGTH, MOST_STRENGTH = 0.1, 2.5  # with 3 at both ends the shape would jump in the middle
NEWTON = 60
CLOSE = 1e-15


@dataclass(frozen=True)
class End:
    """How the shape leaves the section at an end: as it comes, or ``square`` to it, which it is for longer with more
    ``strength``.
    """

    square: bool = False
    strength: float = 1.0

    @property
    def hold(self) -> float:
        return self.strength * THIRD if self.square else THIRD

    @property
    def condition(self) -> tuple[int, float]:
        """Of a cubic spline that ends there: no slope, or no bend."""
        return (1, 0.0) if self.square else (2, 0.0)


@dataclass(frozen=True)
class Course:
    """Stations as the shares see them: all the same but between the first two and the last two sections, where an end
    may hold the shape back.

    There a share v of the way between the two is seen as t, with v = 3 a t (1-t)² + 3 (1 - b) t² (1-t) + t³: a cubic
    curve by Bézier whose handles have the lengths a and b. With a third each, t is v.
    """

    stations: Array
    start: End
    end: End
    _last: dict[bytes, tuple[Array, Array]] = field(default_factory=dict, compare=False, repr=False)

    def seen(self, s: Array) -> tuple[Array, Array]:
        """What stations (n,) are seen as, and its derivative; the last answer is kept, as the share of each section
        asks for the same.
        """
        key = s.tobytes()
        if key not in self._last:
            self._last.clear()
            self._last[key] = self._seen(s)
        return self._last[key]

    def _seen(self, s: Array) -> tuple[Array, Array]:
        s = np.clip(s, self.stations[0], self.stations[-1])
        last = len(self.stations) - 2
        i = np.clip(np.searchsorted(self.stations, s, side="right") - 1, 0, last)
        width = np.diff(self.stations)[i]
        a = np.where(i == 0, self.start.hold, THIRD)
        b = np.where(i == last, self.end.hold, THIRD)
        t, rate = _solved((s - self.stations[i]) / width, a, b)
        return self.stations[i] + t * width, 1 / rate


def _solved(v: Array, a: Array, b: Array) -> tuple[Array, Array]:
    """t with the share v, and dv/dt there: Newton's method, halving where that leaves what is known to hold t."""
    t, low, high = v.copy(), np.zeros_like(v), np.ones_like(v)
    for _ in range(NEWTON):
        off = 3 * a * t * (1 - t) ** 2 + 3 * (1 - b) * t**2 * (1 - t) + t**3 - v
        rate = 3 * a * (1 - t) ** 2 + 6 * (1 - a - b) * t * (1 - t) + 3 * b * t**2
        if np.abs(off).max(initial=0.0) < CLOSE:
            break
        low, high = np.where(off < 0, t, low), np.where(off < 0, high, t)
        step = t - off / rate
        t = np.where((step >= low) & (step <= high), step, (low + high) / 2)
    return t, rate


class Share:
    """The share of one section: 1 at its own station, 0 at all others; those of all sections together are 1
    everywhere.
    """

    def __init__(self, course: Course, number: int, closed: bool, even: bool = False) -> None:
        self._course = course
        values = np.eye(len(course.stations))[number]
        conditions: Any = "periodic" if closed else (course.start.condition, course.end.condition)
        self._spline = _straight(course, values) if even else CubicSpline(course.stations, values, bc_type=conditions)

    @property
    def breaks(self) -> Array:
        return self._course.stations

    @property
    def steady(self) -> bool:
        return False

    def value(self, s: Array) -> Array:
        return np.asarray(self._spline(self._course.seen(np.asarray(s, dtype=float))[0]))

    def slope(self, s: Array) -> Array:
        s = np.asarray(s, dtype=float)
        seen, rate = self._course.seen(s)
        inside = (s >= self.breaks[0]) & (
            s <= self.breaks[-1]
        )  # beyond the first and the last section the shape goes on as there
        return np.where(inside, self._spline(seen, 1) * rate, 0.0)

    def second(self, s: Array) -> Array:
        h = 1e-5 * float(np.ptp(self._course.stations))
        return np.asarray((self.slope(s + h) - self.slope(s - h)) / (2 * h))


def _straight(course: Course, values: Array) -> PPoly:
    """Straight from each station's value to the next one's, but as the ends say before the second and after the last
    but one.
    """
    n, straight, pieces = len(values), (2, 0.0), []
    for i in range(n - 1):
        ends: Any = (course.start.condition if i == 0 else straight, course.end.condition if i == n - 2 else straight)
        pieces.append(CubicSpline(course.stations[i : i + 2], values[i : i + 2], bc_type=ends).c)
    return PPoly(np.concatenate(pieces, axis=1), course.stations)


def shares(
    stations: Sequence[float] | Array, start: End, end: End, closed: bool = False, even: bool = False
) -> tuple[Share, ...]:
    """The share of each section but the first, which has what is left: smooth through all stations, or ``even`` from
    each to the next.

    On a ``closed`` path the last station is the first again.
    """
    free = End()
    course = Course(np.asarray(stations, dtype=float), free if closed else start, free if closed else end)
    return tuple(Share(course, k, closed, even) for k in range(1, len(stations) - (1 if closed else 0)))
