"""Where a thread's lines are cut: at corners of the circles in which its cylinder ends, which are made where the thread
fades.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import replace

from leadline.core.solids.body import Body
from leadline.core.solids.round_face import Arc, RoundFace, with_corner
from leadline.core.trades.thread_shape import APART, TURN, Thread

BESIDE = 1e-4  # rad: corners of a circle that are nearer to each other are none that the kernel tells apart safely


def anchored(thread: Thread, round_face: RoundFace) -> Thread:
    """A thread whose lines are cut where it fades, which is at corners of the ends' circles, and at the corners
    opposite to them.
    """
    low, high = round_face.ends
    anchors = []
    if thread.end is not None:
        anchors += [thread.final, opposite(thread, thread.final - TURN, high)]
    if thread.start is not None:
        anchors += [thread.first, opposite(thread, thread.first, low)]
    return thread.anchored(*(anchors or [0.0]))


def snapped(thread: Thread, round_face: RoundFace) -> Thread:
    """A thread that fades at corners which the ends' circles have, where these are next to it already: turned, and its
    start moved, by less than a thousandth of a turn's rise.
    """
    low, high = round_face.ends
    if thread.end is not None:
        thread = replace(thread, phase=thread.phase + thread.hand * beside(thread, thread.final, high))
    if thread.start is not None:
        off = beside(thread, thread.first, low)
        if thread.end is None:
            return replace(thread, phase=thread.phase + thread.hand * off)
        return replace(thread, start=replace(thread.start, z=thread.start.z + off * thread.lead / TURN))
    return thread


def beside(thread: Thread, theta: float, arcs: Sequence[Arc]) -> float:
    """From a θ to the corner of a circle that is right beside it (rad); nought where there is none."""
    off = min((math.remainder(v - theta, TURN) for v in _thetas(thread, arcs)), key=abs)
    return off if abs(off) < BESIDE else 0.0


def with_corners(body: Body, thread: Thread, at: Callable[[Body], RoundFace]) -> Body:
    """The body with a corner of each end's circle where a thread fades there; ``at`` gives the round face of a body."""
    for k, theta in (
        (0, thread.first if thread.start is not None else None),
        (1, thread.final if thread.end is not None else None),
    ):
        if theta is not None:
            body = with_corner(body, at(body), k, thread.hand * theta + thread.phase)
    return body


def opposite(thread: Thread, first: float, arcs: Sequence[Arc]) -> float:
    """θ of the corner of an end's circle that cuts a shoulder, which begins at a θ, most nearly in halves."""
    found = [first + (t - first) % TURN for t in _thetas(thread, arcs)]
    return min((t for t in found if APART < t - first < TURN - APART), key=lambda t: abs(t - first - math.pi))


def _thetas(thread: Thread, arcs: Sequence[Arc]) -> list[float]:
    return [(a.angles[0] - thread.phase) * thread.hand for a in arcs]
