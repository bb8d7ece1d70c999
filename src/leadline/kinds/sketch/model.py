"""What a sketch step takes in."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from leadline.core.marks import Refers
from leadline.core.sketch.model import Id, Sketch
from leadline.recipe.inputs import BaseStep, PlaneRef, edge_owners


class SketchStep(BaseStep):
    """A drawing on a plane; ``same_as`` another sketch it is that one's drawing on this plane, and has none of
    its own.
    """

    kind: Literal["sketch"] = "sketch"
    plane: PlaneRef
    sketch: Sketch = Field(default_factory=Sketch)
    same_as: Annotated[Id, Refers("any")] | None = None

    @property
    def follows_bodies(self) -> bool:
        """Whether it follows an edge that only a built body has, as it lies between faces of several steps."""
        return any(p.what == "edge" and edge_owners(p.item) != {p.source} for p in self.sketch.projections)
