"""What is still free in a sketch, and which constraints repeat or contradict others."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from scipy import linalg, sparse
from scipy.sparse.linalg import splu

from leadline.core.sketch.rows import Array, Matrix
from leadline.core.sketch.system import System

RANK_TOLERANCE = 1e-7
ZERO = 1e-8


@dataclass
class Diagnosis:
    """``motions`` has one row per free way to move, over the scaled variables; at most 40 of them."""

    freedom: int
    free_points: list[str]
    free_radii: list[str]
    repeated: list[str]
    motions: Array


def diagnose(system: System, x: Array) -> Diagnosis:
    """Count and name what can still move at the solved state x."""
    free = ~system.held
    J = system.equations.jacobian(x)[:, free]
    if isinstance(J, np.ndarray):
        motion, dependent = _dense_null_spaces(J)
        freedom = motion.shape[0]
    else:
        motion, dependent, freedom = _sparse_null_spaces(J)
    full = np.zeros((motion.shape[0], system.n))
    full[:, free] = motion
    moves = np.abs(full).max(axis=0, initial=0.0) > RANK_TOLERANCE
    points = [p.id for p in system.sketch.points if moves[system.variables_of(p.id)].any()]
    radii = [entity for entity, index in system.radius.items() if moves[index]]
    owners = [row.owner for row in system.equations.rows]
    repeated = list(dict.fromkeys(owners[i] for i in dependent))
    return Diagnosis(freedom, points, radii, repeated, full[:40])


def _normalised(J: Array) -> Array:
    size = np.linalg.norm(J, axis=1, keepdims=True)
    return np.asarray(J / np.where(size > 1e-12, size, 1.0))


def _dense_null_spaces(J: Array) -> tuple[Array, list[int]]:
    m, n = J.shape
    if m == 0:
        return np.eye(n), []
    U, sigma, Vt = linalg.svd(_normalised(J), check_finite=False)
    rank = int((sigma > RANK_TOLERANCE * max(sigma[0], 1e-12)).sum())
    left = np.abs(U[:, rank:]).max(axis=1, initial=0.0)
    return Vt[rank:], np.flatnonzero(left > 1e-6).tolist()


def _sparse_null_spaces(J: Matrix) -> tuple[Array, list[int], int]:
    """Project random vectors on the two null spaces with one factorisation."""
    m, n = J.shape
    size = np.sqrt(np.asarray(J.multiply(J).sum(axis=1)).ravel())
    J = (sparse.diags_array(1 / np.where(size > 1e-12, size, 1.0)) @ J).tocsr()
    K = sparse.block_array([[sparse.eye_array(n), J.T], [J, -1e-9 * sparse.eye_array(m)]]).tocsc()
    factor = splu(K)
    random = np.random.default_rng(7)

    def project(k: int) -> Array:
        block = np.vstack([random.standard_normal((n, k)), np.zeros((m, k))])
        moved = factor.solve(block)[:n]
        return np.asarray(factor.solve(np.vstack([moved, np.zeros((m, k))]))[:n])

    k = max(n - m, 0) + 8
    while True:
        basis, sigma, _ = linalg.svd(project(min(k, n)), full_matrices=False)
        freedom = int((sigma > 1e-4 * max(float(sigma[0]), 1.0)).sum())
        if freedom < k or k >= n:
            break
        k *= 2
    # left null space: what -1e-9 I has to bear of a random right-hand side
    bear = factor.solve(np.vstack([np.zeros((n, 4)), random.standard_normal((m, 4))]))[n:] * 1e-9
    dependent = np.flatnonzero(np.abs(bear).max(axis=1) > 1e-4).tolist()
    return basis[:, :freedom].T, dependent, freedom


def bearers(system: System, x: Array, owner: str) -> tuple[list[str], bool]:
    """Which other constraints already decide what ``owner`` asks, at state x.

    Returns their owners (empty: ``owner`` is independent) and whether ``owner`` agrees with them.
    """
    free = ~system.held
    J = system.equations.jacobian(x)[:, free]
    J = _normalised(J.toarray() if not isinstance(J, np.ndarray) else J)
    owners = np.array([row.owner for row in system.equations.rows])
    mine = owners == owner
    others = J[~mine]
    weights, *_ = np.linalg.lstsq(others.T, J[mine].T, rcond=RANK_TOLERANCE)
    inside = np.linalg.norm(others.T @ weights - J[mine].T, axis=0) < 1e-6
    if not inside.any():
        return [], True
    share = np.abs(weights[:, inside]).max(axis=1)
    names = list(dict.fromkeys(owners[~mine][share > 1e-6].tolist()))
    agrees = bool(np.abs(system.equations.residual(x)[mine][inside]).max() < ZERO)
    return names, agrees
