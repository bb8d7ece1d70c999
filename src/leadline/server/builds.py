"""Builds of open parts: the newest document wins, a running build of an older one is stopped.

Several servers may stand on one database. Each part is built by one of them at a time; the others hear how it goes on,
and take the result from the database.
"""

from __future__ import annotations

import json
import logging
import threading
import time
from collections import OrderedDict
from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Any, Protocol, TypeVar

from sqlalchemy.exc import SQLAlchemyError

from leadline.core.problems import Message, unexpected
from leadline.server.events import Broker, Event, Others
from leadline.server.files import Sources
from leadline.server.following import Order
from leadline.server.parts import NotFound, Parts
from leadline.server.results import Results
from leadline.server.turns import LOOK_EVERY, Turns
from leadline.worker.asks import Built
from leadline.worker.pool import Cancelled, WorkerDied, WorkerPool, WorkFailed
from leadline.worker.requests import BuildAll, Request

PICTURES = 5  # times that a picture is begun again which had to give way
CLOSING = 5.0  # seconds for builds to end when the server does
REMEMBERED = 64  # parts of which the newest build is kept in memory; of others it is in the database
A = TypeVar("A")
log = logging.getLogger(__name__)


class Ordering(Protocol):
    """Where it is found out what is to be built: documents are read there, not here."""

    def order(self, part_id: str) -> Order:
        """A part as it is now, as it is to be built. Raises NotFound."""


@dataclass
class _Wanted:
    """What is to be built."""

    order: Order
    cancelled: threading.Event


@dataclass
class _Job:
    """What is wanted and what is known for one part. ``cancelled`` stops the newest build that was asked for.

    While a build is ``running`` here it may still be another server's turn; ``here`` is whether it is this one's.
    """

    wanted: _Wanted | None = None
    cancelled: threading.Event = field(default_factory=threading.Event)
    running: bool = False
    here: bool = False
    revision: int = 0
    made_of: str = ""
    follows: frozenset[str] = frozenset()
    state: str = "none"
    result: bytes | None = None
    steps: dict[str, str] = field(default_factory=dict)

    @property
    def busy(self) -> bool:
        return self.running or self.wanted is not None


class Builds:
    """``limit`` is the time that one build may take, in seconds."""

    def __init__(
        self,
        pool: WorkerPool,
        store: Sources,
        parts: Parts,
        ordering: Ordering,
        results: Results,
        broker: Broker,
        others: Others,
        turns: Turns,
        limit: float,
    ) -> None:
        self.pool, self.store, self.parts, self.results, self.broker, self.others, self.turns = (
            pool,
            store,
            parts,
            results,
            broker,
            others,
            turns,
        )
        self.ordering = ordering
        self.limit = limit
        self._lock = threading.Lock()
        self._jobs: OrderedDict[str, _Job] = OrderedDict()

    def ensure(self, order: Order) -> None:
        """Build this revision next, unless it is built or about to be; returns at once.

        What another process, or this one long ago, has built of it is taken from the database.
        """
        part_id = order.part_id
        own = order.revision, order.made_of
        with self._lock:
            job = self._job(part_id)
            job.follows = order.follows
            under_way = job.state == "done" or (job.state == "building" and job.running)
            if (job.revision, job.made_of) == own and under_way and job.wanted is None:
                return
            if job.wanted is not None and (job.wanted.order.revision, job.wanted.order.made_of) == own:
                return
            known = job.made_of != "" or job.busy
        result = None if known else self.results.of(part_id, *own)
        with self._lock:
            job = self._job(part_id)
            if result is not None and not job.busy:
                (job.revision, job.made_of), job.state, job.result = own, "done", result
                return
            job.cancelled.set()
            job.cancelled = threading.Event()
            job.wanted = _Wanted(order, job.cancelled)
            if job.running:
                return
            job.running = True
        threading.Thread(target=self._work, args=(part_id, job), daemon=True, name=f"build-{part_id[:8]}").start()

    def cancel(self, part_id: str) -> None:
        """Stop the build that was asked for last, running or not yet begun, whichever server has it."""
        self._cancel(part_id)
        self.others.tell(part_id, {"event": "stop"})

    def hear(self, part_id: str, event: Event) -> None:
        """What another server tells: how its builds go on, and what it asks of this one."""
        if event["event"] == "stop":
            self._cancel(part_id)
        elif event["event"] == "wanted":
            self._overtaken(part_id, event["revision"])
        elif event["event"] == "changed":
            self._build_followers(part_id)
        else:
            self._follow(part_id, event)
            self.broker.publish(part_id, event)

    def changed(self, part_id: str) -> None:
        """A part has been changed: those that follow it and were open lately are built again."""
        self.others.tell(part_id, {"event": "changed"})
        self._build_followers(part_id)

    def forget(self, part_id: str) -> None:
        """A part is gone: stop what is done for it."""
        self.cancel(part_id)
        with self._lock:
            self._jobs.pop(part_id, None)

    def latest(self, part_id: str) -> dict[str, Any]:
        """State of the newest build: "none", "building", "done", "stopped" or "failed", with its result as JSON."""
        with self._lock:
            job = self._jobs.get(part_id, _Job())
            told = {"state": job.state, "revision": job.revision, "result": job.result, "steps": dict(job.steps)}
        if told["state"] == "done" and told["result"] is None:  # another server has built it
            told["result"] = self.results.newest(part_id, job.revision)
            told["state"] = "none" if told["result"] is None else "done"
        return told

    def counts(self) -> tuple[int, int]:
        """How many builds run, and how many wait for their turn."""
        with self._lock:
            return sum(job.running for job in self._jobs.values()), sum(
                job.wanted is not None for job in self._jobs.values()
            )

    def close(self) -> None:
        """End all builds; what has been built is kept first."""
        self.pool.close()
        with self._lock:
            jobs = list(self._jobs.values())
            for job in jobs:
                job.cancelled.set()
        end = time.monotonic() + CLOSING
        while any(job.running for job in jobs) and time.monotonic() < end:
            time.sleep(0.01)

    def run(self, part_id: str, request: Request[A]) -> A:
        """The answer to a request about a part, e.g. for an export. Raises as ``WorkerPool.run``."""
        answer: A = self.pool.run(part_id, request, self.store, self.limit)
        return answer

    def finish(self, part_id: str) -> None:
        """Build a part as it is now, for its picture and to have it built, and wait for the end of it; none is no
        error.
        """
        try:
            self.ensure(self.ordering.order(part_id))
        except NotFound:
            return
        with self._lock:
            job = self._job(part_id)
        while job.busy:
            threading.Event().wait(0.1)

    def _build_followers(self, part_id: str) -> None:
        with self._lock:
            followers = [own for own, job in self._jobs.items() if part_id in job.follows]
        try:
            for other in followers:
                self.ensure(self.ordering.order(other))
        except (NotFound, SQLAlchemyError):  # they are built when they are opened again
            log.exception("not all parts that follow %s were built again", part_id)

    def _cancel(self, part_id: str) -> None:
        with self._lock:
            if part_id in self._jobs:
                self._jobs[part_id].cancelled.set()

    def _overtaken(self, part_id: str, revision: int) -> None:
        """Another server was asked to build a revision: what is built here ends, if it is of no use any more; else it
        is told how far it is.
        """
        with self._lock:
            job = self._jobs.get(part_id)
            if job is None or not job.busy:
                return
            own, cancelled = job.wanted.order.revision if job.wanted is not None else job.revision, job.cancelled
            steps = dict(job.steps) if job.here else {}
        if own == revision:
            for step, state in steps.items():
                self.others.tell(part_id, {"event": "step", "id": step, "state": state})
        elif self.parts.head(part_id) != own:
            cancelled.set()

    def _follow(self, part_id: str, event: Event) -> None:
        """Note how another server's build of a part goes on that is known here."""
        with self._lock:
            job = self._jobs.get(part_id)
            if job is None or job.here:
                return
            if event["event"] == "step":
                job.steps[event["id"]] = event["state"]
            elif event["event"] == "build" and not job.running:
                job.state, job.revision, job.made_of, job.result = event["state"], event["revision"], "", None
                job.steps = {} if event["state"] == "building" else job.steps

    def _job(self, part_id: str) -> _Job:
        job = self._jobs.setdefault(part_id, _Job())
        self._jobs.move_to_end(part_id)
        for old in [p for p, j in self._jobs.items() if not j.busy][: max(0, len(self._jobs) - REMEMBERED)]:
            del self._jobs[old]
        return job

    def _work(self, part_id: str, job: _Job) -> None:
        """Build what is wanted until nothing more is. Whatever happens, the part is not left as being built."""
        while True:
            with self._lock:
                if job.wanted is None:
                    job.running = False
                    return
                wanted, job.wanted = job.wanted, None
                order = wanted.order
                job.state, job.revision, job.made_of, job.steps = "building", order.revision, order.made_of, {}
            self.others.tell(part_id, {"event": "wanted", "revision": order.revision})
            try:
                self._in_turn(part_id, job, wanted)
            except Exception as error:
                message = unexpected(error).message.as_dict()
                self._ended(part_id, job, order.revision, "failed", _only_message(order, None, dict(message)))

    def _in_turn(self, part_id: str, job: _Job, wanted: _Wanted) -> None:
        """Wait while another server builds the part. Then take the result, if it has built just this; else build it."""
        waited, revision = False, wanted.order.revision
        while not self.turns.take(part_id):
            waited = True
            if wanted.cancelled.wait(LOOK_EVERY):
                self._ended(part_id, job, revision, "stopped", None)
                return
        try:
            job.here = True
            result = self.results.of(part_id, revision, wanted.order.made_of) if waited else None
            self._publish(part_id, {"event": "build", "state": "building", "revision": revision})
            if result is not None:
                self._ended(part_id, job, revision, "done", result)
            else:
                self._once(part_id, job, wanted)
        finally:
            job.here = False
            self.turns.give_back(part_id)

    def _publish(self, part_id: str, event: Event) -> None:
        """Tell all windows of a part, also those of other servers."""
        self.broker.publish(part_id, event)
        self.others.tell(part_id, event)

    def _once(self, part_id: str, job: _Job, wanted: _Wanted) -> None:
        order, revision = wanted.order, wanted.order.revision
        pictured = threading.Event()

        def on_event(event: dict[str, Any]) -> None:
            if event["event"] == "picture":
                pictured.set()
                self._keep_picture(part_id, event["png"])
            else:
                job.steps[event["id"]] = event["state"]
                self._publish(part_id, event)

        def on_result(built: Built) -> None:
            self._ended(
                part_id,
                job,
                revision,
                "done",
                built.text,
                keep=lambda: self.results.keep(part_id, revision, order.made_of, built.text),
            )

        try:
            request = BuildAll(order.text)
            built: Built = self.pool.run(
                part_id, request, self.store, self.limit, on_event, wanted.cancelled, on_result
            )
            if built.has_bodies and not pictured.is_set():  # its picture gave way to someone's build
                self._draw_later(part_id, request, wanted.cancelled)
        except Cancelled:
            self._ended(part_id, job, revision, "stopped", None)
        except WorkFailed as failed:
            self._ended(part_id, job, revision, "failed", _only_message(order, None, failed.message))
        except WorkerDied as died:
            if job.state == "building":  # else it died drawing the picture
                self._ended(part_id, job, revision, "failed", _only_message(order, died.step, _death(died, self.limit)))

    def _ended(
        self,
        part_id: str,
        job: _Job,
        revision: int,
        state: str,
        result: bytes | None,
        keep: Callable[[], None] = lambda: None,
    ) -> None:
        """Tell how a build ended: this server's windows at once, the others when the result is kept, from where they
        take it.
        """
        with self._lock:
            job.state, job.result = state, result if result is not None else job.result
            superseded = job.wanted is not None
        event = {"event": "build", "state": state, "revision": revision}
        if not superseded:
            self.broker.publish(part_id, event)
        keep()
        if not superseded:
            self.others.tell(part_id, event)

    def _draw_later(self, part_id: str, request: BuildAll, cancelled: threading.Event) -> None:
        """Draw a picture once nobody waits for a process; it may have to give way again, a few times."""
        pictured = threading.Event()

        def on_event(event: dict[str, Any]) -> None:
            if event["event"] == "picture":
                pictured.set()
                self._keep_picture(part_id, event["png"])

        try:
            for _ in range(PICTURES):
                if not pictured.is_set() and not cancelled.is_set():
                    self.pool.run(part_id, request, self.store, self.limit, on_event, cancelled, patient=True)
        except (Cancelled, WorkFailed, WorkerDied):
            log.info("the picture of %s was not drawn", part_id)

    def _keep_picture(self, part_id: str, picture: bytes) -> None:
        try:
            self.parts.set_picture(part_id, picture)
        except SQLAlchemyError:
            log.exception("the picture of %s was not kept", part_id)
        else:
            self._publish(part_id, {"event": "picture"})


def _death(died: WorkerDied, limit: float) -> dict[str, Any]:
    text = {
        "time": f"The build took longer than {limit:g} s and was stopped.",
        "paused": "The process that built this step was stopped from outside.",
    }.get(died.reason, "The geometry kernel crashed in this step.")
    way_out = "Change the step's sizes, or switch it off; nothing of the part is lost."
    return dict(Message("error", f"worker-{died.reason}", text, way_out, {"step": died.step}).as_dict())


def _only_message(order: Order, step: str | None, message: dict[str, Any]) -> bytes:
    """A result in which one step (or the part as a whole) carries the message."""
    steps: dict[str, dict[str, Any]] = {}
    for own, kind in order.steps:
        failed = own == step
        steps[own] = {
            "id": own,
            "kind": kind,
            "state": "failed" if failed else "stopped",
            "figure": "",
            "uses": [],
            "values": [],
            "data": {},
            "messages": [message] if failed else [],
            "key": "",
            "seconds": 0.0,
        }
    return json.dumps(
        {"steps": steps, "bodies": [], "messages": [] if step else [message], "seconds": {}, "density": None}
    ).encode()
