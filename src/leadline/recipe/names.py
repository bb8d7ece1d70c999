"""Which named values and which paths the expressions of a part use, and how these are called by another name."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace

from leadline.core.expressions import MAX_TEXT, Expression, check_name, measured_step, measures, names_used, renamed
from leadline.core.problems import Message, Problem
from leadline.core.values import Scope, evaluate_values
from leadline.recipe.fields import expressions, with_expressions
from leadline.recipe.inputs import BaseStep
from leadline.recipe.part import Part


@dataclass(frozen=True)
class Used:
    """What expressions use: names of ``values``, and names or ids of the steps whose ``paths`` they measure."""

    values: frozenset[str]
    paths: frozenset[str]


def scope_of(part: Part) -> Scope:
    """The named values of a part, evaluated; what is wrong with one is told at its place in the document."""
    scope = evaluate_values([(value.name, value.value) for value in part.values], part.units)
    for problem in scope.failed.values():
        problem.message = at_its_value(problem.message)
    return scope


def at_its_value(message: Message) -> Message:
    """What is said of a named value, at the field of the document in which that stands."""
    place = dict(message.place)
    name = place.pop("value", None)
    return message if name is None else replace(message, place={"field": f"values.{name}", **place})


def used_in(step: BaseStep) -> Used:
    """What the expressions of a step use, those of fields without a meaning as the others stand left out."""
    written = list(expressions(step))
    return Used(
        frozenset().union(*(names_used(text) - {variable} for text, variable in written)),
        frozenset().union(*(measures(text) for text, _ in written)),
    )


def with_values(used: Used, values: Mapping[str, Expression]) -> Used:
    """What is used through named values as well, whose expressions may use others and measure paths."""
    found: set[str] = set()
    paths = set(used.paths)
    waiting = list(used.values)
    while waiting:
        name = waiting.pop()
        if name not in found:
            found.add(name)
            paths.update(measures(values.get(name, 0)))
            waiting += names_used(values.get(name, 0))
    return Used(frozenset(found), frozenset(paths))


def rename_value(part: Part, old: str, new: str) -> Part:
    """The part with one of its values called by another name, in all expressions that use it as well.

    Raises:
        Problem: there is no such value, two are called so, or none can be called by the new name.
    """
    names = [value.name for value in part.values]
    if names.count(old) != 1:
        raise Problem("unknown-name", f"There is no value called “{old}”.", "Reload the part.", field="name")
    try:
        check_name(new, [name for name in names if name != old])
    except Problem as problem:
        raise problem.after("", field="to") from None
    _refuse_hidden(part, old, new)
    values = [v.model_copy(update={"name": new}) if v.name == old else v for v in part.values]

    def change(text: str, variable: str | None) -> str:
        """The variable of a formula is no value."""
        return text if old == variable else renamed(text, "value", lambda name: new if name == old else name)

    return _with_all(part.model_copy(update={"values": values}), change)


def _refuse_hidden(part: Part, old: str, new: str) -> None:
    """Raises Problem when a formula that uses a value would take its new name for the formula's own variable."""
    for step in part.steps:
        for text, variable in expressions(step):
            if variable == new and old in names_used(text):
                raise Problem(
                    "bad-name",
                    f"“{step.name}” has a formula of {new} that uses “{old}”.",
                    "Choose another name.",
                    field="to",
                    step=step.id,
                )


def rename_step(part: Part, step_id: str, new: str) -> Part:
    """The part with one of its steps called by another name. Expressions go on measuring the paths that they measure:
    a path whose name would be that of another step is given by the step's id.

    Raises:
        Problem: there is no such step.
    """
    before = {step.id: step.name for step in part.steps}
    if step_id not in before:
        raise Problem("unknown-step", f"There is no step {step_id}.", "Reload the part.")
    after = before | {step_id: new}

    def name_now(name: str) -> str:
        measured = measured_step(before, name)
        if measured is None:
            return name
        now = new if measured == step_id and name != step_id else name
        return now if measured_step(after, now) == measured and measures(f"length({now})") == [now] else measured

    steps = [step.model_copy(update={"name": new}) if step.id == step_id else step for step in part.steps]
    return _with_all(part.model_copy(update={"steps": steps}), lambda text, _: renamed(text, "path", name_now))


def _with_all(part: Part, change: Callable[[str, str | None], str]) -> Part:
    """The part with all its expressions changed. Raises Problem when one would be too long."""

    def checked(text: str, variable: str | None) -> str:
        new = change(text, variable)
        if len(new) > max(MAX_TEXT, len(text)):
            raise Problem(
                "too-long",
                f"“{text[:60]}…” would have {len(new)} characters.",
                "Choose a shorter name, or shorten the expression.",
                field="to",
            )
        return new

    return with_expressions(part, checked)
