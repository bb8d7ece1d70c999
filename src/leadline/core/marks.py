"""Marks on the fields of models, which say what a text or a number in them means.

Code that walks over a model finds them by type.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Literal

from pydantic import Field, PlainSerializer

from leadline.core.expressions import MAX_TEXT

Use = Literal["path", "plane", "section", "rail", "body", "any"]
Kind = Literal["length", "angle", "turns", "number"]


@dataclass(frozen=True)
class Refers:
    """The id of an earlier step, and as what that step is used.

    On a field of models it holds for all that they refer to.
    """

    use: Use


@dataclass(frozen=True)
class Measure:
    """A number or an expression of this kind."""

    kind: Kind


@dataclass(frozen=True)
class Limit:
    """How small a quantity may be, in mm, rad, turns or as a plain number: it has to be ``above`` one, or ``least`` is
    the smallest that it may be.
    """

    above: float | None = None
    least: float | None = None

    def broken(self, value: float) -> str:
        """What is wrong with a value, as the end of a sentence; nothing where it keeps to the limit."""
        if self.above is not None and value <= self.above:
            return "is not above zero"
        return "is under zero" if self.least is not None and value < self.least else ""

    @property
    def way_out(self) -> str:
        return "Give it above zero." if self.above is not None else "Give zero or more."


@dataclass(frozen=True)
class Toleranced:
    """A length or an angle that is made: general tolerances hold for it, those of an angle by its shorter leg, which
    the field ``leg`` of the same model tells.
    """

    leg: str | None = None


@dataclass(frozen=True)
class When:
    """The mark's field has a meaning only where another field of its model has one of these values."""

    field: str
    values: tuple[str, ...]


@dataclass(frozen=True)
class Kept:
    """The SHA-256 of what is kept beside the documents: a file as it came in, or another part's document."""

    what: Literal["file", "document"]


@dataclass(frozen=True)
class Newest:
    """The id of a part of the list.

    Where the switch ``when`` of the same model is on, its newest document is what the field ``kept`` stands for.
    """

    kept: str
    when: str


@dataclass(frozen=True)
class Written:
    """A number, or an expression that may use named values and measure paths; in a formula its ``variable`` stands for
    no named value.
    """

    variable: str | None = None


def _plain(value: float | str) -> float | str:
    """As it is written to a document: a bound quantity is a number or a text of a class of its own."""
    return str(value) if isinstance(value, str) else float(value)


TINY = 1e-6  # mm, of lengths that are not above it: nothing is as small as that
ABOVE_ZERO, ZERO_OR_MORE = Limit(above=0.0), Limit(least=0.0)
A_LENGTH = Limit(above=TINY)
PARAMETER = "t"  # of formulas
_Typed = Annotated[float, Field(allow_inf_nan=False)] | Annotated[str, Field(max_length=MAX_TEXT)]
Text = Annotated[_Typed, PlainSerializer(_plain, return_type=_Typed)]
Expr = Annotated[Text, Written()]
Length = Annotated[Expr, Measure("length")]
Size = Annotated[Length, Toleranced()]
Angle = Annotated[Expr, Measure("angle")]
LengthFormula = Annotated[Annotated[Text, Written(PARAMETER)], Measure("length")]
Turns = Annotated[Expr, Measure("turns")]
Plain = Annotated[Expr, Measure("number")]
