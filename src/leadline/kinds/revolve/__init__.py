"""A profile carried round an axis."""

from leadline.kinds.revolve.model import RevolveStep
from leadline.recipe.inputs import combines
from leadline.recipe.registry import StepKind
from leadline.recipe.shown import SweptResult

KIND = StepKind(RevolveStep, gives="body", result=SweptResult, reads_bodies=combines, carried=("profile",))
