"""The side of a sweep as a surface on which the section of another sweep lies: its nearest point to a place, and the
normal there.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from scipy.spatial import cKDTree

from leadline.core.geometry.edges import Edge
from leadline.core.geometry.plane import Array, cross
from leadline.core.geometry.section import Region
from leadline.core.problems import Problem
from leadline.core.sweep.faces import said_by
from leadline.core.sweep.motion import Motion

STATIONS, ACROSS = 160, 9
STEPS = 12
CLOSE = 1e-10


class Skin:
    """One face of a sweep, ``owner/side/<edge>/<piece>``, over its stations and its section's edges.

    Raises:
        Problem: the sweep has no such side.
    """

    def __init__(self, motion: Motion, regions: Sequence[Region], name: str) -> None:
        kind, rest = said_by(name)
        tags = [p.origin or str(i) for i, p in enumerate(motion.path.pieces)]
        edges = [
            e
            for r in regions
            for loop in r.loops
            for e in loop.edges
            if kind == "side" and len(rest) == 2 and e.origin == rest[0]
        ]
        if not edges or rest[1] not in tags:
            raise Problem("deleted-reference", f"There is no side {name} any more.", "Pick a side again.", of="side")
        self._motion, self._piece, self._edges = motion, tags.index(rest[1]), edges
        a, b = float(motion.path.starts[self._piece]), float(motion.path.starts[self._piece + 1])
        self._range = (a, b)
        s = np.linspace(a, b, STATIONS)
        f = motion.frames_on(self._piece, s)
        self._trees: list[tuple[Array, cKDTree]] = []  # by edge: parameters (n, 2), and where they are
        for edge in edges:
            t = np.linspace(*edge.domain, ACROSS)
            at = np.stack(np.meshgrid(s, t, indexing="ij"), axis=-1).reshape(-1, 2)
            self._trees.append((at, cKDTree(f.at(edge.point(t)).reshape(-1, 3))))

    def normals(self, places: Array) -> Array:
        """Unit normals (n, 3) where the surface is nearest to places (n, 3), outward."""
        best = np.full(len(places), np.inf)
        out = np.empty_like(places)
        for edge, (at, tree) in zip(self._edges, self._trees, strict=True):
            seeds = at[np.asarray(tree.query(places)[1])]
            normals, away = self._settled(edge, places, seeds[:, 0], seeds[:, 1])
            nearer = away < best
            out[nearer], best[nearer] = normals[nearer], away[nearer]
        return out

    def _settled(self, edge: Edge, places: Array, s: Array, t: Array) -> tuple[Array, Array]:
        """Gauss-Newton towards the foot of each place; the normals there and the distances."""
        low, high = edge.domain
        for _ in range(STEPS):
            p, along, across = self._surface(edge, s, t)
            gap = places - p
            aa, ac, cc = ((u * v).sum(axis=1) for u, v in ((along, along), (along, across), (across, across)))
            ga, gc = (gap * along).sum(axis=1), (gap * across).sum(axis=1)
            det = np.maximum(aa * cc - ac**2, 1e-300)
            ds, dt = (ga * cc - gc * ac) / det, (gc * aa - ga * ac) / det
            s = np.clip(s + ds, *self._range)
            t = np.clip(t + dt, low, high)
            if max(np.abs(ds).max(), np.abs(dt).max() * float(np.sqrt(cc.max()))) < CLOSE * self._motion.length:
                break
        p, along, across = self._surface(edge, s, t)
        n = cross(across, along)
        return n / np.linalg.norm(n, axis=1)[:, None], np.linalg.norm(places - p, axis=1)

    def _surface(self, edge: Edge, s: Array, t: Array) -> tuple[Array, Array, Array]:
        """Points and tangents, each (n, 3), one place for each pair of parameters."""
        f = self._motion.frames_on(self._piece, s)
        p = edge.point(t)
        return *f.each(p), f.across_each(p, edge.derivative(t))
