"""What making a surface thick takes in."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from leadline.core.marks import Length, Refers
from leadline.core.sketch.model import Id, Model
from leadline.recipe.inputs import BaseStep, Points, ResultMode, TablePoint


class WallPoint(TablePoint):
    """A wall at a station."""

    value: Annotated[Length, Field(title="Wall")]


class TableWall(Model):
    """Walls at stations of the surface's path."""

    by: Literal["table"] = "table"
    points: Points[WallPoint]
    smooth: bool = True


class ThickenedStep(BaseStep):
    """A ``surface`` without thickness made a solid: its ``wall``, measured square to it, stands in front of it, behind
    it or on ``both`` sides by halves.

    In front is outside of a closed outline, and on the right of an open one as it is drawn. The surface itself is no
    body any more after that.
    """

    kind: Literal["thickened"] = "thickened"
    surface: Annotated[Id, Refers("body")]
    wall: Length | TableWall
    side: Literal["front", "back", "both"] = "back"
    result: ResultMode = "separate"
