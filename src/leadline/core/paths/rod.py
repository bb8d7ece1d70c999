"""The elastic rod: the curve that a hose of given length takes between two clamps, least bending energy first.

The rod is cut into n segments of equal length with unit directions d_i. Its energy ∫ κ²/2 ds becomes Σ |d_{i+1} - d_i|²
/ 2h, with half steps to the clamped directions; the weight's is its potential. The segments add up to the way from end
to end. Newton's method on the product of n spheres with that constraint; its matrix is banded, two unknowns to a
segment (cf. Bergou et al., Discrete elastic rods, ACM TOG 27(3), 2008). Errors fall with n².
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from scipy.linalg import solve_banded

from leadline.core.geometry.plane import Array, cross
from leadline.core.problems import Problem

STEPS = 120
FIRST_DAMPING, LEAST_DAMPING = 0.05, 1e-7  # of a segment's own stiffness: with it the step goes downhill
SETTLED = 1e-11
GOOD_ENOUGH = 1e-8
LONGEST_STEP = 0.35  # rad that a segment may turn in one step
BAND = 3


@dataclass(frozen=True)
class Clamps:
    """Both ends (2, 3) of the free stretch and the directions (2, 3) along the rod there."""

    ends: Array
    ways: Array


def settled(directions: Array, length: float, clamps: Clamps, load: Array | None = None) -> Array:
    """Unit directions (n, 3) of the rod at rest, from a first guess (n, 3).

    ``load`` is the weight by length over the bending stiffness, 1/mm³, as a vector downwards.

    Raises:
        Problem: no rest is found from the guess.
    """
    h = length / len(directions)
    rod = _Rod(h, clamps, _weight(len(directions), h, load))
    d, force, damping = _unit(directions), np.zeros(3), FIRST_DAMPING
    off = rod.unrest(d, force)
    for _ in range(STEPS):
        if off < SETTLED:
            break
        step, pulled = _newton(rod, d, force, damping)
        turn = float(np.linalg.norm(step, axis=1).max())
        moved = _unit(d + step * min(1.0, LONGEST_STEP / max(turn, 1e-300)))
        rest = rod.unrest(moved, pulled)
        price = 2 * float(np.linalg.norm(pulled))
        if rod.merit(moved, price) < rod.merit(d, price) or rest < off:
            d, force, off, damping = moved, pulled, rest, damping * 0.2
        else:
            damping = max(4 * damping, LEAST_DAMPING)
    if off > GOOD_ENOUGH:
        raise Problem(
            "rod-unsettled",
            "The hose finds no rest at this length.",
            "Change its length a little, or its ports.",
            of="length",
        )
    return d


@dataclass(frozen=True)
class _Rod:
    """``h`` is the length of a segment, ``pull`` minus the slope of the weight's potential (n, 3)."""

    h: float
    clamps: Clamps
    pull: Array

    def gap(self, d: Array) -> Array:
        """How far the segments miss the other end, (3,)."""
        return np.asarray(self.h * d.sum(axis=0) - (self.clamps.ends[1] - self.clamps.ends[0]))

    def torque(self, d: Array) -> Array:
        """The slope of the energy by the directions (n, 3)."""
        return np.asarray(_bending(d, self.clamps.ways) / self.h - self.pull)

    def unrest(self, d: Array, force: Array) -> float:
        """How far from rest, without units."""
        gradient = self.torque(d) + self.h * force
        across = gradient - (gradient * d).sum(axis=1)[:, None] * d
        length = self.h * len(d)
        return max(float(np.abs(across).max()) * self.h, float(np.abs(self.gap(d)).max()) / length)

    def merit(self, d: Array, price: float) -> float:
        """Energy, with a price on the gap."""
        steps = np.diff(d, axis=0)
        ends = np.array([d[0] - self.clamps.ways[0], d[-1] - self.clamps.ways[1]])
        energy = ((steps**2).sum() + 2 * (ends**2).sum()) / (2 * self.h) - (self.pull * d).sum()
        return float(energy + price * np.linalg.norm(self.gap(d)))


def _unit(v: Array) -> Array:
    return np.asarray(v / np.linalg.norm(v, axis=1)[:, None])


def _bending(d: Array, ways: Array) -> Array:
    """h times the gradient of the bending energy (n, 3): half steps to the clamps are twice as stiff."""
    out = -2.0 * d
    out[1:] += d[:-1]
    out[:-1] += d[1:]
    out[0] += 2 * ways[0] - d[0]
    out[-1] += 2 * ways[1] - d[-1]
    return np.asarray(-out)


def _weight(n: int, h: float, load: Array | None) -> Array:
    """Minus the potential's gradient: each segment carries what hangs after it (n, 3)."""
    if load is None:
        return np.zeros((n, 3))
    behind = (n - np.arange(n) - 0.5) * h
    return np.asarray(h * behind[:, None] * load)


def _newton(rod: _Rod, d: Array, force: Array, damping: float) -> tuple[Array, Array]:
    """The step (n, 3), square to the directions, and the new force that holds the ends."""
    n, h = len(d), rod.h
    torque = rod.torque(d)
    bases = _tangent_bases(d)
    own = np.full(n, 2.0 + damping)
    own[[0, -1]] += 1.0
    diagonal = own / h - ((torque + h * force) * d).sum(axis=1)
    beside = -np.einsum("nak,nbk->nab", bases[:-1], bases[1:]) / h  # row in segment i, column in i + 1
    band = np.zeros((2 * BAND + 1, 2 * n))
    band[BAND] = np.repeat(diagonal, 2)
    for a in range(2):
        for b in range(2):
            rows, columns = 2 * np.arange(n - 1) + a, 2 * np.arange(1, n) + b
            band[BAND + rows - columns, columns] = beside[:, a, b]
            band[BAND + columns - rows, rows] = beside[:, a, b]
    holds = h * bases.reshape(2 * n, 3)
    right = np.column_stack([-np.einsum("nak,nk->na", bases, torque).ravel(), holds])
    solved = solve_banded((BAND, BAND), band, right, check_finite=False)
    free, held = solved[:, 0], solved[:, 1:]
    pulled = np.asarray(np.linalg.solve(holds.T @ held, holds.T @ free + rod.gap(d)), dtype=float)
    step = (free - held @ pulled).reshape(n, 2)
    return np.asarray(np.einsum("na,nak->nk", step, bases)), pulled


def _tangent_bases(d: Array) -> Array:
    """Two directions square to each (n, 3) and to each other, (n, 2, 3)."""
    axis = np.eye(3)[np.argmin(np.abs(d), axis=1)]
    first = _unit(cross(d, axis))
    return np.stack([first, cross(d, first)], axis=1)
