"""Where copies stand along a path, by arc length."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from leadline.core.geometry.plane import Array
from leadline.core.problems import Problem, mm

MOST = 20_000
LEAST_SPACING = 1e-3


@dataclass(frozen=True)
class Run:
    """One run among several: ``phase`` of a spacing further on than the first, turned by ``turn`` (rad) about
    the path.
    """

    phase: float = 0.0
    turn: float = 0.0


@dataclass(frozen=True)
class Row:
    """Copies along a path: ``stations`` (n,) rising, the ``run`` (n,) that each is of and its number in that
    run (n,).
    """

    stations: Array
    run: np.ndarray
    number: np.ndarray
    spacing: float


@dataclass(frozen=True)
class Spread:
    """How a run is spread: by ``count``, ``spacing`` or both; with ``fitted`` a spacing is changed to end on the end.

    ``first`` and ``last`` are kept free at the ends of the path.
    """

    count: int | None
    spacing: float | None
    fitted: bool = False
    first: float = 0.0
    last: float = 0.0


def spread_out(spread: Spread, runs: list[Run], length: float, closed: bool) -> Row:
    """The stations of all runs on a path of a length.

    With a count alone both ends have a copy; on a closed path that is whole the copies are spread all round. A run that
    begins later gives up the copies that would stand beyond the end.

    Raises:
        Problem: nothing says how many; they do not fit; a spacing that is too small, or too many copies.
    """
    room = length - spread.first - spread.last
    if spread.first < 0 or spread.last < 0 or room < 0:
        raise Problem(
            "no-room",
            (
                f"Of the path's {mm(length)} nothing is left between {mm(spread.first)} at its start and "
                f"{mm(spread.last)} at its end."
            ),
            "Keep less free at the ends.",
            of="first",
        )
    around = closed and spread.first == spread.last == 0
    count, spacing = _count_and_spacing(spread, room, around)
    slack = 1e-9 * max(length, 1.0)
    found = []
    for k, run in enumerate(runs):
        s = spread.first + (np.arange(count) + run.phase) * spacing
        s = np.mod(s, length) if around else s[(s <= length - spread.last + slack) & (s >= spread.first - slack)]
        found.append((s, np.full(len(s), k), np.arange(len(s))))
    stations, run_of, number = (np.concatenate([f[i] for f in found]) for i in range(3))
    if len(stations) > MOST:
        raise Problem("too-many-copies", f"These are {len(stations)} copies.", f"Ask for at most {MOST}.", of="count")
    order = np.argsort(stations, kind="stable")
    return Row(np.clip(stations[order], 0.0, length), run_of[order], number[order], spacing)


def _count_and_spacing(spread: Spread, room: float, around: bool) -> tuple[int, float]:
    count, spacing = spread.count, spread.spacing
    if count is None and spacing is None:
        raise Problem(
            "no-count", "Nothing says how many copies there are.", "Give a count, a spacing or both.", of="count"
        )
    if count is not None and not 1 <= count <= MOST:
        raise Problem("bad-count", f"{count} copies cannot be made.", f"Give 1 to {MOST}.", of="count")
    if spacing is not None and spacing < LEAST_SPACING:
        raise Problem("bad-size", f"The spacing is {mm(spacing)}.", "Give one above zero.", of="spacing")
    if count is not None and spacing is not None:
        needed = spacing * (count if around else count - 1)
        if needed > room * (1 + 1e-9):
            raise Problem(
                "no-room",
                f"{count} copies {mm(spacing)} apart need {mm(needed)}; there are {mm(room)}.",
                (
                    f"Give at most {int(room / spacing) + (0 if around else 1)}, or a spacing up to "
                    f"{mm(room / (count if around else max(count - 1, 1)))}."
                ),
                of="count",
            )
        return count, spacing
    if count is not None:
        gaps = count if around else count - 1
        return count, room / gaps if gaps else room
    assert spacing is not None
    if room / spacing > MOST:
        raise Problem(
            "too-many-copies", f"These are {room / spacing:.0f} copies.", f"Ask for at most {MOST}.", of="spacing"
        )
    if spread.fitted or around:
        gaps = max(1, round(room / spacing))
        return (gaps if around else gaps + 1), room / gaps
    return math.floor(room / spacing * (1 + 1e-12)) + 1, spacing
