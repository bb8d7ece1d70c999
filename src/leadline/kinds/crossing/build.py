"""The crossing step: a curve in which two surfaces cross."""

from __future__ import annotations

from leadline.core.problems import Problem
from leadline.core.surfaces.crossing import crossings
from leadline.core.units import format_length
from leadline.kinds.crossing.model import CrossingStep
from leadline.kinds.crossing.result import CrossingResult
from leadline.recipe.context import Context
from leadline.recipe.path_report import path_report
from leadline.recipe.products import PathProduct
from leadline.recipe.results import Report
from leadline.recipe.sides import sides


def build(context: Context, step: CrossingStep, report: Report) -> PathProduct:
    """Raises Problem when the surfaces do not cross, or not in so many branches."""
    found = crossings(sides(context, step.first, "first"), sides(context, step.second, "second"))
    unit = context.scope.unit
    count = len(found)
    if step.branch > count:
        raise Problem(
            "no-branch",
            f"The two surfaces cross in {count} curve{'s' if count != 1 else ''}; the {step.branch}th is asked for.",
            f"Pick one of the {count}." if count > 1 else "Pick the first.",
            field="branch",
        )
    branch = found[step.branch - 1]
    report.figure = f"{step.branch} of {count}, {format_length(branch.path.length, unit)}"
    report.data = CrossingResult(
        path=path_report(branch.path),
        branches=[{"length": b.path.length, "closed": b.path.closed, "off": b.off} for b in found],
    )
    return PathProduct(branch.path)
