"""What making a body hollow takes in."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from leadline.core.marks import A_LENGTH, Length, Refers
from leadline.core.sketch.model import Id, Model
from leadline.recipe.inputs import BaseStep, FaceRef


class OwnWall(Model):
    """A face with a wall of its own."""

    face: FaceRef
    wall: Annotated[Length, A_LENGTH]


class HollowStep(BaseStep):
    """The bodies of an earlier step made hollow: a ``wall`` inside or outside of their faces, ``opened`` ones left out.

    ``walls`` are faces whose wall is another.
    """

    kind: Literal["hollow"] = "hollow"
    body: Annotated[Id, Refers("body")]
    wall: Annotated[Length, A_LENGTH]
    side: Literal["inward", "outward"] = "inward"
    opened: Annotated[list[FaceRef], Field(max_length=200)] = []
    walls: Annotated[list[OwnWall], Field(max_length=200)] = []
