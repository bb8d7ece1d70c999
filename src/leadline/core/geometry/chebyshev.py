"""Curves that are known point by point, as polynomials of high degree end to end.

Each span is interpolated at Chebyshev points and halved until its last coefficients are nought (Trefethen,
Approximation Theory and Approximation Practice, SIAM 2013, chapter 3). So there are few spans, where a spline would
need many, and the derivatives are those of the polynomials.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from numpy.polynomial import chebyshev

from leadline.core.geometry.plane import Array

DEGREE = 24
TAIL = 4  # last coefficients that must be nought
FIRST = 4  # spans to begin with
DEEPEST = 14  # times that one may be halved
MOST = 1024  # spans
STILL = 1e-3  # of the mean slope: where it is less its direction tells nothing
CORNER = 1e-5  # of the slope, by which it may differ where two spans meet
ELSEWHERE = np.array(
    [-0.9137, -0.5211, -0.1173, 0.2719, 0.6631, 0.9411]
)  # where else a span is looked at: no even steps


class NotSmooth(Exception):  # noqa: N818
    """The curve is not followed near the parameter ``at``."""

    def __init__(self, at: float) -> None:
        super().__init__(f"not smooth near {at}")
        self.at = at


@dataclass(frozen=True)
class ChebyshevCurve:
    """A curve over ``knots`` (m+1); span i has coefficients ``c[:, i]`` (degree + 1, 3) over -1 to 1."""

    knots: Array
    c: Array
    k: int = 1

    @property
    def t(self) -> Array:
        return np.concatenate([self.knots[:1], self.knots, self.knots[-1:]])

    def __call__(self, u: Array) -> Array:
        """Points at parameters u (any shape): that shape with 3 more."""
        u = np.asarray(u, dtype=float)
        i = np.clip(np.searchsorted(self.knots, u, side="right") - 1, 0, len(self.knots) - 2)
        a, b = self.knots[i], self.knots[i + 1]
        x = (2 * u - a - b) / (b - a)
        return np.asarray(chebyshev.chebval(x[..., None], self.c[:, i], tensor=False))

    def derivative(self, nu: int = 1) -> ChebyshevCurve:
        scale = (2 / np.diff(self.knots)) ** nu
        return ChebyshevCurve(self.knots, chebyshev.chebder(self.c, nu) * scale[:, None])


def followed(points: Callable[[Array], Array], tolerance: float) -> ChebyshevCurve:
    """The curve ``points`` (parameters (n,) from 0 to 1, to (n, 3)) within ``tolerance``.

    Raises:
        NotSmooth: there is a corner, a jump or too many waves.
    """
    done: list[tuple[float, float, Array]] = []
    waiting = [(a / FIRST, (a + 1) / FIRST, 0) for a in reversed(range(FIRST))]
    nodes = chebyshev.chebpts1(DEGREE + 1)
    to_coefficients = np.linalg.inv(chebyshev.chebvander(nodes, DEGREE))
    where = np.concatenate([nodes, ELSEWHERE, [-1.0, 1.0]])
    check = chebyshev.chebvander(where[DEGREE + 1 :], DEGREE)
    while waiting:
        a, b, depth = waiting.pop()
        values = points((a + b) / 2 + (b - a) / 2 * where)
        c = to_coefficients @ values[: DEGREE + 1]
        off = np.abs(check @ c - values[DEGREE + 1 :]).max()
        if max(off, np.abs(c[-TAIL:]).max()) <= tolerance:
            done.append((a, b, c))
        elif depth == DEEPEST or len(done) + len(waiting) > MOST:
            raise NotSmooth((a + b) / 2)
        else:
            waiting += [((a + b) / 2, b, depth + 1), (a, (a + b) / 2, depth + 1)]
    curve = ChebyshevCurve(np.array([d[0] for d in done] + [1.0]), np.stack([d[2] for d in done], axis=1))
    _check_joints(curve)
    return curve


def _check_joints(curve: ChebyshevCurve) -> None:
    """A corner that stands just where two spans meet is seen in neither. Raises NotSmooth."""
    slopes = curve.derivative()
    inner = curve.knots[1:-1]
    before = chebyshev.chebval(1.0, slopes.c[:, :-1])
    after = chebyshev.chebval(-1.0, slopes.c[:, 1:])
    sizes = np.linalg.norm(before, axis=1)
    off = np.linalg.norm(before - after, axis=1) / np.maximum(sizes, STILL * sizes.mean())
    if off.max(initial=0.0) > CORNER:
        raise NotSmooth(float(inner[int(np.argmax(off))]))
