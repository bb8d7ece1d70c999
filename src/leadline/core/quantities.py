"""Numbers with powers of length and angle, and arithmetic that keeps them apart."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, field, replace

from leadline.core.problems import Problem


@dataclass(frozen=True)
class Quantity:
    """A number with powers of length (mm) and angle (rad).

    Of a product or a quotient that is not in brackets ``factors`` are what stands before the last sign, the sign, and
    what stands behind it: a unit that follows may belong to the latter alone.
    """

    value: float
    length: int = 0
    angle: int = 0
    factors: tuple[Quantity, str, Quantity] | None = field(default=None, compare=False, repr=False)

    @property
    def bare(self) -> bool:
        return self.length == 0 and self.angle == 0


def as_quantity(value: object) -> Quantity:
    if isinstance(value, Quantity):
        return value
    if isinstance(value, int | float) and not isinstance(value, bool):
        return Quantity(float(value))
    raise Problem("not-a-number", f"“{value}” is not a number.", "Type a number or an expression.")


def finite(quantity: Quantity, text: str) -> Quantity:
    if not math.isfinite(quantity.value) or abs(quantity.value) > 1e12:
        raise Problem("not-finite", f"“{text}” is not a usable number.", "Type a number under 1e12.")
    return quantity


def require(quantity: Quantity, length: int, angle: int, what: str, units: str) -> None:
    if (quantity.length, quantity.angle) != (length, angle):
        raise Problem("wrong-unit", f"{what} is needed here.", f"Use {units}.")


def multiply(a: object, b: object) -> Quantity:
    p, q = as_quantity(a), as_quantity(b)
    return Quantity(p.value * q.value, p.length + q.length, p.angle + q.angle, (p, "*", q))


def whole(value: object) -> Quantity:
    """What stands in brackets, as one quantity."""
    return replace(as_quantity(value), factors=None)


def with_unit(value: object, unit: object) -> Quantity:
    """A quantity with the unit that is written behind it.

    It belongs to the whole product or quotient where that has none, else to its last factor.

    Raises:
        Problem: that has a unit already, or the unit may belong to either of two numbers.
    """
    q, by = as_quantity(value), as_quantity(unit)
    if q.bare:
        return whole(multiply(q, by))
    if q.factors is None or not q.factors[2].bare:
        raise Problem(
            "unit-twice",
            "a unit stands behind what has one already.",
            "Take one of them away, or put a sign between them.",
        )
    before, sign, last = q.factors
    if sign == "*":
        return multiply(before, whole(multiply(last, by)))
    if before.factors is not None and before.factors[2].bare:  # 2 mm * 3 / 4 mm
        raise Problem(
            "unit-ambiguous",
            "the last unit may belong to the divisor alone or to the fraction before it.",
            "Write a*(3/4 mm), or a*3/(4 mm).",
        )
    return divide(before, whole(multiply(last, by)))


def divide(a: object, b: object) -> Quantity:
    p, q = as_quantity(a), as_quantity(b)
    return Quantity(p.value / q.value, p.length - q.length, p.angle - q.angle, (p, "/", q))


def power(a: object, b: object) -> Quantity:
    p, q = as_quantity(a), as_quantity(b)
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
        q = as_quantity(value)
        if not q.bare:
            require(q, 0, 1, "an angle", "deg, rad or turns")
        return Quantity(function(math.radians(q.value) if q.bare else q.value))

    return apply


def _to_angle(function: Callable[[float], float]) -> Callable[[object], Quantity]:
    def apply(value: object) -> Quantity:
        q = as_quantity(value)
        require(q, 0, 0, "a plain number", "no unit")
        return Quantity(function(q.value), angle=1)

    return apply


def _atan2(y: object, x: object) -> Quantity:
    p, q = as_quantity(y), as_quantity(x)
    return Quantity(math.atan2(p.value, alike(p, q).value), angle=1)


def alike(first: Quantity, second: Quantity) -> Quantity:
    """The second of two, which must be of the first one's kind. Raises Problem."""
    if (first.length, first.angle) != (second.length, second.angle):
        raise Problem("unit-mix", "lengths and plain numbers are compared.", "Give each the same kind of unit.")
    return second


def _size(value: object) -> Quantity:
    q = as_quantity(value)
    return Quantity(abs(q.value), q.length, q.angle)


def _root(value: object) -> Quantity:
    q = as_quantity(value)
    if q.value < 0 or q.length % 2 or q.angle % 2:
        raise Problem("bad-root", "sqrt of a negative number or of a length.", "Change the argument.")
    return Quantity(math.sqrt(q.value), q.length // 2, q.angle // 2)


def _pick(choose: Callable[..., float]) -> Callable[..., Quantity]:
    def apply(*values: object) -> Quantity:
        quantities = [as_quantity(v) for v in values]
        if not quantities or len({(q.length, q.angle) for q in quantities}) > 1:
            raise Problem("unit-mix", "lengths and plain numbers are compared.", "Give each the same kind of unit.")
        first = quantities[0]
        return Quantity(choose(q.value for q in quantities), first.length, first.angle)

    return apply


FUNCTIONS: dict[str, Callable[..., Quantity]] = {
    "sin": _of_angle(math.sin),
    "cos": _of_angle(math.cos),
    "tan": _of_angle(math.tan),
    "asin": _to_angle(math.asin),
    "acos": _to_angle(math.acos),
    "atan": _to_angle(math.atan),
    "atan2": _atan2,
    "sqrt": _root,
    "abs": _size,
    "min": _pick(min),
    "max": _pick(max),
}
