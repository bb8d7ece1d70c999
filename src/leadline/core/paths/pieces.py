"""The kinds of piece that a path is made of, each parametrised by arc length.

All methods take stations s (n,), mm from the start of the piece, and return (n, 3): points in mm, unit tangents,
curvature vectors in 1/mm.
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
# Share of the parameter's range: Newton's method ends after a step smaller than this, as it squares the error, which is
# then below rounding.
LAST_STEP = 1e-8
_FINE = 32  # cells of the table on each knot span, on which Gauss's rule for the length is exact to rounding


class Piece(Protocol):
    """One smooth stretch of a path.

    Attributes:
        kind: "line", "arc", "helix" or "spline".
        origin: What it was drawn as: faces swept along it are named after that.
        length: Its arc length, mm.
    """

    @property
    def kind(self) -> str: ...
    @property
    def origin(self) -> str: ...
    @property
    def length(self) -> float: ...
    def point(self, s: Array) -> Array: ...
    def tangent(self, s: Array) -> Array: ...
    def curvature(self, s: Array) -> Array:
        """The curvature vectors d²C/ds², 1/mm."""
        ...

    def transport_normal(self, normal: Array, s: Array) -> Array:
        """A unit normal (3,) at the piece's start, carried along it without turning about the tangent."""
        ...

    def breaks(self) -> Array:
        """Stations, ends included, between which all derivatives are continuous, (m,), mm."""
        ...

    def kinks(self) -> Array:
        """Stations beside the breaks at which the curvature is continuous and its derivative is not, (m,), mm."""
        ...


@dataclass(frozen=True)
class LinePiece:
    """A straight line between two points (3,), mm."""

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
    """A circular arc.

    Attributes:
        center: Its centre, (3,), mm.
        u: The unit vector from the centre to the start, (3,).
        v: The unit tangent at the start, (3,).
        radius: Its radius, mm.
        sweep: The angle that it goes round, rad, above 0.
    """

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
    """A circular helix.

    Attributes:
        center: The foot of its start on its axis, (3,), mm.
        u: The unit vector from there to the start, (3,).
        v: The unit vector ``axis x u``, (3,).
        radius: Its radius, mm.
        lead: The advance along the axis for each turn, mm; right-handed above 0, left-handed below.
        turns: The number of turns, above 0.
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
        """The arc length for each radian of turn, mm: sqrt(r² + (lead / 2π)²)."""
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
        """In closed form: a normal carried without twist turns against the Frenet frame by -τ s, with the torsion
        τ = h / (r² + h²) and h = lead / 2π (do Carmo, Differential Geometry of Curves and Surfaces, 1976, section 1-5).
        """
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
    """A curve by any parameter, from ``t[k]`` to ``t[-k-1]``, from which a piece by arc length is made.

    It has the interface of ``scipy.interpolate.BSpline``: t are its knots, k its degree.
    """

    @property
    def t(self) -> Array: ...
    @property
    def k(self) -> int: ...
    def __call__(self, u: Array, /) -> Array: ...
    def derivative(self, nu: int = 1, /) -> Callable[[Array], Array]: ...


@dataclass(frozen=True)
class EllipseCurve:
    """An arc of an ellipse: ``center + cos(a) major + sin(a) minor`` with ``a = start + u sweep`` for u from 0 to 1.

    Attributes:
        center: Its centre, (3,), mm.
        major: One half-axis, (3,), mm.
        minor: The other one, (3,), mm.
        start: The first angle, rad.
        sweep: The angle that it goes round, rad; against ``major`` to ``minor`` below 0.
        k: The number of end knots that count once, as of a spline of that degree. There is a knot at each quarter, so
            that tables of the arc length are cut there.
    """

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
    """A B-spline or an ellipse by arc length.

    The length from the start is integrated by Gauss's rule on a fine table of the parameter u. Its inverse u(s) is read
    from that table by quintic Hermite interpolation, and corrected by Newton's method to about 1e-12 of the length.

    Args:
        curve: The curve by its own parameter.
        origin: What it was drawn as.
        plane_normal: The unit normal of its plane, (3,), if it is known to be flat.
        steps: The table's cells on each knot span; ``_FINE`` each without.
        nodes: Nodes of Gauss's rule on each cell.
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
        """The parameters u at stations s, (n,). The last answer is kept, as point, tangent and curvature are usually
        asked for at the same stations.
        """
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
        """The same on a flat curve: a normal keeps its components along the plane's normal and square to the path."""
        t0 = self.tangent(np.zeros(1))[0]
        inward = cross(axis, t0)
        a, b = float(normal @ inward), float(normal @ axis)
        return np.asarray(a * cross(axis, self.tangent(s)) + b * axis)

    def breaks(self) -> Array:
        return np.asarray(self._knot_stations)

    def kinks(self) -> Array:
        return np.empty(0)


def turned(vector: Array, axis: Array, angle: Array) -> Array:
    """A vector (3,) turned about a unit axis (3,) by angles (n,), rad: (n, 3), by Rodrigues' formula."""
    c, s = np.cos(angle)[:, None], np.sin(angle)[:, None]
    return np.asarray(c * vector + s * cross(axis, vector) + (1 - c) * axis * float(axis @ vector))


class DoubleReflection:
    """Normals carried along a piece without turning about its tangent, by the double reflection method (Wang, Jüttler,
    Zheng and Liu, Computation of Rotation Minimizing Frames, ACM TOG 27(1), 2008).

    One normal is carried along a fixed fine grid of stations. At any other station it is carried one step further from
    the grid station before it, so that the result does not depend on which stations are asked for together. Any other
    normal keeps its angle to this one.
    """

    def __init__(self, piece: Piece) -> None:
        self._piece = piece
        spans = piece.breaks()
        grid = np.concatenate([np.linspace(a, b, 129)[:-1] for a, b in itertools.pairwise(spans)] + [spans[-1:]])
        self._grid, self._points, self._tangents = grid, piece.point(grid), piece.tangent(grid)
        self._frames = self._along_the_grid()

    def _along_the_grid(self) -> Array:
        """The carried normal at each station of the grid, (n, 3).

        All steps are computed at once: at each station an arbitrary normal is chosen, the step from the station before
        carries that one's normal to here, and the angle between the two is the step's own. The carried normal's angle
        to the arbitrary one is then the sum of the steps' angles.
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
        """A unit normal (3,) at the piece's start carried to stations s (n,), mm: (n, 3)."""
        k = np.clip(np.searchsorted(self._grid, s, side="right") - 1, 0, len(self._grid) - 1)
        p, t = self._piece.point(s), self._piece.tangent(s)
        first = _reflected(self._points[k], self._tangents[k], self._frames[k], p, t)
        seed = self._frames[0]
        a, b = float(normal @ seed), float(normal @ cross(self._tangents[0], seed))
        return np.asarray(a * first + b * cross(t, first))


def _reflected(p: Array, t: Array, r: Array, q: Array, u: Array) -> Array:
    """Normals r (n, 3) at points p with unit tangents t, carried to points q with unit tangents u, (n, 3) each.

    The first reflection takes p to q, the second then takes the tangent to u. Where q is p the normal is only made
    square to u; where the tangent is u already after the first reflection there is no second one.
    """
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
