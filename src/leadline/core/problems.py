"""Messages to the designer: what cannot be done, where, and how to get out of it.

A message is a code, a template and quantities. In the texts that a message is made with, lengths and angles are written
by ``mm`` and ``degrees`` as marks, which keep the number as it is; a text may hold that of another message, marks and
all. At the edge ``Message.as_dict`` writes them out in the part's unit.
"""

from __future__ import annotations

import itertools
import logging
import math
import re
import uuid
from collections.abc import Iterator, Mapping
from contextlib import contextmanager
from dataclasses import dataclass, field, replace
from typing import Any, Literal, get_args

from typing_extensions import TypedDict  # pydantic asks for this one before Python 3.12

from leadline.core.units import LengthUnit, format_angle, format_length

log = logging.getLogger(__name__)

Level = Literal["error", "warning", "note"]
Measure = Literal["length", "angle"]

MARK = re.compile("\x02({}):([^:\x03]+):(\\d+)\x03".format("|".join(get_args(Measure))))


def mm(length: float, digits: int = 4) -> str:
    """A length in mm, in a text of a message; told to so many significant digits."""
    return f"\x02length:{float(length)!r}:{digits}\x03"


def degrees(angle: float, digits: int = 4) -> str:
    """An angle in rad, in a text of a message; told in degrees."""
    return f"\x02angle:{float(angle)!r}:{digits}\x03"


class QuantityShown(TypedDict):
    """A quantity of a message as JSON, in mm or degrees."""

    measure: Measure
    value: float


class RemedyShown(TypedDict):
    """A remedy as JSON: what it is called, and the fields of the message's step with the values that they get."""

    title: str
    change: dict[str, Any]


class MessageShown(TypedDict):
    """A message as JSON: ``text`` and ``way_out`` as they are read, and the ``template`` of the text with its
    ``quantities`` at {0}, {1} ...
    """

    level: Level
    code: str
    text: str
    way_out: str
    place: dict[str, Any]
    template: str
    quantities: list[QuantityShown]
    remedies: list[RemedyShown]


class StoredRemedy(TypedDict):
    """A remedy as it is kept, marks and all."""

    marked: str
    change: dict[str, Any]


class StoredMessage(TypedDict):
    """A message as it is kept, marks and all."""

    level: Level
    code: str
    marked: str
    marked_way_out: str
    place: dict[str, Any]
    remedies: list[StoredRemedy]


@dataclass(frozen=True)
class Remedy:
    """A way out that can be taken at once: some fields of the step that the message is about get other values.

    ``marked`` is what it is called, with marks of quantities. Lengths in ``change`` are expressions with their unit, as
    ``at_most`` makes them.
    """

    marked: str
    change: dict[str, Any]


@dataclass(frozen=True)
class Offer:
    """Another ``value`` of a quantity that the numerics speak of, with which it would do, in mm if it is a ``length``;
    None: without it. ``marked`` is what it is called, with marks of quantities.
    """

    marked: str
    of: str
    value: float | None
    length: bool = False

    def in_fields(self, fields: Mapping[str, str]) -> Remedy:
        """The same of a document, in which a quantity stands in the field that is said, or in that of its own name."""
        value = at_most(self.value) if self.length and self.value is not None else self.value
        return Remedy(self.marked, {fields.get(self.of, self.of): value})


def at_most(length: float) -> str:
    """A length in mm as an expression, rounded down to four significant digits: what fits still fits as it is
    written.
    """
    step = 10.0 ** (math.floor(math.log10(abs(length))) - 3)
    return f"{math.floor(length / step * (1 + 1e-12)) * step:.4g} mm"


@dataclass(frozen=True)
class Message:
    """One thing to tell the designer. ``marked`` and ``marked_way_out`` hold marks of quantities.

    ``place`` holds what a view needs to go there: any of ``step``, ``field``, ``station`` (mm), ``range`` (mm, mm),
    ``point`` (mm, 3 numbers), ``items``; and ``scale``, the factor on what is too large with which it fits. Numerics
    know no fields: they say which quantity it is ``of``, by its name in geometry or in the trade.
    """

    level: Level
    code: str
    marked: str
    marked_way_out: str = ""
    place: dict[str, Any] = field(default_factory=dict)
    remedies: tuple[Remedy | Offer, ...] = ()

    def in_fields(self, fields: Mapping[str, str]) -> Message:
        """The same of a document, in which a quantity stands in the field that is said, or in that of its own name."""
        place = dict(self.place)
        of = place.pop("of", None)
        if of is not None:
            place.setdefault("field", fields.get(of, of))
        remedies = tuple(r.in_fields(fields) if isinstance(r, Offer) else r for r in self.remedies)
        return replace(self, place=place, remedies=remedies)

    @property
    def told(self) -> tuple[dict[str, Any], tuple[Remedy, ...]]:
        """Place and ways out of a document, each quantity in the field of its own name."""
        own = self.in_fields({})
        return own.place, tuple(r for r in own.remedies if isinstance(r, Remedy))

    @property
    def text(self) -> str:
        """With lengths in mm."""
        return written(self.marked)

    @property
    def way_out(self) -> str:
        """With lengths in mm."""
        return written(self.marked_way_out)

    @property
    def template(self) -> str:
        """The text with {0}, {1} ... where its quantities stand."""
        count = itertools.count()
        return MARK.sub(lambda _: f"{{{next(count)}}}", self.marked)

    @property
    def quantities(self) -> list[QuantityShown]:
        return [
            {"measure": m, "value": float(v) if m == "length" else math.degrees(float(v))}
            for m, v, _ in MARK.findall(self.marked)
        ]

    def as_dict(self, unit: LengthUnit = "mm") -> MessageShown:
        """As JSON, with the lengths of its texts in a unit."""
        place, remedies = self.told
        return {
            "level": self.level,
            "code": self.code,
            "text": written(self.marked, unit),
            "way_out": written(self.marked_way_out, unit),
            "place": place,
            "template": self.template,
            "quantities": self.quantities,
            "remedies": [{"title": written(r.marked, unit), "change": r.change} for r in remedies],
        }

    def stored(self) -> StoredMessage:
        """What ``restored`` makes the same of."""
        place, remedies = self.told
        return {
            "level": self.level,
            "code": self.code,
            "marked": self.marked,
            "marked_way_out": self.marked_way_out,
            "place": place,
            "remedies": [{"marked": r.marked, "change": r.change} for r in remedies],
        }


def restored(kept: StoredMessage) -> Message:
    """The message of which ``Message.stored`` made this."""
    return Message(
        kept["level"],
        kept["code"],
        kept["marked"],
        kept["marked_way_out"],
        kept["place"],
        tuple(Remedy(**r) for r in kept["remedies"]),
    )


def written(marked: str, unit: LengthUnit = "mm") -> str:
    """A text with its quantities written out, lengths in a unit."""

    def words(mark: re.Match[str]) -> str:
        measure, value, digits = mark.groups()
        return (
            format_length(float(value), unit, int(digits))
            if measure == "length"
            else format_angle(float(value), int(digits))
        )

    return MARK.sub(words, marked)


class Problem(Exception):  # noqa: N818 - a problem is said to a person, it is not a program error
    """Raised when an input cannot give a result; carries the message for the designer.

    ``unit`` is that in which its lengths are to be told, once it is known of which part it is.
    """

    unit: LengthUnit = "mm"

    def __init__(self, code: str, marked: str, marked_way_out: str = "", **place: Any) -> None:
        super().__init__(written(marked))
        self.message = Message("error", code, marked, marked_way_out, place)

    def after(self, words: str, **place: Any) -> Problem:
        """The same, said after some words; what is given of its place is put over its own."""
        m = self.message
        return Problem(m.code, words + m.marked, m.marked_way_out, **{**m.place, **place}).mended(*m.remedies)

    def in_fields(self, fields: Mapping[str, str]) -> Problem:
        """The same of a document, as ``Message.in_fields``."""
        self.message = self.message.in_fields(fields)
        return self

    def mended(self, *remedies: Remedy | Offer) -> Problem:
        """The same, with ways out that can be taken at once."""
        self.message = replace(self.message, remedies=(*self.message.remedies, *remedies))
        return self


@contextmanager
def told_in(unit: LengthUnit) -> Iterator[None]:
    """Problems that are raised inside are to be told in a unit."""
    try:
        yield
    except Problem as problem:
        problem.unit = unit
        raise


def unexpected(error: Exception, **place: Any) -> Problem:
    """What is said of an error that nobody foresaw; its traceback goes to the log under the number that is told."""
    number = uuid.uuid4().hex[:8]
    log.error("unexpected error %s", number, exc_info=error)
    return Problem(
        "unexpected",
        f"Something went wrong here that should not have (number {number} in the log).",
        "Undo the last change or try other sizes, and report the number.",
        **place,
    )
