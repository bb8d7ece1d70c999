"""Tables of text that come in as CSV."""

from __future__ import annotations

import csv
import io

from leadline.core.problems import Problem

FORMULA = ("=", "+", "-", "@", "\t", "\r")  # with which a formula begins in a spreadsheet


def numbered_rows(text: str, separator: str) -> list[tuple[int, list[str]]]:
    """The rows that hold something, each with its number in the file, from 1, and its cells without the blanks about
    them.

    Raises:
        Problem: the text is no CSV.
    """
    lines = io.StringIO(text.lstrip("\ufeff"), newline=None)  # lines may end in any of the usual ways
    try:
        rows = [[cell.strip() for cell in row] for row in csv.reader(lines, delimiter=separator)]
    except csv.Error as error:
        raise Problem(
            "bad-csv", f"The file is no table of text ({error}).", "Save it again as CSV.", field="csv"
        ) from None
    return [(i + 1, row) for i, row in enumerate(rows) if any(row)]


def escaped(cell: str) -> str:
    """A cell as it goes out: a text that a spreadsheet would take for a formula has an apostrophe before it.

    Numbers stay as they are.
    """
    if not cell.startswith(FORMULA) or _is_number(cell):
        return cell
    return f"'{cell}"


def unescaped(cell: str) -> str:
    """The cell that ``escaped`` made this of."""
    return cell[1:] if cell.startswith("'") and cell[1:].startswith(FORMULA) else cell


def _is_number(cell: str) -> bool:
    try:
        float(cell)
    except ValueError:
        return False
    return True
