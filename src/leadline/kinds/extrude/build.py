"""The extrude step: a sweep along the straight line through the profile's plane."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from leadline.core.geometry.plane import Plane
from leadline.core.geometry.section import Region
from leadline.core.paths.path import Path
from leadline.core.paths.pieces import LinePiece
from leadline.core.problems import Problem, mm
from leadline.core.solids.body import Body, corners_of
from leadline.core.solids.kernel import compound
from leadline.core.solids.splitting import split
from leadline.core.solids.trimming import EndCut
from leadline.core.sweep.motion import Motion
from leadline.core.units import format_angle, format_length
from leadline.kinds.extrude.model import ExtrudeStep, UntilAll, UntilSide
from leadline.kinds.extrude.tapered import tapered
from leadline.recipe.bodies import finish
from leadline.recipe.context import Context
from leadline.recipe.inputs import FaceRef
from leadline.recipe.products import Product, Swept
from leadline.recipe.results import Report
from leadline.recipe.section_report import describe, swept
from leadline.recipe.titles import face_title

FLAT = 1e-9  # under this sine, an end lies square to the extrusion, or along it
FINE = 1e-3  # of the profile's size, the chord at which its outlines are looked at
BEYOND = 0.05  # of the way, by which the body goes on behind a slanted plane before it is cut off


@dataclass(frozen=True)
class _Reach:
    """How far an extrusion goes, ``forward`` and ``back`` of the profile's plane, and what cuts off its end, if
    anything does: a plane, or the faces of a ``side``.
    """

    forward: float
    back: float
    cut: EndCut | None = None
    side: Body | None = None


def build(context: Context, step: ExtrudeStep, report: Report) -> Product:
    plane, regions = context.profile(step.profile, step.surface)
    reach = _reach(context, step, plane, regions)
    taper = context.value(step.taper)
    extrude_plan = (
        _plan(context, step.id, plane, regions, reach)
        if abs(taper) < FLAT
        else _leaning(context, step, plane, regions, reach, taper)
    )
    report.figure, report.data = extrude_plan.figure, extrude_plan.shown
    if context.quick:
        return extrude_plan
    side = reach.side
    shorten = None if side is None else lambda body: _up_to(body, side, step)
    return finish(context, step, extrude_plan, report, cuts=[] if reach.cut is None else [reach.cut], shorten=shorten)


def _up_to(body: Body, side: Body, step: ExtrudeStep) -> Body:
    """What of an extrusion lies between its profile and a face.

    Raises Problem when the face does not go right through it.
    """
    start, end = f"{step.id}/cap/start", f"{step.id}/cap/end"
    try:
        kept = [p.body for p in split(body, side) if start in p.body.face_names and end not in p.body.face_names]
    except Problem as problem:
        if problem.message.code != "does-not-split":
            raise
        kept = []
    if len(kept) != 1:
        raise Problem(
            "side-misses",
            "The face does not go right through the extrusion.",
            "Pick a face that the whole profile meets, or make it larger.",
            field="until",
        )
    return Body(body.name, kept[0].shape, kept[0].face_names)


def _plan(context: Context, owner: str, plane: Plane, regions: list[Region], reach: _Reach) -> Swept:
    """The motion along the normal. Raises Problem when there is no length."""
    unit = context.scope.unit
    forward, back = reach.forward, reach.back
    if forward + back < 1e-6:
        raise Problem(
            "bad-size",
            f"The extrusion is {mm(forward + back)} long.",
            "Give lengths above zero.",
            field="length",
        )
    start = plane.origin - back * plane.normal
    line = LinePiece(start, plane.origin + forward * plane.normal)
    motion = Motion(Path([line], up=plane.y), home=back, axes=np.stack([plane.x, plane.y]))
    title = describe(regions, None, unit)
    text = f"{title}, {format_length(forward + back, unit)}"
    return swept(owner, motion, regions, text, title, moving=context.moving)


def _leaning(
    context: Context, step: ExtrudeStep, plane: Plane, regions: list[Region], reach: _Reach, taper: float
) -> Swept:
    """The plan of an extrusion whose sides lean. Raises Problem."""
    unit = context.scope.unit
    if reach.back > FLAT or reach.cut is not None or isinstance(step.until, UntilSide) or reach.forward < FLAT:
        raise Problem(
            "taper-ahead",
            "Sides lean on an extrusion that goes straight ahead from its profile to a level end.",
            "Take the taper or the length behind away.",
            field="taper",
        )
    motion, region = tapered(plane, regions, reach.forward, taper)
    title = describe(regions, None, unit)
    text = f"{title}, {format_length(reach.forward, unit)}, {format_angle(taper)} taper"
    return swept(step.id, motion, [region], text, title, moving=context.moving)


def _reach(context: Context, step: ExtrudeStep, plane: Plane, regions: Sequence[Region]) -> _Reach:
    """Raises Problem when a length is under zero, or the profile does not lie wholly on one side of where it is
    to end.
    """
    forward = context.value(step.length) if step.until is None else 0.0
    back = context.value(step.back)
    if forward < 0 or back < 0:
        raise Problem(
            "bad-size", f"The extrusion is {mm(forward + back)} long.", "Give lengths above zero.", field="length"
        )
    if step.until is None:
        return _Reach(forward, back)
    if isinstance(step.until, UntilAll):
        return _Reach(_through(context, step, plane), back)
    if isinstance(step.until, UntilSide):
        return _to_side(context, step, step.until.face, plane, back)
    return _until(
        step.id,
        plane,
        regions,
        context.end(step.until, "until"),
        context.value(step.until.short),
        back,
    )


def _through(context: Context, step: ExtrudeStep, plane: Plane) -> float:
    """How far it is through all bodies; before they are built, as far as its length.

    Raises Problem when none lies ahead.
    """
    if context.quick and not context.bodies:
        return context.value(step.length)
    ahead = max((float(plane.height(corners_of(*kept.box())).max()) for kept in context.bodies), default=0.0)
    if ahead <= 1e-6:
        raise Problem(
            "nothing-ahead",
            "No body lies ahead of the profile for it to go through.",
            "Move the profile behind one, or give a length.",
            field="until",
        )
    return float(
        f"{ahead * (1 + BEYOND):.3g}"
    )  # the kernel's boxes differ in the last digits from one process to the next


def _to_side(context: Context, step: ExtrudeStep, face: FaceRef, plane: Plane, back: float) -> _Reach:
    """As far as any of a face is, which is then cut off along the face; before the bodies are built, as far as its
    length.

    Raises Problem.
    """
    if context.quick and not context.bodies:
        return _Reach(context.value(step.length), back)
    found = [f for kept in context.bodies if kept.places is None for f in kept.body.face_of(face.face)]
    if not found:
        raise Problem(
            "deleted-reference",
            f"The {face_title(face.face, context.names)} is no longer there.",
            "Pick another face.",
            field="until",
            source=face.step,
            lost=face.face,
        )
    side = Body("side", compound(found), [f"{step.id}/cut"] * len(found))
    ahead = float(plane.height(corners_of(*side.box())).max())
    if ahead <= 1e-6:
        raise Problem(
            "nothing-ahead",
            "The face does not lie ahead of the profile.",
            "Pick a face that the extrusion runs towards.",
            field="until",
        )
    return _Reach(float(f"{ahead * (1 + BEYOND):.3g}"), back, side=side)


def _until(owner: str, plane: Plane, regions: Sequence[Region], target: Plane, short: float, back: float) -> _Reach:
    """How far the profile goes until it has come wholly to a plane, which may lie behind it."""
    slope = float(target.normal @ plane.normal)
    if abs(slope) < FLAT:
        raise Problem(
            "never-there",
            "The extrusion runs along the plane that it is to end at.",
            "Pick a plane that it meets.",
            field="until",
        )
    outlines = [loop for r in regions for loop in r.loops]
    size = max(float(np.ptp(loop.polygon(1.0), axis=0).max()) for loop in outlines)
    corners = plane.to_space(np.vstack([loop.polygon(FINE * size) for loop in outlines]))
    ways = -target.height(corners) / slope
    if ways.min() < 1e-9 < ways.max() or np.abs(ways).max() < 1e-6:
        raise Problem(
            "across-its-end",
            "The profile lies on both sides of where the extrusion is to end, or right there.",
            "Move the profile, or pick another plane.",
            field="until",
        )
    ahead = bool(ways.min() > 0)
    sign = 1.0 if ahead else -1.0
    near, far = float(np.abs(ways).min()) - short, float(np.abs(ways).max()) - short
    if near <= 1e-6:
        raise Problem(
            "bad-size",
            f"It is {mm(near + short)} to where the extrusion ends, which is no more than it is to stay short.",
            "Stay less short of it.",
            field="until",
        )
    level = abs(slope) > 1 - FLAT
    length = far if level else far * (1 + BEYOND)
    cut = None
    if not level:
        last = corners[np.argmax(np.abs(ways))] + sign * length * plane.normal
        goal = Plane(target.origin - sign * short * plane.normal, target.x, target.y)
        cut = EndCut(goal, last, f"{owner}/cap/{'end' if ahead else 'start'}", "until")
    return _Reach(length, back, cut) if ahead else _Reach(back, length, cut)
