"""An arc, an ellipse or a curve by formula in space."""

from leadline.kinds.curve.model import CurveStep
from leadline.recipe.registry import StepKind

KIND = StepKind(CurveStep, gives="path")
