"""The outlines that a coil is wound on: closed curves about an axis, by the polar angle."""

from __future__ import annotations

import itertools
import math
from typing import Protocol

import numpy as np

from leadline.core.geometry.edges import Edge
from leadline.core.geometry.plane import Array
from leadline.core.geometry.section import Loop
from leadline.core.problems import Problem

SEEDS = 64
CELLS, CELLS_A_KNOT = 24, 4
NEWTON = 30


class Former(Protocol):
    """A closed outline about the origin, star-shaped: at each polar angle one point."""

    @property
    def breaks(self) -> Array:
        """Angles in [0, 2π) at which its bend jumps."""
        ...

    @property
    def kinks(self) -> Array:
        """Angles in [0, 2π) at which its bend goes on, but changes otherwise than before."""
        ...

    @property
    def cells(self) -> int:
        """Stretches of a turn that are needed to see all of its shape."""
        ...

    def at(self, angle: Array) -> tuple[Array, Array, Array]:
        """Points at angles (n,) and their first and second derivatives by the angle, each (n, 2)."""
        ...


class RoundFormer:
    """The unit circle."""

    breaks = np.empty(0)
    kinks = np.empty(0)
    cells = CELLS

    def at(self, angle: Array) -> tuple[Array, Array, Array]:
        q = np.stack([np.cos(angle), np.sin(angle)], axis=1)
        return q, np.stack([-q[:, 1], q[:, 0]], axis=1), -q


class DrawnFormer:
    """A drawn loop, counter-clockwise about the origin.

    Raises:
        Problem: the origin is not inside it, or sees a part of it behind another.
    """

    def __init__(self, loop: Loop) -> None:
        self._edges = list(loop.oriented(True).edges)
        self._tables = [_Polar(e) for e in self._edges]
        total = sum(t.sweep for t in self._tables)
        if abs(total - 2 * math.pi) > 1e-6:
            raise Problem(
                "former-outside",
                "The former's outline does not go round the sketch's origin, about which the coil is wound.",
                "Draw it round the origin.",
                of="former",
            )
        if not all(t.rising for t in self._tables):
            raise Problem(
                "former-behind",
                "Seen from the sketch's origin, one part of the former's outline lies behind another.",
                "Move the outline about the origin, or make its hollows shallower.",
                of="former",
            )
        self._first = self._tables[0].first
        self._ends = self._first + np.concatenate([[0.0], np.cumsum([t.sweep for t in self._tables])])

    @property
    def breaks(self) -> Array:
        return np.asarray(np.sort(np.array([t.first for t in self._tables]) % (2 * math.pi)))

    @property
    def kinks(self) -> Array:
        inner = [(edge, np.unique(edge.knots[edge.degree : -edge.degree])[1:-1]) for edge in self._edges]
        places = np.concatenate([edge.point(t) for edge, t in inner])
        return np.asarray(np.sort(np.arctan2(places[:, 1], places[:, 0]) % (2 * math.pi)))

    @property
    def cells(self) -> int:
        return max(CELLS, sum(CELLS_A_KNOT * (len(np.unique(e.knots)) - 1) for e in self._edges))

    def at(self, angle: Array) -> tuple[Array, Array, Array]:
        wrapped = self._first + (angle - self._first) % (2 * math.pi)
        which = np.clip(np.searchsorted(self._ends, wrapped, side="right") - 1, 0, len(self._edges) - 1)
        out = np.empty((3, len(angle), 2))
        for i in np.unique(which):
            mask = which == i
            out[:, mask] = self._tables[i].at(wrapped[mask] - self._ends[i])
        return out[0], out[1], out[2]


class _Polar:
    """One edge by the polar angle from its start."""

    def __init__(self, edge: Edge) -> None:
        self._edge = edge
        inner = np.unique(edge.knots[edge.degree : -edge.degree])
        self._t = np.unique(np.concatenate([np.linspace(a, b, SEEDS + 1) for a, b in itertools.pairwise(inner)]))
        p = edge.point(self._t)
        turn = np.arctan2(p[:-1, 0] * p[1:, 1] - p[:-1, 1] * p[1:, 0], (p[:-1] * p[1:]).sum(axis=1))
        self._angles = np.concatenate([[0.0], np.cumsum(turn)])
        self.first, self.sweep = float(np.arctan2(p[0, 1], p[0, 0])), float(self._angles[-1])
        self.rising = bool((turn > 0).all())

    def at(self, angle: Array) -> Array:
        """Points and two derivatives at angles from the edge's start, (3, n, 2)."""
        e = np.stack([np.cos(angle + self.first), np.sin(angle + self.first)], axis=1)
        t = np.interp(angle, self._angles, self._t)
        low, high = self._edge.domain
        for _ in range(NEWTON):
            p, d = self._edge.point(t), self._edge.derivative(t)
            step = (e[:, 0] * p[:, 1] - e[:, 1] * p[:, 0]) / (e[:, 0] * d[:, 1] - e[:, 1] * d[:, 0])
            t = np.clip(t - step, low, high)
            if np.abs(step).max(initial=0.0) < 1e-13 * (high - low):
                break
        p, d, dd = self._edge.point(t), self._edge.derivative(t), self._edge.second(t)
        size = (p * p).sum(axis=1)
        pace = (p[:, 0] * d[:, 1] - p[:, 1] * d[:, 0]) / size  # of the angle, by t
        change = (p[:, 0] * dd[:, 1] - p[:, 1] * dd[:, 0]) / size - pace * 2 * (p * d).sum(axis=1) / size
        return np.stack([p, d / pace[:, None], (dd - d * (change / pace)[:, None]) / pace[:, None] ** 2])
