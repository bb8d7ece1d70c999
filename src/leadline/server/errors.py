"""Every failure as JSON: what, where, and the way out."""

from __future__ import annotations

import logging
from typing import Any

from flask import Flask, Response, jsonify, make_response
from pydantic import ValidationError
from sqlalchemy.exc import OperationalError
from werkzeug.exceptions import HTTPException

from leadline.core.problems import Message, Problem
from leadline.recipe.part_file import MAX_BYTES, describe_invalid, field_of
from leadline.server.parts import NotFound, Overtaken
from leadline.worker.pool import WorkerDied, WorkFailed

log = logging.getLogger(__name__)


def refusal(status: int, code: str, text: str, way_out: str = "", **place: Any) -> Response:
    message = Message("error", code, text, way_out, place)
    return make_response(jsonify({"error": message.as_dict()}), status)


def invalid(error: ValidationError) -> Response:
    """A request whose body does not fit its model."""
    return refusal(422, "bad-field", *describe_invalid(error), field=field_of(error))


def register(app: Flask) -> None:
    @app.errorhandler(Problem)
    def problem(error: Problem) -> Response:
        status = 413 if error.message.code == "too-large" else 422
        return make_response(jsonify({"error": error.message.as_dict(error.unit)}), status)

    app.register_error_handler(ValidationError, invalid)

    @app.errorhandler(NotFound)
    def not_found(_: NotFound) -> Response:
        return refusal(404, "no-part", "There is no such part.", "Go back to the part list.")

    @app.errorhandler(Overtaken)
    def overtaken(error: Overtaken) -> Response:
        return refusal(
            409, "overtaken", "This part was changed in another window since.",
            "Take over the newer state, then make your change again.", head=error.head,
        )  # fmt: skip

    @app.errorhandler(RecursionError)
    def too_deep(_: RecursionError) -> Response:
        return refusal(422, "too-deep", "Lists and fields stand too deep in each other.", "Open a part file that was saved here.")

    @app.errorhandler(WorkFailed)
    def work_failed(error: WorkFailed) -> Response:
        return make_response(jsonify({"error": error.message}), 422)

    @app.errorhandler(WorkerDied)
    def worker_died(_: WorkerDied) -> Response:
        return refusal(503, "worker", "The geometry kernel stopped while it worked.", "Try again.")

    @app.errorhandler(OperationalError)
    def no_database(error: OperationalError) -> Response:
        log.error("database: %s", error)
        return refusal(503, "database", "The database does not answer.", "Start it with ./lead up.")

    @app.errorhandler(HTTPException)
    def http(error: HTTPException) -> Response:
        code = error.code or 500
        text = {404: "There is nothing at this address.", 413: "The request is too large."}.get(code, error.name)
        way_out = {413: f"A part file is at most {MAX_BYTES / 1e6:.0f} MB."}.get(code, "")
        return refusal(code, "http", text, way_out)

    @app.errorhandler(Exception)
    def unexpected(error: Exception) -> Response:
        log.exception("unexpected", exc_info=error)
        return refusal(
            500, "unexpected", "The server met an error of its own.", "It is in the server's log; try again."
        )
