"""A table of bends from a CSV file as the corners of a route: what the sheets of bends write is read back."""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np

from leadline.core.paths.bends import BendRow, Bends, corners_of
from leadline.core.problems import Problem
from leadline.core.units import LENGTH_UNITS, LengthUnit
from leadline.limits import POINT_ROWS
from leadline.recipe.csv_table import numbered_rows
from leadline.recipe.points_csv import CsvPoint

COLUMNS = ("feed", "turn", "angle", "radius")
LAST = "straight after the last bend"


def is_bends(text: str) -> bool:
    """Whether a file begins with a heading that names the columns of bends."""
    first = next((line for line in text.lstrip("\ufeff").splitlines() if line.strip()), "").lower()
    return all(name in first for name in COLUMNS)


def read_bends(text: str, unit: LengthUnit) -> list[CsvPoint]:
    """The corners, in ``unit``, of a route that begins at the origin along X and bends first towards Y.

    The heading names the columns ``feed``, ``turn``, ``angle`` and ``radius`` (lengths in mm or in, as the heading
    says, else in ``unit``; angles in degrees); a row that begins with "Straight after the last bend" has it in its
    second column.

    Raises:
        Problem: a row has no number where one is wanted, or a bend that cannot be bent.
    """
    numbered = numbered_rows(text, _separator(text))
    heading = [cell.lower() for cell in numbered[0][1]]
    at = {name: next(k for k, cell in enumerate(heading) if cell.startswith(name)) for name in COLUMNS}
    scale = (
        LENGTH_UNITS["in"]
        if "(in)" in heading[at["feed"]]
        else 1.0
        if "(mm)" in heading[at["feed"]]
        else LENGTH_UNITS[unit]
    )
    table: list[BendRow] = []
    last, station = 0.0, 0.0
    for line, row in numbered[1:]:
        if row[0].lower().startswith(LAST):
            last = _number(line, row, 1) * scale
        elif row[0].isdigit():
            feed, turn, angle, radius = (_number(line, row, at[name]) for name in COLUMNS)
            sweep = math.radians(angle)
            start = station + feed * scale
            station = start + radius * scale * sweep
            table.append(BendRow(feed * scale, math.radians(turn), sweep, radius * scale, start, station))
    if not 1 <= len(table) <= POINT_ROWS:
        raise Problem(
            "bad-csv",
            f"The file has {len(table)} rows of bends.",
            f"Give 1 to {POINT_ROWS}, each beginning with its number.",
            field="csv",
        )
    corners, radii = corners_of(Bends(tuple(table), last), np.zeros(3), np.array([1.0, 0, 0]), np.array([0.0, 0, 1]))
    points = (corners / LENGTH_UNITS[unit]).tolist()
    bent = [None, *(radii / LENGTH_UNITS[unit]).tolist(), None]
    return [CsvPoint(x, y, z, radius) for (x, y, z), radius in zip(points, bent, strict=True)]


def _separator(text: str) -> str:
    return next((c for c in (";", "\t") if c in text), ",")


def _number(line: int, row: Sequence[str], column: int) -> float:
    text = row[column] if column < len(row) else ""
    try:
        found = float(text)
    except ValueError:
        found = math.nan
    if not math.isfinite(found):
        raise Problem(
            "bad-csv",
            f"Row {line} has {f'“{text[:30]}”' if text else 'nothing'} where a number should be.",
            "Give a plain number.",
            field="csv",
            row=line,
        )
    return found
