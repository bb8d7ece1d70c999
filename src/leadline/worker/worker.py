"""One process that computes, as whoever has it on lease sees it: it runs a request, is watched, and killed when it has
to be.

Processes are forked from one that has loaded the kernel once, so that a new one is there at once.
"""

from __future__ import annotations

import importlib
import multiprocessing
import threading
import time
from collections.abc import Callable
from multiprocessing.connection import Connection
from pathlib import Path
from typing import Any, Protocol

from leadline.worker.channel import Channel
from leadline.worker.flag import Flag

GRACE = 1.5  # seconds in which what is cancelled may end by itself
START_LIMIT = 60.0
SEND_LIMIT = 10.0  # seconds in which a process takes a message
PAUSED_LIMIT = 2.0  # seconds that a process may be stopped by a signal before it is given up

_CONTEXT = multiprocessing.get_context("forkserver")
_preloaded = ["leadline.worker.process", "leadline.worker.editor"]
_CONTEXT.set_forkserver_preload(_preloaded)


def preload(module: str) -> None:
    """Have a module loaded in the process that the others are forked from.

    To be called before the first of them is started.
    """
    if module not in _preloaded:
        _preloaded.append(module)
        _CONTEXT.set_forkserver_preload(_preloaded)


class BlobStore(Protocol):
    def get(self, key: str) -> bytes | None: ...
    def put(self, key: str, data: bytes) -> None: ...


class WorkerDied(Exception):  # noqa: N818
    """The process ended, or was ended, while it worked: ``reason`` is "crash", "time", or "paused" when it was
    stopped.
    """

    def __init__(self, reason: str, step: str | None) -> None:
        super().__init__(reason)
        self.reason, self.step = reason, step


class Cancelled(Exception):  # noqa: N818
    """The work was cancelled by the one who asked for it."""


class WorkFailed(Exception):  # noqa: N818
    """The worker answered with a message instead of a result."""

    def __init__(self, message: dict[str, Any]) -> None:
        super().__init__(message["text"])
        self.message = message


def run_entry(entry: str, pipe: Connection, stop: Any) -> None:
    """Start of a worker process: import and call ``module:function``."""
    module, _, function = entry.partition(":")
    getattr(importlib.import_module(module), function)(pipe, stop)


class Worker:
    """One process and the channel to it, for the one who has it on lease.

    ``known`` are the parts that it worked on lately, the last one at the end.
    """

    def __init__(self, entry: str) -> None:
        self.channel = Channel()
        self.stop = Flag(_CONTEXT)
        self.known: dict[str, None] = {}
        self._step: str | None = None
        self.process = _CONTEXT.Process(target=run_entry, args=(entry, self.channel.theirs, self.stop), daemon=True)
        self.process.start()
        self.channel.given_away()
        self.ready = False
        self.requests = self.taken = 0  # of the latter the last one's number
        self.told = False  # of the request that is on lease the result is told: it only draws a picture still

    def run(
        self,
        request: Any,
        store: BlobStore,
        on_event: Callable[[dict[str, Any]], None],
        limit: float,
        cancelled: threading.Event | None = None,
        on_result: Callable[[Any], None] | None = None,
        gives_way: Callable[[], bool] = lambda: False,
    ) -> Any:
        """Run one request to its very end, and return its result.

        ``on_result`` is told the result before what still follows it (the picture of a build, as an event).
        ``cancelled`` belongs to this request alone, so that it counts whenever it is set, even before the process has
        begun: then the process is asked to stop, and killed when it does not within a moment. After any error but
        ``WorkFailed`` and an orderly ``Cancelled`` the process is gone, so that no answer can be taken for that of
        another request. When it is to give way it is cancelled.

        Raises:
            WorkerDied: it crashed, was stopped, or took longer than ``limit`` seconds.
            Cancelled: ``cancelled`` was set, or it had to give way, before there was a result.
            WorkFailed: the worker refused, with a message.
        """
        self.requests += 1
        try:
            return self._run(
                self.requests, request, store, on_event, limit, cancelled or threading.Event(), on_result, gives_way
            )
        except (WorkFailed, Cancelled):
            raise
        except (EOFError, OSError) as error:
            self.kill()
            raise WorkerDied("crash", self._step) from error
        except BaseException:
            self.kill()
            raise

    def _run(
        self,
        number: int,
        request: Any,
        store: BlobStore,
        on_event: Callable[[dict[str, Any]], None],
        limit: float,
        cancelled: threading.Event,
        on_result: Callable[[Any], None] | None,
        gives_way: Callable[[], bool],
    ) -> Any:
        self._step = None
        self.stop.clear()
        self._await_ready(cancelled)
        self.channel.send(("run", number, request), SEND_LIMIT)
        watch = _Watch(self, limit)
        outcome: tuple[str, Any] | None = None  # "done", "stopped" or "problem", with the result or the message
        while True:
            if cancelled.is_set() or (outcome is None and gives_way()):
                watch.asked_to_stop()
            watch.look(outcome is not None)
            message = self.channel.receive(0.05)
            if message is None:
                continue
            kind, of, *rest = message
            if of != number:
                raise OSError(f"an answer to request {of} instead of {number}")
            if kind == "taken":
                self.taken = number
            elif kind == "event":
                if rest[0].get("state") == "building":
                    self._step = rest[0].get("id")
                on_event(rest[0])
            elif kind == "get":
                self.channel.send(("blob", number, store.get(rest[0])), SEND_LIMIT)
            elif kind == "put":
                store.put(*rest)
            elif kind == "idle":
                assert outcome is not None
                if outcome[0] == "done":
                    return outcome[1]
                raise Cancelled if outcome[0] == "stopped" else WorkFailed(outcome[1])
            elif outcome is None:  # what fails after the result, as its picture may, does not undo it
                outcome = kind, rest[0] if rest else None
                self.told = True
                if kind == "done" and on_result is not None:
                    on_result(rest[0])

    def _await_ready(self, cancelled: threading.Event) -> None:
        end = time.monotonic() + START_LIMIT
        while not self.ready:
            if cancelled.is_set():
                raise Cancelled
            if time.monotonic() > end:
                raise WorkerDied("time", None)
            self.ready = self.channel.receive(0.05) is not None

    @property
    def part(self) -> str | None:
        """What it worked on last, or works on now."""
        return next(reversed(self.known), None)

    @property
    def alive(self) -> bool:
        return self.process.is_alive()

    @property
    def paused(self) -> bool:
        """Whether a signal has stopped the process, so that it can neither work nor say so."""
        try:
            return Path(f"/proc/{self.process.pid}/stat").read_text().rpartition(")")[2].split()[0] in "Tt"
        except OSError:
            return False

    def kill(self) -> None:
        self.process.kill()
        self.process.join(5)
        self.channel.close()


class _Watch:
    """Looks after a request that runs: its time limit, its cancelling, and whether its process is stopped."""

    def __init__(self, worker: Worker, limit: float) -> None:
        self.worker = worker
        self.end = time.monotonic() + limit
        self.stop_by: float | None = None
        self.next_look = time.monotonic() + PAUSED_LIMIT / 2
        self.paused_since: float | None = None

    def asked_to_stop(self) -> None:
        if self.stop_by is None:
            self.worker.stop.set()
            self.stop_by = time.monotonic() + GRACE

    def look(self, has_result: bool) -> None:
        """Raises Cancelled or WorkerDied when the process has to be given up."""
        now = time.monotonic()
        if self.stop_by is not None and now > self.stop_by:
            if has_result:
                raise WorkerDied("time", None)
            self.worker.kill()
            raise Cancelled
        if now > self.end:
            raise WorkerDied("time", self.worker._step)
        if now > self.next_look:
            self.next_look = now + PAUSED_LIMIT / 2
            self.paused_since = (self.paused_since or now) if self.worker.paused else None
            if self.paused_since is not None and now - self.paused_since >= PAUSED_LIMIT:
                raise WorkerDied("paused", self.worker._step)
