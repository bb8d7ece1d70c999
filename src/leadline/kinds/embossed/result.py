"""What views are told of a raised area."""

from __future__ import annotations

from leadline.recipe.shown import BodyResult


class EmbossedResult(BodyResult, total=False):
    """``volume`` of what was added or taken away, mm³."""

    volume: float
