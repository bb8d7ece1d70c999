"""A plane placed by numbers, other planes, points, lines or faces."""

from leadline.kinds.datum.model import DatumStep
from leadline.kinds.datum.result import DatumResult
from leadline.recipe.registry import StepKind

KIND = StepKind(DatumStep, gives="plane", result=DatumResult)
