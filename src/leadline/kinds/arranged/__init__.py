"""Bodies mirrored, moved, or copied in rows and round an axis."""

from leadline.kinds.arranged.model import ArrangedStep
from leadline.kinds.arranged.result import ArrangedResult
from leadline.recipe.registry import StepKind

KIND = StepKind(
    ArrangedStep,
    gives="copies",
    result=ArrangedResult,
    reads_bodies=lambda _: True,
    stands_with=lambda step: step.source if step.stays else None,
)
