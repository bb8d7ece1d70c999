"""The state of a sketch that misses its equations least, be it far from the drawn one."""

from __future__ import annotations

from typing import Literal

import numpy as np
from numpy.typing import NDArray
from scipy.optimize import least_squares

from leadline.core.sketch.rows import Array
from leadline.core.sketch.system import System

Method = Literal["trf", "lm"]
"""A trust region about each state, or Levenberg's and Marquardt's steps, which cost a third and arrive as often."""


def least_squares_from(
    system: System, x0: Array, free: NDArray[np.bool_], accuracy: float, tries: int, method: Method = "trf"
) -> tuple[Array, Array]:
    """The state (n,) with the least sum of squared residuals near x0 (n,), and its residuals (m,).

    It is searched with the exact Jacobian, moving only what is ``free`` (n,), until a step gains less than the relative
    ``accuracy``, or after so many ``tries``. From where equations have no values, as those of an ellipse whose axis has
    no length, it does not begin: x0 and what they are there.
    """
    there = system.equations.residual(x0)
    if not np.isfinite(there).all():
        return x0, there
    rows = len(system.equations.rows)
    lacking = max(
        0, int(free.sum()) - rows
    )  # equations 0 = 0: "lm" takes no fewer of them than there are unknowns, "trf" goes on better with as many

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
