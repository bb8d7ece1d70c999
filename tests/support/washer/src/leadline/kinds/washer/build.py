"""The washer step: a ring carried straight, as far as it is thick."""

from __future__ import annotations

from dataclasses import dataclass, fields

import numpy as np

from leadline.core.geometry.quick import ring_section
from leadline.core.paths.path import Path
from leadline.core.paths.pieces import LinePiece
from leadline.core.problems import Problem, mm
from leadline.core.sweep.motion import Motion
from leadline.core.units import format_length
from leadline.kinds.washer.model import WasherStep
from leadline.kinds.washer.result import RingShown, WasherResult
from leadline.recipe.bodies import finish
from leadline.recipe.context import Context
from leadline.recipe.products import Product, Swept
from leadline.recipe.results import Report
from leadline.recipe.section_report import describe, swept


@dataclass
class WasherPlan(Swept):
    """A washer's ring, with its sizes, mm."""

    rim: float = 0.0
    thickness: float = 0.0


def build(context: Context, step: WasherStep, report: Report) -> Product:
    """Raises Problem when a size cannot be worked out, or nothing is left beside the hole."""
    plane, unit = context.plane(step.plane), context.scope.unit
    outer, inner, thickness = (context.value(v) for v in (step.outer, step.inner, step.thickness))
    if inner >= outer:
        raise Problem(
            "hole-too-wide",
            f"A hole of {mm(inner)} leaves nothing of a washer of {mm(outer)}.",
            "Give a smaller hole.",
            field="inner",
        )
    rim = (outer - inner) / 2
    regions = [ring_section(outer, rim)]
    way = Path([LinePiece(plane.origin, plane.origin + thickness * plane.normal)], up=plane.y)
    motion = Motion(way, axes=np.stack([plane.x, plane.y]))
    title = describe(regions, None, unit)
    plain = swept(step.id, motion, regions, f"{title}, {format_length(thickness, unit)}", title)
    plan = WasherPlan(**{f.name: getattr(plain, f.name) for f in fields(Swept)}, rim=rim, thickness=thickness)
    plan.shown = WasherResult(**plan.shown, ring=RingShown(rim=rim, thickness=thickness))
    report.figure, report.data = plan.figure, plan.shown
    return plan if context.quick else finish(context, step, plan, report)
