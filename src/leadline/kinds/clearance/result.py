"""What views are told of a clearance."""

from __future__ import annotations

from typing_extensions import TypedDict

from leadline.recipe.shown import Shown, Vec3


class ClearShown(TypedDict):
    """By station the distance to the nearest of the ``bodies`` and its number; the ``least`` of all is to the body
    ``nearest``, at ``station``, from the place ``at`` on the tube to the place ``to`` on the body.

    Under zero it is how deep the tube runs into it.
    """

    length: float
    stations: list[float]
    distance: list[float]
    other: list[int]
    bodies: list[str]
    asked: float
    least: float
    nearest: int
    station: float
    at: Vec3
    to: Vec3


class ClearanceResult(Shown, total=False):
    clear: ClearShown
