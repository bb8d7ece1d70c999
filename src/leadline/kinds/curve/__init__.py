"""An arc, an ellipse or a curve by formula in space."""

from leadline.kinds.curve.model import CurveStep
from leadline.recipe.registry import StepKind
from leadline.recipe.shown import PathResult

KIND = StepKind(CurveStep, gives="path", result=PathResult, quantities={"formula": "shape", "curve": "shape"})
