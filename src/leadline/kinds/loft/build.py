"""The loft step: sections on planes to a motion that goes through them, the motion to a solid."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import replace
from typing import cast

import numpy as np

from leadline.core.geometry.plane import Plane
from leadline.core.geometry.section import Region
from leadline.core.loft.leads import Sides, sides_at
from leadline.core.loft.lofted import Lofted, Station, lofted
from leadline.core.loft.shares import LEAST_STRENGTH, MOST_STRENGTH, End
from leadline.core.problems import Problem, Remedy
from leadline.core.sweep.fold import outline_crossings
from leadline.core.units import format_length
from leadline.kinds.loft.model import DrawnSection, LoftEnd, LoftStep, QuickSection, Section
from leadline.kinds.loft.result import LoftResult
from leadline.recipe.bodies import finish
from leadline.recipe.context import Context
from leadline.recipe.inputs import FaceRef, ProfileRef
from leadline.recipe.judging import judge, refuse_errors
from leadline.recipe.products import Product, Swept
from leadline.recipe.results import Report
from leadline.recipe.section_report import swept
from leadline.recipe.sections import blended_regions, quick_region, wall_of, walled

CAPS = {"cap/start": "start", "cap/end": "end"}


def build(context: Context, step: LoftStep, report: Report) -> Product:
    loft_plan = plan(context, step)
    report.figure, report.data, report.messages = loft_plan.figure, loft_plan.shown, list(loft_plan.messages)
    if context.quick:
        return loft_plan
    refuse_errors(loft_plan.messages)
    return finish(context, step, loft_plan, report, folded=step.build_folded)


def plan(context: Context, step: LoftStep) -> Swept:
    """Everything that is known before the kernel is asked. Raises Problem."""
    unit = context.scope.unit
    wall = wall_of(context, step.wall)
    sections = [_station(context, step, section, i, wall) for i, section in enumerate(step.sections)]
    try:
        made = lofted(
            sections,
            _end(context, step.start, "start"),
            _end(context, step.end, "end"),
            None if step.centreline is None else context.path(step.centreline, "centreline"),
            [
                (f"The rail “{context.names.get(r.path.step, r.path.step)}”", context.path(r.path, "rails"))
                for r in step.rails
            ],
            _threads(context, step),
            step.closed,
            (_sides(context, step, 0), _sides(context, step, -1)),
            step.section_change,
        )
    except Problem as problem:
        raise problem.mended(*_ways_out(problem)) from None
    region = replace(made.region, sheet=(step.surface and wall is None) or made.region.outer.open)
    messages = outline_crossings(made.motion, [region]) + judge(
        made.motion, [region], step.build_folded, context.moving
    )
    title = f"{len(sections)} sections"
    found = swept(
        step.id,
        made.motion,
        [region],
        f"{title}, {format_length(made.motion.length, unit)}",
        title,
        wall,
        messages,
        moving=context.moving,
    )
    return replace(found, shown=_shown(found, made, step))


def _ways_out(problem: Problem) -> list[Remedy]:
    """What else the fields of a loft may say, where a ruled shape cannot be as they ask for it."""
    if problem.message.code == "ruled-end":
        free = {problem.message.place["of"]: {"how": "free", "strength": 1.0}}
        return [Remedy("Leave the end free", free), Remedy("Go over smoothly", {"section_change": "smooth"})]
    if problem.message.code == "ruled-centreline":
        return [Remedy("Go over evenly", {"section_change": "even"})]
    return []


def _shown(found: Swept, made: Lofted, step: LoftStep) -> LoftResult:
    more = {
        "rings": made.rings.round(6).tolist(),
        "lines": made.lines.round(6).tolist(),
        "threads": made.threads.round(6).tolist(),
        "shares": made.shares.round(6).tolist(),
        "stations": made.stations.tolist(),
        "on_rails": len(step.rails),
    }
    return cast(LoftResult, {**found.shown, **more})


def _end(context: Context, end: LoftEnd, field: str) -> End:
    strength = context.value(end.strength)
    if not LEAST_STRENGTH <= strength <= MOST_STRENGTH:
        raise Problem(
            "bad-size",
            f"The strength {strength:g} cannot be built.",
            f"Give {LEAST_STRENGTH:g} to {MOST_STRENGTH:g}; 1 is plain.",
            field=field,
        )
    return End(end.how != "free", strength)


def _sides(context: Context, step: LoftStep, which: int) -> Sides | None:
    """How the body goes on behind the first (0) or the last (-1) section, if the shape is to be tangent to it.

    Raises Problem.
    """
    field = "end" if which else "start"
    end, section = (step.end if which else step.start), (step.sections[which] if step.sections else None)
    if end.how != "tangent" or section is None or step.closed:
        return None
    face = section.profile if isinstance(section, DrawnSection) and isinstance(section.profile, FaceRef) else None
    known = None if face is None else CAPS.get(face.face.removeprefix(f"{face.step}/"))
    remedy = Remedy("Let it leave square to it", {field: {"how": "square", "strength": end.strength}})
    if face is None or known is None:
        raise Problem(
            "tangent-to-nothing",
            "The section is not the end of a body, so that there is nothing to be tangent to.",
            "Pick an end face, or let it leave square.",
            field=field,
        ).mended(remedy)
    source = context.motion(face.step, "sections")
    try:
        return sides_at(source.motion, list(source.regions), known == "end")
    except Problem as problem:
        raise problem.after("", field=field).mended(remedy) from None


def _threads(context: Context, step: LoftStep) -> Sequence[Sequence[float]]:
    found = []
    for thread in step.threads:
        if len(thread.shares) != len(step.sections):
            raise Problem(
                "thread-short",
                f"A thread has {len(thread.shares)} places, the loft {len(step.sections)} sections.",
                "Take the thread away, or draw it again.",
                field="threads",
            )
        found.append([context.value(v) for v in thread.shares])
    return found


def _station(context: Context, step: LoftStep, section: Section, i: int, wall: float | None) -> Station:
    if isinstance(section, DrawnSection):
        name, plane, region = _drawn(context, step, section.profile)
    elif isinstance(section, QuickSection):
        name, plane, region = f"section {i + 1}", _turned(context, section), quick_region(context, section.profile)
    else:
        return Station(
            f"section {i + 1}", None, None, context.drawn_point(section.point.step, section.point.point, "sections")
        )
    return Station(name, plane, region if wall is None else walled(region, wall, step.wall_side))


def _drawn(context: Context, step: LoftStep, profile: ProfileRef | FaceRef) -> tuple[str, Plane, Region]:
    name = f"“{context.names.get(profile.step, profile.step)}”"
    plane, regions = blended_regions(context, profile, step.surface)
    if len(regions) != 1:
        what = "outlines" if any(r.outer.open for r in regions) else "regions"
        raise Problem(
            "one-region",
            f"{name} has {len(regions)} {what}; a section of a loft is one.",
            "Pick one of them.",
            field="sections",
            source=profile.step,
        )
    return name, plane, regions[0]


def _turned(context: Context, section: QuickSection) -> Plane:
    plane = context.plane(section.plane)
    x, y = (context.value(v) for v in (section.x, section.y))
    turn = context.value(section.turn)
    c, s = math.cos(turn), math.sin(turn)
    return Plane(plane.to_space(np.array([x, y])), c * plane.x + s * plane.y, -s * plane.x + c * plane.y)
