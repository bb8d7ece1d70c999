"""The derived step: a path made of another."""

from __future__ import annotations

import numpy as np
from scipy.spatial.transform import Rotation

from leadline.core.marks import Expr
from leadline.core.paths.beside import beside
from leadline.core.paths.moved import mirrored_path, moved_path
from leadline.core.paths.path import Path
from leadline.core.problems import Problem, mm
from leadline.core.units import format_length
from leadline.kinds.derived.model import Beside, Carried, CopiedAlong, DerivedStep, Mirrored, PieceOf
from leadline.recipe.context import Context
from leadline.recipe.inputs import PlaneRef
from leadline.recipe.path_report import path_report
from leadline.recipe.placing import AXES, carried_along
from leadline.recipe.products import PathProduct
from leadline.recipe.results import Report
from leadline.recipe.shown import PathResult

WORDS = {"piece": "piece", "beside": "beside", "mirror": "mirrored", "move": "moved", "along": "carried along"}


def build(context: Context, step: DerivedStep, report: Report) -> PathProduct:
    """Raises Problem when a station or a plane is off the path, or it cannot be offset."""
    path = context.path(step.path)
    made = _derived(context, step.how, path)
    report.figure = f"{WORDS[step.how.by]}, {format_length(made.length, context.scope.unit)}"
    report.data = PathResult(path=path_report(made))
    return PathProduct(made)


def _derived(context: Context, how: PieceOf | Beside | Mirrored | Carried | CopiedAlong, path: Path) -> Path:
    if isinstance(how, PieceOf):
        return _piece(context, how, path)
    if isinstance(how, Beside):
        distance = context.value(how.distance)
        return beside(path, distance, context.value(how.angle))
    if isinstance(how, Mirrored):
        return mirrored_path(path, context.plane(how.plane))
    if isinstance(how, CopiedAlong):
        return moved_path(path, *carried_along(context, how, path))
    shift = np.array([context.value(v) for v in (how.dx, how.dy, how.dz)])
    turn = Rotation.from_rotvec(context.value(how.turn) * AXES[how.axis]).as_matrix()
    return moved_path(path, turn, shift)


def _piece(context: Context, how: PieceOf, path: Path) -> Path:
    a, b = _station(context, how, how.start, path, "start"), _station(context, how, how.end, path, "end")
    if how.from_end and a is not None and b is not None:
        a, b = min(a, b), max(a, b)
    elif how.from_end:
        a, b = b, a
    if how.cut_start is not None:
        a = _crossing(context, path, how.cut_start, "cut_start", 0)
    if how.cut_end is not None:
        b = _crossing(context, path, how.cut_end, "cut_end", -1)
    return path.between(0.0 if a is None else a, path.length if b is None else b)


def _station(context: Context, how: PieceOf, value: Expr | None, path: Path, name: str) -> float | None:
    if value is None or value == "":
        return None
    share = how.measure == "ratio"
    asked = context.evaluated(value, "number" if share else "length", name.capitalize(), "how")
    station = asked * path.length if share else asked
    if not -1e-9 <= station <= path.length * (1 + 1e-9):
        raise Problem(
            "off-path",
            f"The {name} of the piece at {mm(station)} is not on the path, which is {mm(path.length)} long.",
            "Give a station on it.",
            field=name,
        )
    return path.length - station if how.from_end else station


def _crossing(context: Context, path: Path, plane: PlaneRef, field: str, which: int) -> float:
    found = path.crossings(context.plane(plane))
    if len(found) == 0:
        raise Problem(
            "plane-misses", "The plane does not cross the path.", "Move the plane, or give a station.", field=field
        )
    return float(found[which])
