"""What the rounding of edges takes in."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from leadline.core.marks import A_LENGTH, Angle, Length
from leadline.core.sketch.model import Model
from leadline.recipe.inputs import BaseStep, EdgeRef, Points, RadiusPoint


class EvenRound(Model):
    """Rounded by one radius."""

    by: Literal["even"] = "even"
    radius: Annotated[Length, A_LENGTH]


class VaryingRound(Model):
    """Rounded by radii at places along the edges, which are one chain: lengths from its start, or shares of it in %."""

    by: Literal["table"] = "table"
    points: Points[RadiusPoint]


class Chamfer(Model):
    """Cut off flat: by ``first`` on the face whose name comes first in the edge's, and by ``second`` on the other, or
    by as much.

    With an ``angle`` it leans by so much out of the first face instead.
    """

    by: Literal["chamfer"] = "chamfer"
    first: Annotated[Length, A_LENGTH, Field(title="Size")]
    second: Annotated[Length | None, A_LENGTH, Field(title="On the other face")] = None
    angle: Angle | None = None


class RoundingStep(BaseStep):
    """Edges of the bodies before it rounded or chamfered, with all that go on smoothly from them."""

    kind: Literal["rounding"] = "rounding"
    edges: Annotated[list[EdgeRef], Field(max_length=500)] = []
    how: Annotated[EvenRound | VaryingRound | Chamfer, Field(discriminator="by")]
