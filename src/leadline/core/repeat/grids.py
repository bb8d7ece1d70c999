"""Where copies stand that a plane places: beside each other in rows, round its normal, or once somewhere else."""

from __future__ import annotations

import numpy as np
from scipy.spatial.transform import Rotation

from leadline.core.geometry.placements import Placements
from leadline.core.geometry.plane import Array, Plane


def moved_once(plane: Plane, shift: Array, turn: float) -> Placements:
    """One move: a turn (rad) about the plane's normal through its origin, then a shift (3,) along its x, its y and its
    normal.
    """
    return _about(plane, np.array([turn]), shift[None])


def in_rows(plane: Plane, counts: tuple[int, int], spacings: tuple[float, float]) -> Placements:
    """Rows along the plane's x and y; the first place is where the source itself stands."""
    i, j = (a.ravel() for a in np.meshgrid(np.arange(counts[0]), np.arange(counts[1]), indexing="ij"))
    shifts = np.stack([i * spacings[0], j * spacings[1], np.zeros(len(i))], axis=1)
    return _about(plane, np.zeros(len(i)), shifts)


def round_normal(plane: Plane, count: int, angle: float, rise: float) -> Placements:
    """Places round the plane's normal through its origin, each ``rise`` mm further along it; the first is where the
    source itself stands.

    They share ``angle`` (rad): of a full turn the last one stands a step before the first, else at the angle's end.
    """
    whole = abs(abs(angle) - 2 * np.pi) < 1e-9
    step = angle / count if whole else angle / max(count - 1, 1)
    number = np.arange(count, dtype=np.float64)
    return _about(plane, number * step, np.outer(number, [0, 0, rise]))


def _about(plane: Plane, turns: Array, shifts: Array) -> Placements:
    """Turns (n,) about the normal, and shifts (n, 3) in the plane's own directions."""
    rotations = Rotation.from_rotvec(np.outer(turns, plane.normal)).as_matrix()
    axes = np.stack([plane.x, plane.y, plane.normal])
    return Placements(rotations, shifts @ axes + plane.origin - rotations @ plane.origin)
