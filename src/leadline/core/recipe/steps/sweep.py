"""The sweep step: path and profile to a plan, the plan to a solid, the solid to the part's bodies."""

from __future__ import annotations

import math

from leadline.core.geometry.section import Region, hollow
from leadline.core.problems import Message, Problem
from leadline.core.recipe.models import SweepStep
from leadline.core.recipe.results import Product, Report, SweepPlan
from leadline.core.recipe.steps import bodies, lanes
from leadline.core.recipe.steps.context import Context
from leadline.core.sweep.fold import fold_messages, self_touch
from leadline.core.sweep.motion import Motion, place_on_path
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
    path = context.path(step.path)
    plane, drawn = context.profile(step.profile)
    home, regions = place_on_path(path, plane, drawn)
    wall = None if step.wall in (None, "", 0) else context.value(step.wall or 0, "length", "Wall")
    if wall is not None:
        regions = [hollow(r, wall) for r in regions]
    motion = Motion(path, context.value(step.twist, "turns", "Twist"), home)
    messages = _judge(motion, regions, step.build_folded, unit)
    title = describe(regions, wall, unit)
    data = lanes.along(motion, regions, wall, title)
    text = f"{title}, {format_length(path.length, unit)}"
    if motion.turns:
        text += f", {motion.turns:g} turn{'s' if abs(motion.turns) != 1 else ''}"
    return SweepPlan(motion, regions, messages, data, text)


def _judge(motion: Motion, regions: list[Region], build_folded: bool, unit: LengthUnit) -> list[Message]:
    messages: list[Message] = []
    for region in regions:
        hull = region.hull()
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
    arcs = {e.arc for e in outer.edges}
    if len(arcs) == 1 and None not in arcs:
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
