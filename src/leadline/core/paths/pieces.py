"""The kinds of piece that a path is made of, each parametrised by arc length.

All methods take stations in mm from the start of the piece, shape (n,), and return shape (n, 3).
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Callable
from dataclasses import dataclass
from functools import cached_property
from typing import Protocol

import numpy as np
from scipy.interpolate import BSpline

from leadline.core.geometry.plane import Array, cross

_GAUSS_X, _GAUSS_W = np.polynomial.legendre.leggauss(16)


class Piece(Protocol):
    """One smooth stretch of a path. ``origin`` names what it was drawn as."""

    @property
    def kind(self) -> str: ...
    @property
    def origin(self) -> str: ...
    @property
    def length(self) -> float: ...
    def point(self, s: Array) -> Array: ...
    def tangent(self, s: Array) -> Array: ...
    def curvature(self, s: Array) -> Array:
        """The curvature vector d²C/ds², 1/mm."""
        ...

    def carried(self, normal: Array, s: Array) -> Array:
        """``normal`` at the piece's start, carried along without turning about the tangent."""
        ...

    def breaks(self) -> Array:
        """Stations between which the piece is smooth to all orders that matter, ends included."""
        ...


@dataclass(frozen=True)
class LinePiece:
    start: Array
    end: Array
    origin: str = ""
    kind: str = "line"

    @cached_property
    def length(self) -> float:
        return float(np.linalg.norm(self.end - self.start))

    @cached_property
    def direction(self) -> Array:
        return np.asarray((self.end - self.start) / self.length)

    def point(self, s: Array) -> Array:
        return np.asarray(self.start + s[:, None] * self.direction)

    def tangent(self, s: Array) -> Array:
        return np.tile(self.direction, (len(s), 1))

    def curvature(self, s: Array) -> Array:
        return np.zeros((len(s), 3))

    def carried(self, normal: Array, s: Array) -> Array:
        return np.tile(normal, (len(s), 1))

    def breaks(self) -> Array:
        return np.array([0.0, self.length])


@dataclass(frozen=True)
class ArcPiece:
    """A circular arc: ``u`` points from the centre to the start, ``v`` is the direction of travel there."""

    center: Array
    u: Array
    v: Array
    radius: float
    sweep: float
    origin: str = ""
    kind: str = "arc"

    @property
    def length(self) -> float:
        return self.radius * self.sweep

    @property
    def axis(self) -> Array:
        return cross(self.u, self.v)

    def point(self, s: Array) -> Array:
        a = (s / self.radius)[:, None]
        return np.asarray(self.center + self.radius * (np.cos(a) * self.u + np.sin(a) * self.v))

    def tangent(self, s: Array) -> Array:
        a = (s / self.radius)[:, None]
        return np.asarray(-np.sin(a) * self.u + np.cos(a) * self.v)

    def curvature(self, s: Array) -> Array:
        a = (s / self.radius)[:, None]
        return np.asarray(-(np.cos(a) * self.u + np.sin(a) * self.v) / self.radius)

    def carried(self, normal: Array, s: Array) -> Array:
        return turned(normal, self.axis, s / self.radius)

    def breaks(self) -> Array:
        return np.array([0.0, self.length])


@dataclass(frozen=True)
class HelixPiece:
    """A helix about an axis; ``u`` points from the axis to the start, ``v = axis x u``; right-handed for lead > 0.

    ``lead`` is the advance per turn, mm; ``turns`` is positive.
    """

    center: Array
    u: Array
    v: Array
    radius: float
    lead: float
    turns: float
    origin: str = ""
    kind: str = "helix"

    @property
    def axis(self) -> Array:
        return cross(self.u, self.v)

    @cached_property
    def _speed(self) -> float:
        """Arc length per radian."""
        return math.hypot(self.radius, self.lead / (2 * math.pi))

    @property
    def length(self) -> float:
        return self._speed * 2 * math.pi * self.turns

    def _radial(self, s: Array) -> tuple[Array, Array, Array]:
        a = (s / self._speed)[:, None]
        return a, np.cos(a) * self.u + np.sin(a) * self.v, -np.sin(a) * self.u + np.cos(a) * self.v

    def point(self, s: Array) -> Array:
        a, out, _ = self._radial(s)
        return np.asarray(self.center + self.radius * out + a * self.lead / (2 * math.pi) * self.axis)

    def tangent(self, s: Array) -> Array:
        _, _, along = self._radial(s)
        return np.asarray((self.radius * along + self.lead / (2 * math.pi) * self.axis) / self._speed)

    def curvature(self, s: Array) -> Array:
        _, out, _ = self._radial(s)
        return np.asarray(-self.radius / self._speed**2 * out)

    def carried(self, normal: Array, s: Array) -> Array:
        """Closed form: against the Frenet frame the carried normal turns by minus torsion times length."""
        torsion = self.lead / (2 * math.pi) / self._speed**2
        _, out, _ = self._radial(np.zeros(1))
        n0, b0 = -out[0], cross(self.tangent(np.zeros(1))[0], -out[0])
        angle = math.atan2(float(normal @ b0), float(normal @ n0)) - torsion * s
        _, out, _ = self._radial(s)
        n, b = -out, cross(self.tangent(s), -out)
        return np.asarray(np.cos(angle)[:, None] * n + np.sin(angle)[:, None] * b)

    def breaks(self) -> Array:
        count = max(1, math.ceil(self.turns))
        return np.linspace(0.0, self.length, count + 1)


class Curve(Protocol):
    """What a piece by arc length is made from: a curve over ``t[k]`` to ``t[-k]`` with derivatives."""

    @property
    def t(self) -> Array: ...
    @property
    def k(self) -> int: ...
    def __call__(self, u: Array, /) -> Array: ...
    def derivative(self, nu: int = 1, /) -> Callable[[Array], Array]: ...


@dataclass(frozen=True)
class EllipseCurve:
    """``center + cos(u) major + sin(u) minor`` over an angle ``sweep`` (signed) from ``start``, cut at the quarters."""

    center: Array
    major: Array
    minor: Array
    start: float
    sweep: float
    k: int = 1

    @property
    def t(self) -> Array:
        n = max(1, math.ceil(abs(self.sweep) / (math.pi / 2) - 1e-9))
        inner = np.linspace(0.0, 1.0, n + 1)
        return np.concatenate([inner[:1], inner, inner[-1:]])

    def __call__(self, u: Array) -> Array:
        return np.asarray(self.center + self._turned(u, 0))

    def derivative(self, nu: int = 1) -> Callable[[Array], Array]:
        return lambda u: self._turned(u, nu) * self.sweep**nu

    def _turned(self, u: Array, quarters: int) -> Array:
        a = (self.start + self.sweep * np.asarray(u) + quarters * math.pi / 2)[..., None]
        return np.asarray(np.cos(a) * self.major + np.sin(a) * self.minor)


class SplinePiece:
    """A B-spline or ellipse by arc length: u(s) is found by Newton from a table, to about 1e-12 of the length."""

    kind = "spline"

    def __init__(self, curve: Curve, origin: str = "", plane_normal: Array | None = None) -> None:
        self.curve, self.origin, self.plane_normal = curve, origin, plane_normal
        self._d1 = curve.derivative(1)
        straight = isinstance(curve, BSpline) and curve.k < 2  # through two points, where it has no second derivative
        self._d2 = (lambda u: np.zeros((*np.shape(u), 3))) if straight else curve.derivative(2)
        k = curve.k
        knots = np.unique(curve.t[k:-k])
        fine = np.concatenate([np.linspace(a, b, 9)[:-1] for a, b in itertools.pairwise(knots)] + [knots[-1:]])
        half = np.diff(fine) / 2
        u = fine[:-1, None] + half[:, None] * (1 + _GAUSS_X)
        lengths = (np.linalg.norm(self._d1(u), axis=-1) * _GAUSS_W).sum(axis=1) * half
        self._u, self._s = fine, np.concatenate([[0.0], np.cumsum(lengths)])
        self.length = float(self._s[-1])
        self._knot_stations = np.interp(knots, self._u, self._s)

    def _parameter(self, s: Array) -> Array:
        s = np.clip(s, 0.0, self.length)
        i = np.clip(np.searchsorted(self._s, s, side="right") - 1, 0, len(self._u) - 2)
        a, b = self._u[i], self._u[i + 1]
        u = a + (s - self._s[i]) / (self._s[i + 1] - self._s[i]) * (b - a)
        for _ in range(8):
            half = (u - a) / 2
            at = a[:, None] + half[:, None] * (1 + _GAUSS_X)
            length = (np.linalg.norm(self._d1(at), axis=-1) * _GAUSS_W).sum(axis=1) * half
            step = (length - (s - self._s[i])) / np.linalg.norm(self._d1(u), axis=-1)
            u = np.clip(u - step, a, b)
            if np.abs(step).max(initial=0.0) < 1e-14 * (abs(self._u[-1]) + 1):
                break
        return np.asarray(u)

    def point(self, s: Array) -> Array:
        return np.asarray(self.curve(self._parameter(s)))

    def tangent(self, s: Array) -> Array:
        d = self._d1(self._parameter(s))
        return np.asarray(d / np.linalg.norm(d, axis=1)[:, None])

    def curvature(self, s: Array) -> Array:
        u = self._parameter(s)
        d, dd = self._d1(u), self._d2(u)
        speed2 = (d * d).sum(axis=1)[:, None]
        return np.asarray((dd - d * ((d * dd).sum(axis=1)[:, None] / speed2)) / speed2)

    def carried(self, normal: Array, s: Array) -> Array:
        if self.plane_normal is not None:
            return self._carried_in_plane(normal, self.plane_normal, s)
        return double_reflection(self, normal, s)

    def _carried_in_plane(self, normal: Array, axis: Array, s: Array) -> Array:
        """In a plane the frame just turns with the tangent."""
        t0 = self.tangent(np.zeros(1))[0]
        inward = cross(axis, t0)
        a, b = float(normal @ inward), float(normal @ axis)
        return np.asarray(a * cross(axis, self.tangent(s)) + b * axis)

    def breaks(self) -> Array:
        return np.asarray(self._knot_stations)


def turned(vector: Array, axis: Array, angle: Array) -> Array:
    """A vector turned about a unit axis by each angle (n,), shape (n, 3) (Rodrigues)."""
    c, s = np.cos(angle)[:, None], np.sin(angle)[:, None]
    return np.asarray(c * vector + s * cross(axis, vector) + (1 - c) * axis * float(axis @ vector))


def double_reflection(piece: Piece, normal: Array, s: Array) -> Array:
    """Rotation-minimising frame (Wang, Jüttler, Zheng, Liu, ACM TOG 27(1), 2008).

    A fixed fine grid carries the frame; each asked station is one more step from the grid point before it,
    so that the result does not depend on which stations are asked together.
    """
    spans = piece.breaks()
    grid = np.concatenate([np.linspace(a, b, 129)[:-1] for a, b in itertools.pairwise(spans)] + [spans[-1:]])
    points, tangents = piece.point(grid), piece.tangent(grid)
    frames = np.empty_like(points)
    frames[0] = normal
    for i in range(len(grid) - 1):
        frames[i + 1] = _reflect(points[i], tangents[i], frames[i], points[i + 1], tangents[i + 1])
    before = np.clip(np.searchsorted(grid, s, side="right") - 1, 0, len(grid) - 1)
    p, t = piece.point(s), piece.tangent(s)
    return np.array([_reflect(points[k], tangents[k], frames[k], p[j], t[j]) for j, k in enumerate(before.tolist())])


def _reflect(p: Array, t: Array, r: Array, q: Array, u: Array) -> Array:
    v = q - p
    c = float(v @ v)
    if c < 1e-24:
        return r - u * float(u @ r)
    r_left = r - v * (2 / c * float(v @ r))
    t_left = t - v * (2 / c * float(v @ t))
    w = u - t_left
    d = float(w @ w)
    return np.asarray(r_left if d < 1e-30 else r_left - w * (2 / d * float(w @ r_left)))
