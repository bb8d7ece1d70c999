"""Bodies that stand apart, put together."""

from leadline.kinds.combined.model import CombinedStep
from leadline.recipe.registry import StepKind
from leadline.recipe.shown import BodyResult

KIND = StepKind(CombinedStep, gives="change", result=BodyResult, reads_bodies=lambda _: True)
