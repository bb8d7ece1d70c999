"""Hoses between two ports: a straight at each end and a smooth curve between, shaped freely or settled as an elastic
rod.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np
from scipy.interpolate import BSpline, make_interp_spline
from scipy.optimize import brentq

from leadline.core.geometry.plane import Array, any_square_to
from leadline.core.paths.path import Path
from leadline.core.paths.pieces import LinePiece, Piece, SplinePiece
from leadline.core.paths.rod import Clamps, settled
from leadline.core.problems import Problem, mm

SEGMENTS = 240
FINER = 4  # times that its segments are halved at most
BEND_SHARE = 1e-4  # of the tightest bend, by which halving may still change it
LEAST = 1e-6
SLACK = 1e-7  # of the length: under that the hose is as good as straight
THIN = 10  # segments from one knot of the finished curve to the next
GROWTH = 1.12  # of the length from one rest to the next
BOW = 0.1  # that a first guess bows out by, so that a straight rod buckles to a known side
MOST_SLACK = 20.0  # times the way from port to port


@dataclass(frozen=True)
class Port:
    """Where a hose connects: a point, the outward direction, and the straight length there, mm."""

    point: Array
    outward: Array
    straight: float

    @property
    def free(self) -> Array:
        """Where the straight ends."""
        return np.asarray(self.point + self.straight * self.outward)


def shaped(
    start: Port,
    end: Port,
    through: Array,
    pulls: tuple[float, float] = (1.0, 1.0),
    ways: Mapping[int, Array] | None = None,
) -> Path:
    """A curve with continuous curvature from port to port, ``through`` points (n, 3) between.

    It leaves the straights without bending. ``pulls`` say how far it goes on in the direction of each port; ``ways``
    are unit directions (3,) in which it passes some of the points.

    Raises:
        Problem: two places in a row are the same; a pull is not above zero.
    """
    if min(pulls) <= 0:
        raise Problem("bad-size", "The pull of an end is not above zero.", "Give one above zero.", of="pull")
    places = np.vstack([start.free, through.reshape(-1, 3), end.free])
    steps = np.linalg.norm(np.diff(places, axis=0), axis=1)
    if steps.min() < LEAST:
        raise Problem(
            "same-place",
            "Two places that the hose passes are the same, or its straights meet.",
            "Move one of them, or shorten a straight.",
            of="points",
        )
    return _joined(start, end, _spline(places, steps, start.outward * pulls[0], -end.outward * pulls[1], ways))


def _spline(places: Array, steps: Array, first: Array, last: Array, ways: Mapping[int, Array] | None = None) -> BSpline:
    """Quintic by chord length with given end slopes and no second derivative at its ends.

    A knot stands at each inner place, and twice where a slope is given, so that the fourth derivative may jump there;
    there are then as many coefficients as conditions.
    """
    ways = ways or {}
    u = np.concatenate([[0.0], np.cumsum(steps)])
    slopes = {0: first, len(u) - 1: last, **{i + 1: way for i, way in ways.items()}}
    knots = np.concatenate([[u[0]] * 6, np.sort(np.concatenate([u[1:-1], u[1:-1][list(ways)]])), [u[-1]] * 6])
    basis = BSpline(knots, np.eye(len(knots) - 6), 5)
    sloped = sorted(slopes)
    rows = np.vstack([basis(u), basis(u[sloped], 1), basis(u[[0, -1]], 2)])
    wanted = np.vstack([places, [slopes[i] for i in sloped], np.zeros((2, 3))])
    return BSpline(knots, np.linalg.solve(rows, wanted), 5)


def _joined(start: Port, end: Port, curve: BSpline) -> Path:
    pieces: list[Piece] = []
    if start.straight > LEAST:
        pieces.append(LinePiece(start.point, start.free, "straight-start"))
    pieces.append(SplinePiece(curve, "hose"))
    if end.straight > LEAST:
        pieces.append(LinePiece(end.free, end.point, "straight-end"))
    return Path(pieces)


def hanging(start: Port, end: Port, length: float, load: Array | None = None) -> Path:
    """The hose of ``length`` mm from port to port as an elastic rod at rest; ``load`` as in ``rod.settled``.

    Raises:
        Problem: it is too short for its ports, or far too long; it finds no rest.
    """
    own = length - start.straight - end.straight
    way = float(np.linalg.norm(end.free - start.free))
    if own < way * (1 + SLACK):
        raise Problem(
            "hose-too-short",
            (
                f"The hose is {mm(length)} long, but its ports are {mm(way + start.straight + end.straight)} "
                "apart, straights included."
            ),
            f"Give it more than {mm(way + start.straight + end.straight)}, or move the ports.",
            of="length",
        )
    if own > MOST_SLACK * max(way, 1.0):
        raise Problem(
            "hose-too-long",
            f"The hose is {own / max(way, 1.0):.3g} times as long as the way between its ports.",
            f"Give it at most {MOST_SLACK:g} times the way.",
            of="length",
        )
    clamps = Clamps(np.array([start.free, end.free]), np.array([start.outward, -end.outward]))
    d, first = _guess(start, end)
    count = max(1, math.ceil(abs(math.log(own / first)) / math.log(GROWTH)))
    for i in range(count):  # the length grows from that of the shaped curve, so that the rod stays on its branch
        d = settled(d, first * (own / first) ** ((i + 1) / count), clamps, load)
    path = _joined(start, end, _through_rod(d, own, clamps))
    if load is None:
        return path
    for _ in range(FINER):  # at the clamps a heavy rod bends within a short way, which needs shorter segments
        d = settled(_halved(d, clamps.ways), own, clamps, load)
        finer = _joined(start, end, _through_rod(d, own, clamps))
        coarse, fine = tightest(path)[0], tightest(finer)[0]
        if abs(coarse - fine) <= BEND_SHARE * fine or math.isinf(coarse):
            break
        path = finer
    return path


def _halved(d: Array, ways: Array) -> Array:
    """Directions of twice as many segments, midway between those that there are."""
    known = np.vstack([ways[0], d, ways[1]])
    at = np.concatenate([[0.0], np.arange(len(d)) + 0.5, [len(d)]])
    middles = (np.arange(2 * len(d)) + 0.5) / 2
    return np.stack([np.interp(middles, at, known[:, k]) for k in range(3)], axis=1)


def _through_rod(d: Array, own: float, clamps: Clamps) -> BSpline:
    start = clamps.ends[0]
    nodes = np.vstack([start, start + np.cumsum(d, axis=0) * own / len(d)])
    return _through_nodes(nodes, d, own, clamps.ways)


def _guess(start: Port, end: Port) -> tuple[Array, float]:
    """Directions (n, 3) of the shaped curve, bowed out a little, and its length."""
    chord = end.free - start.free
    curve = _spline(np.vstack([start.free, end.free]), np.array([np.linalg.norm(chord)]), start.outward, -end.outward)
    points = curve(np.linspace(curve.t[0], curve.t[-1], 5 * SEGMENTS + 1))
    along = np.concatenate([[0.0], np.cumsum(np.linalg.norm(np.diff(points, axis=0), axis=1))])
    even = np.stack([np.interp(np.linspace(0, along[-1], SEGMENTS + 1), along, points[:, k]) for k in range(3)], axis=1)
    side = _side(points[len(points) // 2] - (start.free + end.free) / 2, chord)
    d = np.diff(even, axis=0)
    bow = BOW * np.linalg.norm(d[0]) * np.sin(2 * math.pi * (np.arange(SEGMENTS) + 0.5) / SEGMENTS)
    return d + bow[:, None] * side, float(along[-1])


def _side(bow: Array, chord: Array) -> Array:
    """The way to bow: where the ports send the curve, else down, else anywhere square to the chord."""
    length = float(np.linalg.norm(chord))
    ahead = chord / length if length > LEAST else np.zeros(3)
    for wish in (bow, np.array([0.0, 0.0, -1.0])):
        square = wish - ahead * float(wish @ ahead)
        size = float(np.linalg.norm(square))
        if size > 1e-3 * max(1.0, float(np.linalg.norm(wish))):
            return np.asarray(square / size)
    return any_square_to(ahead)


def _through_nodes(nodes: Array, d: Array, own: float, ways: Array) -> BSpline:
    """A spline whose slopes are the rod's directions: they are its tangents midway along the segments.

    It goes through every few of them only, because each of its knots becomes an edge of what is swept.
    """
    n = len(d)
    some = np.arange(THIN // 2, n, THIN)
    at = np.concatenate([[0.0], (some + 0.5) * own / n, [own]])
    slopes = np.vstack([ways[0], d[some], ways[1]])
    plain = make_interp_spline(at, slopes, k=5).antiderivative()
    off = (
        nodes[-1] - nodes[0] - (plain(own) - plain(0.0))
    )  # of order 1/n², spread so that the directions at the clamps stay
    share = at / own
    curve = make_interp_spline(at, slopes + (6 * share * (1 - share) / own)[:, None] * off, k=5).antiderivative()
    return BSpline(curve.t, curve.c[: len(curve.t) - curve.k - 1] + nodes[0], curve.k)


def tightest(path: Path) -> tuple[float, float]:
    """The smallest bend radius and its station; infinite where all is straight."""
    s = path.samples(64)
    bend = np.linalg.norm(path.curvature(s), axis=1)
    i = int(np.argmax(bend))
    return (1 / float(bend[i]) if bend[i] > 1e-12 else math.inf), float(s[i])


def shortest(start: Port, end: Port, radius: float, load: Array | None = None) -> float | None:
    """The least length (mm) of a rod between the ports that bends nowhere tighter than ``radius``; None when none is
    found.
    """
    least = float(np.linalg.norm(end.free - start.free)) + start.straight + end.straight

    def room(length: float) -> float:
        try:
            return tightest(hanging(start, end, length, load))[0] - radius
        except Problem:
            return -radius

    tried = least * np.concatenate([[1.0001], np.geomspace(1.002, 4.0, 24)])
    values = [room(float(v)) for v in tried]
    good = next((i for i, v in enumerate(values) if v >= 0), None)
    if good is None:
        return None
    return float(tried[0]) if good == 0 else float(brentq(room, tried[good - 1], tried[good], xtol=1e-4 * least))
