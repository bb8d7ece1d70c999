"""The combined step: a boolean between bodies that earlier steps have made."""

from __future__ import annotations

from leadline.core.problems import Problem
from leadline.kinds.combined.model import CombinedStep
from leadline.recipe.bodies import combined
from leadline.recipe.changing import singles, solids_of
from leadline.recipe.context import Context
from leadline.recipe.products import BodyProduct, Product
from leadline.recipe.results import Report
from leadline.recipe.shown import BodyResult

DONE = {"add": "added", "cut": "cut out", "common": "in common"}


def build(context: Context, step: CombinedStep, report: Report) -> Product:
    """Raises Problem when a body is not there, is its own tool, or the boolean fails."""
    if not step.tools:
        raise Problem("no-tools", "There is no body to combine it with.", "Pick one.", field="tools")
    if step.body in step.tools:
        raise Problem("own-tool", "A body cannot be combined with itself.", "Take it out of the others.", field="tools")
    if context.quick:
        return Product()
    bases = solids_of(context, step.body, "body", rows=True)
    every = [kept for source in step.tools for kept in solids_of(context, source, "tools", rows=True)]
    used = [
        k for k in {kept.key: kept for kept in every}.values() if k not in bases
    ]  # what stands with another is there once
    if not used:
        raise Problem("own-tool", "A body cannot be combined with itself.", "Take it out of the others.", field="tools")
    tools = singles(used, "tools")
    rest = [k for k in context.bodies if k not in bases and (step.keep or k not in used)]
    made, result = combined(context, tools, step.operation, report, step, bases)
    if step.operation == "common":
        made = [k for k in made if k not in bases]  # of a body that no tool touches there is nothing in common
        if not made:
            report.messages = []  # what was said of a boolean that did nothing
            others = ", ".join(f"“{context.names.get(s, s)}”" for s in step.tools)
            raise Problem(
                "nothing-in-common",
                f"“{context.names.get(step.body, step.body)}” and {others} have nothing in common.",
                "Move one of them, or pick another body.",
                field="tools",
            )
    report.data = BodyResult()
    if result is not None:
        report.data["result"] = result
    report.figure = f"{len(tools)} {DONE[step.operation]}"
    return BodyProduct(None, [*rest, *made], False)
