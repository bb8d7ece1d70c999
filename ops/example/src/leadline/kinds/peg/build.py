"""The peg step: a straight sweep of a circle, or of a ring a tenth of its diameter thick."""

from __future__ import annotations

import numpy as np

from leadline.core.geometry.quick import ring_section, round_section
from leadline.core.paths.path import Path
from leadline.core.paths.pieces import LinePiece
from leadline.core.sweep.motion import Motion
from leadline.core.units import format_length
from leadline.kinds.peg.model import PegStep
from leadline.recipe.bodies import finish
from leadline.recipe.context import Context
from leadline.recipe.products import Product
from leadline.recipe.results import Report
from leadline.recipe.section_report import describe, swept


def build(context: Context, step: PegStep, report: Report) -> Product:
    """Raises Problem when a size cannot be worked out, or the kernel's solid is not what was planned."""
    plane = context.plane(step.plane)
    unit = context.scope.unit
    diameter, height = context.value(step.diameter), context.value(step.height)
    regions = [ring_section(diameter, diameter / 10) if step.hollow else round_section(diameter)]
    way = plane.normal * (1 if step.side == "along" else -1)
    motion = Motion(
        Path([LinePiece(plane.origin, plane.origin + height * way)], up=plane.y),
        axes=np.stack([plane.x, plane.y * (1 if step.side == "along" else -1)]),
    )
    title = describe(regions, None, unit)
    plan = swept(step.id, motion, regions, f"{title}, {format_length(height, unit)}", title)
    report.figure, report.data = plan.figure, plan.shown
    return plan if context.quick else finish(context, step, plan, report)
