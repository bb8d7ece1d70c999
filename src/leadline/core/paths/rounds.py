"""Arcs and ellipses in space."""

from __future__ import annotations

import math

import numpy as np

from leadline.core.geometry.plane import Array, Plane, cross
from leadline.core.paths.path import Path
from leadline.core.paths.pieces import ArcPiece, EllipseCurve, Piece, SplinePiece
from leadline.core.problems import Problem

STRAIGHT = 1e-6  # sine of the angle at a point under which three points lie in a line
EQUAL = 1e-12  # share of a radius by which two may differ and still be one
WHOLE = 1e-9  # rad


def through_three(start: Array, via: Array, end: Array, whole: bool = False) -> Path:
    """The arc from ``start`` through ``via`` to ``end`` (each (3,)), or the ``whole`` circle, which begins at
    ``start``.

    Raises:
        Problem: two of the points are the same, or all lie in a line.
    """
    a, b = via - start, end - start
    normal = cross(a, b)
    size = float(np.linalg.norm(normal))
    sides = [float(np.linalg.norm(v)) for v in (a, b, end - via)]
    if min(sides) < 1e-6 or size < STRAIGHT * sides[0] * sides[1]:
        raise Problem(
            "no-arc",
            "The three points lie in a line, or two of them are the same.",
            "Move one of them aside.",
            of="curve",
        )
    axis = normal / size
    # the centre is as far from all three (circumcentre of a triangle)
    center = start + (float(b @ b) * cross(cross(a, b), a) + float(a @ a) * cross(b, cross(a, b))) / (2 * size**2)
    arm = start - center
    radius = float(np.linalg.norm(arm))
    u = arm / radius
    v = cross(axis, u)
    out = end - center
    sweep = 2 * math.pi if whole else math.atan2(float(out @ v), float(out @ u)) % (2 * math.pi)
    return Path([ArcPiece(center, u, v, radius, sweep, "arc")], whole)


def round_about(plane: Plane, radii: tuple[float, float], start: float, sweep: float) -> Path:
    """Part of an ellipse about a plane's origin, ``radii`` (mm) along its x and y axes, from the angle ``start`` (rad)
    on by ``sweep``.

    Angles count from the x axis to the place as it is seen from the origin; a sweep under zero goes clockwise. A sweep
    of a whole turn closes it.

    Raises:
        Problem: a radius is not above zero, the sweep is zero or more than a turn.
    """
    if min(radii) <= 0:
        raise Problem("bad-size", "A radius is not above zero.", "Give both above zero.", of="curve")
    if not WHOLE < abs(sweep) <= 2 * math.pi + WHOLE:
        raise Problem(
            "bad-sweep",
            "The angle that it goes round by is zero or more than a whole turn.",
            "Give one up to 360°.",
            of="curve",
        )
    closed = abs(abs(sweep) - 2 * math.pi) < WHOLE
    sign = math.copysign(1.0, sweep)
    turn = sign * 2 * math.pi if closed else sweep
    return Path([_piece(plane, radii, start, turn, sign)], closed, up=plane.normal)


def _piece(plane: Plane, radii: tuple[float, float], start: float, turn: float, sign: float) -> Piece:
    if abs(radii[0] - radii[1]) <= EQUAL * radii[0]:
        u = math.cos(start) * plane.x + math.sin(start) * plane.y
        v = sign * (-math.sin(start) * plane.x + math.cos(start) * plane.y)
        return ArcPiece(plane.origin, u, v, radii[0], abs(turn), "arc")
    first, last = _eccentric(start, radii), _eccentric(start + turn, radii)
    curve = EllipseCurve(plane.origin, radii[0] * plane.x, radii[1] * plane.y, first, last - first)
    return SplinePiece(curve, "ellipse", plane.normal)


def _eccentric(angle: float, radii: tuple[float, float]) -> float:
    """The ellipse's parameter at a place that is seen at an angle from its middle, in the same quarter turn."""
    quarters = math.floor(angle / (math.pi / 2) + 0.5)
    rest = angle - quarters * math.pi / 2
    ahead, aside = (radii[0], radii[1]) if quarters % 2 == 0 else (radii[1], radii[0])
    return quarters * math.pi / 2 + math.atan2(ahead * math.sin(rest), aside * math.cos(rest))
