"""Events from builds to the browsers that watch a part."""

from __future__ import annotations

import queue
import threading
from collections import defaultdict
from collections.abc import Iterator
from contextlib import contextmanager
from typing import Any

LOOK_ABOUT = 5.0  # seconds


class Broker:
    """Fans events out to the streams of a part. Slow readers lose the oldest events, never the last."""

    def __init__(self) -> None:
        self._lock = threading.Lock()
        self._readers: defaultdict[str, list[queue.Queue[dict[str, Any]]]] = defaultdict(list)

    def publish(self, part_id: str, event: dict[str, Any]) -> None:
        with self._lock:
            readers = list(self._readers.get(part_id, ()))
        for reader in readers:
            while True:
                try:
                    reader.put_nowait(event)
                    break
                except queue.Full:
                    reader.get_nowait()

    def watched(self) -> dict[str, int]:
        """How many streams each part has that is watched."""
        with self._lock:
            return {part_id: len(readers) for part_id, readers in self._readers.items()}

    @contextmanager
    def watch(self, part_id: str) -> Iterator[Iterator[dict[str, Any] | None]]:
        """The events of a part from now on; None now and then when there is none, so that a reader can look about."""
        reader: queue.Queue[dict[str, Any]] = queue.Queue(maxsize=500)
        with self._lock:
            self._readers[part_id].append(reader)
        try:
            yield _events(reader)
        finally:
            with self._lock:
                self._readers[part_id].remove(reader)
                if not self._readers[part_id]:
                    del self._readers[part_id]


def _events(reader: queue.Queue[dict[str, Any]]) -> Iterator[dict[str, Any] | None]:
    while True:
        try:
            yield reader.get(timeout=LOOK_ABOUT)
        except queue.Empty:
            yield None
