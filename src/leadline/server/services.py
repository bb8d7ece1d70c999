"""What the routes share, hung on the application."""

from __future__ import annotations

from dataclasses import dataclass
from typing import cast

from flask import current_app
from sqlalchemy import text

from leadline.server.blobs import Blobs
from leadline.server.builds import Builds
from leadline.server.database import Database
from leadline.server.editors import Editors
from leadline.server.events import Broker
from leadline.server.parts import Parts
from leadline.server.results import Results
from leadline.server.settings import Settings
from leadline.worker.pool import WorkerPool


@dataclass
class Services:
    settings: Settings
    database: Database
    parts: Parts
    blobs: Blobs
    broker: Broker
    pool: WorkerPool
    builds: Builds
    editors: Editors

    @classmethod
    def start(cls, settings: Settings) -> Services:
        database = Database(settings.database_url)
        database.migrate()
        parts, blobs, broker = Parts(database), Blobs(database), Broker()
        blobs.trim()
        pool = WorkerPool(settings.builders, settings.worker_entry)
        builds = Builds(pool, blobs, parts, Results(database), broker, settings.build_seconds)
        editors = Editors(WorkerPool(settings.editors, "leadline.worker.editor:main"), blobs)
        return cls(settings, database, parts, blobs, broker, pool, builds, editors)

    def check(self) -> None:
        with self.database.session() as session:
            session.execute(text("select 1"))

    def close(self) -> None:
        self.pool.close()
        self.editors.pool.close()
        self.blobs.close()
        self.database.close()


def services() -> Services:
    return cast(Services, current_app.extensions["leadline"])
