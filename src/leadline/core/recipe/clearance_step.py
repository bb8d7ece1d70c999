"""The step that measures how far a path stays from bodies."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from leadline.core.recipe.inputs import BaseStep, PathRef
from leadline.core.sketch.model import Expr, Id


class ClearanceStep(BaseStep):
    """How far a sweep, or a round tube of a ``diameter`` about a path, stays from other bodies; it makes nothing.

    The ``obstacles`` are the bodies of these earlier steps, or without any all bodies before this step but the tube's own. ``least``
    is what is asked for; ``skip_start`` and ``skip_end`` are lengths at the ends that may touch, where a fitting holds it.
    """

    kind: Literal["clearance"] = "clearance"
    path: PathRef
    diameter: Expr | None = None
    obstacles: Annotated[list[Id], Field(max_length=200)] = []
    least: Expr = 0.0
    skip_start: Expr = 0.0
    skip_end: Expr = 0.0


def clearance_references(step: ClearanceStep) -> list[tuple[str, str]]:
    """The steps that it uses, as (field, step id)."""
    return list(dict.fromkeys([("path", step.path.step), *(("obstacles", o) for o in step.obstacles)]))
