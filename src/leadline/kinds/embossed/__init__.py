"""An area of a body's side raised or sunk."""

from leadline.kinds.embossed.model import EmbossedStep
from leadline.kinds.embossed.result import EmbossedResult
from leadline.recipe.registry import StepKind

KIND = StepKind(EmbossedStep, gives="change", result=EmbossedResult, reads_bodies=lambda _: True)
