"""A bent tube that is measured: points along its straights become bends again, and what they differ by corrects the
program.

An arm with a fork is led along each straight, so that what it gives are points on the tube's axis, in axes of its own.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from leadline.core.geometry.plane import Array, cross
from leadline.core.paths.bends import BendRow, Bends, corners_of, path_of
from leadline.core.problems import Problem
from leadline.core.trades.tube_bending import Springback

PARALLEL = 1e-3  # rad between two straights, under which they have no corner
X, Z = np.array([1.0, 0.0, 0.0]), np.array([0.0, 0.0, 1.0])


@dataclass(frozen=True)
class Correction:
    """What is added to a row of the program: to the feed (mm), to the turn and to the bend (rad)."""

    feed: float = 0.0
    turn: float = 0.0
    angle: float = 0.0


@dataclass(frozen=True)
class Sample:
    """How a simulated tube behaves otherwise than it is told: its own springback, how much further each turn goes
    (rad), how much of each feed is lost (a share) and the noise of the arm (mm, standard deviation).
    """

    give: Springback
    turned: float
    slip: float
    noise: float


@dataclass(frozen=True)
class Measured:
    """Bends as measured; how far each row is from the nominal one; and how far corners and ends are off after the best
    fit, (n + 2,) mm.
    """

    bends: Bends
    off: tuple[Correction, ...]
    last: float
    away: Array


def bent_of(made: Bends, sample: Sample) -> Bends:
    """What a sample becomes when it is bent as ``made`` says."""
    rows = []
    for i, row in enumerate(made.rows):
        turn = row.turn + (sample.turned if i else 0.0)
        rows.append(
            replace(
                row,
                feed=row.feed * (1 - sample.slip),
                turn=turn,
                angle=sample.give.left(row.angle),
                radius=row.radius * (1 + sample.give.growth),
            )
        )
    return Bends(tuple(rows), made.last)


def probed(bends: Bends, noise: float, random: np.random.Generator, each: int = 12) -> list[Array]:
    """Points that an arm finds on each straight of a tube, ``each`` (n, 3), its two ends' straights up to the ends; in
    the arm's own axes.
    """
    path = path_of(bends, np.zeros(3), X, Z)
    turned, _ = np.linalg.qr(random.normal(size=(3, 3)))
    turned *= np.sign(np.linalg.det(turned))
    found, at = [], 0.0
    for feed, arc in [*((r.feed, r.radius * r.angle) for r in bends.rows), (bends.last, 0.0)]:
        points = path.point(at + np.linspace(0.0, feed, each))
        found.append(points @ turned.T + random.normal(scale=noise, size=(each, 3)) + 100.0)
        at += feed + arc
    return found


def bends_through(straights: Sequence[Array], radii: Sequence[float]) -> Bends:
    """The bends of a tube whose straights were probed: a line is fitted to each, neighbours meet in the middle of their
    shortest distance.

    Raises:
        Problem: two straights are nearly parallel, or a straight is too short for the radii beside it.
    """
    lines = [_line(points) for points in straights]
    corners = [
        _foot(lines[0], straights[0][0]),
        *(_corner(a, b, i) for i, (a, b) in enumerate(itertools.pairwise(lines))),
        _foot(lines[-1], straights[-1][-1]),
    ]
    return bends_from(np.array(corners), radii)


def bends_from(corners: Array, radii: Sequence[float]) -> Bends:
    """The bends of a tube from its corners (n + 2, 3), ends included, and the radius at each: L = |P(i) P(i+1)| - T(i)
    - T(i+1), T = R tan(θ/2).

    Raises:
        Problem: a straight is too short for the radii beside it.
    """
    legs = np.diff(corners, axis=0)
    lengths = np.linalg.norm(legs, axis=1)
    ways = legs / lengths[:, None]
    normals = cross(ways[:-1], ways[1:])
    angles = np.arctan2(np.linalg.norm(normals, axis=1), (ways[:-1] * ways[1:]).sum(axis=1))
    reach = np.array([0.0, *(r * math.tan(a / 2) for r, a in zip(radii, angles, strict=True)), 0.0])
    feeds = lengths - reach[:-1] - reach[1:]
    if (feeds < -1e-9).any():
        i = int(feeds.argmin())
        raise Problem(
            "bad-bends", f"Straight {i + 1} is too short for the radii beside it.", "Give less radius.", row=i + 1
        )
    rows, at = [], 0.0
    for i, (angle, radius) in enumerate(zip(angles, radii, strict=True)):
        turn = (
            0.0
            if i == 0
            else math.atan2(float(cross(normals[i - 1], normals[i]) @ ways[i]), float(normals[i - 1] @ normals[i]))
        )
        at += float(feeds[i])
        rows.append(BendRow(float(feeds[i]), turn, float(angle), radius, at, at + radius * float(angle)))
        at = rows[-1].end
    return Bends(tuple(rows), float(feeds[-1]))


def compared(nominal: Bends, measured: Bends) -> Measured:
    """What measured bends, as many as the nominal ones, are off by, row by row, and at corners and ends once laid over
    each other as well as it goes.
    """
    off = tuple(
        Correction(found.feed - row.feed, math.remainder(found.turn - row.turn, 2 * math.pi), found.angle - row.angle)
        for row, found in zip(nominal.rows, measured.rows, strict=True)
    )
    wanted, got = (corners_of(b, np.zeros(3), X, Z)[0] for b in (nominal, measured))
    return Measured(measured, off, measured.last - nominal.last, np.linalg.norm(_fitted(got, wanted) - wanted, axis=1))


def corrected(so_far: Sequence[Correction], measured: Measured) -> tuple[Correction, ...]:
    """The corrections for the next tube: those of this one, less what it was off by."""
    return tuple(
        Correction(c.feed - m.feed, c.turn - m.turn, c.angle - m.angle)
        for c, m in zip(so_far, measured.off, strict=True)
    )


def with_corrections(made: Bends, corrections: Sequence[Correction]) -> Bends:
    """A program with what is added to its rows; those beyond the corrections stay."""
    more = [*corrections, *[Correction()] * len(made.rows)][: len(made.rows)]
    return Bends(
        tuple(
            replace(r, feed=r.feed + c.feed, turn=r.turn + c.turn, angle=r.angle + c.angle)
            for r, c in zip(made.rows, more, strict=True)
        ),
        made.last,
    )


def _line(points: Array) -> tuple[Array, Array]:
    """A place on the line through points, and its direction from the first of them towards the last."""
    middle = points.mean(axis=0)
    way = np.linalg.svd(points - middle)[2][0]
    return middle, way * np.sign(way @ (points[-1] - points[0]))


def _foot(line: tuple[Array, Array], point: Array) -> Array:
    at, way = line
    return np.asarray(at + way * float(way @ (point - at)))


def _corner(first: tuple[Array, Array], second: tuple[Array, Array], i: int) -> Array:
    """The middle of the shortest distance of two lines. Raises Problem when they are nearly parallel."""
    (a, u), (b, v) = first, second
    c = float(u @ v)
    if 1 - c * c < PARALLEL**2:
        raise Problem(
            "parallel-straights",
            f"The straights beside bend {i + 1} are nearly parallel.",
            "Measure again, or divide the bend.",
            row=i + 1,
        )
    d = b - a
    s, t = np.linalg.solve(np.array([[1.0, -c], [c, -1.0]]), np.array([d @ u, d @ v]))
    return np.asarray((a + s * u + b + t * v) / 2)


def _fitted(points: Array, onto: Array) -> Array:
    """Points moved and turned as a whole so that they lie as near to others as they can, by least squares (Kabsch
    1976).
    """
    a, b = points - points.mean(axis=0), onto - onto.mean(axis=0)
    u, _, vt = np.linalg.svd(a.T @ b)
    flip = np.diag([1.0, 1.0, np.sign(np.linalg.det(u @ vt))])
    return np.asarray(a @ (u @ flip @ vt) + onto.mean(axis=0))
