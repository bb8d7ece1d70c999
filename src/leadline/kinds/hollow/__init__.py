"""Bodies made hollow."""

from leadline.kinds.hollow.model import HollowStep
from leadline.kinds.hollow.result import HollowResult
from leadline.recipe.registry import StepKind

KIND = StepKind(HollowStep, gives="change", result=HollowResult, reads_bodies=lambda _: True)
