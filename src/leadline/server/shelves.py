"""Shelves of stock in the database.

Those that come with the program are put there once, and are as much the user's as any.
"""

from __future__ import annotations

from dataclasses import dataclass

from sqlalchemy import select
from sqlalchemy.dialects.postgresql import insert

from leadline.recipe.stock import SORTS, StockRow, checked, shipped
from leadline.server.database import Database
from leadline.server.parts import NotFound, Overtaken
from leadline.server.tables import ShelfRow, now


class NoShelf(NotFound):
    """There is no such shelf."""


class ShelfOvertaken(Overtaken):
    """Someone else has changed the shelf since; ``head`` is its version now."""


@dataclass(frozen=True)
class Shelf:
    """A shelf as it is; ``version`` counts up with each change."""

    id: str
    name: str
    sort: str
    version: int
    rows: list[StockRow]


class Shelves:
    """Every method is one transaction."""

    def __init__(self, database: Database) -> None:
        self.database = database

    def put_shipped(self) -> None:
        """Put the shelves that come with the program into the database, where they were never put."""
        with self.database.session.begin() as session:
            for sort, rows in shipped().items():
                row = insert(ShelfRow).values(
                    name=SORTS[sort][0],
                    sort=sort,
                    shipped=sort,
                    version=1,
                    gone=False,
                    rows={"rows": _plain(rows)},
                    changed=now(),
                    id=f"shelf-{sort}",
                )
                session.execute(row.on_conflict_do_nothing())

    def listed(self) -> list[Shelf]:
        with self.database.session() as session:
            return [
                _shelf(row)
                for row in session.scalars(
                    select(ShelfRow).where(ShelfRow.gone.is_(False)).order_by(ShelfRow.sort, ShelfRow.name)
                )
            ]

    def get(self, shelf_id: str) -> Shelf:
        """Raises NoShelf."""
        with self.database.session() as session:
            row = session.get(ShelfRow, shelf_id)
            if row is None or row.gone:
                raise NoShelf
            return _shelf(row)

    def find(self, shelf_id: str) -> tuple[str, list[StockRow]] | None:
        """The sort and the rows of a shelf; None when it is gone."""
        try:
            shelf = self.get(shelf_id)
        except NoShelf:
            return None
        return shelf.sort, shelf.rows

    def save(self, shelf_id: str, version: int, name: str, rows: list[StockRow]) -> Shelf:
        """Change a shelf.

        Raises:
            NoShelf: it is gone.
            ShelfOvertaken: someone else has changed it since ``version``.
            Problem: the rows are not such as go on it.
        """
        with self.database.session.begin() as session:
            row = session.get(ShelfRow, shelf_id, with_for_update=True)
            if row is None or row.gone:
                raise NoShelf
            if row.version != version:
                raise ShelfOvertaken(row.version)
            row.rows, row.name, row.version, row.changed = (
                {"rows": _plain(checked(row.sort, rows))},
                name,
                version + 1,
                now(),
            )
            return _shelf(row)

    def create(self, sort: str, name: str, rows: list[StockRow]) -> Shelf:
        """A new shelf. Raises Problem as ``save``."""
        with self.database.session.begin() as session:
            row = ShelfRow(name=name, sort=sort, version=1, rows={"rows": _plain(checked(sort, rows))})
            session.add(row)
            session.flush()
            return _shelf(row)

    def remove(self, shelf_id: str) -> None:
        """Take a shelf away; one that came with the program does not come back.

        Values that follow its rows keep their numbers. Raises NoShelf.
        """
        with self.database.session.begin() as session:
            row = session.get(ShelfRow, shelf_id, with_for_update=True)
            if row is None or row.gone:
                raise NoShelf
            row.gone = True


def _shelf(row: ShelfRow) -> Shelf:
    return Shelf(row.id, row.name, row.sort, row.version, [StockRow.model_validate(r) for r in row.rows["rows"]])


def _plain(rows: list[StockRow]) -> list[dict[str, object]]:
    return [r.model_dump(mode="json") for r in rows]
