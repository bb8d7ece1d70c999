"""A curve in which two surfaces cross."""

from leadline.kinds.crossing.model import CrossingStep
from leadline.kinds.crossing.result import CrossingResult
from leadline.recipe.registry import StepKind

KIND = StepKind(CrossingStep, gives="path", result=CrossingResult)
