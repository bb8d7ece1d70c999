"""The helix step: a coil about the normal of a plane."""

from __future__ import annotations

import math

from leadline.core.paths.path import Path
from leadline.core.paths.pieces import HelixPiece
from leadline.core.problems import Problem
from leadline.core.recipe.path_steps import HelixStep
from leadline.core.recipe.results import PathProduct, Report
from leadline.core.recipe.steps.context import Context
from leadline.core.recipe.steps.routes import check_turns, told
from leadline.core.units import format_length


def build(context: Context, step: HelixStep, report: Report) -> PathProduct:
    path, pitch, turns = helix(context, step)
    unit = context.scope.unit
    radius = path.pieces[0].radius  # type: ignore[attr-defined]
    report.figure = f"Ø{format_length(2 * radius, unit)}, {turns:.4g} turns of {format_length(pitch, unit)}"
    report.data = {"path": told(path, turns)}
    return PathProduct(path)


def helix(context: Context, step: HelixStep) -> tuple[Path, float, float]:
    """The path with its pitch and turns.

    Raises:
        Problem: not just two of pitch, turns and height are given, or a size is not above zero.
    """
    given = {
        name: context.value(value, "turns" if name == "turns" else "length", name.capitalize())
        for name, value in (("pitch", step.pitch), ("turns", step.turns), ("height", step.height))
        if value not in (None, "")
    }
    if len(given) != 2:
        raise Problem(
            "two-of-three", f"A helix needs two of pitch, turns and height; {len(given)} are given.",
            "Give two and leave the third empty.", field="pitch",
        )  # fmt: skip
    radius = context.value(step.radius, "length", "Radius")
    for name, value in (("radius", radius), *given.items()):
        if value <= 0:
            raise Problem("bad-size", f"The helix's {name} is not above zero.", "Give it above zero.", field=name)
    pitch = given["pitch"] if "pitch" in given else given["height"] / given["turns"]
    turns = given["turns"] if "turns" in given else given["height"] / pitch
    check_turns(turns, "helix")
    plane = context.plane(step.plane)
    angle = context.value(step.start_angle, "angle", "Start angle")
    u = math.cos(angle) * plane.x + math.sin(angle) * plane.y
    v = -math.sin(angle) * plane.x + math.cos(angle) * plane.y
    if step.hand == "left":
        piece = HelixPiece(plane.origin, u, -v, radius, -pitch, turns, "helix")
    else:
        piece = HelixPiece(plane.origin, u, v, radius, pitch, turns, "helix")
    return Path([piece], up=plane.normal), pitch, turns
