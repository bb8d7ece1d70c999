"""A flat ring about the origin of a plane."""

from leadline.kinds.washer.model import WasherStep
from leadline.kinds.washer.result import WasherResult
from leadline.recipe.inputs import combines
from leadline.recipe.registry import StepKind

KIND = StepKind(WasherStep, gives="body", result=WasherResult, reads_bodies=combines)
