"""Units at the edge: inside, lengths are mm and angles are rad."""

from __future__ import annotations

import math
from typing import Literal

LengthUnit = Literal["mm", "in"]

LENGTH_UNITS: dict[str, float] = {
    "um": 1e-3,
    "mm": 1.0,
    "cm": 10.0,
    "m": 1000.0,
    "in": 25.4,
    "inch": 25.4,
    "ft": 304.8,
}
ANGLE_UNITS: dict[str, float] = {
    "deg": math.pi / 180,
    "°": math.pi / 180,
    "rad": 1.0,
    "turn": 2 * math.pi,
    "turns": 2 * math.pi,
}


def format_length(mm: float, unit: LengthUnit, digits: int = 4) -> str:
    """Print a length in mm with a unit, e.g. ``"12.5 mm"``."""
    return f"{_short(mm / LENGTH_UNITS[unit], digits)} {unit}"


def format_angle(rad: float, digits: int = 4) -> str:
    """Print an angle in rad as degrees, e.g. ``"90°"``."""
    return f"{_short(math.degrees(rad), digits)}°"


def _short(number: float, digits: int) -> str:
    text = f"{number:.{digits}g}"
    if "e" in text and abs(number) < 1e9:
        text = f"{number:.6f}" if abs(number) < 1 else f"{number:.0f}"
    if "." in text:
        text = text.rstrip("0").rstrip(".")
    return "0" if text in ("-0", "") else text
