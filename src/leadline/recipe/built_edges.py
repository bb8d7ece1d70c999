"""Which edges the bodies of a part have once they are built: those of booleans, roundings and hollows too."""

from __future__ import annotations

from typing import Any

from leadline.core.problems import Problem
from leadline.core.solids.edging import sharp_edges
from leadline.core.solids.tessellate import edge_points
from leadline.recipe.build import Memory, Store, build
from leadline.recipe.part import Part
from leadline.recipe.preview import in_words


@in_words
def built_edges(part: Part, before: str | None, memory: Memory, store: Store | None = None) -> list[dict[str, Any]]:
    """The sharp edges of the bodies before a step, or of all: their name, the step that made the later of the faces
    that meet there, and lines in space.

    Raises Problem for an unknown step.
    """
    order = [s.id for s in part.steps]
    if before is not None and before not in order:
        raise Problem("unknown-step", f"There is no step {before}.", "Reload the part.")
    upto = len(order) if before is None else order.index(before)
    result = build(part.model_copy(update={"steps": part.steps[:upto], "sinker": None}), memory, store)
    return [
        {
            "source": max(
                (face.split("/")[0] for face in name.split("&")), key=lambda s: order.index(s) if s in order else -1
            ),
            "item": name,
            "lines": [edge_points(e).round(5).tolist() for e in found],
        }
        for kept in result.bodies
        if kept.places is None
        for name, found in sharp_edges(kept.body).items()
    ]
