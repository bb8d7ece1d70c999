"""A profile carried straight."""

from leadline.kinds.extrude.model import ExtrudeStep, UntilAll
from leadline.recipe.inputs import combines
from leadline.recipe.registry import StepKind
from leadline.recipe.shown import SweptResult


def through_all(step: ExtrudeStep) -> bool:
    """Whether how long it is depends on the bodies before it."""
    return isinstance(step.until, UntilAll)


KIND = StepKind(ExtrudeStep, gives="body", result=SweptResult, reads_bodies=lambda s: combines(s) or through_all(s), plans_by_bodies=through_all, carried=("profile",))
