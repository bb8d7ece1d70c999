"""Dragging in the browser: from a pointer event to the drawn result, against the real server."""

from __future__ import annotations

import json

import numpy as np
from playwright.sync_api import Page

from benchmarks import watching
from benchmarks.timing import table
from leadline.core.sketch.solver import build_system
from leadline.core.sketch.system import External
from tests.support.shapes import tangent_chain

TARGETS = {60: 50.0, 300: 80.0}
MOVES = 80


def report() -> str:
    if watching.DATABASE is None:
        return "## Dragging in the browser\n\nSkipped: no database (run ./lead bench).\n"
    lines = []
    with watching.opened() as (server, browser):
        for size, target in TARGETS.items():
            rows, samples = _drag(
                watching.prepared(browser.new_page(viewport={"width": 1280, "height": 800})), server.url, size
            )
            lines += watching.rows(f"{rows} equations", samples, target)
    return table("Dragging a sketch in the browser (ms)", ["what", "median", "p95", "target p95", ""], lines)


def _drag(page: Page, url: str, size: int) -> tuple[int, list[watching.Sample]]:
    draw = tangent_chain(size // 2)
    sketch = draw.sketch()
    rows = len(build_system(sketch, External(draw.values)).equations.rows)
    step = {
        "id": "path",
        "name": "Path",
        "kind": "sketch",
        "plane": {"kind": "principal", "plane": "XY"},
        "sketch": sketch.model_dump(mode="json"),
    }
    document = {"format": "leadline-part", "version": 1, "name": "Chain", "steps": [step]}
    part = page.request.post(f"{url}/api/parts/file", data=json.dumps(document)).json()
    page.goto(f"{url}/part/{part['id']}")
    page.locator('[data-step="path"] [data-testid=open-step]').dblclick()
    page.get_by_test_id("freedom").wait_for()
    page.wait_for_timeout(1500)
    ends = [p.id for p in sketch.points if not p.id.startswith("c")]
    box = page.locator(f'[data-point="{ends[-1]}"]').bounding_box()
    assert box is not None
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    watching.begin(page, "[data-testid=sketch-canvas]", 1)
    page.mouse.move(x, y)
    page.mouse.down()
    for i in range(MOVES):
        page.mouse.move(x + 30 * np.sin(i / 9), y - 24 * (1 - np.cos(i / 9)))
        page.wait_for_timeout(70)
    page.mouse.up()
    return rows, watching.samples(page)
