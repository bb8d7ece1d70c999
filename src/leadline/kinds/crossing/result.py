"""What views are told of the curve in which two surfaces cross."""

from __future__ import annotations

from typing_extensions import TypedDict

from leadline.recipe.shown import PathResult


class Branch(TypedDict):
    """``off`` is by how much it misses the surfaces at most, mm."""

    length: float
    closed: bool
    off: float


class CrossingResult(PathResult, total=False):
    branches: list[Branch]
