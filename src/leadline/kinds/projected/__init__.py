"""A path laid onto a surface."""

from leadline.kinds.projected.model import ProjectedStep
from leadline.recipe.registry import StepKind
from leadline.recipe.shown import PathResult

KIND = StepKind(ProjectedStep, gives="path", result=PathResult, quantities={"surface": "onto"})
