"""Splines of a sketch, all of them linear in the points that they stand on once their knots are kept.

A spline entity is the curve ``sum_i b_i(t) P_i`` over its *support*: its points and its end handles. The
blending functions ``b`` are one vector-valued B-spline, from which curves, end tangents, curvatures and
lengths all follow.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from functools import lru_cache
from typing import Any

import numpy as np
from numpy.typing import NDArray
from scipy.interpolate import BSpline, make_interp_spline

from leadline.core.sketch.model import ControlSpline, Spline

Array = NDArray[np.float64]
AnySpline = Spline | ControlSpline
_GAUSS_X, _GAUSS_W = np.polynomial.legendre.leggauss(12)


def chord_knots(points: Array) -> list[float]:
    """Centripetal knots (Lee, CAD 21(6), 1989) for points of shape (n, 2), from 0, in sqrt(mm)."""
    chords = np.sqrt(np.linalg.norm(np.diff(points, axis=0), axis=1))
    return [0.0, *np.cumsum(np.maximum(chords, 1e-9)).tolist()]


def support(spline: AnySpline) -> list[str]:
    """The ids of the points that blend into the curve: its points, then its handles."""
    if isinstance(spline, ControlSpline):
        return list(spline.points)
    return [*spline.points, *(h for h in (spline.start_handle, spline.end_handle) if h is not None)]


def curve(spline: AnySpline, knots: Sequence[float], points: Array) -> BSpline:
    """The curve over ``points`` (n, d) in the order of ``support``; ``knots`` as ``spline_knots`` gives them."""
    return _curve(tuple(knots), points, *_ends(spline))


def spline_knots(spline: AnySpline, points: Array) -> tuple[float, ...]:
    """The kept knots of a spline, or those that its drawn points (n, 2) ask for."""
    if isinstance(spline, ControlSpline):
        return tuple(np.linspace(0.0, 1.0, max(2, len(spline.points) - 2)).tolist())
    return tuple(spline.knots) if spline.knots is not None else tuple(chord_knots(points[: len(spline.points)]))


def _ends(spline: AnySpline) -> tuple[str, bool, bool]:
    if isinstance(spline, ControlSpline):
        return "control", False, False
    return "through", spline.start_handle is not None, spline.end_handle is not None


def _curve(knots: tuple[float, ...], points: Array, kind: str, start_handle: bool, end_handle: bool) -> BSpline:
    if kind == "control":
        degree = min(3, len(points) - 1)
        return BSpline(np.concatenate([[0.0] * degree, knots, [1.0] * degree]), points, degree)
    t = np.asarray(knots)
    through = points[: len(t)]
    if not (start_handle or end_handle):
        return through_points(t, points)
    handles = list(points[len(t) :])
    nought = np.zeros(points.shape[1:])
    start: Any = (2, nought)
    end: Any = (2, nought)
    if start_handle:
        start = (1, 3 * (handles.pop(0) - through[0]) / (t[1] - t[0]))
    if end_handle:
        end = (1, 3 * (through[-1] - handles.pop(0)) / (t[-1] - t[-2]))
    ends: Any = ([start], [end])
    return make_interp_spline(t, through, k=3, bc_type=ends)


def through_points(knots: Sequence[float] | Array, points: Array) -> BSpline:
    """The C2 spline with zero second derivative at its ends, through ``points`` (n, d)."""
    t = np.asarray(knots)
    if len(t) == 2:
        return make_interp_spline(t, points, k=1)
    return make_interp_spline(t, points, k=3, bc_type="natural")


def stretch(curve: BSpline, a: float, b: float) -> BSpline:
    """The part of a curve between two parameters, with clamped ends."""
    k = curve.k
    for value in (a, b):
        while int((curve.t == value).sum()) < k:
            curve = curve.insert_knot(value)
    first = int(np.searchsorted(curve.t, a, side="right")) - 1
    last = int(np.searchsorted(curve.t, b))
    knots = np.concatenate([[a] * (k + 1), curve.t[first + 1 : last], [b] * (k + 1)])
    return BSpline(knots, np.array(curve.c[first - k : last]), k)


class Blending:
    """The blending functions of one shape of spline: what its points' weights are, anywhere along it."""

    def __init__(self, knots: tuple[float, ...], count: int, kind: str, start_handle: bool, end_handle: bool) -> None:
        self.spline = _curve(knots, np.eye(count), kind, start_handle, end_handle)
        degree = self.spline.k
        self.first, self.last = float(self.spline.t[degree]), float(self.spline.t[-degree - 1])
        spans = np.unique(self.spline.t)
        self._breaks = spans
        # the polynomial on each span by its Taylor series at the span's start, highest power first
        self._powers = [np.asarray(self.spline(spans[:-1], nu)) / math.factorial(nu) for nu in range(degree, -1, -1)]
        half = np.diff(spans)[:, None] / 2
        nodes = spans[:-1, None] + half * (1 + _GAUSS_X)
        self.length_slopes = np.asarray(self.spline.derivative()(nodes.ravel()))
        self.length_weights = np.asarray((half * _GAUSS_W).ravel())

    def end(self, at_end: bool, order: int) -> Array:
        """Weights w (n,) with derivative = sum(w_i P_i) at the first or last point."""
        value = self.last if at_end else self.first
        return np.asarray(self.spline.derivative(order)(value) if order else self.spline(value))

    def at(self, t: Any) -> Any:
        """Weights (..., n) at real or complex parameters; a complex one stays in the span of its real part."""
        t = np.asarray(t)
        breaks, c = self._breaks, self._powers
        span = np.clip(np.searchsorted(breaks, t.real, side="right") - 1, 0, len(breaks) - 2)
        u = (t - breaks[span])[..., None]
        total = c[0][span] + 0 * u
        for k in range(1, len(c)):
            total = total * u + c[k][span]
        return total


@lru_cache(maxsize=256)
def _blending(knots: tuple[float, ...], count: int, kind: str, start_handle: bool, end_handle: bool) -> Blending:
    return Blending(knots, count, kind, start_handle, end_handle)


def blending(spline: AnySpline, knots: Sequence[float]) -> Blending:
    """The blending functions of a spline with these knots."""
    return _blending(tuple(knots), len(support(spline)), *_ends(spline))
