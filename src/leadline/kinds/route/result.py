"""What views are told of a path through points."""

from __future__ import annotations

from typing_extensions import TypedDict

from leadline.recipe.shown import PathResult, Vec3


class Run(TypedDict):
    length: float
    straight: float


class Bend(TypedDict):
    point: int
    angle: float
    radius: float
    station: float


class RouteShown(TypedDict):
    """Where its points stand, the runs between them with what stays straight of each, its bends (at which point, the
    angle in degrees) and how much is straight and bent in all, mm.
    """

    points: list[Vec3]
    runs: list[Run]
    bends: list[Bend]
    straight: float
    bent: float


class RouteResult(PathResult, total=False):
    route: RouteShown
