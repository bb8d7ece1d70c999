"""What is short beside what is long: an easy part beside heavy ones, drags beside slow asks, and the memory of many
large windows.
"""

from __future__ import annotations

import json
import multiprocessing
import tempfile
import threading
import time
from pathlib import Path

import numpy as np

from benchmarks.timing import table, verdict
from benchmarks.worst import JSON, _drag, _large_document, _send
from ops.server import memory_of
from tests.support.faults import Designer, House, house
from tests.support.follower import Follower
from tests.support.parts import bar

ROOT = Path(__file__).resolve().parents[1]
HEAVY = 6
WINDOWS = 15


def report() -> str:
    with tempfile.TemporaryDirectory() as folder, house(Path(folder)) as at:
        alone = _easy(at, 1)
        heavy = [_heavy(at, k) for k in range(HEAVY)]
        waits = [_easy(at, 2 + k) for k in range(5)]
        still = sum(not _built(d) for d in heavy)
        for designer in heavy:
            designer.wait_built()
        drags = _drags_beside_slow_asks(at)
        memory = _memory(at)
    p95 = float(np.quantile(drags, 0.95))
    rows = [
        ["an easy part, built alone (s)", f"{alone:.2f}", "", ""],
        [
            (
                f"… five of them one after the other beside {HEAVY} heavy ones: median, longest (s); heavy ones "
                "that were not built yet"
            ),
            f"{np.median(waits):.2f}, {max(waits):.2f}; {still}",
            "20",
            verdict(max(waits) < 20),
        ],
        [
            "drags beside slow asks of two windows: p95, longest (ms)",
            f"{p95:.0f}, {max(drags):.0f}",
            "300",
            verdict(p95 < 300),
        ],
        [
            f"memory that {WINDOWS} windows with a document of 6 MB each add to the web process (MB)",
            f"{memory:.0f}",
            "150",
            verdict(memory < 150),
        ],
    ]
    return table("What is short beside what is long", ["what", "reached", "target", ""], rows)


def _easy(at: House, number: int) -> float:
    designer = Designer(at.url, document=bar(100 + number))
    began = time.monotonic()
    designer.open()
    while not _built(designer):
        time.sleep(0.02)
    return time.monotonic() - began


def _built(designer: Designer) -> bool:
    return bool(designer.ask("GET", f"/parts/{designer.id}/build")["state"] == "done")


def _heavy(at: House, number: int) -> Designer:
    """A demo part that takes long, each time another one: nothing of it is kept."""
    document = json.loads((ROOT / "demo" / "frost-coil.json").read_text())
    document["name"] = f"Heavy {number}"
    for step in document["steps"]:
        if step["kind"] == "sketch":
            for point in step["sketch"]["points"]:
                point["x"] *= 1 + number / 1e4
    designer = Designer(at.url, document=document)
    designer.open()
    return designer


def _drags_beside_slow_asks(at: House) -> list[float]:
    done = threading.Event()
    times: list[float] = []
    body = b'{"document": %b}' % _large_document()

    def ask_slowly() -> None:
        with multiprocessing.get_context("spawn").Pool(1) as pool:  # outside this process, which measures
            while not done.is_set():
                pool.apply(_send, (at.url, ("POST", "/edges", JSON, body)))

    slow = [threading.Thread(target=ask_slowly) for _ in range(2)]
    for thread in slow:
        thread.start()
    time.sleep(10)  # they take a while to begin
    drag = threading.Thread(target=_drag, args=(at, done, times))
    drag.start()
    time.sleep(15)
    done.set()
    for thread in [drag, *slow]:
        thread.join()
    return times


def _memory(at: House) -> float:
    (web,) = at.pids("web process")
    before = memory_of(web)
    said = '{"part": ' + _large_document().decode() + "}"
    lines = [Follower(at.url, window=f"large-{k}") for k in range(WINDOWS)]
    for line in lines:
        line.client.send(said)
        line.ask(question="drag", step="s0", item="p5", to=[1, 2])
    found = memory_of(web) - before
    for line in lines:
        line.client.close()
    return found
