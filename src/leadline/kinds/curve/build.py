"""The curve step: an arc through three points, an arc or ellipse about a plane's origin, or a curve by formula."""

from __future__ import annotations

import numpy as np

from leadline.core.geometry.plane import Array
from leadline.core.paths.formula import through_formula
from leadline.core.paths.path import Path
from leadline.core.paths.rounds import round_about, through_three
from leadline.core.units import format_length
from leadline.kinds.curve.model import CurveStep, Formula, RoundAbout, ThreePoints
from leadline.recipe.context import Context
from leadline.recipe.path_report import kinks, path_report
from leadline.recipe.placing import place
from leadline.recipe.products import PathProduct
from leadline.recipe.results import Report
from leadline.recipe.shown import PathResult


def build(context: Context, step: CurveStep, report: Report) -> PathProduct:
    """The path.

    Raises:
        Problem: the points lie in a line, a size or sweep cannot be, or the formula has no smooth curve.
    """
    shape = step.shape
    unit = context.scope.unit
    if isinstance(shape, ThreePoints):
        path, figure = _three(context, shape)
    elif isinstance(shape, RoundAbout):
        path, figure = _round(context, shape)
    else:
        path, figure = _formula(context, shape), "by formula"
    report.messages += kinks(path)
    report.figure = f"{figure}, {format_length(path.length, unit)}"
    report.data = PathResult(path=path_report(path))
    return PathProduct(path)


def _three(context: Context, shape: ThreePoints) -> tuple[Path, str]:
    ends = [
        place(context, at, name)
        for at, name in ((shape.start, "the start"), (shape.via, "the point between"), (shape.end, "the end"))
    ]
    path = through_three(ends[0], ends[1], ends[2], shape.whole)
    radius = 1 / float(np.linalg.norm(path.curvature(np.zeros(1))))
    return path, f"{'circle' if shape.whole else 'arc'} of {format_length(radius, context.scope.unit)}"


def _round(context: Context, shape: RoundAbout) -> tuple[Path, str]:
    unit = context.scope.unit
    radius = context.value(shape.radius)
    asked = context.given(shape.other)
    other = radius if asked is None else asked
    path = round_about(
        context.plane(shape.plane),
        (radius, other),
        context.value(shape.start_angle),
        context.value(shape.sweep),
    )
    if path.pieces[0].kind == "arc":
        return path, f"{'circle' if path.closed else 'arc'} of {format_length(radius, unit)}"
    return (
        path,
        (
            f"{'ellipse' if path.closed else 'elliptic arc'} of {format_length(radius, unit)} by "
            f"{format_length(other, unit)}"
        ),
    )


def _formula(context: Context, shape: Formula) -> Path:
    first, last = context.value(shape.first), context.value(shape.last)
    axes = [context.formula(v) for v in (shape.x, shape.y, shape.z)]

    def follow(t: float) -> Array:
        return np.array([axis(t) for axis in axes])

    return through_formula(follow, first, last, context.plane(shape.plane))
