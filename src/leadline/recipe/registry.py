"""The kinds of step that there are: one room for each under ``leadline.kinds``, found by its folder.

A room holds ``model.py`` (what the step takes in), ``build.py`` (a function ``build``), perhaps ``ask.py`` (what it
answers to), and in its ``__init__.py`` a ``KIND`` that says what else the recipe has to know. ``leadline.recipe.rooms``
loads builders when they are first asked for: they bring the numerics and the kernel, which a process that only reads
documents does not need.
"""

from __future__ import annotations

import importlib
import pkgutil
import typing
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from functools import cache, cached_property
from typing import Annotated, Any, Literal, Union

from pydantic import Field

from leadline.recipe import fields
from leadline.recipe.inputs import BaseStep
from leadline.recipe.shown import Shown

Gives = Literal["drawing", "plane", "path", "body", "copies", "change", "nothing"]


def _never(_: Any) -> bool:
    return False


def _no_step(_: Any) -> str | None:
    return None


@dataclass(frozen=True)
class StepKind:
    """What the recipe knows of a kind of step, beside what stands in its model's fields.

    Attributes:
        gives: What others may use it as. Of a "body" the solids are kept in the store; a "change" is one of the bodies
            before it.
        result: The type of what views are told of its steps.
        reads_bodies: Whether, as a step stands, its result depends on the bodies before it.
        plans_by_bodies: Whether, as a step stands, what is planned of it depends on them as well.
        reads_motions: It looks among what was swept before it, whether it refers to that or not.
        carried: The fields whose sources go along where the step is built again at another place.
        rebuilds: The fields whose steps it builds again, so that it sees what those refer to as well.
        quantities: The fields in which quantities stand that the numerics have other names for: what is wrong with one
            is told there.
        stands_with: The step, if there is one, whose bodies are meant as well where the bodies of a step as it stands
            are taken: the first of a row, which stays what it is.
    """

    model: type[BaseStep]
    gives: Gives
    result: type[Shown] = Shown
    reads_bodies: Callable[[Any], bool] = _never
    plans_by_bodies: Callable[[Any], bool] = _never
    reads_motions: bool = False
    carried: tuple[str, ...] = ()
    rebuilds: tuple[str, ...] = ()
    quantities: Mapping[str, str] = field(default_factory=dict, hash=False)
    stands_with: Callable[[Any], str | None] = _no_step

    @property
    def makes_bodies(self) -> bool:
        return self.gives == "body"

    @property
    def needs_kernel(self) -> bool:
        """Whether a quick build, which stops before the kernel, gives less of it."""
        return self.gives in ("body", "copies", "change", "nothing")

    @cached_property
    def name(self) -> str:
        """Its name in documents."""
        return str(typing.get_args(self.model.model_fields["kind"].annotation)[0])

    @property
    def room(self) -> str:
        """The package that its model is in."""
        return self.model.__module__.rpartition(".")[0]


@cache
def kinds() -> Mapping[str, StepKind]:
    """All kinds by name, in alphabetical order."""
    rooms = importlib.import_module("leadline.kinds")
    found = [
        importlib.import_module(f"leadline.kinds.{room.name}").KIND for room in pkgutil.iter_modules(rooms.__path__)
    ]
    return {kind.name: kind for kind in sorted(found, key=lambda kind: kind.name)}


def kind_of(step: BaseStep) -> StepKind:
    return kinds()[step.kind]


def references(step: BaseStep) -> list[tuple[str, str]]:
    """The steps that a step refers to, as (field, step id), in the order of its fields."""
    return fields.references(step)


def step_union() -> Any:
    """The type of a step in a document: a model for each kind, told apart by ``kind``."""
    return Annotated[Union[tuple(kind.model for kind in kinds().values())], Field(discriminator="kind")]  # noqa: UP007


@cache
def described_kinds() -> dict[str, Any]:
    """For whoever walks over documents without the models: of each kind what it ``gives``, its ``title`` and its
    ``fields``, as JSON.
    """
    own = set(BaseStep.model_fields)
    return {
        kind.name: {
            "gives": kind.gives,
            "title": fields.summary_of(kind.model) or kind.name,
            "fields": {name: field for name, field in fields.described(kind.model).items() if name not in own},
        }
        for kind in kinds().values()
    }
