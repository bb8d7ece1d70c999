"""Warm workers, one per open part, with a time limit; a dead one is replaced."""

from __future__ import annotations

import importlib
import multiprocessing
import threading
import time
from collections import OrderedDict
from collections.abc import Callable
from multiprocessing.connection import Connection
from typing import Any, Protocol

ENTRY = "leadline.worker.process:main"
GRACE = 1.5
START_LIMIT = 60.0


class BlobStore(Protocol):
    def get(self, key: str) -> bytes | None: ...
    def put(self, key: str, data: bytes) -> None: ...


class WorkerDied(Exception):  # noqa: N818
    """The process ended, or was ended, while it worked. ``reason`` is "crash" or "time"."""

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
    """One process and its pipe. Not for two threads at once: hold ``lock``."""

    def __init__(self, entry: str) -> None:
        context = multiprocessing.get_context("spawn")
        self.pipe, theirs = context.Pipe()
        self.stop = context.Event()
        self.lock = threading.Lock()
        self.process = context.Process(target=run_entry, args=(entry, theirs, self.stop), daemon=True)
        self.process.start()
        theirs.close()
        self.ready = False

    def run(
        self,
        request: dict[str, Any],
        store: BlobStore,
        on_event: Callable[[dict[str, Any]], None],
        limit: float,
        cancelled: threading.Event | None = None,
    ) -> Any:
        """Run one request.

        ``cancelled`` belongs to this request alone, so that it counts whenever it is set, even before the process
        has begun: then the process is asked to stop, and killed when it does not within a moment.

        Raises:
            WorkerDied: it crashed or took longer than ``limit`` seconds (the process is gone then).
            Cancelled: ``cancelled`` was set before it was done.
            WorkFailed: the worker refused, with a message.
        """
        step: str | None = None
        cancelled = cancelled or threading.Event()
        self.stop.clear()
        try:
            self._await_ready(cancelled)
            self.pipe.send(("run", request))
            end, stop_by = time.monotonic() + limit, None
            while True:
                if cancelled.is_set() and stop_by is None:
                    self.stop.set()
                    stop_by = time.monotonic() + GRACE
                if time.monotonic() > end or (stop_by is not None and time.monotonic() > stop_by):
                    self.kill()
                    if stop_by is not None:
                        raise Cancelled
                    raise WorkerDied("time", step)
                if not self.pipe.poll(0.05):
                    continue
                kind, *rest = self.pipe.recv()
                if kind == "event":
                    step = rest[0].get("id") if rest[0].get("state") == "building" else step
                    on_event(rest[0])
                elif kind == "get":
                    self.pipe.send(("blob", store.get(rest[0])))
                elif kind == "put":
                    store.put(*rest)
                elif kind == "done":
                    return rest[0]
                elif kind == "stopped":
                    raise Cancelled
                else:
                    raise WorkFailed(rest[0])
        except (EOFError, OSError):
            self.kill()
            raise WorkerDied("crash", step) from None

    def _await_ready(self, cancelled: threading.Event) -> None:
        end = time.monotonic() + START_LIMIT
        while not self.ready:
            if cancelled.is_set():
                raise Cancelled
            if time.monotonic() > end:
                self.kill()
                raise WorkerDied("time", None)
            if self.pipe.poll(0.05):
                self.pipe.recv()
                self.ready = True

    @property
    def alive(self) -> bool:
        return self.process.is_alive()

    def kill(self) -> None:
        self.process.kill()
        self.process.join(5)
        self.pipe.close()


class WorkerPool:
    """Keeps at most ``size`` parts warm, and one spare process ready for the next."""

    def __init__(self, size: int = 3, entry: str = ENTRY) -> None:
        self.size, self.entry = size, entry
        self._lock = threading.Lock()
        self._by_part: OrderedDict[str, Worker] = OrderedDict()
        self._spare = Worker(entry)
        self.started = 1

    def worker(self, part_id: str) -> Worker:
        """The warm worker of a part; a dead one is replaced by the spare."""
        with self._lock:
            worker = self._by_part.pop(part_id, None)
            if worker is None or not worker.alive:
                worker, self._spare = self._spare, Worker(self.entry)
                self.started += 1
            self._by_part[part_id] = worker
            idle = [p for p, w in self._by_part.items() if p != part_id and not w.lock.locked()]
            for old in idle[: max(0, len(self._by_part) - self.size)]:
                self._by_part.pop(old).kill()
            return worker

    def close(self) -> None:
        with self._lock:
            for worker in [*self._by_part.values(), self._spare]:
                worker.kill()
            self._by_part.clear()
