"""Another part, placed in this one."""

from leadline.kinds.placed.model import PlacedStep
from leadline.kinds.placed.result import PlacedResult
from leadline.recipe.registry import StepKind

KIND = StepKind(PlacedStep, gives="copies", result=PlacedResult)
