"""A plane square to a path."""

from leadline.kinds.plane.model import NormalPlane
from leadline.kinds.plane.result import PlaneResult
from leadline.recipe.registry import StepKind

KIND = StepKind(NormalPlane, gives="plane", result=PlaneResult)
