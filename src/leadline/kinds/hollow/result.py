"""What views are told of a hollow body."""

from __future__ import annotations

from leadline.recipe.shown import BodyResult, WallsShown


class HollowResult(BodyResult, total=False):
    walls: WallsShown
