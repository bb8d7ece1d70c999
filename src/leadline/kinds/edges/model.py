"""What edges as a path take in."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from leadline.core.marks import Refers
from leadline.core.sketch.model import Id, Model
from leadline.recipe.inputs import BaseStep


class EdgeRef(Model):
    """An edge of an earlier sweep, extrusion or revolved body, by its name (the two faces that meet there)."""

    step: Annotated[Id, Refers("body")]
    edge: Annotated[str, Field(max_length=400)]


class EdgesStep(BaseStep):
    """Edges of bodies put end to end as a path; with ``tangent`` all edges that go on smoothly from them as well."""

    kind: Literal["edges"] = "edges"
    edges: Annotated[list[EdgeRef], Field(min_length=1, max_length=200)]
    tangent: bool = True
