"""The kinds of piece that a path is made of, each parametrised by arc length.

All methods take stations in mm from the start of the piece, shape (n,), and return shape (n, 3).
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Protocol

import numpy as np
from scipy.interpolate import BSpline

from leadline.core.geometry.hermite import hermite_quintic
from leadline.core.geometry.plane import Array, any_square_to, cross

GAUSS_X, GAUSS_W = np.polynomial.legendre.leggauss(8)
LAST_STEP = 1e-8
_FINE = 32  # table steps on a knot span: there the quadrature is exact to rounding


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

    def transport_normal(self, normal: Array, s: Array) -> Array:
        """``normal`` at the piece's start, carried along without turning about the tangent."""
        ...

    def breaks(self) -> Array:
        """Stations between which the piece is smooth to all orders that matter, ends included."""
        ...

    def kinks(self) -> Array:
        """Stations besides its breaks at which its curvature goes on, but changes otherwise than before."""
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

    def transport_normal(self, normal: Array, s: Array) -> Array:
        return np.tile(normal, (len(s), 1))

    def breaks(self) -> Array:
        return np.array([0.0, self.length])

    def kinks(self) -> Array:
        return np.empty(0)


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

    def transport_normal(self, normal: Array, s: Array) -> Array:
        return turned(normal, self.axis, s / self.radius)

    def breaks(self) -> Array:
        return np.array([0.0, self.length])

    def kinks(self) -> Array:
        return np.empty(0)


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

    def transport_normal(self, normal: Array, s: Array) -> Array:
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

    def kinks(self) -> Array:
        return np.empty(0)


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
    """A B-spline or ellipse by arc length: u(s) from a quintic table, made exact by Newton to about 1e-12 of the
    length.

    ``steps`` are the table's cells between one knot and the next, ``nodes`` those of Gauss's rule on each for its
    length.
    """

    kind = "spline"

    def __init__(
        self,
        curve: Curve,
        origin: str = "",
        plane_normal: Array | None = None,
        steps: Sequence[int] | None = None,
        nodes: int = 8,
    ) -> None:
        self.curve, self.origin, self.plane_normal = curve, origin, plane_normal
        self._d1 = curve.derivative(1)
        straight = isinstance(curve, BSpline) and curve.k < 2  # through two points, where it has no second derivative
        self._d2 = (lambda u: np.zeros((*np.shape(u), 3))) if straight else curve.derivative(2)
        k = curve.k
        knots = np.unique(curve.t[k:-k])
        counts = steps or [_FINE] * (len(knots) - 1)
        cells = zip(knots[:-1], knots[1:], counts, strict=True)
        fine = np.concatenate([np.linspace(a, b, n + 1)[:-1] for a, b, n in cells] + [knots[-1:]])
        half = np.diff(fine) / 2
        x, w = np.polynomial.legendre.leggauss(nodes)
        u = fine[:-1, None] + half[:, None] * (1 + x)
        lengths = (np.linalg.norm(self._d1(u), axis=-1) * w).sum(axis=1) * half
        self._u, self._s = fine, np.concatenate([[0.0], np.cumsum(lengths)])
        self.length = float(self._s[-1])
        d, dd = self._d1(fine), self._d2(fine)
        speed = np.linalg.norm(d, axis=-1)
        slope, bend = 1 / speed, -(d * dd).sum(axis=-1) / speed**4
        self._table = hermite_quintic(self._s, fine, np.stack([slope[:-1], slope[1:]]), np.stack([bend[:-1], bend[1:]]))
        self._knot_stations = np.interp(knots, self._u, self._s)
        self._asked: tuple[Array, Array] | None = None

    def _parameter(self, s: Array) -> Array:
        """u at stations s; the last answer is kept, because point, tangent and curvature are asked for together."""
        if self._asked is not None and np.array_equal(self._asked[0], s):
            return self._asked[1]
        u = self._solved(np.clip(s, 0.0, self.length))
        self._asked = (np.array(s), u)
        return u

    def _solved(self, s: Array) -> Array:
        i = np.clip(np.searchsorted(self._s, s, side="right") - 1, 0, len(self._u) - 2)
        a, b = self._u[i], self._u[i + 1]
        u = np.clip(self._table(s), a, b)
        for _ in range(8):
            half = (u - a) / 2
            at = a[:, None] + half[:, None] * (1 + GAUSS_X)
            length = (np.linalg.norm(self._d1(at), axis=-1) * GAUSS_W).sum(axis=1) * half
            step = (length - (s - self._s[i])) / np.linalg.norm(self._d1(u), axis=-1)
            u = np.clip(u - step, a, b)
            if np.abs(step).max(initial=0.0) < LAST_STEP * (self._u[-1] - self._u[0]):
                break  # the next step would be of the order of its square
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

    def transport_normal(self, normal: Array, s: Array) -> Array:
        if self.plane_normal is not None:
            return self._carried_in_plane(normal, self.plane_normal, s)
        return self._reflections.transport_normal(normal, s)

    @cached_property
    def _reflections(self) -> DoubleReflection:
        return DoubleReflection(self)

    def _carried_in_plane(self, normal: Array, axis: Array, s: Array) -> Array:
        """In a plane the frame just turns with the tangent."""
        t0 = self.tangent(np.zeros(1))[0]
        inward = cross(axis, t0)
        a, b = float(normal @ inward), float(normal @ axis)
        return np.asarray(a * cross(axis, self.tangent(s)) + b * axis)

    def breaks(self) -> Array:
        return np.asarray(self._knot_stations)

    def kinks(self) -> Array:
        return np.empty(0)


def turned(vector: Array, axis: Array, angle: Array) -> Array:
    """A vector turned about a unit axis by each angle (n,), shape (n, 3) (Rodrigues)."""
    c, s = np.cos(angle)[:, None], np.sin(angle)[:, None]
    return np.asarray(c * vector + s * cross(axis, vector) + (1 - c) * axis * float(axis @ vector))


class DoubleReflection:
    """Rotation-minimising frames of a piece (Wang, Jüttler, Zheng, Liu, ACM TOG 27(1), 2008).

    One frame is carried along a fixed fine grid; each asked station is one more step from the grid point before
    it, so that the result does not depend on which stations are asked together. All other frames keep their
    angle to that one.
    """

    def __init__(self, piece: Piece) -> None:
        self._piece = piece
        spans = piece.breaks()
        grid = np.concatenate([np.linspace(a, b, 129)[:-1] for a, b in itertools.pairwise(spans)] + [spans[-1:]])
        self._grid, self._points, self._tangents = grid, piece.point(grid), piece.tangent(grid)
        self._frames = self._along_the_grid()

    def _along_the_grid(self) -> Array:
        """The frame at each point of the grid, shape (n, 3).

        Each step takes some normal of its start to one that stands at an angle to some normal of its end, and turns
        every other normal by the same angle, so that the frame's own angle is the sum of those of the steps.
        """
        p, t = self._points, self._tangents
        least = np.eye(3)[np.abs(t).argmin(axis=1)]
        some = cross(t, least)
        some /= np.linalg.norm(some, axis=1)[:, None]
        some[0] = any_square_to(t[0])
        other = cross(t, some)
        ahead = _reflected(p[:-1], t[:-1], some[:-1], p[1:], t[1:])
        steps = np.arctan2((ahead * other[1:]).sum(axis=1), (ahead * some[1:]).sum(axis=1))
        angle = np.concatenate([[0.0], np.cumsum(steps)])[:, None]
        return np.asarray(np.cos(angle) * some + np.sin(angle) * other)

    def transport_normal(self, normal: Array, s: Array) -> Array:
        """``normal`` (3,) at the piece's start carried to stations s (n,), shape (n, 3)."""
        k = np.clip(np.searchsorted(self._grid, s, side="right") - 1, 0, len(self._grid) - 1)
        p, t = self._piece.point(s), self._piece.tangent(s)
        first = _reflected(self._points[k], self._tangents[k], self._frames[k], p, t)
        seed = self._frames[0]
        a, b = float(normal @ seed), float(normal @ cross(self._tangents[0], seed))
        return np.asarray(a * first + b * cross(t, first))


def _reflected(p: Array, t: Array, r: Array, q: Array, u: Array) -> Array:
    """Frames r (n, 3) at points p with tangents t, carried to points q with tangents u by two reflections each."""
    v = q - p
    c = (v * v).sum(axis=1)[:, None]
    same = c < 1e-24
    c = np.where(same, 1.0, c)
    r_left = r - v * (2 / c * (v * r).sum(axis=1)[:, None])
    t_left = t - v * (2 / c * (v * t).sum(axis=1)[:, None])
    w = u - t_left
    d = (w * w).sum(axis=1)[:, None]
    flat = d < 1e-30
    turned_back = np.where(flat, r_left, r_left - w * (2 / np.where(flat, 1.0, d) * (w * r_left).sum(axis=1)[:, None]))
    return np.asarray(np.where(same, r - u * (u * r).sum(axis=1)[:, None], turned_back))
