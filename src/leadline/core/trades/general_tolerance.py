"""General tolerances of lengths and angles that have none of their own: ISO 2768-1, tables 1 and 3."""

from __future__ import annotations

from typing import Literal, get_args

import numpy as np

from leadline.core.trades.standard_rows import told

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

LEGS = (10.0, 50.0, 120.0, 400.0)  # mm, of the shorter leg of an angle
MINUTES: dict[Grade, tuple[float, ...]] = {
    "f": (60, 30, 20, 10, 5),
    "m": (60, 30, 20, 10, 5),
    "c": (90, 60, 30, 15, 10),
    "v": (180, 120, 60, 30, 20),
}  # of an angle, by rows: over the leg before, up to and with this one; the last is for all that are longer


def general_tolerance(size: float, grade: Grade) -> float | None:
    """By how much (mm) a length (mm) may be off either way; None where the standard has no row for it."""
    size = told(size)
    if not LEAST <= size <= UP_TO[-1]:
        return None
    return DEVIATIONS[grade][int(np.searchsorted(UP_TO, size))]


def general_angle_tolerance(leg: float, grade: Grade) -> float:
    """By how many degrees an angle whose shorter leg is so long (mm) may be off either way."""
    return MINUTES[grade][int(np.searchsorted(LEGS, told(leg)))] / 60
