"""What a part would be like after a step that adds, cuts or keeps in common, by mesh booleans: a moment where the
kernel takes seconds.
"""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any

import manifold3d

from leadline.core.geometry.mesh import MOST_TRIANGLES, DisplayMesh, repeated
from leadline.core.geometry.mesh_booleans import Operation, as_manifold, combined, shown
from leadline.core.sweep.grid import display_mesh
from leadline.recipe.inputs import BaseStep
from leadline.recipe.motion_mesh import chord_for
from leadline.recipe.part import Part
from leadline.recipe.products import Product, Swept
from leadline.recipe.registry import kind_of
from leadline.recipe.results import Report

COARSER = 3.0  # times the fineness of what is built
KEPT = 12  # states of parts that are remembered


@dataclass
class MeshStates:
    """Bodies as meshes after steps of parts, by the keys of all steps up to there; the oldest go first."""

    states: OrderedDict[tuple[str, ...], list[_Solid] | None] = field(default_factory=OrderedDict)

    def get(self, key: tuple[str, ...]) -> list[_Solid] | None:
        self.states.move_to_end(key)
        return self.states[key]

    def put(self, key: tuple[str, ...], solids: list[_Solid] | None) -> None:
        self.states[key] = solids
        while len(self.states) > KEPT:
            self.states.popitem(last=False)


@dataclass(frozen=True)
class _Solid:
    """A body as a mesh, and the steps that have made it."""

    steps: frozenset[str]
    mesh: manifold3d.Manifold


@dataclass(frozen=True)
class Together:
    """Bodies after a step as one mesh, and the steps whose bodies it stands for."""

    mesh: DisplayMesh
    replaces: list[str]


def together(
    part: Part,
    step: BaseStep,
    tool: DisplayMesh,
    products: Mapping[str, Product],
    reports: Mapping[str, Report],
    states: MeshStates,
) -> Together | None:
    """The bodies that a step changes with its ``tool`` combined with them; None where it changes none, or meshes cannot
    tell.

    ``products`` and ``reports`` are of a quick build up to the step.
    """
    operation = getattr(step, "result", "separate")
    own = as_manifold(tool) if operation in ("add", "cut", "common") else None
    if own is None:
        return None
    before = _state(part.steps[: part.steps.index(step)], products, reports, states)
    if before is None:
        return None
    met = [s for s in before if not combined(s.mesh, own, "common").is_empty()]
    if not met:
        return None
    after = _with(met, own, step.id, operation)
    replaces = sorted({name for s in met for name in s.steps} | {step.id})
    whole = manifold3d.Manifold.compose([s.mesh for s in after]) if len(after) > 1 else after[0].mesh
    return None if whole.is_empty() else Together(shown(whole, step.id), replaces)


def _state(
    steps: list[Any], products: Mapping[str, Product], reports: Mapping[str, Report], states: MeshStates
) -> list[_Solid] | None:
    """All bodies after steps; None when one of them is known by its solid alone, or does not close."""
    making = [
        s for s in steps if kind_of(s).needs_kernel and kind_of(s).gives != "nothing" and reports[s.id].state == "fresh"
    ]
    if not making:
        return []
    key = tuple(reports[s.id].key for s in making)
    if key in states.states:
        return states.get(key)
    before = _state(steps[: steps.index(making[-1])], products, reports, states)
    solids = None if before is None else _after(before, making[-1], products[making[-1].id])
    states.put(key, solids)
    return solids


def _after(before: list[_Solid], step: BaseStep, plan: Product) -> list[_Solid] | None:
    if not isinstance(plan, Swept) or any(r.sheet for r in plan.regions):
        return None
    mesh = display_mesh(plan.motion, plan.regions, COARSER * chord_for(plan), step.id, MOST_TRIANGLES)
    own = as_manifold(mesh if plan.copies is None else repeated(mesh, plan.copies))
    return None if own is None else _with(before, own, step.id, getattr(step, "result", "separate"))


def _with(before: list[_Solid], own: manifold3d.Manifold, step: str, operation: Operation | str) -> list[_Solid]:
    if operation not in ("add", "cut", "common"):
        return [*before, _Solid(frozenset([step]), own)]
    met = [s for s in before if not combined(s.mesh, own, "common").is_empty()]
    rest = [s for s in before if s not in met]
    if operation == "add":
        for solid in met:
            own = combined(own, solid.mesh, "add")
        return [*rest, _Solid(frozenset([step]).union(*(s.steps for s in met)), own)]
    return [
        *rest,
        *(_Solid(s.steps | {step}, combined(s.mesh, own, "cut" if operation == "cut" else "common")) for s in met),
    ]
