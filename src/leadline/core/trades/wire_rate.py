"""The rate of a wire of any shape by Castigliano's theorem, over the wire's own path."""

from __future__ import annotations

import math
from itertools import pairwise

import numpy as np

from leadline.core.geometry.plane import Array, cross
from leadline.core.paths.path import Path
from leadline.core.problems import Problem

_X, _W = np.polynomial.legendre.leggauss(8)
PARTS = 4  # of each smooth stretch
SHEAR_FORM = 10 / 9  # of a round section


def compliance(
    path: Path,
    wire: float,
    shear_modulus: float,
    elastic_modulus: float,
    *,
    through: Array | None = None,
    along: Array | None = None,
    other_terms: bool = False,
) -> float:
    """How far (mm/N) the ends of a wire come together under a force along the line ``through`` a point (3,) ``along`` a
    direction (3,).

    Without them the force goes from end to end. By statics the moment at a place p of the wire is (a - p) x e for a
    force of one in the direction e through a; its part along the wire twists, the rest bends: δ = ∫ T²/(G Ip) + M²/(E
    I) ds. With ``other_terms`` shear and pull are added.
    """
    at, e = _line(path, through, along)
    polar, axial, area = math.pi * wire**4 / 32, math.pi * wire**4 / 64, math.pi * wire**2 / 4
    total = 0.0
    for s, w in _nodes(path):
        p, t = path.point(s), path.tangent(s)
        moment = cross(at - p, np.broadcast_to(e, p.shape))
        twisting = (moment * t).sum(axis=1)
        bending = (moment**2).sum(axis=1) - twisting**2
        density = twisting**2 / (shear_modulus * polar) + bending / (elastic_modulus * axial)
        if other_terms:
            pull = t @ e
            density = density + pull**2 / (elastic_modulus * area) + SHEAR_FORM * (1 - pull**2) / (shear_modulus * area)
        total += float(w @ density)
    return total


def greatest_arm(path: Path, through: Array | None = None, along: Array | None = None) -> float:
    """The greatest moment (N mm for each N) in a wire under a force as in ``compliance``: how far it strays from the
    line of the force.
    """
    at, e = _line(path, through, along)
    away = path.point(path.samples(64)) - at
    return float(np.linalg.norm(cross(away, np.broadcast_to(e, away.shape)), axis=1).max())


def _line(path: Path, through: Array | None, along: Array | None) -> tuple[Array, Array]:
    """A point of the line that the force goes along, and its direction: by default from end to end.

    Raises Problem when the ends are one place.
    """
    ends = path.point(np.array([0.0, path.length]))
    way = ends[1] - ends[0] if along is None else np.asarray(along, dtype=float)
    if float(np.linalg.norm(way)) < 1e-6 * path.length:
        raise Problem(
            "one-end",
            "The wire's ends are at one place, so that no force goes from one to the other.",
            "Pick an open path.",
            of="along",
        )
    return ends[0] if through is None else np.asarray(through, dtype=float), np.asarray(way / np.linalg.norm(way))


def _nodes(path: Path) -> list[tuple[Array, Array]]:
    """Gauss nodes on every smooth stretch: stations (n,) and weights (n,)."""
    found = []
    for piece, start in zip(path.pieces, path.starts, strict=False):
        for a, b in pairwise(piece.breaks()):
            edges = np.linspace(
                a, b, PARTS * max(1, math.ceil(quarter_turns(piece.tangent(np.linspace(a, b, 64))))) + 1
            )
            half = np.diff(edges)[:, None] / 2
            found.append(((start + edges[:-1, None] + half * (1 + _X)).ravel(), (half * _W).ravel()))
    return found


def quarter_turns(tangents: Array) -> float:
    """How many quarter turns a stretch's direction goes through, from its tangents (n, 3)."""
    cosines = np.clip((tangents[1:] * tangents[:-1]).sum(axis=1), -1.0, 1.0)
    return float(np.arccos(cosines).sum()) / (math.pi / 2)
