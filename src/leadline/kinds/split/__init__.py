"""A body split in pieces."""

from leadline.kinds.split.model import SplitStep
from leadline.recipe.registry import StepKind
from leadline.recipe.shown import BodyResult

KIND = StepKind(SplitStep, gives="change", result=BodyResult, reads_bodies=lambda _: True)
