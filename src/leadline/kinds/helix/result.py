"""What views are told of a helix."""

from __future__ import annotations

from typing_extensions import TypedDict

from leadline.recipe.shown import PathResult


class Coil(TypedDict):
    """``lead`` is the height of a turn; of several ``starts`` each has it."""

    height: float
    lead: float
    starts: int


class HelixResult(PathResult, total=False):
    turns: float
    coil: Coil
