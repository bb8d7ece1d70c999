"""Entities as curves over one parameter each, and where two of them cross."""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from leadline.core.geometry.edges import Edge
from leadline.core.geometry.plane import Array
from leadline.core.sketch.model import Arc, Circle, Ellipse, Entity, Line, Sketch, end_points
from leadline.core.sketch.outline import coordinates, entity_edges

SAMPLES = 160  # per edge that is not straight
TOUCH = 1e-9


@dataclass(frozen=True)
class Track:
    """An entity's edges end to end; parameter p runs from 0 to their number."""

    entity: Entity
    edges: tuple[Edge, ...]

    @property
    def last(self) -> float:
        return float(len(self.edges))

    @property
    def closed(self) -> bool:
        return end_points(self.entity) is None

    def _local(self, p: float) -> tuple[Edge, float]:
        i = min(max(math.floor(p), 0), len(self.edges) - 1)
        a, b = self.edges[i].domain
        return self.edges[i], a + (p - i) * (b - a)

    def point(self, p: float) -> Array:
        edge, t = self._local(p)
        return edge.point(t)

    def slope(self, p: float) -> Array:
        """dC/dp, shape (2,)."""
        edge, t = self._local(p)
        a, b = edge.domain
        return np.asarray(edge.derivative(t) * (b - a))

    @cached_property
    def samples(self) -> tuple[Array, Array]:
        """Parameters (n,) and points (n, 2), dense enough to see every crossing."""
        parameters, points = [], []
        for i, edge in enumerate(self.edges):
            n = 1 if edge.straight else SAMPLES
            share = np.linspace(0.0, 1.0, n + 1)[: n if i + 1 < len(self.edges) else n + 1]
            a, b = edge.domain
            parameters.append(i + share)
            points.append(edge.point(a + share * (b - a)))
        return np.concatenate(parameters), np.vstack(points)

    @cached_property
    def box(self) -> tuple[Array, Array]:
        """Corners of a box around the control points, and so around the curve."""
        control = np.vstack([e.control for e in self.edges])
        return control.min(axis=0), control.max(axis=0)

    def nearest(self, at: Array) -> float:
        """The parameter of the point nearest to a place."""
        p, xy = self.samples
        d = np.diff(xy, axis=0)
        share = np.clip(((at - xy[:-1]) * d).sum(axis=1) / np.maximum((d * d).sum(axis=1), 1e-300), 0, 1)
        gaps = np.linalg.norm(xy[:-1] + share[:, None] * d - at, axis=1)
        i = int(gaps.argmin())
        best = float(p[i] + share[i] * (p[i + 1] - p[i]))
        for _ in range(20):
            slope = self.slope(best)
            step = float((self.point(best) - at) @ slope) / max(float(slope @ slope), 1e-300)
            best = min(max(best - step, float(p[i])), float(p[i + 1]))
            if abs(step) < 1e-13:
                break
        return best


def tracks(sketch: Sketch, only: set[str] | None = None) -> dict[str, Track]:
    """All entities of a solved sketch, or some, as curves."""
    at = coordinates(sketch)
    return {e.id: Track(e, tuple(entity_edges(e, at, sketch))) for e in sketch.entities if only is None or e.id in only}


def crossings(a: Track, b: Track) -> list[tuple[float, float]]:
    """Parameters on both where two curves cross or touch, by their polylines and Newton, sorted along ``a``.

    Shared end points count. Curves that lie on each other give nothing.
    """
    if _apart(a.box, b.box):
        return []
    return sorted(_found(a, b))


def self_crossings(track: Track) -> list[tuple[float, float]]:
    """Parameters where a curve goes through itself, sorted, each place once; only a spline can."""
    if isinstance(track.entity, Line | Arc | Circle | Ellipse):
        return []
    ends = {0.0, track.last}
    return sorted((u, v) for u, v in _found(track, track) if v - u > 1e-4 and {u, v} != ends)


def _found(a: Track, b: Track) -> list[tuple[float, float]]:
    (p, P), (q, Q) = a.samples, b.samples
    d, e = np.diff(P, axis=0), np.diff(Q, axis=0)
    det = d[:, None, 0] * e[None, :, 1] - d[:, None, 1] * e[None, :, 0]
    w = Q[None, :-1] - P[:-1, None]
    with np.errstate(divide="ignore", invalid="ignore"):
        s = (w[..., 0] * e[None, :, 1] - w[..., 1] * e[None, :, 0]) / det
        t = (w[..., 0] * d[:, None, 1] - w[..., 1] * d[:, None, 0]) / det
    slack = 1e-6
    near = (s >= -slack) & (s <= 1 + slack) & (t >= -slack) & (t <= 1 + slack) & np.isfinite(s)
    if a is b:
        near &= np.subtract.outer(np.arange(len(d)), np.arange(len(e))) < -1
    size = float(np.ptp(np.vstack([P, Q]), axis=0).max()) or 1.0
    result: list[tuple[float, float]] = []
    for i, j in np.argwhere(near):
        u = float(p[i] + s[i, j] * (p[i + 1] - p[i]))
        v = float(q[j] + t[i, j] * (q[j + 1] - q[j]))
        refined = _refine(a, b, u, v, size)
        if refined is not None and all(abs(refined[0] - r[0]) > 1e-6 for r in result):
            result.append(refined)
    return result


def _apart(a: tuple[Array, Array], b: tuple[Array, Array]) -> bool:
    """Whether two boxes stand clear of each other by more than the touching tolerance."""
    slack = TOUCH * max(1.0, float((a[1] - a[0]).max()), float((b[1] - b[0]).max()))
    return bool(((a[0] > b[1] + slack) | (b[0] > a[1] + slack)).any())


def _refine(a: Track, b: Track, u: float, v: float, size: float) -> tuple[float, float] | None:
    for _ in range(12):
        gap = a.point(u) - b.point(v)
        if np.abs(gap).max() < 1e-12 * size:
            break
        J = np.column_stack([a.slope(u), -b.slope(v)])
        if abs(np.linalg.det(J)) <= 1e-14 * float(np.abs(J).max()) ** 2:
            break
        du, dv = np.linalg.solve(J, gap)
        u, v = min(max(u - du, 0.0), a.last), min(max(v - dv, 0.0), b.last)
    return (u, v) if np.abs(a.point(u) - b.point(v)).max() <= TOUCH * size else None
