"""Finds the state of a sketch that violates its equations least, however far from the drawn state it lies.

Used to tell whether constraints contradict each other: if the least sum of squares is above zero, they do.
"""

from __future__ import annotations

from typing import Literal

import numpy as np
from numpy.typing import NDArray
from scipy.optimize import least_squares

from leadline.core.sketch.rows import Array
from leadline.core.sketch.system import System

Method = Literal["trf", "lm"]
"""The algorithms of ``scipy.optimize.least_squares``: "trf" is a trust region method (Branch, Coleman and Li, SIAM J.
Sci. Comput. 21, 1999), "lm" Levenberg and Marquardt's (Moré, Lecture Notes in Mathematics 630, 1977). The latter takes
a third of the time and finds the minimum as often.
"""


def least_squares_from(
    system: System, x0: Array, free: NDArray[np.bool_], accuracy: float, tries: int, method: Method = "trf"
) -> tuple[Array, Array]:
    """A local minimum of the sum of squared residuals, found from x0 with the exact Jacobian.

    Args:
        system: The sketch's equations, scaled to unit size.
        x0: The state to begin from, (n,).
        free: Which variables may change, (n,).
        accuracy: The search ends when a step changes the state or the sum by less than this share.
        tries: The search ends after so many evaluations in any case.
        method: The algorithm.

    Returns:
        The state, (n,), and its residuals, (m,). Where an equation has no finite value at x0, as that of an ellipse
        whose axis has no length, no search is possible: x0 and the residuals there.
    """
    there = system.equations.residual(x0)
    if not np.isfinite(there).all():
        return x0, there
    rows = len(system.equations.rows)
    # Further equations 0 = 0: "lm" requires at least as many equations as unknowns, and "trf" converges better then.
    lacking = max(0, int(free.sum()) - rows)

    def place(y: Array) -> Array:
        x = x0.copy()
        x[free] = y
        return x

    def residual(y: Array) -> Array:
        return np.concatenate([system.equations.residual(place(y)), np.zeros(lacking)])

    def jacobian(y: Array) -> Array:
        J = system.equations.jacobian(place(y))[:, free]
        return np.concatenate([J if isinstance(J, np.ndarray) else J.toarray(), np.zeros((lacking, J.shape[1]))])

    fit = least_squares(
        residual, x0[free], jac=jacobian, method=method, xtol=accuracy, ftol=accuracy, gtol=accuracy, max_nfev=tries
    )
    return place(fit.x), np.asarray(fit.fun)[:rows]
