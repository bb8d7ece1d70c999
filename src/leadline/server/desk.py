"""Requests that are worked on outside the web process: whatever grows with what a person sends, or with a part, is
read, checked and written here.

The web process passes such a request on as it came and gets the whole answer. What only it can do, as to have a part
built, comes along as orders.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from typing import TYPE_CHECKING, Any, Literal, TypeVar, cast

from flask import Flask, current_app

from leadline.server.database import Database
from leadline.server.files import Files
from leadline.server.following import Following, Order
from leadline.server.parts import Parts, PartState
from leadline.server.shelves import Shelves

if TYPE_CHECKING:  # it brings the numerics, which the web process does without
    from leadline.recipe.build import Memory

Where = Literal["documents", "files", "editors"]  # the pool whose processes do it


@dataclass(frozen=True)
class Passed:
    """A request as it came: its way with the query, its headers and its body."""

    method: str
    path: str
    headers: list[tuple[str, str]]
    body: bytes


@dataclass(frozen=True)
class Answered:
    """The whole answer, and what the web process is to do: parts to be built, and those that others may follow and that
    have changed.
    """

    status: int
    headers: list[tuple[str, str]]
    body: bytes
    orders: list[Order]
    changed: list[str]


@dataclass
class Desk:
    """What requests that are worked on here have at hand; of one request at a time."""

    parts: Parts
    files: Files
    shelves: Shelves
    following: Following
    asked: Mapping[str, Callable[..., Any]]
    memory: Memory
    orders: list[Order] = field(default_factory=list)
    changed: list[str] = field(default_factory=list)

    @classmethod
    def at(cls, database: Database, asked: Mapping[str, Callable[..., Any]], memory: Memory) -> Desk:
        parts, files, shelves = Parts(database), Files(database), Shelves(database)
        return cls(parts, files, shelves, Following(parts, files, shelves), asked, memory)

    def order(self, state: PartState) -> None:
        """Have a part built, unless that is done already."""
        self.orders.append(self.following.order(state))

    def ask(self, what: str, *given: Any) -> Any:
        """The answer to a question of ``leadline.worker.editor``. Raises Problem, ValidationError."""
        return self.asked[what](self.memory, *given)


def desk() -> Desk:
    return desk_of(current_app)


View = TypeVar("View", bound=Callable[..., Any])


def elsewhere(where: Where) -> Callable[[View], View]:
    """Mark a route as one that is worked on by a process of this pool, where ``desk`` is at hand and ``services`` is
    not.
    """

    def mark(view: View) -> View:
        view.elsewhere = where  # type: ignore[attr-defined]  # read by ``passing.py`` from the routes that Flask has
        return view

    return mark


def desk_of(app: Flask) -> Desk:
    return cast(Desk, app.extensions["desk"])
