"""What a crossing of two surfaces takes in."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from leadline.recipe.inputs import BaseStep, SidesRef


class CrossingStep(BaseStep):
    """A curve in which two surfaces cross: the ``branch``-th, the longest being the first."""

    kind: Literal["crossing"] = "crossing"
    first: SidesRef
    second: SidesRef
    branch: Annotated[int, Field(ge=1, le=1000)] = 1
