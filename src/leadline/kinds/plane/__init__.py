"""A plane square to a path."""

from leadline.kinds.plane.model import PlaneStep
from leadline.kinds.plane.result import PlaneResult
from leadline.recipe.registry import StepKind

KIND = StepKind(PlaneStep, gives="plane", result=PlaneResult)
