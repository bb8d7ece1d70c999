"""A path: pieces end to end, by station."""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray
from scipy.interpolate import BSpline
from scipy.optimize import brentq

from leadline.core.geometry.plane import Array, Plane, angles_between, any_square_to, cross
from leadline.core.paths.derived import part_of
from leadline.core.paths.pieces import ArcPiece, EllipseCurve, LinePiece, Piece, SplinePiece
from leadline.core.paths.plain import PlainPieces
from leadline.core.problems import Problem, mm
from leadline.core.sketch.model import Circle, Ellipse, Entity, Line, Sketch, Smoothed, entity_points
from leadline.core.sketch.outline import (
    arc_numbers,
    coordinates,
    ellipse_numbers,
    single_chain,
    smooth_outline,
    spline_curve,
)
from leadline.core.sketch.splines import AnySpline

KINK = math.radians(0.05)
LONGEST = 1e7  # mm; a tube of a hundred times the length the kernel calls invalid


@dataclass(frozen=True)
class Joint:
    """Between two pieces: where, and how they meet."""

    station: float
    kind: str  # "corner", "tangent" or "smooth" (equal curvature)
    turn: float  # rad, at a corner


class Path:
    """Pieces that join end to end, with stations from 0 to ``length`` (mm).

    Raises:
        Problem: it is longer than 10 km.
    """

    def __init__(self, pieces: Sequence[Piece], closed: bool = False, up: Array | None = None) -> None:
        self.pieces = list(pieces)
        self.closed = closed
        self.starts = np.concatenate([[0.0], np.cumsum([p.length for p in self.pieces])])
        self.length = float(self.starts[-1])
        self.up = up
        if self.length > LONGEST:
            raise Problem("too-long", "The path is longer than 10 km.", "Check the unit of its sizes.")

    def piece_at(self, s: Array) -> NDArray[np.intp]:
        """Index of the piece at each station; at a joint, of the piece that begins there."""
        return np.clip(np.searchsorted(self.starts, s, side="right") - 1, 0, len(self.pieces) - 1)

    def _gather(self, s: Array, method: str) -> Array:
        s = np.atleast_1d(np.asarray(s, dtype=float))
        if len(self.pieces) == 1:
            only = self.pieces[0]
            return np.asarray(getattr(only, method)(np.clip(s, 0.0, only.length)))
        which = self.piece_at(s)
        return self._evaluate(which, np.clip(s - self.starts[which], 0.0, self._lengths[which]), method)

    @cached_property
    def _lengths(self) -> Array:
        return np.array([p.length for p in self.pieces])

    @cached_property
    def _plain(self) -> PlainPieces:
        return PlainPieces.of(self.pieces)

    def _evaluate(self, which: NDArray[np.intp], local: Array, method: str) -> Array:
        """What pieces (k,) are like at stations of their own (k,): (k, 3)."""
        if self._plain.all:
            return self._plain.evaluate(which, local, method)
        out = np.empty((len(which), 3))
        mine = self._plain.plain[which]
        out[mine] = self._plain.evaluate(which[mine], local[mine], method)
        rest = np.flatnonzero(~mine)
        order = rest[np.argsort(which[rest], kind="stable")]
        for run in np.split(order, np.flatnonzero(np.diff(which[order])) + 1) if len(order) else ():
            out[run] = getattr(self.pieces[int(which[run[0]])], method)(local[run])
        return out

    def point(self, s: Array) -> Array:
        return self._gather(s, "point")

    def tangent(self, s: Array) -> Array:
        return self._gather(s, "tangent")

    def curvature(self, s: Array) -> Array:
        """Curvature vectors, 1/mm; at a joint, of the piece that begins there."""
        return self._gather(s, "curvature")

    @cached_property
    def joints(self) -> list[Joint]:
        """The joints between pieces, and the seam of a closed path at station 0."""
        if len(self.pieces) == 1 and not self.closed:
            return []
        both = np.repeat(np.arange(len(self.pieces)), 2)
        ends = np.column_stack([np.zeros(len(self.pieces)), self._lengths]).ravel()
        tangents, bends = (self._evaluate(both, ends, m).reshape(-1, 2, 3) for m in ("tangent", "curvature"))
        t, u = tangents[:, 1], np.roll(tangents[:, 0], -1, axis=0)
        turns = angles_between(t, u)
        changes = np.linalg.norm(bends[:, 1] - np.roll(bends[:, 0], -1, axis=0), axis=1)
        stations = np.concatenate([self.starts[1:-1], [0.0]])  # of the seam last
        kinds = [
            "corner" if turn > KINK else "smooth" if change < 1e-6 else "tangent"
            for turn, change in zip(turns, changes, strict=True)
        ]
        found = [Joint(float(s), kind, float(turn)) for s, kind, turn in zip(stations, kinds, turns, strict=True)]
        return found if self.closed else found[:-1]

    def between(self, start: float, end: float) -> Path:
        """The open stretch from one station to another.

        Raises:
            Problem: it has no length, or leaves the path.
        """
        slack = 1e-9 * self.length
        if not -slack <= start < end - slack or end > self.length + slack:
            raise Problem(
                "off-path",
                f"The stretch from {mm(start)} to {mm(end)} is not on the path, which is {mm(self.length)} long.",
                "Give two stations on it, the first before the second.",
                of="start",
            )
        pieces = []
        for piece, first in zip(self.pieces, self.starts, strict=False):
            a, b = max(start - first, 0.0), min(end - first, piece.length)
            if b - a > slack:
                whole = a <= slack and b >= piece.length - slack
                pieces.append(piece if whole else part_of(piece, float(a), float(b)))
        return Path(pieces, False, self.up)

    def extended(self, before: float, after: float) -> Path:
        """The path with straight pieces of these lengths (mm) before its start and after its end.

        Raises:
            Problem: a length under zero, or a closed path.
        """
        if before == 0 and after == 0:
            return self
        if before < 0 or after < 0 or self.closed:
            why = "The path is closed, so that it has no ends" if self.closed else "An extension is under zero"
            raise Problem(
                "bad-extension",
                f"{why} to be extended.",
                "Give lengths above zero on an open path.",
                of="extension",
            )
        ends = np.array([0.0, self.length])
        (a, b), (t, u) = self.point(ends), self.tangent(ends)
        first: list[Piece] = [LinePiece(a - before * t, a, "extension-start")] if before else []
        last: list[Piece] = [LinePiece(b, b + after * u, "extension-end")] if after else []
        return Path([*first, *self.pieces, *last], False, self.up)

    def start_normal(self) -> Array:
        """The direction that a section's x axis has at the start: in the path's plane, if it has one."""
        t = self.tangent(np.zeros(1))[0]
        if self.up is not None and abs(float(self.up @ t)) < 0.99:
            side = cross(self.up, t)
            return np.asarray(side / np.linalg.norm(side))
        return any_square_to(t)

    def normal(self, s: Array, start: Array | None = None) -> Array:
        """The start normal carried along the whole path without turning about it, shape (n, 3)."""
        s = np.atleast_1d(np.asarray(s, dtype=float))
        normal = self.start_normal() if start is None else start
        out = np.empty((len(s), 3))
        which = self.piece_at(s)
        for i, piece in enumerate(self.pieces):
            mask = which == i
            if mask.any():
                out[mask] = piece.transport_normal(normal, np.clip(s[mask] - self.starts[i], 0, piece.length))
            if i < which.max(initial=0):
                normal = piece.transport_normal(normal, np.array([piece.length]))[0]
        return out

    def plane_at(self, station: float) -> Plane:
        """The plane square to the path at a station; its x axis is the carried start normal."""
        s = np.array([station])
        x, t = self.normal(s)[0], self.tangent(s)[0]
        x = x - t * float(x @ t)
        x = x / np.linalg.norm(x)
        return Plane(self.point(s)[0], x, cross(t, x))

    def crossings(self, plane: Plane) -> Array:
        """Stations where the path goes through a plane (or ends on it), shape (k,)."""
        s = self.samples()
        h = plane.height(self.point(s))
        tolerance = 1e-9 * max(1.0, self.length)
        found = [float(v) for v in s[np.abs(h) <= tolerance]]
        for i in np.flatnonzero((h[:-1] * h[1:] < 0) & (np.abs(h[:-1]) > tolerance) & (np.abs(h[1:]) > tolerance)):
            found.append(self._root(plane, float(s[i]), float(s[i + 1])))
        found.sort()
        distinct = [v for i, v in enumerate(found) if i == 0 or v - found[i - 1] > 1e-6]
        return np.array(distinct)

    def _root(self, plane: Plane, a: float, b: float) -> float:
        return float(brentq(lambda v: float(plane.height(self.point(np.array([v])))[0]), a, b, xtol=1e-12))

    def samples(self, per_break: int = 32) -> Array:
        """Stations dense enough to see every bend, joints included."""
        if self._plain.all:
            counts = np.where(self._plain.radius > 0, per_break, 1)
            step = np.arange(counts.sum()) - np.repeat(np.cumsum(counts) - counts, counts)
            inner = np.repeat(self.starts[:-1], counts) + step * np.repeat(self._lengths / counts, counts)
            return np.append(inner, self.length)
        parts = []
        for start, piece in zip(self.starts, self.pieces, strict=False):
            spans = piece.breaks() + start
            n = 1 if piece.kind == "line" else per_break
            parts += [np.linspace(a, b, n + 1)[:-1] for a, b in itertools.pairwise(spans)]
        return np.concatenate([*parts, [self.length]])


def path_from_sketch(sketch: Sketch, plane: Plane, only: Sequence[str] | None = None) -> Path:
    """The single chain of a solved sketch, in space. Raises Problem as ``single_chain`` does."""
    chain = single_chain(sketch, only)
    at = coordinates(sketch)
    pieces = [_piece(e, f, at, plane, sketch) for e, f in zip(chain.entities, chain.forward, strict=True)]
    return Path(pieces, chain.closed, plane.normal)


def _piece(entity: Entity, forward: bool, at: dict[str, Array], plane: Plane, sketch: Sketch) -> Piece:
    if isinstance(entity, Line):
        ends = [plane.to_space(at[p]) for p in (entity.start, entity.end)]
        if float(np.linalg.norm(ends[1] - ends[0])) < 1e-9:
            raise Problem("no-length", f"Line {entity.id} has no length.", "Delete it.", items=[entity.id])
        a, b = ends if forward else ends[::-1]
        return LinePiece(a, b, entity.id)
    if isinstance(entity, Smoothed):
        return _spline_piece(smooth_outline(entity, at, sketch)[0], forward, entity.id, plane)
    if isinstance(entity, Ellipse):
        major = plane.direction(at[entity.major] - at[entity.center])
        minor = cross(plane.normal, major) * (entity.minor / np.linalg.norm(major))
        first, turn = ellipse_numbers(entity, at)
        if not forward:
            first, turn = first + turn, -turn
        return SplinePiece(
            EllipseCurve(plane.to_space(at[entity.center]), major, minor, first, turn), entity.id, plane.normal
        )
    if isinstance(entity, AnySpline):
        points = np.array([at[p] for p in entity_points(entity)])
        if np.linalg.norm(np.diff(points, axis=0), axis=1).min() < 1e-9:
            raise Problem(
                "no-length", f"Two points of spline {entity.id} coincide.", "Move or delete one.", items=[entity.id]
            )
        return _spline_piece(spline_curve(entity, at), forward, entity.id, plane)
    if isinstance(entity, Circle):
        start, sweep, radius = 0.0, 2 * math.pi, entity.radius
    else:
        start, sweep, radius = arc_numbers(entity, at)
    if not forward:
        start, sweep = start + sweep, -sweep
    u = np.array([math.cos(start), math.sin(start)])
    v = np.array([-u[1], u[0]]) * math.copysign(1, sweep)
    return ArcPiece(
        plane.to_space(at[entity.center]), plane.direction(u), plane.direction(v), radius, abs(sweep), origin=entity.id
    )


def _spline_piece(curve: BSpline, forward: bool, origin: str, plane: Plane) -> SplinePiece:
    t, c = curve.t, curve.c
    if not forward:
        t, c = t[0] + t[-1] - t[::-1], c[::-1]
    return SplinePiece(BSpline(t, plane.to_space(c), curve.k), origin, plane.normal)
