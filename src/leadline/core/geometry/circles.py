"""Circles in space."""

from __future__ import annotations

import numpy as np

from leadline.core.geometry.plane import Array

OFF = 1e-6  # of its size, by which points may be off a circle


def circle_through(points: Array) -> tuple[Array, Array, float] | None:
    """Centre (3,), unit normal (3,) and radius of the circle on which points (n, 3) lie; None when there is none.

    The plane by the smallest singular value, the circle by linear least squares (I. Kasa, IEEE Trans. Instrum. Meas.
    25, 1976); of the two normals the one whose largest component is above zero.
    """
    middle = points.mean(axis=0)
    _, _, axes = np.linalg.svd(points - middle, full_matrices=False)
    if len(points) < 3:
        return None
    flat = (points - middle) @ axes[:2].T
    solved, _, rank, _ = np.linalg.lstsq(
        np.column_stack([2 * flat, np.ones(len(flat))]), (flat**2).sum(axis=1), rcond=None
    )
    if rank < 3:
        return None
    centre = middle + solved[:2] @ axes[:2]
    away = np.linalg.norm(points - centre, axis=1)
    radius = float(away.mean())
    size = float(np.ptp(points, axis=0).max())
    out = np.abs((points - middle) @ axes[2])
    if max(float(np.ptp(away)), float(out.max())) > OFF * size + OFF or radius > size / OFF:
        return None
    normal = axes[2] * np.sign(axes[2][np.argmax(np.abs(axes[2]))])
    return centre, normal, radius
