"""What views are told of rounded edges."""

from __future__ import annotations

from leadline.recipe.shown import BodyResult, Vec3


class RoundingResult(BodyResult, total=False):
    """``length`` of all edges together, mm; ``chain`` are points along them where the radius varies, from its start to
    its end.
    """

    length: float
    chain: list[Vec3]
