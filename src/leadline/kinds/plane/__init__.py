"""A plane square to a path."""

from leadline.kinds.plane.model import PlaneStep
from leadline.recipe.registry import StepKind

KIND = StepKind(PlaneStep, gives="plane")
