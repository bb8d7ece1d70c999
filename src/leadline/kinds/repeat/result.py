"""What views are told of copies along a path."""

from __future__ import annotations

from typing_extensions import TypedDict

from leadline.recipe.shown import BodyResult, Vec3


class _Copies(TypedDict):
    stations: list[float]
    runs: list[int]
    spacing: float
    length: float
    places: str


class CopiesShown(_Copies, total=False):
    """Where the copies stand: ``places`` has a quaternion and a shift for each, as base64 of 32-bit floats; ``runs`` of
    which run each is.

    Of those that are built: the ``volume`` of all, how far each is from the others (null where none is near), and the
    least with its place.
    """

    volume: float
    clearance: list[float | None]
    least: float | None
    closest: Vec3 | None


class RepeatResult(BodyResult, total=False):
    copies: CopiesShown
