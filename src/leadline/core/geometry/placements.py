"""Rigid moves of one shape to many places."""

from __future__ import annotations

import base64
from dataclasses import dataclass

import numpy as np
from scipy.spatial.transform import Rotation

from leadline.core.geometry.plane import Array


@dataclass(frozen=True)
class Placements:
    """n rigid moves: a point p goes to ``turns[i] @ p + shifts[i]``; ``turns`` (n, 3, 3), ``shifts`` (n, 3) in mm."""

    turns: Array
    shifts: Array

    def __len__(self) -> int:
        return len(self.shifts)

    def moved(self, points: Array) -> Array:
        """Points (m, 3) at every place, (n, m, 3)."""
        return np.asarray(points @ self.turns.transpose(0, 2, 1) + self.shifts[:, None])

    def directions(self, vectors: Array) -> Array:
        """Vectors (m, 3) turned as at every place, (n, m, 3)."""
        return np.asarray(vectors @ self.turns.transpose(0, 2, 1))

    def relative(self, first: np.ndarray, second: np.ndarray) -> Placements:
        """The moves (k,) that take what stands at place ``second`` as seen from place ``first``."""
        back = self.turns[first].transpose(0, 2, 1)
        return Placements(
            back @ self.turns[second], np.einsum("nij,nj->ni", back, self.shifts[second] - self.shifts[first])
        )

    def of_each(self, inner: Placements) -> Placements:
        """All places of ``inner`` moved to each of these: (n * m,) places, those of the first move first."""
        turns = self.turns[:, None] @ inner.turns
        shifts = np.einsum("nij,mj->nmi", self.turns, inner.shifts) + self.shifts[:, None]
        return Placements(turns.reshape(-1, 3, 3), shifts.reshape(-1, 3))

    def mirrored(self, normal: Array, origin: Array) -> Placements:
        """The moves that do to what a mirror shows what these do to what stands before it; the mirror has a unit
        ``normal`` (3,).
        """
        flip = np.eye(3) - 2 * np.outer(normal, normal)
        away = 2 * float(normal @ origin) * normal
        turns = flip @ self.turns @ flip
        return Placements(turns, self.shifts @ flip + away - turns @ away)

    def some(self, which: np.ndarray) -> Placements:
        return Placements(self.turns[which], self.shifts[which])

    def packed(self) -> str:
        """For the screen: a quaternion (x, y, z, w) and a shift for each, as base64 of 32-bit floats (n, 7)."""
        quaternions = Rotation.from_matrix(self.turns).as_quat()
        return base64.b64encode(np.hstack([quaternions, self.shifts]).astype("<f4").tobytes()).decode()


def between(start: tuple[Array, Array], ends: tuple[Array, Array]) -> Placements:
    """The moves from one frame to each of many: a frame is its axes by rows (3, 3) and its origin (3,); the many
    (n, 3, 3), (n, 3).
    """
    axes, origin = start
    turns = ends[0].transpose(0, 2, 1) @ axes
    return Placements(turns, ends[1] - turns @ origin)
