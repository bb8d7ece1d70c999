"""What open editors ask between builds, computed by processes of its own, so that no one's question waits for another's."""

from __future__ import annotations

from typing import Any

from flask import has_request_context, request

from leadline.core.problems import Problem
from leadline.server.blobs import Blobs
from leadline.worker.pool import WorkerDied, WorkerPool

LIMIT = 12.0  # seconds that one answer may take
WINDOW = "Lead-Window"  # the header by which the windows of browsers are told apart: each keeps to one process


class Editors:
    """``pool`` has the processes; they keep nothing in the store."""

    def __init__(self, pool: WorkerPool, blobs: Blobs, limit: float = LIMIT) -> None:
        self.pool, self.blobs, self.limit = pool, blobs, limit

    def ask(self, what: str, *given: Any) -> Any:
        """The answer to a question of ``leadline.worker.editor``.

        Raises:
            Problem: it takes longer than an answer may.
            WorkFailed: it has none, with a message.
            WorkerDied: the process died of it, twice.
        """
        window = request.headers.get(WINDOW, "") if has_request_context() else ""
        try:
            return self.pool.run(window, (what, *given), self.blobs, self.limit)
        except WorkerDied as died:
            if died.reason != "time":
                raise
            raise Problem(
                "too-long", f"The answer took longer than {self.limit:g} s and was given up.", "Make the sizes or the numbers of it smaller."
            ) from None
