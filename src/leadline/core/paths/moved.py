"""Paths carried to another place as they are, or mirrored."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from leadline.core.geometry.plane import Array, Plane
from leadline.core.paths.derived import Derived
from leadline.core.paths.path import Path
from leadline.core.paths.pieces import ArcPiece, LinePiece, Piece


@dataclass(frozen=True)
class Moved(Derived):
    """A piece whose points p are carried to ``turn @ p + shift``; ``turn`` (3, 3) is orthogonal, of a mirror too."""

    turn: Array
    shift: Array

    @property
    def length(self) -> float:
        return self.whole.length

    def point(self, s: Array) -> Array:
        return np.asarray(self.whole.point(s) @ self.turn.T + self.shift)

    def tangent(self, s: Array) -> Array:
        return np.asarray(self.whole.tangent(s) @ self.turn.T)

    def curvature(self, s: Array) -> Array:
        return np.asarray(self.whole.curvature(s) @ self.turn.T)

    def transport_normal(self, normal: Array, s: Array) -> Array:
        """A normal that does not turn about a curve does not turn about its mirror image either."""
        return np.asarray(self.whole.transport_normal(normal @ self.turn, s) @ self.turn.T)

    def breaks(self) -> Array:
        return self.whole.breaks()

    def kinks(self) -> Array:
        return self.whole.kinks()


def moved_piece(piece: Piece, turn: Array, shift: Array) -> Piece:
    """A piece carried to ``turn @ p + shift``; of a line or an arc it is one again."""
    if isinstance(piece, LinePiece):
        return replace(piece, start=turn @ piece.start + shift, end=turn @ piece.end + shift)
    if isinstance(piece, ArcPiece):
        return replace(piece, center=turn @ piece.center + shift, u=turn @ piece.u, v=turn @ piece.v)
    if isinstance(piece, Moved):
        return Moved(piece.whole, turn @ piece.turn, turn @ piece.shift + shift)
    return Moved(piece, turn, shift)


def moved_path(path: Path, turn: Array, shift: Array) -> Path:
    """A path whose points p are carried to ``turn @ p + shift``, ``turn`` (3, 3) orthogonal."""
    up = None if path.up is None else turn @ path.up
    return Path([moved_piece(p, turn, shift) for p in path.pieces], path.closed, up)


def mirrored_path(path: Path, plane: Plane) -> Path:
    """The mirror image of a path in a plane."""
    n = plane.normal
    turn = np.eye(3) - 2 * np.outer(n, n)
    return moved_path(path, turn, 2 * float(n @ plane.origin) * n)
