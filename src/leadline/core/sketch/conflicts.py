"""The smallest set of constraints and dimensions that disagree.

A set disagrees when no state satisfies it: that is tried, from the drawn state and from others, and not read off the
multipliers of a least-squares state, where what is held exactly leaves no trace.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence

import numpy as np
from scipy.optimize import least_squares

from leadline.core.sketch import stepping
from leadline.core.sketch.rows import Array
from leadline.core.sketch.system import System

GAIN = 1e-9  # relative gain under which a search ends
TRIES = 100
SETTLED = 1e-5  # scaled residual from which Newton steps are left to finish
COLLAPSED = 1e-3  # of its drawn length or radius: what has shrunk to it is no longer there
STARTS = (0.0, 0.02, 0.1, 0.3, 0.3)  # how far the states to start from are thrown off the drawn one, scaled
MORE_STARTS = (0.02, 0.1, 0.3, 1.0) * 5


def smallest_conflict(candidates: Sequence[str], feasible: Callable[[Sequence[str]], bool], given: Sequence[str] = ()) -> list[str]:
    """An irreducible infeasible subset of ``candidates``: without any one of them, what is left can be satisfied.

    ``given`` always counts and is not returned. Empty when all together are feasible. By divide and conquer (Junker,
    QuickXplain, AAAI 2004), so that about k log(n / k) tries find k of n. Candidates that come first are looked at
    first.
    """
    if feasible([*given, *candidates]):
        return []

    def explain(background: list[str], added: bool, rest: list[str]) -> list[str]:
        if added and not feasible([*given, *background]):
            return []
        if len(rest) == 1:
            return rest
        first, second = rest[: len(rest) // 2], rest[len(rest) // 2 :]
        late = explain([*background, *first], bool(first), second)
        early = explain([*background, *late], bool(late), first)
        return [*early, *late]

    return explain([], False, list(candidates))


def can_be_satisfied(system: System, thoroughly: bool = False) -> bool:
    """Whether some state, not a collapsed one, satisfies all equations, be it turned over; as far as searches can tell."""
    x0 = system.state()
    if not system.equations.rows or stepping.solve(system, x0).solved:
        return True
    random = np.random.default_rng(11)
    for spread in (*STARTS, *(MORE_STARTS if thoroughly else ())):
        x = x0 + spread * random.standard_normal(system.n) * ~system.held
        found = settle(system, x)
        if found is not None and _stands(system, x0, found):
            return True
    return False


def settle(system: System, x: Array) -> Array | None:
    """The state without residual that a trust-region least-squares search from x comes to; None when it ends elsewhere."""
    equations, free = system.equations, ~system.held

    def place(y: Array) -> Array:
        full = x.copy()
        full[free] = y
        return full

    def jacobian(y: Array) -> Array:
        J = equations.jacobian(place(y))[:, free]
        return np.asarray(J if isinstance(J, np.ndarray) else J.toarray())

    def residual(y: Array) -> Array:
        return equations.residual(place(y))

    found = least_squares(
        residual, x[free], jac=jacobian, ftol=GAIN, xtol=GAIN, gtol=GAIN, max_nfev=TRIES
    )
    if np.abs(found.fun).max() > SETTLED:
        return None
    return stepping.correct(system, place(found.x), np.zeros(len(found.fun)))[0]


def _stands(system: System, drawn: Array, found: Array) -> bool:
    """Whether every edge and radius that was drawn is still there."""
    edges = system.edges + [arm for pair in system.arcs for arm in pair]
    if edges:
        before, after = (np.hypot(*system.equations.directions(x)[edges].T) for x in (drawn, found))
        if np.any(after < COLLAPSED * before):
            return False
    return all(found[r] >= COLLAPSED * drawn[r] for r in system.radius.values())
