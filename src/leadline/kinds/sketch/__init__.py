"""A drawing on a plane, held by constraints and dimensions."""

from leadline.kinds.sketch.model import SketchStep
from leadline.kinds.sketch.result import SketchResult
from leadline.recipe.registry import StepKind

KIND = StepKind(SketchStep, gives="drawing", result=SketchResult, reads_bodies=lambda step: step.follows_bodies)
