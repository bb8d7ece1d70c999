"""The part document: named values and an ordered list of steps.

What steps there are is said by the rooms in ``leadline.kinds``.
"""

from __future__ import annotations

from typing import TYPE_CHECKING, Annotated, Any, Literal

from pydantic import Field, model_validator

from leadline.core.expressions import MAX_NAME
from leadline.core.marks import Expr
from leadline.core.sketch.model import Id, Model
from leadline.recipe.inputs import BaseStep, Digest, Name
from leadline.recipe.materials import Material
from leadline.recipe.registry import step_union
from leadline.recipe.stock import RowRef
from leadline.recipe.upgrades import VERSION

FORMAT = "leadline-part"


Colour = Literal["reed", "sea", "brass", "madder", "ink", "chalk"]


class NamedValue(Model):
    """A number by a name. One that follows a ``row`` of a shelf has the number that was there last."""

    name: Annotated[str, Field(max_length=MAX_NAME)]
    value: Expr
    note: Annotated[str, Field(max_length=200)] = ""
    row: RowRef | None = None


class Group(Model):
    """Steps that follow each other on the cord and are shown, hidden, switched off, copied and ``folded`` as one.

    What is built does not depend on it.
    """

    id: Id
    name: Name
    steps: Annotated[list[Id], Field(min_length=1, max_length=1000)]
    folded: bool = False


if TYPE_CHECKING:
    Step = BaseStep
else:
    Step = step_union()


class Part(Model):
    """``sinker`` names the last step that is built; None builds all.

    ``colours`` of bodies by their step are for display alone. ``files`` are those that bodies come from, packed as
    ``recipe/files.py`` says; only a part file has them.
    """

    format: Literal["leadline-part"] = "leadline-part"
    version: Literal[1] = VERSION
    name: Name
    units: Literal["mm", "in"] = "mm"
    material: Material | None = None
    values: Annotated[list[NamedValue], Field(max_length=500)] = []
    steps: Annotated[list[Step], Field(max_length=1000)] = []
    sinker: Id | None = None
    groups: Annotated[list[Group], Field(max_length=200)] = []
    colours: Annotated[dict[Id, Colour], Field(max_length=1000)] = {}
    files: Annotated[dict[Digest, str], Field(max_length=200)] = {}

    @model_validator(mode="after")
    def _ids_are_distinct(self) -> Part:
        seen: set[str] = set()
        for step in self.steps:
            if step.id in seen:
                raise ValueError(f"two steps have the id {step.id}")
            seen.add(step.id)
        return self

    @model_validator(mode="after")
    def _groups_are_apart(self) -> Part:
        members = [step for group in self.groups for step in group.steps]
        if len(set(members)) < len(members):
            raise ValueError("a step is in two groups, or twice in one")
        if len({group.id for group in self.groups}) < len(self.groups):
            raise ValueError("two groups have the same id")
        return self


def part_schema() -> dict[str, Any]:
    """The JSON Schema of the part file."""
    return Part.model_json_schema()
