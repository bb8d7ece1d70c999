"""The motion M(s): (x, y) -> C(s) + x X(s) + y Y(s) that carries a section along a path."""

from __future__ import annotations

import copy
import itertools
import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Any

import numpy as np
from numpy.typing import NDArray
from scipy.interpolate import BSpline

from leadline.core.geometry.laws import Even, Law
from leadline.core.geometry.plane import Array, cross
from leadline.core.geometry.section import Loop, Region, joints
from leadline.core.paths.path import Path
from leadline.core.paths.pieces import ArcPiece, LinePiece
from leadline.core.problems import Offer, Problem, degrees, mm
from leadline.core.sweep.blend import Blend
from leadline.core.sweep.fitting import splines
from leadline.core.sweep.frames import Frames, evenly
from leadline.core.sweep.mitres import Ends, mitre_planes, sheared
from leadline.core.sweep.orientation import Orientation, Turning, turned_about
from leadline.core.sweep.rails import RailMap
from leadline.core.sweep.warp import Lift

DEFAULT_TOLERANCE = 1e-4
MAX_TURNS = 2000.0
ROUGH_TURN = math.radians(6)  # between rough stations, as long as they are not too many
ROUGH_LEAST, ROUGH_MOST = 20, 500  # rough stations, but for those at joints
EDGE_ON = math.radians(3.0)
RIGID = 1e-10
COARSE = 0.5  # mm by which a section's outline may be off where it is only told how far it reaches
PROBES = np.concatenate([[0.0], np.arange(1, 16) * 0.6180339887 % 1.0, [1.0]])  # in no step with any repetition
JUMP = 1e-4  # of the greatest curvature, or slope of a carrier: by less of a step a spline goes on smoothly
TURNING_CELL, TURNING_LEAST = 4, 128  # stations at which turning is seen: between two breaks, and of a stretch at least
LONGEST, PART = (
    160,
    100,
    # control points along a face at most, and in about what parts a longer one is cut: the kernel's time with one face
    # grows with their square
)
ONE_SIDE = 1e-11  # of the length: how far beside a break its own side is asked


@dataclass(frozen=True)
class Span:
    """A stretch of the motion that becomes one face per section edge.

    ``kind`` is "line" (exact prism), "arc" (exact revolution about ``axis``) or "free" (``spline`` gives the
    carriers [C, X, Y, ...] over the stations).
    """

    start: float
    end: float
    kind: str
    piece: int
    origin: str
    axis: tuple[Array, Array, float] | None = None
    spline: BSpline | None = None


class Motion:
    """A section carried along a path.

    ``home`` is the station at which the section stands as drawn, there on ``axes``: its x and y directions in
    space (2, 3), by default the axes that turn with the path. ``twist`` is turns spread evenly over the length,
    or a law that gives the angle (rad) by station, counted from home. ``sizes`` are laws of the factors along
    x and y. ``rails`` stretch the section so that it reaches them; a ``blend`` takes it over into other sections.
    ``mitred`` lets lines meet at corners, on the plane that halves the angle.

    Raises:
        Problem: a corner that is not mitred; too many turns; a closed path whose end does not meet its start.
    """

    def __init__(
        self,
        path: Path,
        twist: float | Law = 0.0,
        home: float = 0.0,
        *,
        orientation: Orientation | None = None,
        axes: Array | None = None,
        sizes: tuple[Law, Law] | None = None,
        rails: RailMap | None = None,
        start_angle: float = 0.0,
        mitred: bool = False,
        blend: Blend | None = None,
    ) -> None:
        self.path, self.home, self.sizes, self.rails, self.mitred, self.blend = path, home, sizes, rails, mitred, blend
        self.twist = twist if not isinstance(twist, float | int) else Even(0.0, 2 * math.pi * twist / path.length)
        self.orientation = orientation or Turning(path)
        _check(self)
        self._drawn = self._axes_at_home(axes, start_angle)

    def with_blend(self, blend: Blend) -> Motion:
        """The same motion of a section that goes over into others."""
        made = copy.copy(self)
        for known in ("_breaks", "_exact", "_rough"):  # what is worked out of it once
            made.__dict__.pop(known, None)
        made.blend = blend
        return made

    @property
    def length(self) -> float:
        return self.path.length

    @property
    def turns(self) -> float:
        """Turns of twist between the two ends."""
        return self.turned(0.0, self.length)

    def turned(self, a: float, b: float) -> float:
        """Turns of twist between two stations, signed."""
        return float(np.diff(self.twist.value(np.array([a, b])))[0]) / (2 * math.pi)

    def _axes_at_home(self, axes: Array | None, start_angle: float) -> Array:
        """The section's x and y directions on the moving axes, (2, 3)."""
        at = np.array([self.home])
        moving = self.orientation.triads(int(self.path.piece_at(at)[0]), at)[0][0]
        drawn = np.eye(3)[:2] if axes is None else axes @ moving.T
        c, s = math.cos(start_angle), math.sin(start_angle)
        return np.asarray(drawn @ np.array([[c, s, 0], [-s, c, 0], [0, 0, 1]]))

    def frames(self, s: Array) -> Frames:
        """Exact frames at stations s (n,)."""
        s = np.atleast_1d(np.asarray(s, dtype=float))
        which = self.path.piece_at(s)
        first = int(which[0]) if len(which) else 0
        if np.all(which == first):
            return self.frames_on(first, s)
        order = np.argsort(which, kind="stable")
        parts = [self.frames_on(int(which[group[0]]), s[group]) for group in _runs(order, which)]
        back = np.argsort(order, kind="stable")
        return parts[0].gathered(lambda read: np.concatenate([read(p) for p in parts])[back])

    @cached_property
    def ends(self) -> Frames:
        """The frames at the two ends: the first and the last station."""
        return self.frames(np.array([0.0, self.length]))

    def frames_on(self, piece: int, s: Array) -> Frames:
        """Frames at stations s of one piece, its own side of the joints at its ends."""
        own = self.path.pieces[piece]
        local = np.clip(s - float(self.path.starts[piece]), 0.0, own.length)
        P, T, K = own.point(local), own.tangent(local), own.curvature(local)
        e, de = self._section_axes(piece, s)
        bare = Frames(P, e[0], e[1], T, de[0], de[1], P, T, K)
        if self.rails is not None:
            bare = self.rails.guided(s, bare)
        elif self.sizes is not None:
            bare = self._sized(s, bare)
        if self.blend is not None:
            bare = self.blend.blended(s, bare)
        return sheared(bare, self._mitres[piece], local / own.length, own.length) if self.mitred else bare

    @cached_property
    def _mitres(self) -> list[Ends]:
        return mitre_planes(self.path)

    def _sized(self, s: Array, f: Frames) -> Frames:
        assert self.sizes is not None
        (kx, dkx), (ky, dky) = ((law.value(s)[:, None], law.slope(s)[:, None]) for law in self.sizes)
        return replace(f, X=kx * f.X, Y=ky * f.Y, dX=dkx * f.X + kx * f.dX, dY=dky * f.Y + ky * f.dY)

    def _section_axes(self, piece: int, s: Array) -> tuple[Array, Array]:
        """Unit axes of the section and their slopes, each (2, n, 3)."""
        triads = self.orientation.triads(piece, s)
        if not self.twist.steady:
            angle = self.twist.value(s) - float(self.twist.value(np.array([self.home]))[0])
            triads = turned_about(triads, angle, self.twist.slope(s))
        return np.einsum("ck,nkj->cnj", self._drawn, triads[0]), np.einsum("ck,nkj->cnj", self._drawn, triads[1])

    def rough(self, most: int = ROUGH_MOST) -> tuple[Array, Frames]:
        """At most so many stations (n,), evenly by how much path and section turn, and the frames there: for what is
        told while a hand moves, when there is time for no more.
        """
        s, frames = self._rough
        return s[evenly(len(s), most)], frames.some(most)

    @cached_property
    def _rough(self) -> tuple[Array, Frames]:
        s = np.linspace(0.0, self.length, 2 * ROUGH_MOST)
        t = self.path.tangent(s)
        turn = np.arccos(np.clip((t[1:] * t[:-1]).sum(axis=1), -1, 1)) + np.abs(np.diff(self.twist.value(s)))
        measure = np.concatenate([[0.0], np.cumsum(turn / ROUGH_TURN + ROUGH_LEAST / len(turn))])
        even = np.interp(np.linspace(0.0, measure[-1], min(ROUGH_MOST, math.ceil(measure[-1]) + 1)), measure, s)
        hair = 1e-9 * self.length
        joints = np.array([j.station for j in self.path.joints])  # both sides of each
        stations = np.unique(np.clip(np.concatenate([even, joints - hair, joints + hair]), 0.0, self.length))
        return stations, self.frames(stations)

    def breaks(self, piece: int) -> Array:
        """Stations of a piece between which the motion is smooth, ends included."""
        return self._breaks[piece]

    @cached_property
    def _breaks(self) -> list[Array]:
        return [self._breaks_on(i) for i in range(len(self.path.pieces))]

    def _breaks_on(self, piece: int) -> Array:
        start = float(self.path.starts[piece])
        own = self.path.pieces[piece].breaks() + start
        guides = [w.breaks for w in (self.twist, *(self.sizes or ()), self.rails, self.blend) if w is not None]
        inner = np.sort(np.concatenate([own[1:-1], *guides]))
        slack = min(1e-7 * self.length, (own[-1] - own[0]) / 4)
        inner = inner[(inner > own[0] + slack) & (inner < own[-1] - slack)]
        inner = inner[np.diff(inner, prepend=own[0]) > slack]
        return np.concatenate([own[:1], inner, own[-1:]])

    def one_sided(self, a: float | Array, b: float | Array, s: Array) -> Array:
        """Stations between a and b, or between those of their row, moved off both by a hair so that slopes are those
        between them.
        """
        hair = ONE_SIDE * self.length
        return np.clip(s, a + hair, b - hair)

    def exact(self, piece: int) -> bool:
        """Whether the section rides a line or an arc rigidly, so that its faces are prisms or revolutions."""
        return self._exact[piece]

    @cached_property
    def _exact(self) -> list[bool]:
        return [self._rides_rigidly(i) for i in range(len(self.path.pieces))]

    def _rides_rigidly(self, piece: int) -> bool:
        own = self.path.pieces[piece]
        if self.warp is not None or not isinstance(own, LinePiece | ArcPiece):
            return False
        start = float(self.path.starts[piece])
        f = self.frames_on(piece, start + own.length * PROBES)
        spin = np.zeros(3) if isinstance(own, LinePiece) else own.axis / own.radius
        off = [
            d - cross(spin, a)
            for d, a in ((f.dX, f.X), (f.dY, f.Y), (f.dC, f.C - (own.center if isinstance(own, ArcPiece) else 0)))
        ]
        if isinstance(own, LinePiece):
            off[2] = f.dC - own.direction
        return max(float(np.abs(o).max()) for o in off) < RIGID

    def spans(self, extent: float, tolerance: float = DEFAULT_TOLERANCE) -> list[Span]:
        """Cut the motion into spans; free ones deviate by at most ``tolerance`` mm within ``extent`` mm of the path."""
        spans: list[Span] = []
        for i, piece in enumerate(self.path.pieces):
            if self.exact(i):
                spans += self._exact_spans(i)
                continue
            cuts = np.array(self._cuts(i))
            fits = self._fitted(i, cuts, extent, tolerance)
            while long := [n for n, fit in enumerate(fits) if len(fit.c) > LONGEST]:
                cuts = np.concatenate(
                    [
                        _cut_in_parts(cut, fit) if n in long else cut[None]
                        for n, (cut, fit) in enumerate(zip(cuts, fits, strict=True))
                    ]
                )
                fits = self._fitted(i, cuts, extent, tolerance)
            spans += [
                Span(a, b, "free", i, piece.origin, spline=fit) for (a, b), fit in zip(cuts.tolist(), fits, strict=True)
            ]
        return spans

    def _fitted(self, piece: int, cuts: Array, extent: float, tolerance: float) -> list[BSpline]:
        """The carriers of a piece between stations (k, 2), as splines."""

        def carriers(s: Array) -> Array:
            return self.carriers(piece, s)

        def slopes(s: Array) -> Array:
            pairs = s.reshape(-1, 2)
            return self.carrier_slopes(piece, self.one_sided(pairs[:, :1], pairs[:, 1:], pairs).ravel())

        own = self.breaks(piece), self.path.pieces[piece].kinks() + float(self.path.starts[piece])
        breaks, kinks = ([stations[(stations > a) & (stations < b)] for a, b in cuts] for stations in own)
        return splines(carriers, slopes, cuts, self._weights(extent), tolerance, breaks, kinks)

    def _exact_spans(self, i: int) -> list[Span]:
        piece, start = self.path.pieces[i], float(self.path.starts[i])
        if not isinstance(piece, ArcPiece):
            return [Span(start, start + piece.length, "line", i, piece.origin)]
        parts = 1 if piece.sweep < 1.5 * math.pi else 2
        step = piece.length / parts
        axis = (piece.center, piece.axis, piece.sweep / parts)
        return [Span(start + k * step, start + (k + 1) * step, "arc", i, piece.origin, axis=axis) for k in range(parts)]

    def _cuts(self, i: int) -> list[tuple[float, float]]:
        """Stations between which piece i bends and twists by at most about one turn, and by no jump."""
        cuts = []
        for p, q in itertools.pairwise(self._jumps(i)):
            s, turned = self._turning(i, p, q)
            n = max(1, math.ceil(turned[-1] / (2 * math.pi) - 1e-9))
            edges = np.interp(np.linspace(0.0, turned[-1], n + 1), turned, s)
            edges[0], edges[-1] = p, q
            cuts += list(zip(edges.tolist(), edges[1:].tolist(), strict=False))
        if self.path.closed and len(self.path.pieces) == 1 and len(cuts) == 1:
            ((p, q),) = cuts
            cuts = [(p, (p + q) / 2), ((p + q) / 2, q)]
        return cuts

    def _jumps(self, i: int) -> Array:
        """The ends of piece i, and the stations of its breaks at which the path's curvature or a carrier's
        slope jumps.
        """
        own = self.breaks(i)
        if len(own) == 2:
            return own
        hair = ONE_SIDE * self.length
        sides = [self.path.pieces[i].curvature(own[1:-1] + way - float(self.path.starts[i])) for way in (-hair, hair)]
        slopes = [self.carrier_slopes(i, own[1:-1] + way) for way in (-hair, hair)]
        bend = max(float(np.linalg.norm(sides, axis=2).max()), 1.0 / self.length)
        steep = max(1.0, float(np.abs(slopes).max()))
        jumps = (np.abs(sides[1] - sides[0]).max(axis=1) > JUMP * bend) | (
            np.abs(slopes[1] - slopes[0]).max(axis=1) > JUMP * steep
        )
        return np.asarray(own[np.concatenate([[True], jumps, [True]])])

    def _turning(self, i: int, a: float, b: float) -> tuple[Array, Array]:
        """Stations (n,) of piece i from a to b, and by how much path and section have turned up to each, rad."""
        breaks = self.breaks(i)
        inner = breaks[(breaks > a) & (breaks < b)]
        edges = np.concatenate([[a], inner, [b]])
        each = max(TURNING_CELL, math.ceil(TURNING_LEAST / (len(edges) - 1)))
        s = np.append((edges[:-1, None] + np.diff(edges)[:, None] * np.arange(each) / each).ravel(), b)
        t = self.path.pieces[i].tangent(np.clip(s - float(self.path.starts[i]), 0.0, self.path.pieces[i].length))
        steps = 2 * np.arcsin(np.clip(np.linalg.norm(np.diff(t, axis=0), axis=1) / 2, 0.0, 1.0)) + np.abs(
            np.diff(self.twist.value(s))
        )
        return s, np.concatenate([[0.0], np.cumsum(steps + 1e-12)])

    def carriers(self, piece: int, s: Array) -> Array:
        """The carriers of the frames at stations of a piece, side by side: (n, 3 k)."""
        return self.frames_on(piece, s).carriers.reshape(len(s), -1)

    def carrier_slopes(self, piece: int, s: Array) -> Array:
        """d/ds of ``carriers``."""
        return self.frames_on(piece, s).carrier_slopes.reshape(len(s), -1)

    @property
    def warp(self) -> Lift | None:
        """What gives section points further coordinates: four rails and more, or other sections."""
        if self.blend is not None:
            return self.blend.stack
        return None if self.rails is None else self.rails.warp

    def reach(self, regions: Sequence[Region]) -> float:
        """How far sections reach from the path, mm; of one that goes over into others in that which reaches
        farthest.
        """
        outline = np.vstack([r.outer.polygon(COARSE) for r in regions])
        places = outline if self.blend is None else self.blend.places(outline)
        return float(np.hypot(places[..., 0], places[..., 1]).max())

    def lifted(self, loop: Loop, tolerance: float = DEFAULT_TOLERANCE) -> Loop:
        """A section's loop whose control points have a coordinate for each of the carriers after C."""
        if self.warp is None:
            return loop
        s = self.path.samples()
        reach = max(1.0, float(np.abs(self.frames(s).Z).max()))
        edges = [self.warp.lifted(e, tolerance / reach) for e in loop.edges]
        for before, edge in joints(edges, loop.open):
            edge.control[0] = before.control[-1]
        return replace(loop, edges=tuple(edges))

    def _weights(self, extent: float) -> Array:
        """How much a section point within ``extent`` mm of the origin takes of each carrier at most."""
        plain = np.array([1.0, extent, extent])
        return plain if self.warp is None else np.concatenate([plain, self.warp.most(extent)])


def _cut_in_parts(cut: Array, fit: BSpline) -> Array:
    """A stretch in parts (n, 2) of about as many knots each, none of more than a face may have."""
    n = math.ceil(len(fit.c) / PART)
    knots = np.unique(fit.t)
    edges = np.interp(np.linspace(0, len(knots) - 1, n + 1), np.arange(len(knots)), knots)
    edges[0], edges[-1] = cut
    return np.column_stack([edges[:-1], edges[1:]])


def _runs(order: NDArray[np.intp], which: NDArray[np.intp]) -> list[NDArray[np.intp]]:
    """Indices in ``order``, split where ``which`` changes."""
    return np.split(order, np.flatnonzero(np.diff(which[order])) + 1)


def _check(motion: Motion) -> None:
    path, turns = motion.path, motion.turns
    corners: Sequence[Any] = [j for j in path.joints if j.kind == "corner"]
    if corners and not motion.mitred:
        j = corners[0]
        raise Problem(
            "corner",
            f"The path has a corner of {degrees(j.turn, 3)} at {mm(j.station)}.",
            "Mitre or round the corners, or put an arc there, tangent to both sides.",
            station=j.station,
            of="corners",
        )
    if abs(turns) > MAX_TURNS:
        raise Problem("too-many-turns", f"{turns:g} turns of twist.", f"Give at most {MAX_TURNS:g}.", of="twist")
    if not path.closed:
        return
    if abs(turns - round(turns)) > 1e-9:
        raise Problem(
            "seam",
            f"On a closed path the section comes back turned by {turns % 1:.4g} of a turn and would not meet itself.",
            f"Give whole turns, e.g. {round(turns)}.",
            of="twist",
        ).mended(Offer(f"Twist by {round(turns)} turns", "twist", round(turns)))
    for law, word in zip(motion.sizes or (), ("size", "size_y"), strict=False):
        first, last = law.value(np.array([0.0, path.length]))
        if abs(first - last) > 1e-9:
            raise Problem(
                "seam",
                f"On a closed path the section comes back {last / first:.4g} times as large and would not meet itself.",
                "Give the same size at both ends.",
                of=word,
            )
