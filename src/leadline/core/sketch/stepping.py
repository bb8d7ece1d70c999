"""From the drawn state to one that satisfies every equation, without flipping anything.

All equations are carried along one homotopy ``r(x) = (1 - t) r(x0)``. A step is tried whole, corrected
by least-change Newton steps and halved when they fail or when a guard trips. "Least change" is
measured in the edge metric ``sum |d edge|^2 / len^2 + sum (dr / r)^2 + 0.05 sum |dx|^2``, because a plain
minimum norm turns small edges inside out.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from scipy import sparse

from leadline.core.sketch.bordered import Bordered, dense_factor
from leadline.core.sketch.rows import Array, Matrix
from leadline.core.sketch.system import System

TOLERANCE = 1e-11
SOFT = 1e-9  # of the diagonal of J H^-1 J', by which a row may give way to rows that it depends on
MAX_CORRECTIONS = 8
MUCH_SMALLER = 0.03  # of the residual before: then the slopes of that step still serve
SMALLEST_STEP = 1 / 512
MAX_TURN = math.radians(60)
MIN_STRETCH = 0.2
END_SLACK = 1e-9
CALM_EDGES = 0.02


@dataclass
class Outcome:
    """``reached`` is the homotopy parameter got to: 1 when solved."""

    x: Array
    reached: float
    steps: int = 0

    @property
    def solved(self) -> bool:
        return self.reached >= 1.0


def solve(system: System, x0: Array) -> Outcome:
    """Follow the homotopy from x0 (shape (n,), scaled). Never raises; ``reached`` tells how far it got."""
    equations = system.equations
    r0 = equations.residual(x0)
    x, t, step, steps = x0, 0.0, 1.0, 0
    if r0.size == 0 or np.abs(r0).max() <= TOLERANCE:
        return Outcome(x0, 1.0)
    while t < 1.0:
        step = min(step, 1.0 - t)
        wanted = (1.0 - t - step) * r0
        tried, corrections = correct(system, x, wanted)
        steps += 1
        if tried is not None and keeps_shape(system, x, tried):
            x, t = tried, t + step
            if 1.0 - t < 1e-12:
                t = 1.0
            step *= 2 if corrections <= 4 else 1
        else:
            step /= 2
            if step < SMALLEST_STEP:
                return Outcome(x, t, steps)
    return Outcome(x, 1.0, steps)


def correct(system: System, x: Array, wanted: Array, near: bool = False) -> tuple[Array | None, int]:
    """Newton steps from x until the residual is ``wanted``; None when they do not get there.

    From a place that is ``near`` the slopes of one step serve for the next, too, as long as each makes the residual
    much smaller.
    """
    equations = system.equations
    if not equations.rows:
        return x, 0
    metric = EdgeMetric(system, x)
    last, change = math.inf, None
    for i in range(MAX_CORRECTIONS + 1):
        miss = equations.residual(x) - wanted
        size = float(np.abs(miss).max())
        if not math.isfinite(size):
            return None, i
        done = size <= TOLERANCE
        if not done and (i == MAX_CORRECTIONS or (i > 3 and size > 0.9 * last)):
            return (x, i) if size <= 1e3 * TOLERANCE else (None, i)
        if done and size <= 1e-15:
            return x, i
        if change is None or not near or size > MUCH_SMALLER * last:
            change = metric.factor(equations.jacobian(x))
        x = x + change(-miss, None)
        if done:
            return x, i
        last = size
    return None, MAX_CORRECTIONS


class EdgeMetric:
    """The quadratic form in which steps are smallest, at a given state.

    A ``calm`` one holds places more than edges, so that what is not dragged stays where it is.
    """

    def __init__(self, system: System, x: Array, calm: bool = False) -> None:
        self.system, self.free = system, ~system.held
        V = system.equations.directions(x)
        edges = np.array(system.edges + [a for pair in system.arcs for a in pair], dtype=int)
        lengths = np.maximum(np.hypot(*V[edges].T), 1e-3) if len(edges) else np.zeros(0)
        rows = np.stack([2 * edges, 2 * edges + 1], axis=1).ravel()
        weights = np.repeat((CALM_EDGES if calm else 1.0) / lengths, 2)
        diagonal = np.full(system.n, 1.0 if calm else 0.05)
        for r in system.radius.values():
            diagonal[r] += 1 / max(abs(x[r]), 1e-3) ** 2
        S = system.equations.S
        if system.equations.dense:
            E = (np.asarray(S)[rows] * weights[:, None])[:, self.free]
            self.H: Matrix = E.T @ E + np.diag(diagonal[self.free])
        else:
            E = sparse.diags_array(weights) @ S[rows][:, self.free]
            self.H = sparse.coo_array(E.T @ E + sparse.diags_array(diagonal[self.free]))

    def least_change(self, J: Matrix, rhs: Array, pull: Array | None = None, extra: Array | None = None) -> Array:
        """Minimise ``dx' (H + diag(extra)) dx / 2 - pull' dx`` subject to ``J dx = rhs``.

        Raises LinAlgError or RuntimeError.
        """
        return self.factor(J, extra)(rhs, pull)

    def factor(self, J: Matrix, extra: Array | None = None) -> Callable[[Array, Array | None], Array]:
        """What ``least_change`` solves, to be solved for several right sides and pulls.

        Rows that depend on others make the matrix singular; the small diagonal block ``-soft`` prevents that. It is a
        share of J H^-1 J': with many small edges that is itself small, and a fixed softness would leave Newton's method
        linear.
        """
        J = J if self.free.all() else J[:, self.free]
        n, soft = J.shape[1], self._softness(J)
        extra = None if extra is None else extra[self.free]
        if isinstance(self.H, np.ndarray):
            solve = dense_factor(self.H, J, soft, extra)
        else:
            J = J.tocoo()
            if self.system.bordered is None or not self.system.bordered.fits(self.H, J):
                self.system.bordered = Bordered(self.H, J)
            solve = self.system.bordered.factor(self.H, J, soft, extra)

        def change(rhs: Array, pull: Array | None) -> Array:
            dx = np.zeros(len(self.free))
            top = np.zeros(n) if pull is None else pull[self.free]
            dx[self.free] = solve(np.concatenate([top, rhs]))[:n]
            return dx

        return change

    def _softness(self, J: Matrix) -> Array:
        """By row: a small share of what J H^-1 J' has there, as the diagonal of H tells."""
        diagonal = np.diag(self.H) if isinstance(self.H, np.ndarray) else self.H.diagonal()
        squares = J * J if isinstance(J, np.ndarray) else J.multiply(J)
        return np.asarray(SOFT * np.maximum(np.asarray(squares @ (1 / diagonal)).ravel(), 1e-9))


def keeps_shape(system: System, before: Array, after: Array, max_turn: float = MAX_TURN) -> bool:
    """The guards: no edge turns far or collapses, radii stay, no arc wraps round."""
    equations = system.equations
    V, W = equations.directions(before), equations.directions(after)
    edges = system.edges + [a for pair in system.arcs for a in pair]
    if edges:
        v, w = V[edges], W[edges]
        length, new = np.hypot(*v.T), np.hypot(*w.T)
        real = length > 1e-6
        turn = np.abs(np.arctan2(v[:, 0] * w[:, 1] - v[:, 1] * w[:, 0], (v * w).sum(axis=1)))
        if np.any(real & ((turn > max_turn) | (new < MIN_STRETCH * length))):
            return False
    if any(after[r] < MIN_STRETCH * before[r] for r in system.radius.values()):
        return False
    if any(not low - END_SLACK <= after[i] <= high + END_SLACK for i, low, high in system.ranges):
        return False
    return all(abs(_sweep(W[a], W[b]) - _sweep(V[a], V[b])) <= math.pi for a, b in system.arcs)


def _sweep(start: Array, end: Array) -> float:
    angle = math.atan2(end[1], end[0]) - math.atan2(start[1], start[0])
    return angle % (2 * math.pi)
