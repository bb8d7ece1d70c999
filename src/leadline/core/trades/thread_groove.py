"""The groove of a thread in the axial plane: straight lines and arcs one after the other, between two edges on the face
that it is cut into.
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from functools import cached_property
from itertools import pairwise

import numpy as np

from leadline.core.geometry.plane import Array
from leadline.core.paths.path import Path
from leadline.core.problems import Problem, mm
from leadline.core.trades.thread_forms import Side, Tooth

STRAIGHT = 1e-9  # rad: what turns by less is a line
CREST_LEFT = 0.01  # of the pitch: what a rounded crest keeps of the face, on which the thread's own lines lie
MIDDLE_PLACES = 1025  # across a groove, between which its flanks are straight
LEAST = 1e-6  # mm: what is narrower, shallower or nearer to its plane is not so at all
STEEPEST = (
    1e-3  # of each mm of a drawn groove's way that at least goes along the axis, as no two radii may stand at one place
)
_X, _W = np.polynomial.legendre.leggauss(16)

Corner = tuple[float, float]


@dataclass(frozen=True)
class Segment:
    """From one corner (u, depth) of a groove to the next, straight, or an arc over which its way turns by ``turn``
    (rad, positive from u towards depth).
    """

    begin: Corner
    end: Corner
    turn: float = 0.0

    @property
    def straight(self) -> bool:
        return abs(self.turn) < STRAIGHT

    @cached_property
    def _chord(self) -> tuple[float, float]:
        """Length and direction (rad) of the straight way."""
        run, down = self.end[0] - self.begin[0], self.end[1] - self.begin[1]
        return math.hypot(run, down), math.atan2(down, run)

    @cached_property
    def radius(self) -> float:
        """Of an arc."""
        return self._chord[0] / (2 * math.sin(abs(self.turn) / 2))

    def at(self, w: Array) -> tuple[Array, Array]:
        """u and depth at shares w (0 to 1) of the way."""
        length, direction = self._chord
        if self.straight:
            reach, angle = w * length, np.full(np.shape(w), direction)
        else:
            reach = length * np.sin(w * self.turn / 2) / math.sin(self.turn / 2)
            angle = direction - (1 - w) * self.turn / 2
        return self.begin[0] + reach * np.cos(angle), self.begin[1] + reach * np.sin(angle)

    def run(self, w: Array) -> Array:
        """du/dw there."""
        length, direction = self._chord
        if self.straight:
            return np.full(np.shape(w), self.end[0] - self.begin[0])
        return np.asarray(
            length * self.turn / (2 * math.sin(self.turn / 2)) * np.cos(direction - self.turn / 2 + w * self.turn)
        )

    def depth(self, u: Array) -> Array:
        """The depth at places u between its ends."""
        if self.straight:
            return np.interp(u, (self.begin[0], self.end[0]), (self.begin[1], self.end[1]))
        length, direction = self._chord
        away, side = (
            length / 2 / math.tan(self.turn / 2),
            math.copysign(1.0, self.turn),
        )  # of the centre from the middle of the chord
        centre = (
            (self.begin[0] + self.end[0]) / 2 - away * math.sin(direction),
            (self.begin[1] + self.end[1]) / 2 + away * math.cos(direction),
        )
        return np.asarray(centre[1] - side * np.sqrt(np.maximum(self.radius**2 - (u - centre[0]) ** 2, 0.0)))

    def nodes(self) -> Iterator[tuple[float, float, float]]:
        """Places u with their depth and their weight (mm) for an integral over u."""
        w = (1 + _X) / 2
        yield from zip(*self.at(w), self.run(w) * _W / 2, strict=True)


@dataclass(frozen=True)
class Groove:
    """``corners`` (u, depth) in mm, the first and the last on the face, and the ``turns`` (rad) of what lies between
    each two of them.
    """

    corners: tuple[Corner, ...]
    turns: tuple[float, ...]

    @property
    def width(self) -> float:
        """From its first edge to its last."""
        return self.corners[-1][0]

    @cached_property
    def segments(self) -> tuple[Segment, ...]:
        return tuple(Segment(a, b, turn) for (a, b), turn in zip(pairwise(self.corners), self.turns, strict=True))

    @cached_property
    def deepest(self) -> Corner:
        """u and depth of its deepest place."""
        every = [
            *self.corners,
            *(
                (float(u), float(d))
                for s in self.segments
                if not s.straight
                for u, d in zip(*s.at(np.linspace(0, 1, 65)), strict=True)
            ),
        ]
        return max(every, key=lambda c: c[1])

    def depth(self, u: Array) -> Array:
        """The depth at places u; nought beside the groove."""
        found = np.zeros(np.shape(u))
        for s in self.segments:
            within = (u >= s.begin[0]) & (u <= s.end[0])
            found[within] = s.depth(u[within])
        return found

    def middle(self, depth: float) -> float:
        """The place u halfway between its flanks where these are so deep (mm) below the face."""
        u = np.linspace(0.0, self.width, MIDDLE_PLACES)
        over = self.depth(u) - depth
        crossed = np.flatnonzero((over[:-1] < 0) != (over[1:] < 0))
        if len(crossed) == 0:
            return self.width / 2
        first, last = (float(u[i] - over[i] * (u[i + 1] - u[i]) / (over[i + 1] - over[i])) for i in crossed[[0, -1]])
        return (first + last) / 2

    def repeated(self, times: int, apart: float) -> Groove:
        """So many of it, one ``apart`` (mm) from the next, with the face between them."""
        corners = tuple((u + k * apart, d) for k in range(times) for u, d in self.corners)
        return Groove(corners, (*self.turns, *((0.0, *self.turns) * (times - 1))))


def straight_groove(corners: Sequence[Corner]) -> Groove:
    """A groove of straight lines between its corners, counted from the first."""
    return Groove(tuple((u - corners[0][0], d) for u, d in corners), (0.0,) * (len(corners) - 1))


def groove_of(tooth: Tooth, side: Side) -> Groove:
    """The groove that a tooth leaves in its bar or its hole, with the roundings that the tooth has.

    Raises:
        Problem: there is no room for its roundings.
    """
    at = tooth.corners
    if side == "inside":
        corners = [(z, r - tooth.root) for z, r in at]
        deep, shallow = tooth.round_crest, tooth.round_root
    else:
        crest = [i for i, (_, r) in enumerate(at) if tooth.crest - r < 1e-9]
        corners = [
            (z, tooth.crest - r) for z, r in (*at[crest[-1] :], *((z + tooth.pitch, r) for z, r in at[: crest[0] + 1]))
        ]
        deep, shallow = tooth.round_root, tooth.round_crest
    if not (deep or shallow):
        return straight_groove(corners)
    return _rounded(corners, tooth.pitch, deep, shallow)


def _rounded(corners: Sequence[Corner], pitch: float, bottom: bool, edges: bool) -> Groove:
    """A groove of two flanks and a bottom, its bottom or the crests beside it rounded as much as their width allows.

    Raises Problem.
    """
    first, low, high, last = (np.array(c) for c in corners)
    down, up = _direction(low - first), _direction(last - high)
    lean, rise = math.atan2(down[1], down[0]), math.atan2(-up[1], up[0])
    both = math.tan(lean / 2) + math.tan(rise / 2)
    root = (high[0] - low[0]) / both if bottom else 0.0
    crest = max((1 - CREST_LEFT) * pitch - (last[0] - first[0]), 0.0) / both if edges else 0.0
    for flank, turned in ((low - first, lean), (last - high, rise)):
        if (root + crest) * math.tan(turned / 2) > np.linalg.norm(flank):
            raise Problem(
                "bad-tooth",
                "The roundings of crest and root meet on the flank.",
                "Give it a size nearer to the face, or leave it sharp.",
                of="form",
            )
    places: list[Array] = []
    turns: list[float] = []

    def corner(at: Array, before: Array, after: Array, radius: float, turned: float) -> None:
        if radius <= 0:
            places.append(at)
        else:
            reach = radius * math.tan(abs(turned) / 2)
            places.extend((at - reach * before, at + reach * after))
            turns.append(turned)

    along = np.array([1.0, 0.0])
    corner(first, along, down, crest, lean)
    turns.append(0.0)
    corner(low, down, along, root, -lean)
    if not bottom:
        turns.append(0.0)
    else:
        places.pop()  # both arcs of the bottom meet in one place
    corner(high, along, up, root, -rise)
    turns.append(0.0)
    corner(last, up, along, crest, rise)
    begin = float(places[0][0])
    return Groove(
        tuple((float(u) - begin, float(d) if 0 < i < len(places) - 1 else 0.0) for i, (u, d) in enumerate(places)),
        tuple(turns),
    )


def _direction(way: Array) -> Array:
    return np.asarray(way / np.linalg.norm(way))


def typed_groove(corners: Sequence[Corner], pitch: float) -> Groove:
    """A groove of one's own: corners (along the axis, depth) from one edge of it to the other, counted from its first.

    Raises:
        Problem: it is wider than a pitch, goes back along the axis, or its edges do not lie on the face.
    """
    if len(corners) < 3 or any(b[0] - a[0] <= 0 for a, b in pairwise(corners)):
        raise Problem(
            "bad-tooth",
            "The corners of the groove do not go on along the axis.",
            "Give three or more, each further along.",
            of="tooth",
        )
    if any(abs(corners[k][1]) > 1e-6 for k in (0, -1)) or any(d <= 0 for _, d in corners[1:-1]):
        raise Problem(
            "bad-tooth",
            "The groove does not begin and end on the face and lie below it between.",
            "Give its two edges the depth nought, the others more.",
            of="tooth",
        )
    return _within(straight_groove(corners), pitch)


def drawn_groove(path: Path, pitch: float) -> Groove:
    """A groove as an open path of lines and arcs in a plane: its ends are the groove's edges on the face, and where it
    goes between them is below the face.

    Raises:
        Problem: it has other curves, is not in a plane, is wider than a pitch, goes back along the axis, or comes up to
            the face.
    """
    if path.closed or any(piece.kind not in ("line", "arc") for piece in path.pieces):
        raise Problem(
            "bad-tooth",
            "The groove is not an open way of lines and arcs.",
            "Draw it from one edge to the other, without the face between them.",
            of="groove",
        )
    stations = np.sort(np.concatenate([path.starts, path.starts[:-1] + np.diff(path.starts) / 2]))
    away = path.point(stations) - path.point(np.zeros(1))
    width = float(np.linalg.norm(away[-1]))
    along = away[-1] / max(width, 1e-300)
    below = away - np.outer(away @ along, along)
    deep = np.linalg.norm(below, axis=1)
    depth = float(deep.max())
    if width < LEAST or depth < LEAST:
        raise Problem(
            "bad-tooth",
            "The groove has no width or no depth.",
            "Draw its edges apart, and what is between them to one side.",
            of="groove",
        )
    down = below[deep.argmax()] / depth
    flat = np.stack([away @ along, away @ down], axis=1)
    if np.abs(away - flat @ np.stack([along, down])).max() > LEAST:
        raise Problem("bad-tooth", "The groove is not drawn in one plane.", "Take a sketch for it.", of="groove")
    ways = [piece.tangent(np.array([0.0, piece.length])) @ np.stack([along, down]).T for piece in path.pieces]
    if any((way[:, 0] < STEEPEST).any() for way in ways):
        raise Problem(
            "bad-tooth",
            "The groove stands upright or goes back along the axis.",
            "Let it lean from edge to edge.",
            of="groove",
        )
    turns = tuple(
        float(math.atan2(b[1], b[0]) - math.atan2(a[1], a[0])) if piece.kind == "arc" else 0.0
        for piece, (a, b) in zip(path.pieces, ways, strict=True)
    )
    corners = [(float(u), float(d)) for u, d in flat[::2]]
    corners[0], corners[-1] = (0.0, 0.0), (width, 0.0)
    groove = Groove(tuple(corners), turns)
    if groove.depth(np.linspace(0, width, 257)[1:-1]).min() <= 0:
        raise Problem(
            "bad-tooth",
            "The groove comes up to the face between its edges.",
            "Draw all of it below the line between its ends.",
            of="groove",
        )
    return _within(groove, pitch)


def _within(groove: Groove, pitch: float) -> Groove:
    """Raises Problem when a groove is wider than a pitch."""
    if groove.width >= pitch:
        raise Problem(
            "thread-folds",
            f"The groove is {mm(groove.width)} wide, the pitch {mm(pitch)}: its turns run into each other.",
            "Give more pitch, or a narrower groove.",
            of="pitch",
        )
    return groove
