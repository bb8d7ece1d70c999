"""What views are told of a hose."""

from __future__ import annotations

from typing_extensions import TypedDict

from leadline.recipe.shown import PathResult, Rows3


class PortShown(TypedDict):
    """``collar`` is how far the fitting at a port reaches into the hose, if one is there."""

    point: list[float]
    outward: list[float]
    straight: float
    collar: float | None


class HoseShown(TypedDict):
    """``turn`` is by how many degrees the fittings are turned against each other on an untwisted hose."""

    ports: list[PortShown]
    points: Rows3
    slack: float
    tightest_at: float
    turn: float


class HoseResult(PathResult, total=False):
    hose: HoseShown
