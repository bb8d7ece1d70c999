"""A body split in pieces."""

from leadline.kinds.divided.model import DividedStep
from leadline.kinds.divided.result import DividedResult
from leadline.recipe.registry import StepKind

KIND = StepKind(DividedStep, gives="change", result=DividedResult, reads_bodies=lambda _: True)
