"""What views are told of a hose."""

from __future__ import annotations

from typing_extensions import TypedDict

from leadline.recipe.shown import PathResult, Vec3


class PortShown(TypedDict):
    """``collar`` is how far the fitting at a port reaches into the hose, if one is there."""

    point: Vec3
    outward: Vec3
    straight: float
    collar: float | None


class HoseShown(TypedDict):
    """``turn`` is by how many degrees the fittings are turned against each other on an untwisted hose."""

    ports: list[PortShown]
    points: list[Vec3]
    slack: float
    tightest_at: float
    turn: float


class HoseResult(PathResult, total=False):
    hose: HoseShown
