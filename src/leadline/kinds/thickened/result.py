"""What views are told of a surface made thick."""

from __future__ import annotations

from leadline.recipe.shown import BodyResult, WallsShown


class ThickenedResult(BodyResult, total=False):
    walls: WallsShown
