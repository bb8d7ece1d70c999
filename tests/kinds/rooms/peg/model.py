"""What a peg takes in."""

from __future__ import annotations

from typing import Literal

from leadline.core.marks import Length
from leadline.recipe.inputs import BaseStep, PlaneRef, ResultMode


class PegStep(BaseStep):
    """A round peg on a plane.

    It stands on the plane's origin, along its normal or against it.
    """

    kind: Literal["peg"] = "peg"
    plane: PlaneRef
    diameter: Length = 10.0
    height: Length = 25.0
    side: Literal["along", "against"] = "along"
    hollow: bool = False
    result: ResultMode = "separate"
