"""What the core says when something cannot be done: what, where, and the way out."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any


@dataclass(frozen=True)
class Message:
    """One thing to tell the designer.

    ``level`` is "error", "warning" or "note". ``place`` holds what a view needs to go there: any of
    ``step``, ``field``, ``station`` (mm), ``range`` (mm, mm), ``point`` (mm, 3 numbers), ``items``.
    """

    level: str
    code: str
    text: str
    way_out: str = ""
    place: dict[str, Any] = field(default_factory=dict)

    def as_dict(self) -> dict[str, Any]:
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
