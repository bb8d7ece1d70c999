"""What an open editor asks between builds: solve or drag one sketch, preview one step. No kernel."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass
from functools import wraps
from typing import Any, Concatenate, Literal, ParamSpec, TypeVar

import numpy as np
from pydantic import TypeAdapter, ValidationError

from leadline.core.geometry.mesh import DisplayMesh, repeated
from leadline.core.geometry.plane import Array
from leadline.core.problems import Message, Problem, unexpected
from leadline.core.recipe.build import Memory, build
from leadline.core.recipe.imaging import images
from leadline.core.recipe.models import Part, SketchStep, Step
from leadline.core.recipe.path_steps import HoseStep
from leadline.core.recipe.projecting import project
from leadline.core.recipe.results import Report, SweepPlan
from leadline.core.recipe.steps import hoses
from leadline.core.recipe.steps.bodies import chord_for
from leadline.core.recipe.steps.context import Context
from leadline.core.recipe.steps.sketch import external, figure, solution_data
from leadline.core.sketch.dragging import Drag
from leadline.core.sketch.edits.operations import Operation, apply
from leadline.core.sketch.model import Id, Model, Sketch
from leadline.core.sketch.solver import Solution, explain_extra, solve_sketch
from leadline.core.sketch.svg import write_svg
from leadline.core.sketch.system import External
from leadline.core.sweep.borders import named_edges, polyline
from leadline.core.sweep.grid import display_mesh
from leadline.core.units import lengths_in
from leadline.core.values import Kind, Scope, evaluate_values

P = ParamSpec("P")
T = TypeVar("T")


def _in_words(work: Callable[Concatenate[Part, P], T]) -> Callable[Concatenate[Part, P], T]:
    """Messages in the part's unit; an error that nobody foresaw becomes one too."""

    @wraps(work)
    def told(part: Part, /, *args: P.args, **more: P.kwargs) -> T:
        with lengths_in(part.units):
            try:
                return work(part, *args, **more)
            except (Problem, ValidationError, MemoryError):
                raise
            except Exception as error:
                raise unexpected(error) from error

    return told


@dataclass
class Preview:
    """The swept shape as it will be, with its lanes and messages; ``mesh`` None when it cannot be swept."""

    report: Report
    mesh: DisplayMesh | None


def _sketch_step(part: Part, step_id: str) -> SketchStep:
    for step in part.steps:
        if step.id == step_id:
            if isinstance(step, SketchStep):
                return step
            raise Problem("wrong-step", f"“{step.name}” is not a sketch.", "Open a sketch.")
    raise Problem("unknown-step", f"There is no step {step_id}.", "Reload the part.")


def _before(part: Part, step: Step | None, memory: Memory) -> Context:
    """The steps before one, or all, planned."""
    upto = len(part.steps) if step is None else part.steps.index(step)
    earlier = part.model_copy(update={"steps": part.steps[:upto], "sinker": None})
    scope = evaluate_values([(v.name, v.value) for v in part.values], part.units)
    context = Context(scope, quick=True, names={s.id: s.name for s in part.steps})
    build(earlier, memory, quick=True, products=context.products)
    return context


def _outside(part: Part, step: SketchStep, memory: Memory) -> tuple[External, list[Message]]:
    """What the sketch takes from the steps before it, and what it lost of it."""
    context = _before(part, step, memory)
    return external(context, step.sketch, context.plane(step.plane))


@_in_words
def solve_step(part: Part, step_id: str, memory: Memory, added: str | None = None) -> dict[str, Any]:
    """Solve one sketch of a part. ``added`` names a constraint or dimension that is new.

    Returns the solved sketch with its judgement; when ``added`` repeats what is there, ``decided_by`` names
    what already decides it.

    Raises:
        Problem: the sketch cannot be solved, with the limit or the set that disagrees.
    """
    step = _sketch_step(part, step_id)
    outside, lost = _outside(part, step, memory)
    solution = solve_sketch(step.sketch, outside)
    data = solution_data(solution)
    data["lost"] = [m.as_dict() for m in lost]
    data["figure"] = figure(solution)
    data["decided_by"] = []
    if added is not None and added in solution.repeated:
        data["decided_by"], _ = explain_extra(solution.sketch, added, outside)
    return data


@_in_words
def edit_step(part: Part, step_id: str, operation: dict[str, Any], memory: Memory) -> dict[str, Any]:
    """Do one edit operation on a sketch and solve the result. Numbers of the operation may be expressions.

    Raises:
        Problem: the operation does not fit what it names, or its result cannot be solved.
        ValidationError: the operation is malformed.
    """
    step = _sketch_step(part, step_id)
    scope = _before(part, step, memory).scope
    known = TypeAdapter(Operation | Project).validate_python(_evaluated(operation, scope))
    sketch = _projected(part, step, known, memory) if isinstance(known, Project) else apply(step.sketch, known)
    edited = step.model_copy(update={"sketch": sketch})
    changed = part.model_copy(update={"steps": [edited if s is step else s for s in part.steps]})
    return solve_step(changed, step_id, memory)


class Project(Model):
    """Reference geometry from an earlier step; ``replace`` names a projection to attach instead."""

    op: Literal["project"]
    source: Id
    what: Literal["point", "curve", "path", "face", "edge"]
    item: str = ""
    replace: Id | None = None


def _projected(part: Part, step: SketchStep, ask: Project, memory: Memory) -> Sketch:
    context = _before(part, step, memory)
    found = images(context, ask.source, ask.what, ask.item, context.plane(step.plane))
    return project(step.sketch, found, ask.source, ask.what, ask.item, ask.replace)


@_in_words
def projectable_edges(part: Part, step_id: str, memory: Memory) -> list[dict[str, Any]]:
    """The edges of earlier bodies: their step as ``source``, their name as ``item``, and ``lines`` on the sketch's plane.

    Raises:
        Problem: the step is no sketch, or its plane has no result.
    """
    step = _sketch_step(part, step_id)
    context = _before(part, step, memory)
    plane = context.plane(step.plane)
    return _edge_lines(context, lambda points: np.asarray(plane.to_plane(points)))


@_in_words
def body_edges(part: Part, before: str | None, memory: Memory) -> list[dict[str, Any]]:
    """The edges of the bodies of the steps before one, or of all: as ``projectable_edges``, but in space. Raises Problem for an unknown step."""
    step = next((s for s in part.steps if s.id == before), None)
    if before is not None and step is None:
        raise Problem("unknown-step", f"There is no step {before}.", "Reload the part.")
    return _edge_lines(_before(part, step, memory), lambda points: points)


def _edge_lines(context: Context, seen: Callable[[Array], Array]) -> list[dict[str, Any]]:
    return [
        {"source": source, "item": name, "lines": [np.round(seen(polyline(s)), 4).tolist() for s in strands]}
        for source, product in context.products.items() if isinstance(product, SweepPlan)
        for name, strands in named_edges(product.motion, product.regions, source).items()
    ]  # fmt: skip


NUMBERS: dict[str, Kind] = {
    "size": "length", "distance": "length", "dx": "length", "dy": "length", "tolerance": "length", "angle": "angle",
    "factor": "number",
}  # fmt: skip


def _evaluated(operation: dict[str, Any], scope: Scope) -> dict[str, Any]:
    """The operation with its expressions worked out, in mm and degrees."""
    done = dict(operation)
    for name, kind in NUMBERS.items():
        if isinstance(done.get(name), str):
            value = scope.evaluate(done[name], kind, name)
            done[name] = math.degrees(value) if kind == "angle" else value
    return done


def sketch_svg(part: Part, step_id: str) -> str:
    """One sketch of a part, as it stands, as SVG. Raises Problem."""
    return write_svg(_sketch_step(part, step_id).sketch)


@_in_words
def drag_step(part: Part, step_id: str, item: str, to: tuple[float, float], memory: Memory) -> dict[str, Any]:
    """Pull a point or a circle's rim of a solved sketch; returns where everything goes. Raises Problem."""
    step = _sketch_step(part, step_id)
    outside = _outside(part, step, memory)[0]
    key = f"{step.sketch.model_dump_json()}{outside}"
    if memory.drag is None or memory.drag[0] != key:
        memory.drag = (key, Drag(step.sketch, outside))
    return solution_data(Solution(memory.drag[1].to(item, to), 0, [], []), moving=True)


@_in_words
def shortest_hose(part: Part, step_id: str, memory: Memory) -> float:
    """The length in mm of the shortest hose that keeps its least bend radius. Raises Problem."""
    step = next((s for s in part.steps if s.id == step_id), None)
    if not isinstance(step, HoseStep):
        raise Problem("unknown-step", f"There is no hose {step_id}.", "Reload the part.")
    return hoses.shortest(_before(part, step, memory), step)


@_in_words
def preview_step(part: Part, step_id: str, memory: Memory) -> Preview:
    """Plan one step and mesh its sweep straight from the motion. Raises Problem for an unknown step."""
    if all(s.id != step_id for s in part.steps):
        raise Problem("unknown-step", f"There is no step {step_id}.", "Reload the part.")
    part = part.model_copy(update={"sinker": None})
    products: dict[str, Any] = {}
    result = build(part, memory, quick=True, until=step_id, products=products)
    report = result.reports[step_id]
    plan = products.get(step_id)
    if not isinstance(plan, SweepPlan):
        return Preview(report, None)
    mesh = display_mesh(plan.motion, plan.regions, chord_for(plan), step_id)
    return Preview(report, mesh if plan.copies is None else repeated(mesh, plan.copies))
