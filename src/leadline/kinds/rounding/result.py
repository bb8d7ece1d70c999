"""What views are told of rounded edges."""

from __future__ import annotations

from leadline.recipe.shown import BodyResult


class RoundingResult(BodyResult, total=False):
    """``length`` of all edges together, mm."""

    length: float
