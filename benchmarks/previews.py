"""Previews of a dragged law on the demo parts, and what a hundred edits leave in memory."""

from __future__ import annotations

import json
import os
from pathlib import Path
from typing import Any

import numpy as np
from playwright.sync_api import Page, sync_playwright
from tests.browser.conftest import CHROMIUM_FLAGS, LiveServer

from benchmarks.timing import best, table, verdict
from leadline.core.solids.mesh_files import NamedMesh, write_glb
from leadline.kinds.sweep.model import SweepStep
from leadline.recipe.build import Memory, build
from leadline.recipe.part_file import part_from, read_part
from leadline.recipe.preview import preview_step

DEMO = Path(__file__).resolve().parents[1] / "demo"
CORE, SCREEN, GROWTH = 50.0, 120.0, 0.10
HEAVIEST = "rope-grip"
MOVES = 40

# from the pointer event on a mark to two frames after its preview has come
WATCH = """() => {
  window.samples = [];
  let came = null;
  document.querySelector('[data-testid=law-marks]').addEventListener('pointermove', () => { came ??= performance.now(); }, true);
  const look = () => {
    const calls = performance.getEntriesByType('resource').filter((e) => e.name.endsWith('/api/preview'));
    const call = calls.at(-1);
    if (came !== null && call && call.startTime >= came && call.responseEnd > 0) {
      const start = came;
      came = null;
      requestAnimationFrame(() => requestAnimationFrame(() => window.samples.push(performance.now() - start)));
    }
    setTimeout(look, 1);
  };
  look();
}"""


def report() -> str:
    rows = [_core(file.stem) for file in sorted(DEMO.glob("*.json"))]
    shown = [row for row in rows if row is not None]
    parts = [table("Preview of a changed twist, in the core (ms, best of nine)", ["demo part", "reached", "target", ""], shown)]
    url = os.environ.get("LEADLINE_BENCH_DB_URL")
    if url is not None:
        parts.append(_screen(url))
    parts.append(_memory())
    return "\n".join(parts)


def _core(name: str) -> list[str] | None:
    part = read_part((DEMO / f"{name}.json").read_bytes())
    sweep = next((s for s in reversed(part.steps) if isinstance(s, SweepStep)), None)
    if sweep is None:
        return None
    memory, turn = Memory(), iter(range(10**6))

    document = part.model_dump(mode="json")
    own = next(s for s in document["steps"] if s["id"] == sweep.id)

    def work() -> None:
        own["twist"] = {"by": "table", "points": [{"at": 0, "value": 0}, {"at": 60, "value": 10 + next(turn) / 100}]}
        shown = preview_step(part_from(document), sweep.id, memory)
        if shown.mesh is not None:
            write_glb([NamedMesh("preview", shown.mesh)])

    seconds, _ = best(work)
    return [part.name, f"{seconds * 1000:.0f}", f"{CORE:.0f}", verdict(seconds * 1000 < CORE)]


def _screen(url: str) -> str:
    server = LiveServer(url)
    server.start()
    try:
        with sync_playwright() as playwright:
            browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=CHROMIUM_FLAGS)
            samples = _dragged(browser.new_page(viewport={"width": 1280, "height": 800}), server.url)
            browser.close()
    finally:
        server.stop()
    median = float(np.median(samples))
    rows = [["Hexagon bar, median", f"{median:.0f}", f"{SCREEN:.0f}", verdict(median < SCREEN)],
            ["Hexagon bar, p95", f"{np.percentile(samples, 95):.0f}", "", ""]]  # fmt: skip
    return table("A law point dragged on the strip, from pointer to picture (ms)", ["what", "reached", "target", ""], rows)


def _dragged(page: Page, url: str) -> list[float]:
    document = json.loads((DEMO / "hexagon-bar.json").read_text())
    view = page.request.post(f"{url}/api/parts/file", data=json.dumps(document)).json()
    page.goto(f"{url}/part/{view['id']}")
    page.locator('[data-step="bar"] [data-testid=open-step]').click()
    mark = page.get_by_role("slider", name="twist mark 1")
    mark.wait_for()
    page.wait_for_timeout(1500)
    box = mark.bounding_box()
    assert box is not None
    x, y = box["x"] + 6, box["y"] + 6
    page.evaluate(WATCH)
    page.mouse.move(x, y)
    page.mouse.down()
    for i in range(MOVES):
        page.mouse.move(x, y + 10 * np.sin(i / 5))
        page.wait_for_timeout(120)
    page.mouse.up()
    return list(page.evaluate("window.samples"))


def _resident() -> float:
    """Resident memory of this process, MB."""
    pages = int(Path("/proc/self/statm").read_text().split()[1])
    return pages * os.sysconf("SC_PAGE_SIZE") / 2**20


def _memory() -> str:
    """Resident memory of this process over a hundred edits of the heaviest demo part, after twenty to settle."""
    document: dict[str, Any] = json.loads((DEMO / f"{HEAVIEST}.json").read_text())
    memory = Memory()
    sizes = []
    for i in range(120):
        document["steps"][-1]["twist"] = {"by": "pitch", "pitch": 40 + i / 50}
        build(part_from(document), memory)
        sizes.append(_resident())
    grown = sizes[-1] / sizes[19] - 1
    rows = [[f"{part_from(document).name}: resident memory after 100 edits", f"{sizes[19]:.0f} to {sizes[-1]:.0f} MB, {grown:+.0%}", f"+{GROWTH:.0%}", verdict(grown < GROWTH)]]
    return table("Memory of a worker", ["what", "reached", "target", ""], rows)
