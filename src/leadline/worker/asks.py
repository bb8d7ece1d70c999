"""What follows a hand, as the web process and the processes of editors tell it to each other."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import Field, TypeAdapter

from leadline.core.sketch.model import Id, Model, Number

FEWEST_POINTS, MOST_POINTS = 1000, 10_000  # of the mesh of a preview while a hand moves
NEEDED = "document"  # instead of an answer: the document of that name is not here

Answer = tuple[bytes, bytes | None, float]  # JSON, a mesh as GLB, and the ms that it took


def by_id(changed: list[Any]) -> dict[str, Any]:
    """Changed steps of a document by their ids; what is none is left out."""
    return {s["id"]: s for s in changed if isinstance(s, dict) and isinstance(s.get("id"), str)}


class DragAsk(Model):
    """Where a sketch goes when a point or a circle of it is pulled to a place."""

    question: Literal["drag"]
    step: Id
    item: Id
    to: tuple[Number, Number]


class PreviewAsk(Model):
    """What a step would be like; while something is ``moving`` as coarsely as it takes to be quick, with a mesh of at most about so many
    ``points``: whoever asks knows how long the last answer took on its way.
    """

    question: Literal["preview"]
    step: Id
    moving: bool = False
    points: Annotated[int, Field(ge=FEWEST_POINTS, le=MOST_POINTS)] = MOST_POINTS


BUILT = "built"
"""The question what a step would be like that only the kernel can tell: processes that build answer it, see ``leadline.recipe.built_preview``."""

ASKS: TypeAdapter[DragAsk | PreviewAsk] = TypeAdapter(DragAsk | PreviewAsk)
