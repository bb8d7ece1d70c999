"""A thread on a cylinder as stretches of helical lines and the patches between them: numbers alone, no kernel.

The cylinder is unrolled: θ goes round it, z along its axis from one end (0) to the other (``height``). A groove is told
in the axial plane by corners (u, depth); its corner i runs along z = lead θ/2π + u_i with the depth d_i below the face.
At an end that is open the thread goes through the end's plane; at one where it fades the groove grows shallow over some
turns until its corners lie in the face.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, field, replace
from functools import cached_property
from itertools import pairwise

import numpy as np
from scipy.interpolate import make_interp_spline

from leadline.core.geometry.edges import greville
from leadline.core.geometry.plane import Array, Plane, any_square_to, cross
from leadline.core.problems import Problem
from leadline.core.trades.thread_forms import Side
from leadline.core.trades.thread_groove import Groove, Segment

TURN = 2 * math.pi
DEGREE = 5
SPAN, SPAN_RADIUS = math.radians(10), 10.0  # of the splines that follow a helix, at a radius of so many mm
LEAST_TURNS = 1.5
AXIS_DIGITS = 6  # of the direction of an axis, by which it is told which way it is looked along
APART = 1e-6  # rad, by which cuts of a line must be apart
_X, _W = np.polynomial.legendre.leggauss(8)


@dataclass(frozen=True)
class Fading:
    """The thread ends at a height z (mm) from the cylinder's start, its groove growing shallow over so many turns."""

    z: float
    turns: float


@dataclass(frozen=True)
class Thread:
    """A thread on a cylinder of a ``radius``, ``height`` long, or on a cone, whose radius grows by ``slope`` for each
    mm along it.

    ``start`` and ``end`` are None where it goes through the end's plane. θ = 0 stands at the angle ``phase`` (rad) of
    the cylinder; ``hand`` is 1 for a right-handed thread and -1 for a left-handed one. Lines of θ are cut at
    ``anchors`` and at every whole turn from them.
    """

    radius: float
    height: float
    groove: Groove
    lead: float
    side: Side
    start: Fading | None
    end: Fading | None
    hand: int = 1
    phase: float = 0.0
    anchors: tuple[float, ...] = field(default=(0.0,))
    slope: float = 0.0

    @property
    def width(self) -> float:
        """Of the groove at the face."""
        return self.groove.width

    @property
    def last(self) -> int:
        """The number of the groove's last corner."""
        return len(self.groove.corners) - 1

    def radius_at(self, z: Array) -> Array:
        """Of the face at heights z."""
        return np.asarray(self.radius + self.slope * z)

    def starts(self, u: Array) -> Array:
        """θ at which the thread begins, by the place u across its groove."""
        return np.full(np.shape(u), self.first) if self.start is not None else -TURN * np.asarray(u) / self.lead

    def ends(self, u: Array) -> Array:
        return (
            np.full(np.shape(u), self.final)
            if self.end is not None
            else TURN * (self.height - np.asarray(u)) / self.lead
        )

    @cached_property
    def first(self) -> float:
        """θ at which a thread that fades at its start begins."""
        assert self.start is not None
        return TURN * self.start.z / self.lead

    @cached_property
    def final(self) -> float:
        assert self.end is not None
        return TURN * (self.end.z - self.width) / self.lead

    def shallow(self, theta: Array) -> Array:
        """How much of its depth the groove has lost at θ, 0 to 1."""
        lost = np.zeros(np.shape(theta))
        if self.start is not None:
            lost = np.maximum(lost, 1 - (theta - self.first) / (TURN * self.start.turns))
        if self.end is not None:
            lost = np.maximum(lost, 1 - (self.final - theta) / (TURN * self.end.turns))
        return np.clip(lost, 0.0, 1.0)

    def point(self, theta: Array, u: Array, depth: Array) -> Array:
        """Places (..., 3) on the cylinder's own axes: at θ, u across the groove and so deep, before it fades."""
        theta, u, depth = np.broadcast_arrays(theta, u, depth)
        inward = 1.0 if self.side == "outside" else -1.0
        z = self.lead * theta / TURN + u
        r = self.radius_at(z) - inward * depth * (1 - self.shallow(theta))
        angle = self.hand * theta + self.phase
        return np.stack([r * np.cos(angle), r * np.sin(angle), z], axis=-1)

    def circle(self, theta: Array, z: float) -> Array:
        """Places (n, 3) on the face at a height, where θ stands there."""
        angle, r = self.hand * theta + self.phase, float(self.radius_at(np.array(z)))
        return np.stack([r * np.cos(angle), r * np.sin(angle), np.full(np.shape(theta), z)], axis=-1)

    def cuts(self, low: float, high: float) -> list[float]:
        """The cuts of lines between two θ, those not counted."""
        found = [
            a + TURN * k
            for a in self.anchors
            for k in range(math.floor((low - a) / TURN), math.ceil((high - a) / TURN) + 1)
        ]
        return sorted(v for v in found if low + APART < v < high - APART)

    def line_cuts(self, corner: int) -> list[float]:
        """θ at which a corner's line begins, is cut and ends."""
        u = np.array([self.groove.corners[corner][0]])
        low, high = float(self.starts(u)[0]), float(self.ends(u)[0])
        return [low, *self.cuts(low, high), high]

    def knots(self, a: float, b: float, turning: float | None = None) -> Array:
        """Knots of a spline over [a, b] that follows a helix which turns by so much (rad), by default b - a.

        Such a spline is off its helix by R times the sixth power of its spans: they are the shorter, the wider the
        thread is.
        """
        return _knots(
            a, b, SPAN * min(1.0, (SPAN_RADIUS / self.radius) ** (1 / 6)), abs(b - a) if turning is None else turning
        )

    def groove_volume(self) -> float:
        """What the groove takes away of an outside thread's cylinder, or an inside thread's body, mm³, by
        quadrature.
        """
        return sum(
            weight * self._around(u, depth) for segment in self.groove.segments for u, depth, weight in segment.nodes()
        )

    def _around(self, u: float, depth: float) -> float:
        """The integral of |R² - r²|/2 over θ at a place across the groove."""
        at = np.array([u])
        low, high = float(self.starts(at)[0]), float(self.ends(at)[0])
        edges = [low, *sorted(v for v in self._kinks() if low < v < high), high]
        total = 0.0
        inward = 1.0 if self.side == "outside" else -1.0
        for a, b in pairwise(edges):
            theta = (a + b) / 2 + (b - a) / 2 * _X
            d = depth * (1 - self.shallow(theta))
            total += float(_W @ (d * (2 * self.radius_at(self.lead * theta / TURN + u) - inward * d))) / 2 * (b - a) / 2
        return total

    def _kinks(self) -> list[float]:
        found = []
        if self.start is not None:
            found.append(self.first + TURN * self.start.turns)
        if self.end is not None:
            found.append(self.final - TURN * self.end.turns)
        return found

    def anchored(self, *anchors: float) -> Thread:
        """The same, cut at these θ and where its groove begins to fade, too."""
        every: list[float] = []
        for a in (*anchors, *self._kinks()):
            if all(abs(math.remainder(a - b, TURN)) > APART for b in every):
                every.append(a)
        return replace(self, anchors=tuple(every))


def thread(
    cylinder: tuple[float, float],
    side: Side,
    groove: Groove,
    pitch: float,
    start: Fading | None,
    end: Fading | None,
    left: bool = False,
    starts: int = 1,
    slope: float = 0.0,
    phase: float = 0.0,
) -> Thread:
    """A thread of a groove on a cylinder of a (radius, height), or a cone of that ``slope``.

    With several ``starts`` there are so many grooves, a ``pitch`` apart. It is turned by a ``phase`` (rad).

    Raises:
        Problem: the groove is as wide as the pitch or reaches the axis, or the thread is shorter than its run-out.
    """
    radius, height = cylinder
    if groove.width >= pitch:
        raise Problem(
            "thread-folds",
            "The groove is as wide as the pitch: its turns run into each other.",
            "Give more pitch, or less depth.",
            of="pitch",
        )
    if side == "outside" and groove.deepest[1] >= min(radius, radius + slope * height):
        raise Problem("too-deep", "The groove goes through the axis.", "Give less depth.", of="pitch")
    made = Thread(
        radius,
        height,
        groove.repeated(starts, pitch),
        starts * pitch,
        side,
        start,
        end,
        -1 if left else 1,
        phase,
        slope=slope,
    )
    low = made.first if start is not None else 0.0
    high = made.final if end is not None else TURN * height / made.lead
    fading = sum(f.turns for f in (start, end) if f is not None)
    if high - low < TURN * max(fading, LEAST_TURNS):
        raise Problem(
            "run-out-too-long",
            f"The thread has {(high - low) / TURN:.3g} turns, of which {fading:.3g} run out.",
            "Make it longer, or the run-out shorter.",
            of="length",
        )
    return made


def mating_phase(
    base: Plane, side: Side, groove: Groove, depth: float, pitch: float, starts: int, left: bool, turned: float = 0.0
) -> float:
    """The phase (rad) with which threads of one axis, pitch and hand, wherever they begin, go into each other: of a bar
    the middles of all grooves, of a hole the middles of what is left between them, are on one helix, which hangs on the
    axis alone and is ``turned`` (rad) about it: the same way from whichever end a thread begins.

    The axis is the normal of ``base``, from whose x the angles count; the middle of the ``groove`` is told at a
    ``depth`` (mm) below the face.
    """
    axis = np.round(base.normal, AXIS_DIGITS)
    way = 1.0 if axis[np.flatnonzero(axis)[0]] > 0 else -1.0  # the same helix is told from either end of the axis
    up = way * base.normal
    x = any_square_to(way * axis)
    x = x - up * float(x @ up)
    angle = math.atan2(float(base.x @ cross(up, x)), float(base.x @ x))
    height = float(base.origin @ up) + way * groove.middle(depth) - (pitch / 2 if side == "inside" else 0.0)
    hand = -1 if left else 1
    return way * (hand * TURN / (starts * pitch) * height + turned - angle)


def arc_knots(segment: Segment) -> Array:
    """Knots of a spline over [0, 1] that follows an arc of a groove."""
    return _knots(0.0, 1.0, SPAN * (SPAN_RADIUS / segment.radius) ** (1 / 6), abs(segment.turn))


def _knots(a: float, b: float, span: float, turning: float) -> Array:
    inner = np.linspace(a, b, max(2, math.ceil(turning / span)) + 1)
    return np.concatenate([np.full(DEGREE, a), inner, np.full(DEGREE, b)])


def ruled_spline(
    thread: Thread, theta: tuple[float, float], u: tuple[float, float], depth: tuple[float, float]
) -> tuple[Array, Array]:
    """Control points (n, 2, 3) and knots of the patch between two lines of a thread, straight across, from one θ to
    another.
    """
    knots = thread.knots(*theta)
    at = greville(knots, DEGREE)
    both = np.stack([thread.point(at, np.array(u[k]), np.array(depth[k])) for k in (0, 1)], axis=1)
    return make_interp_spline(at, both.reshape(len(at), 6), k=DEGREE, t=knots).c.reshape(-1, 2, 3), knots
