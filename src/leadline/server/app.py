"""The application: services, routes, the built front end."""

from __future__ import annotations

import atexit
import contextlib
from typing import Any

from flask import Blueprint, Response, send_from_directory
from flask_openapi3.models.info import Info
from flask_openapi3.openapi import OpenAPI
from pydantic import BaseModel, TypeAdapter
from sqlalchemy.exc import IntegrityError

from leadline import __version__
from leadline.limits import PART_FILE_BYTES
from leadline.recipe.part import Part
from leadline.recipe.part_file import read_part
from leadline.recipe.shown import Moved
from leadline.server import errors
from leadline.server.api import files, line, parts, shelves, work
from leadline.server.api.models import PartSummary
from leadline.server.following import follows_any, with_ids
from leadline.server.guard import guard
from leadline.server.jobs import Jobs
from leadline.server.passing import pass_on_what_is_done_elsewhere
from leadline.server.services import Services
from leadline.server.settings import Settings


def create_app(settings: Settings) -> OpenAPI:
    """The Flask application with its database migrated and its workers warm."""
    app = bare_app()
    pass_on_what_is_done_elsewhere(app)
    services = Services.start(settings)
    app.extensions["leadline"] = services
    atexit.register(services.close)
    line.register(app)
    _serve_front_end(app, settings)
    return app


def load_demo_parts(app: OpenAPI) -> None:
    """Put the demo parts that are missing into the database, and jobs to build them."""
    services: Services = app.extensions["leadline"]
    known = services.parts.demo_ids()
    fresh = []
    parts = {
        file.stem: read_part(file.read_bytes()) for file in sorted(services.settings.demo.glob("*.json"), reverse=True)
    }
    for name, part in sorted(
        parts.items(), key=lambda entry: follows_any(entry[1])
    ):  # those that others follow come first
        if name not in known:
            with contextlib.suppress(IntegrityError):  # another server has put it in just now
                made = services.parts.create(services.files.taken_from(with_ids(part, known)), "Demo part", name)
                known[name] = made.id
                fresh.append(made.id)
    if fresh:
        Jobs(services.database.dsn).build(fresh[::-1])


def bare_app() -> OpenAPI:
    """Routes and error handling only: enough for the OpenAPI document."""
    app = OpenAPI(
        __name__,
        info=Info(title="Lead Line", version=__version__),
        validation_error_callback=errors.response_to,
        doc_ui=False,
        static_folder=None,
    )
    app.config["MAX_CONTENT_LENGTH"] = PART_FILE_BYTES + 100_000
    app.json.sort_keys = False  # type: ignore[attr-defined]  # of Flask's own provider, typed as its base
    errors.register(app)
    guard(app)
    app.register_api(files.api)
    app.register_api(parts.api)
    app.register_api(shelves.api)
    app.register_api(work.api)
    return app


def openapi_document() -> dict[str, object]:
    """The OpenAPI document that the browser's types are generated from."""
    app = bare_app()
    document = dict(app.api_doc)
    further = {
        "PartSummary": PartSummary.model_json_schema(),
        "Moved": TypeAdapter(Moved).json_schema(),
    }  # the latter goes by the line
    document["components"]["schemas"] |= further
    _type_maps(document["components"]["schemas"]["Part"]["properties"], Part)
    return document


def _type_maps(properties: dict[str, Any], model: type[BaseModel]) -> None:
    """Say what the values of maps are whose keys have a pattern: the package leaves patterns out, and what makes the
    browser's types would take such maps for empty.
    """
    for name, field in model.model_json_schema()["properties"].items():
        for values in field.get("patternProperties", {}).values():
            properties[name]["additionalProperties"] = values


def _serve_front_end(app: OpenAPI, settings: Settings) -> None:
    pages = Blueprint("pages", __name__)

    @pages.get("/")
    @pages.get("/shelf")
    @pages.get("/part/<path:rest>")
    def index(rest: str = "") -> Response:  # noqa: ARG001
        response = send_from_directory(settings.web, "index.html")
        response.headers["Cache-Control"] = "no-cache"
        return response

    @pages.get("/assets/<path:name>")
    def asset(name: str) -> Response:
        return send_from_directory(settings.web / "assets", name, max_age=31536000)

    app.register_blueprint(pages)
