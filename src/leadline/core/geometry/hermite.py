"""Piecewise quintics from values, slopes and second derivatives."""

from __future__ import annotations

import numpy as np
from scipy.interpolate import PPoly

from leadline.core.geometry.plane import Array


def hermite_quintic(x: Array, y: Array, slopes: Array, seconds: Array) -> PPoly:
    """Through y (n,) at x, with ``slopes`` and ``seconds`` (2, n - 1) at the left and right end of each cell."""
    h = np.diff(x)
    a, b, rise = slopes[0] * h, slopes[1] * h, np.diff(y)
    p, q = seconds[0] * h**2 / 2, seconds[1] * h**2 / 2
    # in the share of the cell: y + a t + p t^2 + c3 t^3 + c4 t^4 + c5 t^5 with the right end's value, slope and second
    e, f, g = rise - a - p, b - a - 2 * p, q - p
    c3, c4, c5 = 10 * e - 4 * f + g, -15 * e + 7 * f - 2 * g, 6 * e - 3 * f + g
    rows = [c / h**k for c, k in ((c5, 5), (c4, 4), (c3, 3), (p, 2), (a, 1))]
    return PPoly(np.stack([*rows, y[:-1]]), x)
