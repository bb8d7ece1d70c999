"""The processes that requests are passed on to: those for documents, those for files that are read, and those of the
editors (``desk.py``).
"""

from __future__ import annotations

import itertools
import threading
from typing import cast

from leadline.limits import ANSWER_SECONDS, LARGE_AT_ONCE, READ_SECONDS
from leadline.server.desk import Answered, Passed, Where
from leadline.server.editors import run_in_time
from leadline.server.following import Order
from leadline.server.parts import NotFound
from leadline.worker.pool import WorkerPool


class Desks:
    """``pools`` has the processes of each. What is ``large`` is taken in only so often at once."""

    def __init__(self, database_url: str, pools: dict[Where, WorkerPool]) -> None:
        self.database_url, self.pools = database_url, pools
        self._without = itertools.count()  # numbers of requests that no window has sent
        self.large = threading.Semaphore(LARGE_AT_ONCE)

    def order(self, part_id: str) -> Order:
        """A part as it is now, as it is to be built. Raises NotFound."""
        order = cast("Order | None", self._run("documents", part_id, ("order", self.database_url, part_id)))
        if order is None:
            raise NotFound(part_id)
        return order

    def previewed(self, window: str, part_id: str, shown: bytes, message: bytes) -> bytes:
        """As ``Following.previewed``."""
        return cast(bytes, self._run("documents", window, ("previewed", self.database_url, part_id, shown, message)))

    def pass_on(self, where: Where, window: str, passed: Passed) -> Answered:
        """The answer to a request.

        One that changes something is not tried again when its process dies: it may have been done already.

        A window has one process at a time; requests of none are each by themselves.
        """
        who = window or f"request {next(self._without)}"
        return cast(Answered, self._run(where, who, ("pass", self.database_url, passed), again=passed.method == "GET"))

    def close(self) -> None:
        for pool in self.pools.values():
            pool.close()

    def _run(self, where: Where, window: str, asked: tuple[object, ...], again: bool = True) -> object:
        return run_in_time(
            self.pools[where], window, asked, ANSWER_SECONDS if where == "editors" else READ_SECONDS, again
        )
