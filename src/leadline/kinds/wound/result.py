"""What views are told of a coil about a path."""

from __future__ import annotations

from leadline.recipe.shown import PathResult


class WoundResult(PathResult, total=False):
    turns: float
