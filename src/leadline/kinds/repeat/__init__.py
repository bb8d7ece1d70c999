"""Copies of a body along a path."""

from leadline.kinds.repeat.model import RepeatStep
from leadline.recipe.registry import StepKind

KIND = StepKind(RepeatStep, gives="copies", reads_bodies=lambda _: True, rebuilds=("source",))
