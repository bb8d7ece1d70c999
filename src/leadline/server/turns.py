"""Whose turn it is to build a part, among all servers on one database."""

from __future__ import annotations

import logging
import threading

import psycopg
from psycopg import sql

from leadline.server.database import Connection, Database

LOOK_EVERY = 0.3  # seconds, while another server builds the part
log = logging.getLogger(__name__)


class Turns:
    """A server has the turn of a part while it builds it.

    Turns are PostgreSQL's advisory locks of one connection, so that those of a server that has died are free at once.

    Where the database does not answer everybody has the turn: a part that is built twice is only built twice.
    """

    def __init__(self, database: Database) -> None:
        self.database = database
        self._lock = threading.Lock()
        self._connection: Connection | None = None

    def take(self, part_id: str) -> bool:
        """Whether it is this server's turn from now on; False while another one has it."""
        return self._ask("pg_try_advisory_lock", part_id) is not False

    def give_back(self, part_id: str) -> None:
        self._ask("pg_advisory_unlock", part_id)

    def close(self) -> None:
        with self._lock:
            if self._connection is not None:
                self._connection.close()

    def _ask(self, function: str, part_id: str) -> bool | None:
        with self._lock:
            try:
                if self._connection is None or self._connection.closed:
                    self._connection = self.database.connect()
                asked = sql.SQL("select {}(hashtextextended(%s, 0))").format(sql.Identifier(function))
                row = self._connection.execute(asked, [part_id]).fetchone()
                return None if row is None else bool(row[0])
            except psycopg.Error as error:
                log.warning("the database tells no turns: %s", error)
                return None
