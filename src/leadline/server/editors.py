"""What open editors ask between builds, computed by processes of its own, so that no one's question waits for
another's.
"""

from __future__ import annotations

from typing import Any, cast

from leadline.core.problems import Problem
from leadline.limits import ANSWER_SECONDS
from leadline.server.kept_text import Kept
from leadline.worker.asks import NEEDED, Answer, Head
from leadline.worker.pool import WorkerDied, WorkerPool

WINDOW = "Lead-Window"  # the header by which the windows of browsers are told apart: each keeps to one process


class Editors:
    """``pool`` has the processes."""

    def __init__(self, pool: WorkerPool, limit: float = ANSWER_SECONDS) -> None:
        self.pool, self.limit = pool, limit

    def ask(self, window: str, what: str, *given: Any) -> Any:
        """The answer to a question of ``leadline.worker.editor``.

        Raises:
            Problem: it takes longer than an answer may.
            WorkFailed: it has none, with a message.
            WorkerDied: the process died of it, twice.
        """
        return self._run(window, (what, *given))

    def head(self, window: str, message: bytes) -> Head | None:
        """What is to be known of a line's message, see ``leadline.worker.following``. Raises as ``ask``."""
        return cast("Head | None", self._run(window, ("head", message)))

    def follow(self, window: str, name: str, shown: Kept, message: bytes) -> Answer:
        """The answer to what follows a hand, see ``leadline.worker.following``; what the line shows goes along when the
        process has it not.

        Raises: as ``ask``.
        """
        answer = self._run(window, ("follow", window, name, None, message))
        if answer == NEEDED:
            answer = self._run(window, ("follow", window, name, shown.text(), message))
        return cast(Answer, answer)

    def _run(self, window: str, request: tuple[Any, ...]) -> Any:
        return run_in_time(self.pool, window, request, self.limit)


def run_in_time(pool: WorkerPool, window: str, request: tuple[Any, ...], limit: float, again: bool = True) -> Any:
    """Run a request of a window. Raises Problem when it takes longer than ``limit`` (s), and as ``WorkerPool.run``."""
    try:
        return pool.run(window, request, _Nothing(), limit, again=again)
    except WorkerDied as died:
        if died.reason != "time":
            raise
        raise Problem(
            "too-long",
            f"The answer took longer than {limit:g} s and was given up.",
            "Make the sizes or the numbers of it smaller.",
        ) from None


class _Nothing:
    """The store of processes that keep nothing in one."""

    def get(self, key: str) -> bytes | None:  # noqa: ARG002
        return None

    def put(self, key: str, data: bytes) -> None:
        pass
