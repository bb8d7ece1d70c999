"""A thread on a round face."""

from leadline.kinds.threaded.model import ThreadedStep
from leadline.kinds.threaded.result import ThreadedResult
from leadline.recipe.registry import StepKind

KIND = StepKind(
    ThreadedStep,
    gives="change",
    result=ThreadedResult,
    reads_bodies=lambda _: True,
    quantities={"tooth": "own", "groove": "drawn"},
)
