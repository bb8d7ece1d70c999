"""The thread step: a cylinder of a body found by its face, the thread that fits it, and the body with it."""

from __future__ import annotations

import math
import time
from dataclasses import replace
from typing import get_args

import numpy as np

from leadline.core.problems import Problem, mm
from leadline.core.solids.bevel import bevelled
from leadline.core.solids.body import Body
from leadline.core.solids.cylinder import Cylinder, cylinder_at
from leadline.core.solids.threading import threaded
from leadline.core.trades.thread_choice import chosen
from leadline.core.trades.thread_forms import Form, sizes, tooth
from leadline.core.trades.thread_groove import drawn_groove, groove_of
from leadline.core.trades.thread_limits import ThreadLimits
from leadline.core.trades.thread_shape import Fading, Thread, thread
from leadline.core.trades.thread_told import ThreadTold, limits_of, mate_of, play_of
from leadline.core.units import format_length
from leadline.kinds.threaded.model import ThreadedStep
from leadline.kinds.threaded.result import ThreadedResult, ThreadShown
from leadline.recipe.bodies import measured
from leadline.recipe.context import Context
from leadline.recipe.products import BodyProduct, KeptBody, Product, ThreadPlan
from leadline.recipe.results import Report
from leadline.recipe.shown import Vec3
from leadline.recipe.titles import face_title

LINE_STEP = math.radians(12)  # between points of a line of a thread that is drawn only
MOST_CHAMFER = 0.5  # of a face's radius and of its length
VOLUME = 1e-5  # of what the thread takes, by which the solid may differ from it


def build(context: Context, step: ThreadedStep, report: Report) -> Product:
    """Raises Problem when the face is no full cylinder, or the thread does not fit it."""
    if context.quick:
        return Product()
    began = time.perf_counter()
    home = _home(context, step)
    cylinder = cylinder_at(home.body, step.face.face, step.flipped)
    shape, told = _thread(context, step, cylinder)
    body = home.body
    lines: list[list[Vec3]] = []
    if step.real:
        body, took = _cut(step, home.body, shape)
        told = replace(told, took=took)
        body = _bevelled(context, step, cylinder, shape, body)
    else:
        lines = _lines(cylinder, shape)
    context.kernel_seconds += time.perf_counter() - began
    after = list(context.bodies)
    if step.real:
        changed = home.changed(f"{report.key}-0", body)
        after[next(i for i, k in enumerate(after) if k is home)] = changed
    report.figure = f"{told.title(context.scope.unit)}, {format_length(told.length, context.scope.unit)}{'' if step.real else ', drawn only'}"
    report.data = ThreadedResult(result=measured([body]), thread=_shown(context, told, step.real, lines))
    return BodyProduct(ThreadPlan(told), after, False)


def _home(context: Context, step: ThreadedStep) -> KeptBody:
    found = [k for k in context.bodies if k.places is None and not k.body.sheet and step.face.face in k.body.face_names]
    if not found:
        raise Problem(
            "deleted-reference", f"The {face_title(step.face.face, context.names)} is no longer there.", "Pick a round face.",
            field="face", source=step.face.step, lost=step.face.face,
        )  # fmt: skip
    return found[0]


def _thread(context: Context, step: ThreadedStep, cylinder: Cylinder) -> tuple[Thread, ThreadTold]:
    diameter = 2 * cylinder.radius
    size, pitch = (None if v in (None, "") else context.value(v or 0, "length", n) for v, n in ((step.size, "Size"), (step.pitch, "Pitch")))
    if pitch is not None and pitch <= 1e-3:
        raise Problem("bad-size", f"A pitch of {mm(pitch)} is none.", "Give it above zero.", field="pitch")
    known = limits = other = None
    mate = mate_of(cylinder.side, step.tolerance, step.mate)
    if step.form == "own":
        if pitch is None:
            raise Problem("no-pitch", "A groove of one's own needs its pitch.", "Give the pitch.", field="pitch")
        major = diameter
        corners = [(context.value(c.along, "length", "Along"), context.value(c.deep, "length", "Depth")) for c in step.own]
        if len(corners) < 3:
            raise Problem("bad-tooth", "The groove has fewer than three corners.", "Give two on the face and one or more below it.", field="own")
        groove = drawn_groove(corners, pitch)
    else:
        assert step.form in get_args(Form)
        major, pitch = chosen(step.form, cylinder.side, diameter, size, pitch)
        known = sizes(step.form, major, pitch)
        limits = limits_of(step.form, cylinder.side, major, pitch, step.tolerance)
        other = _mate_limits(cylinder, step.form, major, pitch, mate)
        play = 0.0 if step.made == "basic" else play_of(step.form, cylinder.side, major, pitch, limits)
        groove = groove_of(tooth(step.form, cylinder.side, major, pitch, cylinder.radius, play, step.rounded), cylinder.side)
    start, end = _ends(context, step, cylinder)
    shape = thread((cylinder.radius, cylinder.height), cylinder.side, groove, pitch, start, end, step.hand == "left", step.starts)
    length = (cylinder.height if end is None else end.z) - (0.0 if start is None else start.z)
    return shape, ThreadTold(
        step.form, cylinder.side, major, pitch, step.starts, step.hand == "left", step.tolerance, diameter, groove.deepest[1], length / shape.lead, length,
        shape.groove_volume(), known, limits, context.value(step.friction, "number", "Friction"),
        (context.value(step.bolt_strength, "number", "Strength"), context.value(step.nut_strength, "number", "Strength")), mate, other,
    )  # fmt: skip


def _mate_limits(cylinder: Cylinder, form: str, major: float, pitch: float, mate: str) -> ThreadLimits | None:
    """The limits of the thread on the other part. Raises Problem."""
    try:
        return limits_of(form, "inside" if cylinder.side == "outside" else "outside", major, pitch, mate)
    except Problem as problem:
        raise problem.after("", field="mate") from None


def _ends(context: Context, step: ThreadedStep, cylinder: Cylinder) -> tuple[Fading | None, Fading | None]:
    offset, length = (None if v in (None, "") else context.value(v or 0, "length", n) for v, n in ((step.offset, "Offset"), (step.length, "Length")))
    turns = context.value(step.run_out, "turns", "Run-out")
    if turns < 0.1:
        raise Problem("bad-size", "A run-out is a tenth of a turn at least.", "Give more.", field="run_out")
    first = 0.0 if offset is None else offset
    if first < 0:
        raise Problem("bad-size", "The thread begins before its face.", "Give an offset of nought or more.", field="offset")
    last = cylinder.height if length is None else first + length
    if last > cylinder.height - 1e-6 and length is not None:
        raise Problem("too-long", f"The thread would end at {mm(last)}, the face at {mm(cylinder.height)}.", "Make it shorter, or let it go through the end.", field="length")
    return (None if offset is None else Fading(first, turns)), (None if length is None else Fading(last, turns))


def _cut(step: ThreadedStep, body: Body, shape: Thread) -> tuple[Body, float]:
    """The body with the thread, checked by its volume, and how much that took (mm³). Raises Problem."""
    made, took = threaded(body, step.face.face, shape, step.id, step.flipped)
    if not made.valid() or abs(body.volume() - made.volume() - took) > VOLUME * took + 1e-7 * body.volume():
        raise Problem("kernel", "The thread did not become a sound solid.", "Change a size slightly, or let it be drawn only.", field="face")
    return made, took


def _bevelled(context: Context, step: ThreadedStep, cylinder: Cylinder, shape: Thread, body: Body) -> Body:
    size = context.value(step.chamfer, "length", "Chamfer")
    if not 0 <= size <= MOST_CHAMFER * min(cylinder.radius, cylinder.height):
        raise Problem("bad-size", f"A chamfer of {mm(size)} is none on a face of Ø{mm(2 * cylinder.radius)}, {mm(cylinder.height)} long.", "Give nought, or a few tenths of a pitch and more.", field="chamfer")
    for at_end, through in ((False, step.offset in (None, "")), (True, step.length in (None, ""))):
        if size > 0 and through:
            body = bevelled(body, cylinder, shape, at_end, size, step.id)
    return body


def _lines(cylinder: Cylinder, shape: Thread) -> list[list[Vec3]]:
    """Crest and deepest place of the groove as lines in space."""
    axes = np.stack([cylinder.base.x, cylinder.base.y, cylinder.base.normal])
    found = []
    for u, depth in (shape.groove.corners[0], shape.groove.deepest):
        at = np.array(u)
        begin, end = float(shape.starts(at)), float(shape.ends(at))
        theta = np.linspace(begin, end, max(2, math.ceil((end - begin) / LINE_STEP)) + 1)
        places = cylinder.base.origin + shape.point(theta, at, np.array(depth)) @ axes
        found.append([(float(x), float(y), float(z)) for x, y, z in places.round(4)])
    return found


def _shown(context: Context, told: ThreadTold, real: bool, lines: list[list[Vec3]]) -> ThreadShown:
    minor = told.face_diameter - 2 * told.groove_depth if told.side == "outside" else told.face_diameter
    return {
        "title": told.title(context.scope.unit), "side": told.side, "major": told.major, "pitch": told.pitch, "lead": told.lead,
        "pitch_diameter": told.mean_diameter, "minor": minor, "turns": told.length / told.lead, "length": told.length, "took": told.took if real else 0.0, "mate": told.mate, "clearance": told.clearance,
        "real": real, "lines": lines,
    }  # fmt: skip
