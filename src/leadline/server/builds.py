"""Builds of open parts: the newest document wins, a running build of an older one is stopped."""

from __future__ import annotations

import logging
import threading
from collections import OrderedDict
from dataclasses import dataclass, field
from typing import Any

from sqlalchemy.exc import SQLAlchemyError

from leadline.core.problems import Message, unexpected
from leadline.server.blobs import Blobs
from leadline.server.events import Broker
from leadline.server.parts import Parts
from leadline.server.results import Results
from leadline.worker.pool import Cancelled, WorkerDied, WorkerPool, WorkFailed

REMEMBERED = 64  # parts of which the newest build is kept in memory; of others it is in the database
log = logging.getLogger(__name__)


@dataclass
class _Job:
    """What is wanted and what is known for one part. ``cancelled`` stops the newest build that was asked for."""

    wanted: tuple[int, dict[str, Any], threading.Event] | None = None
    cancelled: threading.Event = field(default_factory=threading.Event)
    running: bool = False
    revision: int = 0
    state: str = "none"
    result: dict[str, Any] | None = None
    steps: dict[str, str] = field(default_factory=dict)

    @property
    def busy(self) -> bool:
        return self.running or self.wanted is not None


class Builds:
    """``limit`` is the time that one build may take, in seconds."""

    def __init__(self, pool: WorkerPool, blobs: Blobs, parts: Parts, results: Results, broker: Broker, limit: float) -> None:
        self.pool, self.blobs, self.parts, self.results, self.broker, self.limit = pool, blobs, parts, results, broker, limit
        self._lock = threading.Lock()
        self._jobs: OrderedDict[str, _Job] = OrderedDict()

    def ensure(self, part_id: str, revision: int, document: dict[str, Any]) -> None:
        """Build this revision next, unless it is built or about to be; returns at once.

        What another process, or this one long ago, has built of it is taken from the database.
        """
        with self._lock:
            job = self._job(part_id)
            if job.revision == revision and job.state in ("building", "done") and job.wanted is None:
                return
            if job.wanted is not None and job.wanted[0] == revision:
                return
            known = job.state != "none" or job.busy
        result = None if known else self.results.of(part_id, revision)
        with self._lock:
            job = self._job(part_id)
            if result is not None and not job.busy:
                job.revision, job.state, job.result = revision, "done", result
                return
            job.cancelled.set()
            job.cancelled = threading.Event()
            job.wanted = (revision, document, job.cancelled)
            if job.running:
                return
            job.running = True
        threading.Thread(target=self._work, args=(part_id, job), daemon=True, name=f"build-{part_id[:8]}").start()

    def cancel(self, part_id: str) -> None:
        """Stop the build that was asked for last, running or not yet begun."""
        with self._lock:
            if part_id in self._jobs:
                self._jobs[part_id].cancelled.set()

    def forget(self, part_id: str) -> None:
        """A part is gone: stop what is done for it."""
        self.cancel(part_id)
        with self._lock:
            self._jobs.pop(part_id, None)

    def latest(self, part_id: str) -> dict[str, Any]:
        """State of the newest build: "none", "building", "done", "stopped" or "failed", with its result."""
        with self._lock:
            job = self._jobs.get(part_id, _Job())
            return {"state": job.state, "revision": job.revision, "result": job.result, "steps": dict(job.steps)}

    def counts(self) -> tuple[int, int]:
        """How many builds run, and how many wait for their turn."""
        with self._lock:
            return sum(job.running for job in self._jobs.values()), sum(job.wanted is not None for job in self._jobs.values())

    def run(self, part_id: str, request: dict[str, Any]) -> Any:
        """Run a request, e.g. an export, and wait. Raises as ``WorkerPool.run``."""
        return self.pool.run(part_id, request, self.blobs, self.limit)

    def draw_pictures(self, parts: list[tuple[str, int, dict[str, Any]]]) -> None:
        """Build parts one after the other in the background, for their pictures and to have them built."""

        def work() -> None:
            for part_id, revision, document in parts:
                self.ensure(part_id, revision, document)
                with self._lock:
                    job = self._job(part_id)
                while job.busy:
                    threading.Event().wait(0.1)

        if parts:
            threading.Thread(target=work, daemon=True, name="pictures").start()

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
                (revision, document, cancelled), job.wanted = job.wanted, None
                job.state, job.revision, job.steps = "building", revision, {}
            self.broker.publish(part_id, {"event": "build", "state": "building", "revision": revision})
            try:
                self._once(part_id, job, revision, document, cancelled)
            except Exception as error:
                message = unexpected(error).message.as_dict()
                self._ended(part_id, job, revision, "failed", _only_message(document, None, dict(message)))

    def _once(self, part_id: str, job: _Job, revision: int, document: dict[str, Any], cancelled: threading.Event) -> None:
        def on_event(event: dict[str, Any]) -> None:
            if event["event"] == "picture":
                self._keep_picture(part_id, event["png"])
            else:
                job.steps[event["id"]] = event["state"]
                self.broker.publish(part_id, event)

        def on_result(result: dict[str, Any]) -> None:
            self.results.keep(part_id, revision, result)
            self._ended(part_id, job, revision, "done", result)

        try:
            self.pool.run(part_id, {"op": "build", "part": document}, self.blobs, self.limit, on_event, cancelled, on_result)
        except Cancelled:
            self._ended(part_id, job, revision, "stopped", None)
        except WorkFailed as failed:
            self._ended(part_id, job, revision, "failed", _only_message(document, None, failed.message))
        except WorkerDied as died:
            if job.state == "building":  # else it died drawing the picture
                self._ended(part_id, job, revision, "failed", _only_message(document, died.step, _death(died, self.limit)))

    def _ended(self, part_id: str, job: _Job, revision: int, state: str, result: dict[str, Any] | None) -> None:
        with self._lock:
            job.state, job.result = state, result if result is not None else job.result
            superseded = job.wanted is not None
        if not superseded:
            self.broker.publish(part_id, {"event": "build", "state": state, "revision": revision})

    def _keep_picture(self, part_id: str, picture: bytes) -> None:
        try:
            self.parts.set_picture(part_id, picture)
        except SQLAlchemyError:
            log.exception("the picture of %s was not kept", part_id)
        else:
            self.broker.publish(part_id, {"event": "picture"})


def _death(died: WorkerDied, limit: float) -> dict[str, Any]:
    text = {
        "time": f"The build took longer than {limit:g} s and was stopped.",
        "paused": "The process that built this step was stopped from outside.",
    }.get(died.reason, "The geometry kernel crashed in this step.")
    way_out = "Change the step's sizes, or switch it off; nothing of the part is lost."
    return dict(Message("error", f"worker-{died.reason}", text, way_out, {"step": died.step}).as_dict())


def _only_message(document: dict[str, Any], step: str | None, message: dict[str, Any]) -> dict[str, Any]:
    """A result in which one step (or the part as a whole) carries the message."""
    steps = {}
    for s in document["steps"]:
        failed = s["id"] == step
        steps[s["id"]] = {
            "id": s["id"], "kind": s["kind"], "state": "failed" if failed else "stopped", "figure": "", "uses": [], "data": {},
            "messages": [message] if failed else [], "key": "", "seconds": 0.0,
        }  # fmt: skip
    return {"steps": steps, "bodies": [], "messages": [] if step else [message], "seconds": {}, "density": None}
