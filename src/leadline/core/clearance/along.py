"""How far a tube stays from what stands about it, station by station."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from scipy.optimize import fmin

from leadline.core.clearance.shape import Shape
from leadline.core.geometry.mesh import Ints
from leadline.core.geometry.plane import Array
from leadline.core.geometry.section import Region
from leadline.core.paths.nearest import nearest_station
from leadline.core.sweep.grid import display_mesh
from leadline.core.sweep.motion import Motion

FINE = 1e-4  # of the section's size: how far its outline may be off
A_SIDE = 16  # points at least along the section's size, so that long straight edges have some
PER_SIZE = 4  # stations on a length of the section's size
FEWEST, MOST = 100, 1500
SEEDS = 6
STEPS = 160  # of the search for the closest place, from each of them
TOUCH = 2e-4  # of the section's size: under it a mesh cannot tell touching from clear
FOUR = 4  # every so many points of a ring are asked whether they are inside


@dataclass(frozen=True)
class Tube:
    """A swept section to measure from: its ``outlines``, their points (n, m, 3) at stations (n,), and a mesh of its
    skin.
    """

    motion: Motion
    outlines: list[Array]
    stations: Array
    rings: Array
    skin: Shape
    size: float

    @classmethod
    def of(
        cls, motion: Motion, regions: Sequence[Region], chord: float, skip: tuple[float, float] = (0.0, 0.0)
    ) -> Tube:
        """The tube without the lengths ``skip`` at its start and end."""
        size = float(np.ptp(np.vstack([r.outer.polygon(1e-3) for r in regions]), axis=0).max())
        outlines = [_filled(loop.polygon(FINE * size), size / A_SIDE) for r in regions for loop in r.loops]
        s = _stations(motion, size, skip)
        rings = motion.frames(s).at(np.vstack(outlines))
        return cls(motion, outlines, s, rings, Shape.of([display_mesh(motion, regions, chord)]), size)


@dataclass(frozen=True)
class Clear:
    """Distance (n,) at each of the stations (n,) and which obstacle is nearest there (n,): 0 where they touch,
    below 0, as deep as it goes, where the tube runs into it.

    ``least`` is at ``station``, between ``at`` on the tube and ``to`` on the obstacle ``nearest``.
    """

    stations: Array
    distance: Array
    other: Ints
    least: float
    station: float
    at: Array
    to: Array
    nearest: int


def along(tube: Tube, obstacles: Sequence[Shape]) -> Clear:
    """The clearance of a tube to at least one obstacle.

    The lane over stations is that of the rings' points. From its lowest places the closest one is searched on the exact
    motion, by the simplex method of Nelder and Mead: the distance has kinks where the obstacle has edges.
    """
    least, most = _bounds(tube, obstacles)
    near = np.flatnonzero((least <= most.min(axis=0)).any(axis=1))  # the others are nowhere the nearest
    within = np.flatnonzero((least <= 0).any(axis=1))  # no other can touch the tube
    some = [obstacles[k] for k in near.tolist()]
    around = Shape.of(some)
    firsts = np.cumsum([0, *(len(o.triangles) for o in some)])
    n, m = tube.rings.shape[:2]
    flat, faces, _ = around.nearest_triangles(tube.rings.reshape(-1, 3))
    away, face = flat.reshape(n, m), faces.reshape(n, m)
    rows, best = np.arange(n), np.argmin(away, axis=1)
    distance = away[rows, best]
    other = near[np.searchsorted(firsts, face[rows, best], side="right") - 1]
    held = {k: obstacles[k] for k in within.tolist()}
    return (
        _sunk(tube, held, away, other)
        or _swallowed(tube, held, distance, other)
        or _apart(tube, around, distance, other, best)
    )


def _bounds(tube: Tube, obstacles: Sequence[Shape]) -> tuple[Array, Array]:
    """Between what the distance of each obstacle from the tube about each ring must lie, by boxes about the obstacles
    and balls about the rings that reach to the next ones: (k, n) each.
    """
    centres = tube.rings.mean(axis=1)
    gap = float(np.linalg.norm(np.diff(centres, axis=0), axis=1).max(initial=0.0))
    radii = np.linalg.norm(tube.rings - centres[:, None], axis=2).max(axis=1) + gap
    low, high = np.array([o.points.min(axis=0) for o in obstacles]), np.array([o.points.max(axis=0) for o in obstacles])
    below, above = low[:, None] - centres, centres - high[:, None]  # (k, n, 3)
    least = np.linalg.norm(np.maximum(np.maximum(below, above), 0.0), axis=2) - radii
    most = np.linalg.norm(np.maximum(np.abs(low[:, None] - centres), np.abs(high[:, None] - centres)), axis=2) + radii
    return least, most


def _sunk(tube: Tube, obstacles: Mapping[int, Shape], away: Array, other: Ints) -> Clear | None:
    """The clearance where rings of the tube are inside one of some obstacles: minus their depth; None where none is.

    ``away`` (n, m) are the distances of all rings' points from the obstacle's surface.
    """
    if not obstacles:
        return None
    around = Shape.of(list(obstacles.values()))
    some = tube.rings[:, ::FOUR]
    inside = around.holds(some.reshape(-1, 3)).reshape(some.shape[:2])
    deep = np.where(inside, away[:, ::FOUR], 0.0)
    depth = deep.max(axis=1)
    if depth.max() <= TOUCH * tube.size:
        return None
    distance = np.where(depth > TOUCH * tube.size, -depth, away.min(axis=1))
    i, j = np.unravel_index(int(np.argmax(deep)), deep.shape)
    return Clear(
        tube.stations,
        distance,
        other,
        float(distance[i]),
        float(tube.stations[i]),
        some[i, j],
        some[i, j],
        int(other[i]),
    )


def _swallowed(tube: Tube, obstacles: Mapping[int, Shape], distance: Array, other: Ints) -> Clear | None:
    """The clearance where an obstacle, by its number, is wholly inside the tube, minus its depth; None where
    none is.
    """
    for k, obstacle in obstacles.items():
        held = obstacle.coarse[tube.skin.holds(obstacle.coarse)]
        if len(held) == 0:
            continue
        depths, out = tube.skin.nearest(held)
        j = int(np.argmax(depths))
        station = _station(tube, held[j])
        i = int(np.argmin(np.abs(tube.stations - station)))
        distance[i], other[i] = -depths[j], k
        return Clear(tube.stations, distance, other, -float(depths[j]), station, out[j], held[j], k)
    return None


def _apart(tube: Tube, around: Shape, distance: Array, other: Ints, best: Ints) -> Clear:
    """Where the tube is closest; ``best`` (n,) are the points of the rings that are."""
    found = [_closest(tube, around, int(i), int(best[i])) for i in _lowest(distance)]
    station, at, to = min(found, key=lambda f: float(np.linalg.norm(f[1] - f[2])))
    least = float(np.linalg.norm(at - to))
    i = int(np.argmin(np.abs(tube.stations - station)))
    touch = TOUCH * tube.size
    distance[distance < touch] = 0.0
    if least < touch:
        distance[i] = least = 0.0
    return Clear(tube.stations, distance, other, least, station, at, to, int(other[i]))


def _closest(tube: Tube, around: Shape, row: int, column: int) -> tuple[float, Array, Array]:
    """From a point of a ring to the closest place near it, on the exact motion: its station, both points (3,)."""
    firsts = np.cumsum([0, *(len(o) for o in tube.outlines)])
    which = int(np.searchsorted(firsts, column, side="right")) - 1
    outline = tube.outlines[which]
    closed = np.vstack([outline, outline[:1]])
    away = np.concatenate([[0.0], np.cumsum(np.linalg.norm(np.diff(closed, axis=0), axis=1))])

    def point(x: Array) -> Array:
        s = np.clip(x[:1], tube.stations[0], tube.stations[-1])
        on = [np.interp(x[1] % away[-1], away, closed[:, k]) for k in (0, 1)]
        return np.asarray(tube.motion.frames(s).at(np.array([on]))[0, 0])

    def gap(x: Array) -> float:
        return float(around.nearest(point(x)[None])[0][0])

    start = np.array([tube.stations[row], away[column - firsts[which]]])
    step = float(np.diff(tube.stations).max())
    simplex = start + np.array(
        [[0.0, 0.0], [step if row + 1 < len(tube.stations) else -step, 0.0], [0.0, tube.size / A_SIDE]]
    )
    found = fmin(gap, start, initial_simplex=simplex, maxfun=STEPS, xtol=1e-5, ftol=1e-8, disp=False)
    at = point(found)
    return float(np.clip(found[0], tube.stations[0], tube.stations[-1])), at, around.nearest(at[None])[1][0]


def _stations(motion: Motion, size: float, skip: tuple[float, float]) -> Array:
    length = motion.length
    count = min(MOST, max(FEWEST, math.ceil(PER_SIZE * length / size)))
    own = motion.path.samples(8)
    s = np.union1d(np.linspace(0.0, length, count), own[:: max(1, len(own) // MOST)])
    inner = s[(s > skip[0]) & (s < length - skip[1])]
    return np.concatenate([[skip[0]], inner, [length - skip[1]]]) if not motion.path.closed else s


def _filled(outline: Array, most: float) -> Array:
    """A closed outline with points between those that are farther apart than ``most``."""
    parts = []
    for a, b in zip(outline, np.roll(outline, -1, axis=0), strict=True):
        n = max(1, math.ceil(float(np.linalg.norm(b - a)) / most))
        parts.append(a + np.linspace(0.0, 1.0, n, endpoint=False)[:, None] * (b - a))
    return np.vstack(parts)


def _lowest(distance: Array) -> Ints:
    """The lowest of the places where the lane is lower than on both sides."""
    padded = np.concatenate([[np.inf], distance, [np.inf]])
    low = np.flatnonzero((distance <= padded[:-2]) & (distance <= padded[2:]))
    return np.asarray(low[np.argsort(distance[low], kind="stable")[:SEEDS]])


def _station(tube: Tube, point: Array) -> float:
    return float(np.clip(nearest_station(tube.motion.path, point), tube.stations[0], tube.stations[-1]))
