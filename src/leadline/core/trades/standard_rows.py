"""Looking sizes up in the tables of standards."""

from __future__ import annotations

TOLD = 6  # digits of a mm: no standard has sizes nearer to each other


def told(size: float) -> float:
    """A size as a table has it, mm: without the rounding of a computation, which would take it out of its row."""
    return round(size, TOLD)
