"""The wire of a helical spring as a path: closed ends, legs, loops; free and under load."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Literal

import numpy as np
from scipy.interpolate import PPoly

from leadline.core.geometry.plane import Array, Plane
from leadline.core.paths.path import Path
from leadline.core.paths.pieces import ArcPiece, HelixPiece, LinePiece, Piece
from leadline.core.paths.spiral import ONE_TURN, SpiralCurve, radius_over, rise_of
from leadline.core.paths.wound import WoundPiece
from leadline.core.problems import Problem, mm
from leadline.core.trades.closing import Closing, closing, seats

Loop = Literal["none", "half", "full", "side"]
Hand = Literal["right", "left"]

# of the wire: the pitch of turns that lie on each other is so much more than it, as solids that touch are none
ROOM = 0.01
RAMP = 0.5  # turns over which the pitch goes from the closed turns to the open ones
RAMP_STEPS = 8
LOADED_STEPS = 8  # on a turn, of the pitch of a spring under load
HOOK_BEND = 1.5  # times the wire: the radius with which a loop turns out of the coil
HALF, FULL, SIDE = math.pi, 1.5 * math.pi, 1.75 * math.pi


@dataclass(frozen=True)
class Coil:
    """A coil by its turns: radius as ``radius_over`` has it, and pitch by the turn u, linear between ``at`` (n,);
    ``dead`` turns at each end lie on their seats.

    ``spaced`` are turns and the pitches there that its active turns would have if they met the dead ones without a ramp
    between: by these they close.
    """

    wire: float
    turns: float
    radius: tuple[float, ...]
    at: Array
    pitch: Array
    dead: float
    spaced: tuple[Array, Array] | None = None

    @cached_property
    def rise(self) -> PPoly:
        """The wire's height over the turn."""
        return rise_of(self.turns, self.at, self.pitch)

    @property
    def height(self) -> float:
        """From the wire's middle at one end to that at the other, mm."""
        return float(self.rise(self.turns))

    def radius_at(self, u: Array) -> Array:
        return np.asarray(radius_over(self.turns, self.radius)(u))

    def pitch_at(self, u: Array) -> Array:
        return np.asarray(np.interp(u, self.at, self.pitch))

    def closing(self, free: float, shear_modulus: float, solid: float | None = None) -> Closing:
        """How its turns close under a force; ``free`` is the length that is told of the unloaded spring, ``solid`` that
        at which it is told to be solid, if not by its turns.
        """
        places, pitches = self.spaced or (self.at, self.pitch)
        return closing(
            free,
            self.turns,
            self.wire,
            shear_modulus,
            self.radius_at,
            lambda u: np.interp(u, places, pitches),
            self.dead,
            solid,
        )

    def loaded(self, closed: Closing, force: float) -> Coil:
        """The coil under a force: turns come nearer to each other, and the radius grows by as much as keeps the wire's
        length.

        Its pitch is told at some places of each turn; what it has given in all is what the cells of ``closed`` have. No
        turn comes nearer to the next one than to touch it.
        """
        settled = closed.settled(force)
        at = _apart(np.concatenate([self.at, np.linspace(0.0, self.turns, math.ceil(LOADED_STEPS * self.turns) + 1)]))
        room = (
            np.maximum(
                np.interp(closed.at, *(self.spaced or (self.at, self.pitch)))
                - seats(closed.at, self.radius_at(closed.at), self.wire),
                0.0,
            )
            * closed.share
        )
        left_open = np.maximum(1 - np.divide(settled, room, out=np.ones_like(settled), where=room > 0), 0.0)
        least = seats(at, self.radius_at(at), self.wire)
        over = np.maximum(self.pitch_at(at) - least, 0.0) * np.interp(
            at, closed.at, left_open
        )  # of the gap there, so that a ramp stays one
        left = self.height - float(settled.sum()) - float(np.trapezoid(least, at))
        whole = float(np.trapezoid(over, at))
        pitch = least + over * (max(left, 0.0) / whole if whole > 0 else 0.0)
        middles, share = (at[1:] + at[:-1]) / 2, np.diff(at)
        before = np.hypot(2 * math.pi * self.radius_at(middles), self.pitch_at(middles)) @ share
        grown = self._grown(middles, (pitch[1:] + pitch[:-1]) / 2, share, float(before))
        return Coil(self.wire, self.turns, tuple(r * grown for r in self.radius), at, pitch, self.dead)

    def _grown(self, u: Array, pitch: Array, share: Array, length: float) -> float:
        """The factor on the radius with which the wire has a length (mm), by Newton's method."""
        around = 2 * math.pi * self.radius_at(u)
        factor = 1.0
        for _ in range(20):
            each = np.hypot(factor * around, pitch)
            step = (float(each @ share) - length) / float((factor * around**2 / each) @ share)
            factor -= step
            if abs(step) < 1e-14:
                break
        return factor


def _apart(at: Array) -> Array:
    """Turns in order, those that are one but for rounding once."""
    at = np.sort(at)
    return np.asarray(at[np.concatenate([[True], np.diff(at) > ONE_TURN])])


def spread(mean: Sequence[float]) -> tuple[float, float, float]:
    """The least, the average and the greatest of a diameter (mm) that is given at both ends, or at both and in the
    middle, of even turns.
    """
    law = radius_over(1.0, mean)
    within = [u for u in law.deriv().roots().real if 0 < u < 1] if len(mean) == 3 else []
    found = [float(law(u)) for u in (0.0, 1.0, *within)]
    return min(found), float(law.integ()(1.0)), max(found)


def compression_coil(
    wire: float, mean: tuple[float, ...], active: float, end_turns: float, height: float, shares: Sequence[float] = ()
) -> Coil:
    """The coil of a compression spring: closed turns at both ends and open ones between them, ``height`` from wire
    middle to wire middle.

    The pitch of the open turns is even, or goes straight from one of two and more ``shares`` to the next, which stand
    evenly over the active turns.

    Raises:
        Problem: the free length is so short that open turns would lie closer than the closed ones.
    """
    end_turns = end_turns if end_turns > ONE_TURN else 0.0
    closed = wire * (1 + ROOM) if end_turns > 0 else 0.0
    total = active + 2 * end_turns
    tabled = shares if len(shares) > 1 else (1.0, 1.0)
    places = np.linspace(end_turns, total - end_turns, len(tabled))
    ramp = min(RAMP, active, 2 * end_turns)
    first, last = (
        (end_turns - ramp / 2, end_turns + ramp / 2),
        (total - end_turns - ramp / 2, total - end_turns + ramp / 2),
    )
    ramps = [np.linspace(*first, RAMP_STEPS + 1), np.linspace(*last, RAMP_STEPS + 1)] if end_turns > 0 else []
    at = _apart(np.concatenate([[0.0, total], places[1:-1], *ramps]))
    share = np.clip(np.minimum(at - first[0], last[1] - at) / ramp, 0.0, 1.0) if end_turns > 0 else np.ones(len(at))
    open_share = share * share * (3 - 2 * share)
    shape = np.interp(at, places, tabled)
    scale = (height - float(np.trapezoid(closed * (1 - open_share), at))) / float(np.trapezoid(shape * open_share, at))
    _refuse_closed(wire, scale * min(tabled), scale * max(tabled), total * wire * (1 + ROOM) - height)
    spaced = (height - 2 * end_turns * wire) / float(np.trapezoid(tabled, places)) * np.asarray(tabled)
    return Coil(
        wire,
        total,
        tuple(d / 2 for d in mean),
        at,
        closed + (scale * shape - closed) * open_share,
        end_turns,
        (places, spaced),
    )


def _refuse_closed(wire: float, least: float, most: float, short: float) -> None:
    """Raises Problem where the pitch of open turns is less than the wire is thick; ``short`` is by how much all of them
    together are too short.
    """
    if least >= wire * (1 + ROOM):
        return
    if most > least and short < 0:
        raise Problem(
            "pitch-too-small",
            f"At its closest the pitch is {mm(least)}, less than the wire is thick.",
            "Make the shares of the pitch more alike, or the free length longer.",
            of="pitches",
        )
    raise Problem(
        "free-too-short",
        f"The free length leaves a pitch of {mm(least)}, less than the wire is thick.",
        f"Make it {mm(max(short, 0.0))} longer at least, or take fewer turns.",
        of="free",
    )


def close_coil(wire: float, mean: float, turns: float) -> Coil:
    """Turns that lie on each other, as of an extension or a torsion spring."""
    pitch = wire * (1 + ROOM)
    return Coil(wire, turns, (mean / 2, mean / 2), np.array([0.0, turns]), np.array([pitch, pitch]), 0.0)


def wound_up(coil: Coil, angle: float) -> Coil:
    """Close turns after their ends were turned by an angle (rad) that closes them: more turns, of a lesser radius, in
    the same wire.
    """
    turns = coil.turns + angle / (2 * math.pi)
    radius = math.sqrt(
        (math.hypot(2 * math.pi * coil.radius[0], coil.pitch[0]) * coil.turns / turns) ** 2 - coil.pitch[0] ** 2
    ) / (2 * math.pi)
    return Coil(coil.wire, turns, (radius, radius), np.array([0.0, turns]), coil.pitch, 0.0)


@dataclass(frozen=True)
class Seat:
    """Where a spring stands: its axis is the plane's normal through its origin, its wire begins on the plane's x turned
    by ``angle`` (rad).
    """

    plane: Plane
    angle: float
    hand: Hand

    @property
    def _across(self) -> tuple[Array, Array]:
        """From the axis to the wire's start, and the way that it turns there."""
        c, s = math.cos(self.angle), math.sin(self.angle)
        return c * self.plane.x + s * self.plane.y, (-s * self.plane.x + c * self.plane.y) * (
            -1 if self.hand == "left" else 1
        )

    def spiral(self, coil: Coil) -> WoundPiece:
        return WoundPiece(
            SpiralCurve(self.plane.origin, *self._across, self.plane.normal, coil.radius, coil.rise), "coil"
        )

    def helix(self, coil: Coil) -> HelixPiece:
        """The same of turns that all have the first one's radius and pitch, which needs no search for the places along
        it.
        """
        lead = float(coil.pitch[0]) * (-1 if self.hand == "left" else 1)
        return HelixPiece(self.plane.origin, *self._across, coil.radius[0], lead, coil.turns, "coil")


def coil_path(coil: Coil, seat: Seat) -> Path:
    """The wire of a spring without legs or loops."""
    return Path([seat.spiral(coil)], up=seat.plane.normal)


def torsion_path(coil: Coil, seat: Seat, legs: tuple[float, float]) -> Path:
    """The wire of a torsion spring: straight legs (mm) go on from the coil at its start and its end."""
    piece = seat.spiral(coil)
    (p0, p1), (t0, t1) = _ends(piece)
    pieces: list[Piece] = [piece]
    if legs[0] > 0:
        pieces.insert(0, LinePiece(p0 - legs[0] * t0, p0, "leg/start"))
    if legs[1] > 0:
        pieces.append(LinePiece(p1, p1 + legs[1] * t1, "leg/end"))
    return Path(pieces, up=seat.plane.normal)


def extension_path(coil: Coil, seat: Seat, loops: tuple[Loop, Loop]) -> Path:
    """The wire of an extension spring with its loops: ``half`` and ``full`` over the axis, or at the ``side`` of the
    coil.
    """
    return _with_loops(seat.spiral(coil), coil, seat, loops)


def close_extension_path(coil: Coil, seat: Seat, loops: tuple[Loop, Loop]) -> Path:
    """The same of turns that all have the first one's radius and pitch, in a fifth of the time."""
    return _with_loops(seat.helix(coil), coil, seat, loops)


def _with_loops(piece: Piece, coil: Coil, seat: Seat, loops: tuple[Loop, Loop]) -> Path:
    (p0, p1), (t0, t1) = _ends(piece)
    up = seat.plane.normal
    before = [_reversed(p) for p in reversed(_loop(loops[0], p0, -t0, -up, seat.plane.origin, coil, "start"))]
    return Path([*before, piece, *_loop(loops[1], p1, t1, up, seat.plane.origin, coil, "end")], up=up)


def _ends(piece: Piece) -> tuple[tuple[Array, Array], tuple[Array, Array]]:
    at = np.array([0.0, piece.length])
    p, t = piece.point(at), piece.tangent(at)
    return (p[0], p[1]), (t[0], t[1])


def _loop(
    loop: Loop, at: Array, way: Array, out: Array, origin: Array, coil: Coil, end: str
) -> list[ArcPiece | LinePiece]:
    """The pieces of a loop from the coil's end ``at``, where the wire goes ``way``; ``out`` is along the axis, away
    from the coil.
    """
    if loop == "none":
        return []
    rise = out - float(out @ way) * way  # square to the wire, as nearly along the axis as that allows
    rise = rise / np.linalg.norm(rise)
    arm = at - origin
    arm = arm - float(arm @ out) * out
    if loop == "side":
        radius = float(np.linalg.norm(arm))
        return [ArcPiece(at + radius * rise, -rise, way, radius, SIDE, f"loop/{end}")]
    bend = HOOK_BEND * coil.wire
    turn = math.acos(float(np.clip(way @ out, -1, 1)))  # from the wire's way to straight along the axis
    first = ArcPiece(at + bend * rise, -rise, way, bend, turn, f"loop/{end}")
    foot = first.point(np.array([first.length]))[0]
    arm = foot - origin
    arm = arm - float(arm @ out) * out
    radius = float(np.linalg.norm(arm))
    inward = -arm / radius
    pieces: list[ArcPiece | LinePiece] = [first]
    if loop == "full":
        pieces.append(LinePiece(foot, foot + radius * out, f"loop/{end}"))
        foot = foot + radius * out
    pieces.append(
        ArcPiece(foot + radius * inward, -inward, out, radius, FULL if loop == "full" else HALF, f"loop/{end}")
    )
    return pieces


def _reversed(piece: ArcPiece | LinePiece) -> ArcPiece | LinePiece:
    if isinstance(piece, LinePiece):
        return LinePiece(piece.end, piece.start, piece.origin)
    c, s = math.cos(piece.sweep), math.sin(piece.sweep)
    return ArcPiece(
        piece.center, c * piece.u + s * piece.v, s * piece.u - c * piece.v, piece.radius, piece.sweep, piece.origin
    )


def inside_heights(path: Path, wire: float, seat: Plane, loops: tuple[Loop, Loop]) -> tuple[float, float]:
    """Between which heights over its seat an extension spring is: from the inner side of one of its loops to that of
    the other, of an end without a loop to the outside of its wire.
    """
    heights = seat.height(path.point(path.samples()))
    first, last = (-wire / 2 if loop == "none" else wire / 2 for loop in loops)
    return float(heights.min()) + first, float(heights.max()) - last
