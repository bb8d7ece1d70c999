"""How a shape goes on from the sides of a neighbour: tangent to them at the section that the two have in common.

There a side of the neighbour runs along V(p), its section point's derivative by station. The shape's own point is given the same direction by a
term that is nought at the section and has a slope there: ``h(s) U(p)``, with U what is missing to V, scaled to the speed of one at the
section's origin. What of it is affine in p goes into the carriers C, X and Y; what each edge has besides (the sides of a tapered outline lean
each its own way) is a further pair of coordinates of the edge's points.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from leadline.core.geometry.edges import Edge
from leadline.core.geometry.plane import Array
from leadline.core.geometry.section import Region
from leadline.core.loft.shares import Course
from leadline.core.problems import Problem
from leadline.core.sweep.frames import Frames
from leadline.core.sweep.motion import Motion

EVEN = 1e-7  # of the greatest slope, by which sides may differ from an affine field
STEEP = 1e-3  # the least share of a side's direction that is along the shape
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


@dataclass(frozen=True)
class Sides:
    """Directions V (3,) of a neighbour's sides where its section is at p (3,): an affine field for all, and what each edge has besides, if any has."""

    field: Field
    pieces: tuple[Piece, ...] = ()


def sides_at(motion: Motion, regions: list[Region], last: bool) -> Sides:
    """How the sides of a motion run at its first or last section, away from what lies between.

    Raises:
        Problem: along some edge they do not run as one affine field in the section's plane says.
    """
    frames = motion.ends.at_index(1 if last else 0)
    found = [_along(frames, edge) for region in regions for loop in region.loops for edge in motion.lifted(loop).edges]
    points, slopes = (np.vstack([f[k] for f in found]) for k in (0, 1))
    slopes *= 1.0 if last else -1.0
    field, rest = _fitted(points, slopes)
    slack = EVEN * float(np.abs(slopes).max())
    if np.abs(rest).max() < slack:
        return Sides(field)
    normal = np.cross(frames.X[0], frames.Y[0])
    pieces = []
    for own, left in zip(np.split(points, len(found)), np.split(rest, len(found)), strict=True):
        part, missing = _fitted(own, left)
        if np.abs(missing).max() > slack or np.abs(left @ normal).max() > slack * float(np.linalg.norm(normal)):
            raise Problem("tangent-uneven", "The sides that it is to be tangent to do not go on evenly there.", "Let it leave square to the face.")
        pieces.append(Piece(own, part))
    return Sides(field, tuple(pieces))


def _along(frames: Frames, edge: Edge) -> tuple[Array, Array]:
    """Points of a section edge at one station, and their derivatives by station, each (n, 3)."""
    found = [frames.each(place[None]) for place in edge.point(np.linspace(*edge.domain, PLACES))]
    return np.vstack([p for p, _ in found]), np.vstack([v for _, v in found])


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

    Where edges have a part of their own, their points get two further coordinates, which ``axes`` (2, 3) carry.
    """

    course: Course
    at_end: bool
    carriers: Array
    origin: Array
    axes: Array
    pieces: tuple[Piece, ...] = ()

    def beside(self, edge: Edge) -> Array:
        """The further coordinates (n, 2) of an edge's control points; its points have those of all sections, the first one's and from there to the others'."""
        own = edge.control[:, :2] + (edge.control[:, -2:] if self.at_end else 0.0)
        a, b = edge.domain
        middle = edge.point(np.array([(a + b) / 2]))[0]
        at = self.origin + (middle[:2] + (middle[-2:] if self.at_end else 0.0)) @ self.axes
        piece = min(self.pieces, key=lambda p: float(np.linalg.norm(p.points - at, axis=1).min()))
        return np.array([self.axes @ piece.field.at(self.origin + c @ self.axes) for c in own])

    def height(self, s: Array) -> tuple[Array, Array]:
        """h and its derivative, each (n,): with a slope of one at its own section, nought at it and from the next one on."""
        stations, hold = self.course.stations, (self.course.end if self.at_end else self.course.start).hold
        a, b = stations[-2:] if self.at_end else stations[:2]
        seen, rate = self.course.seen(s)
        t, dt = (seen - a) / (b - a), rate / (b - a)
        inside = (s >= a) & (s <= b)
        reach = 3 * hold * (b - a)
        h, dh = (-t * t * (1 - t), 3 * t * t - 2 * t) if self.at_end else (t * (1 - t) ** 2, (1 - t) * (1 - 3 * t))
        return np.where(inside, reach * h, 0.0), np.where(inside, reach * dh * dt, 0.0)


def lead(course: Course, at_end: bool, frames: Frames, sides: Sides) -> Lead:
    """What makes a shape tangent to ``sides`` at its first or last section, where its own ``frames`` (one station) are without that.

    Raises:
        Problem: the sides run along the section there, or back.
    """
    C, X, Y, T = frames.C[0], frames.X[0], frames.Y[0], frames.T[0]
    normal = np.cross(X, Y)
    normal *= np.sign(normal @ T)
    sign = -1.0 if at_end else 1.0  # at its end the shape goes into the neighbour, against where the sides point
    wanted = sign * np.array([sides.field.at(C), sides.field.matrix @ X, sides.field.matrix @ Y])
    speed = float(wanted[0] @ normal)
    if speed < STEEP * float(np.linalg.norm(wanted[0])):
        raise Problem("tangent-back", "The sides that it is to be tangent to do not lead this way.", "Pick the face on the other end, or let it leave square.")
    own = np.array([frames.dC[0], frames.dX[0], frames.dY[0]])
    pieces = tuple(Piece(p.points, p.field.scaled(sign / speed)) for p in sides.pieces)
    return Lead(course, at_end, wanted / speed - own, C, np.array([X, Y]), pieces)


def widened(region: Region, leads: Sequence[Lead]) -> Region:
    """A region whose points have the further coordinates of some leads."""

    def wide(edge: Edge) -> Edge:
        return replace(edge, control=np.hstack([edge.control, *(lead.beside(edge) for lead in leads)]))

    loops = [replace(loop, edges=tuple(wide(e) for e in loop.edges)) for loop in region.loops]
    return replace(region, outer=loops[0], holes=tuple(loops[1:]))
