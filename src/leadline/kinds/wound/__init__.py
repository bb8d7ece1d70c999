"""A coil about another path."""

from leadline.kinds.wound.model import WoundStep
from leadline.kinds.wound.result import WoundResult
from leadline.recipe.registry import StepKind

KIND = StepKind(WoundStep, gives="path", result=WoundResult, quantities={"turning": "even"})
