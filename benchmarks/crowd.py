"""Many windows at once: idle lines, health while they are open, designers who drag while others build."""

from __future__ import annotations

import json
import tempfile
import threading
import time
from pathlib import Path

import numpy as np

from benchmarks.timing import table, verdict
from ops.processes import family
from ops.server import memory_of
from tests.support.faults import Designer, House, house
from tests.support.follower import Follower, idle_lines

WINDOWS, DRAGGING, BUILDING = 300, 10, 3
SECONDS = 15.0
PERIOD = 1 / 30  # of a pointer's moves
ROOT = Path(__file__).resolve().parents[1]


def report() -> str:
    with tempfile.TemporaryDirectory() as folder, house(Path(folder)) as at:
        part = Designer(at.url)
        part.open()
        part.wait_built()
        alone = _health(at)
        with idle_lines(at.url, part.id, WINDOWS):
            opened = part.ask("GET", "/status")["open_editors"]
            crowded = _health(at)
            drags, built = _drag_and_build(at)
        memory = sum(memory_of(pid) for pid in family(at.keeper.server.process.pid))
        processes = len(family(at.keeper.server.process.pid))
    p95 = float(np.quantile(drags, 0.95))
    rows = [
        ["health, no window open: median, p95 (ms)", _pair(alone), "", ""],
        [
            f"health, {opened} windows open: median, p95 (ms)",
            _pair(crowded),
            "50",
            verdict(float(np.quantile(crowded, 0.95)) < 50),
        ],
        [
            f"{DRAGGING} designers drag a sketch, {BUILDING} build, with these windows open: drag, median and p95 (ms)",
            _pair(drags),
            "100",
            verdict(p95 < 100),
        ],
        ["… drags in all, parts built meanwhile", f"{len(drags)}, {built}", "", ""],
        [
            "… memory of all processes of the server (MB), and how many they are",
            f"{memory:.0f}, {processes}",
            "6000",
            verdict(memory < 6000),
        ],
    ]
    return table("Many at once", ["what", "reached", "target", ""], rows)


def _pair(times: list[float]) -> str:
    return f"{np.median(times):.1f}, {np.quantile(times, 0.95):.1f}"


def _health(at: House, count: int = 200) -> list[float]:
    times = []
    for _ in range(count):
        began = time.perf_counter()
        Designer(at.url).ask("GET", "/health")
        times.append((time.perf_counter() - began) * 1000)
    return times


def _drag_and_build(at: House) -> tuple[list[float], int]:
    document = json.loads((ROOT / "demo" / "kick-rail.json").read_text())
    sketch = next(s for s in document["steps"] if s["kind"] == "sketch")
    point = sketch["sketch"]["points"][-1]
    end = time.monotonic() + SECONDS
    times: list[float] = []
    built = [0]

    def drag(number: int) -> None:
        line = Follower(at.url, window=f"window-{number}")
        line.show(document)
        k = 0
        while time.monotonic() < end:
            k += 1
            to = [point["x"] + 10 * np.sin(k / 9 + number), point["y"] + 10 * np.cos(k / 7 + number)]
            began = time.perf_counter()
            message, _ = line.ask(question="drag", step=sketch["id"], item=point["id"], to=to)
            assert "answer" in message, message
            spent = time.perf_counter() - began
            times.append(spent * 1000)
            time.sleep(max(0.0, PERIOD - spent))

    def build(number: int) -> None:
        designer = Designer(at.url)
        designer.open()
        k = number * 1000
        while time.monotonic() < end:
            k += 1
            designer.change(k)
            designer.wait_built()
            built[0] += 1

    threads = [threading.Thread(target=drag, args=(n,)) for n in range(DRAGGING)] + [
        threading.Thread(target=build, args=(n,)) for n in range(BUILDING)
    ]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    return times, built[0]
