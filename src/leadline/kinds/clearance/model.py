"""The step that measures how far a path stays from bodies."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from leadline.core.marks import Length, Refers
from leadline.core.sketch.model import Id
from leadline.recipe.inputs import BaseStep, PathRef


class ClearanceStep(BaseStep):
    """How far a sweep, or a round tube of a ``diameter`` about a path, stays from other bodies; it makes nothing.

    The ``obstacles`` are the bodies of these earlier steps, or without any all bodies before this step but the tube's
    own. ``least`` is what is asked for; ``skip_start`` and ``skip_end`` are lengths at the ends that may touch, where a
    fitting holds it.
    """

    kind: Literal["clearance"] = "clearance"
    path: PathRef
    diameter: Annotated[Length | None, Field(title="Tube Ø")] = None
    obstacles: Annotated[list[Annotated[Id, Refers("body")]], Field(max_length=200)] = []
    least: Annotated[Length, Field(title="At least")] = 0.0
    skip_start: Annotated[Length, Field(title="Left out at start")] = 0.0
    skip_end: Annotated[Length, Field(title="Left out at end")] = 0.0
