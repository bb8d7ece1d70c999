"""What paths put end to end take in."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from leadline.core.marks import Length
from leadline.recipe.inputs import BaseStep, PathRef


class JoinedStep(BaseStep):
    """Paths of earlier steps put in order end to end; gaps up to ``tolerance`` are closed by straight pieces."""

    kind: Literal["joined"] = "joined"
    parts: Annotated[list[PathRef], Field(min_length=1, max_length=100)]
    tolerance: Annotated[Length, Field(title="Close gaps up to")] = 0.001
