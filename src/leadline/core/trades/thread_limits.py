"""Limits of size of metric threads, ISO 965-1.

Tolerances and fundamental deviations are the standard's tables, in micrometres. They are told for one grade: the others
are whole steps of the R40 series of preferred numbers (ISO 3) away. For a pitch that the table does not have for a
diameter the standard's formula serves.
"""

from __future__ import annotations

import math
import re
from dataclasses import dataclass
from typing import NamedTuple

from leadline.core.problems import Problem, mm
from leadline.core.trades.standard_rows import told
from leadline.core.trades.thread_forms import sizes

R40 = (
    1.0, 1.06, 1.12, 1.18, 1.25, 1.32, 1.4, 1.5, 1.6, 1.7, 1.8, 1.9, 2.0, 2.12, 2.24, 2.36, 2.5, 2.65, 2.8, 3.0,
    3.15, 3.35, 3.55, 3.75, 4.0, 4.25, 4.5, 4.75, 5.0, 5.3, 5.6, 6.0, 6.3, 6.7, 7.1, 7.5, 8.0, 8.5, 9.0, 9.5,
)  # fmt: skip
RANGES = (0.99, 1.4, 2.8, 5.6, 11.2, 22.4, 45.0, 90.0, 180.0, 355.0)  # of the major diameter, mm
STEPS_BOLT = {3: -12, 4: -8, 5: -4, 6: 0, 7: 4, 8: 8, 9: 12}  # of R40, from grade 6
STEPS_NUT = {4: -3, 5: 1, 6: 5, 7: 9, 8: 13}  # of R40, from the bolt's grade 6
GRADE_4_UP_BOLT = {4: 0, 6: 8, 8: 16}  # R40 steps of a bolt's crest from grade 4
GRADE_4_UP_NUT = {4: 0, 5: 4, 6: 8, 7: 12, 8: 16}


class _ByPitch(NamedTuple):
    """A row of ISO 965-1 tables 1 to 3: fundamental deviations of the letters e, f and g (G has that of g), and the
    tolerance of the crest in grade 6 of a bolt (``major``) and of a nut (``minor``), all in µm.
    """

    e: int | None
    f: int | None
    g: int
    major: int
    minor: int


_BY_PITCH = {
    0.2: _ByPitch(None, None, 17, 36, 38),
    0.25: _ByPitch(None, None, 18, 42, 45),
    0.3: _ByPitch(None, None, 18, 48, 53),
    0.35: _ByPitch(None, 34, 19, 53, 63),
    0.4: _ByPitch(None, 34, 19, 60, 71),
    0.45: _ByPitch(None, 35, 20, 63, 80),
    0.5: _ByPitch(50, 36, 20, 67, 90),
    0.6: _ByPitch(53, 36, 21, 80, 100),
    0.7: _ByPitch(56, 38, 22, 90, 112),
    0.75: _ByPitch(56, 38, 22, 90, 118),
    0.8: _ByPitch(60, 38, 24, 95, 125),
    1.0: _ByPitch(60, 40, 26, 112, 150),
    1.25: _ByPitch(63, 42, 28, 132, 170),
    1.5: _ByPitch(67, 45, 32, 150, 190),
    1.75: _ByPitch(71, 48, 34, 170, 212),
    2.0: _ByPitch(71, 52, 38, 180, 236),
    2.5: _ByPitch(80, 58, 42, 212, 280),
    3.0: _ByPitch(85, 63, 48, 236, 315),
    3.5: _ByPitch(90, 70, 53, 265, 355),
    4.0: _ByPitch(95, 75, 60, 300, 375),
    4.5: _ByPitch(100, 80, 63, 315, 425),
    5.0: _ByPitch(106, 85, 71, 335, 450),
    5.5: _ByPitch(112, 90, 75, 355, 475),
    6.0: _ByPitch(118, 95, 80, 375, 500),
    8.0: _ByPitch(140, 118, 100, 450, 630),
}
_TD2 = (  # grade 6, by range of the diameter and by pitch
    {0.2: 48, 0.25: 53, 0.3: 56},
    {0.2: 50, 0.25: 56, 0.35: 63, 0.4: 67, 0.45: 71},
    {0.35: 67, 0.5: 75, 0.6: 85, 0.7: 90, 0.75: 90, 0.8: 95},
    {0.75: 100, 1.0: 112, 1.25: 118, 1.5: 132},
    {1.0: 118, 1.25: 132, 1.5: 140, 1.75: 150, 2.0: 160, 2.5: 170},
    {1.0: 125, 1.5: 150, 2.0: 170, 3.0: 200, 3.5: 212, 4.0: 224, 4.5: 236},
    {1.5: 160, 2.0: 180, 3.0: 212, 4.0: 236, 5.0: 250, 5.5: 265, 6.0: 280},
    {2.0: 190, 3.0: 224, 4.0: 250, 6.0: 300},
    {3.0: 250, 4.0: 280, 6.0: 315},
)
_CLASS = re.compile(r"(?:([3-9])([efgGhH]))?([3-9])([efgGhH])")


@dataclass(frozen=True)
class Limits:
    """The greatest and the least diameter, mm."""

    most: float
    least: float

    @property
    def mean(self) -> float:
        return (self.most + self.least) / 2


@dataclass(frozen=True)
class ThreadLimits:
    """Limits of the ``pitch_diameter`` and of the ``crest``: the bolt's major diameter or the nut's minor one."""

    pitch_diameter: Limits
    crest: Limits


def limits(major: float, pitch: float, tolerance_class: str) -> ThreadLimits:
    """The limits of a metric thread of a class such as ``6g``, ``6H`` or ``5g6g`` (pitch diameter first), a nut's with
    a capital letter.

    Raises:
        Problem: the class or the pitch is none of ISO 965-1, or the diameter is out of its range.
    """
    found = _CLASS.fullmatch(tolerance_class)
    if found is None:
        raise Problem(
            "bad-class", f"“{tolerance_class}” is no tolerance class.", "Give one such as 6g or 6H.", of="tolerance"
        )
    grade, letter = int(found[1] or found[3]), found[2] or found[4]
    crest_grade, crest_letter = int(found[3]), found[4]
    nut = letter.isupper()
    major, pitch = told(major), told(pitch)
    _refuse_unknown(major, pitch, tolerance_class, letter, crest_letter)
    steps, crest_steps = (STEPS_NUT, GRADE_4_UP_NUT) if nut else (STEPS_BOLT, GRADE_4_UP_BOLT)
    if grade not in steps or crest_grade not in crest_steps:
        raise Problem(
            "bad-class",
            f"“{tolerance_class}” has a grade that there is none of here.",
            "Give one such as 6g or 6H.",
            of="tolerance",
        )
    basic = sizes("metric", major, pitch)
    width = stepped(pitch_diameter_tolerance(major, pitch), steps[grade])
    crest_width = stepped(_BY_PITCH[pitch].minor if nut else _BY_PITCH[pitch].major, crest_steps[crest_grade])
    off, crest_off = (deviation(pitch, x) / 1000 for x in (letter, crest_letter))
    d2, crest = round(basic.pitch_diameter, 3), round(basic.minor_nut if nut else basic.major, 3)
    if nut:
        return ThreadLimits(_upward(d2 + off, width), _upward(crest + crest_off, crest_width))
    return ThreadLimits(_downward(d2 - off, width), _downward(crest - crest_off, crest_width))


def _upward(least: float, width: float) -> Limits:
    return Limits(round(least + width / 1000, 3), round(least, 3))


def _downward(most: float, width: float) -> Limits:
    return Limits(round(most, 3), round(most - width / 1000, 3))


def _refuse_unknown(major: float, pitch: float, tolerance_class: str, *letters: str) -> None:
    if pitch not in _BY_PITCH:
        raise Problem(
            "no-tolerances",
            f"ISO 965-1 has no tolerances for a pitch of {mm(pitch)}.",
            "Take a pitch of the series, or leave the class away.",
            of="pitch",
        )
    if not RANGES[0] <= major <= RANGES[-1]:
        raise Problem(
            "no-tolerances",
            f"ISO 965-1 has no tolerances for a diameter of {mm(major)}.",
            "Leave the class away.",
            of="tolerance",
        )
    if len({x.isupper() for x in letters}) > 1:
        raise Problem(
            "bad-class",
            f"“{tolerance_class}” mixes a bolt's letter with a nut's.",
            "Give one such as 5g6g or 5H6H.",
            of="tolerance",
        )
    for letter in letters:
        deviation(pitch, letter)


def deviation(pitch: float, letter: str) -> float:
    """The fundamental deviation in micrometres, by how much a bolt is smaller or a nut larger than its basic size.

    Raises:
        Problem: ISO 965-1 has none of this letter for a pitch (mm) of its series.
    """
    if letter in "hH":
        return 0.0
    row = _BY_PITCH[pitch]
    known = {"e": row.e, "f": row.f, "g": row.g}[letter.lower()]
    if known is None:
        raise Problem(
            "no-tolerances",
            f"There is no position {letter} for a pitch of {mm(pitch)}.",
            "Take g or h.",
            of="tolerance",
        )
    return float(known)


def pitch_diameter_tolerance(major: float, pitch: float) -> float:
    """The tolerance of a bolt's pitch diameter in grade 6, micrometres."""
    k = next(i for i in range(len(_TD2)) if major <= RANGES[i + 1])
    return float(_TD2[k].get(pitch) or by_formula(math.sqrt(RANGES[k] * RANGES[k + 1]), pitch))


def by_formula(diameter: float, pitch: float) -> float:
    """The same by the standard's formula, 90 P^0.4 d^0.1 with d the geometric middle of the range of diameters."""
    return stepped(90 * pitch**0.4 * diameter**0.1, 0)


def stepped(value: float, steps: int) -> float:
    """The preferred number nearest to a value, and so many steps further; of ten and more a whole one."""
    at = round(40 * math.log10(value)) + steps
    number = R40[at % 40] * 10.0 ** (at // 40)
    return float(round(number)) if number > 10 else round(number, 6)
