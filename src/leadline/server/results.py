"""What builds came to, kept, so that a part that was built before opens without being built."""

from __future__ import annotations

import hashlib
import logging

from sqlalchemy import ColumnElement, Text, bindparam, cast, select
from sqlalchemy.dialects.postgresql import JSONB, insert
from sqlalchemy.exc import IntegrityError, SQLAlchemyError

from leadline.recipe.engine import engine
from leadline.server.database import Database
from leadline.server.tables import PartRow, ResultRow

log = logging.getLogger(__name__)


class Results:
    """One for each part: that of the revision that was built last, as JSON.

    Its meshes are in the blobs, or made again when asked for.
    """

    def __init__(self, database: Database) -> None:
        self.database = database

    def of(self, part_id: str, revision: int, made_of: str) -> bytes | None:
        """The result of a revision; None unless it was kept by this version of the program for what it is
        ``made_of``.
        """
        return self._found(part_id, revision, ResultRow.engine == _mark(made_of))

    def newest(self, part_id: str, revision: int) -> bytes | None:
        """The result of a revision as it was kept last, whatever it was made of."""
        return self._found(part_id, revision)

    def keep(self, part_id: str, revision: int, made_of: str, result: bytes) -> None:
        """Keep a result; it is only slower when that fails, so that it is logged alone."""
        row = {
            "revision": revision,
            "engine": _mark(made_of),
            "result": cast(bindparam("told", result.decode(), Text), JSONB),
        }
        try:
            with self.database.session.begin() as session:
                if session.get(PartRow, part_id) is not None:  # it may have been deleted while it was built
                    session.execute(
                        insert(ResultRow)
                        .values(part_id=part_id, **row)
                        .on_conflict_do_update(index_elements=["part_id"], set_=row)
                    )
        except IntegrityError:  # or just now, which the database has seen and this process has not
            log.info("%s is gone; its result is not kept", part_id)
        except SQLAlchemyError:
            log.exception("the result of %s was not kept", part_id)

    def _found(self, part_id: str, revision: int, *more: ColumnElement[bool]) -> bytes | None:
        """Read as the text that it is, as parts may be large and everybody waits meanwhile."""
        with self.database.session() as session:
            told = session.scalar(
                select(cast(ResultRow.result, Text)).where(
                    ResultRow.part_id == part_id, ResultRow.revision == revision, *more
                )
            )
        return None if told is None else told.encode()


def made_of(text: bytes) -> str:
    """A name for what a document, as JSON with its keys in order, is built from: it differs where a part that is placed
    in it has gone on.
    """
    return hashlib.sha256(text).hexdigest()


def _mark(made_of: str) -> str:
    """What a kept result is of, in the 64 characters of its column."""
    return hashlib.sha256(f"{engine()} {made_of}".encode()).hexdigest()
