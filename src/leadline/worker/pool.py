"""Kernel processes: as many as the machine bears, warm, with limits; one that dies is replaced.

They are forked from a server process that has loaded the kernel once, so that a new one is there at once.
"""

from __future__ import annotations

import importlib
import logging
import multiprocessing
import threading
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from multiprocessing.connection import Connection
from pathlib import Path
from typing import Any, Protocol

from leadline.worker.channel import Channel
from leadline.worker.flag import Flag

ENTRY = "leadline.worker.process:main"
GRACE = 1.5  # seconds in which what is cancelled may end by itself
START_LIMIT = 60.0
SEND_LIMIT = 10.0  # seconds in which a process takes a message
KNOWN = 16  # parts that a process is taken to remember
PAUSED_LIMIT = 2.0  # seconds that a process may be stopped by a signal before it is given up

log = logging.getLogger(__name__)
_CONTEXT = multiprocessing.get_context("forkserver")
_CONTEXT.set_forkserver_preload(["leadline.worker.process", "leadline.worker.editor"])


class BlobStore(Protocol):
    def get(self, key: str) -> bytes | None: ...
    def put(self, key: str, data: bytes) -> None: ...


class WorkerDied(Exception):  # noqa: N818
    """The process ended, or was ended, while it worked: ``reason`` is "crash", "time", or "paused" when it was stopped."""

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
    ) -> Any:
        """Run one request to its very end, and return its result.

        ``on_result`` is told the result before what still follows it (the picture of a build, as an event). ``cancelled``
        belongs to this request alone, so that it counts whenever it is set, even before the process has begun: then the
        process is asked to stop, and killed when it does not within a moment. After any error but ``WorkFailed`` and an
        orderly ``Cancelled`` the process is gone, so that no answer can be taken for that of another request.

        Raises:
            WorkerDied: it crashed, was stopped, or took longer than ``limit`` seconds.
            Cancelled: ``cancelled`` was set before there was a result.
            WorkFailed: the worker refused, with a message.
        """
        self.requests += 1
        try:
            return self._run(self.requests, request, store, on_event, limit, cancelled or threading.Event(), on_result)
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
    ) -> Any:
        self._step = None
        self.stop.clear()
        self._await_ready(cancelled)
        self.channel.send(("run", number, request), SEND_LIMIT)
        watch = _Watch(self, limit)
        outcome: tuple[str, Any] | None = None  # "done", "stopped" or "problem", with the result or the message
        while True:
            if cancelled.is_set():
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


class WorkerPool:
    """At most ``size`` processes, the first of them at once if the pool is to be ``warm``. Each is had by one caller at a time, who gets the one that worked on the part last."""

    def __init__(self, size: int = 2, entry: str = ENTRY, warm: bool = True) -> None:
        self.size, self.entry = size, entry
        self._changed = threading.Condition()
        self._workers: list[Worker] = []  # the one that was used last comes last
        self._leased: list[Worker] = []
        self._closed = False
        self._waiting = 0  # callers who wait for a process, but those who are patient
        self.started = 0
        if warm:  # to load the kernel takes seconds
            threading.Thread(target=self._begin, daemon=True, name="first worker").start()

    def run(
        self,
        part_id: str,
        request: Any,
        store: BlobStore,
        limit: float,
        on_event: Callable[[dict[str, Any]], None] = lambda _: None,
        cancelled: threading.Event | None = None,
        on_result: Callable[[Any], None] | None = None,
        patient: bool = False,
    ) -> Any:
        """Run a request on a process, and once more on another one when that dies: it may have been ended by something else.

        Not once more when it took too long, or after its result was told. A process that was dead before it took the request
        does not count. One who is ``patient`` waits until nobody else does. For the rest as ``Worker.run``.
        """
        told = threading.Event()

        def tell(result: Any) -> None:
            told.set()
            if on_result is not None:
                on_result(result)

        deaths, dead = 0, 0
        while True:
            try:
                with self.lease(part_id, cancelled, patient) as worker:
                    return worker.run(request, store, on_event, limit, cancelled, tell)
            except WorkerDied as died:
                if worker.taken == worker.requests:
                    deaths += 1
                else:
                    dead += 1
                if deaths > 1 or dead > self.size or died.reason == "time" or told.is_set():
                    raise
                log.warning("a worker died (%s); its request is run once more", died.reason)

    @contextmanager
    def lease(self, part_id: str, cancelled: threading.Event | None = None, patient: bool = False) -> Iterator[Worker]:
        """A process for this caller alone. Raises Cancelled when that is set before one is free."""
        worker = self._take(part_id, cancelled, patient)
        try:
            yield worker
        finally:
            with self._changed:
                self._leased.remove(worker)
                self._tidy()
                self._changed.notify_all()

    def close(self) -> None:
        with self._changed:
            self._closed = True
            for worker in self._workers:
                worker.kill()
            self._workers.clear()

    def _begin(self) -> None:
        with self._changed:
            if not self._workers and not self._closed:
                self._start()
                self._changed.notify_all()

    def _take(self, part_id: str, cancelled: threading.Event | None, patient: bool) -> Worker:
        with self._changed:
            self._waiting += not patient
            try:
                worker = self._free(part_id, cancelled, patient)
            finally:
                self._waiting -= not patient
            worker.known.pop(part_id, None)
            worker.known[part_id] = None
            for old in list(worker.known)[:-KNOWN]:
                del worker.known[old]
            worker.told = False  # of the request that comes: while it begins nobody takes it for one that only draws
            self._leased.append(worker)
            self._workers.remove(worker)
            self._workers.append(worker)
            if len(self._leased) == len(self._workers) < self.size:
                self._start()  # so that the next one who asks need not wait for it
            return worker

    def _free(self, part_id: str, cancelled: threading.Event | None, patient: bool) -> Worker:
        """Wait for a process. What only draws a picture still gives way to one who waits."""
        while True:
            if self._closed or (cancelled is not None and cancelled.is_set()):
                raise Cancelled
            worker = None if patient and self._waiting else self._choose(part_id)
            if worker is not None:
                return worker
            drawing = next((w for w in self._leased if w.told and w.part != part_id), None)
            if drawing is not None and not patient:
                drawing.stop.set()
            self._changed.wait(0.1)

    def _choose(self, part_id: str) -> Worker | None:
        """The process that knows the part, while nothing else keeps it busy; else one that knows the fewest."""
        self._tidy()
        if any(w.part == part_id for w in self._leased):
            return None  # it works on just this part, and knows most about it then
        idle = [w for w in self._workers if w not in self._leased]
        own = next((w for w in idle if part_id in w.known), None)
        if own is not None:
            return own
        if len(self._workers) < self.size and all(w.known for w in idle):
            return self._start()
        return min(idle, key=lambda w: len(w.known), default=None)

    def _tidy(self) -> None:
        self._workers = [w for w in self._workers if w in self._leased or w.alive]

    def _start(self) -> Worker:
        worker = Worker(self.entry)
        self._workers.append(worker)
        self.started += 1
        return worker
