"""Coils about a straight axis whose radius or pitch changes: conical, with closed ends, flat.

Over the turns u, with angle φ = 2πu and unit directions U, V, A = U x V,

    P(u) = O + r(u) (cos φ U + sin φ V) + z(u) A

so that nothing is fitted; only the arc length is tabled.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence

import numpy as np
from numpy.polynomial import Polynomial
from scipy.interpolate import PPoly

from leadline.core.geometry.plane import Array

ONE_TURN = 1e-6  # turns nearer to each other than this are one
CELLS = 96  # of the arc length's table on a turn


def rise_of(turns: float, at: Array, pitch: Array) -> PPoly:
    """The rise over turns 0 to ``turns`` where the pitch is given at some turns, straight between them and level
    outside.
    """
    inner = at[(at > 0) & (at < turns)]
    knots = np.concatenate([[0.0], inner, [turns]])
    values = np.interp(knots, at, pitch)
    return PPoly(np.stack([np.diff(values) / np.diff(knots), values[:-1]]), knots).antiderivative()


def radius_over(turns: float, radii: Sequence[float]) -> Polynomial:
    """The radius over turns 0 to ``turns``: straight between the first and the last of two, or by the parabola that has
    three at its start, middle and end.
    """
    a, b = radii[0], radii[-1]
    if len(radii) == 2:
        return Polynomial([a, (b - a) / turns])
    m = radii[1]
    return Polynomial([a, (4 * m - 3 * a - b) / turns, 2 * (a - 2 * m + b) / turns**2])


class SpiralCurve:
    """A coil over its turns.

    ``radius`` is r as ``radius_over`` has it, at both ends or at both and in the middle; ``rise`` is z(u) from u = 0 to
    the last.
    """

    k = 1

    def __init__(self, center: Array, u: Array, v: Array, axis: Array, radius: Sequence[float], rise: PPoly) -> None:
        self.center, self.u, self.v, self.axis, self.rise = center, u, v, axis, rise
        self.turns = float(rise.x[-1])
        self._arm = radius_over(self.turns, radius)
        self._growth, self._swell = self._arm.deriv(1), self._arm.deriv(2)
        self._slope, self._bend = rise.derivative(1), rise.derivative(2)
        whole = np.arange(1, math.ceil(self.turns - ONE_TURN))
        after = np.searchsorted(rise.x, whole)
        apart = np.minimum(whole - rise.x[after - 1], rise.x[after] - whole)
        whole = whole[apart > ONE_TURN]  # a cell between two that are one but for rounding has no length
        inner = np.sort(np.concatenate([whole, rise.x[1:-1]]))
        self.t = np.concatenate([[0.0, 0.0], inner, [self.turns] * 2])

    @property
    def steps(self) -> list[int]:
        """Cells between knots."""
        return [max(4, math.ceil(CELLS * float(d))) for d in np.diff(self.t[1:-1])]

    @property
    def kinks(self) -> Array:
        return np.empty(0)

    def radial(self, u: Array) -> tuple[Array, Array]:
        """The unit arm from the axis and its derivative, each (n, 3)."""
        out, along = self._directions(u)
        return out, 2 * math.pi * along

    def _directions(self, u: Array) -> tuple[Array, Array]:
        a = 2 * math.pi * np.asarray(u)[..., None]
        return np.cos(a) * self.u + np.sin(a) * self.v, -np.sin(a) * self.u + np.cos(a) * self.v

    def _radius(self, u: Array) -> Array:
        return np.asarray(self._arm(np.asarray(u)))[..., None]

    def __call__(self, u: Array) -> Array:
        out, _ = self._directions(u)
        return np.asarray(self.center + self._radius(u) * out + self.rise(u)[..., None] * self.axis)

    def derivative(self, nu: int = 1) -> Callable[[Array], Array]:
        """The first or the second derivative over the turns."""
        return self._first_derivative if nu == 1 else self._second_derivative

    def _first_derivative(self, u: Array) -> Array:
        out, along = self._directions(u)
        growth = np.asarray(self._growth(np.asarray(u)))[..., None]
        return np.asarray(growth * out + 2 * math.pi * self._radius(u) * along + self._slope(u)[..., None] * self.axis)

    def _second_derivative(self, u: Array) -> Array:
        out, along = self._directions(u)
        w, at = 2 * math.pi, np.asarray(u)
        growth, swell = (np.asarray(law(at))[..., None] for law in (self._growth, self._swell))
        return np.asarray(
            2 * growth * w * along + (swell - self._radius(u) * w**2) * out + self._bend(u)[..., None] * self.axis
        )
