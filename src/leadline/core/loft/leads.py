"""Makes a loft or a sweep leave its end section tangent to the sides of a neighbouring body.

Problem. The shape and its neighbour share a section. At a point p of that section the neighbour's side runs in the
direction V(p) (the derivative of the side's point by the neighbour's station). The shape's own side runs in another
direction there, and must be turned into V(p) without moving the section.

Method. A term ``h(s) U(p)`` is added to the shape. ``h`` is 0 at the section and has slope 1 there (see
``Lead.height``), so that the section stays where it is and the side's direction changes by U. ``U(p)`` is V(p), scaled
so that it rises from the section as fast as the shape does, minus the direction that the shape has already.

Representation. The part of U that is affine in p is added to the carriers C, X and Y of the motion, which costs
nothing. Where V is not affine over the whole outline there is a rest for each edge: the sides of a tapered outline each
lean their own way (``Piece``), and the sides of a free loft differ from point to point (``Uneven``). This rest becomes
two further coordinates of the edge's points, which two further carriers multiply by ``h(s)``.
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
    """Directions that depend on the place in an affine way: ``base + matrix @ p`` at a point p.

    Attributes:
        base: The direction at the origin, (3,), mm per mm of station.
        matrix: Its change with the place, (3, 3), 1/mm.
    """

    base: Array
    matrix: Array

    def at(self, p: Array) -> Array:
        return np.asarray(self.base + self.matrix @ p)

    def scaled(self, k: float) -> Field:
        return Field(k * self.base, k * self.matrix)


@dataclass(frozen=True)
class Piece:
    """The rest of the directions along one edge, where that is affine in the place.

    Attributes:
        points: Points of the edge, (n, 3), mm, by which the edge is found again.
        field: What is to be added to the field of the whole outline along this edge.
    """

    points: Array
    field: Field

    def scaled(self, k: float) -> Piece:
        return Piece(self.points, self.field.scaled(k))


@dataclass(frozen=True)
class Height:
    """How fast the points of a section move along the section's normal: ``base + slope @ p`` at a point p.

    Attributes:
        base: That speed at the origin, mm per mm of station.
        slope: Its change with the place, (3,), 1/mm; not zero where the section's plane turns.
    """

    base: float = 1.0
    slope: Array = dataclass_field(default_factory=lambda: np.zeros(3))

    def at(self, p: Array) -> Array:
        return np.asarray(self.base + p @ self.slope)


@dataclass(frozen=True)
class Uneven:
    """The rest of the directions along one edge, where that is not affine in the place.

    The direction of the neighbour's side is computed anew at every point. It is scaled so that its component along
    ``normal`` is what ``height`` gives there; then the field of the whole outline is subtracted.

    Attributes:
        frames: The neighbour's frames at the one station of the common section.
        edge: The edge of the neighbour's outline.
        even: The affine field of the whole outline, which is accounted for elsewhere.
        normal: The unit normal of the section, (3,).
        height: How fast the points are to move along the normal.
        scale: A factor on the result.
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
        """Parameters of the edge at even distances, (n,), close enough to begin a search from."""
        return np.linspace(*self.edge.domain, NEAR)

    @cached_property
    def points(self) -> Array:
        return _along(self.frames, self.edge, self.places)[0]

    def at(self, p: Array) -> Array:
        """The rest of the directions, (n, 3), at points of the edge, (n, 3), mm."""
        t = self._parameters(p)
        _, ways = _along(self.frames, self.edge, t)
        return self.scale * (
            ways * (self.height.at(p) / (ways @ self.normal))[:, None] - (self.even.base + p @ self.even.matrix.T)
        )

    def _parameters(self, p: Array) -> Array:
        """The edge's parameters, (n,), at points of it, (n, 3), mm.

        Newton's method on the distance along the edge, from the nearest of ``places``.
        """
        t = self.places[np.linalg.norm(self.points[None] - p[:, None], axis=2).argmin(axis=1)]
        low, high = self.edge.domain
        for _ in range(8):
            point, along = _along(self.frames, self.edge, t)[0], _across(self.frames, self.edge, t)
            t = np.clip(t + ((p - point) * along).sum(axis=1) / (along * along).sum(axis=1), low, high)
        return np.asarray(t)


@dataclass(frozen=True)
class Sides:
    """The directions V(p) in which a neighbour's sides leave the common section.

    Attributes:
        field: The affine part of V, for the whole outline.
        frames: The neighbour's frames at the one station of the common section.
        edges: The edges of the neighbour's outlines.
        forward: Whether the sides leave the neighbour in the direction of its path, or against it.
        pieces: The rest of V for each edge; empty where ``field`` is all of it.
    """

    field: Field
    frames: Frames
    edges: Sequence[Edge]
    forward: bool
    pieces: tuple[Piece | Uneven, ...] = ()

    def rising(self, normal: Array, height: Height) -> Sides:
        """The same directions with other lengths: each moves along ``normal`` (3,) as fast as ``height`` gives there.

        Raises:
            Problem: somewhere a side leads away from ``normal``, or runs in the section's plane.
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
    """The directions of a neighbour's sides at one of its end sections, leading away from the neighbour.

    They are fitted by one affine field for the outline, then by one for each edge, and kept exactly where neither fits
    within ``EVEN``.

    Args:
        motion: The motion that swept the neighbour.
        regions: The neighbour's section.
        last: Its last section is meant, else its first.

    Raises:
        Problem: somewhere a side runs in the section's plane.
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
    """Points of a neighbour's outlines, ``PLACES`` on each edge, and the directions of its sides there: (n, 3) each."""
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
    """Points of a section edge at its parameters t (n,), and their derivatives by station: (n, 3) each.

    ``frames`` has one station.
    """
    shares = frames.shares(edge.point(t))
    return np.asarray(shares @ frames.carriers[0]), np.asarray(shares @ frames.carrier_slopes[0])


def _across(frames: Frames, edge: Edge, t: Array) -> Array:
    """The derivatives of the same points by the edge's parameter, (n, 3)."""
    xy, d = edge.point(t), edge.derivative(t)
    shares = np.hstack([d[:, :2], *([] if frames.warp is None else [frames.warp.along(xy, d)])])
    return np.asarray(shares @ frames.carriers[0, 1:])


def _fitted(points: Array, values: Array) -> tuple[Field, Array]:
    """The affine field nearest to values (n, 3) at points (n, 3) by least squares, and the differences, (n, 3).

    The points are centred and scaled, so that the system is well conditioned however far out and small the outline is.
    """
    middle = points.mean(axis=0)
    size = float(np.abs(points - middle).max())
    known = np.column_stack([np.ones(len(points)), (points - middle) / size])
    found = np.linalg.lstsq(known, values, rcond=1e-9)[0]
    matrix = found[1:].T / size
    return Field(found[0] - matrix @ middle, matrix), values - known @ found


@dataclass(frozen=True)
class Lead:
    """The term ``h(s) U(p)`` that makes a shape tangent to its neighbour at one end.

    Attributes:
        course: How the shape's sections follow each other by station.
        at_end: The term is at the shape's last section, else at its first.
        carriers: What is added to C, X and Y for each unit of h, (3, 3).
        origin: The section's origin in space, (3,), mm.
        axes: The section's x and y axis, (2, 3); they carry the two further coordinates of the points of edges that
            have directions of their own.
        sections: How many sections the shape has.
        pieces: The rest of the directions for each edge; empty where there is none.
    """

    course: Course
    at_end: bool
    carriers: Array
    origin: Array
    axes: Array
    sections: int
    pieces: tuple[Piece | Uneven, ...] = ()

    def widened(self, edge: Edge) -> Edge:
        """An edge whose points have the two further coordinates: those of the nearest piece.

        Raises:
            Problem: the neighbour's sides are not smooth along the edge, so that no spline follows them.
        """
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
                    of="end" if self.at_end else "start",
                )
            return made
        return replace(
            edge,
            control=np.hstack(
                [edge.control, np.array([self.axes @ piece.field.at(p) for p in self._places(edge.control)])]
            ),
        )

    def _places(self, points: Array) -> Array:
        """Where points of the outline stand in space in the section at this end, (n, 3), mm.

        ``points`` (n, k) have the coordinates of all sections: those of the first, then for each further section the
        difference from the first.
        """
        own = points[:, :2] + (points[:, 2 * self.sections - 2 : 2 * self.sections] if self.at_end else 0.0)
        return self.origin + own @ self.axes

    def height(self, s: Array) -> tuple[Array, Array]:
        """h, mm, and its derivative at stations s (n,): (n,) each.

        h is 0 with slope 1 at its own section, and 0 with slope 0 at the next one and beyond: the Hermite polynomials
        t (1 - t)² and -t² (1 - t) over the stretch between the two sections, stretched by the section's handle.
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
    """The term that makes a shape tangent to a neighbour's sides at its first or last section.

    Args:
        course: How the shape's sections follow each other by station.
        at_end: It is the shape's last section, else its first.
        frames: The shape's own frames there (one station), without the term.
        sides: The directions of the neighbour's sides.
        beside_rails: The shape follows rails as well. Then each point moves along the normal as fast as the section's
            plane passes it, which a rail does too; so a rail that leaves along the sides displaces nothing.

    Raises:
        Problem: somewhere a side runs in the section's plane, or leads back into the shape.
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
        raise _leads_back().after("", of="end" if at_end else "start")
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
    """The largest extent of a neighbour's outlines along X, Y or Z, mm."""
    points, _ = _looked_at(sides.frames, sides.edges, sides.forward)
    return float(np.ptp(points, axis=0).max())


def widened(region: Region, leads: Sequence[Lead]) -> Region:
    """A region whose points have the further coordinates of some leads, one pair after the other."""

    def wide(loop: Loop) -> Loop:
        edges = list(loop.edges)
        for own in leads:
            edges = [own.widened(e) for e in edges]
        for before, edge in joints(edges, loop.open):
            edge.control[0] = before.control[-1]
        return replace(loop, edges=tuple(edges))

    loops = [wide(loop) for loop in region.loops]
    return replace(region, outer=loops[0], holes=tuple(loops[1:]))
