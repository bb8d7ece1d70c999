"""Routes: straight runs through points in space, joined by bends tangent to both."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from scipy.interpolate import make_interp_spline

from leadline.core.geometry.plane import Array, angles_between
from leadline.core.paths.corners import bend, inward
from leadline.core.paths.fair import Passing, fair_through
from leadline.core.paths.path import Path
from leadline.core.paths.pieces import LinePiece, Piece, SplinePiece
from leadline.core.problems import Problem, mm
from leadline.core.sketch.splines import chord_knots
from leadline.core.sketch.splines import through_points as spline_through

STRAIGHT = 1e-7  # rad under which a point stands in a straight run
BACK = math.radians(179.5)
SAME = 1e-6  # mm


@dataclass(frozen=True)
class Run:
    """Between two points: ``length`` from point to point, ``straight`` what the bends leave of it."""

    length: float
    straight: float


@dataclass(frozen=True)
class Bend:
    """At a point (its index): the angle that the route turns by (rad), radius, and the station of its middle."""

    point: int
    turn: float
    radius: float
    station: float


@dataclass(frozen=True)
class Route:
    path: Path
    runs: tuple[Run, ...]
    bends: tuple[Bend, ...]
    idle: tuple[int, ...]  # points in a straight run, where there is nothing to bend


def through_points(
    points: Array, radii: Sequence[float], closed: bool = False, names: Sequence[str] | None = None
) -> Route:
    """Lines and arcs through ``points`` (n, 3) with a bend of its radius (n) at each corner; radius 0 leaves it sharp.

    Raises:
        Problem: two points in a row are the same, the route turns back, a radius is under zero, or bends overlap.
    """
    n = len(points)
    names = names or [str(i + 1) for i in range(n)]
    count = n if closed else n - 1
    gaps, lengths = _gaps(points, closed)
    ways = gaps / lengths[:, None]
    turns = np.zeros(n)
    turns[0 if closed else 1 : count] = angles_between(np.roll(ways, 1, axis=0), ways)[0 if closed else 1 :]
    for i in range(0 if closed else 1, count):
        _check_bend(i, turns[i], radii[i])
    cuts = np.where(turns > STRAIGHT, np.asarray(radii) * np.tan(turns / 2), 0.0)
    for i in range(count):
        _check_run(i, (i + 1) % n, lengths[i], cuts, radii)
    pieces: list[Piece] = []
    bends, reached = [], 0.0
    begins = points[:count] + cuts[:count, None] * ways
    ends = np.roll(points, -1, axis=0)[:count] - np.roll(cuts, -1)[:count, None] * ways
    towards = inward(ways, np.roll(ways, -1, axis=0))
    for i in range(count):
        j = (i + 1) % n
        if lengths[i] - cuts[i] - cuts[j] > SAME:
            pieces.append(LinePiece(begins[i], ends[i], f"{names[i]}-{names[j]}"))
            reached += pieces[-1].length
        if cuts[j] > 0:
            pieces.append(bend(ends[i], ways[i], towards[i], radii[j], float(turns[j]), names[j]))
            bends.append(Bend(j, float(turns[j]), float(radii[j]), reached + pieces[-1].length / 2))
            reached += pieces[-1].length
    runs = tuple(Run(float(length), float(length - cuts[i] - cuts[(i + 1) % n])) for i, length in enumerate(lengths))
    inner = range(n) if closed else range(1, n - 1)
    return Route(Path(pieces, closed), runs, tuple(bends), tuple(i for i in inner if turns[i] <= STRAIGHT))


def _gaps(points: Array, closed: bool) -> tuple[Array, Array]:
    """The way from each point to the next (m, 3) and its length (m,). Raises Problem as ``through_points`` does."""
    n = len(points)
    if closed and n < 3:
        raise Problem(
            "few-points",
            "A closed route needs three points at least.",
            "Add a point, or open the route.",
            of="points",
        )
    gaps = np.array([points[(i + 1) % n] - points[i] for i in range(n if closed else n - 1)])
    lengths = np.linalg.norm(gaps, axis=1)
    if lengths.min() < SAME:
        twin = int(np.argmin(lengths))
        raise Problem(
            "same-point",
            f"Points {twin + 1} and {(twin + 1) % n + 1} are the same.",
            "Move one or take it away.",
            of="points",
            point=twin,
        )
    return gaps, lengths


def _check_bend(i: int, turn: float, radius: float) -> None:
    if turn > BACK:
        raise Problem(
            "turns-back",
            f"At point {i + 1} the route turns straight back.",
            "Move the point aside.",
            of="points",
            point=i,
        )
    if radius < 0:
        raise Problem(
            "bad-size",
            f"The bend radius at point {i + 1} is under zero: {mm(radius)}.",
            "Give zero for a sharp corner, or more.",
            of="radius",
            point=i,
        )


def _check_run(i: int, j: int, length: float, cuts: Array, radii: Sequence[float]) -> None:
    taken = cuts[i] + cuts[j]
    if taken <= length + SAME:
        return
    least = [mm(radii[k]) for k in (i, j) if cuts[k] > 0]
    raise Problem(
        "bends-overlap",
        (
            f"The run from point {i + 1} to {j + 1} is {mm(length)} long, but its bends ({' and '.join(least)}) "
            f"take {mm(float(taken))} of it."
        ),
        (
            f"Give {'both' if len(least) > 1 else 'the bend'} at most {length / taken:.0%} of that radius, or "
            f"move the points {mm(float(taken - length))} apart."
        ),
        of="radius",
        point=i,
    )


def smooth_through(points: Array, closed: bool, passing: Mapping[int, Passing] | None = None) -> Path:
    """One curve of continuous curvature through ``points`` (n, 3), straight at its ends; knots centripetal (Lee, CAD
    21(6), 1989).

    ``passing`` gives directions and curvatures at some of the points, by index.

    Raises:
        Problem: two points in a row are the same, or a closed curve has fewer than three; a direction or curvature
            cannot be kept.
    """
    _gaps(points, closed)
    if closed:
        points = np.vstack([points, points[:1]])
    if passing:
        return Path([SplinePiece(fair_through(chord_knots(points), points, passing, closed), "curve")], closed)
    if closed:
        ring = make_interp_spline(chord_knots(points), points, k=3, bc_type="periodic")
        return Path([SplinePiece(ring, "curve")], True)
    return Path([SplinePiece(spline_through(chord_knots(points), points), "curve")])
