"""What views are told of a hollow body."""

from __future__ import annotations

from typing_extensions import TypedDict

from leadline.recipe.shown import BodyResult, Vec3


class WallsShown(TypedDict):
    """How thick the walls are as they are built, at the least and at the most, and where; mm."""

    least: float
    least_at: Vec3
    most: float
    most_at: Vec3


class HollowResult(BodyResult, total=False):
    walls: WallsShown
