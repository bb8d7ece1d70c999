"""A path by formula: x, y and z of a parameter t, checked for what no path can be."""

from __future__ import annotations

import itertools
from collections.abc import Callable

import numpy as np

from leadline.core.geometry.chebyshev import ChebyshevCurve, NotSmooth, followed
from leadline.core.geometry.plane import Array, Plane
from leadline.core.paths.path import Path
from leadline.core.paths.pieces import SplinePiece
from leadline.core.problems import Problem

LOOKED_AT = 65  # places that tell how far the formula goes
TOLERANCE, SHARE = 1e-10, 1e-12  # mm, and of the path's extent where that is more
SAME = 1e-6  # mm between the ends of a closed path
STILL = 1e-6  # of the mean speed
LARGEST = 1e7  # mm


def through_formula(follow: Callable[[float], Array], first: float, last: float, plane: Plane) -> Path:
    """The curve ``follow`` (t to coordinates (3,) in mm along the plane's x, y and normal) from t = ``first`` to
    ``last``.

    It is followed within 1e-10 mm, or 1e-12 of its extent. Where its ends meet it is closed.

    Raises:
        Problem: ``first`` is ``last``; the curve leaves 1e7 mm, stays where it is, stands still or turns back on the
            way, or has a corner, a jump or too many waves.
    """
    if abs(last - first) < 1e-9 * max(1.0, abs(first)):
        raise Problem("bad-size", "The parameter t begins where it ends.", "Give it another end.", of="formula")
    points = _placed(follow, first, last, plane)
    extent = float(np.ptp(points(np.linspace(0.0, 1.0, LOOKED_AT)), axis=0).max())
    if extent < SAME:
        raise Problem("no-length", "The formula stays at one place.", "Use t in it.", of="formula")
    try:
        curve = followed(points, max(TOLERANCE, SHARE * extent))
    except NotSmooth as found:
        raise Problem(
            "rough-formula",
            (
                f"Near t = {first + (last - first) * found.at:.6g} the formula has a corner or a jump, or it "
                "goes to and fro too often to be followed."
            ),
            "Split it there into two paths and join them, or take less of t.",
            of="formula",
        ) from None
    _check_speed(curve, first, last)
    ends = curve(np.array([0.0, 1.0]))
    return Path([SplinePiece(curve, "formula")], bool(np.linalg.norm(ends[1] - ends[0]) < SAME))


def _placed(follow: Callable[[float], Array], first: float, last: float, plane: Plane) -> Callable[[Array], Array]:
    axes = np.stack([plane.x, plane.y, plane.normal])

    def points(u: Array) -> Array:
        t = first + (last - first) * u
        at = np.array([follow(float(v)) for v in t])
        if (big := np.abs(at).max(axis=1)).max() > LARGEST:
            raise Problem(
                "too-far",
                f"At t = {t[int(np.argmax(big))]:.6g} the formula goes {big.max():.3g} mm out.",
                "Keep t to where it stays within 10 km.",
                of="formula",
            )
        return np.asarray(plane.origin + at @ axes)

    return points


def _check_speed(curve: ChebyshevCurve, first: float, last: float) -> None:
    u = np.unique(np.concatenate([np.linspace(a, b, 65) for a, b in itertools.pairwise(curve.knots)]))
    d = curve.derivative()(u)
    speed = np.linalg.norm(d, axis=1)
    slow = int(np.argmin(speed))
    back = np.flatnonzero((d[1:] * d[:-1]).sum(axis=1) < 0)
    if speed[slow] < STILL * speed.mean() or len(back):
        at = float(u[back[0]] if len(back) else u[slow])
        raise Problem(
            "stands-still",
            f"At t = {first + (last - first) * at:.6g} the formula stands still or turns back on itself.",
            "Take a stretch of t without that place, or split it there into two paths.",
            of="formula",
        )
