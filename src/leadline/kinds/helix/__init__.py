"""A coil about an axis."""

from leadline.kinds.helix.model import HelixStep
from leadline.kinds.helix.result import HelixResult
from leadline.recipe.registry import StepKind

KIND = StepKind(HelixStep, gives="path", result=HelixResult)
