"""Worker entries that misbehave on purpose."""

from __future__ import annotations

import json
import os
import signal
import time
from multiprocessing.connection import Connection
from typing import Any

from leadline.limits import GB
from leadline.recipe.build import Stopped
from leadline.worker import process
from leadline.worker.link import Link, serve
from leadline.worker.requests import Request


def crash_on_request(pipe: Connection, stop: Any) -> None:
    """Builds like the real one, but dies by a signal in the sweep of a part called "crash", and hangs for "hang"."""
    answer = process.answer

    def unruly(request: Request[Any], memory: Any, link: Link, own_stop: Any) -> None:
        name = json.loads(request.part)["name"]
        if name in ("crash", "hang"):
            link.send("event", {"event": "step", "id": "sweep", "state": "building"})
            if name == "crash":
                os.kill(os.getpid(), signal.SIGSEGV)
            time.sleep(600)
        answer(request, memory, link, own_stop)

    process.answer = unruly  # type: ignore[assignment]
    process.main(pipe, stop)


def draw_for_ever(pipe: Connection, stop: Any) -> None:
    """Builds like the real one, but of a part called "picture" it goes on drawing until it is to stop."""

    def slow(_: Any, stopped: Any) -> bytes | None:
        while not stopped():
            time.sleep(0.01)
        return None

    answer, drawn = process.answer, process._drawn

    def patched(request: Request[Any], memory: Any, link: Link, own_stop: Any) -> None:
        process._drawn = slow if json.loads(request.part)["name"] == "picture" else drawn  # type: ignore[assignment]
        answer(request, memory, link, own_stop)

    process.answer = patched  # type: ignore[assignment]
    process.main(pipe, stop)


def look_for_ever(pipe: Connection, stop: Any) -> None:
    """Does nothing but look whether it is to stop."""
    pipe.send(("ready",))
    while True:
        stop.is_set()


def sleep_as_asked(pipe: Connection, stop: Any) -> None:
    """Sleeps as many seconds as it is asked for, unless it is to stop."""

    def work(_: Any, link: Link, seconds: float) -> None:
        end = time.monotonic() + seconds
        while time.monotonic() < end:
            if stop.is_set():
                raise Stopped
            time.sleep(0.01)
        link.send("done", seconds)

    serve(pipe, 4 * GB, work)
