"""Frames along a path, and the moves that take one shape to them."""

from __future__ import annotations

import numpy as np
from scipy.spatial.transform import Rotation

from leadline.core.geometry.placements import Placements, between
from leadline.core.geometry.plane import Array, Plane
from leadline.core.paths.nearest import ROUNDS, SETTLED, nearest_station
from leadline.core.paths.path import Path
from leadline.core.repeat.spacing import Row, Run
from leadline.core.sweep.orientation import Orientation

EVEN = 65

Frame = tuple[Array, Array]  # axes by rows (3, 3), origin (3,)


def frames_at(path: Path, orientation: Orientation, stations: Array) -> tuple[Array, Array]:
    """Axes by rows (n, 3, 3), the third along the path unless held, and origins (n, 3)."""
    axes = np.empty((len(stations), 3, 3))
    which = path.piece_at(stations)
    for piece in np.unique(which):
        mine = which == piece
        axes[mine] = orientation.triads(int(piece), stations[mine])[0]
    return axes, path.point(stations)


def home_station(path: Path, source: Path) -> float:
    """Where on a path a body stands that was swept along ``source``.

    That is where the two come closest, or nearest to the middle of a closed one.
    """
    even = np.linspace(0.0, source.length, EVEN, endpoint=not source.closed)
    points = source.point(even)
    if source.closed:
        return nearest_station(path, points.mean(axis=0))
    dense = path.samples()
    gaps = np.linalg.norm(points[:, None] - path.point(dense)[None], axis=2)
    point = points[int(np.argmin(gaps.min(axis=1)))]
    s = nearest_station(path, point)
    for _ in range(ROUNDS):
        point = source.point(np.array([nearest_station(source, path.point(np.array([s]))[0])]))[0]
        before, s = s, nearest_station(path, point)
        if abs(s - before) < SETTLED * path.length:
            break
    return s


def plane_frame(plane: Plane) -> Frame:
    """A plane as a frame whose third axis, the one that goes along the path, is its normal."""
    return np.stack([plane.x, plane.y, plane.normal]), plane.origin


def place(
    path: Path,
    orientation: Orientation,
    row: Row,
    runs: list[Run],
    seat: Frame,
    turn: float = 0.0,
    alternate: float = 0.0,
) -> Placements:
    """Moves from the ``seat`` to each copy's place; every copy is turned about the path by ``turn`` and its run's,
    every second one of a run by ``alternate`` more (rad).
    """
    axes, origins = frames_at(path, orientation, row.stations)
    angle = turn + np.array([r.turn for r in runs])[row.run] + alternate * (row.number % 2)
    about = Rotation.from_rotvec(path.tangent(row.stations) * angle[:, None]).as_matrix()
    return between(seat, (axes @ about.transpose(0, 2, 1), origins))


def carried(path: Path, orientation: Orientation, home: float, at: float, turn: float = 0.0) -> tuple[Array, Array]:
    """The move, (3, 3) and (3,), that takes what stands at station ``home`` of a path to station ``at``, turned about
    the path there by ``turn`` (rad).
    """
    axes, origins = frames_at(path, orientation, np.array([home]))
    once = np.zeros(1, dtype=int)
    move = place(path, orientation, Row(np.array([at]), once, once, 0.0), [Run()], (axes[0], origins[0]), turn)
    return move.turns[0], move.shifts[0]
