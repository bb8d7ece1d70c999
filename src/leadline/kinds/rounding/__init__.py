"""Edges of bodies rounded or chamfered."""

from leadline.kinds.rounding.model import RoundingStep
from leadline.kinds.rounding.result import RoundingResult
from leadline.recipe.registry import StepKind

KIND = StepKind(
    RoundingStep, gives="change", result=RoundingResult, reads_bodies=lambda _: True, quantities={"size": "how"}
)
