"""Copies of a body along a path."""

from leadline.kinds.repeat.model import RepeatStep
from leadline.kinds.repeat.result import RepeatResult
from leadline.recipe.registry import StepKind

KIND = StepKind(RepeatStep, gives="copies", result=RepeatResult, reads_bodies=lambda _: True, rebuilds=("source",))
