"""What the core says when something cannot be done: what, where, and the way out."""

from __future__ import annotations

import logging
import uuid
from dataclasses import dataclass, field
from typing import Any, Literal

from typing_extensions import TypedDict  # pydantic asks for this one before Python 3.12

log = logging.getLogger(__name__)


class MessageShown(TypedDict):
    """A message as JSON."""

    level: Literal["error", "warning", "note"]
    code: str
    text: str
    way_out: str
    place: dict[str, Any]


@dataclass(frozen=True)
class Message:
    """One thing to tell the designer.

    ``level`` is "error", "warning" or "note". ``place`` holds what a view needs to go there: any of
    ``step``, ``field``, ``station`` (mm), ``range`` (mm, mm), ``point`` (mm, 3 numbers), ``items``.
    """

    level: Literal["error", "warning", "note"]
    code: str
    text: str
    way_out: str = ""
    place: dict[str, Any] = field(default_factory=dict)

    def as_dict(self) -> MessageShown:
        return {
            "level": self.level,
            "code": self.code,
            "text": self.text,
            "way_out": self.way_out,
            "place": self.place,
        }


class Problem(Exception):  # noqa: N818 - a problem is said to a person, it is not a program error
    """Raised when an input cannot give a result; carries the message for the designer."""

    def __init__(self, code: str, text: str, way_out: str = "", **place: Any) -> None:
        super().__init__(text)
        self.message = Message("error", code, text, way_out, place)


def unexpected(error: Exception, **place: Any) -> Problem:
    """What is said of an error that nobody foresaw; its traceback goes to the log under the number that is told."""
    number = uuid.uuid4().hex[:8]
    log.error("unexpected error %s", number, exc_info=error)
    return Problem(
        "unexpected", f"Something went wrong here that should not have (number {number} in the log).",
        "Undo the last change or try other sizes, and report the number.", **place,
    )  # fmt: skip
