"""The content-keyed store that builds read and write: anything in it can be made again."""

from __future__ import annotations

import hashlib
import logging
import threading
from concurrent.futures import ThreadPoolExecutor
from datetime import timedelta

from sqlalchemy import ColumnElement, delete, func, select, text, update
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.exc import SQLAlchemyError

from leadline.limits import KEPT_BYTES
from leadline.server.database import Database
from leadline.server.tables import BlobRow

TRIM_EVERY = 64 << 20  # bytes written from one trimming to the next
log = logging.getLogger(__name__)


class Blobs:
    """Writes reach the database in the background; a blob that is not written yet is read from memory.

    One that is damaged, or that the database does not give, counts as none: it is then made again.
    """

    def __init__(self, database: Database, limit: int = KEPT_BYTES) -> None:
        self.database, self.limit = database, limit
        self._lock = threading.Lock()
        self._waiting: dict[str, bytes] = {}
        self._writer = ThreadPoolExecutor(1, "blobs")
        self._written = 0

    def get(self, key: str) -> bytes | None:
        with self._lock:
            if key in self._waiting:
                return self._waiting[key]
        try:
            with self.database.session.begin() as session:
                row = session.execute(
                    select(BlobRow.data, BlobRow.digest, _long_unused()).where(BlobRow.key == key)
                ).one_or_none()
                if row is None:
                    return None
                data, digest, unused = row
                if digest != digest_of(data):
                    log.warning("%s is damaged; it is made again", key)
                    session.execute(delete(BlobRow).where(BlobRow.key == key))
                    return None
                if unused:
                    session.execute(update(BlobRow).where(BlobRow.key == key).values(used=func.now()))
                return data
        except SQLAlchemyError:
            log.exception("could not read %s; it is made again", key)
            return None

    def put(self, key: str, data: bytes) -> None:
        with self._lock:
            self._waiting[key] = data
        self._writer.submit(self._write, key, data)

    def trim(self) -> None:
        """Delete those that were not used for longest, until the rest is within the limit."""
        size = func.sum(func.octet_length(BlobRow.data)).over(order_by=(BlobRow.used.desc(), BlobRow.key))
        sizes = select(BlobRow.key, size.label("total")).subquery()
        with self.database.session.begin() as session:
            session.execute(
                delete(BlobRow).where(BlobRow.key.in_(select(sizes.c.key).where(sizes.c.total > self.limit)))
            )

    def close(self) -> None:
        """Wait until all is written."""
        self._writer.shutdown()

    def _write(self, key: str, data: bytes) -> None:
        try:
            with self.database.session.begin() as session:
                session.execute(text("set local synchronous_commit = off"))
                row = {"data": data, "digest": digest_of(data), "used": func.now()}
                session.execute(
                    insert(BlobRow).values(key=key, **row).on_conflict_do_update(index_elements=["key"], set_=row)
                )
            self._written += len(data)
            if self._written > min(TRIM_EVERY, self.limit):
                self._written = 0
                self.trim()
        except SQLAlchemyError:
            log.exception("could not keep %s; it will be built again when it is asked for", key)
        finally:
            with self._lock:
                self._waiting.pop(key, None)


def digest_of(data: bytes) -> bytes:
    return hashlib.blake2b(data, digest_size=16).digest()


def _long_unused() -> ColumnElement[bool]:
    """Whether a blob was last used so long ago that its use is worth noting; by the database's own clock."""
    return BlobRow.used < func.now() - timedelta(minutes=1)
