"""Processes that compute, as many as the machine bears, warm, shared out fairly; one that dies is replaced.

Who waits is served in turn: of those who are not known to take long the one that was served longest ago, then of those
who are. When all processes have been at work for a while there are a few more for those who are not known to take long,
so that what is short passes what is long.
"""

from __future__ import annotations

import logging
import threading
import time
from collections import OrderedDict
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from functools import partial
from typing import Any

from leadline.worker.worker import BlobStore, Cancelled, Worker, WorkerDied, WorkFailed

__all__ = ["ENTRY", "BlobStore", "Cancelled", "WorkFailed", "Worker", "WorkerDied", "WorkerPool"]

ENTRY = "leadline.worker.process:main"
KNOWN = 16  # parts that a process is taken to remember
CROWDED = 0.5  # seconds that all processes have been at work when a further one is begun
IDLE = 30.0  # seconds after which a further one that nobody needed is ended
REMEMBERED = 4096  # of whom it is remembered how long their last request took
log = logging.getLogger(__name__)


@dataclass(eq=False)
class _Ticket:
    """One who waits for a process."""

    part: str
    patient: bool
    worker: Worker | None = None


class WorkerPool:
    """At most ``size`` processes, the first of them at once if the pool is to be ``warm``, and when all have been at
    work for a while up to ``more`` for those who are not known to take ``long`` (s).

    Each process is had by one caller at a time, who gets the one that worked on the part last; a part (or a window) has
    one process at a time. With ``gives_way`` a request that runs on one of the ``more`` and turns out to take long
    begins anew when somebody short waits.
    """

    def __init__(
        self,
        size: int = 2,
        entry: str = ENTRY,
        warm: bool = True,
        more: int = 0,
        long: float = 5.0,
        gives_way: bool = False,
    ) -> None:
        self.size, self.entry, self.more, self.long, self.gives_way = size, entry, more, long, gives_way
        self._changed = threading.Condition()
        self._workers: list[Worker] = []  # the one that was used last comes last
        self._leased: dict[Worker, float] = {}  # since when, the newest last
        self._used: dict[Worker, float] = {}  # until when
        self._tickets: list[_Ticket] = []  # in the order in which they came
        self._took: OrderedDict[str, float] = (
            OrderedDict()
        )  # the seconds of the last request of each part, the newest last
        self._served: OrderedDict[str, int] = OrderedDict()  # the number of the last lease of each part
        self._leases = 0
        self._closed = False
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
        again: bool = True,
    ) -> Any:
        """Run a request on a process, and once more on another one when that dies: it may have been ended by something
        else.

        Not once more when it took too long, after its result was told, or unless ``again``. A process that was dead
        before it took the request does not count. One who is ``patient`` waits until nobody else does. For the rest as
        ``Worker.run``.
        """
        told = threading.Event()

        def tell(result: Any) -> None:
            told.set()
            if on_result is not None:
                on_result(result)

        cancelled = cancelled or threading.Event()
        deaths, dead = 0, 0
        while True:
            try:
                with self.lease(part_id, cancelled, patient) as worker:
                    gives_way = partial(self._must_give_way, worker)
                    return worker.run(request, store, on_event, limit, cancelled, tell, gives_way)
            except Cancelled:
                if cancelled.is_set() or self._closed:
                    raise
                log.info("%s takes long and gives way", part_id)
            except WorkerDied as died:
                if worker.taken == worker.requests:
                    deaths += 1
                else:
                    dead += 1
                if deaths > int(again) or dead > self.size or died.reason == "time" or told.is_set():
                    raise
                log.warning("a worker died (%s); its request is run once more", died.reason)

    @contextmanager
    def lease(self, part_id: str, cancelled: threading.Event | None = None, patient: bool = False) -> Iterator[Worker]:
        """A process for this caller alone. Raises Cancelled when that is set before one is free."""
        worker = self._take(_Ticket(part_id, patient), cancelled)
        try:
            yield worker
        finally:
            with self._changed:
                self._used[worker] = time.monotonic()
                _remember(self._took, part_id, self._used[worker] - self._leased.pop(worker))
                self._tidy()
                self._hand_out()
                self._end_idle()

    def close(self) -> None:
        with self._changed:
            self._closed = True
            for worker in self._workers:
                worker.kill()
            self._workers.clear()
            self._changed.notify_all()

    def _begin(self) -> None:
        with self._changed:
            if not self._workers and not self._closed:
                self._start()
                self._hand_out()

    def _take(self, ticket: _Ticket, cancelled: threading.Event | None) -> Worker:
        with self._changed:
            self._tickets.append(ticket)
            self._hand_out()
            try:
                while ticket.worker is None:
                    if self._closed or (cancelled is not None and cancelled.is_set()):
                        raise Cancelled
                    self._changed.wait(0.1)
                    if (
                        ticket.worker is None and self._tickets[0] is ticket
                    ):  # time alone may have made it crowded; one looks for all
                        self._hand_out()
            finally:
                if ticket in self._tickets:
                    self._tickets.remove(ticket)
            return ticket.worker

    def _hand_out(self) -> None:
        """Give processes to those who wait, as far as there are any.

        What only draws a picture still gives way to one who waits.
        """
        while not self._closed:
            self._tidy()
            waiting = sorted(self._tickets, key=self._rank)
            served = next((t for t in waiting if self._serve(t)), None)
            if served is None:
                for ticket in waiting:
                    drawing = (
                        None
                        if ticket.patient
                        else next((w for w in self._leased if w.told and w.part != ticket.part), None)
                    )
                    if drawing is not None:
                        drawing.stop.set()
                break
            self._tickets.remove(served)
        self._changed.notify_all()

    def _rank(self, ticket: _Ticket) -> tuple[bool, bool, int]:
        return ticket.patient, self._is_long(ticket.part), self._served.get(ticket.part, 0)

    def _is_long(self, part_id: str) -> bool:
        return self._took.get(part_id, 0.0) > self.long

    def _serve(self, ticket: _Ticket) -> bool:
        """Give a process to one who waits, if there is one for them."""
        if ticket.patient and any(not t.patient for t in self._tickets):
            return False
        worker = self._choose(ticket)
        if worker is None:
            return False
        worker.known.pop(ticket.part, None)
        worker.known[ticket.part] = None
        for old in list(worker.known)[:-KNOWN]:
            del worker.known[old]
        worker.told = False  # of the request that comes: while it begins nobody takes it for one that only draws
        ticket.worker = worker
        self._leases += 1
        _remember(self._served, ticket.part, self._leases)
        self._leased[worker] = time.monotonic()
        self._workers.remove(worker)
        self._workers.append(worker)
        if len(self._leased) == len(self._workers) < self.size:
            self._start()  # so that the next one who asks need not wait for it
        return True

    def _choose(self, ticket: _Ticket) -> Worker | None:
        """The process that knows the part, while nothing else keeps it busy; else one that knows the fewest."""
        if any(w.part == ticket.part for w in self._leased):
            return None  # it works on just this part, and knows most about it then
        if len(self._leased) >= self.size and not self._one_more(ticket):
            return None
        idle = [w for w in self._workers if w not in self._leased]
        own = next((w for w in idle if ticket.part in w.known), None)
        if own is not None:
            return own
        if not idle or (len(self._workers) < self.size and all(w.known for w in idle)):
            return self._start()
        return min(idle, key=lambda w: len(w.known))

    def _one_more(self, ticket: _Ticket) -> bool:
        """Whether one who waits may have a process beyond the usual ones."""
        if len(self._leased) >= self.size + self.more or ticket.patient or self._is_long(ticket.part):
            return False
        now = time.monotonic()
        return all(now - since > CROWDED for since in self._leased.values())

    def _must_give_way(self, worker: Worker) -> bool:
        """Whether what runs on a process beyond the usual ones takes long while somebody waits who is not known to."""
        leased = list(self._leased.items())
        if (
            not self.gives_way
            or len(leased) <= self.size
            or leased[-1][0] is not worker
            or time.monotonic() - leased[-1][1] < self.long
        ):
            return False
        return any(not t.patient and not self._is_long(t.part) for t in list(self._tickets))

    def _end_idle(self) -> None:
        """End processes beyond the usual ones that nobody has needed for a while; not at once, as they know what they
        worked on.
        """
        before = time.monotonic() - IDLE
        idle = [w for w in self._workers if w not in self._leased and self._used.get(w, 0.0) < before]
        for worker in idle[: max(0, len(self._workers) - self.size)]:
            self._workers.remove(worker)
            worker.kill()
        self._used = {w: at for w, at in self._used.items() if w in self._workers}

    def _tidy(self) -> None:
        self._workers = [w for w in self._workers if w in self._leased or w.alive]

    def _start(self) -> Worker:
        worker = Worker(self.entry)
        self._workers.append(worker)
        self.started += 1
        return worker


def _remember(known: OrderedDict[str, Any], part_id: str, value: float) -> None:
    known[part_id] = value
    known.move_to_end(part_id)
    while len(known) > REMEMBERED:
        known.popitem(last=False)
