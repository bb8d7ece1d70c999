"""What a plane square to a path takes in."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from leadline.core.marks import Length, When
from leadline.recipe.inputs import BaseStep, PathRef


class NormalPlane(BaseStep):
    """A plane square to a path: at its start or end, at a length along it, or at a share of its length."""

    kind: Literal["plane"] = "plane"
    path: PathRef
    place: Literal["start", "end", "length", "ratio"] = "start"
    value: Annotated[Length, When("place", ("length",)), Field(title="Station")] = 0.0
