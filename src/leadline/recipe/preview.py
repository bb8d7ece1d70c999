"""What an open editor asks between builds: a step planned and meshed, the edges of bodies. No kernel."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from functools import wraps
from typing import Any, Concatenate, ParamSpec, TypeVar

import numpy as np
from pydantic import ValidationError

from leadline.core.geometry.mesh import MOST_TRIANGLES, DisplayMesh, repeated
from leadline.core.geometry.plane import Array
from leadline.core.problems import Problem, told_in, unexpected
from leadline.core.sweep.borders import polyline
from leadline.core.sweep.grid import ROUGH_POINTS, display_mesh, rough_mesh
from leadline.recipe.build import Memory, build
from leadline.recipe.combining import together
from leadline.recipe.context import Context, Names
from leadline.recipe.inputs import BaseStep
from leadline.recipe.motion_mesh import chord_for
from leadline.recipe.names import scope_of
from leadline.recipe.part import Part
from leadline.recipe.products import HasEdges, Product, Swept
from leadline.recipe.results import Report

P = ParamSpec("P")
T = TypeVar("T")


def in_words(work: Callable[Concatenate[Part, P], T]) -> Callable[Concatenate[Part, P], T]:
    """Problems are to be told in the part's unit; an error that nobody foresaw becomes one too."""

    @wraps(work)
    def told(part: Part, /, *args: P.args, **more: P.kwargs) -> T:
        try:
            with told_in(part.units):
                return work(part, *args, **more)
        except (Problem, ValidationError, MemoryError):
            raise
        except Exception as error:
            raise unexpected(error) from error

    return told


@dataclass
class Preview:
    """The swept shape as it will be, with its lanes and messages; ``mesh`` None when it cannot be swept.

    Where it is put together with bodies before it, the mesh is of all that comes of them, and ``replaces`` names the
    steps that had them.
    """

    report: Report
    mesh: DisplayMesh | None
    replaces: list[str] = field(default_factory=list)


def planned_before(part: Part, step: BaseStep | None, memory: Memory) -> Context:
    """The steps before one, or all, planned."""
    return _before(part, step, memory, quick=True)


def built_before(part: Part, step: BaseStep, memory: Memory) -> Context:
    """The steps before one, built."""
    return _before(part, step, memory, quick=False)


def _before(part: Part, step: BaseStep | None, memory: Memory, quick: bool) -> Context:
    upto = len(part.steps) if step is None else part.steps.index(step)
    earlier = part.model_copy(update={"steps": part.steps[:upto], "sinker": None})
    scope = scope_of(part)
    context = Context(scope, quick=quick, names=Names({s.id: s.name for s in part.steps}))
    build(earlier, memory, quick=quick, products=context.products)
    return context


@in_words
def preview_step(part: Part, step_id: str, memory: Memory, moving: bool = False, points: int = ROUGH_POINTS) -> Preview:
    """Plan one step and mesh its sweep straight from the motion; while something is ``moving`` no finer than takes a
    moment, with about so many ``points`` at most.

    Raises Problem for an unknown step.
    """
    if all(s.id != step_id for s in part.steps):
        raise Problem("unknown-step", f"There is no step {step_id}.", "Reload the part.")
    part = part.model_copy(update={"sinker": None})
    products: dict[str, Product] = {}
    result = build(part, memory, quick=True, until=step_id, products=products, moving=moving)
    report = result.reports[step_id]
    plan = products.get(step_id)
    if not isinstance(plan, Swept):
        return Preview(report, None)
    mesh = (
        rough_mesh(plan.motion, plan.regions, step_id, points)
        if moving
        else display_mesh(plan.motion, plan.regions, chord_for(plan), step_id, MOST_TRIANGLES)
    )
    if plan.copies is not None:
        mesh = repeated(mesh, plan.copies)
    step = next(s for s in part.steps if s.id == step_id)
    whole = together(part, step, mesh, products, result.reports, memory.meshed)
    return Preview(report, mesh) if whole is None else Preview(report, whole.mesh, whole.replaces)


@in_words
def body_edges(part: Part, before: str | None, memory: Memory) -> list[dict[str, Any]]:
    """The edges of the bodies of the steps before one, or of all: as ``projectable_edges``, but in space.

    Raises Problem for an unknown step.
    """
    step = next((s for s in part.steps if s.id == before), None)
    if before is not None and step is None:
        raise Problem("unknown-step", f"There is no step {before}.", "Reload the part.")
    return edge_lines(planned_before(part, step, memory), lambda points: points)


def edge_lines(context: Context, seen: Callable[[Array], Array]) -> list[dict[str, Any]]:
    return [
        {"source": source, "item": name, "lines": [np.round(seen(polyline(s)), 4).tolist() for s in strands]}
        for source, product in context.products.items()
        if (known := product.give(HasEdges)) is not None
        for name, strands in known.edges().items()
    ]
