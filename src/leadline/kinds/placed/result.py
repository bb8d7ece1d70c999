"""What views are told of a placed part."""

from __future__ import annotations

from typing_extensions import TypedDict

from leadline.recipe.shown import BodyResult


class OtherValue(TypedDict):
    """A named value of the other part, as text with its unit; ``own`` where it is this step's."""

    name: str
    value: str
    note: str
    own: bool


class OtherPlane(TypedDict):
    """A step of the other part that has a plane."""

    id: str
    name: str


class PlacedResult(BodyResult, total=False):
    """``title`` is the other part's name as it was built, ``count`` how many bodies it has."""

    title: str
    count: int
    values: list[OtherValue]
    planes: list[OtherPlane]
