"""A smooth side of a sweep as a surface over station and outline."""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from leadline.core.geometry.edges import Edge
from leadline.core.geometry.mesh import Ints
from leadline.core.geometry.plane import Array, cross
from leadline.core.geometry.section import Loop, Region
from leadline.core.sweep.borders import SHARP, turn_between
from leadline.core.sweep.motion import Motion

TURN = math.radians(10)  # of the path, the twist and the outline from one row of the grid to the next
MOST = 400
DIFFERENCE = 1e-6  # of the range, for the turning of the normal


@dataclass(frozen=True)
class Sheet:
    """Section edges that go on smoothly, carried along a stretch without corners; ``off`` mm outside of where they are.

    A place on it is (s, v): the station, and the number of an edge with the share of it that is passed. ``round_v`` and
    ``round_s`` say that it comes back to itself that way.
    """

    motion: Motion
    edges: tuple[Edge, ...]
    start: float
    end: float
    round_s: bool
    round_v: bool
    off: float = 0.0

    @property
    def low(self) -> Array:
        return np.array([self.start, 0.0])

    @property
    def high(self) -> Array:
        return np.array([self.end, float(len(self.edges))])

    @property
    def around(self) -> tuple[bool, bool]:
        return self.round_s, self.round_v

    def wrapped(self, w: Array) -> Array:
        """Places (n, 2) brought back into the sheet's range where it is round, and held at its borders where not."""
        out = np.clip(w, self.low, self.high)
        for k, around in enumerate(self.around):
            if around:
                out[:, k] = self.low[k] + np.mod(w[:, k] - self.low[k], self.high[k] - self.low[k])
        return out

    def at(self, w: Array) -> tuple[Array, Array, Array]:
        """Points at places (n, 2), and their derivatives by station and by v, each (n, 3).

        Off the sides the derivatives have those of the normal by differences, good to about 1e-8: the point is exact.
        """
        w = self.wrapped(w)
        point, along, across = self._side(w)
        if self.off == 0:
            return point, along, across
        turn_s, turn_v = self._turning(w, 0), self._turning(w, 1)
        return point + self.off * _normal(along, across), along + self.off * turn_s, across + self.off * turn_v

    def _side(self, w: Array) -> tuple[Array, Array, Array]:
        p, d = self._outline(w[:, 1])
        f = self.motion.frames(w[:, 0])
        point, along = f.each(p)
        return point, along, f.across_each(p, d)

    def _turning(self, w: Array, k: int) -> Array:
        """How the normal changes by station (k = 0) or by v."""
        h = DIFFERENCE * (self.high[k] - self.low[k])
        ahead, behind = w.copy(), w.copy()
        ahead[:, k] += h
        behind[:, k] -= h
        if not self.around[k]:
            ahead, behind = np.clip(ahead, self.low, self.high), np.clip(behind, self.low, self.high)
        step = ahead[:, k] - behind[:, k]
        one, other = (_normal(*self._side(self.wrapped(v))[1:]) for v in (ahead, behind))
        return np.asarray((one - other) / step[:, None])

    def folds(self) -> bool:
        """Whether it is so far off that it turns back on itself somewhere."""
        w = self.grid[0]
        _, along, across = self.at(w)
        _, own_along, own_across = self._side(self.wrapped(w))
        return bool((np.einsum("ni,ni->n", cross(across, along), cross(own_across, own_along)) <= 0).any())

    def _outline(self, v: Array) -> tuple[Array, Array]:
        """Points of the outline (n, k) and their derivatives by v."""
        which = np.clip(v.astype(int), 0, len(self.edges) - 1)
        p, d = np.empty((2, len(v), self.edges[0].control.shape[1]))
        for k in np.unique(which):
            mine = which == k
            a, b = self.edges[k].domain
            t = a + (v[mine] - k) * (b - a)
            p[mine], d[mine] = self.edges[k].point(t), self.edges[k].derivative(t) * (b - a)
        return p, d

    @cached_property
    def grid(self) -> tuple[Array, Array, Ints]:
        """Places (n, 2), their points (n, 3) and triangles (m, 3) that are fine enough to find crossings by."""
        s, v = self._stations(), self._shares()
        w = np.stack(np.meshgrid(s, v, indexing="ij"), axis=-1).reshape(-1, 2)
        at = np.arange(len(w)).reshape(len(s), len(v))
        a, b, c, d = at[:-1, :-1], at[:-1, 1:], at[1:, 1:], at[1:, :-1]
        triangles = np.concatenate([np.stack([a, b, c], -1).reshape(-1, 3), np.stack([a, c, d], -1).reshape(-1, 3)])
        return w, self.at(w)[0], triangles.astype(np.int64)

    def _stations(self) -> Array:
        dense = np.linspace(self.start, self.end, 400)
        f = self.motion.frames(dense)
        turn = sum(
            float(np.linalg.norm(np.diff(a / np.linalg.norm(a, axis=1)[:, None], axis=0), axis=1).sum())
            for a in (f.X, f.T)
        )
        return np.linspace(self.start, self.end, int(np.clip(math.ceil(turn / TURN), 12, MOST)) + 1)

    def _shares(self) -> Array:
        parts = []
        for k, edge in enumerate(self.edges):
            d = edge.derivative(np.linspace(*edge.domain, 40))
            angle = np.unwrap(np.arctan2(d[:, 1], d[:, 0]))
            n = int(np.clip(math.ceil(float(np.abs(np.diff(angle)).sum()) / TURN), 4, 60))
            parts.append(k + np.linspace(0, 1, n + 1)[:-1])
        return np.concatenate([*parts, [float(len(self.edges))]])


def _normal(along: Array, across: Array) -> Array:
    """The unit normals (n, 3) to the outside."""
    n = cross(across, along)
    return np.asarray(n / np.linalg.norm(n, axis=1)[:, None])


def sheets_of(motion: Motion, regions: Sequence[Region], edge: str | None = None, off: float = 0.0) -> list[Sheet]:
    """The smooth sides of a sweep, or only what belongs to one section edge; or the surfaces ``off`` mm outside of
    them.
    """
    stretches = _stretches(motion)
    runs = [run for r in regions for loop in r.loops for run in _runs(loop, edge)]
    return [
        Sheet(motion, run, a, b, whole, around, off)
        for (a, b, whole), (run, around) in itertools.product(stretches, runs)
    ]


def _stretches(motion: Motion) -> list[tuple[float, float, bool]]:
    corners = sorted(j.station for j in motion.path.joints if j.kind == "corner")
    if not corners:
        return [(0.0, motion.length, motion.path.closed)]
    cuts = np.unique([0.0, *corners, motion.length])
    return [(float(a), float(b), False) for a, b in itertools.pairwise(cuts)]


def _runs(loop: Loop, only: str | None) -> list[tuple[tuple[Edge, ...], bool]]:
    """Edges of a loop in runs without sharp corners, and whether a run closes on itself."""
    edges = list(loop.edges)
    n = len(edges)
    sharp = [turn_between(edges[i - 1], edges[i]) > SHARP or (loop.open and i == 0) for i in range(n)]
    if only is not None:
        sharp = [s or edges[i - 1].origin != edges[i].origin for i, s in enumerate(sharp)]
    if not any(sharp):
        found = [(tuple(edges), True)]
    else:
        starts = [i for i in range(n) if sharp[i]]
        ends = [*starts[1:], starts[0] + n]
        found = [(tuple(edges[k % n] for k in range(a, b)), False) for a, b in zip(starts, ends, strict=True)]
    return [(run, around) for run, around in found if only is None or run[0].origin == only]
