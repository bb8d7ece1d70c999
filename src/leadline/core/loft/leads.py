"""How a shape goes on from the sides of a neighbour: tangent to them at the section that the two have in common.

There a side of the neighbour runs along V(p), its section point's derivative by station. The shape's own point is given
the same direction by a term that is nought at the section and has a slope there: ``h(s) U(p)``, with U what is missing
to V, scaled to the speed of one at the section's origin. What of it is affine in p goes into the carriers C, X and Y;
what each edge has besides (the sides of a tapered outline lean each its own way, those of a loft that ends as it comes
each point its own) is a further pair of coordinates of the edge's points.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from dataclasses import field as dataclass_field
from functools import cached_property

import numpy as np

from leadline.core.geometry.edges import Edge
from leadline.core.geometry.plane import Array
from leadline.core.geometry.section import Loop, Region, joints
from leadline.core.loft.basis import with_columns
from leadline.core.loft.shares import Course
from leadline.core.problems import Problem
from leadline.core.sweep.frames import Frames
from leadline.core.sweep.motion import Motion

EVEN = 1e-7  # of the greatest slope, by which sides may differ from an affine field
STEEP = 1e-3  # the least share of a side's direction that is along the shape
NEAR = 257  # places of an edge, from which others are found
PLACES = 24  # of each edge, by which the sides are looked at


@dataclass(frozen=True)
class Field:
    """An affine field of directions: ``base + matrix @ p`` at points p (3,)."""

    base: Array
    matrix: Array

    def at(self, p: Array) -> Array:
        return np.asarray(self.base + self.matrix @ p)

    def scaled(self, k: float) -> Field:
        return Field(k * self.base, k * self.matrix)


@dataclass(frozen=True)
class Piece:
    """What the sides of one edge have besides the field of all, and points (n, 3) of the edge."""

    points: Array
    field: Field

    def scaled(self, k: float) -> Piece:
        return Piece(self.points, self.field.scaled(k))


@dataclass(frozen=True)
class Height:
    """How fast points p (n, 3) of a section rise over it: ``base + slope @ p``."""

    base: float = 1.0
    slope: Array = dataclass_field(default_factory=lambda: np.zeros(3))

    def at(self, p: Array) -> Array:
        return np.asarray(self.base + p @ self.slope)


@dataclass(frozen=True)
class Uneven:
    """The same where no affine field says it: ``scale`` times what is missing to the ``even`` field of all.

    The sides are those of an ``edge`` of a neighbour at one station, ``frames``; each direction is as long as makes it
    so high over the section, along its unit ``normal``, as ``height`` says there.
    """

    frames: Frames
    edge: Edge
    even: Field
    normal: Array
    height: Height
    scale: float = 1.0

    def scaled(self, k: float) -> Uneven:
        return replace(self, scale=k * self.scale)

    @cached_property
    def places(self) -> Array:
        """Parameters of the edge, close together."""
        return np.linspace(*self.edge.domain, NEAR)

    @cached_property
    def points(self) -> Array:
        return _along(self.frames, self.edge, self.places)[0]

    def at(self, p: Array) -> Array:
        """What there is at points (n, 3) of the edge, (n, 3)."""
        t = self._parameters(p)
        _, ways = _along(self.frames, self.edge, t)
        return self.scale * (
            ways * (self.height.at(p) / (ways @ self.normal))[:, None] - (self.even.base + p @ self.even.matrix.T)
        )

    def _parameters(self, p: Array) -> Array:
        """Where on the edge points (n, 3) lie: by the nearest of its places, and Newton's method from there."""
        t = self.places[np.linalg.norm(self.points[None] - p[:, None], axis=2).argmin(axis=1)]
        low, high = self.edge.domain
        for _ in range(8):
            point, along = _along(self.frames, self.edge, t)[0], _across(self.frames, self.edge, t)
            t = np.clip(t + ((p - point) * along).sum(axis=1) / (along * along).sum(axis=1), low, high)
        return np.asarray(t)


@dataclass(frozen=True)
class Sides:
    """Directions V (3,) of a neighbour's sides where its section is at p (3,): an affine field for all, and what each
    edge has besides, if any has.

    ``frames`` and ``edges`` are the neighbour's own; the sides lead away from it, ``forward`` in the direction of its
    path or back.
    """

    field: Field
    frames: Frames
    edges: Sequence[Edge]
    forward: bool
    pieces: tuple[Piece | Uneven, ...] = ()

    def rising(self, normal: Array, height: Height) -> Sides:
        """The same, each direction made as high over the section as ``height`` says: where the sides lead stays what it
        is.

        Raises Problem when they lead the other way than ``normal``.
        """
        points, slopes = _looked_at(self.frames, self.edges, self.forward)
        heights = slopes @ normal
        if (heights < STEEP * np.linalg.norm(slopes, axis=1)).any():
            raise _leads_back()
        even, _ = _fitted(points, slopes * (height.at(points) / heights)[:, None])
        return replace(
            self, field=even, pieces=tuple(Uneven(self.frames, edge, even, normal, height) for edge in self.edges)
        )


def sides_at(motion: Motion, regions: list[Region], last: bool) -> Sides:
    """How the sides of a motion run at its first or last section, away from what lies between.

    Raises Problem when they run along the section somewhere.
    """
    frames = motion.ends.at_index(1 if last else 0)
    edges = [edge for region in regions for loop in region.loops for edge in motion.lifted(loop).edges]
    points, slopes = _looked_at(frames, edges, last)
    field, rest = _fitted(points, slopes)
    sides = Sides(field, frames, edges, last)
    slack = EVEN * float(np.abs(slopes).max())
    if np.abs(rest).max() < slack:
        return sides
    normal = np.cross(frames.X[0], frames.Y[0])
    normal /= np.linalg.norm(normal)
    pieces = []
    for own, left in zip(np.split(points, len(edges)), np.split(rest, len(edges)), strict=True):
        part, missing = _fitted(own, left)
        if np.abs(missing).max() > slack or np.abs(left @ normal).max() > slack:
            return sides.rising(normal * np.sign(float((slopes @ normal).sum())), Height())
        pieces.append(Piece(own, part))
    return replace(sides, pieces=tuple(pieces))


def _looked_at(frames: Frames, edges: Sequence[Edge], forward: bool) -> tuple[Array, Array]:
    """Points of a neighbour's outlines, as many of each edge, and how its sides lead away there, each (n, 3)."""
    found = [_along(frames, edge, np.linspace(*edge.domain, PLACES)) for edge in edges]
    points, slopes = (np.vstack([f[k] for f in found]) for k in (0, 1))
    return points, slopes if forward else -slopes


def _leads_back() -> Problem:
    return Problem(
        "tangent-back",
        "The sides that it is to be tangent to do not lead this way.",
        "Pick the face on the other end, or let it leave square.",
    )


def _along(frames: Frames, edge: Edge, t: Array) -> tuple[Array, Array]:
    """Points of a section edge at one station, at parameters t (n,), and their derivatives by station, each (n, 3)."""
    shares = frames.shares(edge.point(t))
    return np.asarray(shares @ frames.carriers[0]), np.asarray(shares @ frames.carrier_slopes[0])


def _across(frames: Frames, edge: Edge, t: Array) -> Array:
    """The derivatives (n, 3) of the same points by the edge's parameter."""
    xy, d = edge.point(t), edge.derivative(t)
    shares = np.hstack([d[:, :2], *([] if frames.warp is None else [frames.warp.along(xy, d)])])
    return np.asarray(shares @ frames.carriers[0, 1:])


def _fitted(points: Array, values: Array) -> tuple[Field, Array]:
    """The affine field that is nearest to values at points, and what is left of them, (n, 3)."""
    middle = points.mean(axis=0)
    size = float(np.abs(points - middle).max())
    known = np.column_stack([np.ones(len(points)), (points - middle) / size])
    found = np.linalg.lstsq(known, values, rcond=1e-9)[0]
    matrix = found[1:].T / size
    return Field(found[0] - matrix @ middle, matrix), values - known @ found


@dataclass(frozen=True)
class Lead:
    """A term ``h(s) U(p)`` at one end: ``carriers`` (3, 3) are what C, X and Y get of it.

    Where edges have a part of their own, their points get two further coordinates, which ``axes`` (2, 3) carry. The
    shape has so many ``sections``.
    """

    course: Course
    at_end: bool
    carriers: Array
    origin: Array
    axes: Array
    sections: int
    pieces: tuple[Piece | Uneven, ...] = ()

    def widened(self, edge: Edge) -> Edge:
        """An edge whose points have the further coordinates. Raises Problem where the sides are not smooth along it."""
        a, b = edge.domain
        middle = self._places(edge.point(np.array([(a + b) / 2])))[0]
        piece = min(self.pieces, key=lambda p: float(np.linalg.norm(p.points - middle, axis=1).min()))
        if isinstance(piece, Uneven):
            made = with_columns(edge, lambda t: piece.at(self._places(edge.point(t))) @ self.axes.T)
            if made is None:
                raise Problem(
                    "tangent-uneven",
                    "The sides that it is to be tangent to do not go on smoothly along an edge there.",
                    "Let it leave square to the face.",
                    field="end" if self.at_end else "start",
                )
            return made
        return replace(
            edge,
            control=np.hstack(
                [edge.control, np.array([self.axes @ piece.field.at(p) for p in self._places(edge.control)])]
            ),
        )

    def _places(self, points: Array) -> Array:
        """Where points (n, k) of the outline, with the coordinates of all sections, stand in this one, (n, 3): those of
        a further one are told from the first.
        """
        own = points[:, :2] + (points[:, 2 * self.sections - 2 : 2 * self.sections] if self.at_end else 0.0)
        return self.origin + own @ self.axes

    def height(self, s: Array) -> tuple[Array, Array]:
        """h and its derivative, each (n,): with a slope of one at its own section, nought at it and from the next one
        on.
        """
        stations, hold = self.course.stations, (self.course.end if self.at_end else self.course.start).hold
        a, b = stations[-2:] if self.at_end else stations[:2]
        seen, rate = self.course.seen(s)
        t, dt = (seen - a) / (b - a), rate / (b - a)
        inside = (s >= a) & (s <= b)
        reach = 3 * hold * (b - a)
        h, dh = (-t * t * (1 - t), 3 * t * t - 2 * t) if self.at_end else (t * (1 - t) ** 2, (1 - t) * (1 - 3 * t))
        return np.where(inside, reach * h, 0.0), np.where(inside, reach * dh * dt, 0.0)


def lead(course: Course, at_end: bool, frames: Frames, sides: Sides, beside_rails: bool = False) -> Lead:
    """What makes a shape tangent to ``sides`` at its first or last section, where its own ``frames`` (one station) are
    without that.

    Beside rails the sides rise as fast as the section's plane passes them: so do the rails, and one that leaves along
    the sides moves nothing there.

    Raises:
        Problem: the sides run along the section there, or back.
    """
    C, X, Y, T = frames.C[0], frames.X[0], frames.Y[0], frames.T[0]
    normal = np.cross(X, Y)
    normal *= np.sign(normal @ T)
    own = np.array([frames.dC[0], frames.dX[0], frames.dY[0]])
    sign = -1.0 if at_end else 1.0  # at its end the shape goes into the neighbour, against where the sides point
    rise, *turning = own @ normal if beside_rails else np.array([1.0, 0.0, 0.0])
    if np.abs(turning).max() * _reach(sides) > EVEN * rise:
        slope = turning[0] * X + turning[1] * Y
        sides = sides.rising(sign * normal, Height(rise - float(slope @ C), slope))
    wanted = sign * np.array([sides.field.at(C), sides.field.matrix @ X, sides.field.matrix @ Y])
    speed = float(wanted[0] @ normal)
    if speed < STEEP * float(np.linalg.norm(wanted[0])):
        raise _leads_back().after("", field="end" if at_end else "start")
    k = rise / speed
    return Lead(
        course,
        at_end,
        k * wanted - own,
        C,
        np.array([X, Y]),
        len(course.stations),
        tuple(p.scaled(sign * k) for p in sides.pieces),
    )


def _reach(sides: Sides) -> float:
    """How far a neighbour's outline reaches, mm."""
    points, _ = _looked_at(sides.frames, sides.edges, sides.forward)
    return float(np.ptp(points, axis=0).max())


def widened(region: Region, leads: Sequence[Lead]) -> Region:
    """A region whose points have the further coordinates of some leads."""

    def wide(loop: Loop) -> Loop:
        edges = list(loop.edges)
        for own in leads:
            edges = [own.widened(e) for e in edges]
        for before, edge in joints(edges, loop.open):
            edge.control[0] = before.control[-1]
        return replace(loop, edges=tuple(edges))

    loops = [wide(loop) for loop in region.loops]
    return replace(region, outer=loops[0], holes=tuple(loops[1:]))
