"""The joined step: paths put in order end to end."""

from __future__ import annotations

from leadline.core.paths.joining import joined
from leadline.core.problems import Message, mm
from leadline.core.units import format_length
from leadline.kinds.joined.model import JoinedStep
from leadline.kinds.joined.result import JoinedResult
from leadline.recipe.context import Context
from leadline.recipe.path_report import kinks, path_report
from leadline.recipe.products import PathProduct
from leadline.recipe.results import Report


def build(context: Context, step: JoinedStep, report: Report) -> PathProduct:
    unit = context.scope.unit
    names = [context.names.get(p.step, p.step) for p in step.parts]
    tolerance = context.value(step.tolerance)
    found = joined([context.path(p, "parts") for p in step.parts], names, tolerance)
    order = [names[i] for i, _ in found.order]
    report.messages += _bridges(order, found.bridged) + kinks(found.path)
    count = len(order)
    report.figure = f"{count} part{'s' if count != 1 else ''}, {format_length(found.path.length, unit)}"
    report.data = JoinedResult(path=path_report(found.path), order=order)
    return PathProduct(found.path)


def _bridges(order: list[str], bridged: tuple[float, ...]) -> list[Message]:
    return [
        Message(
            "note",
            "gap-closed",
            f"A gap of {mm(gap)} between “{order[k]}” and “{order[k + 1]}” is closed by a straight piece.",
            "",
            {},
        )
        for k, gap in enumerate(bridged)
        if gap > 0
    ]
