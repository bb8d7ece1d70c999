"""The projected step: a path laid onto the sides of a body."""

from __future__ import annotations

from leadline.core.surfaces.projected import projected
from leadline.core.units import format_length
from leadline.kinds.projected.model import ProjectedStep
from leadline.recipe.context import Context
from leadline.recipe.path_report import path_report
from leadline.recipe.placing import up_direction
from leadline.recipe.products import PathProduct
from leadline.recipe.results import Report
from leadline.recipe.shown import PathResult
from leadline.recipe.sides import sides


def build(context: Context, step: ProjectedStep, report: Report) -> PathProduct:
    """Raises Problem when the path does not meet the surface all along."""
    way = None if step.along is None else up_direction(context, step.along)
    unit = context.scope.unit
    path = projected(context.path(step.path), sides(context, step.onto, "onto"), way)
    report.figure = f"{'nearest' if way is None else 'along a direction'}, {format_length(path.length, unit)}"
    report.data = PathResult(path=path_report(path))
    return PathProduct(path)
