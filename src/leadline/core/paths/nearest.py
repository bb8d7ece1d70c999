"""Where a path comes nearest to a point."""

from __future__ import annotations

import numpy as np

from leadline.core.geometry.plane import Array
from leadline.core.paths.path import Path

ROUNDS = 20
SETTLED = 1e-12  # of the path's length


def nearest_station(path: Path, point: Array) -> float:
    """The station whose point is nearest to a point (3,); found among dense stations, then by Newton's steps."""
    dense = path.samples()
    s = float(dense[int(np.argmin(np.linalg.norm(path.point(dense) - point, axis=1)))])
    for _ in range(ROUNDS):
        at = np.array([s])
        away, t = path.point(at)[0] - point, path.tangent(at)[0]
        rate = 1.0 + float(away @ path.curvature(at)[0])
        step = -float(away @ t) / max(rate, 0.1)
        s = float(np.clip(s + step, 0.0, path.length))
        if abs(step) < SETTLED * path.length:
            break
    return s
