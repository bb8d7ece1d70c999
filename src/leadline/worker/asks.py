"""What follows a hand, as the web process and the processes of editors tell it to each other."""

from __future__ import annotations

import json
from typing import Annotated, Any, Literal, NamedTuple

from pydantic import Field, TypeAdapter

from leadline.core.problems import Problem
from leadline.core.sketch.model import Id, Model, Number

FEWEST_POINTS, MOST_POINTS = 1000, 10_000  # of the mesh of a preview while a hand moves
NEEDED = "document"  # instead of an answer: the document of that name is not here

AT_MOST = "at-most-"  # before a number of triangles: a mesh that has no more
# before how often a mm is halved, "x" and a number of triangles: a mesh so near to the surface, as far as so many
# suffice
CHORD = "chord-"

Answer = tuple[bytes, bytes | None, float]  # JSON, a mesh as GLB, and the ms that it took


def kept_mesh(key: str, fineness: str) -> str | None:
    """Under which key the mesh of a body is kept, if one so fine is."""
    if fineness == "normal":
        return f"{key}/mesh"
    return f"{key}/mesh/{fineness}" if fineness.startswith((AT_MOST, CHORD)) else None


class Built(NamedTuple):
    """What a build came to, as JSON, and whether there are bodies."""

    text: bytes
    has_bodies: bool


class Head(NamedTuple):
    """What is known of a line's message before it is worked on: whether it shows a document; else the number and the
    slot of an ask, as they were sent, whether only the kernel can answer it, and then of which step it is.
    """

    shows: bool
    ask: Any
    slot: Any
    built: bool
    step: Any


def changed_in(ask: dict[str, Any]) -> list[Any]:
    """The changed steps that come with an ask. Raises Problem when it is no list of them."""
    changed = ask.get("changed", [])
    if not isinstance(changed, list):
        raise Problem("bad-field", "The changed steps are no list.", "Send them as a list.", field="changed")
    return changed


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
    """What a step would be like; while something is ``moving`` as coarsely as it takes to be quick, with a mesh of at
    most about so many ``points``: whoever asks knows how long the last answer took on its way.
    """

    question: Literal["preview"]
    step: Id
    moving: bool = False
    points: Annotated[int, Field(ge=FEWEST_POINTS, le=MOST_POINTS)] = MOST_POINTS


BUILT = "built"
"""The question what a step would be like that only the kernel can tell: processes that build answer it, see
``leadline.recipe.built_preview``.
"""

ASKS: TypeAdapter[DragAsk | PreviewAsk] = TypeAdapter(DragAsk | PreviewAsk)


def head_of(message: bytes) -> Head | None:
    """What the web process has to know of a message; None where it is none of a line."""
    try:
        said = json.loads(message)
    except (ValueError, RecursionError):
        return None
    if not isinstance(said, dict) or not said.keys() & {"part", "ask", "slot"}:
        return None
    given = said.get("given")
    built = given.get("step") if isinstance(given, dict) and given.get("question") == BUILT else None
    return Head(
        "part" in said,
        said.get("ask"),
        said.get("slot"),
        isinstance(given, dict) and given.get("question") == BUILT,
        built,
    )


def shown_part(message: bytes) -> object:
    """The document of a message that shows one. Raises Problem when there was none yet (``b""``)."""
    if not message:
        raise Problem("no-document", "No part is shown on this line yet.", "Show one, then ask about it.")
    return json.loads(message)["part"]
