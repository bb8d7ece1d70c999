"""Named values and expressions.

A field of a part holds an expression: ``400``, ``"3/8 in"``, ``"12 + wall*2"``. A number without a
unit takes the unit of its field. The evaluation itself is ``simpleeval``'s, with a quantity type that
knows lengths and angles, so that ``2 mm + 30 deg`` is refused.
"""

from __future__ import annotations

import ast
import graphlib
import math
import operator
from collections.abc import Callable, Mapping, Sequence
from typing import Any, Literal

import simpleeval

from leadline.core.expressions import (
    MAX_TEXT,
    MEASURED,
    UNIT_NAMES,
    WHOLE,
    Expression,
    as_python,
    check_arithmetic,
    check_name,
    check_units,
    measures,
    names_used,
)
from leadline.core.problems import Problem
from leadline.core.quantities import (
    FUNCTIONS,
    Quantity,
    alike,
    as_quantity,
    divide,
    finite,
    multiply,
    power,
    require,
    whole,
    with_unit,
)
from leadline.core.units import ANGLE_UNITS, LENGTH_UNITS, LengthUnit

Kind = Literal["length", "angle", "turns", "number"]

TINY = 1e-9  # share of a step: a value so near to a whole number of steps counts as that number


class Scope:
    """Evaluated named values of one part, and the part's unit for numbers without a unit."""

    def __init__(self, unit: LengthUnit = "mm", values: Mapping[str, Quantity] | None = None) -> None:
        self.unit: LengthUnit = unit
        self.values: dict[str, Quantity] = dict(values or {})
        self.measure: Callable[[str], float] | None = None  # the length in mm of the path that a step gives
        self.measured: dict[str, Expression] = {}  # named values that measure paths: worked out where they are used
        self.failed: dict[str, Problem] = {}  # named values that have none, and why
        self.asked: set[str] = set()  # names that expressions have used so far, whether there are such values or not

    def evaluate(self, expression: Expression, kind: Kind, label: str = "Value", **place: Any) -> float:
        """Evaluate an expression to mm, rad, turns or a plain number; ``label`` is what it is called in messages.

        Raises:
            Problem: with the label, the ``place`` that was given, the reason and the way out.
        """
        try:
            quantity = self.quantity(expression)
            return self._as_kind(quantity, kind)
        except Problem as problem:
            raise problem.after(f"{label}: ", **place) from None

    def quantity(self, expression: Expression) -> Quantity:
        """Evaluate an expression without a target kind. Raises Problem."""
        if isinstance(expression, bool):
            raise Problem("not-a-number", f"“{expression}” is not a number.", "Type a number or an expression.")
        if isinstance(expression, int | float):
            return finite(Quantity(float(expression)), str(expression))
        return finite(self._parse(expression), expression)

    def of(
        self, variable: str, expression: Expression, kind: Kind, label: str = "Value", **place: Any
    ) -> Callable[[float], float]:
        """A function of a plain number: what the expression gives, as ``evaluate`` does, where ``variable`` is that
        number.

        Raises:
            Problem: the expression cannot be read; the function raises it where it has no value, with the place.
        """
        if not isinstance(expression, str):
            constant = self.evaluate(expression, kind, label, **place)
            return lambda _: constant
        inner = Scope(self.unit, {**self.values, variable: Quantity(0.0)})
        inner.measure, inner.measured = self.measure, {n: e for n, e in self.measured.items() if n != variable}
        inner.failed = {n: p for n, p in self.failed.items() if n != variable}
        try:
            run = inner._prepared(expression)
        except Problem as problem:
            raise problem.after(f"{label}: ", **place) from None
        self.asked |= inner.asked - {variable}

        def value(at: float) -> float:
            try:
                return inner._as_kind(finite(run({variable: Quantity(at)}), expression), kind)
            except Problem as problem:
                raise problem.after(f"{label}, at {variable} = {at:.6g}: ", **place) from None

        return value

    def _parse(self, text: str) -> Quantity:
        return self._prepared(text)({})

    def _prepared(self, text: str) -> Callable[[Mapping[str, Quantity]], Quantity]:
        """A function that gives the expression's value for some further names.

        The text is parsed and checked once. Raises Problem.
        """
        if len(text) > MAX_TEXT:
            raise Problem("too-long", f"the expression has {len(text)} characters.", f"Keep it under {MAX_TEXT}.")
        if not text.strip():
            raise Problem("empty", "nothing is typed.", "Type a number or an expression.")
        names = names_used(text)
        self.asked |= names
        for name in sorted(names & self.failed.keys()):
            raise Problem("bad-value", f"the value “{name}” that it uses has none.", "Mend that value first.")
        measured = {name: self.named(name) for name in names & self.measured.keys()}
        source = MEASURED.sub(lambda m: self._measured(m.group(1), measured), text.strip())
        known = {**self.values, **measured}
        if "@" in source:
            raise Problem(
                "not-allowed", f"“{text}” is not arithmetic.", "Use numbers, units, named values and + - * / ^ ( )."
            )
        source = as_python(source)
        check_units(source, known)
        check_arithmetic(source, text)
        evaluator = simpleeval.SimpleEval(
            operators=self._operators(), functions=self._functions(), names={**self._names(), **measured}
        )
        tree = evaluator.parse(source)

        def run(more: Mapping[str, Quantity]) -> Quantity:
            evaluator.names.update(more)
            return as_quantity(self._run(lambda: evaluator.eval(source, previously_parsed=tree), text))

        return run

    def _run(self, make: Callable[[], object], text: str) -> object:
        try:
            return make()
        except simpleeval.NameNotDefined as error:
            known = ", ".join(sorted(self.values)) or "none yet"
            raise Problem(
                "unknown-name", f"there is no value called “{error.name}”.", f"Named values: {known}."
            ) from None
        except (simpleeval.FeatureNotAvailable, simpleeval.FunctionNotDefined, simpleeval.OperatorNotDefined):
            raise Problem(
                "not-allowed", f"“{text}” is not arithmetic.", "Use numbers, units, named values and + - * / ^ ( )."
            ) from None
        except ZeroDivisionError:
            raise Problem("division", f"“{text}” divides by zero.", "Change the divisor.") from None
        except (
            SyntaxError,
            simpleeval.InvalidExpression,
            ValueError,
            TypeError,
            OverflowError,
            RecursionError,
            MemoryError,
        ):
            raise Problem("unreadable", f"“{text}” cannot be read.", "For example: 12, 3/8 in, 12 + wall*2.") from None

    def named(self, name: str) -> Quantity:
        """A named value that measures paths. Raises Problem."""
        try:
            return self.quantity(self.measured[name])
        except Problem as problem:
            raise _of_value(name, problem) from None

    def _measured(self, name: str, measured: dict[str, Quantity]) -> str:
        """The name that a measured length has in the expression. Raises Problem."""
        if self.measure is None:
            raise Problem(
                "not-measured",
                f"the length of “{name}” is not known here.",
                "Measure paths in the fields of steps that come after them.",
            )
        key = f"_measured_{len(measured)}"
        measured[key] = Quantity(self.measure(name), length=1)
        return key

    def _rounded(self, how: Callable[[float], float], slack: float) -> Callable[..., Quantity]:
        """floor, ceil or round of a length in the part's unit, of an angle in degrees, or to a step that is given."""

        def apply(value: object, step: object | None = None) -> Quantity:
            q = as_quantity(value)
            if step is None:
                unit = LENGTH_UNITS[self.unit] ** q.length * math.radians(1) ** q.angle
            else:
                by = alike(q, as_quantity(step))
                unit = by.value
            if unit == 0:
                raise Problem("division", "it is rounded to a step of zero.", "Give a step above zero.")
            return Quantity(how(q.value / unit + slack) * unit, q.length, q.angle)

        return apply

    def _functions(self) -> dict[str, Callable[..., Quantity]]:
        return {
            **FUNCTIONS,
            WHOLE: whole,
            "floor": self._rounded(math.floor, TINY),
            "ceil": self._rounded(math.ceil, -TINY),
            "round": self._rounded(lambda v: math.floor(v + 0.5), TINY),
        }

    def _names(self) -> dict[str, Any]:
        units: dict[str, Quantity] = {UNIT_NAMES[n]: Quantity(f, length=1) for n, f in LENGTH_UNITS.items()}
        units |= {UNIT_NAMES[n]: Quantity(f, angle=1) for n, f in ANGLE_UNITS.items()}
        return {**units, "pi": math.pi, **self.values}

    def _operators(self) -> dict[type, Callable[..., Quantity]]:
        return {
            ast.Add: lambda a, b: self._sum(a, b, operator.add),
            ast.Sub: lambda a, b: self._sum(a, b, operator.sub),
            ast.Mult: multiply,
            ast.Div: divide,
            ast.Pow: power,
            ast.MatMult: with_unit,
            ast.USub: lambda a: Quantity(-as_quantity(a).value, as_quantity(a).length, as_quantity(a).angle),
            ast.UAdd: as_quantity,
        }

    def _sum(self, a: object, b: object, plus: Callable[[float, float], float]) -> Quantity:
        p, q = as_quantity(a), as_quantity(b)
        if p.bare and not q.bare:
            p = self._with_default_unit(p, q)
        elif q.bare and not p.bare:
            q = self._with_default_unit(q, p)
        if (p.length, p.angle) != (q.length, q.angle):
            raise Problem("unit-mix", "lengths and angles are added together.", "Add like to like.")
        return Quantity(plus(p.value, q.value), p.length, p.angle)

    def _with_default_unit(self, bare: Quantity, like: Quantity) -> Quantity:
        if (like.length, like.angle) == (1, 0):
            return Quantity(bare.value * LENGTH_UNITS[self.unit], length=1)
        if (like.length, like.angle) == (0, 1):
            return Quantity(math.radians(bare.value), angle=1)
        return bare

    def _as_kind(self, quantity: Quantity, kind: Kind) -> float:
        if kind == "length":
            if quantity.bare:
                return quantity.value * LENGTH_UNITS[self.unit]
            require(quantity, 1, 0, "a length", "mm or in")
        elif kind == "angle":
            if quantity.bare:
                return math.radians(quantity.value)
            require(quantity, 0, 1, "an angle", "deg, rad or turns")
        elif kind == "turns":
            if quantity.bare:
                return quantity.value
            require(quantity, 0, 1, "a number of turns", "turns or deg")
            return quantity.value / (2 * math.pi)
        else:
            require(quantity, 0, 0, "a plain number", "no unit")
        return quantity.value


def evaluate_values(named: Sequence[tuple[str, Expression]], unit: LengthUnit = "mm") -> Scope:
    """Evaluate named values that may use each other, in any order; those that measure paths are kept in ``measured``.

    One that has no value stands in ``failed`` with the reason: its name is used twice or not usable, it goes round in a
    circle with others (named in order), its expression is bad or uses another that has none.
    """
    scope = Scope(unit)
    expressions: dict[str, Expression] = {}
    for name, expression in named:
        try:
            check_name(name, expressions)
            expressions[name] = expression
        except Problem as problem:
            scope.failed[name] = problem.after("", value=name)
    for name in _in_order(expressions, scope):
        if name in scope.failed:
            continue
        if measures(expressions[name]) or names_used(expressions[name]) & scope.measured.keys():
            scope.measured[name] = expressions[name]
            continue
        try:
            scope.values[name] = scope.quantity(expressions[name])
        except Problem as problem:
            scope.failed[name] = _of_value(name, problem)
    return scope


def _in_order(expressions: Mapping[str, Expression], scope: Scope) -> list[str]:
    """The names, each after those that its expression uses. Those that go round in a circle fail and are left out."""
    uses = {name: names_used(expression) & expressions.keys() for name, expression in expressions.items()}
    while True:
        try:
            return list(graphlib.TopologicalSorter(uses).static_order())
        except graphlib.CycleError as error:
            circle: list[str] = error.args[1]
            problem = Problem(
                "circular-value",
                f"The values go round in a circle: {' → '.join(circle)}.",
                "Give one of them a number.",
                value=circle[0],
            )
            for name in circle:
                scope.failed[name] = problem
            uses = {name: used - set(circle) for name, used in uses.items() if name not in circle}


def _of_value(name: str, problem: Problem) -> Problem:
    return problem.after(f"Value {name}: ", value=name)
