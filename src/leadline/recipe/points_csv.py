"""Points of a route from a CSV file: x, y, z and, if there is a fourth column, the bend radius."""

from __future__ import annotations

import math
from dataclasses import dataclass

from leadline.core.problems import Problem
from leadline.limits import POINT_ROWS
from leadline.recipe.csv_table import numbered_rows


@dataclass(frozen=True)
class CsvPoint:
    """In the part's unit."""

    x: float
    y: float
    z: float
    radius: float | None


def read_points(text: str) -> list[CsvPoint]:
    """Rows of three or four numbers in the part's unit, separated by commas, semicolons or tabs; a first row of words
    is a heading.

    With semicolons or tabs a comma may be the decimal sign.

    Raises:
        Problem: a row that is not numbers, of another length, or too many or too few rows.
    """
    separator = next((c for c in (";", "\t") if c in text), ",")
    numbered = numbered_rows(text, separator)
    if numbered and not any(_is_number(cell, separator) for cell in numbered[0][1]):
        numbered = numbered[1:]
    if not 2 <= len(numbered) <= POINT_ROWS:
        raise Problem(
            "bad-csv",
            f"The file has {len(numbered)} rows of points.",
            f"Give 2 to {POINT_ROWS} rows of x, y, z and, if wanted, a bend radius.",
            field="csv",
        )
    return [_point(line, row, separator) for line, row in numbered]


def _point(line: int, row: list[str], separator: str) -> CsvPoint:
    while len(row) > 3 and row[-1] == "":
        row = row[:-1]
    if len(row) not in (3, 4):
        raise Problem(
            "bad-csv",
            f"Row {line} has {len(row)} columns.",
            "Give x, y, z and, if wanted, a bend radius.",
            field="csv",
            row=line,
        )
    numbers = [_number(line, k, cell, separator) for k, cell in enumerate(row)]
    return CsvPoint(numbers[0], numbers[1], numbers[2], numbers[3] if len(row) == 4 else None)


def _number(line: int, column: int, cell: str, separator: str) -> float:
    if not _is_number(cell, separator):
        what = f"“{cell[:30]}”" if cell else "nothing"
        raise Problem(
            "bad-csv",
            f"Row {line} has {what} where its {('x', 'y', 'z', 'bend radius')[column]} should be.",
            "Give a plain number.",
            field="csv",
            row=line,
        )
    return float(cell if separator == "," else cell.replace(",", "."))


def _is_number(cell: str, separator: str) -> bool:
    try:
        return math.isfinite(float(cell if separator == "," else cell.replace(",", ".")))
    except ValueError:
        return False
