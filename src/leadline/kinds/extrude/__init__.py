"""A profile carried straight."""

from leadline.kinds.extrude.model import ExtrudeStep
from leadline.recipe.inputs import combines
from leadline.recipe.registry import StepKind

KIND = StepKind(ExtrudeStep, gives="body", reads_bodies=combines, carried=("profile",))
