"""A surface made thick."""

from leadline.kinds.thickened.model import ThickenedStep
from leadline.kinds.thickened.result import ThickenedResult
from leadline.recipe.inputs import combines
from leadline.recipe.registry import StepKind

KIND = StepKind(ThickenedStep, gives="copies", result=ThickenedResult, reads_bodies=combines)
