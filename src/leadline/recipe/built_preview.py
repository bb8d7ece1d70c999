"""What a step would be like that only the kernel can tell: a rounding, a hollow, a body that is split."""

from __future__ import annotations

from leadline.core.geometry.mesh import as_one, repeated
from leadline.core.problems import Problem
from leadline.recipe.build import Memory, Store, build
from leadline.recipe.kept_body import KeptBody
from leadline.recipe.part import Part
from leadline.recipe.preview import Preview, in_words


@in_words
def built_preview(part: Part, step_id: str, memory: Memory, store: Store | None = None) -> Preview:
    """The bodies that a step makes or changes, built, with the steps in whose place they stand; no mesh where it fails.

    What is built stays in the memory, so that to build the same for good takes no time. Raises Problem for an unknown
    step.
    """
    at = next((i for i, s in enumerate(part.steps) if s.id == step_id), None)
    if at is None:
        raise Problem("unknown-step", f"There is no step {step_id}.", "Reload the part.")
    part = part.model_copy(update={"sinker": None})
    before: list[KeptBody] = []
    if at > 0:
        before = build(part, memory, store, until=part.steps[at - 1].id).bodies
    result = build(part, memory, store, until=step_id)
    known = {b.key for b in before}
    fresh = [b for b in result.bodies if b.key not in known]
    if not fresh:
        return Preview(result.reports[step_id], None)
    left = {b.key for b in result.bodies}
    replaces = {b.step for b in before if b.key not in left} | {step_id}
    mesh = as_one([b.shown() if b.places is None else repeated(b.shown(), b.places) for b in fresh])
    return Preview(result.reports[step_id], mesh, sorted(replaces))
