"""Events from builds to the browsers that watch a part, also where another server on the same database builds it."""

from __future__ import annotations

import json
import logging
import queue
import threading
import uuid
from collections import defaultdict
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from typing import Any

import psycopg
from psycopg.sql import SQL, Literal
from sqlalchemy.exc import SQLAlchemyError

from leadline.server.database import Database

Event = dict[str, Any]

LOOK_ABOUT = 5.0  # seconds
CHANNEL = "leadline_events"
AGAIN = 1.0  # seconds from a lost connection to the next try
MOST_WAITING = 2000  # events that wait for the database; of more, the oldest are not told to other servers

log = logging.getLogger(__name__)


class Broker:
    """Fans events out to the streams of a part. Slow readers lose the oldest events, never the last."""

    def __init__(self) -> None:
        self._lock = threading.Lock()
        self._readers: defaultdict[str, list[queue.Queue[Event]]] = defaultdict(list)

    def publish(self, part_id: str, event: Event) -> None:
        with self._lock:
            readers = list(self._readers.get(part_id, ()))
        for reader in readers:
            _put(reader, event)

    def watched(self) -> dict[str, int]:
        """How many streams each part has that is watched."""
        with self._lock:
            return {part_id: len(readers) for part_id, readers in self._readers.items()}

    @contextmanager
    def watch(self, part_id: str) -> Iterator[Iterator[Event | None]]:
        """The events of a part from now on; None now and then when there is none, so that a reader can look about."""
        reader: queue.Queue[Event] = queue.Queue(maxsize=500)
        with self._lock:
            self._readers[part_id].append(reader)
        try:
            yield _events(reader)
        finally:
            with self._lock:
                self._readers[part_id].remove(reader)
                if not self._readers[part_id]:
                    del self._readers[part_id]


class Others:
    """The other servers on the database: what is told to them, and what is heard of them, by PostgreSQL's NOTIFY and
    LISTEN.

    An event that is lost, because the database was away, is only a progress that is not seen: what was built is in the
    database.
    """

    def __init__(self, database: Database) -> None:
        self.database = database
        self._own = uuid.uuid4().hex
        self._waiting: queue.Queue[tuple[str, Event]] = queue.Queue(MOST_WAITING)
        self._closed = threading.Event()

    def start(self, hear: Callable[[str, Event], None]) -> None:
        """Tell from now on, and pass what others tell to ``hear``."""
        for name, work in (
            ("tell others", self._tell),
            ("hear others", lambda connection: self._listen(connection, hear)),
        ):
            threading.Thread(target=self._keep, args=(work,), daemon=True, name=name).start()

    def tell(self, part_id: str, event: Event) -> None:
        """Returns at once."""
        _put(self._waiting, (part_id, event))

    def close(self) -> None:
        self._closed.set()

    def _keep(self, work: Callable[[psycopg.Connection[Any]], None]) -> None:
        while not self._closed.is_set():
            try:
                with self.database.connect() as connection:
                    work(connection)
            except psycopg.Error as error:
                if not self._closed.is_set():
                    log.warning("events do not reach other servers: %s", error)
                    self._closed.wait(AGAIN)

    def _tell(self, connection: psycopg.Connection[Any]) -> None:
        while not self._closed.is_set():
            try:
                part_id, event = self._waiting.get(timeout=LOOK_ABOUT)
            except queue.Empty:
                continue
            connection.execute(
                SQL("notify {}, {}").format(SQL(CHANNEL), Literal(json.dumps([self._own, part_id, event])))
            )

    def _listen(self, connection: psycopg.Connection[Any], hear: Callable[[str, Event], None]) -> None:
        connection.execute(f"listen {CHANNEL}")
        while not self._closed.is_set():
            for told in connection.notifies(timeout=LOOK_ABOUT):
                sender, part_id, event = json.loads(told.payload)
                if sender != self._own:
                    try:
                        hear(part_id, event)
                    except SQLAlchemyError:
                        log.exception("an event of another server was not heard")


def _events(reader: queue.Queue[Event]) -> Iterator[Event | None]:
    while True:
        try:
            yield reader.get(timeout=LOOK_ABOUT)
        except queue.Empty:
            yield None


def _put(waiting: queue.Queue[Any], item: Any) -> None:
    """Put it in; where that is full the oldest gives way."""
    while True:
        try:
            waiting.put_nowait(item)
            return
        except queue.Full:
            waiting.get_nowait()
