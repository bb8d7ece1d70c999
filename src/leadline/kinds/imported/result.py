"""What views are told of bodies from a file."""

from __future__ import annotations

from typing_extensions import TypedDict

from leadline.recipe.shown import BodyResult


class ReadBody(TypedDict):
    """A solid of the file: its name, volume in mm³ and how many faces it has; whether it had to be healed."""

    name: str
    volume: float
    faces: int
    healed: bool


class ImportedResult(BodyResult, total=False):
    """``unit`` is the file's own, or that in which its numbers are taken; of ``bodies`` the first 100.

    Of a mesh how many ``triangles`` it has, and how many of its edges are ``open``.
    """

    unit: str
    count: int
    bodies: list[ReadBody]
    triangles: int
    open: int
