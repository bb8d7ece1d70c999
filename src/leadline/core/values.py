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
import re
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from typing import Any, Literal

import simpleeval

from leadline.core.problems import Problem
from leadline.core.units import ANGLE_UNITS, LENGTH_UNITS, LengthUnit

Kind = Literal["length", "angle", "turns", "number"]
Expression = float | int | str

MAX_TEXT = 300
_UNIT_NAMES = {name: f"_unit_{i}" for i, name in enumerate([*LENGTH_UNITS, *ANGLE_UNITS])}
_NUMBER = r"(?<![\w.])(?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d+)?"
_AFTER_NUMBER = re.compile(
    rf"({_NUMBER}|\)|(?<=\w)\s)\s*"
    r"(" + "|".join(sorted(map(re.escape, _UNIT_NAMES), key=len, reverse=True)) + r")(?![\w(])"
)
_NUMBER_THEN_WORD = re.compile(
    r"(?:^|[^\w.])((?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d+)?)(?![eE\d.][+-]?\d)\s*([A-Za-z_°\"'][\w\"']*)"
)
NAME = re.compile(r"[A-Za-z][A-Za-z0-9_]*\Z")


@dataclass(frozen=True)
class Quantity:
    """A number with powers of length (mm) and angle (rad)."""

    value: float
    length: int = 0
    angle: int = 0

    @property
    def bare(self) -> bool:
        return self.length == 0 and self.angle == 0


class Scope:
    """Evaluated named values of one part, and the part's unit for numbers without a unit."""

    def __init__(self, unit: LengthUnit = "mm", values: Mapping[str, Quantity] | None = None) -> None:
        self.unit: LengthUnit = unit
        self.values: dict[str, Quantity] = dict(values or {})

    def evaluate(self, expression: Expression, kind: Kind, field: str = "", step: str | None = None) -> float:
        """Evaluate a field to mm, rad, turns or a plain number.

        Raises:
            Problem: with the field, the reason and the way out.
        """
        try:
            quantity = self.quantity(expression)
            return self._as_kind(quantity, kind)
        except Problem as problem:
            message = problem.message
            place = {**message.place, "field": field} | ({"step": step} if step else {})
            raise Problem(message.code, f"{field or 'Value'}: {message.text}", message.way_out, **place) from None

    def quantity(self, expression: Expression) -> Quantity:
        """Evaluate an expression without a target kind. Raises Problem."""
        if isinstance(expression, bool):
            raise Problem("not-a-number", f"“{expression}” is not a number.", "Type a number or an expression.")
        if isinstance(expression, int | float):
            return _finite(Quantity(float(expression)), str(expression))
        return _finite(self._parse(expression), expression)

    def _parse(self, text: str) -> Quantity:
        if len(text) > MAX_TEXT:
            raise Problem("too-long", f"the expression has {len(text)} characters.", f"Keep it under {MAX_TEXT}.")
        if not text.strip():
            raise Problem("empty", "nothing is typed.", "Type a number or an expression.")
        _check_units(text, self.values)
        source = _AFTER_NUMBER.sub(lambda m: f"{m.group(1)} * {_UNIT_NAMES[m.group(2)]}", text.strip()).replace(
            "^", "**"
        )
        evaluator = simpleeval.SimpleEval(operators=self._operators(), functions=_FUNCTIONS, names=self._names())
        try:
            result = evaluator.eval(source)
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
        except (SyntaxError, simpleeval.InvalidExpression, ValueError, TypeError, OverflowError, RecursionError):
            raise Problem("unreadable", f"“{text}” cannot be read.", "For example: 12, 3/8 in, 12 + wall*2.") from None
        return _quantity(result)

    def _names(self) -> dict[str, Any]:
        units: dict[str, Quantity] = {_UNIT_NAMES[n]: Quantity(f, length=1) for n, f in LENGTH_UNITS.items()}
        units |= {_UNIT_NAMES[n]: Quantity(f, angle=1) for n, f in ANGLE_UNITS.items()}
        return {**units, "pi": math.pi, **self.values}

    def _operators(self) -> dict[type, Callable[..., Quantity]]:
        return {
            ast.Add: lambda a, b: self._sum(a, b, operator.add),
            ast.Sub: lambda a, b: self._sum(a, b, operator.sub),
            ast.Mult: _multiply,
            ast.Div: _divide,
            ast.Pow: _power,
            ast.USub: lambda a: Quantity(-_quantity(a).value, _quantity(a).length, _quantity(a).angle),
            ast.UAdd: _quantity,
        }

    def _sum(self, a: object, b: object, plus: Callable[[float, float], float]) -> Quantity:
        p, q = _quantity(a), _quantity(b)
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
            _require(quantity, 1, 0, "a length", "mm or in")
        elif kind == "angle":
            if quantity.bare:
                return math.radians(quantity.value)
            _require(quantity, 0, 1, "an angle", "deg, rad or turns")
        elif kind == "turns":
            if quantity.bare:
                return quantity.value
            _require(quantity, 0, 1, "a number of turns", "turns or deg")
            return quantity.value / (2 * math.pi)
        else:
            _require(quantity, 0, 0, "a plain number", "no unit")
        return quantity.value


def evaluate_values(named: Sequence[tuple[str, Expression]], unit: LengthUnit = "mm") -> Scope:
    """Evaluate named values that may use each other, in any order.

    Raises:
        Problem: a name used twice or not usable, a circle (named in order), or a bad expression.
    """
    expressions: dict[str, Expression] = {}
    for name, expression in named:
        if not NAME.match(name) or name in _UNIT_NAMES or name in _FUNCTIONS or name == "pi":
            raise Problem(
                "bad-name", f"“{name}” cannot name a value.", "Use a letter, then letters, digits or _, not a unit.",
                field=f"values.{name}",
            )  # fmt: skip
        if name in expressions:
            raise Problem("name-twice", f"Two values are called “{name}”.", "Rename one.", field=f"values.{name}")
        expressions[name] = expression
    order = graphlib.TopologicalSorter(
        {name: _names_in(expression) & expressions.keys() for name, expression in expressions.items()}
    )
    scope = Scope(unit)
    try:
        for name in order.static_order():
            try:
                scope.values[name] = scope.quantity(expressions[name])
            except Problem as problem:
                m = problem.message
                raise Problem(m.code, f"Value {name}: {m.text}", m.way_out, field=f"values.{name}") from None
    except graphlib.CycleError as error:
        circle = " → ".join(error.args[1])
        raise Problem(
            "circular-value", f"The values go round in a circle: {circle}.", "Give one of them a number.",
            field=f"values.{error.args[1][0]}",
        ) from None  # fmt: skip
    return scope


def _names_in(expression: Expression) -> set[str]:
    return set(re.findall(r"[A-Za-z_]\w*", expression)) if isinstance(expression, str) else set()


def _check_units(text: str, values: Mapping[str, Quantity]) -> None:
    for match in _NUMBER_THEN_WORD.finditer(text):
        word = match.group(2)
        if word not in _UNIT_NAMES and word not in values:
            raise Problem("unknown-unit", f"there is no unit “{word}”.", f"Units: {', '.join(_UNIT_NAMES)}.")


def _quantity(value: object) -> Quantity:
    if isinstance(value, Quantity):
        return value
    if isinstance(value, int | float) and not isinstance(value, bool):
        return Quantity(float(value))
    raise Problem("not-a-number", f"“{value}” is not a number.", "Type a number or an expression.")


def _finite(quantity: Quantity, text: str) -> Quantity:
    if not math.isfinite(quantity.value) or abs(quantity.value) > 1e12:
        raise Problem("not-finite", f"“{text}” is not a usable number.", "Type a number under 1e12.")
    return quantity


def _require(quantity: Quantity, length: int, angle: int, what: str, units: str) -> None:
    if (quantity.length, quantity.angle) != (length, angle):
        raise Problem("wrong-unit", f"{what} is needed here.", f"Use {units}.")


def _multiply(a: object, b: object) -> Quantity:
    p, q = _quantity(a), _quantity(b)
    return Quantity(p.value * q.value, p.length + q.length, p.angle + q.angle)


def _divide(a: object, b: object) -> Quantity:
    p, q = _quantity(a), _quantity(b)
    return Quantity(p.value / q.value, p.length - q.length, p.angle - q.angle)


def _power(a: object, b: object) -> Quantity:
    p, q = _quantity(a), _quantity(b)
    if not q.bare or abs(q.value) > 16:
        raise Problem("bad-power", "the power is not a small plain number.", "Use a power under 16.")
    if not p.bare and q.value != int(q.value):
        raise Problem("bad-power", "a length or angle takes whole powers only.", "Use sqrt for roots.")
    result = p.value**q.value
    if isinstance(result, complex):
        raise Problem("bad-power", "a root of a negative number.", "Change the base.")
    return Quantity(float(result), p.length * int(q.value), p.angle * int(q.value))


def _of_angle(function: Callable[[float], float]) -> Callable[[object], Quantity]:
    def apply(value: object) -> Quantity:
        q = _quantity(value)
        return Quantity(function(math.radians(q.value) if q.bare else q.value))

    return apply


def _root(value: object) -> Quantity:
    q = _quantity(value)
    if q.value < 0 or q.length % 2 or q.angle % 2:
        raise Problem("bad-root", "sqrt of a negative number or of a length.", "Change the argument.")
    return Quantity(math.sqrt(q.value), q.length // 2, q.angle // 2)


def _pick(choose: Callable[..., float]) -> Callable[..., Quantity]:
    def apply(*values: object) -> Quantity:
        quantities = [_quantity(v) for v in values]
        if not quantities or len({(q.length, q.angle) for q in quantities}) > 1:
            raise Problem("unit-mix", "lengths and plain numbers are compared.", "Give each the same kind of unit.")
        first = quantities[0]
        return Quantity(choose(q.value for q in quantities), first.length, first.angle)

    return apply


_FUNCTIONS: dict[str, Callable[..., Quantity]] = {
    "sin": _of_angle(math.sin),
    "cos": _of_angle(math.cos),
    "tan": _of_angle(math.tan),
    "sqrt": _root,
    "min": _pick(min),
    "max": _pick(max),
}
