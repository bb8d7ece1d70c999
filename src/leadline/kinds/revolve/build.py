"""The revolve step: a profile carried round an axis in its plane, all round or by an angle."""

from __future__ import annotations

import math

import numpy as np

from leadline.core.geometry.plane import Array, Plane
from leadline.core.geometry.section import Region
from leadline.core.paths.path import Path
from leadline.core.paths.pieces import ArcPiece
from leadline.core.problems import Problem, degrees, mm
from leadline.core.sketch.model import Line
from leadline.core.sketch.outline import coordinates
from leadline.core.solids.revolved import Turn, axis_in_space, revolved, travel
from leadline.core.sweep.motion import Motion
from leadline.core.units import format_angle
from leadline.kinds.revolve.model import RevolveStep
from leadline.recipe.bodies import finish
from leadline.recipe.context import Context
from leadline.recipe.products import Product, Swept
from leadline.recipe.results import Report
from leadline.recipe.section_report import describe, swept

TOUCH = 1e-6  # mm by which a profile may be over its axis
FULL = 2 * math.pi
ROUND = 1e-9


def build(context: Context, step: RevolveStep, report: Report) -> Product:
    """Raises Problem when the axis crosses the profile or there is no angle."""
    plane, regions = context.profile(step.profile)
    turn, middle = _turn(context, step, plane, regions)
    plan = _plan(context, step, plane, regions, turn, middle)
    report.figure, report.data = plan.figure, plan.shown
    if context.quick:
        return plan
    made = lambda: revolved(plane, regions, turn, step.id, step.name)  # noqa: E731
    return finish(context, step, plan, report, made)


def _axis(context: Context, step: RevolveStep) -> tuple[Array, Array]:
    """Two points of the axis on the profile's plane, each (2,)."""
    if step.axis in ("x", "y"):
        return np.zeros(2), np.array([1.0, 0.0] if step.axis == "x" else [0.0, 1.0])
    sketch = context.sketch(step.profile.step, "profile").solution.sketch
    line = next((e for e in sketch.entities if e.id == step.axis), None)
    if not isinstance(line, Line):
        raise Problem(
            "deleted-reference",
            f"The line {step.axis} that it turns about is no longer in the sketch.",
            "Pick another line.",
            field="axis",
        )
    at = coordinates(sketch)
    return at[line.start], at[line.end]


def _turn(context: Context, step: RevolveStep, plane: Plane, regions: list[Region]) -> tuple[Turn, Array]:
    """The turn, and the middle (2,) of the profile, by area."""
    angle = FULL if step.until is not None else context.value(step.angle)
    if not 1e-6 < angle <= FULL * (1 + ROUND):
        raise Problem(
            "bad-size", f"The profile is turned by {degrees(angle)}.", "Give over 0° and up to 360°.", field="angle"
        )
    start, end = _axis(context, step)
    way = (end - start) / np.linalg.norm(end - start)
    side = np.array([-way[1], way[0]])
    heights = [float(v) for r in regions for v in (r.outer.polygon(0.001) - start) @ side]
    if min(heights) < -TOUCH and max(heights) > TOUCH:
        raise Problem(
            "crosses-axis",
            f"The profile lies on both sides of its axis: {mm(max(heights))} on one, {mm(-min(heights))} on the other.",
            "Draw it on one side, or pick another axis.",
            field="axis",
        )
    moments = np.sum([r.moments for r in regions], axis=0)
    middle = moments[1:3] / moments[0]
    point, axis = axis_in_space(plane, start, end)
    outward = plane.direction(side * math.copysign(1.0, float((middle - start) @ side)))
    about = travel(plane, axis, outward)
    if step.until is not None:
        angle = _angle_to(context.end(step.until, "until"), point, about, outward)
    return Turn(point, about, angle, angle >= FULL * (1 - ROUND)), middle


def _angle_to(goal: Plane, point: Array, axis: Array, outward: Array) -> float:
    """By how much (rad) what lies ``outward`` of an axis turns about it until it lies on a plane.

    Raises Problem when that does not hold the axis.
    """
    if abs(float(goal.normal @ axis)) > ROUND or abs(float(goal.height(point))) > TOUCH:
        raise Problem(
            "not-through-axis",
            "Where it is to end does not go through the axis that the profile turns about.",
            "Pick a plane or face that does, or give an angle.",
            field="until",
        )
    ahead = float(goal.normal @ np.cross(axis, outward))
    angle = math.atan2(-float(goal.normal @ outward), ahead) % math.pi
    return angle if angle > TOUCH else math.pi


def _plan(context: Context, step: RevolveStep, plane: Plane, regions: list[Region], turn: Turn, middle: Array) -> Swept:
    """The motion round the circle of the profile's middle."""
    at = plane.to_space(middle)
    foot = turn.point + turn.axis * float((at - turn.point) @ turn.axis)
    radius = float(np.linalg.norm(at - foot))
    circle = ArcPiece(foot, (at - foot) / radius, plane.normal, radius, min(turn.angle, FULL))
    motion = Motion(Path([circle], turn.full), home=0.0, axes=np.stack([plane.x, plane.y]))
    moved = [r.mapped(np.eye(2), -middle) for r in regions]
    title = describe(moved, None, context.scope.unit)
    return swept(step.id, motion, moved, f"{title}, round {format_angle(turn.angle)}", title, moving=context.moving)
