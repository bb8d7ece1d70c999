"""A path laid onto a surface."""

from leadline.kinds.projected.model import ProjectedStep
from leadline.recipe.registry import StepKind

KIND = StepKind(ProjectedStep, gives="path")
