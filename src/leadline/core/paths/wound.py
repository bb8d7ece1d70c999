"""Wound paths: a coil about any carrier path, exact.

With the carrier's frame that turns with it (N, B; N' = -(K.N) T) and a former's outline q(φ) about the carrier, the
coil is

    P(σ) = C(σ) + λ(σ) (q_x N + q_y B),    φ = φ(σ)

over the carrier's stations σ. Its derivatives follow in closed form, so that nothing is fitted.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Callable
from functools import cached_property
from typing import Protocol

import numpy as np
from scipy.interpolate import PPoly

from leadline.core.geometry.hermite import hermite_quintic
from leadline.core.geometry.laws import Law
from leadline.core.geometry.plane import Array, angles_between, cross
from leadline.core.paths.formers import Former
from leadline.core.paths.path import Path
from leadline.core.paths.pieces import GAUSS_W, GAUSS_X, Curve, SplinePiece
from leadline.core.problems import Problem, degrees, mm

FINE_CARRIER = 128  # cells of the table on each smooth stretch of a free carrier, beside those for a turn
NODES = 3  # of Gauss's rule on a cell: with so many cells to a turn it is off by about 1e-14 of the length
KINK = 1e-6  # rad that a coil may turn by where a bend of its axis begins
SETS, REMEMBERED = (
    16,
    20_000,
)  # of stations, and stations in all of them but those that were asked for last, at which all is kept
DIFFERENCE = 1e-5  # of a carrier piece, for the slope of its curvature


class WoundCurve:
    """A coil over the stations of its carrier.

    ``angle`` gives φ (rad), ``size`` λ, by station; ``start`` is the carrier's normal from which angles count.

    Raises:
        Problem: the carrier has a corner; the coil reaches the centre of one of its bends, or has a corner where one
            begins.
    """

    k = 1

    def __init__(self, carrier: Path, start: Array, angle: Law, size: Law, former: Former) -> None:
        self.carrier, self._start, self._angle, self._size, self._former = carrier, start, angle, size, former
        corner = next((j for j in carrier.joints if j.kind == "corner"), None)
        if corner is not None:
            raise Problem(
                "carrier-corner",
                f"The path that it is wound about has a corner at {mm(corner.station)}.",
                "Round the corner first.",
                station=corner.station,
                of="path",
            )
        self._known: dict[bytes, _Carried] = {}
        self._refuse_folds()
        self._refuse_kinks()

    @cached_property
    def t(self) -> Array:
        """Knots at the breaks of all that it is made of, at most a turn apart."""
        s = self.carrier.samples()
        phi = self._angle.value(s)
        turned = np.concatenate([[0.0], np.cumsum(np.abs(np.diff(phi)))])
        turn = 2 * math.pi
        whole = np.interp(np.arange(1, math.ceil(turned[-1] / turn - 1e-6)) * turn, turned, s)
        own = np.concatenate(
            [piece.breaks() + a for piece, a in zip(self.carrier.pieces, self.carrier.starts, strict=False)]
        )
        inner = np.concatenate(
            [own, whole, self._angle.breaks, self._size.breaks, self._passing(self._former.breaks, s, phi)]
        )
        inner = np.sort(inner[(inner > 0) & (inner < self.carrier.length)])
        slack = 1e-7 * self.carrier.length
        kept = inner[np.diff(inner, prepend=-1.0) > slack]
        kept = kept[(kept > slack) & (kept < self.carrier.length - slack)]
        return np.concatenate([[0.0, 0.0], kept, [self.carrier.length] * 2])

    @property
    def steps(self) -> list[int]:
        """Cells between knots: so many for a turn, and so many for a smooth stretch of the carrier."""
        knots = self.t[1:-1]
        own = [
            (a + piece.breaks(), piece.kind) for piece, a in zip(self.carrier.pieces, self.carrier.starts, strict=False)
        ]
        steps = []
        for a, b in itertools.pairwise(knots):
            spans, kind = own[int(self.carrier.piece_at(np.array([(a + b) / 2]))[0])]
            k = np.clip(np.searchsorted(spans, (a + b) / 2) - 1, 0, len(spans) - 2)
            bent = 0.0 if kind in ("line", "arc") else FINE_CARRIER * (b - a) / (spans[k + 1] - spans[k])
            steps.append(math.ceil(self._former.cells + bent))
        return steps

    @property
    def kinks(self) -> Array:
        """Stations at which the coil passes a kink of the former."""
        s = self.carrier.samples()
        return self._passing(self._former.kinks, s, self._angle.value(s))

    def _passing(self, angles: Array, s: Array, phi: Array) -> Array:
        """Stations at which the coil passes angles of the former."""
        if len(angles) == 0:
            return np.empty(0)
        low, high = float(phi.min()), float(phi.max())
        turns = np.arange(math.floor(low / (2 * math.pi)) - 1, math.ceil(high / (2 * math.pi)) + 1) * 2 * math.pi
        wanted = (angles[:, None] + turns).ravel()
        wanted = wanted[(wanted > low) & (wanted < high)]
        rising = phi[-1] > phi[0]
        return np.interp(wanted, phi if rising else phi[::-1], s if rising else s[::-1])

    def _refuse_folds(self) -> None:
        u = np.linspace(0.0, self.carrier.length, max(400, 24 * math.ceil(self.turns)))
        c = _Carried(self, u)
        room = 1 - c.size * c.kq
        i = int(np.argmin(room))
        if room[i] > 1e-6:
            return
        raise Problem(
            "coil-folds",
            f"At {mm(float(u[i]))} the coil, {mm(float(c.reach[i]))} from its axis there, reaches the centre of "
            f"the axis's bend (radius {mm(1 / float(np.linalg.norm(c.K[i])))}).",
            "Make the coil smaller or the bend wider there.",
            station=float(u[i]),
            of="radius",
        )

    def _refuse_kinks(self) -> None:
        """Where the carrier's curvature jumps, turns that are even along it give the coil a corner."""
        at = np.array(
            [j.station for j in self.carrier.joints if j.kind == "tangent" and 0 < j.station < self.carrier.length]
        )
        if len(at) == 0:
            return
        hair = 1e-9 * self.carrier.length
        before, after = (
            v / np.linalg.norm(v, axis=1)[:, None]
            for v in (_Carried(self, at - hair).first, _Carried(self, at + hair).first)
        )
        turn = angles_between(before, after)
        i = int(np.argmax(turn))
        if turn[i] > KINK:
            raise Problem(
                "coil-kinks",
                (
                    f"At {mm(float(at[i]))}, where a bend of its axis begins or ends, a coil that turns evenly "
                    f"along the axis has a corner of {degrees(turn[i], 3)}."
                ),
                "Let it cross the tube at an even angle, or give the axis curves that go over smoothly.",
                station=float(at[i]),
                of="turning",
            )

    @property
    def turns(self) -> float:
        return abs(float(np.diff(self._angle.value(np.array([0.0, self.carrier.length])))[0])) / (2 * math.pi)

    def __call__(self, u: Array) -> Array:
        return _shaped(u, lambda v: self.on_carrier(v).point)

    def derivative(self, nu: int = 1) -> Callable[[Array], Array]:
        return lambda u: _shaped(u, lambda v: self.on_carrier(v).first if nu == 1 else self.on_carrier(v).second)

    def radial(self, u: Array) -> tuple[Array, Array]:
        """The arm q from the carrier to the coil at unit size, and its derivative, each (n, 3)."""
        c = self.on_carrier(u)
        return c.q, c.dq

    def on_carrier(self, u: Array) -> _Carried:
        """All at stations u (n,); the last answers are kept, because point, slopes and arm are asked for one after the
        other, and at the same stations again whenever what rides on the coil is changed.
        """
        key = u.tobytes()
        known = self._known.pop(key, None)
        self._known[key] = found = _Carried(self, np.array(u)) if known is None else known
        while len(self._known) > SETS or (
            len(self._known) > 1 and sum(len(c.u) for c in self._known.values()) > REMEMBERED
        ):
            del self._known[next(iter(self._known))]
        return found

    def change_of_curvature(self, u: Array) -> Array:
        """dK/dσ of the carrier (n, 3), by differences within its smooth stretches."""
        out = np.empty((len(u), 3))
        which = self.carrier.piece_at(u)
        for i in np.unique(which):
            piece, mask = self.carrier.pieces[i], which == i
            h, local = DIFFERENCE * piece.length, u[mask] - self.carrier.starts[i]
            spans = piece.breaks()
            k = np.clip(np.searchsorted(spans, local, side="right") - 1, 0, len(spans) - 2)
            local = np.clip(local, spans[k] + h, spans[k + 1] - h)
            out[mask] = (piece.curvature(local + h) - piece.curvature(local - h)) / (2 * h)
        return out


def _shaped(u: Array, evaluate: Callable[[Array], Array]) -> Array:
    u = np.asarray(u, dtype=float)
    return evaluate(u.ravel()).reshape(*u.shape, 3)


class _Carried:
    """All that a coil is made of at carrier stations u (n,)."""

    def __init__(self, curve: WoundCurve, u: Array) -> None:
        path = curve.carrier
        self._curve, self.u = curve, u
        self.C, self.T, self.K = path.point(u), path.tangent(u), path.curvature(u)
        N = path.normal(u, curve._start)
        B = cross(self.T, N)
        phi = curve._angle.value(u)
        self.size = curve._size.value(u)
        flat = curve._former.at(phi)
        self.q, self.q1, self.q2 = (v[:, :1] * N + v[:, 1:] * B for v in flat)
        self.kq = (self.K * self.q).sum(axis=1)
        self.reach = self.size * np.linalg.norm(self.q, axis=1)

    @cached_property
    def point(self) -> Array:
        return np.asarray(self.C + self.size[:, None] * self.q)

    @cached_property
    def pace(self) -> Array:
        return self._curve._angle.slope(self.u)[:, None]

    @cached_property
    def dq(self) -> Array:
        return np.asarray(self.pace * self.q1 - self.kq[:, None] * self.T)

    @cached_property
    def first(self) -> Array:
        d_size = self._curve._size.slope(self.u)[:, None]
        return np.asarray(self.T + d_size * self.q + self.size[:, None] * self.dq)

    @cached_property
    def second(self) -> Array:
        u, curve = self.u, self._curve
        size, d_size, dd_size = (f(u)[:, None] for f in (curve._size.value, curve._size.slope, curve._size.second))
        kq1 = (self.K * self.q1).sum(axis=1)[:, None]
        kq = self.kq[:, None]
        d_kq = (curve.change_of_curvature(u) * self.q).sum(axis=1)[:, None] + self.pace * kq1
        dq1 = self.pace * self.q2 - kq1 * self.T
        ddq = curve._angle.second(u)[:, None] * self.q1 + self.pace * dq1 - d_kq * self.T - kq * self.K
        return np.asarray(self.K + dd_size * self.q + 2 * d_size * self.dq + size * ddq)


class Coil(Curve, Protocol):
    """A curve about an axis, with its arm from there."""

    @property
    def steps(self) -> list[int]: ...
    @property
    def kinks(self) -> Array: ...
    def radial(self, u: Array) -> tuple[Array, Array]:
        """The arm from the axis and its derivative, each (n, 3)."""
        ...


class WoundPiece(SplinePiece):
    """A coil by arc length."""

    kind = "wound"
    curve: Coil

    def __init__(self, curve: Coil, origin: str = "") -> None:
        super().__init__(curve, origin, steps=curve.steps, nodes=NODES)

    def kinks(self) -> Array:
        return np.asarray(np.interp(np.sort(self.curve.kinks), self._u, self._s))

    @cached_property
    def _inverse(self) -> PPoly:
        """u by arc length: quintic on each cell of the table, with exact values, slopes and second derivatives at its
        ends.

        Within about 1e-9 mm of arc length, so that what it gives is always on the curve and its station off by no more.
        """
        hair = 1e-9 * np.diff(self._u)
        ends = np.stack([self._u[:-1] + hair, self._u[1:] - hair])
        d, dd = self._d1(ends), self._d2(ends)
        speed = np.linalg.norm(d, axis=-1)
        return hermite_quintic(self._s, self._u, 1 / speed, -(d * dd).sum(axis=-1) / speed**4)

    def _solved(self, s: Array) -> Array:
        return np.asarray(np.clip(self._inverse(s), self._u[0], self._u[-1]))

    def transport_normal(self, normal: Array, s: Array) -> Array:
        """Against the arm from the carrier, whose turning about the coil's tangent is integrated."""
        u = self._parameter(s)
        arm, side = self._arms(u)
        first_arm, first_side = self._arms(self._u[:1])
        angle = math.atan2(float(normal @ first_side[0]), float(normal @ first_arm[0])) - self._turning(u)
        return np.asarray(np.cos(angle)[:, None] * arm + np.sin(angle)[:, None] * side)

    def _arms(self, u: Array) -> tuple[Array, Array]:
        q, _ = self.curve.radial(u)
        t = self._d1(u)
        t = t / np.linalg.norm(t, axis=1)[:, None]
        arm = q - (q * t).sum(axis=1)[:, None] * t
        arm = arm / np.linalg.norm(arm, axis=1)[:, None]
        return arm, cross(t, arm)

    def _rate(self, u: Array) -> Array:
        """How fast the arm turns about the tangent, rad by carrier station."""
        q, dq = self.curve.radial(u)
        d, dd = self._d1(u), self._d2(u)
        speed = np.linalg.norm(d, axis=1)[:, None]
        t = d / speed
        lean = (q * t).sum(axis=1)[:, None]
        arm = q - lean * t
        size = np.linalg.norm(arm, axis=1)
        side = cross(t, arm / size[:, None])
        return np.asarray(((dq - lean * dd / speed) * side).sum(axis=1) / size)

    @cached_property
    def _turning(self) -> PPoly:
        """The arm's angle about the tangent by carrier station, from its rate at Gauss nodes."""
        width = np.diff(self._u)
        nodes = self._u[:-1, None] + width[:, None] / 2 * (1 + GAUSS_X)
        rates = self._rate(nodes.ravel()).reshape(nodes.shape)
        angles = np.concatenate([[0.0], np.cumsum((rates * GAUSS_W).sum(axis=1) * width / 2)])
        fitted = np.polynomial.legendre.legvander(GAUSS_X, 7) * GAUSS_W[:, None] * (np.arange(8) + 0.5)
        ends = np.array([-1.0, 1.0])
        series = rates @ fitted  # each cell's rate as a Legendre series, exact to degree 7
        slopes = np.polynomial.legendre.legvander(ends, 7) @ series.T
        bends = np.polynomial.legendre.legval(ends, np.polynomial.legendre.legder(series.T)).T / (width / 2)
        return hermite_quintic(self._u, angles, slopes, bends)


def wound(carrier: Path, start: Array, angle: Law, size: Law, former: Former, origin: str = "wound") -> Path:
    """The coil as a path of one piece; closed when the carrier is and the coil comes back to itself."""
    curve = WoundCurve(carrier, start, angle, size, former)
    piece = WoundPiece(curve, origin)
    ends = np.array([0.0, piece.length])
    p, t = piece.point(ends), piece.tangent(ends)
    closed = carrier.closed and bool(np.linalg.norm(p[1] - p[0]) < 1e-6 and np.linalg.norm(t[1] - t[0]) < 1e-6)
    return Path([piece], closed)
