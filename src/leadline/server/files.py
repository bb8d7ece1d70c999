"""Files that parts take bodies from: kept once by content, and packed into part files on the way out."""

from __future__ import annotations

import logging
import re
import threading
from datetime import timedelta

from sqlalchemy import delete, func, select, text
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.exc import SQLAlchemyError

from leadline.recipe.files import FILE, digest_of, files_of, needed, packed, packed_of, unpacked, with_files
from leadline.recipe.part import Part
from leadline.server.blobs import Blobs
from leadline.server.database import Database
from leadline.server.tables import FileRow, now

SPARED = timedelta(days=1)  # a file may be kept a while before the step that names it is saved
DIGEST = "[0-9a-f]{64}"
log = logging.getLogger(__name__)


class Files:
    """Every method is one transaction."""

    def __init__(self, database: Database) -> None:
        self.database = database

    def keep(self, data: bytes) -> str:
        """Keep a file and give its digest."""
        digest = digest_of(data)
        self._keep(digest, packed(data))
        return digest

    def _keep(self, digest: str, data: bytes) -> None:
        with self.database.session.begin() as session:
            row = insert(FileRow).values(digest=digest, data=data)
            session.execute(row.on_conflict_do_update(index_elements=["digest"], set_={"added": func.now()}))

    def get(self, digest: str) -> bytes | None:
        data = self.packed(digest)
        return None if data is None else unpacked(data)

    def packed(self, digest: str) -> bytes | None:
        """A file as it is kept, by gzip."""
        with self.database.session() as session:
            return session.scalar(select(FileRow.data).where(FileRow.digest == digest))

    def trim(self, spared: timedelta = SPARED) -> None:
        """Delete the files that no revision of any part names, nor a document that is kept for one; those that came in
        lately are spared.
        """
        with self.database.session.begin() as session:
            old = set(session.scalars(select(FileRow.digest).where(FileRow.added < now() - spared)))
            if not old:
                return
            found = text("select distinct (regexp_matches(document::text, :digest, 'g'))[1] from revisions")
            named = set(session.scalars(found, {"digest": DIGEST}))
            waiting = list(named)
            while waiting:
                data = session.scalar(select(FileRow.data).where(FileRow.digest == waiting.pop()))
                inner = (
                    set() if data is None else {m.decode() for m in re.findall(DIGEST.encode(), unpacked(data))} - named
                )
                named |= inner
                waiting += inner
            session.execute(delete(FileRow).where(FileRow.digest.in_(old - named)))

    def trim_beside(self) -> None:
        """Trim in a thread of its own; that it fails, as when the database is just being stopped, is only noted."""

        def work() -> None:
            try:
                self.trim()
            except SQLAlchemyError:
                log.exception("files were not trimmed")

        threading.Thread(target=work, daemon=True, name="trim files").start()

    def taken_from(self, part: Part) -> Part:
        """A part without the files that it brings along, which are kept. Raises Problem when one cannot be read."""
        for digest, _ in files_of(part):
            self._keep(digest, packed_of(part, digest))
        return part.model_copy(update={"files": {}}) if part.files else part

    def packed_into(self, part: Part) -> Part:
        """A part with the files that its steps take bodies from, as far as they are kept."""
        return with_files(part, sorted(needed(part, self.get).items()))


class Sources:
    """What builds read and write: geometry by content key, and under ``file/<digest>`` the files that bodies come from,
    packed.
    """

    def __init__(self, blobs: Blobs, files: Files) -> None:
        self.blobs, self.files = blobs, files

    def get(self, key: str) -> bytes | None:
        return self.files.packed(key.removeprefix(FILE)) if key.startswith(FILE) else self.blobs.get(key)

    def put(self, key: str, data: bytes) -> None:
        self.blobs.put(key, data)
