"""What builds came to, kept, so that a part that was built before opens without being built."""

from __future__ import annotations

import hashlib
import json
import logging
from typing import Any

from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.exc import SQLAlchemyError

from leadline.recipe.engine import engine
from leadline.server.database import Database
from leadline.server.tables import PartRow, ResultRow

log = logging.getLogger(__name__)


class Results:
    """One for each part: that of the revision that was built last. Its meshes are in the blobs, or made again when asked for."""

    def __init__(self, database: Database) -> None:
        self.database = database

    def of(self, part_id: str, revision: int, made_of: str) -> dict[str, Any] | None:
        """The result of a revision; None unless it was kept by this version of the program for what it is ``made_of``."""
        with self.database.session() as session:
            row = session.get(ResultRow, part_id)
        if row is None or row.revision != revision or row.engine != _mark(made_of):
            return None
        return row.result

    def newest(self, part_id: str, revision: int) -> dict[str, Any] | None:
        """The result of a revision as it was kept last, whatever it was made of."""
        with self.database.session() as session:
            row = session.get(ResultRow, part_id)
        return None if row is None or row.revision != revision else row.result

    def keep(self, part_id: str, revision: int, made_of: str, result: dict[str, Any]) -> None:
        """Keep a result; it is only slower when that fails, so that it is logged alone."""
        row = {"revision": revision, "engine": _mark(made_of), "result": result}
        try:
            with self.database.session.begin() as session:
                if session.get(PartRow, part_id) is not None:  # it may have been deleted while it was built
                    session.execute(
                        insert(ResultRow).values(part_id=part_id, **row).on_conflict_do_update(index_elements=["part_id"], set_=row)
                    )
        except SQLAlchemyError:
            log.exception("the result of %s was not kept", part_id)


def made_of(document: dict[str, Any]) -> str:
    """A name for what a document is built from: it differs where a part that is placed in it has gone on."""
    return hashlib.sha256(json.dumps(document, sort_keys=True).encode()).hexdigest()


def _mark(made_of: str) -> str:
    """What a kept result is of, in the 64 characters of its column."""
    return hashlib.sha256(f"{engine()} {made_of}".encode()).hexdigest()
