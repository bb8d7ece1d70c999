"""What edges as a path take in."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from leadline.recipe.inputs import BaseStep, EdgeRef


class EdgesStep(BaseStep):
    """Edges of bodies put end to end as a path; with ``tangent`` all edges that go on smoothly from them as well."""

    kind: Literal["edges"] = "edges"
    edges: Annotated[list[EdgeRef], Field(min_length=1, max_length=200)]
    tangent: bool = True
