"""The content-keyed store that builds read and write: anything in it can be made again."""

from __future__ import annotations

import logging
import threading
from concurrent.futures import ThreadPoolExecutor

from sqlalchemy import delete, func, select, text
from sqlalchemy.dialects.postgresql import insert

from leadline.server.database import Database
from leadline.server.tables import BlobRow

LIMIT = 1 << 30
log = logging.getLogger(__name__)


class Blobs:
    """Writes reach the database in the background; a blob that is not written yet is read from memory."""

    def __init__(self, database: Database) -> None:
        self.database = database
        self._lock = threading.Lock()
        self._waiting: dict[str, bytes] = {}
        self._writer = ThreadPoolExecutor(1, "blobs")

    def get(self, key: str) -> bytes | None:
        with self._lock:
            if key in self._waiting:
                return self._waiting[key]
        with self.database.session() as session:
            return session.scalar(select(BlobRow.data).where(BlobRow.key == key))

    def put(self, key: str, data: bytes) -> None:
        with self._lock:
            self._waiting[key] = data
        self._writer.submit(self._write, key, data)

    def trim(self, limit: int = LIMIT) -> None:
        """Delete the oldest until the rest is at most ``limit`` bytes."""
        size = func.sum(func.octet_length(BlobRow.data)).over(order_by=(BlobRow.created.desc(), BlobRow.key))
        sizes = select(BlobRow.key, size.label("total")).subquery()
        with self.database.session.begin() as session:
            session.execute(delete(BlobRow).where(BlobRow.key.in_(select(sizes.c.key).where(sizes.c.total > limit))))

    def close(self) -> None:
        """Wait until all is written."""
        self._writer.shutdown()

    def _write(self, key: str, data: bytes) -> None:
        try:
            with self.database.session.begin() as session:
                session.execute(text("set local synchronous_commit = off"))
                session.execute(insert(BlobRow).values(key=key, data=data).on_conflict_do_nothing())
        except Exception:
            log.exception("could not keep %s; it will be built again when it is asked for", key)
        finally:
            with self._lock:
                self._waiting.pop(key, None)
