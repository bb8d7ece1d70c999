"""Pieces made of other pieces: a stretch of one, and one the other way round."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from leadline.core.geometry.plane import Array, any_square_to, cross
from leadline.core.paths.pieces import ArcPiece, LinePiece, Piece, turned


@dataclass(frozen=True)
class Derived:
    """A piece over the stations of another."""

    whole: Piece

    @property
    def kind(self) -> str:
        return self.whole.kind

    @property
    def origin(self) -> str:
        return self.whole.origin

    def _carried_from(self, station: float, normal: Array, s: Array) -> Array:
        """``normal`` at a station of the whole carried to stations s (n,) of it: all carried normals keep their angle
        to one of them.
        """
        seed, at = any_square_to(self.whole.tangent(np.zeros(1))[0]), np.array([station])
        u, t = self.whole.transport_normal(seed, at)[0], self.whole.tangent(at)[0]
        a, b = float(normal @ u), float(normal @ cross(t, u))
        carried = self.whole.transport_normal(seed, s)
        return np.asarray(a * carried + b * cross(self.whole.tangent(s), carried))


@dataclass(frozen=True)
class Part(Derived):
    """The stretch of another piece between two of its stations."""

    start: float
    end: float

    @property
    def length(self) -> float:
        return self.end - self.start

    def point(self, s: Array) -> Array:
        return self.whole.point(s + self.start)

    def tangent(self, s: Array) -> Array:
        return self.whole.tangent(s + self.start)

    def curvature(self, s: Array) -> Array:
        return self.whole.curvature(s + self.start)

    def transport_normal(self, normal: Array, s: Array) -> Array:
        return self._carried_from(self.start, normal, s + self.start)

    def breaks(self) -> Array:
        inner = self.whole.breaks()
        slack = 1e-9 * self.whole.length
        inner = inner[(inner > self.start + slack) & (inner < self.end - slack)]
        return np.concatenate([[0.0], inner - self.start, [self.length]])

    def kinks(self) -> Array:
        inner = self.whole.kinks() - self.start
        return inner[(inner > 0) & (inner < self.length)]


@dataclass(frozen=True)
class Backward(Derived):
    """Another piece the other way round."""

    @property
    def length(self) -> float:
        return self.whole.length

    def point(self, s: Array) -> Array:
        return self.whole.point(self.length - s)

    def tangent(self, s: Array) -> Array:
        return -self.whole.tangent(self.length - s)

    def curvature(self, s: Array) -> Array:
        return self.whole.curvature(self.length - s)

    def transport_normal(self, normal: Array, s: Array) -> Array:
        """A normal that does not turn about the piece does not turn about it the other way round either."""
        return self._carried_from(self.length, normal, self.length - s)

    def breaks(self) -> Array:
        return self.length - self.whole.breaks()[::-1]

    def kinks(self) -> Array:
        return self.length - self.whole.kinks()[::-1]


def part_of(piece: Piece, start: float, end: float) -> Piece:
    """A stretch of a piece; of a line or an arc it is one again."""
    if isinstance(piece, LinePiece):
        a, b = piece.point(np.array([start, end]))
        return LinePiece(a, b, piece.origin)
    if isinstance(piece, ArcPiece):
        angle = np.array([start / piece.radius])
        u, v = (turned(w, piece.axis, angle)[0] for w in (piece.u, piece.v))
        return ArcPiece(piece.center, u, v, piece.radius, (end - start) / piece.radius, piece.origin)
    return Part(piece, start, end)


def reversed_piece(piece: Piece) -> Piece:
    """A piece the other way round; of a line or an arc it is one again."""
    if isinstance(piece, LinePiece):
        return LinePiece(piece.end, piece.start, piece.origin)
    if isinstance(piece, ArcPiece):
        end = np.array([piece.length])
        u = (piece.point(end)[0] - piece.center) / piece.radius
        return ArcPiece(piece.center, u, -piece.tangent(end)[0], piece.radius, piece.sweep, piece.origin)
    return piece.whole if isinstance(piece, Backward) else Backward(piece)
