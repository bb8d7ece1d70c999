"""What an open editor asks between builds: sketches solved and edited, files read, sheets.

It needs no kernel and keeps no solids; what is remembered are planned steps.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import asdict
from typing import Any, Literal

from leadline.core.problems import told_in
from leadline.core.sketch.edits.transforms import clip
from leadline.core.sketch.model import Sketch
from leadline.core.sketch.svg import read_svg
from leadline.core.trades.general_tolerance import Grade
from leadline.core.units import LengthUnit
from leadline.recipe.asking import answer
from leadline.recipe.bends_csv import is_bends, read_bends
from leadline.recipe.build import Memory
from leadline.recipe.names import rename_step, rename_value
from leadline.recipe.part import Part
from leadline.recipe.points_csv import read_points
from leadline.recipe.preview import body_edges
from leadline.recipe.sheets import as_csv, as_json, make_sheet


def _solve(memory: Memory, part: Part, step: str, added: str | None) -> Any:
    return answer(part, step, "solve", memory, added)


def _edit(memory: Memory, part: Part, step: str, operation: dict[str, Any]) -> Any:
    return answer(part, step, "edit", operation, memory)


def _edges(memory: Memory, part: Part, step: str) -> Any:
    return {"edges": answer(part, step, "edges", memory)}


def _edges_in_space(memory: Memory, part: Part, before: str | None) -> Any:
    return {"edges": body_edges(part, before, memory)}


def _sheet(memory: Memory, text: bytes, step: str, sheet: str, grade: Grade | None) -> Any:
    return as_json(make_sheet(Part.model_validate_json(text), step, sheet, memory), grade)


def _sheet_csv(memory: Memory, text: bytes, step: str, sheet: str, _: Grade | None) -> Any:
    part = Part.model_validate_json(text)
    with told_in(part.units):
        return as_csv(make_sheet(part, step, sheet, memory), part.units)


def _svg(_: Memory, part: Part, step: str) -> Any:
    return answer(part, step, "svg")


def _read_svg(_: Memory, svg: str, mm_per_unit: float | None) -> Any:
    drawing = read_svg(svg.encode(), mm_per_unit)
    return {
        "sketch": drawing.sketch.model_dump(mode="json"),
        "scale": drawing.scale,
        "width": drawing.width,
        "height": drawing.height,
        "skipped": drawing.skipped,
    }


def _read_points(_: Memory, csv: str, units: LengthUnit) -> Any:
    return {"points": [asdict(p) for p in (read_bends(csv, units) if is_bends(csv) else read_points(csv))]}


def _rename(_: Memory, part: Part, what: Literal["value", "step"], name: str, to: str) -> Any:
    return (rename_value if what == "value" else rename_step)(part, name, to).model_dump(mode="json")


def _clip(_: Memory, sketch: Sketch, items: list[str]) -> Any:
    return clip(sketch, items).model_dump(mode="json")


ASKED: dict[str, Callable[..., Any]] = {
    "solve": _solve,
    "edit": _edit,
    "edges": _edges,
    "edges in space": _edges_in_space,
    "sheet": _sheet,
    "sheet csv": _sheet_csv,
    "svg": _svg,
    "read svg": _read_svg,
    "read points": _read_points,
    "clip": _clip,
    "rename": _rename,
}
