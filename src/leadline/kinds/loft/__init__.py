"""Sections that go over into one another."""

from leadline.kinds.loft.model import LoftStep
from leadline.kinds.loft.result import LoftResult
from leadline.recipe.inputs import combines
from leadline.recipe.registry import StepKind

KIND = StepKind(
    LoftStep, gives="body", result=LoftResult, reads_bodies=combines, carried=("sections", "centreline", "rails")
)
