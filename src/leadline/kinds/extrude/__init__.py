"""A profile carried straight."""

from leadline.kinds.extrude.model import ExtrudeStep
from leadline.recipe.inputs import combines
from leadline.recipe.registry import StepKind

KIND = StepKind(ExtrudeStep, makes_bodies=True, reads_bodies=combines, carried=("profile",))
