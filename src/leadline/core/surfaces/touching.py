"""Pairs of triangles of two meshes whose boxes meet."""

from __future__ import annotations

import numpy as np

from leadline.core.geometry.mesh import Ints
from leadline.core.geometry.plane import Array, cross


def touching_triangles(p: Array, f: Ints, q: Array, g: Ints) -> tuple[Ints, Ints]:
    """Indices (k,), (k,) of triangles f of points p and g of points q that come through each other's planes and boxes.

    A sieve: all pairs that cross are among them. Boxes are sorted into the cells of a grid; those of one cell are
    compared.
    """
    a, b = p[f], q[g]  # (n, 3, 3)
    low_a, high_a, low_b, high_b = a.min(axis=1), a.max(axis=1), b.min(axis=1), b.max(axis=1)
    cell = max(float((high_a - low_a).mean()), float((high_b - low_b).mean()), 1e-9) * 1.5
    origin = np.minimum(low_a.min(axis=0), low_b.min(axis=0))
    rows_a, keys_a = _cells((low_a - origin) / cell, (high_a - origin) / cell)
    rows_b, keys_b = _cells((low_b - origin) / cell, (high_b - origin) / cell)
    order = np.argsort(keys_b, kind="stable")
    rows_b, keys_b = rows_b[order], keys_b[order]
    first, last = np.searchsorted(keys_b, keys_a, side="left"), np.searchsorted(keys_b, keys_a, side="right")
    count = last - first
    i = np.repeat(rows_a, count)
    within = np.arange(count.sum()) - np.repeat(np.cumsum(count) - count, count)
    j = rows_b[np.repeat(first, count) + within]
    pairs = np.unique(i * len(g) + j)
    i, j = pairs // len(g), pairs % len(g)
    slack = 0.02 * cell  # the meshes are a little off the surfaces
    meet = ((low_a[i] <= high_b[j] + slack) & (low_b[j] <= high_a[i] + slack)).all(axis=1)
    i, j = i[meet], j[meet]
    through = _through(a[i], b[j], slack) & _through(b[j], a[i], slack)
    return i[through], j[through]


def _cells(low: Array, high: Array) -> tuple[Ints, Ints]:
    """Rows and the cells that each covers, as one number."""
    rows, keys = [], []
    a, b = np.floor(low).astype(np.int64), np.floor(high).astype(np.int64)
    span = (b - a).max(axis=0, initial=0) + 1
    for dx in range(int(span[0])):
        for dy in range(int(span[1])):
            for dz in range(int(span[2])):
                c = a + np.array([dx, dy, dz])
                mine = np.flatnonzero((c <= b).all(axis=1))
                rows.append(mine)
                keys.append((c[mine, 0] << 42) + (c[mine, 1] << 21) + c[mine, 2])
    return np.concatenate(rows), np.concatenate(keys)


def _through(a: Array, b: Array, slack: float) -> np.ndarray:
    """Whether triangles b (n, 3, 3) reach both sides of the planes of triangles a, or come within ``slack``."""
    normal = cross(a[:, 1] - a[:, 0], a[:, 2] - a[:, 0])
    normal = normal / np.maximum(np.linalg.norm(normal, axis=1), 1e-300)[:, None]
    height = np.einsum("nkc,nc->nk", b - a[:, :1], normal)
    return np.asarray((height.min(axis=1) <= slack) & (height.max(axis=1) >= -slack))
