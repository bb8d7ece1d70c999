"""Paths put end to end."""

from leadline.kinds.joined.model import JoinedStep
from leadline.kinds.joined.result import JoinedResult
from leadline.recipe.registry import StepKind

KIND = StepKind(JoinedStep, gives="path", result=JoinedResult)
