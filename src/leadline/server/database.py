"""Connection, migrations, and the blob store."""

from __future__ import annotations

from pathlib import Path

from alembic import command
from alembic.config import Config
from sqlalchemy import Engine, create_engine, select
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session, sessionmaker

from leadline.server.tables import BlobRow

MIGRATIONS = Path(__file__).parent / "migrations"


class Database:
    def __init__(self, url: str) -> None:
        self.engine: Engine = create_engine(url, pool_pre_ping=True, pool_size=8, max_overflow=16)
        self.session: sessionmaker[Session] = sessionmaker(self.engine, expire_on_commit=False)

    def migrate(self) -> None:
        """Bring the tables up to the newest revision."""
        config = Config()
        config.set_main_option("script_location", str(MIGRATIONS))
        with self.engine.begin() as connection:
            config.attributes["connection"] = connection
            command.upgrade(config, "head")

    def close(self) -> None:
        self.engine.dispose()


class Blobs:
    """The content-keyed store that builds read and write."""

    def __init__(self, database: Database) -> None:
        self.database = database

    def get(self, key: str) -> bytes | None:
        with self.database.session() as session:
            return session.scalar(select(BlobRow.data).where(BlobRow.key == key))

    def put(self, key: str, data: bytes) -> None:
        with self.database.session.begin() as session:
            session.execute(insert(BlobRow).values(key=key, data=data).on_conflict_do_nothing())
