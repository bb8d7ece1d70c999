"""The line that sections stand on: their stations on a centreline, or a curve of its own through their middles."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
from scipy.interpolate import CubicSpline, make_interp_spline

from leadline.core.geometry.plane import Array, Plane, cross
from leadline.core.loft.shares import End
from leadline.core.paths.path import Path
from leadline.core.paths.pieces import LinePiece, SplinePiece
from leadline.core.sweep.orientation import Triads, Turning

STRAIGHT = 1e-9  # of its length: how far off a line a curve may be
UPRIGHT = 1e-12


def own_spine(middles: Array, normals: Array, start: End, end: End) -> Path:
    """A curve through the middles (n, 3) of sections; where an end is square it leaves the section along its normal
    (n, 3).
    """
    chords = np.linalg.norm(np.diff(middles, axis=0), axis=1)
    at = np.concatenate([[0.0], np.cumsum(chords)])
    ends = ((start, normals[0]), (end, normals[-1]))
    conditions: Any = tuple([(1, w)] if e.square else [(2, np.zeros(3))] for e, w in ends)
    across = middles[-1] - middles[0]
    way = (
        across / np.linalg.norm(across) if np.linalg.norm(across) > STRAIGHT * at[-1] else np.zeros(3)
    )  # of what comes back to where it began
    off = np.linalg.norm(middles - middles[0] - ((middles - middles[0]) @ way)[:, None] * way, axis=1).max()
    lead = max(float(np.linalg.norm(cross(w, way))) if e.square else 0.0 for e, w in ends)
    if off < STRAIGHT * at[-1] and lead < STRAIGHT:
        return Path([LinePiece(middles[0], middles[-1])])
    return Path([SplinePiece(make_interp_spline(at, middles, k=3, bc_type=conditions))])


@dataclass(frozen=True)
class Leaning:
    """Axes that turn with a path, leaning so that the section's plane is square to a given direction at each of some
    stations.

    The normal is ``t + p u + q v`` on the axes u, v, t that turn with the path, p and q splines by station.
    """

    turning: Turning
    slopes: CubicSpline  # of p and q, (n,) -> (n, 2)

    def triads(self, piece: int, s: Array) -> Triads:
        axes, rates = self.turning.triads(piece, s)
        held = np.clip(s, self.slopes.x[0], self.slopes.x[-1])
        (p, q), (dp, dq) = self.slopes(held).T[..., None], self.slopes(held, 1).T[..., None]
        (u, v, t), (du, dv, dt) = np.moveaxis(axes, 1, 0), np.moveaxis(rates, 1, 0)
        n, dn = _unit(t + p * u + q * v, dt + p * du + q * dv + dp * u + dq * v)
        x, dx = _unit(
            u - (u * n).sum(axis=1, keepdims=True) * n,
            du
            - ((du * n).sum(axis=1, keepdims=True) + (u * dn).sum(axis=1, keepdims=True)) * n
            - (u * n).sum(axis=1, keepdims=True) * dn,
        )
        return np.stack([x, cross(n, x), n], axis=1), np.stack([dx, cross(dn, x) + cross(n, dx), dn], axis=1)


def _unit(a: Array, da: Array) -> tuple[Array, Array]:
    """Unit vectors and their derivatives, of vectors (n, 3) and theirs."""
    size = np.linalg.norm(a, axis=1, keepdims=True)
    e = a / size
    return e, (da - e * (e * da).sum(axis=1, keepdims=True)) / size


def leaning(path: Path, stations: Sequence[float] | Array, planes: Sequence[Plane | None]) -> Turning | Leaning:
    """Axes along a path in which the section lies in each plane at its station; just turning with it where all are
    square to it.

    At a point, the first or the last of the stations, there is no plane (None) to lie in: from the neighbouring section
    on it leans as there.
    """
    turning = Turning(path)
    found = []
    held = [plane is not None for plane in planes]
    stations = np.asarray(stations, dtype=float)[held]
    for s, plane in zip(stations, (p for p in planes if p is not None), strict=True):
        at = np.array([s])
        u, v, t = turning.triads(int(path.piece_at(at)[0]), at)[0][0]
        n = plane.normal if float(plane.normal @ t) > 0 else -plane.normal
        found.append([float(n @ u), float(n @ v)] / (n @ t))
    slopes = np.array(found)
    if np.abs(slopes).max() < UPRIGHT:
        return turning
    if path.closed:
        return Leaning(turning, CubicSpline([*stations, path.length], [*slopes, slopes[0]], bc_type="periodic"))
    if len(stations) == 1:
        stations, slopes = np.array([0.0, path.length]), np.repeat(slopes, 2, axis=0)
    level: Any = [
        (2, np.zeros(2)) if kept else (1, np.zeros(2)) for kept in (held[0], held[-1])
    ]  # no crease where it begins to lean evenly
    return Leaning(turning, CubicSpline(stations, slopes, bc_type=tuple(level)))
