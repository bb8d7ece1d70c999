"""Edges of a section: exact planar NURBS curves.

Arcs are split at most every quarter turn, because a curve with an inner sharp knot (a circle as one
nine-point quadratic) gives faces that later kernel operations refuse.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Callable
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np
from numpy.typing import ArrayLike
from scipy.interpolate import BSpline

from leadline.core.geometry.plane import Array

SIMILAR = 1e-9
MOST_SAMPLES = 64  # steps on a smooth stretch of a curve, for display


def greville(knots: Array, degree: int) -> Array:
    """Places at which a spline on these knots is told by its values."""
    at = np.array([knots[i + 1 : i + degree + 1].mean() for i in range(len(knots) - degree - 1)])
    return np.asarray(np.clip(at, knots[0], knots[-1]))  # a mean of equal numbers may be off them by rounding


@dataclass(frozen=True)
class Edge:
    """A planar NURBS curve of one origin.

    ``control`` has shape (n, 2), or more columns where a sweep gives its points further coordinates; ``weights`` (n,),
    ``knots`` (n + degree + 1,). ``arc`` holds centre and radius when the edge is circular. ``origin`` names the sketch
    entity that it comes from.
    """

    control: Array
    weights: Array
    knots: Array
    degree: int
    origin: str
    arc: tuple[float, float, float] | None = None

    @cached_property
    def _homogeneous(self) -> BSpline:
        columns = np.column_stack([self.control * self.weights[:, None], self.weights])
        return BSpline(self.knots, columns, self.degree)

    @property
    def domain(self) -> tuple[float, float]:
        return float(self.knots[self.degree]), float(self.knots[-self.degree - 1])

    @property
    def straight(self) -> bool:
        return self.degree == 1 and len(self.control) == 2

    @property
    def start(self) -> Array:
        return np.asarray(self.control[0])

    @property
    def end(self) -> Array:
        return np.asarray(self.control[-1])

    def point(self, t: ArrayLike) -> Array:
        """Points at parameters t (...), shape (..., 2)."""
        if self.straight:
            a, b = self.domain
            share = ((np.asarray(t, dtype=float) - a) / (b - a))[..., None]
            return np.asarray((1 - share) * self.start + share * self.end)
        h = self._homogeneous(np.asarray(t, dtype=float))
        return np.asarray(h[..., :-1] / h[..., -1:])

    def derivative(self, t: ArrayLike) -> Array:
        """First derivatives at parameters t (...), shape (..., 2)."""
        t = np.asarray(t, dtype=float)
        if self.straight:
            a, b = self.domain
            return np.broadcast_to((self.end - self.start) / (b - a), (*t.shape, self.control.shape[1]))
        h, d = self._homogeneous(t), self._homogeneous(t, 1)
        return np.asarray((d[..., :-1] - h[..., :-1] / h[..., -1:] * d[..., -1:]) / h[..., -1:])

    def second(self, t: ArrayLike) -> Array:
        """Second derivatives at parameters t (...), shape (..., 2)."""
        t = np.asarray(t, dtype=float)
        if self.straight:
            return np.zeros((*t.shape, self.control.shape[1]))
        h, d, dd = (self._homogeneous(t, k) for k in (0, 1, 2))
        w, dw, ddw = (v[..., -1:] for v in (h, d, dd))
        p = h[..., :-1] / w
        return np.asarray((dd[..., :-1] - p * ddw - 2 * dw * (d[..., :-1] - p * dw) / w) / w)

    def reversed(self) -> Edge:
        a, b = self.domain
        return replace(
            self,
            control=self.control[::-1].copy(),
            weights=self.weights[::-1].copy(),
            knots=(a + b - self.knots)[::-1].copy(),
        )

    def mapped(self, matrix: Array, shift: Array) -> Edge:
        """The edge under the map ``matrix @ p + shift`` (2, 2), (2,).

        A circle stays one when both ways stretch alike.
        """
        arc = None
        if self.arc is not None:
            a, b = np.linalg.svd(matrix, compute_uv=False)
            cx, cy = matrix @ np.array(self.arc[:2]) + shift
            arc = (float(cx), float(cy), float(self.arc[2] * a)) if a - b <= SIMILAR * a else None
        return replace(self, control=self.control @ matrix.T + shift, arc=arc)

    def samples(self, chord: float, angle: float = math.inf, most: int = MOST_SAMPLES) -> Array:
        """Parameters from end to end, close enough that chords deviate by at most about ``chord`` mm and turn by at
        most about ``angle`` rad; on a smooth stretch of a free curve at most so many steps.
        """
        a, b = self.domain
        if self.straight:
            return np.array([a, b])
        if self.arc is not None:
            turn = min(angle, math.acos(max(-1.0, min(1.0, 1 - min(1.0, 2 * (chord / self.arc[2]))))))
            n = max(2, math.ceil(self._arc_angle() / max(turn, 1e-3)))
            return np.linspace(a, b, n + 1)
        inner = np.unique(self.knots[self.degree : -self.degree])
        return np.concatenate(
            [bent_samples(self.point, (p, q), chord, angle, most)[:-1] for p, q in itertools.pairwise(inner)] + [[b]]
        )

    def _arc_angle(self) -> float:
        assert self.arc is not None
        v, w = (p - np.array(self.arc[:2]) for p in (self.start, self.end))
        return abs(math.atan2(v[0] * w[1] - v[1] * w[0], float(v @ w)))


def bent_samples(
    curve: Callable[[Array], Array],
    domain: tuple[float, float],
    chord: float,
    angle: float = math.inf,
    most: int = MOST_SAMPLES,
) -> Array:
    """Even parameters on one smooth stretch of a curve t (n,) -> (..., n, k), whose chords deviate by at most about
    ``chord`` and turn by at most about ``angle`` rad, ``most`` steps.
    """
    n = 2
    while n < most:
        t = np.linspace(*domain, n + 1)
        p, middle = curve(t), curve((t[1:] + t[:-1]) / 2)
        if (
            np.abs(middle - (p[..., 1:, :] + p[..., :-1, :]) / 2).max() <= chord
            and largest_turn(np.diff(p, axis=-2)) <= angle
        ):
            break
        n *= 2
    return np.linspace(*domain, n + 1)


def largest_turn(directions: Array) -> float:
    """The largest angle (rad) from one of directions (..., n, k) to the next; those of no length are left out."""
    long = np.linalg.norm(directions, axis=-1, keepdims=True)
    units = directions / np.maximum(long, np.finfo(float).tiny)
    apart = np.linalg.norm(np.diff(units, axis=-2), axis=-1)[(long[..., 1:, 0] > 0) & (long[..., :-1, 0] > 0)]
    return float(2 * np.arcsin(min(1.0, apart.max(initial=0.0) / 2)))


def line_edge(start: ArrayLike, end: ArrayLike, origin: str) -> Edge:
    control = np.array([start, end], dtype=float)
    length = float(np.linalg.norm(control[1] - control[0]))
    return Edge(control, np.ones(2), np.array([0, 0, length, length]), 1, origin)


def arc_edges(center: ArrayLike, radius: float, start: float, sweep: float, origin: str) -> list[Edge]:
    """A circular arc from angle ``start`` through ``sweep`` (rad, signed), in equal pieces of at most 90°."""
    n = max(1, math.ceil(abs(sweep) / (math.pi / 2) - 1e-9))
    c = np.asarray(center, dtype=float)
    edges = []
    for i in range(n):
        a, b = start + sweep * i / n, start + sweep * (i + 1) / n
        half = (b - a) / 2
        w = math.cos(half)
        corners = [(a, 1.0), ((a + b) / 2, 1 / w), (b, 1.0)]
        control = np.array([c + radius * k * np.array([math.cos(g), math.sin(g)]) for g, k in corners])
        knots = np.array([0, 0, 0, 1.0, 1, 1])
        edges.append(Edge(control, np.array([1, w, 1]), knots, 2, origin, (float(c[0]), float(c[1]), radius)))
    if abs(abs(sweep) - 2 * math.pi) < 1e-12:
        edges[-1].control[-1] = edges[0].control[0]
    return edges


def ellipse_edges(center: ArrayLike, major: Array, minor: float, start: float, sweep: float, origin: str) -> list[Edge]:
    """An elliptical arc as a stretched circular one: angles are those of the circle (rad, ``sweep`` signed)."""
    across = np.array([-major[1], major[0]]) / np.hypot(*major) * minor
    stretch = np.column_stack([major, across])
    circle = arc_edges(np.zeros(2), 1.0, start, sweep, origin)
    c = np.asarray(center, dtype=float)
    return [replace(e, control=e.control @ stretch.T + c, arc=None) for e in circle]


def spline_edge(spline: BSpline, origin: str) -> Edge:
    """A non-rational spline with clamped ends as an edge."""
    control = np.asarray(spline.c, dtype=float)
    return Edge(control, np.ones(len(control)), np.asarray(spline.t, dtype=float), int(spline.k), origin)
