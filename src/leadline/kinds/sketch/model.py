"""What a sketch step takes in."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from leadline.core.sketch.model import Sketch
from leadline.recipe.inputs import BaseStep, PlaneRef


class SketchStep(BaseStep):
    kind: Literal["sketch"] = "sketch"
    plane: PlaneRef
    sketch: Sketch = Field(default_factory=Sketch)
