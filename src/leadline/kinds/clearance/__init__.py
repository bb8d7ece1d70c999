"""How far a path stays from bodies."""

from leadline.kinds.clearance.model import ClearanceStep
from leadline.recipe.registry import StepKind

KIND = StepKind(ClearanceStep, gives="nothing", reads_bodies=lambda _: True)
