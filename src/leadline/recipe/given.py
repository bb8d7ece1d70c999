"""Quantities of steps that know their place: what a step's field measures, what it is called and where it stands."""

from __future__ import annotations

from typing import TypeVar

from leadline.core.expressions import Expression
from leadline.core.marks import Limit
from leadline.core.values import Kind

Own = TypeVar("Own", bound="Given")


class Given:
    """A quantity as it was typed, a number or an expression, that knows its place in a step.

    ``measure`` is the kind of quantity, ``label`` what its field is called on cards and in messages, ``field`` the
    field of the step in which it stands, however deep, and ``limit`` how small it may be. It equals the plain number or
    text and is written as that.
    """

    measure: Kind
    label: str
    field: str
    limit: Limit | None

    def placed(self: Own, measure: Kind, label: str, field: str, limit: Limit | None = None) -> Own:
        """Itself, after it was told its place."""
        self.measure, self.label, self.field, self.limit = measure, label, field, limit
        return self


class Unbound(TypeError):  # noqa: N818
    """A quantity that stands in no field of a step: what it measures is not known. A fault of the code."""


class GivenText(Given, str):
    """An expression."""


class GivenNumber(Given, float):
    """A number without a unit."""


def given(
    value: Expression, measure: Kind, label: str, field: str, limit: Limit | None = None
) -> GivenText | GivenNumber:
    """A number or an expression that knows this place."""
    if isinstance(value, str):
        return GivenText(value).placed(measure, label, field, limit)
    return GivenNumber(value).placed(measure, label, field, limit)


def renewed(old: str, text: str) -> str:
    """Another text in the place of an old one."""
    if not isinstance(old, GivenText):
        return text
    return GivenText(text).placed(old.measure, old.label, old.field, old.limit)


def known(quantity: Expression) -> Given:
    """A quantity of a step with its place.

    Raises:
        Unbound: it stands in no field of a step.
    """
    if not isinstance(quantity, Given):
        raise Unbound(f"{quantity!r} stands in no field of a step")
    return quantity


def label(quantity: Expression) -> str:
    """What the field of a quantity is called. Raises Unbound."""
    return known(quantity).label


def field_of(quantity: Expression) -> str:
    """The field of its step in which a quantity stands. Raises Unbound."""
    return known(quantity).field
