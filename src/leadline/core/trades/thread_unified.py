"""Limits of size of unified inch threads, ASME B1.1: classes 1A, 2A and 3A of bolts, 1B, 2B and 3B of nuts."""

from __future__ import annotations

import re

from leadline.core.problems import Problem
from leadline.core.trades.thread_forms import sizes
from leadline.core.trades.thread_limits import Limits, ThreadLimits
from leadline.core.trades.thread_series import INCH

_CLASS = re.compile(r"[123][AB]")
BOLT = {"1": 1.5, "2": 1.0, "3": 0.75}  # of the tolerance of class 2A
NUT = {"1": 1.95, "2": 1.3, "3": 0.975}
ALLOWANCE = 0.3  # of the same, by which bolts of classes 1A and 2A are thinner
SMALL = 0.25  # in, under which a nut's minor diameter has another rule
FINE_PITCH = 1 / 13  # in, up to which it has a rule of its own in class 3B
COARSE_PITCH = 0.25  # in, from which on it has a third one


def unified_limits(major: float, pitch: float, tolerance_class: str) -> ThreadLimits:
    """The limits (mm) of a thread of a ``major`` diameter and a ``pitch`` (mm) of a class such as ``2A`` or ``2B``,
    engaged over its diameter (ASME B1.1, sections 5.8 and 8.3).

    Raises:
        Problem: the class is none of the standard.
    """
    if _CLASS.fullmatch(tolerance_class) is None:
        raise Problem(
            "bad-class",
            f"“{tolerance_class}” is no class of unified threads.",
            "Give one such as 2A or 2B.",
            of="tolerance",
        )
    d, p = major / INCH, pitch / INCH
    grade, nut = tolerance_class[0], tolerance_class[1] == "B"
    basic = sizes("unified", d, p)
    own = 0.0015 * d ** (1 / 3) + 0.0015 * d**0.5 + 0.015 * p ** (2 / 3)
    if nut:
        return ThreadLimits(
            _in_mm(basic.pitch_diameter + NUT[grade] * own, basic.pitch_diameter),
            _in_mm(basic.minor_nut + _minor(d, p, grade), basic.minor_nut),
        )
    under = 0.0 if grade == "3" else ALLOWANCE * own
    crest = (0.09 if grade == "1" else 0.06) * p ** (2 / 3)
    pitch_most, crest_most = basic.pitch_diameter - under, basic.major - under
    return ThreadLimits(_in_mm(pitch_most, pitch_most - BOLT[grade] * own), _in_mm(crest_most, crest_most - crest))


def _minor(d: float, p: float, grade: str) -> float:
    """The tolerance of a nut's minor diameter, all in inches (ASME B1.1, section 5.8.2)."""
    if grade != "3" and d >= SMALL:
        return 0.25 * p - 0.4 * p * p if p <= COARSE_PITCH else 0.15 * p
    least = 0.25 * p - 0.4 * p * p if grade != "3" else 0.23 * p - 1.5 * p * p if p <= FINE_PITCH else 0.12 * p
    return float(min(max(0.05 * p ** (2 / 3) + 0.03 * p / d - 0.002, least), 0.394 * p))


def _in_mm(most: float, least: float) -> Limits:
    return Limits(round(most * INCH, 4), round(least * INCH, 4))
