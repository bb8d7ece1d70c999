"""Requests that take longest, allowed and refused ones: how long health and the drags of others wait while they run."""

from __future__ import annotations

import base64
import gzip
import hashlib
import json
import multiprocessing
import os
import random
import tempfile
import threading
import time
import urllib.error
import urllib.request
from collections.abc import Callable
from pathlib import Path
from typing import Any

import numpy as np

from benchmarks.timing import table, verdict
from tests.support.faults import Designer, House, house
from tests.support.follower import Follower
from tests.support.parts import bar, long_sketches

ROOT = Path(__file__).resolve().parents[1]
LEAST = 2.0  # seconds that each is sent again and again, so that there is something to measure
PERIOD = 1 / 30
TARGETS = {"health": 100, "drag": 300}  # ms, p95

Request = tuple[str, str, str, bytes]  # method, path, kind of content, body


def report() -> str:
    rows = []
    with tempfile.TemporaryDirectory() as folder, house(Path(folder)) as at:
        rows.append(_measured(at, "nothing", lambda: time.sleep(LEAST)))
        for title, sent in _worst(at.url):
            rows.append(_measured(at, title, sent))
    return table(
        "Held up by the worst requests (ms while each is sent for 2 s at least)",
        ["request", "answered, s each", "health: p95, longest", "", "drags of others: p95, longest", ""],
        rows,
    )


def _measured(at: House, title: str, sent: Callable[[], Any]) -> list[str]:
    """Send one in a process of its own, as long as it takes; beside it look at health and drag a sketch."""
    done = threading.Event()
    times: dict[str, list[float]] = {"health": [], "drag": []}
    beside = [
        threading.Thread(target=watch, args=(at, done, times[name]))
        for name, watch in (("health", _watch_health), ("drag", _drag))
    ]
    for thread in beside:
        thread.start()
    time.sleep(0.5)
    told = sent() or ""
    done.set()
    for thread in beside:
        thread.join()
    row = [title, told]
    for name, target in TARGETS.items():
        p95 = float(np.quantile(times[name], 0.95))
        row += [f"{p95:.0f}, {max(times[name]):.0f}", verdict(p95 < target)]
    return row


def _watch_health(at: House, done: threading.Event, times: list[float]) -> None:
    while not done.is_set():
        began = time.perf_counter()
        Designer(at.url).ask("GET", "/health", seconds=120)
        times.append((time.perf_counter() - began) * 1000)
        time.sleep(0.02)


def _drag(at: House, done: threading.Event, times: list[float]) -> None:
    document = json.loads((ROOT / "demo" / "kick-rail.json").read_text())
    sketch = next(s for s in document["steps"] if s["kind"] == "sketch")
    point = sketch["sketch"]["points"][-1]
    line = Follower(at.url, window="dragging")
    line.show(document)
    k = 0
    while not done.is_set():
        k += 1
        began = time.perf_counter()
        message, _ = line.ask(
            question="drag",
            step=sketch["id"],
            item=point["id"],
            to=[point["x"] + 10 * np.sin(k / 9), point["y"] + 10 * np.cos(k / 7)],
        )
        assert "answer" in message, message
        spent = time.perf_counter() - began
        times.append(spent * 1000)
        time.sleep(max(0.0, PERIOD - spent))
    line.client.close()


def _worst(url: str) -> list[tuple[str, Callable[[], str]]]:
    """The requests, by title. What they need is made first."""
    large = _large_document()
    view = json.loads(_send(url, ("POST", "/parts/file", "application/octet-stream", large))[1])
    part, revision = view["id"], view["revision"]
    document = json.loads(large)
    rows = [{"id": f"r{i}", "name": f"Row {i}", "cells": {"outside": i, "material": "steel"}} for i in range(2000)]
    shelf = next(s for s in json.loads(_send(url, ("GET", "/shelves", "", b""))[1])["shelves"] if s["sort"] == "tubes")
    table_of = f"/shelves/{shelf['id']}/csv"
    spread = {**document, "values": [{"name": f"v{i}", "value": i} for i in range(900)]}
    sketch = {"document": document, "step": "s0"}
    asked: list[tuple[str, Request]] = [
        (
            "a shelf of 2,000 rows as CSV, names without Latin letters",
            (
                "POST",
                table_of,
                JSON,
                _json(
                    {
                        "version": 99,
                        "csv": "name,outside\n"
                        + "".join(f"Я{'ы' * (i % 9)}{chr(0x430 + i % 32)} {i},{i}\n" for i in range(2000)),
                    }
                ),
            ),
        ),
        (
            "… of 16,000 rows",
            (
                "POST",
                table_of,
                JSON,
                _json({"version": 99, "csv": "name,outside\n" + "".join(f"Row {i},{i}\n" for i in range(16000))}),
            ),
        ),
        (
            "… of 2,000 rows as JSON",
            ("PUT", f"/shelves/{shelf['id']}", JSON, _json({"version": 99, "name": "Tubes", "rows": rows})),
        ),
        ("a part file of 4 MB with 100 files", ("POST", "/parts/file", OCTETS, _with_files())),
        (
            "a part file of 64 MB of lists",
            (
                "POST",
                "/parts/file",
                OCTETS,
                _json({"format": "leadline-part", "version": 1, "steps": [[[]] * 999] * 16000})[:64_000_000],
            ),
        ),
        (
            "… of 64 MB of numbers",
            ("POST", "/parts/file", OCTETS, b'{"format": "leadline-part", "steps": [' + b"1.5," * 15_900_000 + b"1]}"),
        ),
        ("… of 60 MB of brackets", ("POST", "/parts/file", OCTETS, b"[" * 60_000_000)),
        (f"a part file of {len(large) / 1e6:.1f} MB that is allowed", ("POST", "/parts/file", OCTETS, large)),
        (
            "the same saved",
            (
                "PUT",
                f"/parts/{part}/document",
                JSON,
                _json({"base": revision - 1, "label": "Again", "document": document}),
            ),
        ),
        (
            "… with 900 values",
            (
                "PUT",
                f"/parts/{part}/document",
                JSON,
                _json({"base": revision - 1, "label": "Again", "document": spread}),
            ),
        ),
        ("… opened", ("GET", f"/parts/{part}", "", b"")),
        ("… as a file", ("GET", f"/parts/{part}/part.json", "", b"")),
        ("… kept to be placed", ("POST", f"/parts/{part}/kept", JSON, b"{}")),
        ("… its build asked for", ("GET", f"/parts/{part}/build", "", b"")),
        ("… a sketch of it solved", ("POST", "/sketch/solve", JSON, _json(sketch))),
        ("… the edges of its bodies", ("POST", "/edges", JSON, _json({"document": document}))),
        ("a file of 30 MB to take bodies from", ("POST", "/files", OCTETS, random.Random(1).randbytes(29_900_000))),
        (
            "an SVG file with a long transform",
            ("POST", "/sketch/read-svg", JSON, _svg(f'<path transform="{"rotate(" * 500_000}" d="M0 0L1 1"/>')),
        ),
        (
            "an SVG file of 2,400 lines",
            ("POST", "/sketch/read-svg", JSON, _svg("".join(f'<path d="M{i} 0L{i} 1"/>' for i in range(2400)))),
        ),
        ("1 MB of points as CSV", ("POST", "/points/read-csv", JSON, _json({"csv": "1,2,3\n" * 170_000}))),
        (
            "JSON of 1 MB where little is asked",
            ("POST", f"/parts/{part}/ask/s0/least", JSON, _json({"given": {"a": [[]] * 300_000}})),
        ),
    ]
    found: list[tuple[str, Callable[[], str]]] = [
        (title, lambda r=request: _again_and_again(url, r)) for title, request in asked
    ]
    found.append(("the same document shown on a line, and a drag in it", lambda: _by_line(url, large, {})))
    found.append(
        ("… a drag that brings all its steps along", lambda: _by_line(url, large, {"changed": document["steps"]}))
    )
    return found


JSON, OCTETS = "application/json", "application/octet-stream"


def _json(body: object) -> bytes:
    return json.dumps(body).encode()


def _svg(inner: str) -> bytes:
    return _json({"svg": f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 9 9">{inner}</svg>'})


def _large_document() -> bytes:
    """An allowed part that is about 7.6 MB long when it is written out with every field."""
    return _json({**bar(), "name": "Large", "steps": long_sketches(20)})


def _with_files() -> bytes:
    files = {}
    for i in range(100):
        data = bytes([i]) * 29_000_000
        files[hashlib.sha256(data).hexdigest()] = base64.b64encode(gzip.compress(data, 9)).decode()
    return _json({**bar(), "files": files})


def _send(url: str, request: Request) -> tuple[int, bytes]:
    """By a window of its own."""
    method, path, kind, body = request
    headers = {"Lead-Window": f"window-{os.getpid()}"} | ({"Content-Type": kind} if kind else {})
    asked = urllib.request.Request(f"{url}/api{path}", method=method, data=body or None, headers=headers)
    try:
        with urllib.request.urlopen(asked, timeout=300) as answer:
            return answer.status, answer.read()
    except urllib.error.HTTPError as refused:
        return refused.code, refused.read()


def _again_and_again(url: str, request: Request) -> str:
    """Send it from a process of its own for a while; what came of it and how long each took."""
    with multiprocessing.get_context("spawn").Pool(1) as pool:
        pool.apply(_send, (url, ("GET", "/health", "", b"")))  # so that the process is there
        end, count, began = time.monotonic() + LEAST, 0, time.monotonic()
        status = 0
        while count == 0 or time.monotonic() < end:
            status, _ = pool.apply(_send, (url, request))
            count += 1
        return f"{status}, {(time.monotonic() - began) / count:.2f}"


def _by_line(url: str, document: bytes, more: dict[str, Any]) -> str:
    with multiprocessing.get_context("spawn").Pool(1) as pool:
        pool.apply(_send, (url, ("GET", "/health", "", b"")))
        began = time.monotonic()
        said = pool.apply(_ask_by_line, (url, document, more))
        return f"{said}, {time.monotonic() - began:.2f}"


def _ask_by_line(url: str, document: bytes, more: dict[str, Any]) -> str:
    line = Follower(url, window="large")
    try:
        for _ in range(3):
            line.client.send('{"part": ' + document.decode() + "}")
            line.client.send(
                json.dumps(
                    {
                        "ask": 1,
                        "slot": "a",
                        "given": {"question": "drag", "step": "s0", "item": "p5", "to": [1, 2]},
                        **more,
                    }
                )
            )
            message, _ = line.hear()
        return "answered" if "answer" in message else str(message.get("error", {}).get("code"))
    finally:
        line.client.close()
