"""General tolerances of lengths that have none of their own: ISO 2768-1, table 1."""

from __future__ import annotations

from typing import Literal, get_args

import numpy as np

Grade = Literal["f", "m", "c", "v"]  # fine, medium, coarse, very coarse
GRADES: tuple[Grade, ...] = get_args(Grade)
UP_TO = (3.0, 6.0, 30.0, 120.0, 400.0, 1000.0, 2000.0, 4000.0)  # mm; the first row begins at LEAST
LEAST = 0.5
DEVIATIONS: dict[Grade, tuple[float | None, ...]] = {
    "f": (0.05, 0.05, 0.1, 0.15, 0.2, 0.3, 0.5, None),
    "m": (0.1, 0.1, 0.2, 0.3, 0.5, 0.8, 1.2, 2.0),
    "c": (0.2, 0.3, 0.5, 0.8, 1.2, 2.0, 3.0, 4.0),
    "v": (None, 0.5, 1.0, 1.5, 2.5, 4.0, 6.0, 8.0),
}  # by rows: over the size before, up to and with this one


def general_tolerance(size: float, grade: Grade) -> float | None:
    """By how much (mm) a length (mm) may be off either way; None where the standard has no row for it."""
    if not LEAST <= size <= UP_TO[-1]:
        return None
    return DEVIATIONS[grade][int(np.searchsorted(UP_TO, size))]
