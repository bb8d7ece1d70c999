"""Every failure as JSON: what, where, and the way out."""

from __future__ import annotations

import logging
from collections.abc import Callable
from typing import Any

from flask import Flask, Response, jsonify, make_response
from pydantic import ValidationError
from sqlalchemy.exc import DataError, OperationalError
from werkzeug.exceptions import HTTPException

from leadline.core.problems import Message, MessageShown, Problem
from leadline.limits import ANSWER_MEMORY, GB, PART_FILE_BYTES
from leadline.recipe.part_file import describe_invalid, field_of
from leadline.server.parts import NotFound, Overtaken
from leadline.server.shelves import NoShelf, ShelfOvertaken
from leadline.worker.pool import WorkerDied, WorkFailed

log = logging.getLogger(__name__)


Told = tuple[int, MessageShown]  # an HTTP status, and the message


def told(error: Exception) -> Told:
    """What whoever asked is told of an error, on whatever way they asked. What nobody foresaw goes into the log."""
    for kinds, tell in TOLD.items():
        if isinstance(error, kinds):
            return tell(error)
    log.exception("unexpected", exc_info=error)
    return _message(500, "unexpected", "The server met an error of its own.", "It is in the server's log; try again.")


def _message(status: int, code: str, text: str, way_out: str = "", **place: Any) -> Told:
    return status, Message("error", code, text, way_out, place).as_dict()


def _problem(error: Problem) -> Told:
    return 413 if error.message.code == "too-large" else 422, error.message.as_dict(error.unit)


def _overtaken(error: Overtaken) -> Told:
    return _message(
        409,
        "overtaken",
        "This part was changed in another window since.",
        "Take over the newer state, then make your change again.",
        head=error.head,
    )


def _no_database(error: OperationalError) -> Told:
    log.error("database: %s", error)
    return _message(503, "database", "The database does not answer.", "Start it with ./lead up.")


def _http(error: HTTPException) -> Told:
    code = error.code or 500
    text = {
        404: "There is nothing at this address.",
        408: "The request did not come to its end in time.",
        413: "The request is too large.",
    }.get(code, error.name)
    return _message(
        code,
        "http",
        text,
        {408: "Send it again.", 413: f"A part file is at most {PART_FILE_BYTES / 1e6:.0f} MB."}.get(code, ""),
    )


TOLD: dict[type[Exception], Callable[[Any], Told]] = {
    Problem: _problem,
    ValidationError: lambda error: _message(422, "bad-field", *describe_invalid(error), field=field_of(error)),
    NoShelf: lambda _: _message(404, "no-shelf", "There is no such shelf.", "Go back to the shelf."),
    NotFound: lambda _: _message(404, "no-part", "There is no such part.", "Go back to the part list."),
    ShelfOvertaken: lambda error: _message(
        409,
        "overtaken",
        "This shelf was changed in another window since.",
        "Reload it, then make your change again.",
        head=error.head,
    ),
    Overtaken: _overtaken,
    RecursionError: lambda _: _message(
        422, "too-deep", "Lists and fields stand too deep in each other.", "Open a part file that was saved here."
    ),
    MemoryError: lambda _: _message(
        413,
        "memory",
        f"This takes more than the {ANSWER_MEMORY / GB:g} GB of memory that it may have.",
        "Send less at once.",
    ),
    WorkFailed: lambda error: (422, error.message),
    WorkerDied: lambda _: _message(
        503, "worker", "The process that worked on this ended before it was done.", "Try again."
    ),
    OperationalError: _no_database,
    DataError: lambda _: _message(422, "bad-text", "A text has a character that cannot be kept.", "Type it anew."),
    UnicodeError: lambda _: _message(422, "bad-text", "A text has half a character.", "Type it anew."),
    HTTPException: _http,
}


def response_to(error: Exception) -> Response:
    status, message = told(error)
    return make_response(jsonify({"error": message}), status)


def refusal(status: int, code: str, text: str, way_out: str = "", **place: Any) -> Response:
    return make_response(jsonify({"error": _message(status, code, text, way_out, **place)[1]}), status)


def register(app: Flask) -> None:
    for kind in (*TOLD, Exception):
        app.register_error_handler(kind, response_to)
