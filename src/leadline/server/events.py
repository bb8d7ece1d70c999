"""Events from builds to the browsers that watch a part."""

from __future__ import annotations

import json
import queue
import threading
from collections import defaultdict
from collections.abc import Iterator
from typing import Any

HEARTBEAT = 10.0


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

    def watch(self, part_id: str) -> Iterator[str]:
        """Server-sent events, beginning with a comment and kept alive by more."""
        reader: queue.Queue[dict[str, Any]] = queue.Queue(maxsize=500)
        with self._lock:
            self._readers[part_id].append(reader)
        try:
            yield ": watching\n\n"
            while True:
                try:
                    event = reader.get(timeout=HEARTBEAT)
                    yield f"event: {event['event']}\ndata: {json.dumps(event)}\n\n"
                except queue.Empty:
                    yield ": still here\n\n"
        finally:
            with self._lock:
                self._readers[part_id].remove(reader)
                if not self._readers[part_id]:
                    del self._readers[part_id]
