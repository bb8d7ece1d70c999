"""A coil about another path."""

from leadline.kinds.wound.model import WoundStep
from leadline.recipe.registry import StepKind

KIND = StepKind(WoundStep, gives="path")
