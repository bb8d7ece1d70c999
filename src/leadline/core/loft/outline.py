"""An outline by share of its length, and stretches of its edges."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from leadline.core.geometry.edges import Edge
from leadline.core.geometry.plane import Array
from leadline.core.geometry.section import Loop, joints
from leadline.core.sweep.borders import SHARP, turn_between

FINE = 256  # steps along each edge by which lengths are told
STEPS = 20  # of Newton's method towards the nearest place
SNAP = 1e-6  # of an outline: nearer than this, two places on it are one


@dataclass(frozen=True)
class Part:
    """A stretch of an edge, from one of its parameters to another."""

    edge: Edge
    first: float
    last: float

    def homogeneous(self, v: Array) -> Array:
        """(x w, y w, w) at shares v (n,) of the stretch's parameters, shape (n, 3)."""
        return np.asarray(self.edge._homogeneous(self.first + v * (self.last - self.first)))

    @property
    def knots(self) -> Array:
        """The inner knots, as shares of the stretch, with their multiplicity."""
        inner = self.edge.knots[self.edge.degree + 1 : -self.edge.degree - 1]
        share = (inner - self.first) / (self.last - self.first)
        return np.asarray(share[(share > SNAP) & (share < 1 - SNAP)])


class Outline:
    """A loop; places on it are shares of its length from its start, on a closed one whole turns apart the same.

    A ``point`` in place of a loop is everywhere on it.
    """

    def __init__(self, loop: Loop | None, point: Array | None = None) -> None:
        self.edges = () if loop is None else loop.edges
        self.open = loop is not None and loop.open
        self.only = point

    def reversed(self) -> Outline:
        """The same passed the other way."""
        return Outline(Loop(self.edges, self.open).reversed())

    @cached_property
    def _tables(self) -> list[tuple[Array, Array]]:
        """Of each edge parameters and the lengths from its start there."""
        tables = []
        for edge in self.edges:
            t = np.linspace(*edge.domain, FINE + 1)
            middle = (t[1:] + t[:-1]) / 2
            speed = [np.linalg.norm(edge.derivative(v)[:, :2], axis=1) for v in (t, middle)]
            steps = (speed[0][:-1] + 4 * speed[1] + speed[0][1:]) * np.diff(t) / 6  # Simpson's rule
            tables.append((t, np.concatenate([[0.0], np.cumsum(steps)])))
        return tables

    @cached_property
    def starts(self) -> Array:
        """The shares at which edges begin, and 1."""
        lengths = np.concatenate([[0.0], np.cumsum([lengths[-1] for _, lengths in self._tables])])
        return np.asarray(lengths / lengths[-1])

    @cached_property
    def corners(self) -> Array:
        """The shares at which the outline turns sharply; the ends of an open one are none."""
        pairs = joints(self.edges, self.open)
        return np.array(
            [
                s
                for s, (before, edge) in zip(self.starts[int(self.open) :], pairs, strict=False)
                if turn_between(before, edge) > SHARP
            ]
        )

    def within(self, shares: Array) -> Array:
        """The same places, from 0 to 1."""
        return np.clip(shares, 0.0, 1.0) if self.open else np.mod(shares, 1.0)

    def _edges_at(self, shares: Array) -> NDArray[np.intp]:
        """The edges (n,) at shares of 0 to 1, by their numbers."""
        return np.clip(np.searchsorted(self.starts, shares, side="right") - 1, 0, len(self.edges) - 1)

    def _on(self, i: int, shares: Array) -> Array:
        """The parameters of an edge at shares that lie on it."""
        t, lengths = self._tables[i]
        own = (shares - self.starts[i]) / (self.starts[i + 1] - self.starts[i]) * lengths[-1]
        return np.asarray(np.interp(own, lengths, t))

    def points(self, shares: Array) -> Array:
        """Where places are, (n, 2)."""
        if self.only is not None:
            return np.tile(self.only, (len(shares), 1))
        shares = self.within(shares)
        which, found = self._edges_at(shares), np.empty((len(shares), 2))
        for i in np.unique(which):
            found[which == i] = self.edges[i].point(self._on(i, shares[which == i]))[:, :2]
        return found

    def nearest(self, place: Array) -> tuple[float, float]:
        """The share at which the outline is nearest to a place (2,), and how far it is from it."""
        if self.only is not None:
            return 0.0, float(np.linalg.norm(place - self.only))
        best = (0.0, np.inf)
        for edge, (t, lengths), a, b in zip(self.edges, self._tables, self.starts, self.starts[1:], strict=False):
            own = t[int(np.argmin(np.linalg.norm(edge.point(t)[:, :2] - place, axis=1)))]
            for _ in range(STEPS):
                gap, way = edge.point(own)[:2] - place, edge.derivative(own)[:2]
                before, own = (
                    own,
                    np.clip(own - float(gap @ way) / float(way @ way + gap @ edge.second(own)[:2]), *edge.domain),
                )
                if abs(own - before) < 1e-15 * (t[-1] - t[0]):
                    break
            away = float(np.linalg.norm(edge.point(own)[:2] - place))
            if away < best[1]:
                best = (float(a + (b - a) * np.interp(own, t, lengths) / lengths[-1]), away)
        return best

    def part(self, first: float, last: float) -> Part:
        """The stretch between two places, first before last, that lie on one edge."""
        middle = (first + last) / 2 % 1.0
        i = int(self._edges_at(np.array([middle]))[0])
        a, b = (float(self.starts[i]), float(self.starts[i + 1]))
        turns = (first + last) / 2 - middle
        return Part(self.edges[i], self._parameter(i, first - turns, a, b), self._parameter(i, last - turns, a, b))

    def _parameter(self, i: int, share: float, a: float, b: float) -> float:
        """The edge's parameter at a share between a and b, exactly an end of it where it is as good as there."""
        low, high = self.edges[i].domain
        if share - a < SNAP:
            return low
        if b - share < SNAP:
            return high
        return float(self._on(i, np.array([share]))[0])


def merged(places: list[Array]) -> Array:
    """Places from 0 up to 1, each once, sorted."""
    every = np.sort(np.concatenate(places))
    return np.asarray(every[np.concatenate([[True], np.diff(every) > SNAP])])
