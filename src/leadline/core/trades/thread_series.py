"""Named sizes of threads in inches: pipe threads (ISO 228-1, ISO 7-1) and unified threads (ASME B1.1), and what they
are called.
"""

from __future__ import annotations

from dataclasses import dataclass

from leadline.core.units import LENGTH_UNITS

INCH = LENGTH_UNITS["in"]
SAME_SIZE = 0.01  # mm, within which a diameter is that of a named size
SAME_PITCH = 0.002  # mm, within which a pitch is


@dataclass(frozen=True)
class PipeSize:
    """A pipe thread: its ``name``, its major diameter (of a taper one at the gauge plane) and its pitch; ``gauge`` is
    how far the gauge plane of a taper bar is from its thin end, None where there is no taper thread of the size; mm.
    """

    name: str
    major: float
    pitch: float
    gauge: float | None = None


PIPES = (
    PipeSize("1/16", 7.723, 0.907, 4.0),
    PipeSize("1/8", 9.728, 0.907, 4.0),
    PipeSize("1/4", 13.157, 1.337, 6.0),
    PipeSize("3/8", 16.662, 1.337, 6.4),
    PipeSize("1/2", 20.955, 1.814, 8.2),
    PipeSize("5/8", 22.911, 1.814),
    PipeSize("3/4", 26.441, 1.814, 9.5),
    PipeSize("7/8", 30.201, 1.814),
    PipeSize("1", 33.249, 2.309, 10.4),
    PipeSize("1 1/8", 37.897, 2.309),
    PipeSize("1 1/4", 41.910, 2.309, 12.7),
    PipeSize("1 1/2", 47.803, 2.309, 12.7),
    PipeSize("1 3/4", 53.746, 2.309),
    PipeSize("2", 59.614, 2.309, 15.9),
    PipeSize("2 1/4", 65.710, 2.309),
    PipeSize("2 1/2", 75.184, 2.309, 17.5),
    PipeSize("2 3/4", 81.534, 2.309),
    PipeSize("3", 87.884, 2.309, 20.6),
    PipeSize("3 1/2", 100.330, 2.309),
    PipeSize("4", 113.030, 2.309, 25.4),
    PipeSize("4 1/2", 125.730, 2.309),
    PipeSize("5", 138.430, 2.309, 28.6),
    PipeSize("5 1/2", 151.130, 2.309),
    PipeSize("6", 163.830, 2.309, 28.6),
)
"""ISO 228-1 table 1; gauge lengths of ISO 7-1 table 1."""

_UNIFIED = {
    "#0": (0.060, None, 80),
    "#1": (0.073, 64, 72),
    "#2": (0.086, 56, 64),
    "#3": (0.099, 48, 56),
    "#4": (0.112, 40, 48),
    "#5": (0.125, 40, 44),
    "#6": (0.138, 32, 40),
    "#8": (0.164, 32, 36),
    "#10": (0.190, 24, 32),
    "#12": (0.216, 24, 28),
    "1/4": (0.25, 20, 28),
    "5/16": (0.3125, 18, 24),
    "3/8": (0.375, 16, 24),
    "7/16": (0.4375, 14, 20),
    "1/2": (0.5, 13, 20),
    "9/16": (0.5625, 12, 18),
    "5/8": (0.625, 11, 18),
    "3/4": (0.75, 10, 16),
    "7/8": (0.875, 9, 14),
    "1": (1.0, 8, 12),
    "1 1/8": (1.125, 7, 12),
    "1 1/4": (1.25, 7, 12),
    "1 3/8": (1.375, 6, 12),
    "1 1/2": (1.5, 6, 12),
    "1 3/4": (1.75, 5, None),
    "2": (2.0, 4.5, None),
    "2 1/4": (2.25, 4.5, None),
    "2 1/2": (2.5, 4, None),
    "2 3/4": (2.75, 4, None),
    "3": (3.0, 4, None),
    "3 1/4": (3.25, 4, None),
    "3 1/2": (3.5, 4, None),
    "3 3/4": (3.75, 4, None),
    "4": (4.0, 4, None),
}
"""Of each size its diameter (in) and its turns to the inch in the coarse and in the fine series, ASME B1.1 tables 1 and
2.
"""


def pipe_size(major: float, pitch: float) -> PipeSize | None:
    """The named pipe thread of a diameter and a pitch (mm), if they are of one."""
    return next((p for p in PIPES if abs(p.major - major) < SAME_SIZE and abs(p.pitch - pitch) < SAME_PITCH), None)


def unified_title(major: float, pitch: float) -> str | None:
    """What a unified thread of a diameter and a pitch (mm) is called, as 1/2-13 UNC; one with sizes of its own 0.47-13
    UNS.

    None where its turns to the inch are no usual number.
    """
    turns = INCH / pitch
    whole = round(2 * turns) / 2
    if abs(INCH / whole - pitch) > SAME_PITCH if whole else True:
        return None
    name, (diameter, coarse, fine) = min(_UNIFIED.items(), key=lambda item: abs(item[1][0] * INCH - major))
    if abs(diameter * INCH - major) > SAME_SIZE:
        return f"{major / INCH:.4g}-{whole:g} UNS"
    series = (
        "UNC"
        if whole == coarse
        else "UNF"
        if whole == fine
        else "UN"
        if whole in (4, 6, 8, 12, 16, 20, 28, 32)
        else "UNS"
    )
    return f"{name}-{whole:g} {series}"
