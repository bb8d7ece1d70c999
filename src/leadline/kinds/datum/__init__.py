"""A plane placed by numbers, other planes, points, lines or faces."""

from leadline.kinds.datum.model import DatumPlane
from leadline.kinds.datum.result import DatumResult
from leadline.recipe.registry import StepKind

KIND = StepKind(DatumPlane, gives="plane", result=DatumResult)
