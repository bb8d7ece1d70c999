"""Files that parts take bodies from: kept once by content, and packed into part files on the way out."""

from __future__ import annotations

from sqlalchemy import select
from sqlalchemy.dialects.postgresql import insert

from leadline.recipe.files import digest_of, files_of, needed, packed, unpacked, with_files
from leadline.recipe.part import Part
from leadline.server.blobs import Blobs
from leadline.server.database import Database
from leadline.server.tables import FileRow


class Files:
    """Every method is one transaction."""

    def __init__(self, database: Database) -> None:
        self.database = database

    def keep(self, data: bytes) -> str:
        """Keep a file and give its digest."""
        digest = digest_of(data)
        with self.database.session.begin() as session:
            session.execute(insert(FileRow).values(digest=digest, data=packed(data)).on_conflict_do_nothing())
        return digest

    def get(self, digest: str) -> bytes | None:
        with self.database.session() as session:
            data = session.scalar(select(FileRow.data).where(FileRow.digest == digest))
        return None if data is None else unpacked(data)

    def taken_from(self, part: Part) -> Part:
        """A part without the files that it brings along, which are kept. Raises Problem when one cannot be read."""
        for data in files_of(part).values():
            self.keep(data)
        return part.model_copy(update={"files": {}}) if part.files else part


    def packed_into(self, part: Part) -> Part:
        """A part with the files that its steps take bodies from, as far as they are kept."""
        return with_files(part, sorted(needed(part, self.get).items()))


class Sources:
    """What builds read and write: geometry by content key, and under ``file/<digest>`` the files that bodies come from."""

    def __init__(self, blobs: Blobs, files: Files) -> None:
        self.blobs, self.files = blobs, files

    def get(self, key: str) -> bytes | None:
        kind, _, digest = key.partition("/")
        return self.files.get(digest) if kind == "file" else self.blobs.get(key)

    def put(self, key: str, data: bytes) -> None:
        self.blobs.put(key, data)
