"""The shortest hose that keeps its least bend radius, looked for on request."""

from __future__ import annotations

from leadline.core.problems import Problem
from leadline.kinds.hose.build import shortest
from leadline.kinds.hose.model import HoseStep
from leadline.recipe.build import Memory
from leadline.recipe.part import Part
from leadline.recipe.preview import in_words, planned_before


@in_words
def shortest_hose(part: Part, step_id: str, memory: Memory) -> float:
    """The length in mm of the shortest hose that keeps its least bend radius. Raises Problem."""
    step = next((s for s in part.steps if s.id == step_id), None)
    if not isinstance(step, HoseStep):
        raise Problem("unknown-step", f"There is no hose {step_id}.", "Reload the part.")
    return shortest(planned_before(part, step, memory), step)
