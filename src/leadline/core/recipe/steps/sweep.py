"""The sweep step: path and profile to a plan, the plan to a solid, the solid to the part's bodies."""

from __future__ import annotations

import math
from typing import Any

import numpy as np

from leadline.core.geometry.placements import Placements
from leadline.core.geometry.section import Region
from leadline.core.problems import Message, Problem
from leadline.core.recipe.models import SweepStep
from leadline.core.recipe.results import Product, Report, SweepPlan
from leadline.core.recipe.steps import bodies, lanes
from leadline.core.recipe.steps.context import Context
from leadline.core.recipe.steps.sweeping import work_out
from leadline.core.sweep.contact import self_touch
from leadline.core.sweep.fold import fold_messages, outline_crossings, reaching
from leadline.core.sweep.motion import EDGE_ON, Motion
from leadline.core.units import LengthUnit, format_length


def build(context: Context, step: SweepStep, report: Report) -> Product:
    sweep_plan = plan(context, step)
    report.figure, report.data, report.messages = sweep_plan.figure, sweep_plan.data, sweep_plan.messages
    blocking = [m for m in sweep_plan.messages if m.level == "error"]
    if context.quick:
        return sweep_plan
    if blocking:
        raise Refused(blocking)
    return bodies.finish(context, step, sweep_plan, report)


class Refused(Problem):
    """A step is not built for reasons already in its report."""

    def __init__(self, messages: list[Message]) -> None:
        first = messages[0]
        super().__init__(first.code, first.text, first.way_out, **first.place)


def plan(context: Context, step: SweepStep) -> SweepPlan:
    """Everything that is known before the kernel is asked. Raises Problem."""
    unit = context.scope.unit
    sweeping = work_out(context, step)
    motion, regions = sweeping.motion, sweeping.regions
    crossings = outline_crossings(motion, regions, unit)
    if not crossings:
        _refuse_edge_on(motion, step)
    data = lanes.along(motion, regions, sweeping.wall, title := describe(regions, sweeping.wall, unit))
    messages = sweeping.notes + crossings + _judge(motion, regions, step.build_folded, unit)
    text = f"{title}, {format_length(motion.length, unit)}"
    if abs(motion.turns) > 1e-9:
        text += f", {motion.turns:.4g} turn{'s' if abs(motion.turns) != 1 else ''}"
    copies = context.starts(step.path)
    if copies is not None:
        text += f", {len(copies)} starts"
        data["numbers"] = of_all(data["numbers"], copies)
    return SweepPlan(motion, regions, messages, data, text, copies)


def of_all(numbers: dict[str, Any], copies: Placements) -> dict[str, Any]:
    """The numbers of one body for all of its copies together."""
    n = len(copies)
    centre = copies.moved(np.array([numbers["centre"]])).mean(axis=(0, 1))
    return {**numbers, "volume": n * numbers["volume"], "area": n * numbers["area"], "centre": centre.tolist()}


def _refuse_edge_on(motion: Motion, step: SweepStep) -> None:
    """The section's plane may not come near to holding the path."""
    s = motion.path.samples()
    tilt = np.degrees(np.arcsin(np.clip(motion.frames(s).steepness, -1, 1)))
    i = int(np.argmin(tilt))
    if tilt[i] >= math.degrees(EDGE_ON):
        return
    station = float(s[i])
    way_out = "Choose turning with the path, or another direction." if step.orientation == "held" else "Draw the profile more nearly square to the path."
    raise Problem(
        "edge-on", f"At {format_length(station)} the path runs along the section's plane ({tilt[i]:.3g}° to it), so the section is dragged edge-on.",
        way_out, station=station, field="orientation",
    )  # fmt: skip


def _judge(motion: Motion, regions: list[Region], build_folded: bool, unit: LengthUnit) -> list[Message]:
    messages: list[Message] = []
    for region in regions:
        hull = reaching(motion, region)
        found = fold_messages(motion, hull, unit)
        if build_folded:
            found = [Message("warning", m.code, m.text, m.way_out, m.place) for m in found]
        messages += found or self_touch(motion, hull, unit)
    return messages


def describe(regions: list[Region], wall: float | None, unit: LengthUnit) -> str:
    """The section in a few characters: "Ø22 × 1.5 mm", "40 × 12 mm" or its area."""
    if len(regions) > 1:
        return f"{len(regions)} regions"
    outer = regions[0].outer
    if regions[0].sheet:
        return f"surface, {format_length(regions[0].girth, unit)} wide"
    arcs = {e.arc for e in outer.edges}
    plain = not regions[0].holes or _ring_wall(regions[0], 0.0) is not None
    if len(arcs) == 1 and None not in arcs and plain:
        (circle,) = arcs
        assert circle is not None
        inner = wall if wall is not None else _ring_wall(regions[0], circle[2])
        size = f"Ø{format_length(2 * circle[2], unit)}"
        return f"{size.removesuffix(' ' + unit)} × {format_length(inner, unit)}" if inner else size
    if len(outer.edges) == 4 and all(e.straight for e in outer.edges):
        a, b = (math.dist(e.start, e.end) for e in outer.edges[:2])
        if math.isclose(a * b, abs(outer.area), rel_tol=1e-6):
            return f"{format_length(max(a, b), unit).removesuffix(' ' + unit)} × {format_length(min(a, b), unit)}"
    area = regions[0].area / (645.16 if unit == "in" else 1.0)
    return f"{area:.4g} {unit}²"


def _ring_wall(region: Region, radius: float) -> float | None:
    if len(region.holes) != 1:
        return None
    arc = region.holes[0].edges[0].arc
    return radius - arc[2] if arc is not None else None
