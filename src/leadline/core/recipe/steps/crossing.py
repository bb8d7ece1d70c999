"""Paths on the sides of bodies: where two surfaces cross, and paths laid onto one."""

from __future__ import annotations

from leadline.core.problems import Problem
from leadline.core.recipe.path_steps import CrossingStep, ProjectedStep, SidesRef
from leadline.core.recipe.results import PathProduct, Report
from leadline.core.recipe.steps.context import Context
from leadline.core.recipe.steps.routes import told
from leadline.core.recipe.steps.sweeping import up_direction
from leadline.core.surfaces.crossing import crossings
from leadline.core.surfaces.projected import projected
from leadline.core.surfaces.sheet import Sheet, sheets_of
from leadline.core.units import format_length


def build(context: Context, step: CrossingStep, report: Report) -> PathProduct:
    """Raises Problem when the surfaces do not cross, or not in so many branches."""
    found = crossings(_sides(context, step.first, "first"), _sides(context, step.second, "second"))
    unit = context.scope.unit
    count = len(found)
    if step.branch > count:
        raise Problem(
            "no-branch", f"The two surfaces cross in {count} curve{'s' if count != 1 else ''}; the {step.branch}th is asked for.",
            f"Pick one of the {count}." if count > 1 else "Pick the first.", field="branch",
        )  # fmt: skip
    branch = found[step.branch - 1]
    report.figure = f"{step.branch} of {count}, {format_length(branch.path.length, unit)}"
    report.data = {
        "path": told(branch.path),
        "branches": [{"length": b.path.length, "closed": b.path.closed, "off": b.off} for b in found],
    }
    return PathProduct(branch.path)


def build_projected(context: Context, step: ProjectedStep, report: Report) -> PathProduct:
    """Raises Problem when the path does not meet the surface all along."""
    way = None if step.along is None else up_direction(context, step.along)
    unit = context.scope.unit
    path = projected(context.path(step.path), _sides(context, step.onto, "onto"), way, unit)
    report.figure = f"{'nearest' if way is None else 'along a direction'}, {format_length(path.length, unit)}"
    report.data = {"path": told(path)}
    return PathProduct(path)


def _sides(context: Context, reference: SidesRef, field: str) -> list[Sheet]:
    plan = context.plan(reference.step, field)
    off = context.value(reference.off, "length", "Distance off")
    sheets = sheets_of(plan.motion, plan.regions, reference.edge, off)
    if not sheets:
        raise Problem("deleted-reference", f"There is no side along the edge {reference.edge} any more.", "Take all sides, or pick another.", field=field)
    if off != 0 and any(s.folds() for s in sheets):
        raise Problem("offset-folds", f"{format_length(off, context.scope.unit)} off the surface turns back on itself.", "Give less, or the other side.", field=field)
    return sheets
