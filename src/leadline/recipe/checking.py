"""What is checked of every step beside what its builder asks for."""

from __future__ import annotations

from contextlib import suppress
from typing import cast

from leadline.core.marks import PARAMETER
from leadline.core.problems import Problem
from leadline.core.quantities import Quantity
from leadline.core.values import Kind, Scope
from leadline.recipe.context import Context
from leadline.recipe.fields import quantities
from leadline.recipe.given import label
from leadline.recipe.inputs import BaseStep

TOO_LONG = "too-long"  # the code of what is said of paths that are longer than any may be


def check_unread(context: Context, step: BaseStep) -> None:
    """Raises Problem at an expression that cannot be read, though the step as it stands does not need it: it would be
    met later, far from where it was typed.
    """
    scope: Scope | None = None
    for field, kind, value in quantities(step):
        if isinstance(value, str) and value.strip():
            scope = scope or _with_variable(context.scope)
            measure = "number" if value.rstrip().endswith("%") else cast(Kind, kind)
            scope.evaluate(value.rstrip().removesuffix("%"), measure, label(value), field=field)


def _with_variable(scope: Scope) -> Scope:
    """The scope with a formula's variable, whose expressions have been tried by their step."""
    inner = Scope(scope.unit, {PARAMETER: Quantity(0.5), **scope.values})
    inner.measure, inner.measured, inner.failed = scope.measure, scope.measured, scope.failed
    return inner


def with_longest(problem: Problem, context: Context, step: BaseStep) -> Problem:
    """What is said of a path that is too long, with the field that has the greatest length."""
    if problem.message.code != TOO_LONG or "field" in problem.message.place:
        return problem
    lengths: dict[str, float] = {}
    for field, kind, value in quantities(step):
        if kind == "length":
            with suppress(Problem):
                lengths[field] = max(lengths.get(field, 0.0), abs(context.station(value, 0.0)))
    return problem.after("", field=max(lengths, key=lambda f: lengths[f])) if lengths else problem
