"""A path between two ports."""

from leadline.kinds.hose.model import HoseStep
from leadline.recipe.registry import StepKind

KIND = StepKind(HoseStep, gives="path", reads_plans=True)
