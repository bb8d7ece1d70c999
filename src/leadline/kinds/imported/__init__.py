"""Bodies from a file."""

from leadline.kinds.imported.model import ImportedStep
from leadline.kinds.imported.result import ImportedResult
from leadline.recipe.registry import StepKind

KIND = StepKind(ImportedStep, gives="copies", result=ImportedResult)
