"""A path made of another."""

from leadline.kinds.derived.model import DerivedStep
from leadline.recipe.registry import StepKind
from leadline.recipe.shown import PathResult

KIND = StepKind(DerivedStep, gives="path", result=PathResult)
