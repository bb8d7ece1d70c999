"""Volume, area and centre of a sweep by Gauss quadrature over the motion."""

from __future__ import annotations

import itertools
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from leadline.core.geometry.plane import Array, cross
from leadline.core.geometry.section import Region
from leadline.core.sweep.motion import Frames, Motion

_X, _W = np.polynomial.legendre.leggauss(12)


@dataclass(frozen=True)
class MassNumbers:
    """``volume`` mm³, ``area`` mm² (with caps), ``centre`` (3,) mm."""

    volume: float
    area: float
    centre: Array


def stations_and_weights(motion: Motion, parts: int = 4) -> list[tuple[int, Array, Array]]:
    """Gauss nodes piece by piece: (piece, stations, weights)."""
    out = []
    for i, piece in enumerate(motion.path.pieces):
        start = float(motion.path.starts[i])
        turns = abs(motion.rate) * piece.length / (2 * np.pi)
        plain = turns == 0 and piece.kind in ("line", "arc")
        edges = [piece.breaks()]
        while not plain and (len(edges[-1]) - 1) < parts * max(1.0, turns):
            e = edges[-1]
            edges.append(np.sort(np.concatenate([e, (e[1:] + e[:-1]) / 2])))
        e = edges[-1]
        half = np.diff(e)[:, None] / 2
        s = (e[:-1, None] + half * (1 + _X)).ravel() + start
        out.append((i, s, (half * _W).ravel()))
    return out


def measure(motion: Motion, regions: Sequence[Region]) -> MassNumbers:
    """Volume with Pappus exact for what bends, area by quadrature of the swept edges."""
    moments = np.sum([r.moments() for r in regions], axis=0)
    A, Sx, Sy, Sxx, Sxy, Syy = moments
    volume, first, lateral = 0.0, np.zeros(3), 0.0
    points, slopes, weights = _outline_nodes(regions)
    for piece, s, w in stations_and_weights(motion):
        f = motion.frames_on(piece, s)
        kx, ky = (f.K * f.X).sum(axis=1), (f.K * f.Y).sum(axis=1)
        c0, c1, c2 = A - Sx * kx - Sy * ky, Sx - Sxx * kx - Sxy * ky, Sy - Sxy * kx - Syy * ky
        volume += float(w @ c0)
        first += w @ (f.C * c0[:, None] + f.X * c1[:, None] + f.Y * c2[:, None])
        along, across = swept_tangents(f, points, slopes)
        lateral += float(w @ np.linalg.norm(cross(across, along), axis=-1) @ weights)
    caps = 0.0 if motion.path.closed else 2 * float(A)
    return MassNumbers(volume, float(lateral + caps), first / volume)


def _outline_nodes(regions: Sequence[Region]) -> tuple[Array, Array, Array]:
    """Gauss nodes on every edge of the sections: points (n, 2), derivatives (n, 2), weights (n,)."""
    points, slopes, weights = [], [], []
    for edge in (e for region in regions for loop in region.loops for e in loop.edges):
        inner = np.unique(edge.knots[edge.degree : -edge.degree])
        for a, b in itertools.pairwise(inner):
            t = (a + b) / 2 + (b - a) / 2 * _X
            points.append(edge.point(t))
            slopes.append(edge.derivative(t))
            weights.append(_W * (b - a) / 2)
    return np.vstack(points), np.vstack(slopes), np.concatenate(weights)


def swept_tangents(f: Frames, p: Array, d: Array) -> tuple[Array, Array]:
    """Tangents of the swept surface along the path and across it, each (stations, points, 3).

    ``p`` and ``d`` are points and derivatives of a section edge, (points, 2).
    """
    x, y = p[:, 0], p[:, 1]
    kx, ky = (f.K * f.X).sum(axis=1), (f.K * f.Y).sum(axis=1)
    J = 1 - np.outer(kx, x) - np.outer(ky, y)
    along = J[..., None] * f.T[:, None] + f.twist[:, None, None] * (
        x[None, :, None] * f.Y[:, None] - y[None, :, None] * f.X[:, None]
    )
    across = d[None, :, :1] * f.X[:, None] + d[None, :, 1:] * f.Y[:, None]
    return along, across
