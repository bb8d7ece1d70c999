"""A spring of round wire."""

from leadline.kinds.sprung.model import SprungStep
from leadline.kinds.sprung.result import SprungResult
from leadline.recipe.inputs import combines
from leadline.recipe.registry import StepKind

KIND = StepKind(SprungStep, gives="body", result=SprungResult, reads_bodies=combines, quantities={"wanted": "wish"})
