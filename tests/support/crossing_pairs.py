"""Pairs of surfaces with known crossings, and how far a point is off each, by formulas of their own."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np

from leadline.core.geometry.edges import line_edge
from leadline.core.geometry.laws import Even
from leadline.core.geometry.plane import Array
from leadline.core.geometry.quick import rectangle_section, round_section
from leadline.core.geometry.section import Loop, Region
from leadline.core.paths.nearest import nearest_station
from leadline.core.paths.path import Path
from leadline.core.paths.pieces import ArcPiece, HelixPiece, LinePiece
from leadline.core.paths.route import smooth_through
from leadline.core.surfaces.sheet import Sheet, sheets_of
from leadline.core.sweep.motion import Motion

X, Y, Z = np.eye(3)
Off = Callable[[Array], Array]


@dataclass(frozen=True)
class Surface:
    """``motion`` carries ``regions``; ``off`` says how far points (n, 3) are from the surface."""

    motion: Motion
    regions: list[Region]
    off: Off

    @property
    def sheets(self) -> list[Sheet]:
        return sheets_of(self.motion, self.regions)


def tube(start: Sequence[float], end: Sequence[float], radius: float, end_radius: float | None = None) -> Surface:
    a, b = np.array(start, dtype=float), np.array(end, dtype=float)
    path = Path([LinePiece(a, b)])
    axis, length = (b - a) / np.linalg.norm(b - a), path.length
    last = radius if end_radius is None else end_radius
    sizes = None if end_radius is None else (Even(1.0, (last / radius - 1) / length),) * 2
    slope = math.atan2(last - radius, length)

    def off(p: Array) -> Array:
        along = (p - a) @ axis
        away = np.linalg.norm(p - a - along[:, None] * axis, axis=1)
        return (away - (radius + (last - radius) * along / length)) * math.cos(slope)

    return Surface(Motion(path, sizes=sizes), [round_section(2 * radius)], off)


def wall(start: Sequence[float], end: Sequence[float], across: Sequence[float], width: float) -> Surface:
    """A flat sheet: a line of ``width`` along ``across``, carried from ``start`` to ``end``."""
    a, b, u = np.array(start, dtype=float), np.array(end, dtype=float), np.array(across, dtype=float)
    t = (b - a) / np.linalg.norm(b - a)
    normal = np.cross(t, u)
    motion = Motion(Path([LinePiece(a, b)]), axes=np.stack([u, normal]))
    return Surface(motion, [sheet(width)], lambda p: (p - a) @ normal)


def sheet(width: float) -> Region:
    edge = line_edge(np.array([-width / 2, 0.0]), np.array([width / 2, 0.0]), "e")
    return Region(Loop((edge,), True), sheet=True)


def torus(radius: float, tube_radius: float) -> Surface:
    ring = ArcPiece(np.zeros(3), X, Y, radius, 2 * math.pi)
    return Surface(
        Motion(Path([ring], True, Z)),
        [round_section(2 * tube_radius)],
        lambda p: np.hypot(np.hypot(p[:, 0], p[:, 1]) - radius, p[:, 2]) - tube_radius,
    )


def helicoid(turns: float, length: float, width: float) -> Surface:
    """A line of ``width`` across the z axis that turns about it as it rises."""
    motion = Motion(
        Path([LinePiece(np.zeros(3), length * Z)]), twist=Even(0.0, 2 * math.pi * turns / length), axes=np.stack([X, Y])
    )

    def off(p: Array) -> Array:
        rate = 2 * math.pi * turns / length
        angle = rate * p[:, 2]
        gap = -np.sin(angle) * p[:, 0] + np.cos(angle) * p[:, 1]
        return gap / np.sqrt(1 + (rate * np.hypot(p[:, 0], p[:, 1])) ** 2)

    return Surface(motion, [sheet(width)], off)


def around(path: Path, radius: float) -> Surface:
    """A round tube about any path."""
    return Surface(
        Motion(path),
        [round_section(2 * radius)],
        lambda p: (
            np.array([np.linalg.norm(path.point(np.array([nearest_station(path, q)]))[0] - q) for q in p]) - radius
        ),
    )


def bar(width: float, height: float) -> Surface:
    """A square bar along x."""

    def off(p: Array) -> Array:
        y, z = np.abs(p[:, 1]) - width / 2, np.abs(p[:, 2]) - height / 2
        return np.where(np.maximum(y, z) > 1e-9, np.maximum(y, z), np.minimum(np.abs(y), np.abs(z)))

    motion = Motion(Path([LinePiece(-40 * X, 40 * X)]), axes=np.stack([Y, Z]))
    return Surface(motion, [rectangle_section(width, height)], off)


WAVY = smooth_through(np.array([(-40, 0, 0), (-15, 6, 3), (10, -6, -2), (40, 2, 4.0)]), False)
COIL = Path([HelixPiece(np.zeros(3), X, Y, 20.0, 15.0, 5.0)])

# name: the two surfaces, how many branches they cross in, how many of them are closed
PAIRS: dict[str, tuple[Surface, Surface, int, int]] = {
    "tubes of unequal radii": (tube((-30, 0, 0), (30, 0, 0), 10), tube((0, -30, 0), (0, 30, 0), 6), 2, 2),
    "tubes of nearly equal radii": (tube((-30, 0, 0), (30, 0, 0), 10), tube((0, -30, 0), (0, 30, 0), 9.9), 2, 2),
    "tubes that pass each other by half": (tube((-30, 0, 0), (30, 0, 0), 10), tube((0, -30, 8), (0, 30, 8), 6), 1, 1),
    "tubes at a slant": (tube((-40, 0, 0), (40, 0, 0), 10), tube((-30, -30, -6), (30, 30, 6), 5), 2, 2),
    "a wall at a slant through a tube": (
        tube((-40, 0, 0), (40, 0, 0), 10),
        wall((-20, 0, -20), (20, 0, 20), Y, 60),
        1,
        1,
    ),
    "a wall too narrow for the tube": (tube((-40, 0, 0), (40, 0, 0), 10), wall((0, 0, -20), (0, 0, 20), Y, 12), 2, 0),
    "a wall through a ring, beside its hole": (torus(20, 5), wall((-40, 3, 0), (40, 3, 0), Z, 30), 2, 2),
    "a wall through one side of a ring": (torus(20, 5), wall((-40, 17, 0), (40, 17, 0), Z, 30), 1, 1),
    "a tube through a ring": (torus(20, 5), tube((20, 0, -20), (20, 0, 20), 3), 2, 2),
    "a helicoid in a tapered tube": (helicoid(5, 100, 60), tube((0, 0, 0), (0, 0, 100), 12, 6), 2, 0),
    "a wall through the axis of a coil": (around(COIL, 3), wall((0, 0, -20), (0, 0, 100), X, 60), 11, 9),
    "a free tube through a free tube": (around(WAVY, 5), tube((0, -30, 0), (0, 30, 0), 4), 2, 2),
    "a tube out of a square bar": (bar(30, 20), tube((0, 0, -30), (0, 0, 30), 6), 2, 2),
    "two walls": (wall((-20, 0, 0), (20, 0, 0), Y, 30), wall((0, 0, -10), (0, 0, 10), Y, 20), 1, 0),
}
