"""Sections that need no sketch, about the origin."""

from __future__ import annotations

import math
from functools import lru_cache

import numpy as np
import shapely

from leadline.core.geometry.edges import arc_edges, line_edge
from leadline.core.geometry.section import Loop, Region
from leadline.core.problems import Problem, mm

SHORTEST = 1e-6  # mm
SIZES = 32  # of each shape that are kept, as a section is asked for with every picture of its sweep


@lru_cache(SIZES)
def round_section(diameter: float) -> Region:
    """A full circle of one edge name, ``round``. Raises Problem for a size that is not above zero."""
    _above_zero(diameter, "width")
    return Region(Loop(tuple(arc_edges((0, 0), diameter / 2, 0.0, 2 * math.pi, "round"))))


@lru_cache(SIZES)
def rectangle_section(width: float, height: float) -> Region:
    """Edges ``below``, ``right``, ``above``, ``left``. Raises Problem for a size that is not above zero."""
    _above_zero(width, "width")
    _above_zero(height, "height")
    w, h = width / 2, height / 2
    corners = [(-w, -h), (w, -h), (w, h), (-w, h)]
    names = ("below", "right", "above", "left")
    pairs = zip(corners, corners[1:] + corners[:1], names, strict=True)
    return Region(Loop(tuple(line_edge(a, b, name) for a, b, name in pairs)))


@lru_cache(SIZES)
def slot_section(width: float, height: float) -> Region:
    """Two half circles of diameter ``height`` and the lines between them, ``width`` long in all.

    Raises:
        Problem: a size that is not above zero, or a slot that is higher than wide.
    """
    _above_zero(height, "height")
    if width <= height:
        raise Problem(
            "bad-size",
            f"A slot of {mm(width)} x {mm(height)} is not wider than high.",
            "Give a larger width, or turn it.",
            of="width",
        )
    r, m = height / 2, (width - height) / 2
    quarter = math.pi / 2
    return Region(
        Loop(
            (
                line_edge((-m, -r), (m, -r), "below"),
                *arc_edges((m, 0), r, -quarter, math.pi, "right"),
                line_edge((m, r), (-m, r), "above"),
                *arc_edges((-m, 0), r, quarter, math.pi, "left"),
            )
        )
    )


@lru_cache(SIZES)
def ring_section(diameter: float, wall: float) -> Region:
    """A round with a round hole, edges ``round`` and ``bore``. Raises Problem for a wall that leaves no hole."""
    outer = round_section(diameter).outer
    _above_zero(wall, "wall")
    if 2 * wall >= diameter:
        raise Problem(
            "bad-size",
            f"A wall of {mm(wall)} leaves no bore in a ring of {mm(diameter)}.",
            f"Give less than {mm(diameter / 2)}.",
            of="wall",
        )
    return Region(
        outer, (Loop(tuple(arc_edges((0, 0), diameter / 2 - wall, 0.0, 2 * math.pi, "bore"))).oriented(False),)
    )


@lru_cache(SIZES)
def hexagon_section(across: float) -> Region:
    """A regular hexagon by its width across the flats, edges ``flat1`` (on the right) to ``flat6``,
    counter-clockwise.
    """
    _above_zero(across, "width")
    radius = across / math.sqrt(3)
    angles = [math.pi * (k / 3 - 1 / 6) for k in range(6)]
    return _polygon([(radius * math.cos(a), radius * math.sin(a)) for a in angles], "flat")


@lru_cache(SIZES)
def ellipse_section(width: float, height: float) -> Region:
    """An exact ellipse of one edge name, ``ellipse``. Raises Problem for a size that is not above zero."""
    _above_zero(width, "width")
    _above_zero(height, "height")
    unit = arc_edges((0, 0), 0.5, 0.0, 2 * math.pi, "ellipse")
    return Region(Loop(tuple(edge.mapped(np.diag([width, height]), np.zeros(2)) for edge in unit)))


def polygon_section(corners: list[tuple[float, float]]) -> Region:
    """Straight edges ``side1`` (from the first corner) and on; drawn either way round.

    Raises:
        Problem: fewer than three corners, corners that fall together, or sides that cross.
    """
    if len(corners) < 3:
        raise Problem(
            "bad-size",
            f"A polygon has three corners at least; there are {len(corners)}.",
            "Give more corners.",
            of="corners",
        )
    ring = shapely.LinearRing(corners)
    twice = any(math.dist(a, b) < SHORTEST for a, b in zip(corners, corners[1:] + corners[:1], strict=True))
    if twice or not ring.is_valid or shapely.Polygon(corners).area < SHORTEST**2:
        raise Problem(
            "crosses-itself",
            "The polygon's sides cross, touch or fall together.",
            "Give the corners in order round it.",
            of="corners",
        )
    region = _polygon(corners, "side")
    return Region(region.outer.oriented(True))


def _polygon(corners: list[tuple[float, float]], name: str) -> Region:
    pairs = zip(corners, corners[1:] + corners[:1], strict=True)
    return Region(Loop(tuple(line_edge(a, b, f"{name}{i + 1}") for i, (a, b) in enumerate(pairs))))


def _above_zero(size: float, field: str) -> None:
    if size <= 0:
        raise Problem("bad-size", f"The section's {field} is not above zero.", "Give a size above zero.", of=field)
