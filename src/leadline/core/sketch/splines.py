"""Through-point splines: C2 cubics, linear in their points once the knots are kept."""

from __future__ import annotations

from functools import lru_cache

import numpy as np
from numpy.typing import NDArray
from scipy.interpolate import BSpline, make_interp_spline

Array = NDArray[np.float64]


def chord_knots(points: Array) -> list[float]:
    """Centripetal knots (Lee, CAD 21(6), 1989) for points of shape (n, 2), from 0, in sqrt(mm)."""
    chords = np.sqrt(np.linalg.norm(np.diff(points, axis=0), axis=1))
    return [0.0, *np.cumsum(np.maximum(chords, 1e-9)).tolist()]


def through_points(knots: tuple[float, ...] | list[float], points: Array) -> BSpline:
    """The C2 spline with zero second derivative at its ends, through ``points`` (n, d)."""
    t = np.asarray(knots)
    if len(t) == 2:
        return make_interp_spline(t, points, k=1)
    return make_interp_spline(t, points, k=3, bc_type="natural")


@lru_cache(maxsize=256)
def end_tangent_weights(knots: tuple[float, ...], at_end: bool) -> tuple[float, ...]:
    """Weights w with tangent = sum(w_i p_i) at the first or last point, per unit of knot."""
    basis = through_points(knots, np.eye(len(knots)))
    weights = basis.derivative()(knots[-1] if at_end else knots[0])
    return tuple(float(w) for w in np.atleast_1d(weights).ravel())
