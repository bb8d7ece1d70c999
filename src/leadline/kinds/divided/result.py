"""What views are told of a split body."""

from __future__ import annotations

from typing_extensions import TypedDict

from leadline.recipe.shown import BodyResult, Vec3


class PieceOfBody(TypedDict):
    """A piece on a side that is kept: its volume (mm³), its middle, and whether it stays itself."""

    volume: float
    centre: Vec3
    kept: bool


class DividedResult(BodyResult, total=False):
    parts: list[PieceOfBody]
