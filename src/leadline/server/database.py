"""Connection and migrations.

A database that stops answering (it is paused, or its machine is gone) must not hold up the server for ever: each
statement has to be answered within a deadline, after which its connection is closed and the request refused.
"""

from __future__ import annotations

import time
from pathlib import Path
from typing import Any

import psycopg
from alembic import command
from alembic.config import Config
from alembic.runtime.migration import MigrationContext
from alembic.script import ScriptDirectory
from sqlalchemy import Engine, create_engine, text
from sqlalchemy.engine import make_url
from sqlalchemy.orm import Session, sessionmaker

MIGRATIONS = Path(__file__).parent / "migrations"
DEADLINE = 8.0  # seconds for the answer to one statement
CONNECT = 4  # seconds for a connection
MIGRATING = 1  # number of the lock on the tables


class Connection(psycopg.Connection[Any]):
    """A connection whose statements are answered within ``deadline`` seconds; else it is closed."""

    deadline = DEADLINE

    def wait(self, gen: Any, interval: float = 0.1, timeout: float | None = None) -> Any:
        """Run one exchange with the database to its end. Raises OperationalError at the deadline.

        With a ``timeout`` it is one that may come to nothing, as that for notifications, and ends as the package has
        it.
        """
        if timeout is not None:
            return super().wait(gen, interval, timeout)
        end = time.monotonic() + self.deadline
        try:
            return super().wait(gen, interval, self.deadline)
        except psycopg.Error:
            if time.monotonic() < end:
                raise
            self.pgconn.finish()  # what comes of the statement now would be taken for the answer to another
            raise psycopg.OperationalError("the database did not answer in time") from None


class NewerDatabase(Exception):  # noqa: N818
    """The tables are those of a newer version of the program."""


def _refuse_newer(config: Config, connection: Any) -> None:
    """Raises NewerDatabase where the tables are at a revision that this program does not know."""
    known = {revision.revision for revision in ScriptDirectory.from_config(config).walk_revisions()}
    found = set(MigrationContext.configure(connection).get_current_heads()) - known
    if found:
        raise NewerDatabase(
            "The database was used by a newer version of Lead Line (its tables are at "
            f"{', '.join(sorted(found))}). Start that version, or restore the database of this one."
        )


class Database:
    def __init__(self, url: str) -> None:
        self.dsn = make_url(url).set(drivername="postgresql").render_as_string(hide_password=False)
        self.engine: Engine = create_engine(
            url, creator=self._connect, pool_pre_ping=True, pool_size=8, max_overflow=16, pool_timeout=DEADLINE
        )
        self.session: sessionmaker[Session] = sessionmaker(self.engine, expire_on_commit=False)

    def migrate(self) -> None:
        """Bring the tables up to the newest revision; of several servers that start together one does it."""
        config = Config()
        config.set_main_option("script_location", str(MIGRATIONS))
        with self.engine.begin() as connection:
            connection.execute(text("select pg_advisory_xact_lock(:key)"), {"key": MIGRATING})
            config.attributes["connection"] = connection
            _refuse_newer(config, connection)
            command.upgrade(config, "head")

    def close(self) -> None:
        self.engine.dispose()

    def connect(self) -> Connection:
        """A connection outside the pool, each statement of which is a transaction."""
        connection = self._connect()
        connection.autocommit = True
        return connection

    def _connect(self) -> Connection:
        return Connection.connect(self.dsn, connect_timeout=CONNECT, keepalives_idle=10, tcp_user_timeout=10_000)
