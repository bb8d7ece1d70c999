"""A profile carried along a path."""

from leadline.kinds.sweep.model import SweepStep
from leadline.recipe.inputs import combines
from leadline.recipe.registry import StepKind

KIND = StepKind(SweepStep, gives="body", reads_bodies=combines, carried=("path", "profile", "more_profiles"))
