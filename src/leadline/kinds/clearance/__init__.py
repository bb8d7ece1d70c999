"""How far a path stays from bodies."""

from leadline.kinds.clearance.model import ClearanceStep
from leadline.kinds.clearance.result import ClearanceResult
from leadline.recipe.registry import StepKind

KIND = StepKind(ClearanceStep, gives="nothing", result=ClearanceResult, reads_bodies=lambda _: True)
