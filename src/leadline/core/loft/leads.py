"""How a shape goes on from the sides of a neighbour: tangent to them at the section that the two have in common.

There a side of the neighbour runs along V(p), its section point's derivative by station. The shape's own point is given the same direction by a
term that is nought at the section and has a slope there: ``h(s) U(p)``, with U what is missing to V, scaled to the speed of one at the
section's origin. All of it is affine in p, so that it goes into the carriers C, X and Y.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

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
class Sides:
    """Directions V (3,) of a neighbour's sides where its section is at p (3,): ``V = base + matrix @ p``."""

    base: Array
    matrix: Array

    def at(self, p: Array) -> Array:
        return np.asarray(self.base + self.matrix @ p)


def sides_at(motion: Motion, regions: list[Region], last: bool) -> Sides:
    """How the sides of a motion run at its first or last section, away from what lies between.

    Raises:
        Problem: they do not run as one affine field says.
    """
    frames = motion.ends.at_index(1 if last else 0)
    points, slopes = [], []
    for region in regions:
        for edge in motion.lifted(region.outer).edges:
            places = edge.point(np.linspace(*edge.domain, PLACES))
            for place in places:
                p, v = frames.each(place[None])
                points.append(p[0])
                slopes.append(v[0])
    at, v = np.array(points), np.array(slopes) * (1.0 if last else -1.0)
    middle = at.mean(axis=0)
    size = float(np.abs(at - middle).max())
    known = np.column_stack([np.ones(len(at)), (at - middle) / size])
    found = np.linalg.lstsq(known, v, rcond=1e-9)[0]
    if np.abs(known @ found - v).max() > EVEN * np.abs(v).max():
        raise Problem("tangent-uneven", "The sides that it is to be tangent to do not go on evenly there.", "Let it leave square to the face.")
    matrix = found[1:].T / size
    return Sides(found[0] - matrix @ middle, matrix)


@dataclass(frozen=True)
class Lead:
    """A term ``h(s) U(p)`` at one end: ``carriers`` (3, 3) are what C, X and Y get of it."""

    course: Course
    at_end: bool
    carriers: Array

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
    wanted = sign * np.array([sides.at(C), sides.matrix @ X, sides.matrix @ Y])
    speed = float(wanted[0] @ normal)
    if speed < STEEP * float(np.linalg.norm(wanted[0])):
        raise Problem("tangent-back", "The sides that it is to be tangent to do not lead this way.", "Pick the face on the other end, or let it leave square.")
    own = np.array([frames.dC[0], frames.dX[0], frames.dY[0]])
    return Lead(course, at_end, wanted / speed - own)
