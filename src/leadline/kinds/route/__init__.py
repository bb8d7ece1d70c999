"""A path through points."""

from leadline.kinds.route.model import RouteStep
from leadline.recipe.registry import StepKind

KIND = StepKind(RouteStep, gives="path")
