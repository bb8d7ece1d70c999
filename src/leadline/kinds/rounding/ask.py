"""What a rounding of edges answers to: which edges there are to be picked."""

from __future__ import annotations

from typing import Any

from leadline.core.solids.edging import sharp_edges
from leadline.core.solids.tessellate import edge_points
from leadline.recipe.build import Memory, build
from leadline.recipe.part import Part
from leadline.recipe.preview import in_words


@in_words
def edges_before(part: Part, step_id: str, memory: Memory) -> list[dict[str, Any]]:
    """The sharp edges of the bodies before a step: their name, the step that their first face comes from, and lines in space."""
    upto = next(i for i, s in enumerate(part.steps) if s.id == step_id)
    result = build(part.model_copy(update={"steps": part.steps[:upto], "sinker": None}), memory)
    return [
        {"source": name.split("/")[0], "item": name, "lines": [edge_points(e).round(5).tolist() for e in found]}
        for kept in result.bodies
        if kept.places is None
        for name, found in sharp_edges(kept.body).items()
    ]


QUESTIONS = {"edges": edges_before}
