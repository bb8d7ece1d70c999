"""What an open sketch asks between builds: to be solved, edited, dragged, written as SVG."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import asdict
from functools import partial
from typing import Annotated, Any, Literal

import numpy as np
from pydantic import Field, TypeAdapter

from leadline.core.problems import Message, Problem
from leadline.core.sketch.dragging import Drag
from leadline.core.sketch.edits.operations import Operation, apply
from leadline.core.sketch.model import Id, Model, Sketch
from leadline.core.sketch.names import check_names
from leadline.core.sketch.solver import explain_extra, solve_sketch
from leadline.core.sketch.svg import write_svg
from leadline.core.sketch.system import External
from leadline.core.values import Kind, Scope
from leadline.kinds.sketch.build import external, figure, moved_data, solution_data
from leadline.kinds.sketch.imaging import MOST_POINTS, Image, images
from leadline.kinds.sketch.model import SketchStep
from leadline.kinds.sketch.projecting import project
from leadline.recipe.build import Memory
from leadline.recipe.part import Part
from leadline.recipe.preview import built_before, edge_lines, in_words, planned_before
from leadline.recipe.results import as_json
from leadline.recipe.shown import Moved


def _sketch_step(part: Part, step_id: str) -> SketchStep:
    for step in part.steps:
        if step.id == step_id:
            if isinstance(step, SketchStep) and step.same_as is not None:
                raise Problem(
                    "drawn-elsewhere",
                    f"“{step.name}” shows the drawing of another sketch.",
                    "Open that one.",
                    source=step.same_as,
                )
            if isinstance(step, SketchStep):
                return step
            raise Problem("wrong-step", f"“{step.name}” is not a sketch.", "Open a sketch.")
    raise Problem("unknown-step", f"There is no step {step_id}.", "Reload the part.")


def _outside(part: Part, step: SketchStep, memory: Memory) -> tuple[External, list[Message]]:
    """What the sketch takes from the steps before it, and what it lost of it."""
    context = planned_before(part, step, memory)
    return external(context, step.sketch, context.plane(step.plane))


@in_words
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
    repeats = added is not None and added in solution.repeated
    decided_by = explain_extra(solution.sketch, added, outside)[0] if repeats and added is not None else []
    return {
        **as_json(solution_data(solution)),
        "lost": [m.as_dict(part.units) for m in lost],
        "figure": figure(solution),
        "decided_by": decided_by,
    }


@in_words
def edit_step(part: Part, step_id: str, operation: dict[str, Any], memory: Memory) -> dict[str, Any]:
    """Do one edit operation on a sketch and solve the result. Numbers of the operation may be expressions.

    Raises:
        Problem: the operation does not fit what it names, or its result cannot be solved.
        ValidationError: the operation is malformed.
    """
    step = _sketch_step(part, step_id)
    check_names(step.sketch)
    scope = planned_before(part, step, memory).scope
    known = TypeAdapter(Operation | Project).validate_python(_evaluated(operation, scope))
    sketch = _projected(part, step, known, memory) if isinstance(known, Project) else apply(step.sketch, known)
    edited = step.model_copy(update={"sketch": sketch})
    changed = part.model_copy(update={"steps": [edited if s is step else s for s in part.steps]})
    return solve_step(changed, step_id, memory)


class Projected(Model):
    """What is projected: a point or a curve of a step's sketch, its whole path, or a face or an edge of its body."""

    source: Id
    what: Literal["point", "curve", "path", "face", "edge"]
    item: Annotated[str, Field(max_length=400)] = ""


class ImageTold(Model):
    """An ``Image`` that was worked out before."""

    kind: Literal["point", "line", "arc", "circle", "ellipse", "control_spline", "spline"]
    points: Annotated[list[tuple[float, float]], Field(max_length=2 * MOST_POINTS)]
    radius: float | None = None
    knots: Annotated[list[float], Field(max_length=MOST_POINTS)] | None = None
    handles: tuple[bool, bool] = (False, False)

    def image(self) -> Image:
        return Image(self.kind, [np.array(p) for p in self.points], self.radius, self.knots, self.handles)


class Project(Projected):
    """Reference geometry from an earlier step; ``replace`` names a projection to attach instead.

    Where only the body that is built can tell what it looks like, ``images`` say it, as ``built_images`` tells them.
    """

    op: Literal["project"]
    replace: Id | None = None
    images: Annotated[list[ImageTold], Field(max_length=MOST_POINTS)] | None = None


def _projected(part: Part, step: SketchStep, ask: Project, memory: Memory) -> Sketch:
    if ask.images is not None:
        found = [told.image() for told in ask.images]
    else:
        context = planned_before(part, step, memory)
        found = images(context, ask.source, ask.what, ask.item, context.plane(step.plane))
    return project(step.sketch, found, ask.source, ask.what, ask.item, ask.replace)


@in_words
def built_images(part: Part, step_id: str, memory: Memory, asked: dict[str, Any]) -> list[dict[str, Any]]:
    """What something looks like from a sketch's plane, all bodies before it built: an edge that a boolean or a rounding
    has made, for example.

    Raises:
        Problem: the step is no sketch, or there is nothing of that name to be seen.
        ValidationError: what is asked for is malformed.
    """
    step, wanted = _sketch_step(part, step_id), Projected.model_validate(asked)
    context = built_before(part, step, memory)
    found = images(context, wanted.source, wanted.what, wanted.item, context.plane(step.plane))
    return [{**asdict(image), "points": [p.tolist() for p in image.points]} for image in found]


@in_words
def projectable_edges(part: Part, step_id: str, memory: Memory) -> list[dict[str, Any]]:
    """The edges of earlier bodies: their step as ``source``, their name as ``item``, and ``lines`` on the sketch's
    plane.

    Raises:
        Problem: the step is no sketch, or its plane has no result.
    """
    step = _sketch_step(part, step_id)
    context = planned_before(part, step, memory)
    plane = context.plane(step.plane)
    return edge_lines(context, lambda points: np.asarray(plane.to_plane(points)))


NUMBERS: dict[str, Kind] = {
    "size": "length",
    "distance": "length",
    "dx": "length",
    "dy": "length",
    "tolerance": "length",
    "angle": "angle",
    "factor": "number",
}


def _evaluated(operation: dict[str, Any], scope: Scope) -> dict[str, Any]:
    """The operation with its expressions worked out, in mm and degrees."""
    done = dict(operation)
    for name, kind in NUMBERS.items():
        if isinstance(done.get(name), str):
            value = scope.evaluate(done[name], kind, name, field=name)
            done[name] = math.degrees(value) if kind == "angle" else value
    return done


def sketch_svg(part: Part, step_id: str) -> str:
    """One sketch of a part, as it stands, as SVG. Raises Problem."""
    sketch = _sketch_step(part, step_id).sketch
    check_names(sketch)
    return write_svg(sketch)


@in_words
def begin_drag(part: Part, step_id: str, memory: Memory) -> Callable[[str, tuple[float, float]], Moved]:
    """A drag of a solved sketch.

    What it gives is asked for each place that the pointer comes to: the point or the circle that is pulled, and the
    place. Raises Problem, then too.
    """
    step = _sketch_step(part, step_id)
    drag = Drag(step.sketch, _outside(part, step, memory)[0])

    @in_words
    def pull(_: Part, item: str, to: tuple[float, float]) -> Moved:
        return moved_data(drag.to(item, to))

    return partial(pull, part)
