"""A path through points."""

from leadline.kinds.route.model import RouteStep
from leadline.kinds.route.result import RouteResult
from leadline.recipe.registry import StepKind

KIND = StepKind(RouteStep, gives="path", result=RouteResult, quantities={"held_length": "held"})
