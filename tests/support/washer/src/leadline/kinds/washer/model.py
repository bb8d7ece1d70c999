"""What a washer takes in."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from leadline.core.marks import A_LENGTH, Length
from leadline.recipe.inputs import BaseStep, PlaneRef, ResultMode


class WasherStep(BaseStep):
    """A flat ring about the origin of a plane.

    It lies on the plane.
    """

    kind: Literal["washer"] = "washer"
    plane: PlaneRef
    outer: Annotated[Length, A_LENGTH, Field(title="Outer diameter")] = 24.0
    inner: Annotated[Length, A_LENGTH, Field(title="Hole")] = 13.0
    thickness: Annotated[Length, A_LENGTH] = 2.5
    result: ResultMode = "separate"
