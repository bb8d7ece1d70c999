"""The sides of bodies as surfaces."""

from __future__ import annotations

from leadline.core.problems import Problem, mm
from leadline.core.surfaces.sheet import Sheet
from leadline.recipe.context import Context
from leadline.recipe.inputs import SidesRef


def sides(context: Context, reference: SidesRef, field: str) -> list[Sheet]:
    off = context.value(reference.off)
    sheets = context.faces(reference.step, field).sides(reference.edge, off)
    if not sheets:
        raise Problem(
            "deleted-reference",
            f"There is no side along the edge {reference.edge} any more.",
            "Take all sides, or pick another.",
            field=field,
        )
    if off != 0 and any(s.folds() for s in sheets):
        raise Problem(
            "offset-folds",
            f"{mm(off)} off the surface turns back on itself.",
            "Give less, or the other side.",
            field=field,
        )
    return sheets
