"""Paths put end to end."""

from leadline.kinds.joined.model import JoinedStep
from leadline.recipe.registry import StepKind

KIND = StepKind(JoinedStep, gives="path")
