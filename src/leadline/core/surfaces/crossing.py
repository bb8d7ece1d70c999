"""Where two surfaces cross: every branch, found by meshes, traced and held to both by Newton's method.

Seeds come from triangles that cross; each is brought onto both surfaces. From a seed a branch is followed both ways
along the cross product of the normals, with steps that shorten where it turns, until it closes or leaves a surface. The
points are interpolated by a quintic spline, with more of them where it is off the surfaces. (The method is that of
Barnhill and Kersey, "A marching method for parametric surface/surface intersection", CAGD 7, 1990.)
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.interpolate import BSpline, make_interp_spline
from scipy.spatial import cKDTree

from leadline.core.geometry.plane import Array, cross
from leadline.core.paths.path import Path
from leadline.core.paths.pieces import SplinePiece
from leadline.core.problems import Problem
from leadline.core.surfaces.sheet import Sheet
from leadline.core.surfaces.touching import touching_triangles

EXACT = 1e-10  # mm between the two surfaces at a point of a branch, for a part of 100 mm
TOLERANCE = 1e-6  # mm by which the spline may be off between its points
LARGEST_TURN, SMALL_TURN = math.radians(15), math.radians(6)
FLAT = 1e-4  # sine of the angle between the normals under which the surfaces only touch
STEPS = 4000
NEWTON = 12
LAST_STEP = 1e-8


@dataclass(frozen=True)
class Branch:
    """A curve in which two surfaces cross."""

    path: Path
    off: float  # the greatest distance, mm, of the spline from the crossing, between its points
    points: int


Look = tuple[Array, Array, Array, Array]


class _Pair:
    """Two sheets; a place on both is (s, v) of the first and (s, v) of the second, (n, 4)."""

    def __init__(self, first: Sheet, second: Sheet) -> None:
        self.first, self.second = first, second
        self.low, self.high = np.concatenate([first.low, second.low]), np.concatenate([first.high, second.high])
        self.around = np.array([*first.around, *second.around])
        self.size = float(max(np.ptp(first.grid[1], axis=0).max(), np.ptp(second.grid[1], axis=0).max()))

    def wrapped(self, w: Array) -> Array:
        return np.hstack([self.first.wrapped(w[:, :2]), self.second.wrapped(w[:, 2:])])

    def look(self, w: Array) -> Look:
        """At places (n, 4): the points on both, the gap's derivative (n, 3, 4), and the way the crossing goes
        (n, 3).
        """
        p, ps, pv = self.first.at(w[:, :2])
        q, qs, qv = self.second.at(w[:, 2:])
        way = cross(_unit(cross(ps, pv)), _unit(cross(qs, qv)))
        return p, q, np.stack([ps, pv, -qs, -qv], axis=2), way

    def seeds(self) -> Array:
        """Places (n, 4) on both surfaces, near every place where their meshes cross."""
        (w, p, f), (x, q, g) = self.first.grid, self.second.grid
        i, j = touching_triangles(p, f, q, g)
        if len(i) == 0:
            return np.zeros((0, 4))
        start = np.hstack([w[f[i]].mean(axis=1), x[g[j]].mean(axis=1)])
        return self.settled(start)

    def settled(self, w: Array) -> Array:
        """Places brought onto both surfaces by the least change; those that do not get there are left out."""
        scale = np.maximum(self.high - self.low, 1e-12)
        for _ in range(NEWTON):
            p, q, jacobian, _ = self.look(w)
            j = jacobian * scale
            square = j @ j.transpose(0, 2, 1) + 1e-18 * np.eye(3)
            step = np.einsum("nji,nj->ni", j, np.linalg.solve(square, (p - q)[..., None])[..., 0]) * scale
            w = self.wrapped(w - np.clip(step, -0.1 * scale, 0.1 * scale))
        p, q, _, way = self.look(w)
        good = (np.linalg.norm(p - q, axis=1) < EXACT * max(1.0, self.size)) & (np.linalg.norm(way, axis=1) > FLAT)
        return np.asarray(w[good])

    def onto(self, w: Array, at: Array, way: Array) -> tuple[Array, Look, NDArray[np.bool_]]:
        """The places of the crossing in the plane through ``at`` (n, 3) square to ``way``, what is there, and whether
        it got there.
        """
        seen = self.look(w)
        for _ in range(NEWTON):
            p, q, jacobian, _ = seen
            ahead = np.einsum("nkc,nk->nc", jacobian * np.array([1, 1, 0, 0]), way)
            system = np.concatenate([jacobian, ahead[:, None]], axis=1)
            right = np.concatenate([p - q, ((p - at) * way).sum(axis=1)[:, None]], axis=1)
            bad = np.abs(np.linalg.det(system)) < 1e-300
            system[bad] = np.eye(4)
            step = np.linalg.solve(system, right[..., None])[..., 0]
            w = w - step
            seen = self.look(w)
            if float(np.abs(step / (self.high - self.low)).max()) < LAST_STEP:
                break  # the next would be of the order of its square
        exact = np.linalg.norm(seen[0] - seen[1], axis=1) < EXACT * max(1.0, self.size)
        return w, seen, exact & self.inside(w)

    def inside(self, w: Array) -> NDArray[np.bool_]:
        slack = 1e-9 * (self.high - self.low)
        return np.asarray((((w >= self.low - slack) & (w <= self.high + slack)) | self.around).all(axis=1))


def _unit(v: Array) -> Array:
    return np.asarray(v / np.maximum(np.linalg.norm(v, axis=1), 1e-300)[:, None])


def crossings(first: Sequence[Sheet], second: Sequence[Sheet]) -> list[Branch]:
    """Every branch in which two surfaces cross, the longest first.

    Raises:
        Problem: they do not cross, or only touch.
    """
    found: list[Branch] = []
    touched = False
    for a in first:
        for b in second:
            pair = _Pair(a, b)
            seeds = pair.seeds()
            touched = touched or len(seeds) > 0
            found += _branches(pair, seeds)
    if not found:
        raise Problem(
            "no-crossing",
            "The two surfaces do not cross." if not touched else "The two surfaces only touch.",
            "Move one of them, or lengthen it.",
            of="second",
        )
    return sorted(found, key=lambda branch: -branch.path.length)


def _branches(pair: _Pair, seeds: Array) -> list[Branch]:
    found = []
    while len(seeds):
        track, closed = _traced(pair, seeds[0])
        if len(track) > 2:
            found.append(_fitted(pair, track, closed))
        seeds = _left(pair, seeds[1:], track)
    return found


def _left(pair: _Pair, seeds: Array, track: Array) -> Array:
    """The seeds that are not on a track (m, 4) that was followed."""
    if len(seeds) == 0:
        return seeds
    points = pair.look(track)[0]
    chords = np.linalg.norm(np.diff(points, axis=0), axis=1)
    reach = float(chords.max(initial=0.0)) / 2 + 1e-9
    fine = np.linspace(0, 1, 9)[:-1]
    between = (points[:-1, None] + fine[:, None] * np.diff(points, axis=0)[:, None]).reshape(-1, 3)
    longest = np.max(
        [chords, np.roll(chords, 1), np.roll(chords, -1)], axis=0
    )  # a chord's first point is its neighbour's last
    sag = np.repeat(np.maximum(longest * LARGEST_TURN / 4 + longest / 16, 1e-6), len(fine))
    at = pair.look(seeds)[0]
    away, nearest = cKDTree(np.vstack([between, points[-1:]])).query(at, distance_upper_bound=reach)
    sag = np.append(sag, [sag[-1], 0.0])  # of the last point, and of what is out of reach
    return seeds[~(np.asarray(away) < sag[np.minimum(nearest, len(sag) - 1)])]


def _traced(pair: _Pair, seed: Array) -> tuple[Array, bool]:
    """The branch through a seed as places (n, 4) in order, and whether it closes."""
    ahead, closed = _followed(pair, seed, 1.0)
    if closed:
        return ahead, True
    back, _ = _followed(pair, seed, -1.0)
    return np.vstack([back[:0:-1], ahead]), False


def _followed(pair: _Pair, seed: Array, sign: float) -> tuple[Array, bool]:
    w = seed[None]
    track = [w[0]]
    seen = pair.look(w)
    start, heading = seen[0][0], sign * _unit(seen[3])[0]
    first = heading
    h, gone = pair.size / 100, 0.0
    for _ in range(STEPS):
        rate = _rate(seen, heading)
        step = _stepped(pair, w, seen, rate, heading, h)
        while step is None and h > 1e-7 * pair.size:
            edge = _to_the_border(pair, w, rate, 2 * h)
            if edge is not None:
                return _ended(pair, track, edge), False
            h /= 2
            step = _stepped(pair, w, seen, rate, heading, h)
        if step is None:
            return np.array(track), False
        w, seen, heading, turn = step
        gone += h
        track.append(w[0])
        if gone > 3 * h and float(np.linalg.norm(seen[0][0] - start)) < 0.9 * h and float(heading @ first) > 0:
            return np.array([*track[:-1], track[0]]), True
        if turn < SMALL_TURN:
            h = min(1.6 * h, pair.size / 20)
    return np.array(track), False


def _rate(seen: Look, heading: Array) -> Array:
    """How the place (4,) changes with the way along the branch."""
    jacobian, nought = seen[2][0], np.zeros((3, 2))
    both = np.block([[jacobian[:, :2], nought], [nought, -jacobian[:, 2:]]])
    return np.asarray(np.linalg.lstsq(both, np.concatenate([heading, heading]), rcond=None)[0])


def _stepped(
    pair: _Pair, w: Array, seen: Look, rate: Array, heading: Array, h: float
) -> tuple[Array, Look, Array, float] | None:
    """One step of ``h`` along a branch; None when it leaves a surface, is lost or turns too much."""
    at = seen[0][0]
    to, there, good = pair.onto(w + h * rate, (at + h * heading)[None], heading[None])
    if not good[0]:
        return None
    p, _, _, way = there
    if float(np.linalg.norm(way)) < FLAT or float(np.linalg.norm(p[0] - at)) > 1.5 * h:
        return None
    onward = _unit(way)[0]
    onward = onward if float(onward @ heading) > 0 else -onward
    turn = math.acos(min(1.0, float(onward @ heading)))
    return None if turn > LARGEST_TURN else (pair.wrapped(to), there, onward, turn)


def _ended(pair: _Pair, track: list[Array], edge: Array) -> Array:
    """A track with its end on the border; a last point that is close to it gives way, so that the spline has even
    knots.
    """
    p = pair.look(np.array([*track[-2:], edge]))[0]
    gaps = np.linalg.norm(np.diff(p, axis=0), axis=1)
    return np.array([*(track[:-1] if len(gaps) > 1 and gaps[1] < 0.3 * gaps[0] else track), edge])


def _to_the_border(pair: _Pair, w: Array, rate: Array, reach: float) -> Array | None:
    """Where the branch leaves a surface within ``reach``; None when it does not get there."""
    with np.errstate(divide="ignore", invalid="ignore"):
        room = np.where(rate > 0, (pair.high - w[0]) / rate, (pair.low - w[0]) / rate)
    room = np.where(pair.around | (np.abs(rate) < 1e-12), np.inf, room)
    k = int(np.argmin(room))
    if not room[k] < reach:
        return None
    border = pair.high[k] if rate[k] > 0 else pair.low[k]
    x = w[0] + room[k] * rate
    free = [i for i in range(4) if i != k]
    for _ in range(NEWTON):
        x[k] = border
        p, q, jacobian, _ = pair.look(x[None])
        x[free] -= np.linalg.lstsq(jacobian[0][:, free], (p - q)[0], rcond=None)[0]
    p, q, _, _ = pair.look(x[None])
    fine = float(np.linalg.norm(p - q)) < EXACT * max(1.0, pair.size) and bool(pair.inside(x[None])[0])
    near = float(np.linalg.norm(p[0] - pair.look(w)[0][0])) < 2 * reach
    return x if fine and near else None


def _fitted(pair: _Pair, track: Array, closed: bool) -> Branch:
    """A quintic spline through a track, with points added where it is off the crossing."""
    off = math.inf
    for _ in range(9):
        points, _, _, ways = pair.look(track)
        knots = _lengths(points, _unit(ways))
        curve = _interpolated(knots, points, closed)
        middles = (knots[:-1] + knots[1:]) / 2
        slope = _unit(curve.derivative()(middles))
        at = curve(middles)
        start = track[:-1] + _halfway(pair, track)
        places, seen, good = pair.onto(start, at, slope)
        gaps = np.linalg.norm(seen[0] - at, axis=1)
        gaps[~good] = np.where(np.diff(knots)[~good] > 1e-6, np.inf, 0.0)
        off = float(gaps.max())
        worse = (gaps > TOLERANCE) & good
        if not worse.any():
            break
        where = np.flatnonzero(worse)
        track = np.insert(track, where + 1, pair.wrapped(places[where]), axis=0)
    return Branch(Path([SplinePiece(curve, "crossing")], closed), off, len(track))


def _lengths(points: Array, tangents: Array) -> Array:
    """Lengths along a curve up to its points: of circular arcs with these chords and the turns of the tangents.

    Chords alone would jump against the length where they get shorter, and the spline would ring there.
    """
    chords = np.linalg.norm(np.diff(points, axis=0), axis=1)
    half = np.arccos(np.clip(np.abs((tangents[1:] * tangents[:-1]).sum(axis=1)), 0.0, 1.0)) / 2
    return np.concatenate([[0.0], np.cumsum(chords / np.sinc(half / np.pi))])


def _halfway(pair: _Pair, track: Array) -> Array:
    """Half of the way from each place of a track to the next, the short way round."""
    way = np.diff(track, axis=0)
    span = pair.high - pair.low
    round_way = way - span * np.round(way / span)
    return np.asarray(np.where(pair.around, round_way, way) / 2)


def _interpolated(knots: Array, points: Array, closed: bool) -> BSpline:
    if closed:
        points = np.vstack([points[:-1], points[:1]])
        return make_interp_spline(knots, points, k=5, bc_type="periodic")
    return make_interp_spline(knots, points, k=min(5, (len(points) - 1) // 2 * 2 - 1 if len(points) < 6 else 5))
