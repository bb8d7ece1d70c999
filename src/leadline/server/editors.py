"""What open editors ask between builds, computed by processes of its own, so that no one's question waits for another's."""

from __future__ import annotations

from typing import Any, cast

from flask import has_request_context, request

from leadline.core.problems import Problem
from leadline.limits import ANSWER_SECONDS
from leadline.server.blobs import Blobs
from leadline.worker.asks import NEEDED, Answer
from leadline.worker.pool import WorkerDied, WorkerPool

WINDOW = "Lead-Window"  # the header by which the windows of browsers are told apart: each keeps to one process


class Editors:
    """``pool`` has the processes; they keep nothing in the store."""

    def __init__(self, pool: WorkerPool, blobs: Blobs, limit: float = ANSWER_SECONDS) -> None:
        self.pool, self.blobs, self.limit = pool, blobs, limit

    def ask(self, what: str, *given: Any) -> Any:
        """The answer to a question of ``leadline.worker.editor``.

        Raises:
            Problem: it takes longer than an answer may.
            WorkFailed: it has none, with a message.
            WorkerDied: the process died of it, twice.
        """
        return self._run(request.headers.get(WINDOW, "") if has_request_context() else "", (what, *given))

    def follow(self, window: str, name: str, document: object, changed: list[Any], given: object) -> Answer:
        """The answer to what follows a hand, see ``leadline.worker.following``; the document goes along when the process has it not.

        Raises: as ``ask``.
        """
        answer = self._run(window, ("follow", window, name, None, changed, given))
        if answer == NEEDED:
            answer = self._run(window, ("follow", window, name, document, changed, given))
        return cast(Answer, answer)

    def _run(self, window: str, request: tuple[Any, ...]) -> Any:
        try:
            return self.pool.run(window, request, self.blobs, self.limit)
        except WorkerDied as died:
            if died.reason != "time":
                raise
            raise Problem(
                "too-long", f"The answer took longer than {self.limit:g} s and was given up.", "Make the sizes or the numbers of it smaller."
            ) from None
