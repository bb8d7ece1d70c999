"""A smooth curve through points that also has given directions and curvatures at some of them.

The curve is a quintic in each span, over the same parameter u as a plain smooth route, with point, first and second
derivative shared where spans meet. Of all such curves through the points that keep the given directions and curvatures
it is the one of least bending energy, the integral of |P''(u)|². Where nothing is given that is the natural cubic
spline itself (Holladay, Math. Tables Aids Comput. 11, 1957). A given direction is passed as fast as that curve passes
the point, so that a direction which it had already changes nothing.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from scipy.interpolate import BPoly, BSpline
from scipy.sparse import coo_array, csr_array
from scipy.sparse.linalg import spsolve

from leadline.core.geometry.plane import Array
from leadline.core.problems import Problem

ALONG = math.radians(1)  # from the path's own direction, in which a curve cannot bend


@dataclass(frozen=True)
class Passing:
    """How the curve passes a point: in a unit direction ``way`` (3,), bending by ``bend`` (3,), 1/mm, towards the
    centre of its curvature; either is None where the curve finds its own.
    """

    way: Array | None = None
    bend: Array | None = None


def fair_through(u: Sequence[float], points: Array, passing: Mapping[int, Passing], closed: bool = False) -> BSpline:
    """The curve over parameters ``u`` (n) through ``points`` (n, 3), keeping what is given by index in ``passing``.

    A closed curve has its first point again as the last. The result has degree 5 and three knots where spans meet.

    Raises:
        Problem: the curve would have to bend along its own direction.
    """
    at, through = np.asarray(u, dtype=float), np.asarray(points, dtype=float)
    spline = _Spline(at, through, closed)
    plain = spline.solved({}, {})
    speeds = np.maximum(np.linalg.norm(plain[:, 0], axis=1), _least_speeds(at, through, spline.nodes))
    slopes = {i: p.way * speeds[i] for i, p in passing.items() if p.way is not None}
    found = spline.solved(slopes, {}) if slopes else plain
    bends = {i: p.bend for i, p in passing.items() if p.bend is not None}
    if bends:
        slopes |= {i: found[i, 0] for i in bends}
        found = spline.solved(slopes, {i: _bent(i, slopes[i], bend) for i, bend in bends.items()})
    return _spline(at, through, found[np.arange(len(at)) % spline.nodes])


def _least_speeds(u: Array, points: Array, nodes: int) -> Array:
    """Half the speed of the slower of the straight ways to both sides of each node."""
    straight = np.linalg.norm(np.diff(points, axis=0), axis=1) / np.diff(u)
    spans = np.arange(nodes)
    closed = nodes == len(straight)
    before = spans - 1 if closed else np.maximum(spans - 1, 0)
    return np.asarray(np.minimum(straight[before], straight[np.minimum(spans, len(straight) - 1)]) / 2)


def _bent(i: int, slope: Array, bend: Array) -> Array:
    """The part of the second derivative that is square to the slope. Raises Problem."""
    speed = float(np.linalg.norm(slope))
    square = bend - slope * float(bend @ slope) / speed**2
    asked, size = float(np.linalg.norm(bend)), float(np.linalg.norm(square))
    if size < math.sin(ALONG) * asked:
        raise Problem(
            "bends-along",
            f"At point {i + 1} the curve shall bend towards where it already goes.",
            "Give a side square to its direction.",
            of="points",
            point=i,
        )
    return np.asarray(square * (asked / size) * speed**2)


class _Spline:
    """The bending energy of quintic spans in terms of the slopes and second derivatives at their ends."""

    def __init__(self, u: Array, points: Array, closed: bool) -> None:
        self.points = points
        self.nodes = len(u) - 1 if closed else len(u)
        rows: list[Array] = []
        columns: list[Array] = []
        values: list[Array] = []
        pull = np.zeros((2 * self.nodes, 3))
        unit = _energy()
        for k, h in enumerate(np.diff(u)):
            size = np.array([1.0, h, h * h, 1.0, h, h * h])
            K = unit * size[:, None] * size / h**3
            ends = [k % self.nodes, (k + 1) % self.nodes]
            free = np.array([2 * node + order for node in ends for order in (0, 1)])
            own, held = np.array([1, 2, 4, 5]), np.array([0, 3])
            rows.append(np.repeat(free, 4))
            columns.append(np.tile(free, 4))
            values.append(K[np.ix_(own, own)].ravel())
            np.add.at(pull, free, -K[np.ix_(own, held)] @ points[[k, k + 1]])
        shape = (2 * self.nodes, 2 * self.nodes)
        self._K = csr_array(
            coo_array((np.concatenate(values), (np.concatenate(rows), np.concatenate(columns))), shape=shape)
        )
        self._pull = pull

    def solved(self, slopes: Mapping[int, Array], bent: Mapping[int, Array]) -> Array:
        """Slope and second derivative at each node, (n, 2, 3), of least energy.

        The ``slopes`` are kept. At a node of ``bent``, which has a slope, the second derivative is the given one plus
        some multiple of the slope.
        """
        count = 3 * 2 * self.nodes
        fixed = np.zeros(count)
        rows, columns, values = [], [], []
        free = 0
        for node, order in itertools.product(range(self.nodes), (0, 1)):
            slots = 3 * (2 * node + order) + np.arange(3)
            basis = np.eye(3)
            if order == 0 and node in slopes:
                fixed[slots], basis = slopes[node], np.zeros((0, 3))
            elif order == 1 and node in bent:
                fixed[slots], basis = bent[node], slopes[node][None]
            rows.append(np.tile(slots, len(basis)))
            columns.append(np.repeat(free + np.arange(len(basis)), 3))
            values.append(basis.ravel())
            free += len(basis)
        N = csr_array(
            coo_array((np.concatenate(values), (np.concatenate(rows), np.concatenate(columns))), shape=(count, free))
        )
        whole = csr_array(_thrice(self._K))
        right = N.T @ (self._pull.ravel() - whole @ fixed)
        reduced = (N.T @ whole @ N).tocsc()
        return np.asarray(fixed + N @ np.atleast_1d(spsolve(reduced, right))).reshape(self.nodes, 2, 3)


def _thrice(K: csr_array) -> coo_array:
    """The same matrix for each of three coordinates that stand side by side."""
    c = coo_array(K)
    axis = np.arange(3)
    rows = (3 * c.row[:, None] + axis).ravel()
    columns = (3 * c.col[:, None] + axis).ravel()
    return coo_array((np.repeat(c.data, 3), (rows, columns)), shape=(3 * K.shape[0], 3 * K.shape[1]))


def _energy() -> Array:
    """Integrals over [0, 1] of products of the second derivatives of the six quintic Hermite functions, (6, 6)."""
    x, w = np.polynomial.legendre.leggauss(4)  # exact for the degree 6 of such a product
    x, w = (x + 1) / 2, w / 2
    functions = [BPoly.from_derivatives([0.0, 1.0], [e[:3], e[3:]]) for e in np.eye(6)]
    second = np.stack([f.derivative(2)(x) for f in functions])
    return np.asarray(second * w @ second.T)


def _spline(u: Array, points: Array, derivatives: Array) -> BSpline:
    """The quintic with points, slopes and second derivatives (n, 2, 3) at u as a B-spline.

    With three knots at an inner place its coefficients there are the third and fourth Bézier points of the span before,
    a blend of the fifth and sixth, and so on (Ramshaw, Blossoming, 1987): f(a,b,b,b,c) lies on the line from
    f(a,a,b,b,b) to f(a,b,b,b,b), at (c - a) / (b - a).
    """
    D, S = derivatives[:, 0], derivatives[:, 1]
    h = np.diff(u)[:, None]
    second = points[:-1] + 2 / 5 * h * D[:-1] + h * h * S[:-1] / 20
    fourth = points[1:] - h * D[1:] / 5
    third = points[1:] - 2 / 5 * h * D[1:] + h * h * S[1:] / 20
    blend = 1 + h[1:] / h[:-1]
    inner = third[:-1] + blend * (fourth[:-1] - third[:-1])
    middle = np.empty((len(h) + len(inner) + len(h), 3))
    middle[0::3], middle[1::3] = second, third
    middle[2::3] = inner
    c = np.vstack([points[:1], points[:1] + h[:1] * D[:1] / 5, middle, fourth[-1:], points[-1:]])
    knots = np.concatenate([[u[0]] * 6, np.repeat(u[1:-1], 3), [u[-1]] * 6])
    return BSpline(knots, c, 5)
