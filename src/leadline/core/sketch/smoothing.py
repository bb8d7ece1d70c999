"""A closed outline of lines and arcs smoothed into one closed spline that stays within a tolerance of it."""

from __future__ import annotations

import math
from functools import lru_cache

import numpy as np
import shapely
from scipy.interpolate import BSpline, splprep

from leadline.core.geometry.edges import Edge
from leadline.core.geometry.plane import Array
from leadline.core.problems import Problem, mm
from leadline.core.sketch.splines import stretch

SAMPLES = 600
TRIES = 14


def smoothed(edges: list[Edge], tolerance: float, owner: str) -> tuple[BSpline, float]:
    """The smoothest closed C2 cubic within ``tolerance`` mm of a closed outline, and its largest deviation in mm.

    Among the smoothing splines of Dierckx (Curve and Surface Fitting with Splines, 1993) through samples of
    the outline even in arc length, the one with the largest smoothing that still keeps the tolerance.

    Raises:
        Problem: the tolerance is too fine for the outline.
    """
    points = _even_samples(edges, SAMPLES)
    data = np.ascontiguousarray(points)
    outline = np.vstack([e.point(e.samples(tolerance * 0.04)[:-1]) for e in edges])
    found = _fit(data.tobytes(), len(data), np.ascontiguousarray(outline).tobytes(), tolerance)
    if found is None:
        raise Problem(
            "tolerance",
            f"The outline cannot be smoothed to within {mm(tolerance)}.",
            "Give a larger tolerance.",
            items=[owner],
            of="tolerance",
        )
    return found


@lru_cache(maxsize=64)
def _fit(samples: bytes, n: int, outline: bytes, tolerance: float) -> tuple[BSpline, float] | None:
    points = np.frombuffer(samples).reshape(n, 2)
    ring = shapely.LinearRing(np.frombuffer(outline).reshape(-1, 2))
    low, high = math.log(tolerance**2 * n * 1e-5), math.log(tolerance**2 * n)
    best: tuple[BSpline, float] | None = None
    for _ in range(TRIES):
        middle = (low + high) / 2 if best is not None or low < high - 11 else low
        curve = _closed_spline(points, math.exp(middle))
        off = _deviation(curve, ring)
        if off <= tolerance:
            best, low = (curve, off), middle
        elif middle == low:
            return best
        else:
            high = middle
    return best


def _closed_spline(points: Array, smoothing: float) -> BSpline:
    closed = np.vstack([points, points[:1]])
    tck, _ = splprep(closed.T, u=np.linspace(0.0, 1.0, len(closed)), s=smoothing, per=True, k=3)
    knots, columns = np.asarray(tck[0]), np.asarray(tck[1])
    curve = stretch(BSpline(knots, columns.T, 3), 0.0, 1.0)
    curve.c[-1] = curve.c[0]
    return curve


def _deviation(curve: BSpline, ring: shapely.LinearRing) -> float:
    """Largest distance either way between the curve and the outline."""
    at = curve(np.linspace(0.0, 1.0, 4 * SAMPLES + 1))
    there = shapely.distance(shapely.points(at), ring).max()
    back = shapely.distance(shapely.points(shapely.get_coordinates(ring)), shapely.LinearRing(at[:-1])).max()
    return float(max(there, back))


def _even_samples(edges: list[Edge], n: int) -> Array:
    """n points (n, 2) evenly along the outline."""
    fine = [e.point(np.linspace(*e.domain, 400)) for e in edges]
    points = np.vstack([*(p[:-1] for p in fine), fine[0][:1]])
    along = np.concatenate([[0.0], np.cumsum(np.linalg.norm(np.diff(points, axis=0), axis=1))])
    s = np.linspace(0.0, along[-1], n, endpoint=False)
    return np.column_stack([np.interp(s, along, points[:, k]) for k in (0, 1)])
