"""Bodies that stand apart, put together."""

from leadline.kinds.combine.model import CombineStep
from leadline.recipe.registry import StepKind
from leadline.recipe.shown import BodyResult

KIND = StepKind(CombineStep, gives="change", result=BodyResult, reads_bodies=lambda _: True)
