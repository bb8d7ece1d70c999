"""Equations of a sketch, batched by type.

Every equation is a function of *directions*: two-vectors that are linear in the variables x. With
``V = S x`` the stacked directions, an equation of row i reads, in length units and signed:

- linear    ``L_i x - c_i``
- length    ``|v| + L_i x - c_i``
- equal     ``|v| - |w| - c_i``
- cross     ``cross(v/|v|, w) + L_i x - c_i``       (side of a line)
- angle     ``s_i wrap(atan2(cross(v, w), dot(v, w)) - c_i)``
- general   ``f(x_i)``: any analytic function of a few variables

so that residuals and the Jacobian ``G S + L`` come from a handful of array operations. The general rows (ellipses,
lengths of curves, points on splines) are differentiated one by one by a complex step (Squire and Trapp, SIAM
Review 40(1), 1998), which is exact to rounding.
"""

from __future__ import annotations

import enum
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray
from scipy import sparse

Array = NDArray[np.float64]
Matrix = Any  # a dense array or a sparse one: the two share the operators used here
Terms = Sequence[tuple[int, float]]

DENSE_LIMIT = 60
COMPLEX_STEP = 1e-30
_NONE = np.empty(0, dtype=np.complex128)
Function = Callable[[Any], Any]  # of (..., k) real or complex values, giving (...)


class Kind(enum.IntEnum):
    LINEAR = 0
    LENGTH = 1
    EQUAL = 2
    CROSS = 3
    ANGLE = 4
    GENERAL = 5


@dataclass
class Row:
    kind: Kind
    owner: str
    constant: float = 0.0
    v: int = 0
    w: int = 0
    linear: Terms = ()
    arm: float = 1.0
    function: Function | None = None
    variables: Sequence[int] = ()


class Equations:
    """Rows over ``n`` variables; ``add_direction`` first, then ``add``; ``freeze`` before use."""

    def __init__(self, n: int) -> None:
        self.n = n
        self.rows: list[Row] = []
        self._directions: list[tuple[Terms, Terms]] = [((), ())]

    def add_direction(self, x_terms: Terms, y_terms: Terms) -> int:
        self._directions.append((x_terms, y_terms))
        return len(self._directions) - 1

    def add(self, row: Row) -> None:
        self.rows.append(row)

    def freeze(self) -> None:
        """Lay the rows out as arrays. Rows keep their order."""
        m, k = len(self.rows), len(self._directions)
        self.dense = m <= DENSE_LIMIT and self.n <= 2 * DENSE_LIMIT
        self.S = self._matrix([t for pair in self._directions for t in pair], 2 * k)
        self.L = self._matrix([row.linear for row in self.rows], m)
        self.constant = np.array([row.constant for row in self.rows])
        self.arm = np.array([row.arm for row in self.rows])
        kinds = np.array([row.kind for row in self.rows], dtype=int)
        self.index = {kind: np.flatnonzero(kinds == kind) for kind in Kind}
        v, w = (np.array([getattr(row, side) for row in self.rows], dtype=int) for side in ("v", "w"))
        used = [kind for kind in (Kind.LENGTH, Kind.EQUAL, Kind.CROSS, Kind.ANGLE) if len(self.index[kind])]
        self._pairs = {kind: (self.index[kind], v[self.index[kind]], w[self.index[kind]]) for kind in used}
        self._lay_out_slopes()

    def _lay_out_slopes(self) -> None:
        """Where each number that ``_gradients`` and ``_general_slopes`` give goes in the Jacobian, whose pattern stays
        the same.
        """
        groups = [
            (rows, d) for kind, (rows, v, w) in self._pairs.items() for d in ((v,) if kind == Kind.LENGTH else (v, w))
        ]
        none = np.empty(0, dtype=int)
        own = np.concatenate([none, *(np.repeat(rows, 2) for rows, _ in groups)])
        side = np.concatenate([none, *(np.stack([2 * d, 2 * d + 1], axis=1).ravel() for _, d in groups)])
        S, L = sparse.csr_array(self.S), sparse.coo_array(self.L)
        count = np.diff(S.indptr)[side]
        self._gradient = np.repeat(np.arange(len(side)), count)  # of each term, the gradient that it takes
        term = (
            np.arange(len(self._gradient))
            - np.repeat(np.cumsum(count) - count, count)
            + np.repeat(S.indptr[side], count)
        )
        self._factor = S.data[term]
        general = [(k, v) for k in self.index[Kind.GENERAL] for v in self.rows[k].variables]
        rows = np.concatenate([own[self._gradient], L.row, np.array([k for k, _ in general], dtype=int)])
        columns = np.concatenate([S.indices[term], L.col, np.array([v for _, v in general], dtype=int)])
        self._places, slot = np.unique(rows * self.n + columns, return_inverse=True)
        self._term_slot, linear, self._general_slot = np.split(slot, [len(term), len(term) + L.nnz])
        self._linear = np.bincount(linear, weights=L.data, minlength=len(self._places)).astype(
            float
        )  # of nothing it counts whole numbers
        self._columns = self._places % self.n
        self._starts = np.searchsorted(self._places, np.arange(len(self.rows) + 1) * self.n)

    def _matrix(self, rows: Sequence[Terms], m: int) -> Matrix:
        i = [r for r, terms in enumerate(rows) for _ in terms]
        j = [t[0] for terms in rows for t in terms]
        a = [t[1] for terms in rows for t in terms]
        matrix = sparse.csr_array((a, (i, j)), shape=(m, self.n))
        return matrix.toarray() if self.dense else matrix

    def reached(self) -> NDArray[np.bool_]:
        """Which variables, shape (n,), any residual depends on."""
        reached = np.zeros(self.n, dtype=bool)
        reached[self._columns] = True
        return reached

    def directions(self, x: Array) -> Array:
        """All directions at x, shape (k, 2)."""
        return np.asarray(self.S @ x).reshape(-1, 2)

    def _turning(self, x: Array) -> NDArray[np.complex128]:
        """All directions at x as complex numbers, shape (k,): v* w has the dot product of two as its real part, the
        cross product as its imaginary one.
        """
        return np.asarray(self.S @ x).view(np.complex128)

    def residual(self, x: Array) -> Array:
        """Residuals, shape (m,)."""
        V = self._turning(x)
        r = np.asarray(self.L @ x) - self.constant
        for kind, (i, of_v, of_w) in self._pairs.items():
            v = V[of_v]
            if kind == Kind.LENGTH:
                r[i] += _size(v)
            elif kind == Kind.EQUAL:
                r[i] += _size(v) - _size(V[of_w])
            elif kind == Kind.CROSS:
                r[i] += (v.conj() * V[of_w]).imag / _size(v)
            else:
                r[i] = self.arm[i] * wrap(np.angle(v.conj() * V[of_w]) - self.constant[i])
        for k in self.index[Kind.GENERAL]:
            row = self.rows[k]
            assert row.function is not None
            r[k] += row.function(x[row.variables])
        return np.asarray(r)

    def jacobian(self, x: Array) -> Matrix:
        """Derivatives of the residuals, shape (m, n); dense for small systems."""
        size = len(self._places)
        data = self._linear + np.bincount(
            self._term_slot, weights=self._gradients(x)[self._gradient] * self._factor, minlength=size
        )
        if len(self._general_slot):
            data += np.bincount(self._general_slot, weights=self._general_slopes(x), minlength=size)
        shape = (len(self.rows), self.n)
        if self.dense:
            J = np.zeros(shape[0] * shape[1])
            J[self._places] = data
            return J.reshape(shape)
        return sparse.csr_array((data, self._columns, self._starts), shape=shape)

    def _gradients(self, x: Array) -> Array:
        """By the directions that they are of, x and y one after the other, in the order of ``_lay_out_slopes``."""
        V = self._turning(x)
        found = [_NONE]
        for kind, (i, of_v, of_w) in self._pairs.items():
            v = V[of_v]
            size = _size(v)
            if kind == Kind.LENGTH:
                found.append(v / size)
            elif kind == Kind.EQUAL:
                w = V[of_w]
                found += [v / size, -w / _size(w)]
            elif (
                kind == Kind.CROSS
            ):  # imag(u* w): of w it grows by i u, of v by -i w/|v| without its part along u, as u turns alone
                u = v / size
                found += [1j * u * (-(u.conj() * V[of_w]).real / size), 1j * u]
            else:
                w, arm = V[of_w], self.arm[i]
                found += [-1j * arm * v / size**2, 1j * arm * w / _size(w) ** 2]
        return np.concatenate(found).view(float)

    def _general_slopes(self, x: Array) -> Array:
        """Derivatives of the general rows by their variables, one row after the other."""
        found = []
        for k in self.index[Kind.GENERAL]:
            row = self.rows[k]
            assert row.function is not None
            probes = x[row.variables] + 1j * COMPLEX_STEP * np.eye(len(row.variables))
            found.append(np.imag(row.function(probes)) / COMPLEX_STEP)
        return np.concatenate(found)


def wrap(angle: Array) -> Array:
    """Angles brought to [-pi, pi)."""
    return np.asarray(np.mod(angle + np.pi, 2 * np.pi) - np.pi)


def _size(v: NDArray[np.complex128]) -> Array:
    """|v|, of which none is nought."""
    return np.asarray(np.maximum(np.abs(v), 1e-30))
