"""Builds of open parts: the newest document wins, a running build of an older one is stopped."""

from __future__ import annotations

import threading
from dataclasses import dataclass, field
from typing import Any

from leadline.core.problems import Message
from leadline.server.blobs import Blobs
from leadline.server.events import Broker
from leadline.server.parts import Parts
from leadline.worker.pool import Cancelled, WorkerDied, WorkerPool, WorkFailed


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


class Builds:
    """``limit`` is the time that one build may take, in seconds."""

    def __init__(self, pool: WorkerPool, blobs: Blobs, parts: Parts, broker: Broker, limit: float) -> None:
        self.pool, self.blobs, self.parts, self.broker, self.limit = pool, blobs, parts, broker, limit
        self._lock = threading.Lock()
        self._jobs: dict[str, _Job] = {}

    def request(self, part_id: str, revision: int, document: dict[str, Any]) -> None:
        """Build this revision next; returns at once."""
        with self._lock:
            job = self._jobs.setdefault(part_id, _Job())
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

    def latest(self, part_id: str) -> dict[str, Any]:
        """State of the newest build: "none", "building", "done", "stopped" or "failed", with its result."""
        with self._lock:
            job = self._jobs.get(part_id, _Job())
            return {"state": job.state, "revision": job.revision, "result": job.result, "steps": dict(job.steps)}

    def run(self, part_id: str, request: dict[str, Any], cancelled: threading.Event | None = None) -> Any:
        """Run a request (an export, a picture) on the part's worker and wait. Raises as ``Worker.run``."""
        worker = self.pool.worker(part_id)
        with worker.lock:
            return worker.run(request, self.blobs, lambda _: None, self.limit, cancelled)

    def draw_pictures(self, parts: list[tuple[str, dict[str, Any]]]) -> None:
        """Build parts one after the other in the background, for their pictures and the store."""

        def work() -> None:
            for part_id, document in parts:
                self._picture(part_id, document, threading.Event(), worker_of="pictures")

        if parts:
            threading.Thread(target=work, daemon=True, name="pictures").start()

    def _work(self, part_id: str, job: _Job) -> None:
        while True:
            with self._lock:
                if job.wanted is None:
                    job.running = False
                    return
                (revision, document, cancelled), job.wanted = job.wanted, None
                job.state, job.revision, job.steps = "building", revision, {}
            self.broker.publish(part_id, {"event": "build", "state": "building", "revision": revision})
            state, result = self._once(part_id, job, document, cancelled)
            with self._lock:
                job.state = state
                job.result = result if result is not None else job.result
                superseded = job.wanted is not None
            if not superseded:
                self.broker.publish(part_id, {"event": "build", "state": state, "revision": revision})
                if state == "done":
                    self._picture(part_id, document, cancelled)

    def _once(
        self, part_id: str, job: _Job, document: dict[str, Any], cancelled: threading.Event
    ) -> tuple[str, dict[str, Any] | None]:
        def on_event(event: dict[str, Any]) -> None:
            job.steps[event["id"]] = event["state"]
            self.broker.publish(part_id, event)

        worker = self.pool.worker(part_id)
        try:
            with worker.lock:
                request = {"op": "build", "part": document}
                return "done", worker.run(request, self.blobs, on_event, self.limit, cancelled)
        except Cancelled:
            return "stopped", None
        except WorkFailed as failed:
            return "failed", _only_message(document, None, failed.message)
        except WorkerDied as died:
            return "failed", _only_message(document, died.step, _death(died, self.limit))

    def _picture(
        self, part_id: str, document: dict[str, Any], cancelled: threading.Event, worker_of: str | None = None
    ) -> None:
        """A new picture for the part list; it is no loss when the part moves on before it is drawn."""
        try:
            picture = self.run(worker_of or part_id, {"op": "picture", "part": document}, cancelled)
        except (Cancelled, WorkerDied, WorkFailed):
            return
        if picture is not None:
            self.parts.set_picture(part_id, picture)
            self.broker.publish(part_id, {"event": "picture"})


def _death(died: WorkerDied, limit: float) -> dict[str, Any]:
    if died.reason == "time":
        text = f"The build took longer than {limit:g} s and was stopped."
    else:
        text = "The geometry kernel crashed in this step."
    way_out = "Change the step's sizes, or switch it off; nothing of the part is lost."
    return Message("error", f"worker-{died.reason}", text, way_out, {"step": died.step}).as_dict()


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
