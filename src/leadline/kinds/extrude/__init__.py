"""A profile carried straight."""

from leadline.kinds.extrude.model import ExtrudeStep, UntilAll, UntilSide
from leadline.recipe.inputs import combines
from leadline.recipe.registry import StepKind
from leadline.recipe.shown import SweptResult


def as_long_as_bodies_say(step: ExtrudeStep) -> bool:
    """Whether how long it is depends on the bodies before it."""
    return isinstance(step.until, UntilAll | UntilSide)


KIND = StepKind(
    ExtrudeStep,
    gives="body",
    result=SweptResult,
    reads_bodies=lambda s: combines(s) or as_long_as_bodies_say(s),
    plans_by_bodies=as_long_as_bodies_say,
    carried=("profile",),
)
