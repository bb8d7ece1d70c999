"""Coils about a straight axis whose radius or pitch changes: conical, with closed ends, flat.

Over the turns u, with angle φ = 2πu and unit directions U, V, A = U x V,

    P(u) = O + r(u) (cos φ U + sin φ V) + z(u) A

so that nothing is fitted; only the arc length is tabled.
"""

from __future__ import annotations

import math
from collections.abc import Callable

import numpy as np
from scipy.interpolate import PPoly

from leadline.core.geometry.plane import Array

CELLS = 96  # of the arc length's table on a turn


def rise_of(turns: float, at: Array, pitch: Array) -> PPoly:
    """The rise over turns 0 to ``turns`` where the pitch is given at some turns, straight between them and level outside."""
    inner = at[(at > 0) & (at < turns)]
    knots = np.concatenate([[0.0], inner, [turns]])
    values = np.interp(knots, at, pitch)
    return PPoly(np.stack([np.diff(values) / np.diff(knots), values[:-1]]), knots).antiderivative()


class SpiralCurve:
    """A coil over its turns. ``radius`` is r at u = 0 and at the last turn, ``rise`` is z(u) from u = 0 to the last."""

    k = 1

    def __init__(self, center: Array, u: Array, v: Array, axis: Array, radius: tuple[float, float], rise: PPoly) -> None:
        self.center, self.u, self.v, self.axis, self.rise = center, u, v, axis, rise
        self.turns = float(rise.x[-1])
        self._first, self._growth = radius[0], (radius[1] - radius[0]) / self.turns
        self._slope, self._bend = rise.derivative(1), rise.derivative(2)
        whole = np.arange(1, math.ceil(self.turns - 1e-6))
        inner = np.unique(np.concatenate([whole, rise.x[1:-1]]))
        self.t = np.concatenate([[0.0, 0.0], inner, [self.turns] * 2])

    @property
    def steps(self) -> list[int]:
        """Cells between knots."""
        return [max(4, math.ceil(CELLS * float(d))) for d in np.diff(self.t[1:-1])]

    def radial(self, u: Array) -> tuple[Array, Array]:
        """The unit arm from the axis and its derivative, each (n, 3)."""
        out, along = self._directions(u)
        return out, 2 * math.pi * along

    def _directions(self, u: Array) -> tuple[Array, Array]:
        a = 2 * math.pi * np.asarray(u)[..., None]
        return np.cos(a) * self.u + np.sin(a) * self.v, -np.sin(a) * self.u + np.cos(a) * self.v

    def _radius(self, u: Array) -> Array:
        return np.asarray(self._first + self._growth * np.asarray(u))[..., None]

    def __call__(self, u: Array) -> Array:
        out, _ = self._directions(u)
        return np.asarray(self.center + self._radius(u) * out + self.rise(u)[..., None] * self.axis)

    def derivative(self, nu: int = 1) -> Callable[[Array], Array]:
        """The first or the second derivative over the turns."""
        return self._first_derivative if nu == 1 else self._second_derivative

    def _first_derivative(self, u: Array) -> Array:
        out, along = self._directions(u)
        return np.asarray(self._growth * out + 2 * math.pi * self._radius(u) * along + self._slope(u)[..., None] * self.axis)

    def _second_derivative(self, u: Array) -> Array:
        out, along = self._directions(u)
        w = 2 * math.pi
        return np.asarray(2 * self._growth * w * along - self._radius(u) * w**2 * out + self._bend(u)[..., None] * self.axis)
