"""A body split in pieces."""

from leadline.kinds.divided.model import DividedStep
from leadline.recipe.registry import StepKind
from leadline.recipe.shown import BodyResult

KIND = StepKind(DividedStep, gives="change", result=BodyResult, reads_bodies=lambda _: True)
