"""The advance of a coil that crosses its tube at an even angle.

Turns that are even along the axis give a coil a corner where the axis goes from straight to bend, because the tube's
outer side is then suddenly longer than its inner one. P' = T (1 - λ K.q) + λ' q + λ φ' q_φ keeps its direction there
when λ' and φ' are in proportion to 1 - λ K.q: when both follow their laws over an advance w along the axis with

    w' = factor (1 - λ(w) K.q(φ(w))),    w(0) = 0,    w(L) = L.
"""

from __future__ import annotations

import itertools
import math
from dataclasses import dataclass

import numpy as np
from scipy.integrate import odeint
from scipy.interpolate import CubicSpline, PPoly
from scipy.optimize import brentq

from leadline.core.geometry.hermite import hermite_quintic
from leadline.core.geometry.laws import Law
from leadline.core.geometry.plane import Array, cross
from leadline.core.paths.formers import Former
from leadline.core.paths.path import Path

NODES_A_TURN = 64
TABLE = 65  # nodes for the axis's bending on each of its smooth stretches
EXACT = 1e-11


@dataclass(frozen=True)
class _Coil:
    angle: Law
    size: Law
    former: Former


@dataclass(frozen=True)
class Advanced:
    """A law over the advance instead of the station."""

    law: Law
    advance: Advance

    @property
    def steady(self) -> bool:
        return self.law.steady

    @property
    def breaks(self) -> Array:
        return np.concatenate([self.advance.breaks, self.advance.stations(self.law.breaks)])

    def value(self, s: Array) -> Array:
        return self.law.value(self.advance.value(s))

    def slope(self, s: Array) -> Array:
        return np.asarray(self.law.slope(self.advance.value(s)) * self.advance.slope(s))

    def second(self, s: Array) -> Array:
        w, pace = self.advance.value(s), self.advance.slope(s)
        return np.asarray(self.law.second(w) * pace**2 + self.law.slope(w) * self.advance.second(s))


class Advance:
    """w by the carrier's stations for a coil of ``angle`` and ``size`` laws; ``normal`` is where its angles
    count from.
    """

    def __init__(self, carrier: Path, normal: Array, angle: Law, size: Law, former: Former) -> None:
        coil = _Coil(angle, size, former)
        self.length = carrier.length
        self._stretches = [
            _Stretch(carrier, normal, coil, float(a + p), float(a + q))
            for a, piece in zip(carrier.starts, carrier.pieces, strict=False)
            for p, q in itertools.pairwise(piece.breaks())
        ]
        self.breaks = np.array([s.end for s in self._stretches[:-1]])
        factor = brentq(lambda f: self._solved(f)[1] - self.length, 0.2, 5.0, xtol=1e-13)
        self._tables = self._solved(float(factor))[0]

    def _solved(self, factor: float) -> tuple[list[PPoly], float]:
        tables, at = [], 0.0
        for stretch in self._stretches:
            tables.append(stretch.solve(at, factor))
            at = float(tables[-1](stretch.end))
        return tables, at

    def stations(self, advance: Array) -> Array:
        """Where the advance has come to given values."""
        s = np.linspace(0.0, self.length, 4001)
        return np.interp(advance, self.value(s), s)

    def _evaluated(self, s: Array, nu: int) -> Array:
        s = np.asarray(s, dtype=float)
        which = np.searchsorted(self.breaks, s, side="right")
        out = np.empty(s.shape)
        for i in np.unique(which):
            out[which == i] = self._tables[i](s[which == i], nu)
        return out

    def value(self, s: Array) -> Array:
        return self._evaluated(s, 0)

    def slope(self, s: Array) -> Array:
        return self._evaluated(s, 1)

    def second(self, s: Array) -> Array:
        return self._evaluated(s, 2)


class _Stretch:
    """A smooth stretch of the carrier, by its bending towards the carried normal and across."""

    def __init__(self, carrier: Path, normal: Array, coil: _Coil, start: float, end: float) -> None:
        self.start, self.end, self._coil = start, end, coil
        hair = 1e-9 * carrier.length
        s = np.linspace(start, end, TABLE)
        inside = np.clip(s, start + hair, end - hair)
        N, K = carrier.normal(inside, normal), carrier.curvature(inside)
        B = cross(carrier.tangent(inside), N)
        bends = np.stack([(K * N).sum(axis=1), (K * B).sum(axis=1)], axis=1)
        self._bends = CubicSpline(s, bends)
        self._straight = bool(np.abs(bends).max() < 1e-12)

    def _share(self, w: Array, s: Array) -> Array:
        """1 - λ K.q."""
        q = self._coil.former.at(self._coil.angle.value(w))[0]
        return np.asarray(1 - self._coil.size.value(w) * (self._bends(s) * q).sum(axis=1))

    def solve(self, first: float, factor: float) -> PPoly:
        """w over the stretch from its start."""
        if self._straight:
            return PPoly(np.array([[factor], [first]]), np.array([self.start, self.end]))
        angle, size = self._coil.angle, self._coil.size
        turns = abs(float(np.diff(angle.value(first + factor * np.array([0.0, self.end - self.start])))[0])) / (
            2 * math.pi
        )
        s = np.linspace(self.start, self.end, max(17, math.ceil(NODES_A_TURN * turns)))
        w = odeint(lambda v, at: factor * self._share(v, np.array([at])), [first], s, rtol=EXACT, atol=EXACT)[:, 0]
        slope = factor * self._share(w, s)
        q, dq, _ = self._coil.former.at(angle.value(w))
        k, dk = self._bends(s), self._bends(s, 1)
        kq, kdq = (k * q).sum(axis=1), (k * dq).sum(axis=1)
        change = size.slope(w) * slope * kq + size.value(w) * ((dk * q).sum(axis=1) + angle.slope(w) * slope * kdq)
        second = -factor * change
        return hermite_quintic(s, w, np.stack([slope[:-1], slope[1:]]), np.stack([second[:-1], second[1:]]))
