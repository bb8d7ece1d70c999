"""Dragging in the browser: from a pointer event to the drawn result, against the real server."""

from __future__ import annotations

import json
import os
from typing import Any

import numpy as np
from playwright.sync_api import Page, sync_playwright
from tests.browser.conftest import CHROMIUM_FLAGS, LiveServer
from tests.core.shapes import tangent_chain

from benchmarks.timing import table, verdict
from leadline.core.sketch.solver import build_system
from leadline.core.sketch.system import External

ROWS = 60
MOVES = 80
TARGET = 50.0

# notes when each pointer event came, when the drawing changed, and when that was on the screen
WATCH = """() => {
  window.samples = [];
  let came = null;
  document.querySelector('[data-testid=sketch-canvas]').addEventListener('pointermove', () => { came ??= performance.now(); }, true);
  new MutationObserver(() => {
    if (came === null) return;
    const start = came;
    came = null;
    const call = performance.getEntriesByType('resource').filter((e) => e.name.endsWith('/sketch/drag')).at(-1);
    const changed = performance.now();
    requestAnimationFrame(() => setTimeout(() => window.samples.push({
      all: performance.now() - start, draw: performance.now() - (call?.responseEnd ?? changed),
      call: call?.duration ?? 0, solve: call?.serverTiming?.[0]?.duration ?? 0,
    }), 0));
  }).observe(document.querySelector('[data-testid=sketch-canvas]'), { subtree: true, attributes: true, attributeFilter: ['d'] });
}"""


def report() -> str:
    url = os.environ.get("LEADLINE_BENCH_DB_URL")
    if url is None:
        return "## Dragging in the browser\n\nSkipped: no database (run ./lead bench).\n"
    server = LiveServer(url)
    server.start()
    try:
        with sync_playwright() as playwright:
            browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=CHROMIUM_FLAGS)
            rows, samples = _drag(browser.new_page(viewport={"width": 1280, "height": 800}), server.url)
            browser.close()
    finally:
        server.stop()
    network = [s["call"] - s["solve"] for s in samples]
    parts = [("pointer event to drawn result", [s["all"] for s in samples]), ("… of it network, JSON and checking", network),
             ("… of it solving", [s["solve"] for s in samples]), ("… of it drawing", [s["draw"] for s in samples])]  # fmt: skip
    lines = [[name, f"{np.median(v):.0f}", f"{np.percentile(v, 95):.0f}"] for name, v in parts]
    lines[0] += [f"{TARGET:.0f}", verdict(float(np.percentile(parts[0][1], 95)) < TARGET)]
    title = f"Dragging in the browser: a sketch of {rows} equations (ms)"
    return table(title, ["what", "median", "p95", "target p95", ""], [line + [""] * (5 - len(line)) for line in lines])


def _drag(page: Page, url: str) -> tuple[int, list[dict[str, Any]]]:
    draw = tangent_chain(ROWS // 2)
    sketch = draw.sketch()
    rows = len(build_system(sketch, External(draw.values)).equations.rows)
    step = {"id": "path", "name": "Path", "kind": "sketch", "plane": {"kind": "principal", "plane": "XY"}, "sketch": sketch.model_dump(mode="json")}
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
    page.evaluate(WATCH)
    page.mouse.move(x, y)
    page.mouse.down()
    for i in range(MOVES):
        page.mouse.move(x + 30 * np.sin(i / 9), y - 24 * (1 - np.cos(i / 9)))
        page.wait_for_timeout(70)
    page.mouse.up()
    return rows, page.evaluate("window.samples")
