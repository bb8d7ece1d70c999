"""A profile carried round an axis."""

from leadline.kinds.revolve.model import RevolveStep
from leadline.recipe.inputs import combines
from leadline.recipe.registry import StepKind

KIND = StepKind(RevolveStep, gives="body", reads_bodies=combines, carried=("profile",))
