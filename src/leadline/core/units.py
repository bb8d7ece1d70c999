"""Units at the edge: inside, lengths are mm and angles are rad."""

from __future__ import annotations

import math
from collections.abc import Iterator
from contextlib import contextmanager
from contextvars import ContextVar
from typing import Literal

LengthUnit = Literal["mm", "in"]

LENGTH_UNITS: dict[str, float] = {
    "um": 1e-3, "mm": 1.0, "cm": 10.0, "m": 1000.0, "in": 25.4, "inch": 25.4, "ft": 304.8,
}  # fmt: skip
ANGLE_UNITS: dict[str, float] = {
    "deg": math.pi / 180, "°": math.pi / 180, "rad": 1.0, "turn": 2 * math.pi, "turns": 2 * math.pi,
}  # fmt: skip


_unit: ContextVar[LengthUnit] = ContextVar("unit of lengths in messages", default="mm")


@contextmanager
def lengths_in(unit: LengthUnit) -> Iterator[None]:
    """Messages that are made inside give lengths in a part's unit, also those of numerics that know mm alone."""
    token = _unit.set(unit)
    try:
        yield
    finally:
        _unit.reset(token)


def format_length(mm: float, unit: LengthUnit | None = None, digits: int = 4) -> str:
    """Print a length in mm with a unit, or else with that of ``lengths_in``, e.g. ``"12.5 mm"``."""
    unit = unit or _unit.get()
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
