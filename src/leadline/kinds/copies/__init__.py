"""Bodies mirrored, moved, or copied in rows and round an axis."""

from leadline.kinds.copies.model import CopiesStep
from leadline.kinds.copies.result import CopiesResult
from leadline.recipe.registry import StepKind

KIND = StepKind(CopiesStep, gives="copies", result=CopiesResult, reads_bodies=lambda _: True)
