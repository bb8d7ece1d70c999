"""What views are told of a surface made thick."""

from __future__ import annotations

from typing_extensions import TypedDict

from leadline.recipe.shown import BodyResult, WallsShown


class WallAlong(TypedDict):
    """Its wall (mm) by station along the surface's path (mm), where a table gives it."""

    station: list[float]
    wall: list[float]


class ThickenedResult(BodyResult, total=False):
    walls: WallsShown
    along: WallAlong
