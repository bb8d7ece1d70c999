"""The real application on a real database, with real workers (that misbehave when a part's name asks)."""

from __future__ import annotations

import time
from collections.abc import Callable, Iterator
from typing import Any

import pytest
from flask.testing import FlaskClient
from flask_openapi3 import OpenAPI

from leadline.server.app import create_app
from leadline.server.settings import Settings

Build = dict[str, Any]


@pytest.fixture(scope="session")
def app(database_url: str) -> Iterator[OpenAPI]:
    settings = Settings(
        database_url, worker_entry="tests.support.entries:crash_on_request", build_seconds=120.0, builders=2
    )
    app = create_app(settings)
    yield app
    app.extensions["leadline"].close()


@pytest.fixture
def client(app: OpenAPI) -> FlaskClient:
    return app.test_client()


@pytest.fixture
def built(client: FlaskClient) -> Callable[..., Build]:
    """Wait until the newest build of a part has ended."""

    def wait(part_id: str, revision: int | None = None, seconds: float = 240.0) -> Build:
        end = time.monotonic() + seconds
        while time.monotonic() < end:
            build = client.get(f"/api/parts/{part_id}/build").get_json()
            if build["state"] in ("done", "failed") and (revision is None or build["revision"] == revision):
                return build
            time.sleep(0.05)
        raise AssertionError(f"the build did not end: {build['state']}")

    return wait
