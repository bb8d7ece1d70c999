"""What a sketch step takes in."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from leadline.core.sketch.model import Sketch
from leadline.recipe.inputs import BaseStep, PlaneRef, edge_owners


class SketchStep(BaseStep):
    kind: Literal["sketch"] = "sketch"
    plane: PlaneRef
    sketch: Sketch = Field(default_factory=Sketch)

    @property
    def follows_bodies(self) -> bool:
        """Whether it follows an edge that only a built body has, as it lies between faces of several steps."""
        return any(p.what == "edge" and edge_owners(p.item) != {p.source} for p in self.sketch.projections)
