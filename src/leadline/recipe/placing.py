"""Places and directions of a step's inputs, worked out."""

from __future__ import annotations

import numpy as np

from leadline.core.geometry.plane import Array
from leadline.core.paths.nearest import nearest_station
from leadline.core.paths.path import Path
from leadline.core.problems import Problem, mm
from leadline.core.repeat.places import carried, home_station
from leadline.core.sweep.orientation import Held, Turning
from leadline.recipe.context import Context
from leadline.recipe.inputs import AlongPath, Up, UpAxis, UpPlane
from leadline.recipe.places import Direction, DrawnPoint, PathPlace, Place

SLACK = 1e-3  # mm by which a station may be off its path
NOUGHT = 1e-9  # size of a direction that has none
AXES = {"X": np.array([1.0, 0, 0]), "Y": np.array([0, 1.0, 0]), "Z": np.array([0, 0, 1.0])}


def place(context: Context, at: Place, name: str) -> Array:
    """Where a point of a path stands (3,). Raises Problem."""
    if isinstance(at, DrawnPoint):
        return context.drawn_point(at.step, at.point, "points")
    if isinstance(at, PathPlace):
        return path_place(context, at, name)[0]
    return np.array([context.value(v, f"of {name}") for v in (at.x, at.y, at.z)])


def path_place(context: Context, at: PathPlace, name: str) -> tuple[Array, Array]:
    """A point of an earlier path and the path's direction there, each (3,). Raises Problem."""
    path = context.path(at.path, "points")
    asked = context.station(at.station, path.length, f"of {name}")
    if not -SLACK <= asked <= path.length + SLACK:
        raise Problem(
            "off-path",
            f"The station {mm(asked)} of {name} is not on the path.",
            f"Give 0 to {mm(path.length, 6)}.",
            field="points",
        )
    s = np.array([path.length - asked if at.from_end else asked])
    return path.point(s)[0], path.tangent(s)[0]


def carried_along(context: Context, how: AlongPath, near: Array | Path) -> tuple[Array, Array]:
    """The move, (3, 3) and (3,), of what stands at a point (3,) or along another path, see ``AlongPath``.

    Raises Problem.
    """
    path = context.path(how.along, "along")
    at = context.station(how.at, path.length)
    if not -SLACK <= at <= path.length + SLACK:
        raise Problem(
            "off-path", f"The station {mm(at)} is not on the path.", f"Give 0 to {mm(path.length, 6)}.", field="at"
        )
    home = home_station(path, near) if isinstance(near, Path) else nearest_station(path, near)
    orientation = Held(np.eye(3)) if how.held else Turning(path)
    return carried(path, orientation, home, float(np.clip(at, 0.0, path.length)), context.value(how.turn))


def direction(context: Context, way: Direction, name: str) -> Array:
    """A unit direction (3,). Raises Problem."""
    vector = np.array([context.value(v, f"of {name}") for v in (way.x, way.y, way.z)])
    size = float(np.linalg.norm(vector))
    if size < NOUGHT:
        raise Problem(
            "no-direction",
            f"{name[0].upper()}{name[1:]} has no size.",
            "Give it one, e.g. 1, 0, 0, or take it away.",
            field="points",
        )
    return np.asarray(vector / size)


def up_direction(context: Context, up: Up | None) -> Array:
    """What upright means (3,); by default the Z axis. Raises Problem."""
    up = up or UpAxis(axis="Z")
    if isinstance(up, UpAxis):
        return AXES[up.axis]
    if isinstance(up, UpPlane):
        return context.plane(up.plane).normal
    a, b = context.line(up.step, up.line, "up")
    return np.asarray((b - a) / np.linalg.norm(b - a))
