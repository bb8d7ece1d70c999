"""Parts that are placed in others, at the server."""

from __future__ import annotations

import time

import pytest

from tests.support.client import opened


def placing(client, view, name="one", **more):
    """A step that places a part as it is now."""
    answer = client.post(f"/api/parts/{view['id']}/kept")
    assert answer.status_code == 201
    kept = answer.get_json()
    return {
        "kind": "placed",
        "id": name,
        "name": name,
        "part": view["id"],
        "file": kept["digest"],
        "title": kept["title"],
        **more,
    }


def holder(client, *steps, name="Whole"):
    return opened(client, {"format": "leadline-part", "version": 1, "name": name, "units": "mm", "steps": list(steps)})


def wait_for(get, wanted, seconds=240):
    end = time.monotonic() + seconds
    while (found := get()) != pytest.approx(wanted):
        assert time.monotonic() < end, found
        time.sleep(0.1)
