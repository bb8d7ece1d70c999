"""Sections in space, between which lofts go."""

import numpy as np
from scipy.interpolate import make_interp_spline

from leadline.core.geometry.plane import Plane
from leadline.core.geometry.quick import (
    hexagon_section,
    polygon_section,
    rectangle_section,
    round_section,
    slot_section,
)
from leadline.core.loft.lofted import Station
from leadline.core.paths.path import Path
from leadline.core.paths.pieces import SplinePiece

X, Y, Z = np.eye(3)


SHAPES = {
    "round": round_section(20),
    "slot": slot_section(30, 12),
    "rectangle": rectangle_section(24, 16),
    "hexagon": hexagon_section(18),
    "triangle": polygon_section([(-9, -6), (9, -6), (0, 12)]),
    "pentagon": polygon_section([(10, 0), (3, 9), (-8, 6), (-8, -6), (3, -9)]),
}


def at(z, region, x=0.0, y=0.0, name="a section"):
    return Station(name, Plane(np.array([x, y, z]), X, Y), region)


def tip(x, y, z):
    return Station("a point", None, None, np.array([x, y, z], dtype=float))


def bent_spine():
    points = np.array([[0, 0, 0], [5, 0, 30], [20, 5, 60], [45, 8, 80], [75, 8, 90]])
    return Path([SplinePiece(make_interp_spline(np.arange(5.0), points, k=3, bc_type="natural"))])


def along_spine(count, seed):
    """Rectangles along a bent line, and rails through their corners."""
    rng, spine = np.random.default_rng(seed), bent_spine()
    sections, corners = [], []
    for i, s in enumerate(np.linspace(0, spine.length, count)):
        w, h = 20 - 2 * i + rng.uniform(-2, 2), 14 + rng.uniform(-2, 2)
        plane = spine.plane_at(float(s))
        sections.append(Station(f"section {i}", plane, rectangle_section(w, h)))
        corners.append(plane.to_space(np.array([[w, h], [-w, h], [-w, -h], [w, -h]]) / 2))
    rails = []
    for p in np.moveaxis(np.array(corners), 1, 0):
        gone = np.concatenate([[0], np.cumsum(np.linalg.norm(np.diff(p, axis=0), axis=1))])
        rails.append(("The rail", Path([SplinePiece(make_interp_spline(gone, p, k=3, bc_type="natural"))])))
    return spine, sections, rails
