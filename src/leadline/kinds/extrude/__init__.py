"""A profile carried straight."""

from leadline.kinds.extrude.model import ExtrudeStep
from leadline.recipe.inputs import combines
from leadline.recipe.registry import StepKind
from leadline.recipe.shown import SweptResult

KIND = StepKind(ExtrudeStep, gives="body", result=SweptResult, reads_bodies=combines, carried=("profile",))
