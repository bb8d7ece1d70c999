"""Copies of a body along a path."""

from leadline.kinds.repeat.model import RepeatStep
from leadline.recipe.registry import StepKind

KIND = StepKind(RepeatStep, reads_bodies=lambda _: True)
