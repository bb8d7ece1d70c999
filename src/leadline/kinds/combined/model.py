"""What putting bodies together takes in."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from leadline.core.marks import Refers
from leadline.core.sketch.model import Id
from leadline.recipe.inputs import BaseStep


class CombinedStep(BaseStep):
    """The bodies of the ``tools`` added to those of one step, cut out of them, or what they have in common with them.

    With ``keep`` the tools stay as they are as well.
    """

    kind: Literal["combined"] = "combined"
    body: Annotated[Id, Refers("body")]
    tools: Annotated[list[Annotated[Id, Refers("body")]], Field(max_length=200)] = []
    operation: Literal["add", "cut", "common"] = "add"
    keep: bool = False
