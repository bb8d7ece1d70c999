"""Least change under linear conditions: ``[[H + diag(extra), J'], [J, -diag(soft)]]`` factorised, and solved for
several right sides.

In the course of a solve or a drag the pattern of the matrix stays the same, so that it is laid out once, columns in the
order in which their factors stay sparse (Davis et al., Algorithm 836: COLAMD, ACM TOMS 30(3), 2004).
"""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from numpy.typing import NDArray
from scipy import sparse
from scipy.linalg.lapack import dgetrf, dgetrs
from scipy.sparse.linalg import splu

from leadline.core.sketch.rows import Array, Matrix

Ints = NDArray[np.intp]
Solve = Callable[[Array], Array]


def dense_factor(H: Array, J: Array, soft: Array, extra: Array | None) -> Solve:
    """Raises LinAlgError when the matrix is singular."""
    n, m = len(H), len(J)
    K = np.zeros((n + m, n + m), order="F")
    K[:n, :n] = H
    if extra is not None:
        K[np.arange(n), np.arange(n)] += extra
    K[n:, :n] = J
    K[:n, n:] = J.T
    K[np.arange(n, n + m), np.arange(n, n + m)] = -soft
    factors, pivots, info = dgetrf(K, overwrite_a=True)
    if info > 0:
        raise np.linalg.LinAlgError("the matrix is singular")
    return lambda b: np.asarray(dgetrs(factors, pivots, b)[0])


class Bordered:
    """The sparse matrix, of one pattern: ``H`` (n, n) and ``J`` (m, n) are like those that it is made with, in COO
    form.
    """

    def __init__(self, H: Matrix, J: Matrix) -> None:
        self.n, self.m = H.shape[0], J.shape[0]
        self.pattern = (H.row, H.col, J.row, J.col)
        self._order: Ints = np.arange(self.n + self.m)
        self._analysed = False
        self._lay_out()

    def fits(self, H: Matrix, J: Matrix) -> bool:
        own = (H.row, H.col, J.row, J.col)
        return (self.n, self.m) == (H.shape[0], J.shape[0]) and all(map(np.array_equal, self.pattern, own))

    def factor(self, H: Matrix, J: Matrix, soft: Array, extra: Array | None) -> Solve:
        """Raises RuntimeError when the matrix is singular."""
        data = np.concatenate([H.data, J.data, J.data, -soft, np.zeros(self.n) if extra is None else extra])
        K = self._matrix(data)
        if not self._analysed:
            self._order, self._analysed = np.asarray(splu(K, permc_spec="COLAMD").perm_c, dtype=np.intp).argsort(), True
            self._lay_out()
            K = self._matrix(data)
        factors, order = splu(K, permc_spec="NATURAL"), self._order

        def solve(b: Array) -> Array:
            x = np.empty(len(order))
            x[order] = factors.solve(b)
            return x

        return solve

    def _lay_out(self) -> None:
        """Where each number goes in compressed columns, those in their order."""
        h_row, h_col, row, col = self.pattern
        below, own = np.arange(self.n, self.n + self.m), np.arange(self.n)
        i = np.concatenate([h_row, row + self.n, col, below, own])
        j = np.concatenate([h_col, col, row + self.n, below, own])
        size = self.n + self.m
        places, self._slot = np.unique(self._order.argsort()[j] * size + i, return_inverse=True)
        self._rows = (places % size).astype(np.int32)
        self._starts = np.searchsorted(places, np.arange(size + 1) * size).astype(np.int32)

    def _matrix(self, data: Array) -> Matrix:
        size = self.n + self.m
        return sparse.csc_array(
            (np.bincount(self._slot, weights=data, minlength=len(self._rows)), self._rows, self._starts),
            shape=(size, size),
        )
