"""The sweep step: path and profile to a plan, the plan to a solid, the solid to the part's bodies."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np

from leadline.core.geometry.plane import Array, Plane
from leadline.core.problems import Problem, mm
from leadline.core.solids.trimming import EndCut
from leadline.core.sweep.fold import outline_crossings
from leadline.core.sweep.motion import EDGE_ON, Motion
from leadline.core.units import format_length
from leadline.kinds.sweep.model import SweepStep
from leadline.kinds.sweep.remedies import with_smaller_section
from leadline.kinds.sweep.sweeping import resolve
from leadline.recipe.bodies import finish
from leadline.recipe.context import Context
from leadline.recipe.judging import judge, refuse_errors
from leadline.recipe.products import Product, Swept
from leadline.recipe.results import Report
from leadline.recipe.section_report import describe, swept


def build(context: Context, step: SweepStep, report: Report) -> Product:
    sweep_plan = plan(context, step)
    report.figure, report.data, report.messages = sweep_plan.figure, sweep_plan.shown, list(sweep_plan.messages)
    if context.quick:
        return sweep_plan
    refuse_errors(sweep_plan.messages)
    return finish(context, step, sweep_plan, report, cuts=_cuts(context, step, sweep_plan), folded=step.build_folded)


ALONG = 1e-6  # under this, a path runs along a plane


def plan(context: Context, step: SweepStep) -> Swept:
    """Everything that is known before the kernel is asked. Raises Problem."""
    unit = context.scope.unit
    sweeping = resolve(context, step)
    motion, regions = sweeping.motion, sweeping.regions
    crossings = outline_crossings(motion, regions)
    if not crossings:
        _refuse_edge_on(motion, step, context.moving)
    title = describe(regions, sweeping.wall, unit)
    messages = (
        sweeping.notes
        + crossings
        + with_smaller_section(context, step, judge(motion, regions, step.build_folded, context.moving))
    )
    text = f"{title}, {format_length(motion.length, unit)}"
    if abs(motion.turns) > 1e-9:
        text += f", {motion.turns:.4g} turn{'s' if abs(motion.turns) != 1 else ''}"
    copies = context.starts(step.path)
    if copies is not None:
        text += f", {len(copies)} starts"
    found = swept(step.id, motion, regions, text, title, sweeping.wall, messages, copies, context.moving)
    return replace(found, trimmed=step.cut_start is not None or step.cut_end is not None)


def _refuse_edge_on(motion: Motion, step: SweepStep, moving: bool) -> None:
    """The section's plane may not come near to holding the path."""
    s, frames = motion.rough() if moving else (found := motion.path.samples(), motion.frames(found))
    tilt = np.degrees(np.arcsin(np.clip(frames.steepness, -1, 1)))
    i = int(np.argmin(tilt))
    if tilt[i] >= math.degrees(EDGE_ON):
        return
    station = float(s[i])
    way_out = (
        "Choose turning with the path, or another direction."
        if step.orientation == "held"
        else "Draw the profile more nearly square to the path."
    )
    raise Problem(
        "edge-on",
        (
            f"At {mm(station)} the path runs along the section's plane ({tilt[i]:.3g}° to it), so the section "
            "is dragged edge-on."
        ),
        way_out,
        station=station,
        field="orientation",
    )


def _cuts(context: Context, step: SweepStep, plan: Swept) -> list[EndCut]:
    """The ends that a step cuts off by planes."""
    path, stations = plan.motion.path, np.array([0.0, plan.motion.length])
    points, outward = path.point(stations), path.tangent(stations) * [[-1.0], [1.0]]
    reach = math.hypot(*plan.extent)
    found = []
    for k, (end, reference) in enumerate((("start", step.cut_start), ("end", step.cut_end))):
        if reference is not None:
            plane = context.plane(reference)
            found.append(
                EndCut(plane, _side_of_end(plane, points[k], outward[k], reach), f"{step.id}/cap/{end}", f"cut_{end}")
            )
    return found


def _side_of_end(plane: Plane, end: Array, outward: Array, reach: float) -> Array:
    """A point on the side of a plane that goes with an end of the path: the end itself, or, where the section reaches
    through the plane there, a point on the way out (a spring's end is ground by a plane just beside its line's end).
    """
    near = abs(float(plane.height(end))) < reach and abs(float(plane.normal @ outward)) > ALONG
    return np.asarray(plane.to_space(plane.to_plane(end)) + outward if near else end)
