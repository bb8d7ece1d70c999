"""What views are told of copied bodies."""

from __future__ import annotations

from leadline.recipe.shown import BodyResult


class ArrangedResult(BodyResult, total=False):
    """``count``: how many there are in all, the source itself included where it stays; ``volume`` of what was made,
    mm³.
    """

    count: int
    volume: float
