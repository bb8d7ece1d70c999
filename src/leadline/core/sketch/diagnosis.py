"""What is still free in a sketch, and which constraints repeat or contradict others."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy import linalg, sparse
from scipy.sparse.linalg import splu

from leadline.core.sketch.rows import Array, Matrix
from leadline.core.sketch.system import System

QR_LIMIT = 400
RANK_TOLERANCE = 1e-7
FULL_RANK = 1e-6
MOVES = 1e-6
MOTIONS = 40
SHOWN_MOTIONS = 6
SPARSE_FROM = 40  # rows from which a sparse factorisation beats dense algebra
SMALLEST = 1e-11  # of J J', whose eigenvalues are squared singular values
ZERO = 1e-8
DEPENDENT = 1e-6  # of a row of unit length, by which it may differ from what others give


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
    spaces = _independent(J) if J.shape[0] >= SPARSE_FROM else None
    if spaces is None and J.shape[0] <= QR_LIMIT:
        spaces = _by_qr(_normalised(J if isinstance(J, np.ndarray) else J.toarray()))
    elif spaces is None:
        spaces = _by_projection(J)
    full = np.zeros((len(spaces.motions), system.n))
    full[:, free] = spaces.motions
    found = np.zeros(system.n, dtype=bool)
    found[free] = spaces.moves
    moves = found.tolist()
    points = [p.id for p in system.sketch.points if any(moves[i] for i in system.variables_of(p.id))]
    radii = [entity for entity, index in system.radius.items() if moves[index]]
    owners = [row.owner for row in system.equations.rows]
    repeated = list(dict.fromkeys(owners[i] for i in spaces.dependent))
    return Diagnosis(spaces.freedom, points, radii, repeated, full)


@dataclass
class _Spaces:
    """``motions`` (k, n) span some of the free motions, ``moves`` (n,) tells which variables any of them moves."""

    freedom: int
    motions: Array
    moves: NDArray[np.bool_]
    dependent: list[int]


def _independent(J: Matrix) -> _Spaces | None:
    """When all rows are independent: one sparse factorisation of J J' projects random motions on the null space.

    A variable moves when any of a few random vectors moves it after projection. None when rows depend on each
    other or nearly do, as inverse iteration tells from the smallest eigenvalue.
    """
    m, n = J.shape
    if m > n:
        return None
    J = sparse.csr_array(J)
    size = np.sqrt(np.asarray(J.multiply(J).sum(axis=1)).ravel())
    J = sparse.csr_array(sparse.diags_array(1 / np.where(size > 1e-12, size, 1.0)) @ J)
    try:
        factor = splu(sparse.csc_array(J @ J.T), permc_spec="MMD_AT_PLUS_A", options={"SymmetricMode": True})
    except RuntimeError:  # exactly singular
        return None
    random = np.random.default_rng(7)
    probe = random.standard_normal((m, 2))
    smallest = 1.0
    for _ in range(3):
        probe /= np.linalg.norm(probe, axis=0)
        probe = factor.solve(probe)
        grown = float(np.linalg.norm(probe, axis=0).max())
        if not np.isfinite(grown):
            return None
        smallest = 1 / grown
    if smallest < SMALLEST:
        return None
    v = random.standard_normal((n, min(n - m, SHOWN_MOTIONS) if n > m else 1))
    v = v - J.T @ factor.solve(np.asarray(J @ v))
    v = v - J.T @ factor.solve(np.asarray(J @ v))
    moves = np.abs(v).max(axis=1) > MOVES
    if n == m:
        return _Spaces(0, np.zeros((0, n)), np.zeros(n, dtype=bool), [])
    return _Spaces(n - m, np.asarray(np.linalg.qr(v)[0].T), moves, [])


def _normalised(J: Array) -> Array:
    size = np.linalg.norm(J, axis=1, keepdims=True)
    return np.asarray(J / np.where(size > 1e-12, size, 1.0))


def _by_qr(J: Array) -> _Spaces:
    """Q of the row space gives all: a variable moves where its row of Q is shorter than one."""
    m, n = J.shape
    if m == 0:
        return _Spaces(n, np.eye(n)[:MOTIONS], np.ones(n, dtype=bool), [])
    if m <= n:
        Q, R = np.linalg.qr(J.T)
        if np.abs(np.diag(R)).min() > FULL_RANK:
            return _Spaces(n - m, _some_motions(Q, n - m), _moved(Q), [])
    U, sigma, Vt = linalg.svd(J, check_finite=False)
    rank = int((sigma > RANK_TOLERANCE * max(sigma[0], 1e-12)).sum())
    left = np.abs(U[:, rank:]).max(axis=1, initial=0.0)
    dependent = np.flatnonzero(left > 1e-6).tolist()
    return _Spaces(n - rank, Vt[rank:][:MOTIONS], _moved(Vt[:rank].T), dependent)


def _moved(Q: Array) -> NDArray[np.bool_]:
    return np.asarray(1.0 - (Q * Q).sum(axis=1) > MOVES**2)


def _some_motions(Q: Array, freedom: int) -> Array:
    """A few free motions: random vectors with their part in the row space taken off."""
    v = np.random.default_rng(7).standard_normal((Q.shape[0], min(freedom, MOTIONS)))
    v = v - Q @ (Q.T @ v)
    return np.asarray(np.linalg.qr(v)[0].T if v.size else v.T)


def _by_projection(J: Matrix) -> _Spaces:
    """Large systems: project random vectors on the two null spaces with one sparse factorisation."""
    m, n = J.shape
    size = np.sqrt(np.asarray(J.multiply(J).sum(axis=1)).ravel())
    J = sparse.csr_array(sparse.diags_array(1 / np.where(size > 1e-12, size, 1.0)) @ J)
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
    motions = basis[:, :freedom].T
    moves = np.sqrt((motions**2).sum(axis=0)) > 1e-4
    return _Spaces(freedom, motions[:MOTIONS], moves, dependent)


def redundant_with(system: System, x: Array, owner: str, tolerance: float = DEPENDENT) -> tuple[list[str], bool]:
    """Which other constraints already decide what ``owner`` asks, at state x; nearly so within a ``tolerance``.

    Returns their owners (empty: ``owner`` is independent) and whether ``owner`` agrees with them.
    """
    free = ~system.held
    J = system.equations.jacobian(x)[:, free]
    J = _normalised(J.toarray() if not isinstance(J, np.ndarray) else J)
    owners = np.array([row.owner for row in system.equations.rows])
    mine = owners == owner
    others = J[~mine]
    weights, *_ = np.linalg.lstsq(others.T, J[mine].T, rcond=max(RANK_TOLERANCE, tolerance / 10))
    inside = np.linalg.norm(others.T @ weights - J[mine].T, axis=0) < tolerance
    if not inside.any():
        return [], True
    share = np.abs(weights[:, inside]).max(axis=1)
    names = list(dict.fromkeys(owners[~mine][share > tolerance].tolist()))
    agrees = bool(np.abs(system.equations.residual(x)[mine][inside]).max() < ZERO)
    return names, agrees
