"""A path made of another."""

from leadline.kinds.derived.model import DerivedStep
from leadline.recipe.registry import StepKind

KIND = StepKind(DerivedStep, gives="path")
