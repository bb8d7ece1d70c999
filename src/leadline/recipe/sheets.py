"""The sheets that there are: one room for each under ``leadline.sheets``, found by its folder.

A room holds ``model.py`` (what the sheet says: a list of ``rows`` and some figures), ``make.py`` (a function ``make``
of what a build knows and the step, and one, ``dimensions``, of the sizes that are drawn), and in its ``__init__.py`` a
``SHEET``. As JSON and as CSV every sheet is written alike, by the marks on its fields.
"""

from __future__ import annotations

import csv
import importlib
import io
import pkgutil
import typing
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cache
from typing import Any

from pydantic import BaseModel

from leadline.core.geometry.dimensions import Dimension
from leadline.core.problems import Problem, told_in
from leadline.core.trades.general_tolerance import Grade, general_angle_tolerance, general_tolerance
from leadline.core.units import LENGTH_UNITS, LengthUnit
from leadline.core.values import Scope
from leadline.recipe.build import Memory, Store, build
from leadline.recipe.context import Context, Names
from leadline.recipe.fields import described
from leadline.recipe.inputs import BaseStep
from leadline.recipe.part import Part
from leadline.recipe.products import Product
from leadline.recipe.registry import Gives, kind_of


@dataclass(frozen=True)
class Sheet:
    """A sheet: its model, its ``title``, and ``of`` what steps it is made."""

    model: type[BaseModel]
    title: str
    of: tuple[Gives, ...]

    @property
    def name(self) -> str:
        return self.model.__module__.split(".")[-2]


@cache
def sheets() -> Mapping[str, Sheet]:
    """All sheets by name, in alphabetical order."""
    rooms = importlib.import_module("leadline.sheets")
    found = [
        importlib.import_module(f"leadline.sheets.{room.name}").SHEET for room in pkgutil.iter_modules(rooms.__path__)
    ]
    return {sheet.name: sheet for sheet in sorted(found, key=lambda sheet: sheet.name)}


def make_sheet(
    part: Part, step_id: str, name: str, memory: Memory, store: Store | None = None, whole: bool = False
) -> BaseModel:
    """A sheet of a step, which is built without the kernel, or ``whole``, with what a ``store`` keeps.

    Raises:
        Problem: there is no such step or sheet, the step has no result, no such sheet can be made of it, or it needs
            the ``whole`` of it.
    """
    step, context = _known(part, step_id, name, memory, store, whole)
    with told_in(part.units):
        made: BaseModel = _room(name).make(context, step)
    return made


def drawn_sizes(part: Part, step_id: str, name: str, memory: Memory, store: Store | None = None) -> Sequence[Dimension]:
    """The sizes that matter on the drawings of a sheet, where they are. Raises Problem as ``make_sheet``."""
    step, context = _known(part, step_id, name, memory, store, whole=True)
    sizes: Sequence[Dimension] = _room(name).dimensions(context, step)
    return sizes


def _known(
    part: Part, step_id: str, name: str, memory: Memory, store: Store | None, whole: bool
) -> tuple[BaseStep, Context]:
    """A step that such a sheet is made of, and what a build up to it knows. Raises Problem."""
    step = next((s for s in part.steps if s.id == step_id), None)
    sheet = sheets().get(name)
    if step is None or sheet is None or kind_of(step).gives not in sheet.of:
        raise Problem("no-sheet", f"There is no sheet “{name}” of the step {step_id}.", "Pick another step.")
    products: dict[str, Product] = {}
    build(part.model_copy(update={"sinker": None}), memory, store, quick=not whole, until=step_id, products=products)
    return step, Context(
        Scope(part.units), quick=not whole, products=products, names=Names({s.id: s.name for s in part.steps})
    )


def _room(name: str) -> Any:
    """The functions of a sheet's room."""
    return importlib.import_module(f"leadline.sheets.{name}.make")


def as_json(sheet: BaseModel, grade: Grade | None = None) -> dict[str, Any]:
    """Its numbers as they are (lengths in mm, angles in degrees), with the title and the measure of each field, and
    what general tolerances of a ``grade`` say: as ``tolerances`` the sizes of each row and those beside the rows that
    may be off, and by how much (mm, of angles degrees).
    """
    rows = sheet.rows  # type: ignore[attr-defined]  # every sheet has them
    off = {"rows": [tolerances_of(row, grade) for row in rows], "fields": tolerances_of(sheet, grade)}
    return {
        **sheet.model_dump(mode="json"),
        "fields": figures_of(sheet),
        "columns": columns_of(sheet),
        "tolerances": off,
    }


def tolerances_of(told: BaseModel, grade: Grade | None) -> dict[str, float]:
    """Of a row or a sheet the sizes that are made, and by how much (mm, of angles degrees) they may be off: as its
    ``own_tolerances`` say, if it has some (None: no tolerance holds for it), else by general tolerances of a ``grade``.
    """
    own: dict[str, float | None] = getattr(told, "own_tolerances", {})
    general = {} if grade is None else _general(told, grade)
    return {name: off for name, off in (general | own).items() if off is not None}


def _general(told: BaseModel, grade: Grade) -> dict[str, float | None]:
    made = {name: field["toleranced"] for name, field in described(type(told)).items() if "toleranced" in field}
    return {
        name: _off(told, name, leg, grade) for name, leg in made.items() if isinstance(getattr(told, name), int | float)
    }


def _off(told: BaseModel, name: str, leg: str | bool, grade: Grade) -> float | None:
    if isinstance(leg, str):
        return general_angle_tolerance(getattr(told, leg), grade)
    return general_tolerance(getattr(told, name), grade)


def as_csv(sheet: BaseModel, unit: LengthUnit) -> str:
    """A table with a heading, lengths in ``unit``; the figures beside the rows follow, one in a line."""
    columns = columns_of(sheet)
    text = io.StringIO()
    out = csv.writer(text, lineterminator="\n")
    out.writerow([_heading(field, unit) for field in columns.values()])
    for row in sheet.rows:  # type: ignore[attr-defined]  # every sheet has them
        out.writerow([_number(getattr(row, name), field, unit) for name, field in columns.items()])
    out.writerow([])
    for name, field in figures_of(sheet).items():
        out.writerow([_heading(field, unit), _number(getattr(sheet, name), field, unit)])
    return text.getvalue()


def columns_of(sheet: BaseModel) -> dict[str, dict[str, str | None]]:
    """Title and measure of each column of its rows."""
    return _fields(_rows(sheet))


def figures_of(sheet: BaseModel) -> dict[str, dict[str, str | None]]:
    """Title and measure of each figure beside its rows."""
    return {name: field for name, field in _fields(type(sheet)).items() if name != "rows"}


def _rows(sheet: BaseModel) -> type[BaseModel]:
    row: type[BaseModel] = typing.get_args(type(sheet).model_fields["rows"].annotation)[0]
    return row


def _fields(model: type[BaseModel]) -> dict[str, dict[str, str | None]]:
    """Title and measure of each field that is told."""
    told = {name: field for name, field in described(model).items() if not model.model_fields[name].exclude}
    return {
        name: {"title": model.model_fields[name].title or name, "measure": field.get("measure")}
        for name, field in told.items()
    }


def _heading(field: dict[str, str | None], unit: LengthUnit) -> str:
    units = {"length": f" ({unit})", "angle": " (deg)"}
    return f"{field['title']}{units.get(field['measure'] or '', '')}"


def _number(value: Any, field: dict[str, str | None], unit: LengthUnit) -> Any:
    if value is None:
        return ""
    if field["measure"] == "length":
        return round(value / LENGTH_UNITS[unit], 9)
    return round(value, 9) if isinstance(value, float) else value
