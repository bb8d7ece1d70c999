"""What builds came to, kept, so that a part that was built before opens without being built."""

from __future__ import annotations

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

    def of(self, part_id: str, revision: int) -> dict[str, Any] | None:
        """The result of a revision; None unless it was kept by this version of the program."""
        with self.database.session() as session:
            row = session.get(ResultRow, part_id)
        if row is None or row.revision != revision or row.engine != engine():
            return None
        return row.result

    def keep(self, part_id: str, revision: int, result: dict[str, Any]) -> None:
        """Keep a result; it is only slower when that fails, so that it is logged alone."""
        row = {"revision": revision, "engine": engine(), "result": result}
        try:
            with self.database.session.begin() as session:
                if session.get(PartRow, part_id) is not None:  # it may have been deleted while it was built
                    session.execute(
                        insert(ResultRow).values(part_id=part_id, **row).on_conflict_do_update(index_elements=["part_id"], set_=row)
                    )
        except SQLAlchemyError:
            log.exception("the result of %s was not kept", part_id)
