"""How far along an outline a rail moves it."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.polynomial import Polynomial

from leadline.core.geometry.plane import Array
from leadline.core.loft.outline import SNAP


@dataclass(frozen=True)
class Spread:
    """The share that each rail has in the places of an outline: all of it at the place that it holds, none at those
    that others hold, in between a cubic, level at a place that is no corner.

    One rail alone has none at the place half round from its own. On an ``open`` outline the first rail has all of it as
    far as the start, the last one as far as the end.

    ``held`` (r,) are the places, shares of the outline, ``corners`` those at which it turns sharply.
    """

    held: Array
    corners: Array
    open: bool = False

    @cached_property
    def keys(self) -> Array:
        """The places between which the shares are cubics, in order."""
        alone = [np.mod(self.held + 0.5, 1.0)] if len(self.held) == 1 and not self.open else []
        return np.sort(np.concatenate([self.held, *alone]))

    def over(self, a: float, b: float) -> list[Polynomial]:
        """The share of each rail from place a (0) to place b (1), between two of the keys."""
        if len(self.held) == 0:
            return []
        if self.open and not self.keys[0] < (a + b) / 2 < self.keys[-1]:
            end = self.keys[0] if (a + b) / 2 < self.keys[0] else self.keys[-1]
            return [Polynomial([float(self._same(float(h), float(end)))]) for h in self.held]
        keys = np.concatenate([self.keys[-1:] - 1, self.keys, self.keys[:1] + 1])
        i = int(np.searchsorted(keys, (a + b) / 2)) - 1
        low, high = float(keys[i]), float(keys[i + 1])
        rise, fall = (1.0 if self._sharp(k) else 0.0 for k in (low, high))
        up = Polynomial([0.0, rise, 3 - 2 * rise - fall, rise + fall - 2])  # from 0 to 1, with these slopes at its ends
        along = Polynomial([(a - low) / (high - low), (b - a) / (high - low)])
        return [self._one(h, low, high, up(along)) for h in self.held]

    def _one(self, held: float, low: float, high: float, up: Polynomial) -> Polynomial:
        if self._same(held, low):
            return 1 - up
        return up if self._same(held, high) else Polynomial([0.0])

    def _sharp(self, place: float) -> bool:
        return any(self._same(float(c), place) for c in self.corners)

    def _same(self, a: float, b: float) -> bool:
        return abs(a - b if self.open else (a - b + 0.5) % 1.0 - 0.5) < SNAP
