"""Lines and arcs evaluated together: routes have hundreds of them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from leadline.core.geometry.mesh import Ints
from leadline.core.geometry.plane import Array
from leadline.core.paths.pieces import ArcPiece, LinePiece, Piece


@dataclass(frozen=True)
class PlainPieces:
    """The lines and arcs among n pieces. ``plain`` (n,) says which are; the rows of others are not used.

    ``base`` (n, 3) is a line's start or an arc's centre, ``u`` and ``v`` (n, 3) as in ``ArcPiece`` with v the direction
    of a line, ``radius`` (n,) is 0 for lines.
    """

    plain: np.ndarray
    base: Array
    u: Array
    v: Array
    radius: Array

    @classmethod
    def of(cls, pieces: Sequence[Piece]) -> PlainPieces:
        none = np.zeros(3)
        rows = [
            (True, p.start, none, p.direction, 0.0)
            if isinstance(p, LinePiece)
            else (True, p.center, p.u, p.v, p.radius)
            if isinstance(p, ArcPiece)
            else (False, none, none, none, 0.0)
            for p in pieces
        ]
        plain, base, u, v, radius = zip(*rows, strict=True)
        return cls(np.array(plain), np.array(base), np.array(u), np.array(v), np.array(radius))

    @cached_property
    def all(self) -> bool:
        return bool(self.plain.all())

    def evaluate(self, which: Ints, s: Array, method: str) -> Array:
        """ "point", "tangent" or "curvature" of pieces (k,), all of them plain, at their own stations s (k,)."""
        r = self.radius[which]
        arc = r > 0
        round_, straight = which[arc], which[~arc]
        out = np.empty((len(which), 3))
        a = (s[arc] / r[arc])[:, None]
        c, sn, u, v = np.cos(a), np.sin(a), self.u[round_], self.v[round_]
        if method == "point":
            out[arc] = self.base[round_] + r[arc][:, None] * (c * u + sn * v)
            out[~arc] = self.base[straight] + s[~arc][:, None] * self.v[straight]
        elif method == "tangent":
            out[arc] = c * v - sn * u
            out[~arc] = self.v[straight]
        else:
            out[arc] = -(c * u + sn * v) / r[arc][:, None]
            out[~arc] = 0.0
        return out
