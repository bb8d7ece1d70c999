"""The state of a sketch that misses its equations least, be it far from the drawn one."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from scipy.optimize import least_squares

from leadline.core.sketch.rows import Array
from leadline.core.sketch.system import System


def least_squares_from(system: System, x0: Array, free: NDArray[np.bool_], accuracy: float, tries: int) -> tuple[Array, Array]:
    """The state (n,) with the least sum of squared residuals near x0 (n,), and its residuals (m,).

    By a trust region with the exact Jacobian, which moves only what is ``free`` (n,). It ends when a step gains less than the relative ``accuracy``, or
    after so many ``tries``.
    """

    def place(y: Array) -> Array:
        x = x0.copy()
        x[free] = y
        return x

    def residual(y: Array) -> Array:
        return system.equations.residual(place(y))

    def jacobian(y: Array) -> Array:
        J = system.equations.jacobian(place(y))[:, free]
        return np.asarray(J if isinstance(J, np.ndarray) else J.toarray())

    fit = least_squares(residual, x0[free], jac=jacobian, xtol=accuracy, ftol=accuracy, gtol=accuracy, max_nfev=tries)
    return place(fit.x), np.asarray(fit.fun)
