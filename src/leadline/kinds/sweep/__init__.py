"""A profile carried along a path."""

from leadline.kinds.sweep.model import SweepStep
from leadline.recipe.inputs import combines
from leadline.recipe.registry import StepKind
from leadline.recipe.shown import SweptResult

KIND = StepKind(
    SweepStep,
    gives="body",
    result=SweptResult,
    reads_bodies=combines,
    carried=("path", "profile", "more_profiles", "sections"),
    quantities={"extension": "extend_start", "use": "rail_use", "side": "lying"},
)
