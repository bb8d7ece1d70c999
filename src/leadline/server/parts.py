"""Parts and their revisions: make, save, undo, redo, delete."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from sqlalchemy import func, select, update
from sqlalchemy.orm import Session

from leadline.core.problems import Problem
from leadline.recipe.part import Part
from leadline.recipe.part_file import check_document, part_from
from leadline.server.database import Database
from leadline.server.loops import placed_in, refuse_loops
from leadline.server.tables import PartRow, RevisionRow, now

PLACING = 0x4C4C_0001  # the advisory lock of those who place parts in others


class NotFound(Exception):  # noqa: N818
    """There is no such part."""


class Overtaken(Exception):  # noqa: N818
    """Someone else saved since; ``head`` is the newest revision."""

    def __init__(self, head: int) -> None:
        super().__init__(f"the part is at revision {head}")
        self.head = head


@dataclass(frozen=True)
class PartState:
    id: str
    revision: int
    label: str
    document: dict[str, Any]
    can_undo: bool
    can_redo: bool
    demo: str | None


class Parts:
    """Parts and their revisions in the database. Every method is one transaction."""

    def __init__(self, database: Database) -> None:
        self.database = database

    def listed(self) -> list[dict[str, Any]]:
        with self.database.session() as session:
            has_picture = PartRow.picture.is_not(None)
            rows = session.execute(
                select(PartRow.id, PartRow.name, PartRow.changed, PartRow.demo, PartRow.head, has_picture).order_by(
                    PartRow.demo.is_(None).desc(), PartRow.changed.desc()
                )
            )
            return [
                {"id": i, "name": n, "changed": c.isoformat(), "demo": d is not None, "revision": h, "picture": p}
                for i, n, c, d, h, p in rows
            ]

    def create(self, part: Part, label: str = "New part", demo: str | None = None) -> PartState:
        document = _checked(part)
        with self.database.session.begin() as session:
            row = PartRow(name=part.name, demo=demo)
            session.add(row)
            session.flush()
            session.add(RevisionRow(part_id=row.id, number=1, parent=None, label=label, document=document))
            session.flush()
            return self._state(session, row)

    def demo_ids(self) -> dict[str, str]:
        """The demo parts that there are: their ids by the names of their files."""
        with self.database.session() as session:
            return {
                name: part_id for name, part_id in session.execute(select(PartRow.demo, PartRow.id)) if name is not None
            }

    def raw(self, part_id: str) -> dict[str, Any]:
        """The document at the head just as it is stored, also where this program cannot read it."""
        with self.database.session() as session:
            return self._revision(session, self._row(session, part_id)).document

    def head(self, part_id: str) -> int | None:
        """The number of the revision that is shown; None where there is no such part."""
        with self.database.session() as session:
            return session.scalar(select(PartRow.head).where(PartRow.id == part_id))

    def get(self, part_id: str) -> PartState:
        with self.database.session() as session:
            return self._state(session, self._row(session, part_id))

    # Each change names the revision that it was made on, and a token of its own. One whose answer was lost is sent
    # again with the same token: it is then answered once more, and not taken for the change of another.

    def save(self, part_id: str, base: int, part: Part, label: str, token: str | None = None) -> PartState:
        """A new revision on top of ``base``.

        Raises Overtaken when the part has moved on since, Problem when it cannot be kept.
        """
        check_document({"label": label})
        with self.database.session.begin() as session:
            row, done = self._turn(session, part_id, base, token)
            if done:
                if self._revision(session, row).document != _json(part):
                    raise Problem(
                        "token-used",
                        "This change was sent before with another document.",
                        "Send it with a token of its own.",
                        field="token",
                    )
                return self._state(session, row)
            top = session.scalar(select(func.max(RevisionRow.number)).where(RevisionRow.part_id == part_id)) or 0
            document = _checked(part)
            self._refuse_loops(session, row, document)
            session.add(RevisionRow(part_id=part_id, number=top + 1, parent=row.head, label=label, document=document))
            row.head, row.name, row.changed = top + 1, part.name, now()
            return PartState(row.id, row.head, label, document, can_undo=True, can_redo=False, demo=row.demo)

    def undo(self, part_id: str, base: int, token: str | None = None) -> PartState:
        """Go from ``base`` to the revision before; stays where it is at the first. Raises Overtaken."""
        with self.database.session.begin() as session:
            row, done = self._turn(session, part_id, base, token)
            return self._go(session, row, None if done else self._revision(session, row).parent)

    def redo(self, part_id: str, base: int, token: str | None = None) -> PartState:
        """Go from ``base`` to the newest revision made from it; stays where it is when there is none.

        Raises Overtaken.
        """
        with self.database.session.begin() as session:
            row, done = self._turn(session, part_id, base, token)
            return self._go(session, row, None if done else self._child(session, row))

    def delete(self, part_id: str) -> None:
        with self.database.session.begin() as session:
            session.delete(self._row(session, part_id, lock=True))

    def picture(self, part_id: str) -> bytes | None:
        with self.database.session() as session:
            return self._row(session, part_id).picture

    def set_picture(self, part_id: str, picture: bytes) -> None:
        """Keep the picture of a part, if it is still there: it may be deleted at this very moment."""
        with self.database.session.begin() as session:
            session.execute(update(PartRow).where(PartRow.id == part_id).values(picture=picture))

    def _go(self, session: Session, row: PartRow, number: int | None) -> PartState:
        if number is not None:
            there = self._revision(session, row, number).document
            self._refuse_loops(session, row, there)
            row.head, row.changed, row.name = number, now(), there["name"]
            session.flush()
        return self._state(session, row)

    def _refuse_loops(self, session: Session, row: PartRow, document: dict[str, Any]) -> None:
        """Raises Problem when the part, with a new document, would hold itself through a part that it does not follow
        yet.

        Those that it follows already are let be, so that a loop that has been stored can be undone step by step.

        Whoever places parts takes turns: of two that place each other's part at once, the second sees what the first
        has saved.
        """
        fresh = placed_in(document)
        fresh -= placed_in(self._revision(session, row).document) if fresh else set()
        if fresh:
            session.execute(select(func.pg_advisory_xact_lock(PLACING)))
            refuse_loops(document["name"], row.id, sorted(fresh), lambda other: self._head_document(session, other))

    def _head_document(self, session: Session, part_id: str) -> dict[str, Any] | None:
        """The document at the head of a part, just as it is stored; None where there is no such part."""
        found = (
            select(RevisionRow.document)
            .join(PartRow, (PartRow.id == RevisionRow.part_id) & (PartRow.head == RevisionRow.number))
            .where(PartRow.id == part_id)
        )
        return session.scalar(found)

    def _turn(self, session: Session, part_id: str, base: int, token: str | None) -> tuple[PartRow, bool]:
        """A part, locked for a change on top of ``base``, and whether that change is done already. Raises Overtaken."""
        row = self._row(session, part_id, lock=True)
        if token is not None and row.token == token:
            return row, True
        if row.head != base:
            raise Overtaken(row.head)
        row.token = token
        return row, False

    def _row(self, session: Session, part_id: str, lock: bool = False) -> PartRow:
        row = session.get(PartRow, part_id, with_for_update=lock)
        if row is None:
            raise NotFound(part_id)
        return row

    def _revision(self, session: Session, row: PartRow, number: int | None = None) -> RevisionRow:
        """A part's revision of a number, or that at its head."""
        number = row.head if number is None else number
        return session.scalars(
            select(RevisionRow).where(RevisionRow.part_id == row.id, RevisionRow.number == number)
        ).one()

    def _child(self, session: Session, row: PartRow) -> int | None:
        return session.scalar(
            select(func.max(RevisionRow.number)).where(RevisionRow.part_id == row.id, RevisionRow.parent == row.head)
        )

    def _state(self, session: Session, row: PartRow) -> PartState:
        revision = self._revision(session, row)
        return PartState(
            row.id,
            row.head,
            revision.label,
            _with_every_field(revision.document),
            revision.parent is not None,
            self._child(session, row) is not None,
            row.demo,
        )


def _with_every_field(document: dict[str, Any]) -> dict[str, Any]:
    """A stored document as the models write it now: of a former version upgraded, of one kept before a field came in
    with its default.
    """
    return _json(part_from(document))


def _json(part: Part) -> dict[str, Any]:
    document: dict[str, Any] = part.model_dump(mode="json")
    return document


def _checked(part: Part) -> dict[str, Any]:
    """The document of a part that is to be kept. Raises Problem when it is too large."""
    document = _json(part)
    check_document(document)
    return document
