"""How a tube is bent."""

from leadline.kinds.bent.model import BentStep
from leadline.kinds.bent.result import BentResult
from leadline.recipe.registry import StepKind

KIND = StepKind(BentStep, gives="nothing", result=BentResult)
