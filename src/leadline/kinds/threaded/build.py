"""The thread step: a cylinder of a body found by its face, the thread that fits it, and the body with it."""

from __future__ import annotations

import math
import time
from dataclasses import dataclass, replace
from typing import get_args

import numpy as np

from leadline.core.geometry.dimensions import Dimension, Span
from leadline.core.geometry.plane import plane_on
from leadline.core.problems import Problem, mm
from leadline.core.solids.body import Body
from leadline.core.solids.round_face import RoundFace, round_face_at
from leadline.core.solids.thread_ends import bevelled, relieved
from leadline.core.solids.threading import threaded
from leadline.core.trades.thread_choice import chosen, taper_chosen
from leadline.core.trades.thread_forms import PIPE_DEPTH, TAPER, Form, ThreadSizes, sizes, tooth
from leadline.core.trades.thread_groove import Groove, drawn_groove, groove_of, typed_groove
from leadline.core.trades.thread_limits import ThreadLimits
from leadline.core.trades.thread_shape import Fading, Thread, mating_phase, thread
from leadline.core.trades.thread_told import ThreadTold, limits_of, mate_of, off_class, play_of
from leadline.core.units import format_length
from leadline.kinds.threaded.model import ThreadedStep
from leadline.kinds.threaded.result import ThreadedResult, ThreadShown
from leadline.recipe.bodies import measured
from leadline.recipe.context import Context
from leadline.recipe.kept_body import KeptBody
from leadline.recipe.products import BodyProduct, Product, ThreadPlan
from leadline.recipe.results import Report
from leadline.recipe.shown import Vec3
from leadline.recipe.titles import face_title

LINE_STEP = math.radians(12)  # between points of a line of a thread that is drawn only
MOST_CHAMFER = 0.5  # of a face's radius and of its length
# of the pitch, by which a relief groove is deeper than the thread where nothing else is said; DIN 76-1 has so much of
# M10
RELIEF_BELOW = 0.15
TAPER_OFF = 0.01  # of a taper pipe thread's slope, by which its face may differ
VOLUME = 1e-5  # of what the thread takes, by which the solid may differ from it


@dataclass(frozen=True)
class _Form:
    """What a thread is to be like, wherever it begins and ends."""

    groove: Groove
    major: float
    pitch: float
    sizes: ThreadSizes | None
    limits: ThreadLimits | None
    mate: str
    mate_limits: ThreadLimits | None


def build(context: Context, step: ThreadedStep, report: Report) -> Product:
    """Raises Problem when the face is no full cylinder, or the thread does not fit it."""
    _check(context, step)
    if context.quick:
        return Product()
    began = time.perf_counter()
    home = _home(context, step)
    body, round_face = home.body, round_face_at(home.body, step.face.face, step.flipped)
    form = _form(context, step, round_face)
    relief = step.real and step.relief not in (0, "")
    if relief:
        body, round_face = _relieved(context, step, body, round_face, form)
    shape = _shape(context, step, round_face, form, relief)
    told = _told(context, step, round_face, form, shape)
    said = off_class(told)
    report.messages = [] if said is None else [said]
    lines: list[list[Vec3]] = []
    if step.real:
        body, took = _cut(step, body, round_face, shape)
        told = replace(told, took=took)
        body = _bevelled(context, step, round_face, shape, body)
    else:
        lines = _lines(round_face, shape)
    context.kernel_seconds += time.perf_counter() - began
    after = list(context.bodies)
    if step.real:
        changed = home.changed(f"{report.key}-0", body)
        after[next(i for i, k in enumerate(after) if k is home)] = changed
    report.figure = (
        f"{told.title(context.scope.unit)}, "
        f"{format_length(told.length, context.scope.unit)}{'' if step.real else ', drawn only'}"
    )
    report.data = ThreadedResult(result=measured([body]), thread=_shown(context, told, step.real, lines))
    return BodyProduct(ThreadPlan(told, _drawn(context, told, round_face, shape)), after, False)


def _check(context: Context, step: ThreadedStep) -> None:
    """Raises Problem where a number is none, whether it is needed as the step stands or not."""
    for quantity in (
        step.friction,
        step.bolt_strength,
        step.nut_strength,
        step.chamfer,
        step.relief,
        step.relief_depth,
    ):
        context.given(quantity)


def _home(context: Context, step: ThreadedStep) -> KeptBody:
    found = [k for k in context.bodies if k.places is None and not k.body.sheet and step.face.face in k.body.face_names]
    if not found:
        raise Problem(
            "deleted-reference",
            f"The {face_title(step.face.face, context.names)} is no longer there.",
            "Pick a round face.",
            field="face",
            source=step.face.step,
            lost=step.face.face,
        )
    return found[0]


def _form(context: Context, step: ThreadedStep, round_face: RoundFace) -> _Form:
    diameter = 2 * round_face.radius
    size, pitch = context.given(step.size), context.given(step.pitch)
    if pitch is not None and pitch <= 1e-3:
        raise Problem("bad-size", f"A pitch of {mm(pitch)} is none.", "Give it above zero.", field="pitch")
    mate = mate_of(step.form, round_face.side, step.tolerance, step.mate)
    if step.form == "own":
        if pitch is None:
            raise Problem("no-pitch", "A groove of one's own needs its pitch.", "Give the pitch.", field="pitch")
        return _Form(_own_groove(context, step, pitch), diameter, pitch, None, None, mate, None)
    assert step.form in get_args(Form)
    if step.form == "taper" and abs(abs(round_face.slope) - TAPER) > TAPER_OFF * TAPER:
        raise Problem(
            "no-taper",
            (
                f"A taper pipe thread is on a cone of 1:16; this face has {2 * abs(round_face.slope):.4g} of "
                "diameter for each mm."
            ),
            "Make the face so, or take the parallel form.",
            field="form",
        )
    local = None  # the major diameter where the face starts
    if step.form == "taper":
        wide = diameter, diameter + 2 * round_face.slope * round_face.height
        major, pitch = taper_chosen(round_face.side, wide, round_face.height, size, pitch)
        local = diameter if round_face.side == "outside" else diameter + 2 * PIPE_DEPTH * pitch
    else:
        major, pitch = chosen(step.form, round_face.side, diameter, size, pitch)
    limits = limits_of(step.form, round_face.side, major, pitch, step.tolerance)
    play = 0.0 if step.made == "basic" else play_of(step.form, round_face.side, major, pitch, limits)
    groove = groove_of(
        tooth(step.form, round_face.side, local or major, pitch, round_face.radius, play, step.rounded), round_face.side
    )
    return _Form(
        groove,
        major,
        pitch,
        sizes(step.form, major, pitch),
        limits,
        mate,
        _mate_limits(round_face, step.form, major, pitch, mate),
    )


def _shape(context: Context, step: ThreadedStep, round_face: RoundFace, form: _Form, relief: bool) -> Thread:
    start, end = _ends(context, step, round_face, relief)
    left = step.hand == "left"
    flank = (
        form.groove.deepest[1] / 2
        if form.sizes is None or step.form == "taper"
        else abs(round_face.radius - form.sizes.pitch_diameter / 2)
    )
    phase = mating_phase(
        round_face.base,
        round_face.side,
        form.groove,
        flank,
        form.pitch,
        step.starts,
        left,
        context.value(step.start_angle),
    )
    return thread(
        (round_face.radius, round_face.height),
        round_face.side,
        form.groove,
        form.pitch,
        start,
        end,
        left,
        step.starts,
        round_face.slope,
        phase,
    )


def _told(context: Context, step: ThreadedStep, round_face: RoundFace, form: _Form, shape: Thread) -> ThreadTold:
    length = (round_face.height if shape.end is None else shape.end.z) - (0.0 if shape.start is None else shape.start.z)
    return ThreadTold(
        step.form,
        round_face.side,
        form.major,
        form.pitch,
        step.starts,
        step.hand == "left",
        step.tolerance,
        2 * round_face.radius,
        form.groove.deepest[1],
        length / shape.lead,
        length,
        shape.groove_volume(),
        form.sizes,
        form.limits,
        context.value(step.friction),
        (
            context.value(step.bolt_strength),
            context.value(step.nut_strength),
        ),
        form.mate,
        form.mate_limits,
    )


def _relieved(
    context: Context, step: ThreadedStep, body: Body, round_face: RoundFace, form: _Form
) -> tuple[Body, RoundFace]:
    """The body with the groove that the thread runs out into, and the cylinder up to it. Raises Problem."""
    width, deep = context.value(step.relief), context.given(step.relief_depth)
    depth = form.groove.deepest[1] + RELIEF_BELOW * form.pitch if deep is None else deep
    length = context.given(step.length)
    if length is None:
        raise Problem(
            "no-length",
            "The relief groove stands where the thread ends, and it goes through the end.",
            "Give the thread's length.",
            field="length",
        )
    begins = (context.given(step.offset) or 0.0) + length
    if width <= 0 or begins + width > round_face.height - 1e-6:
        raise Problem(
            "too-long",
            (
                f"The relief groove would reach from {mm(begins)} to {mm(begins + width)}, the face to "
                f"{mm(round_face.height)}."
            ),
            "Give a width above zero, or a shorter thread.",
            field="relief",
        )
    if not 0 < depth < (round_face.radius + round_face.slope * begins if round_face.side == "outside" else math.inf):
        raise Problem(
            "too-deep",
            f"A relief groove {mm(depth)} deep leaves nothing of the bar.",
            "Give less depth.",
            field="relief_depth",
        )
    body = relieved(body, round_face, begins, width, depth, step.id)
    return body, round_face_at(body, step.face.face, step.flipped, round_face.base.origin)


def _own_groove(context: Context, step: ThreadedStep, pitch: float) -> Groove:
    if step.drawn is not None:
        return drawn_groove(context.path(step.drawn, "drawn"), pitch)
    return typed_groove([(context.value(c.along), context.value(c.deep)) for c in step.own], pitch)


def _mate_limits(round_face: RoundFace, form: str, major: float, pitch: float, mate: str) -> ThreadLimits | None:
    """The limits of the thread on the other part. Raises Problem."""
    try:
        return limits_of(form, "inside" if round_face.side == "outside" else "outside", major, pitch, mate)
    except Problem as problem:
        raise problem.after("", field="mate") from None


def _ends(
    context: Context, step: ThreadedStep, round_face: RoundFace, relief: bool
) -> tuple[Fading | None, Fading | None]:
    """Where the thread runs out; into a relief groove it goes on to the end of its cylinder."""
    offset, length = context.given(step.offset), None if relief else context.given(step.length)
    turns = context.value(step.run_out)
    if turns < 0.1:
        raise Problem("bad-size", "A run-out is a tenth of a turn at least.", "Give more.", field="run_out")
    first = 0.0 if offset is None else offset
    if first >= round_face.height:
        raise Problem(
            "too-long",
            f"The thread would begin at {mm(first)}, the face ends at {mm(round_face.height)}.",
            "Let it begin on its face.",
            field="offset",
        )
    if length is not None and length <= 0:
        raise Problem(
            "bad-size",
            f"A thread {mm(length)} long is none.",
            "Give a length above zero, or let it go through the end.",
            field="length",
        )
    last = round_face.height if length is None else first + length
    if last > round_face.height - 1e-6 and length is not None:
        raise Problem(
            "too-long",
            f"The thread would end at {mm(last)}, the face at {mm(round_face.height)}.",
            "Make it shorter, or let it go through the end.",
            field="length",
        )
    return (None if offset is None else Fading(first, turns)), (None if length is None else Fading(last, turns))


def _cut(step: ThreadedStep, body: Body, round_face: RoundFace, shape: Thread) -> tuple[Body, float]:
    """The body with the thread, checked by its volume, and how much that took (mm³). Raises Problem."""
    made, took = threaded(body, step.face.face, shape, step.id, step.flipped, round_face.base.origin)
    if not made.valid() or abs(body.volume() - made.volume() - took) > VOLUME * took + 1e-7 * body.volume():
        raise Problem(
            "kernel",
            "The thread did not become a sound solid.",
            "Change a size slightly, or let it be drawn only.",
            field="face",
        )
    return made, took


def _bevelled(context: Context, step: ThreadedStep, round_face: RoundFace, shape: Thread, body: Body) -> Body:
    size = context.value(step.chamfer)
    if not 0 <= size <= MOST_CHAMFER * min(round_face.radius, round_face.height):
        raise Problem(
            "bad-size",
            f"A chamfer of {mm(size)} is none on a face of Ø{mm(2 * round_face.radius)}, {mm(round_face.height)} long.",
            "Give nought, or a few tenths of a pitch and more.",
            field="chamfer",
        )
    for at_end, through in ((False, step.offset in (None, "")), (True, step.length in (None, ""))):
        if size > 0 and through:
            body = bevelled(body, round_face, shape, at_end, size, step.id)
    return body


def _lines(round_face: RoundFace, shape: Thread) -> list[list[Vec3]]:
    """Crest and deepest place of the groove as lines in space."""
    axes = np.stack([round_face.base.x, round_face.base.y, round_face.base.normal])
    found = []
    for u, depth in (shape.groove.corners[0], shape.groove.deepest):
        at = np.array(u)
        begin, end = float(shape.starts(at)), float(shape.ends(at))
        theta = np.linspace(begin, end, max(2, math.ceil((end - begin) / LINE_STEP)) + 1)
        places = round_face.base.origin + shape.point(theta, at, np.array(depth)) @ axes
        found.append([(float(x), float(y), float(z)) for x, y, z in places.round(4)])
    return found


def _drawn(context: Context, told: ThreadTold, round_face: RoundFace, shape: Thread) -> list[Dimension]:
    """How long it is, and what it is called, across it where it begins."""
    base = round_face.base
    start = base.origin + (0.0 if shape.start is None else shape.start.z) * base.normal
    across = told.face_diameter / 2 * plane_on(base.origin, base.normal).x
    return [
        Span(start + across, start + told.length * base.normal + across),
        Span(start - across, start + across, said=told.title(context.scope.unit)),
    ]


def _shown(context: Context, told: ThreadTold, real: bool, lines: list[list[Vec3]]) -> ThreadShown:
    minor = told.face_diameter - 2 * told.groove_depth if told.side == "outside" else told.face_diameter
    return {
        "title": told.title(context.scope.unit),
        "side": told.side,
        "major": told.major,
        "pitch": told.pitch,
        "lead": told.lead,
        "pitch_diameter": told.mean_diameter,
        "minor": minor,
        "turns": told.length / told.lead,
        "length": told.length,
        "took": told.took if real else 0.0,
        "mate": told.mate,
        "clearance": told.clearance,
        "real": real,
        "lines": lines,
    }
