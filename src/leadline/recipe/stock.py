"""The shelf: stock that parts are made of, as tables, one for each sort; values of a part may take their numbers from a
row.
"""

from __future__ import annotations

import csv
import io
import math
import re
from collections import Counter
from collections.abc import Callable, Iterable
from dataclasses import dataclass
from importlib import resources
from typing import Annotated, Any

from pydantic import Field

from leadline.core.problems import Problem
from leadline.core.sketch.model import Id, Model
from leadline.core.units import LENGTH_UNITS, LengthUnit
from leadline.recipe.csv_table import escaped, numbered_rows, unescaped

MOST_ROWS = 2000
LONGEST_STEM = 24  # letters of an id before what tells it from others
FOLDER = resources.files("leadline.recipe") / "stock_files"


@dataclass(frozen=True)
class Column:
    """A size of a sort of stock; lengths are in mm, what has no ``unit`` is a plain number."""

    name: str
    title: str
    unit: str = "mm"


MATERIAL = Column("material", "Material", "text")
SORTS: dict[str, tuple[str, tuple[Column, ...]]] = {
    "tubes": (
        "Tubes",
        (
            MATERIAL,
            Column("outside", "Outside Ø"),
            Column("wall", "Wall"),
            Column("least_bend", "Least bend radius"),
            Column("stock", "Stock length"),
        ),
    ),
    "wires": ("Wires", (MATERIAL, Column("diameter", "Ø"), Column("weight", "Weight", "kg/m"))),
    "hoses": (
        "Hoses",
        (
            Column("bore", "Bore"),
            Column("outside", "Outside Ø"),
            Column("least_bend", "Least bend radius"),
            Column("least_bend_moving", "Moving"),
            Column("empty", "Empty", "kg/m"),
            Column("full", "Full", "kg/m"),
            Column("stiffness", "Bending stiffness", "N·m²"),
        ),
    ),
    "conduits": (
        "Conduits",
        (
            MATERIAL,
            Column("outside", "Outside Ø"),
            Column("wall", "Wall"),
            Column("bend", "Bend radius"),
            Column("stock", "Stock length"),
        ),
    ),
    "cables": (
        "Cables",
        (Column("outside", "Outside Ø"), Column("least_bend", "Least bend radius"), Column("weight", "Weight", "kg/m")),
    ),
    "ends": (
        "Ends",
        (
            Column("bore", "For bore"),
            Column("insertion", "Insertion"),
            Column("cut_off", "Cut-off"),
            Column("collar", "Collar Ø"),
            Column("hex", "Across flats"),
        ),
    ),
    "boxes": ("Boxes", (MATERIAL, Column("length", "Length"), Column("width", "Width"), Column("height", "Height"))),
    "clamps": (
        "Clamps",
        (MATERIAL, Column("outside", "For Ø"), Column("width", "Width"), Column("spacing", "Spacing")),
    ),
}


class RowRef(Model):
    """A size of a row of a shelf."""

    shelf: Annotated[str, Field(max_length=36)]
    row: Id
    size: Annotated[str, Field(max_length=40)]


class StockRow(Model):
    """One thing on a shelf.

    ``cells`` are its sizes and texts by their columns; those that are not known are not there.
    """

    id: Id
    name: Annotated[str, Field(min_length=1, max_length=80)]
    cells: dict[str, Annotated[float, Field(allow_inf_nan=False)] | Annotated[str, Field(max_length=80)]] = {}


def checked(sort: str, rows: list[StockRow]) -> list[StockRow]:
    """Rows of a shelf, in order.

    Raises:
        Problem: there is no such sort, a name or an id is there twice, a column is none of the sort's, or a size is no
            number of nought or more.
    """
    columns = {c.name: c for c in _columns(sort)}
    if len(rows) > MOST_ROWS:
        raise Problem("shelf-full", f"A shelf has at most {MOST_ROWS} rows.", "Make another shelf.", field="rows")
    for what, values in (("name", [r.name for r in rows]), ("id", [r.id for r in rows])):
        twice = next((v for v, count in Counter(values).items() if count > 1), None)
        if twice is not None:
            raise Problem(
                "row-twice",
                f"There are two rows of the {what} “{twice}”.",
                "Give each its own.",
                field="rows",
                row=values.index(twice) + 1,
            )
    for i, row in enumerate(rows):
        for name, cell in row.cells.items():
            if name not in columns:
                raise Problem(
                    "unknown-column",
                    f"{SORTS[sort][0]} have no “{name}”.",
                    f"Use {', '.join(columns)}.",
                    field="rows",
                    row=i + 1,
                )
            if (columns[name].unit == "text") != isinstance(cell, str) or (isinstance(cell, float) and cell < 0):
                raise Problem(
                    "bad-cell",
                    f"Row {i + 1}, {columns[name].title}: “{cell}” does not go there.",
                    "Give a number of nought or more, or a text where one goes.",
                    field="rows",
                    row=i + 1,
                )
    return rows


def read_stock(sort: str, text: str) -> list[StockRow]:
    """Rows from CSV: a heading with ``name`` and columns of the sort, in any order, with or without their units in
    brackets; ids are made of the names.

    Raises:
        Problem: the text is no such table.
    """
    columns = _columns(sort)
    heading_line = next((line for line in text.splitlines() if line.strip()), "")
    separator = next((c for c in (";", "\t") if c in heading_line), ",")
    numbered = [(line, [unescaped(cell) for cell in row]) for line, row in numbered_rows(text, separator)]
    if len(numbered) < 1 or "name" not in (heading := [_plain(cell) for cell in numbered[0][1]]):
        raise Problem(
            "bad-csv",
            "The first row does not name the columns.",
            f"Begin with: name, {', '.join(c.name for c in columns)}.",
            field="csv",
        )
    known = {_plain(word): c for c in columns for word in (c.name, c.title)}
    foreign = next((word for word in heading if word and word != "name" and word not in known), None)
    if foreign is not None:
        raise Problem(
            "unknown-column",
            f"{SORTS[sort][0]} have no “{foreign}”.",
            f"Use {', '.join(c.name for c in columns)}.",
            field="csv",
            row=1,
        )
    if len(numbered) - 1 > MOST_ROWS:
        raise Problem(
            "shelf-full",
            f"The table has {len(numbered) - 1} rows; a shelf has at most {MOST_ROWS}.",
            "Make several shelves of it.",
            field="csv",
        )
    rows: list[StockRow] = []
    ids = Ids()
    for line, row in numbered[1:]:
        cells: dict[str, float | str] = {}
        name = ""
        for word, cell in zip(heading, row, strict=False):
            if word == "name":
                name = cell
            elif cell and word:
                column = known[word]
                cells[column.name] = cell[:80] if column.unit == "text" else _number(cell, separator, line, column)
        if not name:
            raise Problem("bad-csv", f"Row {line} has no name.", "Give each row a name.", field="csv", row=line)
        rows.append(StockRow(id=ids.unused(name), name=name[:80], cells=cells))
    return checked(sort, rows)


def write_stock(sort: str, rows: list[StockRow]) -> str:
    """The rows as CSV, which ``read_stock`` reads again."""
    columns = _columns(sort)
    out = io.StringIO()
    table = csv.writer(out, lineterminator="\n")
    table.writerow(["name", *(c.name if c.unit == "text" else f"{c.name} ({c.unit})" for c in columns)])
    for row in rows:
        table.writerow(
            [escaped(row.name), *(escaped(str(row.cells.get(c.name, "")).removesuffix(".0")) for c in columns)]
        )
    return out.getvalue()


def shipped() -> dict[str, list[StockRow]]:
    """The rows of each sort that come with the program."""
    return {sort: read_stock(sort, (FOLDER / f"{sort}.csv").read_text()) for sort in SORTS}


def followed_rows(document: dict[str, Any]) -> set[str]:
    """The shelves that values of a part's document follow."""
    return {v["row"]["shelf"] for v in document.get("values", []) if isinstance(v, dict) and v.get("row")}


def with_stock(document: dict[str, Any], find: Callable[[str], tuple[str, list[StockRow]] | None]) -> dict[str, Any]:
    """A part's document in which each value that follows a row has its number as it is now; that of a row that is gone
    stays as it was.

    ``find`` gives the sort and the rows of a shelf. Lengths are told in the part's unit.
    """
    if not followed_rows(document):
        return document
    return {
        **document,
        "values": [_followed(v, document["units"], find) if v.get("row") else v for v in document["values"]],
    }


def number_of(sort: str, row: StockRow, size: str, unit: LengthUnit) -> float | None:
    """A size of a row in a part's unit; None where it has none."""
    column = next((c for c in _columns(sort) if c.name == size), None)
    cell = row.cells.get(size)
    if column is None or not isinstance(cell, float | int):
        return None
    return float(f"{cell / LENGTH_UNITS[unit]:.9g}") if column.unit == "mm" else float(cell)


class Ids:
    """Ids made of names, each once; those that are ``taken`` are none of them."""

    def __init__(self, taken: Iterable[str] = ()) -> None:
        self._taken = set(taken)
        self._tried: Counter[str] = Counter()

    def unused(self, name: str) -> str:
        """An id made of a name, no longer than ids may be."""
        stem = re.sub(r"[^a-z0-9]+", "_", name.lower()).strip("_")[:LONGEST_STEM] or "row"
        stem = stem if stem[0].isalpha() else f"r{stem}"
        found = stem
        while found in self._taken:
            self._tried[stem] += 1
            found = f"{stem}_{self._tried[stem] + 1}"
        self._taken.add(found)
        return found


def _followed(
    value: dict[str, Any], unit: LengthUnit, find: Callable[[str], tuple[str, list[StockRow]] | None]
) -> dict[str, Any]:
    ref = value["row"]
    shelf = find(ref["shelf"])
    row = None if shelf is None else next((r for r in shelf[1] if r.id == ref["row"]), None)
    number = None if shelf is None or row is None else number_of(shelf[0], row, ref["size"], unit)
    return value if number is None else {**value, "value": number}


def _columns(sort: str) -> tuple[Column, ...]:
    if sort not in SORTS:
        raise Problem(
            "unknown-sort", f"There is no stock of the sort “{sort}”.", f"Use one of {', '.join(SORTS)}.", field="sort"
        )
    return SORTS[sort][1]


def _plain(word: str) -> str:
    return word.partition("(")[0].strip().lower()


def _number(cell: str, separator: str, line: int, column: Column) -> float:
    try:
        number = float(cell if separator == "," else cell.replace(",", "."))
    except ValueError:
        number = math.nan
    if not math.isfinite(number):
        raise Problem(
            "bad-cell",
            f"Row {line}, {column.title}: “{cell[:30]}” is no number.",
            "Give a plain number.",
            field="csv",
            row=line,
        )
    return number
