"""Laws: a quantity given along the stations, with its slope and the stations where its slope may jump."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Protocol

import numpy as np
from scipy.interpolate import PchipInterpolator

from leadline.core.geometry.plane import Array
from leadline.core.problems import Problem, mm


class Law(Protocol):
    """A quantity by station."""

    @property
    def breaks(self) -> Array:
        """Stations at which a derivative may jump."""
        ...

    @property
    def steady(self) -> bool:
        """Whether the quantity is the same everywhere."""
        ...

    def value(self, s: Array) -> Array: ...
    def slope(self, s: Array) -> Array: ...
    def second(self, s: Array) -> Array:
        """The second derivative."""
        ...


@dataclass(frozen=True)
class Even:
    """From ``first`` at station 0, changing by ``rate`` per mm."""

    first: float
    rate: float = 0.0

    @property
    def breaks(self) -> Array:
        return np.empty(0)

    @property
    def steady(self) -> bool:
        return self.rate == 0.0

    def value(self, s: Array) -> Array:
        return self.first + self.rate * np.asarray(s, dtype=float)

    def slope(self, s: Array) -> Array:
        return np.full(np.shape(s), self.rate)

    def second(self, s: Array) -> Array:
        return np.zeros(np.shape(s))


def told_at(law: Law, length: float) -> Array:
    """Stations between which a law only rises or falls: its breaks and the two ends."""
    return np.unique(np.concatenate([[0.0, length], np.clip(law.breaks, 0.0, length)]))


class Table:
    """Through given values at given stations, straight between them or smooth without overshoot; level outside.

    Smooth is the monotone cubic of Fritsch and Carlson, SIAM J. Numer. Anal. 17(2), 1980.

    Raises:
        Problem: fewer than two stations, or two that are the same.
    """

    def __init__(self, stations: Sequence[float], values: Sequence[float], smooth: bool, field: str = "table") -> None:
        order = np.argsort(np.asarray(stations, dtype=float), kind="stable")
        self.stations, self.values = np.asarray(stations, dtype=float)[order], np.asarray(values, dtype=float)[order]
        if len(order) < 2:
            raise Problem("short-table", "A table needs values at two stations at least.", "Add a station.", of=field)
        if np.diff(self.stations).min() < 1e-9:
            twice = float(self.stations[:-1][np.diff(self.stations) < 1e-9][0])
            raise Problem(
                "two-values", f"The table has two values at station {mm(twice)}.", "Move or delete one.", of=field
            )
        self._smooth = PchipInterpolator(self.stations, self.values) if smooth else None

    @property
    def breaks(self) -> Array:
        return self.stations

    @property
    def steady(self) -> bool:
        return bool(np.ptp(self.values) == 0.0)

    def value(self, s: Array) -> Array:
        s = np.clip(s, self.stations[0], self.stations[-1])
        return np.asarray(np.interp(s, self.stations, self.values) if self._smooth is None else self._smooth(s))

    def slope(self, s: Array) -> Array:
        s = np.asarray(s, dtype=float)
        inside = (s >= self.stations[0]) & (s <= self.stations[-1])
        held = np.clip(s, self.stations[0], self.stations[-1])
        if self._smooth is not None:
            return np.where(inside, self._smooth(held, 1), 0.0)
        i = np.clip(np.searchsorted(self.stations, held, side="right") - 1, 0, len(self.stations) - 2)
        return np.where(inside, np.diff(self.values)[i] / np.diff(self.stations)[i], 0.0)

    def second(self, s: Array) -> Array:
        s = np.asarray(s, dtype=float)
        if self._smooth is None:
            return np.zeros(s.shape)
        inside = (s >= self.stations[0]) & (s <= self.stations[-1])
        return np.where(inside, self._smooth(np.clip(s, self.stations[0], self.stations[-1]), 2), 0.0)
