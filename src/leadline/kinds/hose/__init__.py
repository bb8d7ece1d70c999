"""A path between two ports."""

from leadline.kinds.hose.model import HoseStep
from leadline.kinds.hose.result import HoseResult
from leadline.recipe.registry import StepKind

KIND = StepKind(HoseStep, gives="path", result=HoseResult, reads_motions=True)
