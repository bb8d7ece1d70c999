"""The database: parts, their revisions, and the content-keyed store of built geometry."""

from __future__ import annotations

import uuid
from datetime import UTC, datetime
from typing import Any

from sqlalchemy import DateTime, ForeignKey, Index, LargeBinary, String, UniqueConstraint, func
from sqlalchemy.dialects.postgresql import JSONB
from sqlalchemy.orm import DeclarativeBase, Mapped, mapped_column


def now() -> datetime:
    return datetime.now(UTC)


class Base(DeclarativeBase):
    type_annotation_map = {dict[str, Any]: JSONB, datetime: DateTime(timezone=True)}


class PartRow(Base):
    """A part. ``head`` is the number of the revision that is shown; ``demo`` names a demo part's file.

    ``token`` is that of the change which led to the head: sent once more, because its answer was lost, it is not done
    twice.
    """

    __tablename__ = "parts"

    id: Mapped[str] = mapped_column(String(36), primary_key=True, default=lambda: str(uuid.uuid4()))
    name: Mapped[str] = mapped_column(String(80))
    head: Mapped[int] = mapped_column(default=1)
    demo: Mapped[str | None] = mapped_column(String(80), unique=True)
    token: Mapped[str | None] = mapped_column(String(40))
    picture: Mapped[bytes | None] = mapped_column(LargeBinary, deferred=True)
    created: Mapped[datetime] = mapped_column(default=now)
    changed: Mapped[datetime] = mapped_column(default=now)


class RevisionRow(Base):
    """One state of a part. Undo goes to ``parent``; redo to the newest child of the head."""

    __tablename__ = "revisions"
    __table_args__ = (UniqueConstraint("part_id", "number"), Index("ix_revisions_parent", "part_id", "parent"))

    id: Mapped[int] = mapped_column(primary_key=True)
    part_id: Mapped[str] = mapped_column(ForeignKey("parts.id", ondelete="CASCADE"))
    number: Mapped[int]
    parent: Mapped[int | None]
    label: Mapped[str] = mapped_column(String(120))
    document: Mapped[dict[str, Any]]
    created: Mapped[datetime] = mapped_column(default=now)


class ResultRow(Base):
    """What the last build of a part came to, and in ``engine`` a hash of the program that made it and of what it was
    made of: a part that was built before opens with it."""

    __tablename__ = "results"

    part_id: Mapped[str] = mapped_column(ForeignKey("parts.id", ondelete="CASCADE"), primary_key=True)
    revision: Mapped[int]
    engine: Mapped[str] = mapped_column(String(64))
    result: Mapped[dict[str, Any]]


class FileRow(Base):
    """A file that parts take bodies from, packed by gzip, by the SHA-256 of what it holds: it cannot be made again, and
    is kept once.
    """

    __tablename__ = "files"

    digest: Mapped[str] = mapped_column(String(64), primary_key=True)
    data: Mapped[bytes] = mapped_column(LargeBinary)
    added: Mapped[datetime] = mapped_column(server_default=func.now())


class BlobRow(Base):
    """Built geometry by content key, with a ``digest`` of it. Anything here can be made again."""

    __tablename__ = "blobs"

    key: Mapped[str] = mapped_column(String(120), primary_key=True)
    data: Mapped[bytes] = mapped_column(LargeBinary)
    digest: Mapped[bytes] = mapped_column(LargeBinary)
    used: Mapped[datetime] = mapped_column(server_default=func.now(), index=True)


class ShelfRow(Base):
    """A shelf of stock with all its rows; ``version`` counts up with each change.

    ``shipped`` names the sort of one that came with the program.
    """

    __tablename__ = "shelves"

    id: Mapped[str] = mapped_column(String(36), primary_key=True, default=lambda: str(uuid.uuid4()))
    name: Mapped[str] = mapped_column(String(80))
    sort: Mapped[str] = mapped_column(String(20))
    shipped: Mapped[str | None] = mapped_column(String(20), unique=True)
    version: Mapped[int] = mapped_column(default=1)
    rows: Mapped[dict[str, Any]]
    gone: Mapped[bool] = mapped_column(default=False)
    changed: Mapped[datetime] = mapped_column(default=now)
