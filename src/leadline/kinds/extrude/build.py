"""The extrude step: a sweep along the straight line through the profile's plane."""

from __future__ import annotations

import numpy as np

from leadline.core.paths.path import Path
from leadline.core.paths.pieces import LinePiece
from leadline.core.problems import Problem, mm
from leadline.core.sweep.motion import Motion
from leadline.core.units import format_length
from leadline.kinds.extrude.model import ExtrudeStep
from leadline.recipe.bodies import finish
from leadline.recipe.context import Context
from leadline.recipe.products import Product, Swept
from leadline.recipe.results import Report
from leadline.recipe.section_report import describe, swept


def build(context: Context, step: ExtrudeStep, report: Report) -> Product:
    extrude_plan = plan(context, step)
    report.figure, report.data = extrude_plan.figure, extrude_plan.shown
    if context.quick:
        return extrude_plan
    return finish(context, step, extrude_plan, report)


def plan(context: Context, step: ExtrudeStep) -> Swept:
    """The motion along the normal. Raises Problem when there is no length."""
    plane, regions = context.profile(step.profile, step.surface)
    unit = context.scope.unit
    forward = context.value(step.length, "length", "Length")
    back = context.value(step.back, "length", "Length behind")
    if forward < 0 or back < 0 or forward + back < 1e-6:
        raise Problem(
            "bad-size", f"The extrusion is {mm(forward + back)} long.", "Give lengths above zero.",
            field="length",
        )  # fmt: skip
    start = plane.origin - back * plane.normal
    line = LinePiece(start, plane.origin + forward * plane.normal)
    motion = Motion(Path([line], up=plane.y), home=back, axes=np.stack([plane.x, plane.y]))
    title = describe(regions, None, unit)
    text = f"{title}, {format_length(forward + back, unit)}"
    return swept(step.id, motion, regions, text, title, moving=context.moving)
