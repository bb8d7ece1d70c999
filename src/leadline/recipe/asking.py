"""What a step is asked between builds: each kind's room says in its ``ask.py`` what it answers to."""

from __future__ import annotations

from typing import Any

from leadline.core.problems import Problem
from leadline.recipe.part import Part
from leadline.recipe.registry import kind_of
from leadline.recipe.rooms import questions_of


def answer(part: Part, step_id: str, question: str, *given: Any) -> Any:
    """What a step of a part answers, as JSON where the question gives it; ``given`` goes with the question.

    Raises:
        Problem: there is no such step, its kind does not answer to the question, or the answer cannot be given.
    """
    step = next((s for s in part.steps if s.id == step_id), None)
    if step is None:
        raise Problem("unknown-step", f"There is no step {step_id}.", "Reload the part.")
    known = questions_of(kind_of(step))
    if question not in known:
        raise Problem("wrong-step", f"“{step.name}” cannot be asked for “{question}”.", "Pick another step.")
    return known[question](part, step_id, *given)
