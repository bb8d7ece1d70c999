"""What a peg takes in."""

from __future__ import annotations

from typing import Annotated, Literal

from leadline.core.marks import A_LENGTH, Length
from leadline.recipe.inputs import BaseStep, PlaneRef, ResultMode


class PegStep(BaseStep):
    """A round peg on a plane.

    It stands on the plane's origin, along its normal or against it.
    """

    kind: Literal["peg"] = "peg"
    plane: PlaneRef
    diameter: Annotated[Length, A_LENGTH] = 10.0
    height: Annotated[Length, A_LENGTH] = 25.0
    side: Literal["along", "against"] = "along"
    hollow: bool = False
    result: ResultMode = "separate"
