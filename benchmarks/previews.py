"""Previews of a law on the demo parts while it is dragged, and what a hundred edits leave in memory."""

from __future__ import annotations

import json
import os
from pathlib import Path
from typing import Any

import numpy as np
from playwright.sync_api import Page

from benchmarks import watching
from benchmarks.timing import best, table, verdict
from leadline.core.solids.mesh_files import write_screen_glb
from leadline.kinds.sweep.model import SweepStep
from leadline.recipe.build import Memory, build
from leadline.recipe.part_file import part_from, read_part
from leadline.recipe.preview import preview_step

DEMO = Path(__file__).resolve().parents[1] / "demo"
CORE, SCREEN, GROWTH = 50.0, 100.0, 0.10
HEAVIEST = "rope-grip"
MOVES = 60
SHOWN = {"hexagon-bar": "bar", "kick-rail": "sweep", HEAVIEST: "rope"}  # at the screen: the part and its step


def report() -> str:
    rows = [_core(file.stem) for file in sorted(DEMO.glob("*.json"))]
    shown = [row for row in rows if row is not None]
    parts = [
        table(
            "Preview of a changed twist, in the core (ms, best of nine)", ["demo part", "reached", "target", ""], shown
        )
    ]
    if watching.DATABASE is not None:
        parts.append(_screen())
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
        shown = preview_step(part_from(document), sweep.id, memory, moving=True)
        if shown.mesh is not None:
            write_screen_glb(shown.mesh)

    seconds, _ = best(work)
    return [part.name, f"{seconds * 1000:.0f}", f"{CORE:.0f}", verdict(seconds * 1000 < CORE)]


def _screen() -> str:
    rows = []
    with watching.opened() as (server, browser):
        for part, step in SHOWN.items():
            page = watching.prepared(browser.new_page(viewport={"width": 1280, "height": 800}))
            rows += watching.rows(part.replace("-", " ").capitalize(), _dragged(page, server.url, part, step), SCREEN)
    return table("A law point dragged on the strip (ms)", ["what", "median", "p95", "target p95", ""], rows)


def _dragged(page: Page, url: str, part: str, step: str) -> list[watching.Sample]:
    document = json.loads((DEMO / f"{part}.json").read_text())
    own = next(s for s in document["steps"] if s["id"] == step)
    own["twist"] = {"by": "table", "points": [{"at": 0, "value": 0}, {"at": 60, "value": 10}]}
    view = page.request.post(f"{url}/api/parts/file", data=json.dumps(document)).json()
    page.goto(f"{url}/part/{view['id']}")
    page.locator(f'[data-step="{step}"] [data-testid=open-step]').click()
    mark = page.get_by_role("slider", name="twist mark 2")
    mark.wait_for()
    page.wait_for_timeout(4000)
    box = mark.bounding_box()
    assert box is not None
    x, y = box["x"] + 6, box["y"] + 6
    watching.begin(page, "[data-testid=law-marks]", 2)
    page.mouse.move(x, y)
    page.mouse.down()
    for i in range(MOVES):
        page.mouse.move(x, y + 10 * np.sin(i / 5))
        page.wait_for_timeout(120)
    page.mouse.up()
    return watching.samples(page)


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
    rows = [
        [
            f"{part_from(document).name}: resident memory after 100 edits",
            f"{sizes[19]:.0f} to {sizes[-1]:.0f} MB, {grown:+.0%}",
            f"+{GROWTH:.0%}",
            verdict(grown < GROWTH),
        ]
    ]
    return table("Memory of a worker", ["what", "reached", "target", ""], rows)
